"""What a yard calls its materials, and what its bags hold."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from pelk.core.materials.words import understood
from pelk.shelf.forms.words import WordForm
from pelk.shelf.models.words import PackSize, Word
from pelk.shelf.pages import said
from pelk.shelf.selectors import known_materials, vocabulary_of
from pelk.shelf.services.words import teach_word
from pelk.yards.middleware import YardRequest


@require_http_methods(["GET", "POST"])
def words(request: YardRequest) -> HttpResponse:
    """Show the words and packs that were taught; teach another word."""
    form = WordForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        meant = understood(data["means"], vocabulary_of(request.yard))
        rows = known_materials(request.yard, meant.slugs)
        if meant.slug is not None and meant.slug in rows:
            teach_word(yard=request.yard, text=data["text"], material=rows[meant.slug])
            messages.success(
                request, said.MEANS.format(word=data["text"], name=rows[meant.slug].short_name)
            )
            return redirect("shelf:words")
        form.ask(meant, [rows[slug].name for slug in meant.slugs if slug in rows])
    context = {
        "form": form,
        "words": Word.objects.of(request.yard).live().select_related("material"),
        "packs": [
            (size, request.yard.measures.volume(size.litres))
            for size in PackSize.objects.of(request.yard).live().select_related("material")
        ],
    }
    return render(request, "shelf/words.html", context)
