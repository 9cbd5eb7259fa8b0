"""Addresses of files in and out."""

from django.urls import path

from pelk.exchange import views

app_name = "exchange"
urlpatterns = [
    path("", views.bring_in, name="bring_in"),
    path("materials/", views.materials, name="materials"),
    path("materials/all.json", views.materials_json, name="materials_json"),
    path("materials/all.csv", views.materials_csv, name="materials_csv"),
    path("materials/<slug:material>.json", views.material_json, name="material_json"),
]
