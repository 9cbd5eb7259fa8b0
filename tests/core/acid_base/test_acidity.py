"""Blend pH, settled pH: derived checks, published tables, and what must hold."""

import tomllib
from pathlib import Path

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.acid_base.buffering import (
    CALCITE_PH,
    PH_GRID,
    Carbonate,
    Component,
    blend_curve,
    component,
    free_carbonate,
    water_alkalinity,
)
from pelk.core.acid_base.equilibrium import settle
from pelk.core.advice.grades import Kind
from pelk.core.advice.judgement import judge
from pelk.core.base.elements import SULFUR_MEQ_PER_G, base_meq_per_g
from pelk.core.materials.library import library
from tests.core.mixes import worked

TABLES = tomllib.loads(
    (Path(__file__).parents[1] / "published" / "scenarios.toml").read_text("utf-8")
)
POUNDS_PER_100FT2_IN_G_M2 = 48.824
LITRES_PER_M2 = 152.4


def blend(parts):
    """Return the curve of shares in percent of library materials, no shrinkage."""
    return blend_curve([component(library()[s], n / 100) for s, n in parts.items()])


class BlendPh(SimpleTestCase):
    def test_ph_follows_the_buffers_and_not_the_mean(self):
        # Check A01, derived: (Bp x 4 + Bl x 7) / (Bp + Bl). A mean of H+ would give 4.30.
        for peat, loam, expected in ((40, 20, 5.0), (20, 40, 6.0), (30, 30, 5.5)):
            with self.subTest(peat=peat, loam=loam):
                curve = blend_curve(
                    [Component(0.5, 4.0, peat), Component(0.5, 7.0, loam, "mineral")]
                )
                self.assertAlmostEqual(curve.start_ph, expected, delta=0.05)

    def test_perlite_hardly_moves_peat(self):
        # Check A04, derived: (0.7 x 32 x 3.9 + 0.3 x 0.2 x 7.2) / 22.46 = 3.91.
        curve = blend_curve([Component(0.7, 3.9, 32), Component(0.3, 7.2, 0.2, "inert")])
        self.assertTrue(3.9 <= curve.start_ph <= 3.97, curve.start_ph)

    def test_calcareous_sand_pins_the_ph(self):
        # Check A05, derived: 1549 meq/L of carbonate against about 61 of peat's demand.
        carbonate = free_carbonate(1.55, 10)
        sand = Component(0.5, 8.2, 1.0, "mineral", carbonate)
        curve = blend_curve([Component(0.5, 3.9, 32), sand])
        rest = settle(curve, 0, curve.carbonates)
        self.assertAlmostEqual(rest.ph, CALCITE_PH, delta=0.05)
        self.assertAlmostEqual(rest.carbonate_left_meq_l, 1488, delta=5)

    def test_aged_carbonate_is_at_rest_and_feeds_an_acid_neighbour(self):
        # Checks A07 and A08: castings (pH 7.0, 0.34 kg/L dry, 1 %), alone and with peat.
        castings = Component(1.0, 7.0, 45, "organic", free_carbonate(0.34, 1), aged=True)
        alone = blend_curve([castings])
        self.assertAlmostEqual(settle(alone, 0, alone.carbonates).ph, 7.0, delta=0.05)
        half = Component(0.5, 7.0, 45, "organic", free_carbonate(0.34, 1), aged=True)
        mixed = blend_curve([half, Component(0.5, 3.9, 32)])
        self.assertAlmostEqual(mixed.start_ph, 5.71, delta=0.05)
        self.assertAlmostEqual(settle(mixed, 0, mixed.carbonates).ph, 6.59, delta=0.05)

    def test_half_the_bicarbonate_is_gone_at_its_pk(self):
        # Carbonate equilibria, open system: alkalinity rises tenfold with each pH.
        low, high = water_alkalinity(6.5), water_alkalinity(7.5)
        self.assertAlmostEqual(float(high / low), 10, delta=0.2)

    def test_whole_mixes_start_and_rest_where_the_notes_say(self):
        for mix in TABLES["mix"]:
            with self.subTest(scenario=mix["id"]):
                curve = blend(mix["parts"])
                self.assertAlmostEqual(curve.start_ph, mix["start"], delta=0.03)
                rest = settle(curve, 0, curve.carbonates).ph
                self.assertAlmostEqual(rest, mix["rest"], delta=0.05)
                buffer = (curve.buffer_meq_l[450] - curve.buffer_meq_l[350]) / 1.0
                self.assertAlmostEqual(float(buffer), mix["buffer"], delta=0.2)


class SettledPh(SimpleTestCase):
    def test_fully_reacted_lime_doses(self):
        for row in TABLES["lime"]:
            with self.subTest(row["id"]):
                curve = blend(row["parts"])
                dose = curve.base_at(row["to"]) / base_meq_per_g(1.02)
                self.assertAlmostEqual(dose, row["dose"], delta=0.1)
                end = settle(curve, 0, [Carbonate(dose * base_meq_per_g(1.02))])
                self.assertAlmostEqual(end.ph, row["to"], delta=0.01)

    def test_blueberry_sulfur_table(self):
        for row in TABLES["sulfur"]:
            for start, pounds in zip(TABLES["sulfur_starts"], row["pounds"], strict=True):
                with self.subTest(row["soil"], start=start):
                    curve = blend_curve([Component(1, start, row["buffer"], "mineral")])
                    acid = -curve.base_at(4.5)
                    g_m2 = acid * LITRES_PER_M2 / SULFUR_MEQ_PER_G / 0.85
                    got = g_m2 / POUNDS_PER_100FT2_IN_G_M2
                    self.assertAlmostEqual(got / pounds, 1, delta=0.12)

    def test_published_tables_as_far_as_they_are_met(self):
        """Checks B13, B14, B15, C05, C06: how many cells fall inside their tolerance.

        Tables recalled from memory and not met in full; docs/science.md says where they
        part. Buffers, starts and efficiencies as the notes give them.
        """
        for table in TABLES["partly"]:
            met = 0
            for cell in table["cell"]:
                start, to, buffer, expected = cell
                curve = blend_curve([Component(1.0, start, float(buffer), table["shape"])])
                meq = abs(curve.base_at(to))
                got = meq * table["per_meq"]
                met += abs(got / expected - 1) <= table["within_share"]
            with self.subTest(table["id"]):
                self.assertGreaterEqual(met, table["met"], f"{met} of {len(table['cell'])}")

    def test_an_acidifier_is_not_another_by_weight(self):
        # Check C02: 1 kg S is 8.67 kg of pure ferrous sulfate, 6.18 kg of alum (14 H2O).
        for slug, kilos in (("ferrous-sulfate", 8.67), ("aluminium-sulfate", 6.18)):
            with self.subTest(slug):
                sulfur = worked({"sphagnum-peat-light": 1}, [("sulfur-dusting", 0.2)])
                other = worked({"sphagnum-peat-light": 1}, [(slug, 0.2 * kilos)])
                # The library's products are 95 to 98 % pure.
                self.assertAlmostEqual(sulfur.acidity.end.ph, other.acidity.end.ph, delta=0.03)

    def test_what_does_not_acidify_in_the_end(self):
        mix = {"sphagnum-peat-light": 2, "coir-pith-loose": 1}
        without = worked(mix).acidity.end.ph
        for slug in ("citric-acid", "vinegar-5pct", "gypsum", "epsom-salt"):
            with self.subTest(slug):
                self.assertEqual(worked(mix, [(slug, 2)]).acidity.end.ph, without)

    def test_sulfur_cannot_win_against_free_lime(self):
        # Scenario 11: ends where carbonate rests for any sulfur up to 3 g/L; 28 kg S/m3 needed.
        mix = {"garden-soil-calcareous": 1, "sphagnum-peat-light": 1}
        got = worked(mix, [("sulfur-dusting", 3)], crop="ericaceous")
        self.assertAlmostEqual(got.acidity.end.ph, CALCITE_PH, delta=0.05)
        (text,) = [f.text for f in judge(got).findings if f.kind is Kind.PH_HIGH]
        self.assertRegex(text, r"take (29|30|31) kg of sulfur per m³")

    def test_the_range_holds_the_number(self):
        figure = worked({"yard-compost": 1, "coir-pith-loose": 3}).acidity.settled
        self.assertLess(figure.low, figure.value)
        self.assertGreater(figure.high, figure.value)

    @settings(max_examples=60, deadline=None)
    @given(
        shares=st.lists(st.floats(0.05, 1), min_size=3, max_size=3),
        lime=st.floats(0, 8),
        sulfur=st.floats(0, 2),
    )
    def test_lime_never_lowers_and_sulfur_never_raises(self, shares, lime, sulfur):
        slugs = ("sphagnum-peat-light", "worm-castings", "topsoil-loam")
        curve = blend({s: 100 * x / sum(shares) for s, x in zip(slugs, shares, strict=True)})
        solid = list(curve.carbonates)
        rest = settle(curve, 0, solid).ph
        limed = settle(curve, 0, [*solid, Carbonate(lime * 20)]).ph
        soured = settle(curve, -sulfur * SULFUR_MEQ_PER_G, solid).ph
        self.assertGreaterEqual(limed, rest - 1e-6)
        self.assertLessEqual(soured, rest + 1e-6)
        self.assertLessEqual(limed, max(8.05, rest))
        self.assertTrue((curve.base_meq_l[1:] > curve.base_meq_l[:-1]).all())
        self.assertEqual(len(PH_GRID), 801)
