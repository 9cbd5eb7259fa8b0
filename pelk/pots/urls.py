"""Addresses of Pots."""

from django.urls import path

from pelk.pots import views

app_name = "pots"
urlpatterns = [
    path("", views.groups, name="groups"),
    path("ph/", views.ph_desk, name="ph_desk"),
    path("new/", views.new, name="new"),
    path("<int:group>/", views.group, name="group"),
    path("<int:group>/edit/", views.edit, name="edit"),
    path("<int:group>/plant/", views.plant, name="plant"),
    path("<int:group>/delete/", views.delete, name="delete"),
    path("<int:group>/restore/", views.restore, name="restore"),
    path("fills/<int:fill>/delete/", views.fill_delete, name="fill_delete"),
    path("fills/<int:fill>/restore/", views.fill_restore, name="fill_restore"),
]
