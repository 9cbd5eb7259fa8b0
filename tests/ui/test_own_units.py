"""A yard reads its own units: sentences of the core, warmth, what is typed and kept."""

import re
from html import unescape

from django.test import SimpleTestCase, TestCase

from pelk.cure.models import Reading
from pelk.shelf.models.bags import Bag
from pelk.ui.practice_words import practice_in
from pelk.ui.units import Measures
from pelk.yards.models import Yard
from tests.factories import make_heap, make_pots, make_recipe, make_user, yard_of

PH_DESK = "/pots/ph/?soil=compost&of=volume&volume=10&start=6.8&target=5.6&day=120&air=59"
US, METRIC = Measures("us"), Measures("metric")
# What a US page must not say of its own; pH, mg/L and dS/m are the same everywhere.
OTHERS = re.compile(r"\d[ \u00a0](?:L|mL|kg|cm|g/L|°C)(?![\w/])|\blitres?\b|°C")


class Sentences(SimpleTestCase):
    def test_amounts_of_a_sentence_are_read_in_own_units(self):
        # By hand: 1 g/L is 3.785 g a gallon, over 28.35; 18 °C is 64.4 °F; 30 cm is 11.8 in.
        for said, us in (
            ("at 1 g/L: stops at 0.8 g/L", "at 0.13\u00a0oz/gal: stops at 0.11\u00a0oz/gal"),
            ("at 18 °C in 30 cm", "at 64\u00a0°F in 12\u00a0in"),
            ("2 to 4 g/L", "0.27 to 0.53\u00a0oz/gal"),
            ("pH 5.4, 120 mg/L, 1.4 dS/m", "pH 5.4, 120 mg/L, 1.4 dS/m"),
            ("50 L of mix", "13\u00a0gal of mix"),
        ):
            with self.subTest(said):
                self.assertEqual(US.read(said), us)
                self.assertEqual(METRIC.read(said), said)

    def test_common_practice_is_said_in_own_units(self):
        # By hand: a US teaspoon of 4.93 mL in 3.785 L; 2 kg over 0.4536, a yard of 0.7646 m3.
        self.assertEqual(
            practice_in("1-2 tsp per gallon; 1/4 cup per ft3", is_us=False),
            "1.3–2.6 mL per litre; 2.1 mL per litre",
        )
        self.assertEqual(practice_in("2-5 kg/m3", is_us=True), "3.4–8.4 lb/yd³")
        for text in ("by label CFU", "10-20% of a mix", "3-4 weeks"):
            self.assertEqual(practice_in(text, is_us=True), text)
            self.assertEqual(practice_in(text, is_us=False), text)

    def test_warmth_goes_both_ways(self):
        for celsius in (-10.0, 0.0, 18.0, 60.0):
            self.assertAlmostEqual(US.celsius(US.degrees(celsius)), celsius, places=9)
        self.assertEqual(US.warmth(20), "68\u00a0°F")
        self.assertEqual(METRIC.warmth(20), "20\u00a0°C")


class Pages(TestCase):
    def setUp(self):
        self.user = make_user()
        Yard.objects.update(system="us", region="US")
        self.client.force_login(self.user)

    def words(self, url):
        page = self.client.get(url).content.decode()
        page = re.sub(r"<(script|style|svg|option|select)\b.*?</\1>", " ", page, flags=re.S)
        return re.sub(r"\s+", " ", unescape(re.sub(r"<[^>]+>", " ", page)))

    def test_main_pages_of_a_us_yard_keep_to_its_units(self):
        recipe, heap = make_recipe(self.user), make_heap(self.user)
        group = make_pots(self.user)
        typed = {"kind": "sack", "size": "5", "unit": "lb", "count": "1", "bought_on": "2026-11-03"}
        self.client.post("/shelf/kelp-meal/buy/", typed)
        bag = Bag.objects.get()
        for url in (
            "/today/",
            "/today/start/",
            "/bench/",
            "/bench/new/?from=seedling-coir",
            recipe.get_absolute_url(),
            f"/cure/{heap.pk}/",
            "/yard/settings/",
            "/pots/",
            f"{group.get_absolute_url()}plant/?batch={heap.pk}",
            group.get_absolute_url(),
            f"/pots/today/{recipe.pk}/",
            PH_DESK,
            f"/shelf/bags/{bag.pk}/",
            "/shelf/bags/?show=all",
            "/shelf/",
        ):
            with self.subTest(url):
                others = [m.group(0) for m in OTHERS.finditer(self.words(url))]
                self.assertEqual(others, [])

    def test_a_reading_in_fahrenheit_is_kept_in_celsius(self):
        heap = make_heap(self.user)
        typed = {"ph": "5.4", "temperature_c": "68", "method": "slurry", "sure": "1"}
        self.client.post(f"/cure/{heap.pk}/", typed)
        self.assertAlmostEqual(Reading.objects.get().temperature_c, 20.0)
        page = self.client.post(f"/cure/{heap.pk}/", {**typed, "temperature_c": "400"})
        self.assertContains(page, "from -22 to 194 °F")

    def test_sizes_of_the_yard_are_typed_in_gallons_and_pounds(self):
        form = self.client.get("/yard/settings/").context["form"]
        typed = {name: form[name].value() or "" for name in form.fields}
        self.assertAlmostEqual(float(typed["barrow_l"]), 85 / 3.785, delta=0.01)
        before = yard_of(self.user)
        self.client.post("/yard/settings/", typed)
        after = yard_of(self.user)
        self.assertAlmostEqual(after.barrow_l, before.barrow_l, delta=0.02)
        self.assertAlmostEqual(after.barrow_limit_kg, before.barrow_limit_kg, delta=0.02)
        for mine, theirs in zip(after.normals_c, before.normals_c, strict=True):
            self.assertAlmostEqual(mine, theirs, delta=0.06)

    def test_the_bench_reads_degrees_and_keeps_celsius(self):
        recipe = make_recipe(self.user)
        form = self.client.get(recipe.get_absolute_url()).context["form"]
        self.assertEqual(form.temperature, "68")
        self.assertAlmostEqual(form.as_document().conditions.temperature_c, 20.0)
