"""Addresses of the works."""

from django.urls import path

from pelk.sources import views

app_name = "sources"
urlpatterns = [path("", views.works, name="works"), path("<str:source>/", views.work, name="work")]
