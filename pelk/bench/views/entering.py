"""What Enter, a choice or a size does to the words in the add boxes of the Bench."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import replace
from functools import cache
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.bench.forms.entry import (
    TEXT_MAX,
    beside_what_is_open,
    needs_volumes,
    put_in,
    read_entry,
    readings,
    volumes_way,
)
from pelk.bench.forms.entry_lines import Entry, Question, Shop
from pelk.bench.forms.mix import BenchForm
from pelk.bench.forms.part_units import Fillings
from pelk.core.base.errors import PelkError
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.words import Box, taught_also
from pelk.shelf.selectors import known_materials, pack_litres, vocabulary_of
from pelk.shelf.services.materials import add_own
from pelk.shelf.services.words import keep_pack_size, teach_word
from pelk.ui.numbers import read_number
from pelk.ui.units import SPACES, sizes
from pelk.yards.middleware import YardRequest
from pelk.yards.models import Yard

BOXES = {"part": Box.PART, "dose": Box.DOSE}
SAID_MAX = 20


def fillings_of(yard: Yard) -> Fillings:
    """Return how a yard fills its packs and measures; looked up where asked, once."""

    @cache
    def row(slug: str) -> CoreMaterial:
        return known_materials(yard, [slug])[slug].core

    @cache
    def litres(slug: str, pack: str) -> float | None:
        return pack_litres(yard, known_materials(yard, [slug])[slug], pack)

    return Fillings(yard, row, litres)


def shop_of(yard: Yard) -> Shop:
    """Return what the reading of a line needs to know of a yard."""
    return Shop(fillings_of(yard), vocabulary_of(yard))


class Entering:
    """The add boxes of one request.

    Attributes
    ----------
    entries : dict of str to Entry
        By box, ``part`` and ``dose``; of what went in, the text is gone.
    taken : list of Entry
        What went in by this request.
    """

    def __init__(self, request: YardRequest, form: BenchForm, action: str) -> None:
        self.request, self.form = request, form
        verb, _, self.rest = action.partition(":")
        self.entries: dict[str, Entry] = {}
        self.taken: list[tuple[str, Entry]] = []
        for kind in BOXES:
            self._read(kind, verb)

    def _read(self, kind: str, verb: str) -> None:
        post = self.request.POST
        text, said = post.get(f"add_{kind}", "")[:TEXT_MAX], _said(post.get(f"add_{kind}_said", ""))
        if verb == f"add_{kind}":
            text, said = self.rest[:TEXT_MAX], {}
        if not text.strip():
            self.entries[kind] = Entry()
            return
        text = beside_what_is_open(post.get(f"add_{kind}_open", "")[:TEXT_MAX], text)
        shop = shop_of(self.request.yard)
        entry = read_entry(text, BOXES[kind], self.form, shop, said)
        if verb in (f"take-{kind}", f"like-{kind}") and entry.question is not None:
            entry = self._answered(kind, verb, entry, entry.question, shop)
        is_entered = verb in ("enter", "add", f"add_{kind}", f"take-{kind}", f"like-{kind}")
        if is_entered and entry.question and entry.question.kind == "pack":
            entry = self._sized(kind, entry, entry.question)
        if is_entered and entry.question is None and entry.lines:
            self.taken.append((kind, entry))
            entry = Entry()
        self.entries[kind] = entry

    def _answered(
        self, kind: str, verb: str, entry: Entry, question: Question, shop: Shop
    ) -> Entry:
        """Take the choice that was pressed for the word that was open."""
        yard, slug = self.request.yard, self.rest
        if slug not in shop.vocabulary.materials:
            return entry
        chosen = known_materials(yard, [slug])[slug]
        if verb.startswith("like-"):
            chosen = add_own(
                yard=yard,
                by=self.request.user,
                name=question.words,
                family=chosen.family,
                role=chosen.role,
                like=chosen,
            )
            shop = shop_of(yard)
        elif self.request.POST.get(f"add_{kind}_teach"):
            teach_word(yard=yard, text=question.words, material=chosen)
        said = {**entry.said, question.words: chosen.slug}
        vocabulary = taught_also(shop.vocabulary, question.words, chosen.slug)
        shop = replace(shop, vocabulary=vocabulary)
        return read_entry(entry.text, BOXES[kind], self.form, shop, said)

    def _sized(self, kind: str, entry: Entry, question: Question) -> Entry:
        """Keep what a pack holds, where it was written, and read the line again."""
        post, (slug, _) = self.request.POST, question.choices[0]
        size = read_number(post.get(f"add_{kind}_holds", ""))
        unit = post.get(f"add_{kind}_holds_unit", "L")
        if size is None or unit not in SPACES:
            return entry
        material = known_materials(self.request.yard, [slug])[slug]
        with suppress(PelkError):  # a size that cannot be is asked again
            keep_pack_size(
                yard=self.request.yard,
                material=material,
                pack=question.pack,
                litres=size * sizes()[unit],
            )
        shop = shop_of(self.request.yard)
        return read_entry(entry.text, BOXES[kind], self.form, shop, entry.said)

    @property
    def volumes_way(self) -> str:
        """The unit that the parts must be written in first; empty where they can stay."""
        for kind, entry in self.taken:
            if kind == "part" and needs_volumes(entry, self.form):
                return volumes_way(entry)
        return ""

    @property
    def context(self) -> dict[str, Any]:
        """What the page shows of it."""
        return {
            "entries": self.entries,
            "saids": {k: json.dumps(e.said) if e.said else "" for k, e in self.entries.items()},
            "read_as": {kind: readings([entry]) for kind, entry in self.taken},
        }

    def put_in(self) -> None:
        """Put what was understood into the recipe."""
        for kind, entry in self.taken:
            put_in(entry, BOXES[kind], self.form)


def _said(text: str) -> dict[str, str]:
    """Return what words were said to mean; nothing where the text is something else."""
    try:
        data = json.loads(text or "{}")
        return {str(k)[:TEXT_MAX]: str(v)[:80] for k, v in list(data.items())[:SAID_MAX]}
    except (ValueError, AttributeError, RecursionError):
        return {}


@require_safe
def look(request: YardRequest) -> HttpResponse:
    """Answer what some typed words may mean, before they are entered."""
    kind = "dose" if request.GET.get("box") == "dose" else "part"
    form = BenchForm(way=request.GET.get("way", "parts")[:20])
    form.parts = []
    text = request.GET.get("text", "")[:TEXT_MAX]
    said = _said(request.GET.get("said", ""))
    entry = read_entry(text, BOXES[kind], form, shop_of(request.yard), said)
    context = {"entry": entry, "kind": kind, "here": request.GET.get("here", "")[:200]}
    return render(request, "bench/_entry.html", context)
