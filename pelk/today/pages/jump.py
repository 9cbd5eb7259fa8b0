"""Anything by a few letters of its name: pages, materials, recipes, heaps, pots."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Q
from django.urls import reverse

from pelk.barrow.models import Batch
from pelk.bench.models import Recipe
from pelk.pots.models import PotGroup
from pelk.shelf.models.materials import Material
from pelk.yards.models import Yard

EACH, LONGEST = 6, 60
# Pages of their own: name, further words it is found by, address.
PAGES = (
    ("Today", "due day", "today:today"),
    ("Shelf", "materials", "shelf:list"),
    ("Bags", "stock bought", "shelf:bags"),
    ("Measures", "handful scoop shovel cup", "shelf:measures"),
    ("Buying list", "shopping prices", "shelf:buying"),
    ("Lab reports", "samples analysis", "shelf:lab"),
    ("Words", "names vocabulary", "shelf:words"),
    ("Recipe book", "bench mixes", "bench:book"),
    ("New mix", "bench recipe", "bench:new"),
    ("Dry feed blends", "tub meals", "bench:blends"),
    ("Barrow", "batches card", "barrow:batches"),
    ("Cure", "heaps readings", "cure:heaps"),
    ("Check a pH pen", "meter buffers", "cure:pens"),
    ("Practice heap", "training story", "cure:training"),
    ("Compare two heaps", "beside", "cure:comparison"),
    ("Pots", "yard plan groups", "pots:groups"),
    ("New group of pots", "describe", "pots:new"),
    ("Old soil", "check renew last year", "pots:soils"),
    ("pH desk", "raise lower water acid lime", "pots:ph_desk"),
    ("Jar test", "jars dose", "pots:jars_begin"),
    ("Log", "diary record notes", "log:log"),
    ("Import and export", "files csv json logger", "exchange:bring_in"),
    ("Yard settings", "climate units money barrow bucket", "yards:settings"),
    ("Water of the yard", "alkalinity hardness", "yards:water"),
    ("People of the yard", "invite keeper hand guest", "yards:people"),
    ("Your account", "password email", "yards:account"),
    ("Where the numbers come from", "sources books", "sources:works"),
    ("Keys", "shortcuts keyboard", "today:keys"),
)


@dataclass(frozen=True, slots=True)
class Jump:
    """One place to go to: its name, what it is, its address."""

    name: str
    kind: str
    url: str


def jumps(yard: Yard, words: str) -> list[Jump]:
    """Return the places whose names hold every word, the yard's own things first."""
    words = words.replace("\0", "").strip()[:LONGEST]
    said = words.lower().split()
    if not said:
        return []
    pages = [
        Jump(name, "page", reverse(address))
        for name, more, address in PAGES
        if all(word in f"{name} {more}".lower() for word in said)
    ]
    return [*_own(yard, words, said), *pages[:EACH], *_materials(yard, words)]


def _own(yard: Yard, words: str, said: list[str]) -> list[Jump]:
    heaps, groups = Q(), Q()
    for word in said:
        heaps &= Q(code__icontains=word) | Q(name__icontains=word)
        groups &= Q(name__icontains=word) | Q(place__icontains=word) | Q(plant__icontains=word)
    recipes = Recipe.objects.of(yard).live().matching(words)[:EACH]
    batches = Batch.objects.of(yard).live().filter(heaps)
    rows = batches.values_list("pk", "code", "name", "finished_at")[:EACH]
    return [
        *(Jump(r.name, "recipe", r.get_absolute_url()) for r in recipes),
        *(
            Jump(f"{code} {name}", "heap", reverse("cure:heap", args=[pk]))
            if done
            else Jump(f"{code} {name}", "at the barrow", reverse("barrow:card", args=[pk]))
            for pk, code, name, done in rows
        ),
        *(
            Jump(g.name, g.place or "pots", g.get_absolute_url())
            for g in PotGroup.objects.of(yard).live().filter(groups)[:EACH]
        ),
    ]


def _materials(yard: Yard, words: str) -> list[Jump]:
    rows = Material.objects.listed_for(yard).matching(words).order_by("name", "pk")[:EACH]
    return [Jump(m.name, "material", m.get_absolute_url()) for m in rows]
