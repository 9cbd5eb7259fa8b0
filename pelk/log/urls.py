"""Addresses of the log."""

from django.urls import path

from pelk.log import views

app_name = "log"
urlpatterns = [path("", views.log, name="log")]
