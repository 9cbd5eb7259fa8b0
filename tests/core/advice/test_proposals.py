"""Proposals: least cost, fewest, what binds, what conflicts, against brute force."""

from dataclasses import replace
from decimal import Decimal
from itertools import combinations, product

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.advice.goal import Goal
from pelk.core.advice.proposal_rows import crop_band
from pelk.core.advice.proposals import propose
from pelk.core.base.errors import PelkError
from pelk.core.base.integer_programme import Answer, Conflict, Row, Variable, solve
from pelk.core.materials.cost import Package
from pelk.core.materials.feeding_styles import FeedingStyle
from pelk.core.materials.library import library
from tests.core.mixes import plan

BASE = plan({"sphagnum-peat-light": 5, "pine-bark-fines-composted": 2, "perlite": 3}, crop="leafy")
A = Variable(name="A", cost=0.010, most=10, per_unit={"N": 100})
B = Variable(name="B", cost=0.008, most=10, per_unit={"N": 50, "K": 50})
WANT = [Row(name="N", low=300), Row(name="K", low=100)]


class Programme(SimpleTestCase):
    def test_least_cost_and_fewest(self):
        # Check SOL-1: K forces B to 2, N is cheapest from A; or B alone at 6.
        got = solve([A, B], WANT)
        self.assertAlmostEqual(got.amounts["A"], 2, places=5)
        self.assertAlmostEqual(got.amounts["B"], 2, places=5)
        self.assertAlmostEqual(got.cost, 0.036, places=6)
        self.assertEqual({b.row for b in got.binding}, {"N", "K"})
        fewest = solve([A, B], WANT, fewest=True)
        self.assertEqual(list(fewest.amounts), ["B"])
        self.assertAlmostEqual(fewest.amounts["B"], 6, places=4)
        self.assertAlmostEqual(fewest.cost, 0.048, places=5)

    def test_a_conflict_is_named_and_the_nearest_given(self):
        # Check SOL-2: 6 g/L would bring 3 dS/m, 2 are allowed.
        only = Variable(name="M", cost=1, most=50, per_unit={"N": 50, "EC": 0.5})
        got = solve([only], [Row(name="N", low=300, scale=300), Row(name="EC", high=2)])
        self.assertIsInstance(got, Conflict)
        self.assertEqual(
            {frozenset(s) for s in got.sets}, {frozenset([("N", "least"), ("EC", "most")])}
        )
        self.assertTrue(got.nearest)

    def test_a_dose_too_small_to_weigh_is_left_out(self):
        # A alone would be cheapest at 1 g/L, but it must be 5 or nothing: 0.05 against B's
        # 2 at 0.04.
        weighable, dearer = replace(A, least=5.0), replace(B, cost=0.02)
        got = solve([weighable, dearer], [Row(name="N", low=100)])
        self.assertEqual(set(got.amounts), {"B"})
        self.assertAlmostEqual(got.amounts["B"], 2, places=5)
        free = solve([A, dearer], [Row(name="N", low=100)])
        self.assertEqual(set(free.amounts), {"A"})

    @settings(max_examples=30, deadline=None)
    @given(
        st.lists(
            st.tuples(st.integers(1, 9), st.integers(0, 9), st.integers(0, 9)),
            min_size=2,
            max_size=4,
        ),
        st.integers(5, 40),
        st.integers(0, 30),
    )
    def test_never_beaten_by_brute_force(self, things, nitrogen, potassium):
        variables = [
            Variable(name=str(i), cost=c, most=4, least=0.5, per_unit={"N": n, "K": k})
            for i, (c, n, k) in enumerate(things)
        ]
        got = solve(variables, [Row(name="N", low=nitrogen), Row(name="K", low=potassium)])
        best = np.inf
        steps = [0.0, *np.arange(0.5, 4.01, 0.5)]
        for amounts in product(steps, repeat=len(things)):
            n = sum(x * t[1] for x, t in zip(amounts, things, strict=True))
            k = sum(x * t[2] for x, t in zip(amounts, things, strict=True))
            if n >= nitrogen and k >= potassium:
                best = min(best, sum(x * t[0] for x, t in zip(amounts, things, strict=True)))
        if isinstance(got, Answer):
            self.assertLessEqual(got.cost, best + 1e-6 * max(best, 1))
            self.assertGreaterEqual(got.values["N"], nitrogen - 1e-5)
        else:
            self.assertEqual(best, np.inf)

    def test_fewest_is_the_smallest_set_there_is(self):
        rng = np.random.default_rng(4)
        things = [
            Variable(
                name=str(i),
                cost=1,
                most=2,
                per_unit=dict(zip("NPK", rng.integers(0, 6, 3), strict=True)),
            )
            for i in range(6)
        ]
        rows = [Row(name=e, low=6) for e in "NPK"]
        got = solve(things, rows, fewest=True)
        size = next(
            n
            for n in range(1, 7)
            for few in combinations(things, n)
            if isinstance(solve(list(few), rows), Answer)
        )
        self.assertEqual(len(got.amounts), size)


class WholeProposals(SimpleTestCase):
    def test_it_meets_the_crop_and_stands_up_to_the_whole_evaluation(self):
        got = propose(BASE, library(), Goal())
        self.assertTrue(got.is_met, got.conflicts)
        result = got.evaluation
        low, high = result.ph_band
        ph = float(result.forecast.ph[1][-1])
        self.assertTrue(low - 0.1 <= ph <= high + 0.1, ph)
        for element in "NPK":
            self.assertGreaterEqual(
                result.forecast.free_at(element, result.crop.season_days),
                crop_band(result.crop, element, result.ph_band)[0] * 0.95 - 1,
                element,
            )
        self.assertTrue(got.binds)
        self.assertIn("No prices are known", got.notes[0])
        for dose in got.plan.doses:
            most = library()[dose.material].dose_max_g_l
            self.assertLessEqual(dose.amount / 100, most + 0.01)

    def test_wishes_filters_and_stock(self):
        vegan = propose(BASE, library(), Goal(exclude=frozenset(["animal"])))
        self.assertFalse([d for d in vegan.plan.doses if library()[d.material].vegan == "no"])
        style = FeedingStyle.of({"inputs": "plant and mineral only"})
        self.assertTrue(propose(BASE, library(), Goal(style=style)).plan.doses)
        few = frozenset(
            [
                "soybean-meal",
                "alfalfa-meal",
                "sulfate-of-potash",
                "fish-bone-meal",
                "lime-dolomitic-ground",
            ]
        )
        allowed = propose(BASE, library(), Goal(allow=few))
        self.assertLessEqual({d.material for d in allowed.plan.doses}, few)
        owned = propose(BASE, library(), Goal(only_owned=True, stock_g={"soybean-meal": 90}))
        self.assertFalse(owned.is_met)
        self.assertTrue(owned.conflicts)
        for dose in owned.plan.doses:
            self.assertLessEqual(dose.amount, 90.5)

    def test_a_school_moves_what_is_wished_for_and_a_wish_goes_before_it(self):
        lean = FeedingStyle.of({"feeding": "feed as you go"})
        got = propose(BASE, library(), Goal(style=lean))
        free = got.evaluation.forecast.free_at("N", got.evaluation.crop.season_days)
        self.assertTrue(45 <= free <= 85, free)
        rich = propose(BASE, library(), Goal(style=lean, targets={"N": (150, 260)}))
        free = rich.evaluation.forecast.free_at("N", rich.evaluation.crop.season_days)
        self.assertGreaterEqual(free, 140)

    def test_prices_decide(self):
        def bought(slug, price):
            return {
                s: Package(price=Decimal(price if s == slug else "30"), kg=1)
                for s, m in library().items()
                if m.role == "dose"
            }

        cheap = propose(BASE, library(), Goal(), bought("feather-meal", "0.10"))
        dear = propose(BASE, library(), Goal(), bought("feather-meal", "900"))
        grams = [
            sum(d.amount for d in p.plan.doses if d.material == "feather-meal")
            for p in (cheap, dear)
        ]
        self.assertGreater(grams[0], grams[1])

    def test_fewest_is_no_more_than_cheapest(self):
        cheapest = propose(BASE, library(), Goal())
        fewest = propose(BASE, library(), Goal(minimise="ingredients"))
        self.assertLessEqual(len(fewest.plan.doses), len(cheapest.plan.doses))

    def test_parts_may_be_chosen_too(self):
        got = propose(BASE, library(), Goal(may_change_parts=True))
        self.assertNotEqual(got.plan.parts, BASE.parts)
        self.assertAlmostEqual(sum(p.parts for p in got.plan.parts), 100, places=3)
        self.assertGreaterEqual(got.evaluation.pot.air_filled, got.evaluation.wanted_air - 0.02)

    def test_what_cannot_be_wished(self):
        for goal, words in (
            (Goal(minimise="beauty"), "beauty"),
            (Goal(targets={"Xx": (1, 2)}), "Xx"),
            (Goal(targets={"N": (9, 2)}), "9 over 2"),
        ):
            with self.subTest(words), self.assertRaisesRegex(PelkError, words):
                propose(BASE, library(), goal)
