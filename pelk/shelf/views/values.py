"""One value of a material: why it is what it is, its history, another in its place."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods, require_POST

from pelk.core.base.errors import PelkError
from pelk.core.materials.facts import FACTS, Fact, value_of
from pelk.shelf.forms.materials import LabelForm, label_elements
from pelk.shelf.forms.values import ValueForm
from pelk.shelf.models.materials import Material, Value
from pelk.shelf.pages import said
from pelk.shelf.services import materials as services
from pelk.shelf.views.materials import own_or_shared, page_of
from pelk.ui.pages import render_page
from pelk.ui.refusals import sentence
from pelk.yards.middleware import YardRequest

MOST_EARLIER = 12


@require_http_methods(["GET", "POST"])
def value(request: YardRequest, material: str, fact: str) -> HttpResponse:
    """Show why a value is what it is; POST puts another in its place."""
    row = own_or_shared(request, material)
    held = get_fact(fact)
    now = value_of(row.core, fact)
    form = ValueForm(request.POST or None, fact=held, now=now)
    if request.method == "POST" and form.is_valid():
        try:
            services.say_values(
                yard=request.yard,
                by=request.user,
                material=row,
                said=form.said,
                values={fact: form.range},
            )
        except PelkError as error:
            form.add_error("typical", sentence(error))
        else:
            messages.success(request, said.VALUE_KEPT.format(name=held.name))
            return redirect("shelf:material", row.slug)
    earlier = Value.objects.of(request.yard).filter(material__slug=row.slug, fact=fact)
    context = page_of(
        request,
        row,
        fact=held,
        now=now,
        mark=row.core.mark_of(fact),
        provenance=row.core.provenances.get(fact),
        value_form=form,
        earlier=list(earlier.select_related("by")[:MOST_EARLIER]),
        of_library=_library_value(row, fact),
    )
    return render_page(request, "shelf/list.html", context)


def _library_value(row: Material, fact: str) -> object:
    """Return what is known without the yard's own values."""
    return value_of(services.base_of(row), fact) if row.is_own else None


def get_fact(key: str) -> Fact:
    """Return a fact, or 404."""
    if key not in FACTS:
        raise Http404
    return FACTS[key]


@require_POST
def forget(request: YardRequest, material: str, fact: str) -> HttpResponse:
    """Have the library's value back."""
    row, held = own_or_shared(request, material), get_fact(fact)
    services.forget_values(material=row, fact=fact, by=request.user)
    messages.success(request, said.VALUE_BACK.format(name=held.name))
    return redirect("shelf:value", row.slug, fact)


@require_http_methods(["GET", "POST"])
def label(request: YardRequest, material: str) -> HttpResponse:
    """Take N-P-K from a label, as printed."""
    row = own_or_shared(request, material)
    form = LabelForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        values, usable = form.says
        try:
            if values:
                services.say_values(
                    yard=request.yard,
                    by=request.user,
                    material=row,
                    values=values,
                    usable=usable,
                    said=services.Said("label"),
                )
        except PelkError as error:
            form.add_error("label_n", sentence(error))
        else:
            return redirect("shelf:material", row.slug)
    context = page_of(request, row, label_form=form, says=label_elements(request.POST))
    return render_page(request, "shelf/list.html", context)
