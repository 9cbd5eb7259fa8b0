"""The one judge: each finding is found, and keeps still; the examples that must come out right."""

from dataclasses import replace

from django.test import SimpleTestCase

from pelk.core.advice.grades import Grade, Kind
from pelk.core.advice.judged_supply import needs_of, reaches_of, state_of
from pelk.core.advice.judgement import judge
from pelk.core.advice.ph_answer import Outcome
from pelk.core.advice.ph_on_a_day import dose_for_day
from pelk.core.advice.redose import redose
from pelk.core.base.limits import grade_table
from pelk.core.base.quantities import written_beside
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from pelk.core.simulation.forecast import Observed
from tests.core.mixes import KILOS, plan, worked

PEAT = {"sphagnum-peat-light": 7, "perlite": 3}
ACID_MIX = {"sphagnum-peat-light": 4, "pine-bark-fines-composted": 3, "perlite": 1}
SEED_MIX = {"sphagnum-peat-light": 1, "perlite": 1}
COIR = {"coir-pith-loose": 3, "perlite": 1}
BAG = {"bagged-potting-mix": 4, "worm-castings": 1}
LOAM = {"topsoil-loam": 6, "sphagnum-peat-light": 4}
MOULD = {"leaf-mould": 3, "sphagnum-peat-light": 1}
BARK = {"pine-bark-fines-aged": 8, "perlite": 2}
# Kind, crop, its grade, a mix in which it is found, one in which it is not.
FOUND = [
    (Kind.PH_LOW, "ericaceous", Grade.HARMS, (COIR, [("sulfur-dusting", 1.4)]), (ACID_MIX, [])),
    (Kind.PH_LOW, "seedling", Grade.HARMS, (SEED_MIX, []), (BAG, [])),
    (
        Kind.PH_HIGH,
        "fruiting",
        Grade.DRIFTS,
        ({"sphagnum-peat-light": 1}, [("lime-calcitic-ground", 7)]),
        ({"sphagnum-peat-light": 1}, [("lime-calcitic-ground", 4)]),
    ),
    (Kind.SALTS, "fruiting", Grade.HARMS, (PEAT, [("sulfate-of-potash", 10)]), (PEAT, [])),
    (Kind.METAL, "fruiting", Grade.DRIFTS, (BARK, []), (BARK, [("lime-dolomitic-ground", 4)])),
    (Kind.METAL, "fruiting", Grade.DRIFTS, (LOAM, [("sulfur-dusting", 1.5)]), (BAG, [])),
    (
        Kind.WOODY_ROBBERY,
        "fruiting",
        Grade.DRIFTS,
        ({"wood-chips": 6, "sphagnum-peat-light": 4}, []),
        (BAG, []),
    ),
    (
        Kind.LIME_AND_SULFUR,
        "ericaceous",
        Grade.DRIFTS,
        (ACID_MIX, [("lime-calcitic-ground", 1), ("sulfur-dusting", 0.1)]),
        (ACID_MIX, [("sulfur-dusting", 0.1)]),
    ),
    (Kind.USELESS, "ericaceous", Grade.BETTER, (ACID_MIX, [("citric-acid", 1)]), (ACID_MIX, [])),
    (Kind.USELESS, "ericaceous", Grade.BETTER, (MOULD, [("lime-calcitic-ground", 1)]), (MOULD, [])),
    (
        Kind.USELESS,
        "ericaceous",
        Grade.BETTER,
        (ACID_MIX, [("coffee-grounds-used", 20)]),
        (ACID_MIX, []),
    ),
    (
        Kind.SHARE_NOT_MEANT,
        "ericaceous",
        Grade.BETTER,
        (ACID_MIX, [("worm-castings", 3, KILOS)]),
        (ACID_MIX, [("worm-castings", 12, KILOS)]),
    ),
    (Kind.LOCKED, "fruiting", Grade.BETTER, (BAG, []), (PEAT, [])),
    (
        Kind.AIR_LOW,
        "ericaceous",
        Grade.HARMS,
        ({"sphagnum-peat-dark": 3, "topsoil-loam": 5}, []),
        (ACID_MIX, []),
    ),
]


def of_kind(evaluation, kind):
    return [f for f in judge(evaluation).findings if f.kind is kind]


class EachFinding(SimpleTestCase):
    def test_is_found_and_keeps_still(self):
        for kind, crop, grade, there, still in FOUND:
            with self.subTest(kind=kind, there=there):
                (got, *_) = of_kind(worked(*there, crop=crop), kind) or [None]
                self.assertIsNotNone(got)
                self.assertEqual(got.grade, grade, got.text)
                left = of_kind(worked(*still, crop=crop), kind)
                self.assertNotIn(grade, {f.grade for f in left})

    def test_every_kind_has_its_row_and_every_row_its_source(self):
        for name, row in grade_table().items():
            with self.subTest(name):
                self.assertIn("source", row)
                self.assertGreater(len(row), 1)

    def test_the_worst_stands_first(self):
        """Air of 7 % under plants that want 22 % is a harm, not one of many notes."""
        drowned = worked({"sphagnum-peat-dark": 3, "topsoil-loam": 5}, crop="ericaceous")
        first = judge(drowned).findings[0]
        self.assertEqual(first.grade, Grade.HARMS)
        grades = [f.grade for f in judge(drowned).findings]
        self.assertEqual(grades, sorted(grades, reverse=True))


class TheWholeWindow(SimpleTestCase):
    def test_leafy_greens_at_near_seven_are_not_met(self):
        """Coir and castings for 120 days: it was called met."""
        judged = judge(worked({"coir-pith-loose": 3, "worm-castings": 1}, crop="leafy"))
        self.assertFalse(judged.is_met)
        self.assertIn(Kind.PH_HIGH, {f.kind for f in judged.findings})

    def test_seedlings_at_five_for_their_35_days_are_not_met(self):
        """Peat and vermiculite with too little lime: it was called met."""
        mix = {"sphagnum-peat-light": 1, "vermiculite": 1}
        judged = judge(worked(mix, [("lime-dolomitic-ground", 0.8)], crop="seedling"))
        self.assertFalse(judged.is_met)
        self.assertIn(Kind.PH_LOW, {f.kind for f in judged.findings})

    def test_citrus_with_two_thirds_of_its_nitrogen_is_not_met(self):
        mix = plan(
            {"sphagnum-peat-light": 3, "perlite": 1},
            [("lime-dolomitic-ground", 3), ("feather-meal", 1.2)],
            crop="citrus",
        )
        got = evaluate(mix, library(), samples=0)
        self.assertLess(reaches_of(got.supply.elements["N"]), 0.8 * 180)
        self.assertIn("N", {f.of for f in of_kind(got, Kind.SHORT) if f.grade is Grade.DRIFTS})
        self.assertFalse(judge(got).is_met)

    def test_a_heap_at_work_reads_seven_and_is_told_to_wait(self):
        """1.65 g/L of sulfur in it, the pen says 7 on day 0: nothing more is given."""
        soil = {"garden-soil-neutral": 9, "sphagnum-peat-light": 1}
        mix = plan(soil, [("sulfur-dusting", 1.65)], crop="ericaceous")
        seen = evaluate(mix, library(), samples=0, observed=Observed(start_ph=7.0))
        limes, sulfurs = [library()["lime-dolomitic-ground"]], [library()["sulfur-dusting"]]
        for read in ([0.0], [0.0, 3.0]):
            told = redose(seen.forecast, (4.5, 5.4), 0, limes, sulfurs, read)
            self.assertIn(told.answer.outcome, (Outcome.WAIT, Outcome.THERE))
            self.assertEqual(told.answer.g_per_l, 0)
        day = dose_for_day(mix, library(), seen, 5.0, 30, limes, sulfurs)
        self.assertEqual(day.answer.outcome, Outcome.WAIT)

    def test_planted_too_soon_is_said_and_planted_when_ready_is_not(self):
        hot = plan(PEAT, [("blood-meal", 4), ("lime-dolomitic-ground", 4)])
        early = evaluate(replace(hot, planted_day=7), library(), samples=0)
        later = evaluate(hot, library(), samples=0)
        self.assertEqual(of_kind(early, Kind.AMMONIUM)[0].grade, Grade.HARMS)
        self.assertEqual(of_kind(later, Kind.AMMONIUM), [])
        self.assertGreater(judge(later).ready_day, 14)

    def test_a_sound_bag_is_planted_now(self):
        # Alone: a fifth of castings takes it to 6.85, over the band of most.
        for crop in ("fruiting", "leafy", "annuals", "citrus"):
            judged = judge(worked({"bagged-potting-mix": 1}, crop=crop))
            with self.subTest(crop):
                self.assertTrue(judged.is_plant_now, judged.findings)
                self.assertNotIn(Kind.NOT_READY, {f.kind for f in judged.findings})

    def test_a_little_over_and_twice_the_salts_do_not_read_alike(self):
        over = of_kind(
            worked({"sphagnum-peat-light": 1}, [("lime-calcitic-ground", 6)]), Kind.PH_HIGH
        )
        salty = of_kind(worked(PEAT, [("sulfate-of-potash", 10)]), Kind.SALTS)
        self.assertLess(max(f.grade for f in over), salty[0].grade)

    def test_how_sure_comes_from_the_draws(self):
        mix = plan({"sphagnum-peat-light": 3, "perlite": 1}, [("lime-dolomitic-ground", 4)])
        central = of_kind(evaluate(mix, library(), samples=0), Kind.PH_LOW)
        drawn = of_kind(evaluate(mix, library()), Kind.PH_LOW)
        self.assertEqual(central, [])
        self.assertEqual(drawn[0].grade, Grade.BETTER)
        self.assertTrue(0.2 <= drawn[0].probability < 0.5)


class WhatReachesThePlant(SimpleTestCase):
    def test_reaches_needs_and_short_can_be_subtracted(self):
        got = worked({"coir-pith-loose": 4, "worm-castings": 1}, [("feather-meal", 1)])
        for finding in of_kind(got, Kind.SHORT):
            row = got.supply.elements[finding.of]
            needs, reaches = round(needs_of(row)), round(reaches_of(row))
            self.assertIn(f"{reaches} of the {needs} needed reach", finding.text)
            self.assertIn(f"{needs - reaches} mg/L short", finding.text)
            self.assertEqual(state_of(row), "short")

    def test_what_is_over_a_limit_is_never_written_as_the_limit(self):
        self.assertEqual(written_beside(2.31, 2.3), "2.31")
        self.assertEqual(written_beside(1.5004, 1.5), "1.5")
        self.assertEqual(written_beside(3.4, 2.5), "3.4")

    def test_a_meal_is_never_scaled_up_to_a_bulk_share(self):
        pellets = worked(COIR, [("poultry-manure-pellets", 4)])
        self.assertEqual(of_kind(pellets, Kind.SHARE_NOT_MEANT), [])
        # Check VOL-7: 3 kg in 80 L at the library's 0.62 kg/L is 6.0 %.
        castings = worked(SEED_MIX, [("worm-castings", 3, KILOS)], litres=80)
        (nudge,) = of_kind(castings, Kind.SHARE_NOT_MEANT)
        self.assertIn("6.0% of the mix", nudge.text)
