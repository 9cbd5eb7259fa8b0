"""What a heap's readings say of its bags, and that the next mix with them is known better."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from pelk.core.materials.library import library
from pelk.core.materials.material import Taught
from pelk.core.materials.taught import Factor
from pelk.core.simulation.calibration import PhReading, calibrate
from pelk.core.simulation.ensemble import ensemble, quantiles
from pelk.core.simulation.evidence import evidence_of
from pelk.core.simulation.initial_state import starting_at
from pelk.core.simulation.run import simulate
from tests.learning_yards import DAYS, PEAT_AND_PERLITE, WHERE, by_heap, shelf_with, soil_of

PEAT, LIME = "sphagnum-peat-light", "lime-dolomitic-ground"
SLUGS = (PEAT, "perlite", LIME)


class OneHeap(SimpleTestCase):
    def learned(self, **true):
        """Read a heap of hidden peat exactly, and return what it says by material and factor."""
        taught = {(PEAT, Factor(name)): Taught(x, 1e-9) for name, x in true.items()}
        hidden = soil_of(shelf_with(taught, SLUGS), PEAT_AND_PERLITE)
        run = simulate(hidden.heap, WHERE, DAYS)
        mix = soil_of(shelf_with({}, SLUGS), PEAT_AND_PERLITE)
        ph = {d: float(np.interp(d, run.edges, run["ph"])) for d in (0, 7, 14, 28, 42, 60)}
        readings = [PhReading(day=d, ph=x, meter="checked pen") for d, x in ph.items() if d]
        fitted = calibrate(starting_at(mix.heap, ph[0]), WHERE, readings)
        rows = evidence_of(mix, fitted, ph[0], "checked pen")
        return {(r.slug, r.factor): r for r in rows}

    def test_its_own_ph_and_buffer_come_back(self):
        rows = self.learned(ph=-0.3, buffer=0.35)
        self.assertAlmostEqual(rows[PEAT, Factor.PH].value, -0.3, delta=0.08)
        self.assertEqual(rows[PEAT, Factor.PH].against, library()[PEAT].ph.typ)
        buffer = rows[PEAT, Factor.BUFFER]
        self.assertAlmostEqual(buffer.value, 0.35, delta=0.2)
        self.assertLess(buffer.error, 0.28)
        # Perlite buffers next to nothing: nothing is said of it.
        self.assertNotIn(("perlite", Factor.BUFFER), rows)

    def test_evidence_is_of_the_book_whatever_was_known_before(self):
        known = {(PEAT, Factor.PH): Taught(-0.2, 0.1)}
        mix = soil_of(shelf_with(known, SLUGS), PEAT_AND_PERLITE)
        plain = soil_of(shelf_with({}, SLUGS), PEAT_AND_PERLITE)
        one, other = (evidence_of(m, None, 4.1)[0].value for m in (mix, plain))
        self.assertAlmostEqual(one, other, delta=0.02)

    def test_what_is_forgotten_leaves_the_forecast_as_it_was(self):
        known = shelf_with({(PEAT, Factor.BUFFER): Taught(0.3, 0.1)}, SLUGS)
        told = quantiles(ensemble(soil_of(known, PEAT_AND_PERLITE).heap, WHERE, DAYS), "ph")
        plain = soil_of({s: library()[s] for s in SLUGS}, PEAT_AND_PERLITE)
        before = quantiles(ensemble(plain.heap, WHERE, DAYS), "ph")
        forgotten = {slug: replace(m, taught={}) for slug, m in known.items()}
        after = quantiles(ensemble(soil_of(forgotten, PEAT_AND_PERLITE).heap, WHERE, DAYS), "ph")
        self.assertLess(float(np.abs(after - before).max()), 1e-9)
        width = [float(x[2, DAYS] - x[0, DAYS]) for x in (told, before)]
        self.assertLess(width[0], 0.9 * width[1])


class Yards(SimpleTestCase):
    def test_the_second_heap_of_a_bag_is_foretold_more_narrowly_and_nearer(self):
        first, second = by_heap(PEAT_AND_PERLITE, yards=24, heaps=2)
        self.assertLess(second[0], 0.8 * first[0])
        self.assertLess(second[1], first[1])
        self.assertTrue(0.6 <= second[2] <= 1.0, second)
