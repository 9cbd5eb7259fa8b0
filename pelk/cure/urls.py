"""Addresses of Cure."""

from django.urls import path, reverse

from pelk.cure.pages import said
from pelk.cure.services.readings import IMPORTS, READINGS
from pelk.cure.services.visits import PHOTOS
from pelk.cure.views import comparison, devices, due, heaps, training, visits
from pelk.log.views.put_away import put_away_paths

app_name = "cure"
urlpatterns = [
    path("", heaps.heaps, name="heaps"),
    path("beside/", comparison.comparison, name="comparison"),
    path("practice/", training.stories, name="training"),
    path("practice/<int:heap>/", training.heap, name="training_heap"),
    path("pens/", visits.pens, name="pens"),
    path("heaps.ics", due.calendar_file, name="calendar_file"),
    path("calendar/<str:token>.ics", due.calendar, name="calendar"),
    path("calendar/", due.feed, name="feed"),
    path("<int:batch>/", heaps.heap, name="heap"),
    path("<int:batch>/schedule/", due.plan, name="schedule"),
    path("<int:batch>/decide/", due.decide, name="decide"),
    path("<int:batch>/anyway/", due.anyway, name="anyway"),
    path("<int:batch>/sprout/", visits.sow, name="sow"),
    path("<int:batch>/pen/", devices.pen, name="pen"),
    path("<int:batch>/logger/", devices.logger, name="logger"),
    path("<int:batch>/photos/", visits.photos, name="photos"),
    path("sprout/<int:test>/", visits.sprout, name="sprout"),
    path("photos/<int:photo>/", visits.photo, name="photo"),
    *put_away_paths(
        PHOTOS,
        ("photos/<int:photo>/delete/", "photo_delete"),
        ("photos/<int:photo>/restore/", "photo_restore"),
        says=said.PICTURE_AWAY.format,
        leads_to=lambda row: reverse("cure:photos", args=[row.batch_id]),
    ),
    *put_away_paths(
        IMPORTS,
        ("imports/<int:taken>/undo/", "import_undo"),
        ("imports/<int:taken>/again/", "import_again"),
        says=said.IMPORT_UNDONE.format,
        leads_to=lambda row: reverse("cure:heap", args=[row.batch_id]),
    ),
    path("readings/<int:reading>/", heaps.reading, name="reading"),
    *put_away_paths(
        READINGS,
        ("readings/<int:reading>/delete/", "reading_delete"),
        ("readings/<int:reading>/restore/", "reading_restore"),
        says=said.READING_OUT.format,
        leads_to=lambda row: reverse("cure:heap", args=[row.batch_id]),
    ),
]
