"""Addresses of Pots."""

from django.urls import path

from pelk.pots.views import air, desk, feeding, groups, jars, old_soil

app_name = "pots"
urlpatterns = [
    path("", groups.groups, name="groups"),
    path("ph/", desk.ph_desk, name="ph_desk"),
    path("ph/jars/", jars.begin, name="jars_begin"),
    path("ph/jars/<int:jars>/", jars.jars, name="jars"),
    path("ph/jars/<int:jars>/delete/", jars.delete, name="jars_delete"),
    path("ph/jars/<int:jars>/restore/", jars.restore, name="jars_restore"),
    path("old/", old_soil.soils, name="soils"),
    path("old/<int:soil>/", old_soil.old, name="old"),
    path("old/<int:soil>/answer/", old_soil.answer, name="answer"),
    path("old/<int:soil>/mix/", old_soil.mix, name="old_mix"),
    path("old/<int:soil>/store/", old_soil.store, name="store"),
    path("old/<int:soil>/delete/", old_soil.delete, name="old_delete"),
    path("old/<int:soil>/restore/", old_soil.restore, name="old_restore"),
    path("new/", groups.new, name="new"),
    path("<int:group>/", groups.group, name="group"),
    path("<int:group>/edit/", groups.edit, name="edit"),
    path("<int:group>/plant/", groups.plant, name="plant"),
    path("<int:group>/delete/", groups.delete, name="delete"),
    path("<int:group>/restore/", groups.restore, name="restore"),
    path("<int:group>/air/", air.air, name="air"),
    path("<int:group>/air/drained/", air.drained, name="drained"),
    path("<int:group>/air/lifted/", air.lifted, name="lifted"),
    path("<int:group>/air/open-up/", air.open_up, name="open_up"),
    path("<int:group>/seasons/", groups.years, name="seasons"),
    path("<int:group>/decide/", feeding.decide, name="decide"),
    path("<int:group>/write/", feeding.write, name="write"),
    path("deeds/<int:deed>/delete/", feeding.deed_delete, name="deed_delete"),
    path("deeds/<int:deed>/restore/", feeding.deed_restore, name="deed_restore"),
    path("fills/<int:fill>/delete/", groups.fill_delete, name="fill_delete"),
    path("fills/<int:fill>/restore/", groups.fill_restore, name="fill_restore"),
]
