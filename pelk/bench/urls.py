"""Addresses of the Bench."""

from django.urls import path

from pelk.bench.views import bench, blends, book, compare

app_name = "bench"
urlpatterns = [
    path("", book.book, name="book"),
    path("compare/", compare.compare, name="compare"),
    path("new/", bench.new, name="new"),
    path("blends/", blends.blends, name="blends"),
    path("blends/new/", blends.new, name="blend_new"),
    path("blends/<int:blend>/", blends.blend, name="blend"),
    path("blends/<int:blend>/delete/", blends.blend_delete, name="blend_delete"),
    path("blends/<int:blend>/restore/", blends.blend_restore, name="blend_restore"),
    path("<int:recipe>/", bench.recipe, name="recipe"),
    path("<int:recipe>/copy/", book.recipe_copy, name="recipe_copy"),
    path("<int:recipe>/rename/", book.recipe_rename, name="recipe_rename"),
    path("<int:recipe>/plan/", book.recipe_plan, name="recipe_plan"),
    path("<int:recipe>/tags/", book.recipe_tag, name="recipe_tag"),
    path("<int:recipe>/delete/", book.recipe_delete, name="recipe_delete"),
    path("<int:recipe>/restore/", book.recipe_restore, name="recipe_restore"),
]
