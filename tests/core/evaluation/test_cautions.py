"""Cautions as rules, and judgements by arithmetic: each fires, and keeps still."""

import tomllib
from pathlib import Path

from django.test import SimpleTestCase

from pelk.core.evaluation.cautions import Line, fired, rule_book
from pelk.core.materials.library import library
from tests.core.mixes import GRAMS, HANDFUL, caution_ids, worked

ACID_MIX = {"sphagnum-peat-light": 4, "pine-bark-fines-composted": 3, "perlite": 1}
SEED_MIX = {"sphagnum-peat-light": 1, "perlite": 1}
# Caution id, a plan on which it fires, one on which it keeps still.
JUDGEMENTS = [
    ("part-not-as-is", ({"raw-cow-manure": 1, "perlite": 1}, []), (ACID_MIX, [])),
    ("share-over", ({"worm-castings": 1, "perlite": 1}, []), (ACID_MIX, [])),
    ("dose-over", (ACID_MIX, [("kelp-meal", 9)]), (ACID_MIX, [("kelp-meal", 2)])),
    ("dose-thin", (ACID_MIX, [("sulfur-dusting", 0.05)]), (ACID_MIX, [("sulfur-dusting", 0.15)])),
    ("weigh-it", (ACID_MIX, [("borax", 1, HANDFUL)]), (ACID_MIX, [("borax", 1, GRAMS)])),
    ("by-hand", (ACID_MIX, [("kelp-meal", 1, HANDFUL)]), (ACID_MIX, [("kelp-meal", 1)])),
    ("meal-heavy", (ACID_MIX, [("alfalfa-meal", 11)]), (ACID_MIX, [("alfalfa-meal", 4)])),
    (
        "meals-heavy",
        (ACID_MIX, [("alfalfa-meal", 9), ("soybean-meal", 8)]),
        (ACID_MIX, [("alfalfa-meal", 4), ("soybean-meal", 2)]),
    ),
    ("dose-volume", (ACID_MIX, [("alfalfa-meal", 20)]), (ACID_MIX, [("kelp-meal", 1)])),
    ("rock-potassium", (ACID_MIX, [("greensand", 5)]), (ACID_MIX, [("basalt-dust", 5)])),
]


class Judgements(SimpleTestCase):
    def test_each_fires_and_keeps_still(self):
        for caution, fires, keeps_still in JUDGEMENTS:
            with self.subTest(caution):
                self.assertIn(caution, caution_ids(worked(*fires, crop="ericaceous")))
                still = caution_ids(worked(*keeps_still, crop="ericaceous"))
                self.assertNotIn(caution, still)

    def test_no_meals_for_seedlings(self):
        got = worked(SEED_MIX, [("blood-meal", 1)], crop="seedling")
        self.assertIn("feed-on-seedlings", caution_ids(got))


class ListedRules(SimpleTestCase):
    def test_a_normal_recipe_has_no_stop(self):
        got = worked(
            {"sphagnum-peat-light": 5, "perlite": 3, "yard-compost": 2},
            [("lime-calcitic-ground", 0.2), ("alfalfa-meal", 2)],
            crop="annuals",
        )
        self.assertEqual(got.stops, [])

    def test_hydrated_lime_stops_and_vinegar_warns(self):
        got = worked({"sphagnum-peat-light": 1}, [("lime-hydrated", 2)])
        self.assertIn("L1", {c.id for c in got.stops})
        self.assertIn("A3", caution_ids(worked({"sphagnum-peat-light": 1}, [("vinegar-5pct", 2)])))

    def test_aluminium_sulfate_stops_for_food_only(self):
        mix, dose = {"sphagnum-peat-light": 1}, [("aluminium-sulfate", 0.5)]
        self.assertIn("A5", caution_ids(worked(mix, dose, crop="fruiting")))
        self.assertNotIn("A5", caution_ids(worked(mix, dose, crop="annuals")))
        # Blueberries are acid lovers, and eaten.
        self.assertIn("A5", caution_ids(worked(mix, dose, crop="ericaceous")))

    def test_missing_readings_fail_safe(self):
        # Days to harvest count as none until answered; every other missing reading is no.
        raw = Line("Manure", {"tag": frozenset(["manure-raw"])}, 5.0)
        food = {"crop": frozenset(["food", "soil-touch"])}
        self.assertIn("M1", {c.id for c in fired([raw], food)})
        safe = fired([raw], food, {"r.days_to_harvest": 200})
        self.assertNotIn("M1", {c.id for c in safe})
        self.assertNotIn("G1", {c.id for c in fired([raw], food)})


EXAMPLES = tomllib.loads(Path(__file__).with_name("caution_examples.toml").read_text("utf-8"))
OF_A_LINE = ("state", "unit", "origin")


def situation(example):
    """Return what `fired` is asked with in a situation that was written by hand."""
    tags = {**{slug: m.tags for slug, m in library().items()}, **EXAMPLES["own"]}
    words = {ns: frozenset([example[ns]]) for ns in OF_A_LINE if ns in example}
    lines = [
        Line(name, {**words, "tag": frozenset(tags[name])}, example.get("dose", 1.0))
        for name in example["lines"]
    ]
    rest = set(example) - {"id", "lines", "dose", "numbers", "unless", *OF_A_LINE}
    context = {
        ns: frozenset(v if isinstance(v, list) else [v]) for ns in rest for v in [example[ns]]
    }
    return lines, {**context, **words}, example.get("numbers", {})


class EveryRule(SimpleTestCase):
    """Each rule of the published list, on a situation that was not made from the rule."""

    def test_fires_and_keeps_still_where_one_thing_differs(self):
        by_id = {example["id"]: example for example in EXAMPLES["on"]}
        self.assertEqual(set(by_id), {rule.id for rule in rule_book().rules})
        for key, example in by_id.items():
            with self.subTest(key):
                self.assertIn(key, {c.id for c in fired(*situation(example))})
                otherwise = {**example, **example["unless"]}
                self.assertNotIn(key, {c.id for c in fired(*situation(otherwise))})

    def test_every_word_is_of_the_vocabulary(self):
        book = rule_book()
        for rule in book.rules:
            for term in (t for clause in rule.any_of for t in clause if t.ns):
                with self.subTest(rule.id):
                    self.assertLessEqual({*term.any}, {*book.vocabulary[term.ns]})
        for material in library().values():
            self.assertLessEqual({*material.tags}, {*book.vocabulary["tag"]}, material.slug)

    def test_every_rule_can_fire_for_something_that_is_shipped(self):
        """All but a few that are kept on purpose, each with what would fire it."""
        shipped = frozenset().union(*(m.tags for m in library().values()))

        def may_fire(clause):
            asked = [t for t in clause if t.ns in ("tag", "batchtag") and not t.negate]
            of_one = [t for t in asked if t.ns == "tag"]
            return all(shipped & {*t.any} for t in asked) and any(
                all({*m.tags} & {*t.any} for t in of_one) for m in library().values()
            )

        silent = {r.id for r in rule_book().rules if not any(may_fire(c) for c in r.any_of)}
        self.assertEqual(silent, set(EXAMPLES["kept"]))
