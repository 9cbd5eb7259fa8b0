"""Do it again, better: each change by its arithmetic, one step, with its reason."""

from django.test import SimpleTestCase

from pelk.core.advice.feeding_needs import Lack
from pelk.core.advice.next_year import MOST_LESS, MOST_MORE, Season, better
from pelk.core.materials.library import library

SHELF = library()
FEATHER, LIME = SHELF["feather-meal"], SHELF["lime-dolomitic-ground"]
BAND = (5.8, 6.5)


def season(*lacking, ph=6.1, band=BAND, buffer=20.0):
    return Season(lacking, ph, band, buffer)


class Better(SimpleTestCase):
    def test_what_lacked_is_added_to_what_gives_it(self):
        got = better(season(Lack("N", 60.0, 300.0, 80)), [(FEATHER, 3.0)], SHELF)
        gives = 3.0 * 10 * FEATHER.composition["N"].typ * FEATHER.season_n
        self.assertEqual([c.slug for c in got], ["feather-meal"])
        self.assertAlmostEqual(got[0].times, min(1 + 60 / gives, MOST_MORE))
        self.assertIn("nitrogen ran short by 60 of 300", got[0].reason)
        # Never more than half as much again, and less than a tenth is no lesson.
        much = better(season(Lack("N", 290.0, 300.0, 10)), [(FEATHER, 1.0)], SHELF)
        self.assertEqual(much[0].times, MOST_MORE)
        self.assertEqual(better(season(Lack("N", 20.0, 300.0, 90)), [(FEATHER, 3.0)], SHELF), [])

    def test_what_nothing_gives_is_new(self):
        got = better(season(Lack("Mg", 20.0, 60.0, 50)), [(FEATHER, 3.0)], SHELF)
        self.assertEqual((got[0].slug, got[0].times), ("epsom-salt", 0.0))
        wanted = 20 / (10 * SHELF["epsom-salt"].composition["Mg"].typ)
        self.assertAlmostEqual(got[0].g_per_l, wanted)

    def test_lime_goes_by_the_ph_that_was_missed(self):
        high = better(season(ph=6.9, buffer=20.0), [(LIME, 3.0)], SHELF)
        base = 3.0 * LIME.cce.typ / 100 * 19.98
        self.assertAlmostEqual(high[0].times, 1 - 0.4 * 20 / base, delta=1e-3)
        self.assertIn("over 6.5", high[0].reason)
        self.assertEqual(better(season(ph=8.0), [(LIME, 1.0)], SHELF)[0].times, MOST_LESS)
        low = better(season(ph=5.2), [(LIME, 3.0)], SHELF)
        self.assertGreater(low[0].times, 1)
        bare = better(season(ph=5.2), [], SHELF)
        self.assertEqual(bare[0].slug, "lime-dolomitic-ground")
        self.assertAlmostEqual(bare[0].g_per_l * LIME.cce.typ / 100 * 19.98, 12.0, delta=0.01)

    def test_a_good_season_asks_for_nothing(self):
        self.assertEqual(better(season(), [(FEATHER, 3.0), (LIME, 2.0)], SHELF), [])
        self.assertEqual(better(season(ph=8.0, band=None), [(LIME, 2.0)], SHELF), [])
