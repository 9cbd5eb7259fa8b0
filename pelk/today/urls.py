"""Addresses of Today."""

from django.urls import path

from pelk.today import views

app_name = "today"
urlpatterns = [
    path("", views.today, name="today"),
    path("start/", views.start, name="start"),
    path("weather/", views.weather, name="weather"),
    path("jump/", views.jump, name="jump"),
    path("keys/", views.keys, name="keys"),
]
