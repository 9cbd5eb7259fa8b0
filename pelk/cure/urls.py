"""Addresses of Cure."""

from django.urls import path

from pelk.cure.views import comparison, devices, due, heaps, training, visits

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
    path("photos/<int:photo>/delete/", visits.photo_delete, name="photo_delete"),
    path("photos/<int:photo>/restore/", visits.photo_restore, name="photo_restore"),
    path("readings/<int:reading>/", heaps.reading, name="reading"),
    path("readings/<int:reading>/delete/", heaps.reading_delete, name="reading_delete"),
    path("readings/<int:reading>/restore/", heaps.reading_restore, name="reading_restore"),
]
