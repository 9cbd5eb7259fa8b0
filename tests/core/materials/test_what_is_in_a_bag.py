"""Values over the library, labels, weighings, lab reports, prices, jobs, nitrogen of a material."""

import subprocess
import sys
from decimal import Decimal
from math import isclose

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.base.errors import PelkError
from pelk.core.lab.lab_reports import mapped
from pelk.core.lab.report_lines import read_report
from pelk.core.lab.simulated_lab import report_text
from pelk.core.lab.substitutes import job_of, substitutes
from pelk.core.materials.bags import package_of, taken_in_turn, unit_prices
from pelk.core.materials.cost import Package
from pelk.core.materials.facts import elements_of_label, spread_of, value_of, with_values
from pelk.core.materials.library import library
from pelk.core.materials.material import Provenance, Range
from pelk.core.materials.totals import MixIngredient
from pelk.core.materials.weighing import density_of, moisture_by_drying, volume_of, weighed
from pelk.core.release.nitrogen_curves import MONTH_DAYS, daily_temperatures, nitrogen_released
from pelk.core.release.organic_nitrogen import net_nitrogen, organic_n
from pelk.core.simulation.availability import Times, available

LIBRARY = library()
COMPOST, COTTONSEED = LIBRARY["yard-compost"], LIBRARY["cottonseed-meal"]
PEAT, BONE = LIBRARY["sphagnum-peat-light"], LIBRARY["bone-meal-steamed"]


def one(value):
    return Range(value, value, value)


class Values(SimpleTestCase):
    def test_a_value_takes_the_place_of_the_librarys_with_its_ground(self):
        changed = with_values(
            COTTONSEED, {"N": (Range(6, 6.1, 6.2), Provenance("lab", "2026-11-03"))}
        )
        self.assertEqual((value_of(changed, "N").typ, changed.mark_of("N")), (6.1, "lab"))
        self.assertEqual(changed.mark_of("K"), COTTONSEED.mark_of("K"))
        self.assertEqual(value_of(COTTONSEED, "N").typ, 6.5)

    def test_what_cannot_stand_together_is_refused_by_name(self):
        lab = Provenance("lab")
        for values, key in (
            ({"N": (one(60.0), lab), "C": (one(50.0), lab)}, "N"),
            ({"S": (one(1.0), lab), "S elemental": (one(2.0), lab)}, "S elemental"),
            ({"ph": (one(15.0), lab)}, "ph"),
            ({"mineral_n": (one(1.5), lab)}, "mineral_n"),
        ):
            with self.subTest(key), self.assertRaises(PelkError) as refused:
                with_values(COTTONSEED, values)
            self.assertEqual(refused.exception.path, key)

    def test_a_label_prints_oxides(self):
        # Molar masses: P2O5 is 43.64 % phosphorus, K2O 83.01 % potassium.
        got = elements_of_label(5, 3, 2)
        self.assertAlmostEqual(got["P"], 3 * 0.4364, places=3)
        self.assertAlmostEqual(got["K"], 2 * 0.8301, places=3)
        with self.assertRaisesMessage(PelkError, "come to 110 % together"):
            elements_of_label(50, 40, 20)

    def test_what_a_label_calls_available_is_not_counted_down_again(self):
        times = Times(
            np.array([0.0, 400.0]),
            np.array([0.0, 400.0]),
            np.array([7.0, 7.0]),
            np.ones(2),
            np.ones(2),
        )
        label = {"P": (one(5.0), Provenance("label"))}
        as_total = with_values(BONE, label)
        as_printed = with_values(BONE, label, usable=["P"])
        total = 0.05 * 2000
        self.assertLess(
            available("P", MixIngredient(as_total, 2.0, is_bulk=False), times)[-1], 0.6 * total
        )
        self.assertGreater(
            available("P", MixIngredient(as_printed, 2.0, is_bulk=False), times)[-1], 0.99 * total
        )

    def test_a_guess_is_wider_than_a_report(self):
        widths = [
            spread_of("N", 1.0, mark).high - spread_of("N", 1.0, mark).low
            for mark in ("lab", "label", "guess")
        ]
        self.assertEqual(widths, sorted(widths))
        self.assertEqual(spread_of("cce", 290.0, "guess").high, 300.0)


class Weighing(SimpleTestCase):
    def test_by_students_table(self):
        # Student's t, one tail 0.10: 1.886 for 2 degrees of freedom, 1.533 for 4.
        for values, t in (([28.0, 36.0, 32.0], 1.886), ([28.0, 36.0, 32.0, 30.0, 34.0], 1.533)):
            got, n = weighed(values), len(values)
            spread = np.std(values, ddof=1)
            self.assertAlmostEqual(got.one.typ, 32.0)
            self.assertAlmostEqual(got.one.high - 32, t * spread * (1 + 1 / n) ** 0.5, delta=0.01)
            self.assertAlmostEqual(got.doubt, t * spread / n**0.5, delta=0.01)

    def test_three_alike_are_not_taken_for_a_machine(self):
        got = weighed([30.0, 30.0, 30.0])
        self.assertAlmostEqual(got.one.high / 30 - 1, 0.05 * (4 / 3) ** 0.5, places=3)

    def test_the_odd_one_is_named(self):
        self.assertEqual(weighed([31.0, 34.0, 91.0]).odd, (2,))
        with self.assertRaises(PelkError):
            weighed([])

    @settings(max_examples=30)
    @given(st.floats(0.1, 2.0), st.lists(st.floats(20, 60), min_size=3, max_size=5))
    def test_a_handful_weighed_of_one_thing_holds_as_much_of_another(self, density, grams):
        got = volume_of(weighed(grams), Range(density * 0.9, density, density * 1.1))
        self.assertTrue(isclose(got.typ * density, sum(grams) / len(grams), rel_tol=1e-9))
        self.assertLess(got.low, got.typ)

    def test_a_cup_gives_the_litre_and_drying_the_water(self):
        self.assertAlmostEqual(density_of(weighed([150, 151, 152]), 250).typ, 0.604)
        self.assertAlmostEqual(moisture_by_drying(200, 90), 55.0)
        with self.assertRaisesMessage(PelkError, "no heavier"):
            moisture_by_drying(90, 200)


class LabReports(SimpleTestCase):
    def rows(self, text, material=COMPOST, method="total", **more):
        return {m.fact: m for m in mapped(read_report(text), material, method, **more) if m.fact}

    def test_dry_basis_oxides_and_joined_nitrogen(self):
        got = self.rows(
            "Dry matter 54 %\nTotal N;1.62;% DM\nP2O5,0.71,%,dry\nNH4-N 41 mg/kg FW\n"
            "NO3-N 310 mg/kg fresh\nEC 2100 uS/cm"
        )
        self.assertAlmostEqual(got["moisture_pct"].value, 46.0)
        self.assertAlmostEqual(got["N"].value, 1.62 * 0.54)
        self.assertAlmostEqual(got["P"].value, 0.71 * 0.4364 * 0.54, places=4)
        self.assertAlmostEqual(got["mineral_n"].value, 351e-4 / (1.62 * 0.54), places=4)
        # Cavins et al. 2000: a 1:5 reading is about 1/5.4 of the saturated extract's.
        self.assertAlmostEqual(got["ec"].value, 2.1 * 5.4)

    def test_soil_test_units(self):
        # Handbook factors: 1 meq/100 g is 200.4 ppm Ca, 121.5 Mg, 391 K, 230 Na;
        # lb/acre is 2 x ppm; nitrate holds 22.6 % nitrogen; organic matter 58 % carbon.
        soil, dry = (LIBRARY["topsoil-loam"], 1 - LIBRARY["topsoil-loam"].moisture_pct / 100)
        for text, key, ppm in (
            ("Ca 1 meq/100g", "Ca", 200.4),
            ("Mg 1 cmol/kg", "Mg", 121.5),
            ("K 1 meq/100g", "K", 391.0),
            ("Na 1 meq/100g", "Na", 230.0),
            ("K 300 lb/acre", "K", 150.0),
            ("OM 3 %", "C", 17_400.0),
        ):
            with self.subTest(text):
                got = self.rows(text, soil, "soil")[key]
                self.assertAlmostEqual(got.value * 1e4 / dry / ppm, 1, delta=2e-3)
                self.assertEqual(got.usable, key in ("K", "Ca", "Mg"))
        nitrate = self.rows("NO3 100 ppm\nTotal N 0.2 %", soil, "soil")["mineral_n"]
        self.assertAlmostEqual(nitrate.value * 0.2e4 / 22.6, 1, delta=2e-3)

    def test_an_extract_is_brought_back_to_the_mix(self):
        bag = LIBRARY["bagged-potting-mix"]
        got = self.rows("K,100,mg/L\nEC 2.1 mS/cm", bag, "sme", ec_method="sme")
        # By the core's own extract: the pool that gives 100 mg/L gives it again.
        from pelk.core.salts.salts import extract_mg_l

        pool = got["K"].value * 1e4 * bag.density.typ
        self.assertAlmostEqual(extract_mg_l({"K": pool, "Cl": 1e4})["K"], 100, delta=0.1)
        self.assertEqual(got["ec"].value, 2.1)

    def test_the_unlikely_the_impossible_and_the_unreadable(self):
        rows = mapped(
            read_report("MgO 5.14 % DM\npH 74\nhello there\nZeal 12 mg/kg\nEC 3 furlongs\nC:N 14"),
            COMPOST,
            "total",
        )
        self.assertEqual(
            [m.state for m in rows],
            ["unlikely", "impossible", "unknown", "unknown", "unknown", "aside"],
        )
        magnesium = rows[0]
        self.assertAlmostEqual(magnesium.mends[0], magnesium.value / 10)
        self.assertAlmostEqual(rows[1].mends[0], 7.4)
        self.assertEqual([m.row.line for m in rows], [1, 2, 3, 4, 5, 6])

    def test_names_spaces_and_signs_as_labs_print_them(self):
        for text, name, value, unit in (
            ("N   1.5   %  DM", "N", 1.5, "%"),
            ("pH (1:5)  6.2", "pH (1:5)", 6.2, ""),
            ("K: 3 meq/100g", "K", 3.0, "meq/100g"),
            ("B = <0,5 mg/kg", "B", 0.5, "mg/kg"),
            ("Zinc (total, dry) 12 ppm", "Zinc (total, dry)", 12.0, "ppm"),
            ("Na -0.1 %", "Na", -0.1, "%"),
            ("C:N 14", "C/N", 14.0, ""),
        ):
            row = read_report(text)[0]
            self.assertEqual((row.name, row.value, row.unit, row.problem), (name, value, unit, ""))

    def test_no_pasted_line_holds_a_worker(self):
        """In a process of its own: a pattern that backtracks would never come back."""
        code = (
            "from pelk.core.lab.lab_reports import mapped\n"
            "from pelk.core.lab.report_lines import read_report\n"
            "from pelk.core.materials.library import library\n"
            "odd = [c * 10_000 for c in (' ', '9', '.', 'x', ',', '(', ': ', '-', 'a 1 ', '(1) "
            "')]\n"
            "lines = ['N' + text + 'x' for text in odd] + ['N' + ' ' * 250 + 'x', 'N' + '(' * "
            "900]\n"
            "rows = read_report('\\n'.join(lines))\n"
            "mapped(rows, library()['yard-compost'], 'total')\n"
            "print(len(rows), sum(bool(row.problem) for row in rows))"
        )
        done = subprocess.run(
            [sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=60
        )
        self.assertEqual(done.stdout.split(), ["12", "12"])

    def test_the_simulated_lab_reads_back_as_the_material_it_was_sent(self):
        text = report_text(COMPOST, np.random.default_rng(5), "steps, no. 1", "2026-11-03")
        self.assertIn("invented", text.splitlines()[0])
        self.assertEqual(
            text, report_text(COMPOST, np.random.default_rng(5), "steps, no. 1", "2026-11-03")
        )
        draws = [
            self.rows(report_text(COMPOST, np.random.default_rng(i), "s", "d"))["N"].value
            for i in range(200)
        ]
        span = COMPOST.composition["N"]
        inside = np.mean([span.low * 0.95 < d < span.high * 1.05 for d in draws])
        self.assertTrue(0.7 < inside < 0.95, inside)


class Prices(SimpleTestCase):
    def test_a_bale_is_loosened_a_sack_weighed_and_nitrogen_counted(self):
        bale = package_of("bale", PEAT, Decimal("21.50"), litres=107.6)
        self.assertAlmostEqual(float(unit_prices(bale, PEAT).per_litre), 21.5 / (107.6 * 1.9))
        loose = package_of("bale-loose", PEAT, Decimal("21.50"), litres=200.0)
        self.assertAlmostEqual(float(unit_prices(loose, PEAT).per_litre), 21.5 / 200)
        sack = unit_prices(package_of("sack", COTTONSEED, Decimal(62), kg=20), COTTONSEED)
        self.assertAlmostEqual(float(sack.per_g_nitrogen), 62 / (20 * 65))
        self.assertIsNone(
            unit_prices(Package(price=Decimal(5), kg=1), LIBRARY["perlite"]).per_g_nitrogen
        )
        with self.assertRaises(PelkError):
            package_of("sack", PEAT, Decimal(1), litres=5)

    def test_a_brick_goes_by_what_it_loosens_to(self):
        brick = LIBRARY["coir-brick"]
        got = unit_prices(package_of("brick", brick, Decimal(3), kg=0.65), brick)
        self.assertAlmostEqual(float(got.per_litre), 3 / (0.65 * brick.loose_l_per_kg))

    @given(st.lists(st.floats(0, 50), max_size=6), st.floats(0, 200))
    def test_bags_are_used_up_in_turn_and_never_below_nothing(self, left, wanted):
        taken = taken_in_turn(left, wanted)
        self.assertAlmostEqual(sum(taken), min(wanted, sum(left)), places=6)
        for i, some in enumerate(taken):
            self.assertLessEqual(some, left[i])
            if some < left[i]:
                self.assertFalse(any(taken[i + 1 :]))


class Jobs(SimpleTestCase):
    def test_the_lime_of_another_part_is_named(self):
        broiler = LIBRARY["composted-chicken-manure"]
        got = {s.material.slug: s for s in substitutes(broiler, LIBRARY.values())}
        (lime,) = [c for c in got["composted-layer-manure"].changes if c.name == "lime value"]
        self.assertEqual((lime.was, lime.now), ("3 %", "8 %"))

    def test_a_substitute_does_as_much_of_the_job(self):
        for slug, key in (
            ("cottonseed-meal", "N"),
            ("sulfate-of-potash", "K"),
            ("lime-calcitic-ground", "lime"),
            ("sulfur-dusting", "acid"),
        ):
            material = LIBRARY[slug]
            job = job_of(material)
            self.assertEqual(job.key, key)
            got = substitutes(material, LIBRARY.values())
            self.assertTrue(got)
            for other in got:
                with self.subTest(other.material.slug):
                    self.assertAlmostEqual(
                        other.for_one * job_of(other.material).per_kg, job.per_kg
                    )

    def test_a_salt_is_not_sulfur_and_says_so(self):
        # Stoichiometry: a kilogram of sulfur is 8.7 kg of ferrous sulfate heptahydrate.
        iron = next(
            s
            for s in substitutes(LIBRARY["sulfur-dusting"], LIBRARY.values())
            if s.material.slug == "ferrous-sulfate"
        )
        self.assertAlmostEqual(iron.for_one / 8.7, 1, delta=0.05)
        said = {c.name: (c.was, c.now) for c in iron.changes}
        self.assertEqual(said["acid comes"], ("over months", "at once"))

    def test_litre_for_litre_among_parts_and_what_is_not_for_a_mix_left_out(self):
        got = {s.material.slug: s for s in substitutes(PEAT, LIBRARY.values())}
        self.assertEqual(got["coir-pith-loose"].for_one, 1.0)
        self.assertIn("pH", {c.name for c in got["coir-pith-loose"].changes})
        self.assertNotIn("perlite", got)
        manures = {s.material.slug for s in substitutes(COMPOST, LIBRARY.values())}
        self.assertFalse(manures & {"raw-cow-manure", "raw-chicken-manure"})


class OneMaterial(SimpleTestCase):
    def test_at_22_degrees_it_is_the_two_pools_themselves(self):
        held = organic_n(COTTONSEED, 1.0, is_bulk=False)
        days = np.arange(91.0)
        given = net_nitrogen(held.release, held.organic_mg_l, held.carbon_mg_l, days, days)
        expected = (held.mineral_mg_l + given) / held.total_mg_l
        np.testing.assert_allclose(nitrogen_released(COTTONSEED, [22.0] * 90), expected)

    def test_cold_is_slower_wood_takes_and_salt_gives_at_once(self):
        warm, cold = (nitrogen_released(COTTONSEED, [t] * 14)[-1] for t in (20.0, 8.0))
        self.assertGreater(warm, cold * 1.2)
        self.assertLess(nitrogen_released(LIBRARY["wood-chips"], [20.0] * 60)[-1], 0)
        self.assertEqual(nitrogen_released(LIBRARY["sodium-nitrate-mined"], [20.0])[0], 1.0)
        self.assertIsNone(nitrogen_released(LIBRARY["perlite"], [20.0]))

    def test_months_keep_their_mean_and_join_over_the_new_year(self):
        normals = [6, 6, 8, 10, 13, 16, 18, 18, 16, 12, 9, 7]
        year = daily_temperatures(normals, 0, 365)
        self.assertAlmostEqual(year.mean(), np.average(normals, weights=MONTH_DAYS), delta=0.1)
        self.assertLess(np.abs(np.diff(daily_temperatures(normals, 300, 120))).max(), 0.2)
