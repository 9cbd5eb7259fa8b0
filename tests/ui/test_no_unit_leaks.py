"""Every page that a link leads to speaks in the yard's own units, US and metric."""

import re
from html import unescape

from django.test import TestCase

from pelk.shelf.models.bags import Bag
from pelk.yards.models import Yard
from tests.factories import (
    make_blend,
    make_deed,
    make_fill,
    make_heap,
    make_jars,
    make_old_soil,
    make_own_material,
    make_pots,
    make_reading,
    make_recipe,
    make_user,
)

MOST_PAGES, EACH_KIND = 150, 2
# pH, mg/L, dS/m and meq/L are the same everywhere; a name may say its grain in mm.
METRIC_WORDS = re.compile(
    r".{0,40}(?:\d[ \u00a0](?:L|mL|kg|cm|m²|g/L|kg/m³|kg/L|°C)(?![\w/])|\blitres?\b|°C).{0,20}"
)
US_WORDS = re.compile(
    r".{0,40}\d[ \u00a0](?:gal|lb|oz|ft²|°F|oz/gal|in (?:tall|deep|high))(?![\w/]).{0,20}"
)
# The record says what was written; files, a logger's too, and sources have units of their own.
LEFT_OUT = re.compile(
    r"^/(static|media|formats|sources|exchange|log)|/logger/|\.(csv|xlsx|ics|json|svg)$"
)
FIRST = (
    "/today/",
    "/today/start/",
    "/shelf/",
    "/bench/",
    "/barrow/",
    "/cure/",
    "/cure/practice/",
    "/pots/",
    "/pots/old/",
    "/pots/ph/?soil=compost&of=volume&volume=10&start=6.8&target=5.6&day=120&air=20",
    "/pots/ph/?way=water",
    "/pots/ph/jars/",
    "/shelf/bags/?show=all",
    "/shelf/measures/",
    "/shelf/buying/",
    "/bench/blends/",
    "/yard/settings/",
    "/yard/water/",
)


def words_of(html):
    """Return what is read on a page: no scripts, pictures nor lists to choose from."""
    html = re.sub(r"<(script|style|svg|option|select|datalist)\b.*?</\1>", " ", html, flags=re.S)
    return re.sub(r"\s+", " ", unescape(re.sub(r"<[^>]+>", " ", html)))


class NoUnitLeaks(TestCase):
    def furnish(self, system, region, bag):
        """Return a yard of these units that has one of everything."""
        user = make_user()
        Yard.objects.update(system=system, region=region)
        self.client.force_login(user)
        recipe, heap = make_recipe(user), make_heap(user)
        make_recipe(user, name="Second mix")
        make_reading(user, heap)
        make_own_material(user)
        make_old_soil(user), make_jars(user)
        units = {"tub_unit": "lb", "pot_unit": "gal"} if system == "us" else {}
        make_blend(user, **units)
        group = make_pots(user)
        make_fill(user, group, batch=heap)
        make_deed(user, group, "reading", figures={"ph": 5.2})
        self.client.post("/shelf/kelp-meal/buy/", {"kind": "sack", "count": "1", **bag})
        self.assertEqual(Bag.objects.count(), 1)
        return [
            f"/pots/{group.pk}/air/",
            f"/pots/{group.pk}/plant/?batch={heap.pk}",
            f"/pots/today/{recipe.pk}/",
            f"{recipe.get_absolute_url()}?why=mixed_volume",
        ]

    def walk(self, first, others):
        """Return what of other units stands where, over all that links lead to."""
        told, seen, kinds, todo = {}, set(), {}, [*FIRST, *first]
        while todo and len(seen) < MOST_PAGES:
            url = todo.pop(0)
            kind = re.sub(r"/shelf/[a-z][a-z0-9-]+/", "/shelf/S/", re.sub(r"\d+", "N", url))
            if url in seen or kinds.get(kind, 0) >= EACH_KIND or LEFT_OUT.search(url):
                continue
            seen.add(url)
            kinds[kind] = kinds.get(kind, 0) + 1
            page = self.client.get(url)
            if page.status_code in (301, 302):
                todo.append(page["Location"])
            elif "html" in page.get("Content-Type", ""):
                html = page.content.decode()
                if leaks := [m.group(0).strip() for m in others.finditer(words_of(html))]:
                    told[url] = leaks[:6]
                todo += [unescape(m) for m in re.findall(r'href="(/[^"#]*)', html)]
        self.assertGreater(len(seen), 70)
        return told

    def test_a_us_yard(self):
        bag = {"size": "5", "unit": "lb", "bought_on": "2026-11-03"}
        self.assertEqual(self.walk(self.furnish("us", "US", bag), METRIC_WORDS), {})

    def test_a_metric_yard(self):
        bag = {"size": "5", "unit": "kg", "bought_on": "2026-11-03"}
        self.assertEqual(self.walk(self.furnish("metric", "GB", bag), US_WORDS), {})
