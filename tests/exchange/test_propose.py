"""The command: a wish in, a dosed mix out; exit 3 with its reasons when there is none."""

import json
from io import StringIO
from unittest.mock import patch

from django.core.management import call_command
from django.test import SimpleTestCase

from pelk.core.materials.library import library
from pelk.exchange.formats.goals import as_goal, read_goal
from tests.factories import mix


def goal(wish=None, **changes):
    """Return a pelk.goal/1."""
    base = mix(
        format="pelk.goal/1",
        name="Chard trough",
        crop="leafy",
        bulk=[
            {"material": "sphagnum-peat-light", "parts": 5},
            {"material": "yard-compost", "parts": 2},
            {"material": "perlite", "parts": 3},
        ],
        doses=[],
    )
    return {**base, "goal": wish or {}, **changes}


def run(document):
    """Return (exit status, decoded output, standard error) of the command."""
    out, err = StringIO(), StringIO()
    text = document if isinstance(document, str) else json.dumps(document)
    with patch("sys.stdin", StringIO(text)):
        try:
            call_command("propose", "-", stdout=out, stderr=err, no_color=True)
        except SystemExit as end:
            return end.code, out.getvalue(), err.getvalue()
    return 0, json.loads(out.getvalue()), err.getvalue()


class Propose(SimpleTestCase):
    def test_what_comes_back_can_be_evaluated(self):
        status, got, err = run(goal())
        self.assertEqual((status, err), (0, ""))
        self.assertEqual(got["format"], "pelk.mix/1")
        self.assertTrue(got["doses"])
        self.assertTrue(got["explanation"]["binds"])
        given = {k: v for k, v in got.items() if k != "explanation"}
        out = StringIO()
        with patch("sys.stdin", StringIO(json.dumps(given))):
            call_command("evaluate", "-", stdout=out, no_color=True)
        told = json.loads(out.getvalue())
        low, high = told["ph"]["target"]
        self.assertTrue(low - 0.1 <= told["ph"]["p50"][-1] <= high + 0.1)

    def test_fixed_doses_stay_and_prices_are_used(self):
        wish = {
            "fixed": [{"material": "kelp-meal", "amount": 0.5, "unit": "g/L"}],
            "exclude": ["animal"],
            "minimise": "cost",
            "prices": {
                s: {"price": 6.0, "kg": 2} for s, m in library().items() if m.role == "dose"
            },
        }
        status, got, _ = run(goal(wish))
        self.assertEqual(status, 0)
        self.assertEqual(got["doses"][0]["material"], "kelp-meal")
        self.assertEqual(got["doses"][0]["amount"], 0.5)
        self.assertFalse(got["explanation"]["notes"])

    def test_stock_in_grams_or_in_a_measure(self):
        # Two litres of kelp meal at the library's weight of a litre; grams are plain numbers.
        litre = 1000 * library()["kelp-meal"].loose_density().typ
        held = {
            "kelp-meal": {"amount": 2, "unit": "L"},
            "soybean-meal": 50,
            "alfalfa-meal": {"amount": 1, "unit": "kg"},
        }
        _, wish = read_goal(goal({"stock": held}))
        got = as_goal(wish, library()).stock_g
        self.assertAlmostEqual(got["kelp-meal"], 2 * litre)
        self.assertEqual((got["soybean-meal"], got["alfalfa-meal"]), (50, 1000))

    def test_no_answer_is_exit_3_with_the_wishes_that_conflict(self):
        wish = {"targets": {"salts": [None, 0.4], "N": [600, None]}}
        status, out, err = run(goal(wish))
        self.assertEqual((status, err), (3, ""))
        told = json.loads(out)["explanation"]
        self.assertFalse(told["is_met"])
        self.assertTrue(told["conflicts"])
        self.assertTrue(told["misses"])

    def test_bad_wishes_name_their_key(self):
        for document, said in (
            (goal({"minimise": "beauty"}), "goal.minimise"),
            (goal({"targets": {"Xx": [1, 2]}}), "goal.targets"),
            (goal({"fixed": [{"material": "moon-dust", "amount": 1, "unit": "g/L"}]}), "moon-dust"),
            (goal({"prices": {"kelp-meal": {"price": 3}}}), "goal.prices.kelp-meal"),
            (goal({"stock": {"moon-dust": 3}}), "goal.stock.moon-dust"),
            (
                goal({"stock": {"kelp-meal": {"amount": 1, "unit": "g/L"}}}),
                "goal.stock.kelp-meal.unit",
            ),
            (goal({"school": {"feeding": "by moonlight"}}), "feeding"),
            (goal({"wish": 1}), "goal"),
            (goal(format="pelk.mix/1"), "format"),
            ("{", "line 1: not JSON"),
        ):
            with self.subTest(said):
                status, out, err = run(document)
                self.assertEqual((status, out), (2, ""))
                self.assertIn(said, err)
                self.assertEqual(err.count("\n"), 1)
