"""Addresses of the log."""

from django.urls import path

from pelk.log.views import log as views

app_name = "log"
urlpatterns = [
    path("", views.log, name="log"),
    path("log.csv", views.log_csv, name="csv"),
    path("note/", views.note, name="note"),
]
