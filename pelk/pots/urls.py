"""Addresses of Pots."""

from django.urls import path

from pelk.pots.views import desk, feeding, groups

app_name = "pots"
urlpatterns = [
    path("", groups.groups, name="groups"),
    path("ph/", desk.ph_desk, name="ph_desk"),
    path("new/", groups.new, name="new"),
    path("<int:group>/", groups.group, name="group"),
    path("<int:group>/edit/", groups.edit, name="edit"),
    path("<int:group>/plant/", groups.plant, name="plant"),
    path("<int:group>/delete/", groups.delete, name="delete"),
    path("<int:group>/restore/", groups.restore, name="restore"),
    path("<int:group>/decide/", feeding.decide, name="decide"),
    path("<int:group>/write/", feeding.write, name="write"),
    path("deeds/<int:deed>/delete/", feeding.deed_delete, name="deed_delete"),
    path("deeds/<int:deed>/restore/", feeding.deed_restore, name="deed_restore"),
    path("fills/<int:fill>/delete/", groups.fill_delete, name="fill_delete"),
    path("fills/<int:fill>/restore/", groups.fill_restore, name="fill_restore"),
]
