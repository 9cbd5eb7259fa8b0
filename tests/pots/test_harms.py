"""What would hurt is said of pots: in winter, of raw manure, for seedlings, in old soil."""

from datetime import date

from django.test import SimpleTestCase, TestCase

from pelk.bench.formats.planning import as_plan
from pelk.core.advice.grades import Grade, Kind
from pelk.core.advice.judged_life import judge_plantings
from pelk.core.advice.vetoes import unfit
from pelk.core.crops.feeding_rules import winter_rule
from pelk.core.crops.groups import crop
from pelk.core.crops.harvest_guard import first_harvest
from pelk.core.evaluation.evaluate import evaluate, soil_as_mixed
from pelk.core.materials.library import library
from pelk.core.simulation.life import Life, Place, Planted, Pot
from pelk.core.simulation.soil_forecast import follow_soil
from pelk.pots.domain.fed import Given, stops_of
from pelk.pots.domain.feeds import feeds_of
from pelk.pots.domain.old_soil import judged_mix
from pelk.pots.pages.old_soil import old_soil_page
from pelk.pots.services.old_soil import answer, mix_old_soil
from pelk.shelf.selectors import known_materials
from pelk.soils.models import SoilEvent
from tests.core.mixes import plan
from tests.factories import make_old_soil, make_pots, make_user
from tests.pots.test_old_soil import SOUND

MIXED = date(2026, 4, 1)
HELD = {"N": 1.0, "P": 40.0, "K": 4.0}


def life_of(parts, doses, planted_day, crop_slug):
    """Return what comes of a mix that is planted on a day."""
    return follow_soil(
        Life(
            soil=soil_as_mixed(plan(parts, doses, crop=crop_slug), library()),
            mixed_on=MIXED,
            days=200,
            pot=Pot(litres=10.0, height_cm=22.0),
            place=Place(monthly_c=(16.0,) * 12),
            events=(Planted(day=planted_day, crop=crop(crop_slug)),),
        ),
        0,
    )


class Lives(SimpleTestCase):
    COIR = {"coir-pith-loose": 5, "yard-compost": 2, "perlite": 3}

    def kinds(self, *asked):
        return {f.kind: f for f in judge_plantings(life_of(*asked))}

    def test_hot_meals_planted_at_once_harm_and_later_do_not(self):
        doses = [("blood-meal", 4), ("feather-meal", 3)]
        early = self.kinds(self.COIR, doses, 4, "fruiting")
        self.assertEqual(early[Kind.AMMONIUM].grade, Grade.HARMS)
        self.assertNotIn(Kind.AMMONIUM, self.kinds(self.COIR, [], 4, "fruiting"))

    def test_raw_manure_has_the_one_day_of_the_harvest_guard(self):
        raw = {"raw-cow-manure": 1, "topsoil-loam": 8}
        for slug in ("fruiting", "leafy"):
            with self.subTest(slug):
                found = self.kinds(raw, [], 5, slug)[Kind.RAW_MANURE]
                until = first_harvest(crop(slug), MIXED)
                self.assertIn(f"{until:%-d %B %Y}", found.text)
        self.assertNotIn(Kind.RAW_MANURE, self.kinds(raw, [], 5, "annuals"))
        self.assertNotIn(Kind.RAW_MANURE, self.kinds(raw, [], 130, "fruiting"))


class Winter(SimpleTestCase):
    def test_lime_and_bone_are_never_for_acid_lovers(self):
        for acid, soil, named, silent in (
            (True, True, "Bark", ("Lime", "bone", "phosphate")),
            (False, False, "Lime", ("bone", "phosphate")),
            (False, True, "bone", ()),
        ):
            with self.subTest(acid=acid, soil=soil):
                rule = winter_rule(1.6, 0.5, HELD, acid_lovers=acid, holds_soil=soil)
                self.assertIn(named, rule.text)
                for word in silent:
                    self.assertNotIn(word, rule.text)


class Feeds(TestCase):
    def setUp(self):
        self.user = make_user()

    def stops(self, slug, grams, on, **pots):
        group = make_pots(self.user, **pots)
        given = Given(slug, SoilEvent.Do.DRESSED, {}, grams, "")
        return " ".join(stops_of(group, given, on))

    def test_a_feed_is_stopped_by_its_poison_its_season_and_the_harvest(self):
        january, june = date(2026, 1, 10), date(2026, 6, 10)
        self.assertIn("boron", self.stops("borax", 15, june, crop="legumes"))
        self.assertIn("spring", self.stops("blood-meal", 60, january, crop="ericaceous"))
        self.assertIn("raw", self.stops("raw-cow-manure", 60, june, crop="leafy"))
        self.assertIn("seedlings", self.stops("blood-meal", 1, june, crop="seedling"))
        self.assertEqual(self.stops("blood-meal", 8, june, crop="fruiting"), "")

    def test_seedlings_are_dressed_with_nothing_that_burns_them(self):
        feeds = feeds_of(make_pots(self.user, crop="seedling"))
        chosen = [feeds.dressing, feeds.liquid, *feeds.givers.values()]
        names = [c.material for c in chosen if c is not None]
        self.assertTrue(names)
        self.assertEqual([unfit(m, crop("seedling")) for m in names], [""] * len(names))


class Old(TestCase):
    def setUp(self):
        self.user = make_user()
        self.soil = make_old_soil(self.user, litres=60.0, pot_l=15.0, next_crop="legumes")
        for key, said in {**SOUND, "seasons": "2", "slurry": "mixed"}.items():
            answer(soil=self.soil, by=self.user, key=key, said=said)

    def test_the_page_and_the_bench_say_the_same_litres_and_harms(self):
        told = judged_mix(self.soil)
        page = old_soil_page(self.soil)
        recipe = mix_old_soil(soil=self.soil, by=self.user)
        document = recipe.latest.as_document()
        names = {p.material for p in document.bulk} | {d.material for d in document.doses}
        shelf = {s: row.core for s, row in known_materials(self.soil.yard, names).items()}
        asked, own = as_plan(document, shelf)
        bench = evaluate(asked, {**shelf, **own}, samples=0)
        self.assertAlmostEqual(bench.volumes.mixed_l, told.litres, delta=0.01 * told.litres)
        self.assertEqual(page.makes, self.soil.yard.measures.volume(told.litres, 2))
        self.assertEqual(page.harms, told.harms)

    def test_what_is_called_sound_harms_nothing_and_else_it_is_not_called_so(self):
        for ph, ec in ((6.3, 1.4), (6.7, 1.6), (6.9, 2.0)):
            self.soil.answers = {**self.soil.answers, "ph": ph, "ec_ds_m": ec}
            self.soil.save()
            page = old_soil_page(self.soil)
            with self.subTest(ph, ec=ec):
                self.assertEqual(bool(page.harms), page.mark == "stop")
