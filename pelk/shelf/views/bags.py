"""Buying, what is left, bags side by side."""

from __future__ import annotations

from decimal import Decimal

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_safe

from pelk.core.base.errors import PelkError
from pelk.shelf.forms.bags import BuyForm, CountForm
from pelk.shelf.forms.materials import label_elements
from pelk.shelf.models.bags import Bag
from pelk.shelf.pages import said
from pelk.shelf.pages.comparison import MOST_BESIDE, side_by_side
from pelk.shelf.services import bags as services
from pelk.shelf.views.materials import own_or_shared
from pelk.ui.numbers import read_counts
from pelk.ui.refusals import sentence
from pelk.ui.units import sizes
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

PER_PAGE, MOVES = 40, 40


@require_safe
def bags(request: YardRequest) -> HttpResponse:
    """List what was bought, the newest first; tick some to set side by side."""
    rows = Bag.objects.of(request.yard).live().select_related("material")
    if request.GET.get("show") == "empty":
        rows = rows.filter(left=0)
    elif request.GET.get("show") != "all":
        rows = rows.not_empty()
    page = Paginator(rows, PER_PAGE).get_page(request.GET.get("page"))
    show = request.GET.get("show", "")
    context = {
        "page": page,
        "show": show,
        "query": f"show={show}&" if show else "",
        "ticked": request.GET.getlist("bag"),
    }
    return render(request, "shelf/bags.html", context)


@require_http_methods(["GET", "POST"])
@once()
def buy(request: YardRequest, material: str) -> HttpResponse:
    """Put a bought package on the shelf."""
    row = own_or_shared(request, material)
    form = BuyForm(request.POST or None, material=row, yard=request.yard)
    if request.method == "POST" and form.is_valid():
        try:
            bag = form.save(request.yard, request.user)
        except PelkError as error:
            form.add_error(None, sentence(error))
        else:
            messages.success(request, said.ON_SHELF.format(name=bag.material.short_name))
            return redirect("shelf:material", bag.material.slug)
    context = {"form": form, "material": row, "says": label_elements(request.POST)}
    return render(request, "shelf/buy.html", context)


@require_http_methods(["GET", "POST"])
def bag(request: YardRequest, bag: int) -> HttpResponse:
    """Show a bag: what it cost, what went in and out; POST counts it again."""
    row = _own(request, bag)
    form = CountForm(request.POST or None, bag=row)
    if request.method == "POST" and form.is_valid():
        services.count_again(
            bag=row, by=request.user, left=form.left_in_it, text=form.cleaned_data["text"]
        )
        messages.success(request, said.COUNTED)
        return redirect(row)
    prices, is_us = row.prices(), request.yard.measures.is_us
    gallon_l, pound_kg = (sizes()["gal"], sizes()["lb"] / 1000) if is_us else (1.0, 1.0)
    moves = Paginator(row.moves.select_related("by"), MOVES)
    context = {
        "bag": row,
        "form": form,
        "prices": prices,
        "by_volume": _priced(prices.per_litre, "a gallon" if is_us else "a litre", gallon_l),
        "by_weight": _priced(prices.per_kg, "a pound" if is_us else "a kilogram", pound_kg),
        "page": moves.get_page(request.GET.get("page")),
        "said": list(row.values.live()),
    }
    return render(request, "shelf/bag.html", context)


@require_safe
def comparison(request: YardRequest) -> HttpResponse:
    """Set up to four bags side by side."""
    keys = read_counts(request.GET.getlist("bag"))
    rows = Bag.objects.of(request.yard).live().with_cores()
    held = {b.pk: b for b in rows.filter(pk__in=keys[:40])}
    picked = [held[k] for k in dict.fromkeys(keys) if k in held]
    if not picked:
        messages.info(request, said.SET_BESIDE_HOW)
        return redirect("shelf:bags")
    if len(picked) > MOST_BESIDE:
        messages.info(request, said.FIRST_SHOWN.format(most=MOST_BESIDE))
    context = {"table": side_by_side(picked[:MOST_BESIDE], request.yard)}
    return render(request, "shelf/comparison.html", context)


def _priced(price: Decimal | None, word: str, size: float) -> tuple[str, Decimal | None]:
    """Return the price of so much, and what it is called."""
    return word, None if price is None else price * Decimal(repr(size))


def _own(request: YardRequest, pk: int) -> Bag:
    rows = Bag.objects.of(request.yard).live().select_related("material")
    row: Bag = get_object_or_404(rows, pk=pk)
    return row
