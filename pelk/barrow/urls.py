"""Addresses of the Barrow."""

from django.urls import path

from pelk.barrow import views
from pelk.barrow.pages import said
from pelk.barrow.services import BATCHES
from pelk.log.views.put_away import put_away_paths

app_name = "barrow"
urlpatterns = [
    path("", views.batches, name="batches"),
    path("make/<int:recipe>/", views.make, name="make"),
    path("<int:batch>/", views.card, name="card"),
    path("<int:batch>/tick/", views.tick, name="tick"),
    path("<int:batch>/made/", views.made, name="made"),
    path("<int:batch>/label/", views.label, name="label"),
    path("<int:batch>/finish/", views.finish, name="finish"),
    *put_away_paths(
        BATCHES,
        ("<int:batch>/discard/", "discard"),
        ("<int:batch>/restore/", "restore"),
        says=said.BATCH_AWAY.format,
        leads_to=lambda row: "barrow:batches",
        returns_to=lambda row: row,
    ),
]
