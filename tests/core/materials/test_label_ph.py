"""A pH from the label counts: free carbonate that cannot be there is not reckoned with."""

from dataclasses import replace

from django.test import SimpleTestCase

from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.facts import carbonate_left, with_values
from pelk.core.materials.library import library
from pelk.core.materials.material import Provenance, Range
from pelk.core.plans.plan import Batch, Part, Plan

LABEL = Provenance("label")


def typed(slug, ph, **more):
    values = {"ph": (Range(ph - 0.2, ph, ph + 0.2), LABEL)}
    return with_values(library()[slug], values | {k: (v, LABEL) for k, v in more.items()})


def settles_at(material):
    plan = Plan(
        name="one",
        crop="fruiting",
        batch=Batch(volume_l=50.0),
        parts=(
            Part(material="sphagnum-peat-light", parts=1),
            Part(material=material.slug, parts=1),
        ),
    )
    shelf = {**library(), material.slug: material}
    return evaluate(plan, shelf, samples=0).forecast.ph[1, 180]


class LabelPh(SimpleTestCase):
    def test_far_below_neutral_no_free_carbonate_is_left(self):
        held = library()["yard-compost"].cce
        self.assertGreater(held.typ, 0)
        sour = typed("yard-compost", 5.8)
        self.assertEqual(sour.cce.typ, 0)
        self.assertIn("Lowered", sour.provenances["cce"].note)
        half = typed("yard-compost", 6.6)
        self.assertAlmostEqual(half.cce.typ, held.typ / 2, places=9)
        self.assertEqual(typed("yard-compost", 7.6).cce, held)
        self.assertAlmostEqual(carbonate_left(6.6), 0.5)
        # What was typed of it stands; a lime is a lime at any pH.
        own = Range(1.0, 2.0, 3.0)
        self.assertEqual(typed("yard-compost", 5.8, cce=own).cce, own)
        self.assertEqual(
            typed("lime-calcitic-ground", 6.0).cce, library()["lime-calcitic-ground"].cce
        )

    def test_the_forecast_follows_it(self):
        sour = typed("yard-compost", 5.8)
        limy = replace(sour, cce=library()["yard-compost"].cce)
        self.assertLess(settles_at(sour), settles_at(limy) - 0.1)
