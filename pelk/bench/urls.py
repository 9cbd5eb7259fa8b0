"""Addresses of the Bench."""

from django.urls import path

from pelk.bench import views

app_name = "bench"
urlpatterns = [
    path("", views.book, name="book"),
    path("new/", views.new, name="new"),
    path("<int:recipe>/", views.recipe, name="recipe"),
    path("<int:recipe>/copy/", views.recipe_copy, name="recipe_copy"),
    path("<int:recipe>/rename/", views.recipe_rename, name="recipe_rename"),
    path("<int:recipe>/plan/", views.recipe_plan, name="recipe_plan"),
    path("<int:recipe>/delete/", views.recipe_delete, name="recipe_delete"),
    path("<int:recipe>/restore/", views.recipe_restore, name="recipe_restore"),
]
