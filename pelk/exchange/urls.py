"""Addresses of files in and out."""

from django.urls import path

from pelk.exchange.views import files, formats, yards

app_name = "exchange"
urlpatterns = [
    path("", files.bring_in, name="bring_in"),
    path("materials/", files.materials, name="materials"),
    path("materials/all.json", files.materials_json, name="materials_json"),
    path("materials/all.csv", files.materials_csv, name="materials_csv"),
    path("materials/<slug:material>.json", files.material_json, name="material_json"),
    path("yard/", yards.yard, name="yard"),
    path("yard/out/", yards.yard_out, name="yard_out"),
    path("yard/in/", yards.yard_in, name="yard_in"),
    path("formats/", formats.formats, name="formats"),
]
