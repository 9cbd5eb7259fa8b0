"""The kit: numbers, units, charts' geometry."""

from itertools import pairwise

import numpy as np
import pint
from django.test import SimpleTestCase

from pelk.core.base.rounding import sig
from pelk.ui.charts import charge_bar, soil_bar
from pelk.ui.cutaway import Layer, Sprinkle, cutaway
from pelk.ui.numbers import fraction, read_number
from pelk.ui.runway import Ahead, runway
from pelk.ui.units import OFFERED, Measures, dose_unit, sizes


class Numbers(SimpleTestCase):
    def test_as_growers_write_them(self):
        cases = {
            "0.9": 0.9,
            " 2 ": 2,
            "0,9": 0.9,
            "1/2": 0.5,
            "1 1/2": 1.5,
            "2½": 2.5,
            "¾": 0.75,
            "1e3": 1000,
            "0.9.1": None,
            "two": None,
            "": None,
            "1/0": None,
            "nan": None,
            "inf": None,
            "½½": None,
            "1,000,000": None,
        }
        for text, value in cases.items():
            with self.subTest(text):
                got = read_number(text)
                self.assertEqual(got, value) if value is None else self.assertAlmostEqual(
                    got, value
                )

    def test_as_growers_read_them(self):
        for value, text in (
            (1133.4, "1130"),
            (0.1309, "0.131"),
            (-6.18, "−6.18"),
            (0, "0"),
            (12.0, "12"),
            (None, "–"),
        ):
            self.assertEqual(sig(value), text)
        for value, text in ((0.25, "¼"), (2.5, "2½"), (3, "3"), (0.375, "3/8")):
            self.assertEqual(fraction(value), text)


class Units(SimpleTestCase):
    def test_the_table_is_the_legal_definitions(self):
        # NIST Handbook 44, exact: litres and grams.
        exact = {
            "gal": 3.785411784,
            "cup": 0.2365882365,
            "tbsp": 0.01478676478125,
            "tsp": 0.00492892159375,
            "qt": 0.946352946,
            "dry-qt": 1.101220942715,
            "ft3": 28.316846592,
            "yd3": 764.554857984,
            "bu": 35.23907016688,
            "imp-gal": 4.54609,
            "lb": 453.59237,
            "oz": 28.349523125,
        }
        for name, size in exact.items():
            with self.subTest(name):
                self.assertAlmostEqual(sizes()[name] / size, 1, places=10)

    def test_rates_agree_with_pint(self):
        # Section 2 of the unit notes: lb/yd3 is 0.59328 g/L, oz/gal 7.4892, cup/ft3 8.3550 mL/L.
        registry = pint.UnitRegistry()
        for name, unit, factor in (("lb/yd3", "g/L", 0.59328), ("oz/gal", "g/L", 7.4892)):
            ours = dose_unit(name)
            self.assertAlmostEqual(ours.size / ours.per_l, factor, places=4)
            text = name.replace("yd3", "yard**3")
            self.assertAlmostEqual(registry(text).m_as(unit), factor, places=4)
        cup = dose_unit("cup/ft3")
        self.assertAlmostEqual(1000 * cup.size / cup.per_l, 8.3550, places=3)

    def test_every_unit_offered_is_known_and_nonsense_is_not(self):
        for name in OFFERED:
            self.assertIsNotNone(dose_unit(name), name)
        for name in ("", "g/", "/L", "g/g", "%/L", "smidgen", "g/L/L"):
            self.assertIsNone(dose_unit(name), name)

    def test_amounts_in_the_yards_own_units(self):
        metric, us = Measures("metric"), Measures("us")
        self.assertEqual(metric.volume(120), "120\u00a0L")
        self.assertEqual(us.volume(37.85411784), "10\u00a0gal")
        self.assertEqual(metric.mass(2500), "2.5\u00a0kg")
        self.assertEqual(us.mass(453.59237 * 3), "3\u00a0lb")
        self.assertEqual(us.mass(100), "3.53\u00a0oz")
        self.assertEqual(metric.kitchen(205), "¾\u00a0cup + 1\u00a0tbsp")
        self.assertEqual(metric.kitchen(None), "")
        self.assertEqual(metric.buckets(26, 10), "2½\u00a0buckets")


class Charts(SimpleTestCase):
    def test_strata_are_to_scale_on_the_ruler(self):
        layers = [Layer("Peat", "peat", 75.0), Layer("Perlite", "perlite", 25.0)]
        cut = cutaway(layers, [], 92.0, unit="L", height=500, rows_y=[50, 94])
        whole = cut.base_y - cut.top_y
        mixed = (cut.base_y - cut.mixed_tick.at) / whole
        self.assertAlmostEqual(mixed, 0.92, delta=0.001)
        fifty = next(t for t in cut.ticks if t.text == "50" or t.text == "60")
        self.assertAlmostEqual(
            (cut.base_y - fifty.at) / whole, float(fifty.text) / 100, delta=0.001
        )
        middle_of_peat = cut.top_y + whole * 0.375
        self.assertAlmostEqual(cut.strata[0].dot_y, middle_of_peat - 6.5, delta=0.2)

    def test_grains_follow_the_rate_and_not_the_volume(self):
        thin, thick = (
            cutaway(
                [Layer("P", "peat", 10)],
                [Sprinkle("a", "S", "sulfur", rate)],
                10,
                unit="L",
                height=500,
                rows_y=[50],
            )
            .sheets[0]
            .grains.count("M")
            for rate in (0.1, 2.0)
        )
        self.assertGreater(thick, 3 * thin)

    def test_a_charge_bar_shows_what_is_free_when_and_what_is_locked(self):
        bar = charge_bar("nitrogen", (20.0, 60.0, 100.0), 900.0, (70, 130), 180)
        self.assertEqual([s.kind for s in bar.segments], ["now", "soon", "end"])
        widths = [s.width for s in bar.segments]
        self.assertAlmostEqual(widths[1] / widths[0], 2, delta=0.05)
        self.assertTrue(bar.is_cut and bar.locked)
        self.assertLess(bar.bracket[0], bar.bracket[1])
        tied = charge_bar("nitrogen", (25.0, 11.0, -10.0), 30.0, (49, 91), 180)
        self.assertEqual([s.kind for s in tied.segments], ["tied"])
        self.assertIn("\u221210 by day 180", tied.label)

    def test_the_soil_bar_adds_up(self):
        self.assertAlmostEqual(sum(s.width for s in soil_bar(22, 60)), 100, delta=0.1)

    def test_the_runway_places_readings_fan_and_ready_day(self):
        day = np.arange(101.0)
        line = 6.2 - day / 200
        ahead = Ahead(
            low=line - 0.3,
            middle=line,
            high=line + 0.3,
            ready=(20, 30, 50),
            hot_until=12,
            sulfur_left=1 - day / 200,
            lime_left=1 - day / 100,
        )
        plot = runway(ahead, (5.5, 6.2), width=600, readings=[(0, 6.5), (10, 6.0)], today=10)
        self.assertAlmostEqual(plot.points[1].x, plot.today, delta=0.2)
        self.assertLess(plot.points[0].y, plot.points[1].y)
        self.assertLess(plot.ready.band_x, plot.ready.x)
        self.assertTrue(plot.ensemble and plot.hot_width)
        self.assertEqual([kind for kind, _ in plot.strip.areas], ["sulfur", "lime"])
        self.assertTrue(plot.strip.text.endswith("sulfur 50%, lime 0%"))
        self.assertIn("ready day 30", plot.label)
        empty = runway(None, (5.5, 6.2), width=358)
        self.assertEqual((empty.line, empty.ready, empty.strip), ("", None, None))

    def test_the_words_of_the_ph_axis_never_touch(self):
        line = np.full(181, 5.2)
        for height in (154, 194, 250, 300):
            for spread in (0.1, 0.8, 2.5):
                ahead = Ahead(low=line - spread, middle=line, high=line + spread, lime_left=line)
                plot = runway(ahead, (5.5, 6.2), width=396, height=height)
                at = [tick.at for tick in plot.ph_ticks]
                self.assertTrue(at, (height, spread))
                gaps = [above - below for above, below in pairwise(at)]
                self.assertTrue(all(gap >= 15 for gap in gaps), (height, spread, gaps))
                self.assertGreaterEqual(plot.plot_height, 50)
