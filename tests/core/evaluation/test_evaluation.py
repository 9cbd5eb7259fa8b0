"""The one door: every mix finite, every figure with its reasons, rubbish refused by name."""

import copy
import json
import warnings
from dataclasses import replace
from math import isfinite

import numpy as np
from django.test import SimpleTestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from pelk.bench.formats.documents import DocumentError, read
from pelk.bench.formats.planning import as_plan
from pelk.core.advice.report import report
from pelk.core.base.errors import PelkError
from pelk.core.base.figures import Figure
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.evaluation.sensitivity import what_changes
from pelk.core.evaluation.trace_elements import covers_traces, left_at_ph, trace_state
from pelk.core.materials.library import library
from pelk.core.simulation.availability import cation_shares
from pelk.core.simulation.forecast import DRIVERS
from tests.core.mixes import plan, worked
from tests.factories import mix

PARTS = [s for s, m in sorted(library().items()) if m.role != "dose"]
DOSES = [s for s, m in sorted(library().items()) if m.role != "bulk"]
TEA = {"sphagnum-peat-light": 4, "pine-bark-fines-composted": 3, "leaf-mould": 2, "perlite": 1}
TEA_DOSES = [("sulfur-dusting", 0.1), ("cottonseed-meal", 2), ("kelp-meal", 0.3)]
RUBBISH = [
    float("nan"),
    float("inf"),
    -float("inf"),
    1e308,
    -1e308,
    -1,
    0,
    1e-300,
    "",
    "x",
    None,
    [],
    {},
    True,
    [float("nan")],
    {"a": 1},
]


def numbers_in(value):
    """Yield every number of a nested report."""
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return
    if isinstance(value, int | float):
        yield value
        return
    for inner in value.values() if isinstance(value, dict) else value:
        yield from numbers_in(inner)


def leaves_of(value, path=()):
    """Yield the path to every leaf of a document."""
    rows = (
        value.items()
        if isinstance(value, dict)
        else enumerate(value)
        if isinstance(value, list)
        else ()
    )
    got = False
    for key, inner in rows:
        got = True
        yield from leaves_of(inner, (*path, key))
    if not got:
        yield path


class EveryMix(SimpleTestCase):
    @settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(
        st.dictionaries(st.sampled_from(PARTS), st.floats(0.1, 9), min_size=1, max_size=5),
        st.dictionaries(st.sampled_from(DOSES), st.floats(0.01, 30), max_size=6),
        st.sampled_from(["seedling", "fruiting", "ericaceous", "lean"]),
        st.floats(1, 2000),
    )
    def test_comes_to_finite_numbers_or_says_why(self, parts, doses, crop, litres):
        try:
            with warnings.catch_warnings(), np.errstate(all="raise", under="ignore"):
                warnings.simplefilter("error")
                got = worked(parts, list(doses.items()), crop=crop, litres=litres)
        except PelkError as error:
            self.assertTrue(error.path, error.message)
            return
        told = report(got)
        self.assertTrue(all(isfinite(n) for n in numbers_in(told)))
        json.dumps(told, allow_nan=False)
        if got.forecast is None:
            self.assertTrue(got.acidity_problem)
            return
        low, middle, high = got.forecast.ph
        self.assertTrue((low <= middle).all() and (middle <= high).all())
        for row in got.supply.elements.values():
            self.assertLessEqual(
                row.free.value, row.total.total.high * (1 + 1e-9) + 1e-9, row.element
            )

    def test_every_material_of_the_library_alone_and_as_a_dose(self):
        for slug, material in library().items():
            with self.subTest(slug):
                try:
                    if material.role == "dose":
                        got = worked({"sphagnum-peat-light": 1}, [(slug, 0.5)])
                    else:
                        got = worked({slug: 1})
                except PelkError as error:
                    self.assertTrue(error.path)
                else:
                    json.dumps(report(got), allow_nan=False)


class Reasons(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.got = worked(TEA, TEA_DOSES, crop="ericaceous")

    def test_every_figure_can_be_asked_why(self):
        self.assertGreater(len(self.got.figures), 20)
        for figure in self.got.figures:
            with self.subTest(figure.quantity.key):
                self.assertIsInstance(figure, Figure)
                self.assertTrue(figure.method)
                self.assertTrue(figure.citations)
                if figure.value is None:
                    self.assertTrue(figure.problem or figure.note)
                elif figure.low is not None:
                    self.assertLessEqual(figure.low, figure.value + 1e-9)
                    self.assertGreaterEqual(figure.high, figure.value - 1e-9)

    def test_the_sheet_of_drivers_comes_with_every_forecast(self):
        drivers = {d.name: d for d in self.got.forecast.drivers}
        self.assertLessEqual(set(drivers), set(DRIVERS))
        self.assertLess(drivers["sulfur"].at(180), -5)
        moved = sum(d.at(120) for d in drivers.values())
        curve = self.got.acidity.curve
        # What moved is what the curve holds: the sheet is the forecast, not a second opinion.
        ph = float(self.got.forecast.line.daily("ph")[120])
        self.assertAlmostEqual(curve.base_at(ph), moved, delta=0.5)

    def test_the_report_has_every_key_of_the_format(self):
        told = report(self.got)
        self.assertLessEqual(
            {
                "format",
                "volume",
                "bulk",
                "doses",
                "nutrients",
                "ph",
                "ec_ds_m",
                "air",
                "cure",
                "cost",
                "cautions",
            },
            set(told),
        )
        for element in ("N", "P", "K", "Ca", "Mg", "S"):
            self.assertLessEqual(
                {"total_mg_l", "available_mg_l", "target_mg_l", "extract_mg_l"},
                set(told["nutrients"][element]),
            )

    def test_traces_and_the_balance_of_cations(self):
        self.assertEqual(set(self.got.traces), {"Fe", "Mn", "Zn", "Cu", "B"})
        self.assertTrue(all(f.value >= 0 for f in self.got.traces.values()))
        self.assertAlmostEqual(sum(self.got.cations.values()), 1)
        # By hand: 400 mg Ca, 60 Mg and 195.5 K are 19.96, 4.94 and 5 meq.
        got = cation_shares({"Ca": 400, "Mg": 60, "K": 195.5})
        self.assertAlmostEqual(got["K"], 5 / 29.9, delta=0.001)
        self.assertEqual(cation_shares({"Ca": 0.0, "K": -1.0}), {})

    def test_what_would_change_a_number(self):
        built = (
            plan(
                {"sphagnum-peat-light": 3, "perlite": 1},
                [("lime-calcitic-ground", 3.0), ("kelp-meal", 0.3)],
            ),
            library(),
        )
        got = {c.what: c.by for c in what_changes(*built, "ph_settled")}
        self.assertGreater(got["25% more ground limestone, calcitic"], 0.1)
        self.assertLess(got["25% more sphagnum peat, light"], 0)
        self.assertNotIn("25% more kelp meal", got)
        self.assertEqual(what_changes(*built, "no such number"), [])

    def test_what_is_short_of_traces(self):
        # Common practice: compost covers copper.
        self.assertEqual(trace_state("Fe", 40), "plenty")
        self.assertEqual(trace_state("Fe", 4), "short")
        self.assertEqual(trace_state("Cu", 0.1), "short")
        self.assertEqual(trace_state("Cu", 0.1, covered=True), "within")
        compost, peat = (library()[s] for s in ("yard-compost", "sphagnum-peat-light"))
        self.assertTrue(covers_traces([(compost, 0.1), (peat, 0.9)], []))
        self.assertFalse(covers_traces([(compost, 0.09), (peat, 0.91)], []))
        self.assertTrue(covers_traces([(peat, 1.0)], [(library()["kelp-meal"], 1.0)]))

    def test_iron_and_manganese_fade_with_ph(self):
        # By hand from the half points 6.8 and 6.6, judgement shaped to common practice.
        at = (5.5, 6.0, 6.5, 6.8, 7.0, 7.5, 8.0)
        expected = {
            "Fe": (1, 0.906, 0.700, 0.525, 0.406, 0.175, 0.062),
            "Mn": (1, 0.863, 0.602, 0.418, 0.307, 0.121, 0.041),
        }
        for element, shares in expected.items():
            for ph, share in zip(at, shares, strict=True):
                with self.subTest(element, ph=ph):
                    self.assertAlmostEqual(left_at_ph(element, ph), share, delta=0.002)
        self.assertEqual(
            left_at_ph("Fe", 6.3, is_iron_shy=True) / left_at_ph("Fe", 6.8),
            (1 + 10**-0.8) / (1 + 10**-1.3),
        )
        self.assertEqual(left_at_ph("Zn", 8.0), 1)

    def test_salts_now_and_later_and_the_cure(self):
        told = report(self.got)
        self.assertGreater(told["ec_ds_m"]["0"], 0)
        ready = self.got.forecast.ready
        self.assertLessEqual(ready.p10, ready.p50)
        self.assertEqual(
            {c.key for c in self.got.forecast.ready.criteria},
            {"warmth", "ammonium", "salts", "pulse", "band", "unspent", "ions"},
        )


class Rubbish(SimpleTestCase):
    WHOLE = mix(
        doses=[
            {"material": "kelp-meal", "amount": 1, "unit": "g/L"},
            {
                "material": "sulfur-dusting",
                "amount": 1,
                "unit": "tbsp/gal",
                "per": "coir-pith-loose",
            },
        ],
        conditions={
            "temperature_c": 18,
            "moisture": "moist",
            "inoculum": "some",
            "water_alkalinity_mg_l": 120,
            "water_l_per_l_week": 0.25,
            "leaching_fraction": 0.15,
        },
        days=120,
        pot_height_cm=22,
    )

    def test_every_leaf_with_every_rubbish_is_refused_by_name_or_works(self):
        for path in leaves_of(self.WHOLE):
            for rubbish in RUBBISH:
                with self.subTest(path=path, rubbish=rubbish):
                    self.one(path, rubbish)

    def one(self, path, rubbish):
        raw = copy.deepcopy(self.WHOLE)
        at = raw
        for key in path[:-1]:
            at = at[key]
        at[path[-1]] = rubbish
        with warnings.catch_warnings(), np.errstate(all="raise", under="ignore"):
            warnings.simplefilter("error")
            try:
                asked, own = as_plan(read(raw), library())
                told = report(evaluate(asked, {**library(), **own}, samples=0))
            except DocumentError as error:
                self.assertTrue(all(p.path for p in error.problems))
            except PelkError as error:
                self.assertTrue(error.path, error.message)
            else:
                self.assertTrue(all(isfinite(n) for n in numbers_in(told)))

    def test_plans_made_by_hand_are_refused_too(self):
        base = plan(TEA, TEA_DOSES, litres=60)
        bad = [float("nan"), float("inf"), -1e308, 1e308, -1.0]
        for value in bad:
            part, dose = (replace(base.parts[0], parts=value), replace(base.doses[0], amount=value))
            made = {
                "bulk[0].parts": replace(base, parts=(part, *base.parts[1:])),
                "doses[0].amount": replace(base, doses=(dose,)),
                "batch.volume": replace(base, batch=replace(base.batch, volume_l=value)),
                "days": replace(base, days=value),
                "pot_height_cm": replace(base, pot_height_cm=value),
            }
            for name in ("water_alkalinity_mg_l", "water_l_per_l_week", "leaching_fraction"):
                where = replace(base.conditions, **{name: value})
                made[f"conditions.{name}"] = replace(base, conditions=where)
            for path, wanted in made.items():
                with self.subTest(path, value=value), self.assertRaises(PelkError) as refusal:
                    evaluate(wanted, library(), samples=0)
                self.assertEqual(refusal.exception.path, path)
        soggy = replace(base, conditions=replace(base.conditions, moisture="soggy"))
        for wanted in (soggy, replace(base, crop="moss"), replace(base, days=1.5)):
            with self.assertRaises(PelkError) as refusal:
                evaluate(wanted, library(), samples=0)
            self.assertTrue(refusal.exception.path)

    @settings(max_examples=40, deadline=None)
    @given(
        st.recursive(
            st.none() | st.booleans() | st.floats() | st.text(max_size=4),
            lambda inner: (
                st.lists(inner, max_size=3)
                | st.dictionaries(st.text(max_size=6), inner, max_size=3)
            ),
        )
    )
    def test_anything_at_all_is_refused_politely(self, anything):
        with self.assertRaises((PelkError, DocumentError)):
            as_plan(read(anything), library())
