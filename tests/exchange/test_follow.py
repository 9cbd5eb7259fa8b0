"""The command: a soil's life in, its course out; what cannot be is one line that names the key."""

import json
from io import StringIO
from unittest.mock import patch

from django.core.management import call_command
from django.test import SimpleTestCase

from tests.factories import mix

EVENTS = [
    {"on": "2031-04-12", "do": "planted", "crop": "fruiting", "plants_per_pot": 1},
    {"on": "2031-04-12", "do": "watered", "litres_per_pot_week": 3.5},
    {"on": "2031-06-01", "do": "dressed", "material": "feather-meal", "amount": 1,
     "unit": "tsp/pot"},
    {"on": "2031-06-20", "do": "poured", "material": "fish-emulsion", "amount": 3, "unit": "mL/L",
     "litres_per_pot": 1.5, "through": 0.1},
    {"on": "2031-07-01", "do": "read", "ph": 6.1, "method": "pour-through", "checked": True},
    {"on": "2031-07-10", "do": "rinsed", "litres_per_pot": 8},
    {"on": "2031-09-20", "do": "harvested", "kg": 2.1, "crop": "fruiting"},
    {"on": "2031-10-01", "do": "cleared", "roots": "in"},
    {"on": "2031-10-02", "do": "rested", "where": "rain"},
    {"on": "2032-03-01", "do": "topped", "litres_per_pot": 2, "mix": mix(batch=None)},
    {"on": "2032-04-01", "do": "potted_on", "pot": {"litres": 30, "count": 12},
     "kept_litres_per_pot": 9, "mix": mix()},
]  # fmt: skip


def life(events=EVENTS, **changes):
    """Return a pelk.life/1."""
    return {
        "format": "pelk.life/1",
        "mixed_on": "2031-03-01",
        "until": "2032-06-30",
        "mix": mix(),
        "pot": {"kind": "round-pot", "litres": 14.5, "count": 12, "height_cm": 28, "wall": "clay"},
        "place": {"monthly_c": [5, 5, 7, 10, 13, 16, 18, 18, 15, 12, 8, 5], "roof": False},
        "water": {"alkalinity_mg_l": 150, "ca_mg_l": 60, "cl_mg_l": 30, "known": "report"},
        "events": events,
        **changes,
    }


def run(document, *more):
    """Return (exit status, decoded output, standard error) of the command."""
    out, err = StringIO(), StringIO()
    with patch("sys.stdin", StringIO(json.dumps(document))):
        try:
            call_command("follow", "-", *more, stdout=out, stderr=err, no_color=True)
        except SystemExit as end:
            return end.code, out.getvalue(), err.getvalue()
    return 0, json.loads(out.getvalue()), err.getvalue()


class Follow(SimpleTestCase):
    def test_every_key_of_the_course_and_its_balance(self):
        status, course, _ = run(life(), "--samples", "20")
        self.assertEqual(status, 0)
        days = len(course["days"])
        self.assertEqual((course["days"][0], course["days"][-1]), ("2031-03-01", "2032-06-30"))
        for line in (*course["ph"].values(), *course["ec"].values(), course["ec_ds_m"]):
            self.assertEqual(len(line), days)
        self.assertEqual(list(course["elements"]), ["N", "P", "K", "Ca", "Mg", "S", "Na", "Cl"])
        for element, held in course["balance"].items():
            parts = [held[key] for key in ("held", "taken", "leached", "lost")]
            self.assertAlmostEqual(held["in"], sum(parts), delta=1e-9 * max(held["in"], 1) * 10)
            self.assertEqual(len(course["elements"][element]["short_mg_l"]), days)
        self.assertGreater(course["litres_per_pot"][-1], 25)
        self.assertTrue({"kind", "grade", "text"} <= set(course["findings"][0]))

    def test_the_order_of_the_file_does_not_matter(self):
        forth, back = run(life(), "--samples", "0"), run(life(EVENTS[::-1]), "--samples", "0")
        self.assertEqual(forth[1]["ph"], back[1]["ph"])

    def test_what_cannot_be_names_its_key(self):
        def one(**event):
            return life([{"on": "2031-06-01", **event}])

        for document, said in (
            (life([{**EVENTS[0], "on": "2030-01-01"}]), "events[0].on: found 2030-01-01"),
            (life([{**EVENTS[0], "crop": "triffids"}]), "events[0].crop: found 'triffids'"),
            (one(do="harvested", kg=1), "events[0].do: found harvested, but nothing was planted"),
            (life([*EVENTS[:8], {"on": "2031-11-01", "do": "harvested", "kg": 1}]), "was cleared"),
            (one(do="dressed", material="kelp-meal", amount=1e6, unit="g/pot"), "events[0].amount"),
            (one(do="dressed", material="moon-dust", amount=1), "events[0].material"),
            (one(do="dressed", material="kelp-meal", amount=1, unit="stone/pot"), "events[0].unit"),
            (one(do="flooded"), "events[0].do: found 'flooded'"),
            (one(do="rinsed", litres_per_pot=2, kg=1), "events[0].kg: not a key of rinsed"),
            (one(do="rinsed"), "events[0].litres_per_pot: missing"),
            (one(do="topped", litres_per_pot=2), "events[0].mix: missing"),
            (life(until="2031-02-01"), "until: found"),
            (life(mixed_on="March"), "mixed_on: found 'March'"),
            (life(pot={"litres": -3}), "pot.litres: found -3"),
            (life(place={"monthly_c": [1, 2]}), "place.monthly_c: found 2 values"),
            (life(mix=mix(crop="triffids")), "mix.crop"),
            (life(format="pelk.lives/9"), "format: found 'pelk.lives/9'"),
            (life(moon=1), "moon"),
        ):
            with self.subTest(said):
                status, out, err = run(document)
                self.assertEqual((status, out), (2, ""))
                self.assertIn(said, err)
                self.assertEqual(len(err.strip().splitlines()), 1)

    def test_nothing_given_is_nothing_done(self):
        nothing = {"on": "2031-06-01", "do": "dressed", "material": "kelp-meal", "amount": 0}
        bare, fed = (
            run(life(EVENTS[:2]), "--samples", "0"),
            run(life([*EVENTS[:2], nothing]), "--samples", "0"),
        )
        for one, other in zip(bare[1]["ph"]["p50"], fed[1]["ph"]["p50"], strict=True):
            self.assertAlmostEqual(one, other, delta=0.02)
