"""Addresses of the shelf."""

from django.urls import path

from pelk.shelf import views

app_name = "shelf"
urlpatterns = [
    path("", views.shelf_list, name="list"),
    path("<slug:material>/", views.material, name="material"),
    path("<slug:material>/keep/", views.material_keep, name="material_keep"),
]
