"""Addresses of Pots."""

from django.urls import path, reverse

from pelk.log.views.put_away import put_away_paths
from pelk.pots.pages import said
from pelk.pots.services.diary import PHOTOS
from pelk.pots.services.groups import DEEDS, FILLS, GROUPS
from pelk.pots.services.jars import JARS
from pelk.pots.services.old_soil import OLD_SOILS
from pelk.pots.views import (
    air,
    beside,
    desk,
    diary,
    fed,
    feeding,
    groups,
    jars,
    looked_back,
    old_soil,
    plant_today,
    planting,
    pot_on,
    watering,
)

app_name = "pots"
urlpatterns = [
    path("", groups.groups, name="groups"),
    path("ph/", desk.ph_desk, name="ph_desk"),
    path("ph/jars/", jars.begin, name="jars_begin"),
    path("ph/jars/<int:jars>/", jars.jars, name="jars"),
    *put_away_paths(
        JARS,
        ("ph/jars/<int:jars>/delete/", "jars_delete"),
        ("ph/jars/<int:jars>/restore/", "jars_restore"),
        says=said.JARS_AWAY.format,
        leads_to=lambda row: "pots:jars_begin",
        returns_to=lambda row: row,
    ),
    path("old/", old_soil.soils, name="soils"),
    path("old/<int:soil>/", old_soil.old, name="old"),
    path("old/<int:soil>/answer/", old_soil.answer, name="answer"),
    path("old/<int:soil>/mix/", old_soil.mix, name="old_mix"),
    path("old/<int:soil>/store/", old_soil.store, name="store"),
    *put_away_paths(
        OLD_SOILS,
        ("old/<int:soil>/delete/", "old_delete"),
        ("old/<int:soil>/restore/", "old_restore"),
        says=said.INSPECTION_AWAY.format,
        leads_to=lambda row: "pots:soils",
        returns_to=lambda row: row,
    ),
    path("beside/", beside.beside, name="beside"),
    path("new/", groups.new, name="new"),
    path("today/<int:recipe>/", plant_today.plant_recipe, name="plant_today"),
    path("<int:group>/", groups.group, name="group"),
    path("<int:group>/edit/", groups.edit, name="edit"),
    path("<int:group>/fed/", fed.fed, name="fed"),
    path("<int:group>/pot-on/", pot_on.pot_on, name="pot_on"),
    path("<int:group>/plant/", planting.plant, name="plant"),
    *put_away_paths(
        GROUPS,
        ("<int:group>/delete/", "delete"),
        ("<int:group>/restore/", "restore"),
        says=said.AWAY.format,
        leads_to=lambda row: "pots:groups",
        returns_to=lambda row: row,
    ),
    path("<int:group>/air/", air.air, name="air"),
    path("<int:group>/air/drained/", air.drained, name="drained"),
    path("<int:group>/air/lifted/", air.lifted, name="lifted"),
    path("<int:group>/air/open-up/", air.open_up, name="open_up"),
    path("<int:group>/looked-back/<int:year>/", looked_back.season, name="looked_back"),
    path("<int:group>/seasons/", groups.years, name="seasons"),
    path("<int:group>/decide/", feeding.decide, name="decide"),
    path("<int:group>/write/", feeding.write, name="write"),
    path("<int:group>/diary/", diary.diary, name="diary"),
    path("<int:group>/saw/", diary.saw, name="saw"),
    path("photos/<int:photo>/", diary.photo, name="photo"),
    *put_away_paths(
        PHOTOS,
        ("photos/<int:photo>/delete/", "photo_delete"),
        ("photos/<int:photo>/restore/", "photo_restore"),
        says=said.PICTURE_AWAY.format,
        leads_to=lambda row: reverse("pots:diary", args=[row.group_id]),
    ),
    path("<int:group>/watered/", watering.watered, name="watered"),
    *put_away_paths(
        DEEDS,
        ("deeds/<int:deed>/delete/", "deed_delete"),
        ("deeds/<int:deed>/restore/", "deed_restore"),
        says=said.STRUCK_OUT.format,
        leads_to=lambda row: row.group,
    ),
    *put_away_paths(
        FILLS,
        ("fills/<int:fill>/delete/", "fill_delete"),
        ("fills/<int:fill>/restore/", "fill_restore"),
        says=said.FILLING_OUT.format,
        leads_to=lambda row: row.group,
    ),
]
