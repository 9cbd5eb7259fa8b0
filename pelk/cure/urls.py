"""Addresses of Cure."""

from django.urls import path

from pelk.cure import views

app_name = "cure"
urlpatterns = [
    path("", views.heaps, name="heaps"),
    path("<int:batch>/", views.heap, name="heap"),
    path("readings/<int:reading>/delete/", views.reading_delete, name="reading_delete"),
    path(
        "readings/<int:reading>/restore/", views.reading_restore, name="reading_restore"
    ),
]
