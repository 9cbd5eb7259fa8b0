"""Addresses of the Bench."""

from django.urls import path

from pelk.bench.pages import said
from pelk.bench.services import BLENDS, RECIPES
from pelk.bench.views import bench, blends, book, compare, entering
from pelk.log.views.put_away import put_away_paths

app_name = "bench"
urlpatterns = [
    path("", book.book, name="book"),
    path("compare/", compare.compare, name="compare"),
    path("new/", bench.new, name="new"),
    path("look/", entering.look, name="look"),
    path("fit/<int:asked>/", bench.fit_answer, name="fit_answer"),
    path("blends/", blends.blends, name="blends"),
    path("blends/new/", blends.new, name="blend_new"),
    path("blends/<int:blend>/", blends.blend, name="blend"),
    *put_away_paths(
        BLENDS,
        ("blends/<int:blend>/delete/", "blend_delete"),
        ("blends/<int:blend>/restore/", "blend_restore"),
        says=said.DELETED.format,
        leads_to=lambda row: "bench:blends",
        returns_to=lambda row: row,
    ),
    path("<int:recipe>/", bench.recipe, name="recipe"),
    path("<int:recipe>/copy/", book.recipe_copy, name="recipe_copy"),
    path("<int:recipe>/rename/", book.recipe_rename, name="recipe_rename"),
    path("<int:recipe>/plan/", book.recipe_plan, name="recipe_plan"),
    path("<int:recipe>/tags/", book.recipe_tag, name="recipe_tag"),
    *put_away_paths(
        RECIPES,
        ("<int:recipe>/delete/", "recipe_delete"),
        ("<int:recipe>/restore/", "recipe_restore"),
        says=said.DELETED.format,
        leads_to=lambda row: "bench:book",
        returns_to=lambda row: row,
    ),
]
