"""Addresses of the Barrow."""

from django.urls import path

from pelk.barrow import views

app_name = "barrow"
urlpatterns = [
    path("", views.batches, name="batches"),
    path("worker.js", views.worker, name="worker"),
    path("make/<int:recipe>/", views.make, name="make"),
    path("<int:batch>/", views.card, name="card"),
    path("<int:batch>/tick/", views.tick, name="tick"),
    path("<int:batch>/made/", views.made, name="made"),
    path("<int:batch>/label/", views.label, name="label"),
    path("<int:batch>/finish/", views.finish, name="finish"),
    path("<int:batch>/discard/", views.discard, name="discard"),
    path("<int:batch>/restore/", views.restore, name="restore"),
]
