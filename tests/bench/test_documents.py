"""pelk.mix/1: what it reads, and how it refuses."""

from urllib.parse import urlencode

from django.http import QueryDict
from django.test import SimpleTestCase

from pelk.bench.formats.documents import DocumentError, read, write
from pelk.bench.formats.planning import as_plan
from pelk.bench.forms.mix import BenchForm
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from tests.factories import bench_posted, mix

BULK = [{"material": "perlite", "parts": 1}]
# What is wrong, the path it is named by, and a word of what is allowed.
REFUSED = [
    ({"extra": 1}, "extra", "keys of the format"),
    ({"bulk": [{"material": "perlite", "parts": 1, "colour": "grey"}]}, "bulk[0].colour", "key"),
    ({"bulk": [{"material": "perlite", "parts": "two"}]}, "bulk[0].parts", "a number"),
    ({"bulk": [{"material": "perlite", "parts": -1}]}, "bulk[0].parts", "from 0.0001"),
    ({"bulk": [{"material": "perlite", "parts": 1e308}]}, "bulk[0].parts", "to 1000000"),
    ({"bulk": [{"material": "moon-dust", "parts": 1}]}, "bulk[0].material", "a material"),
    ({"bulk": [{"material": "perlite"}]}, "bulk", "give every part the same way"),
    (
        {"bulk": [*BULK, {"material": "pumice", "percent": 50}]},
        "bulk",
        "give every part the same way",
    ),
    ({"bulk": [*BULK, *BULK]}, "bulk[1].material", "twice"),
    ({"bulk": [{"material": "perlite", "percent": 90}]}, "bulk", "90 % together"),
    ({"bulk": []}, "bulk", "at least one part"),
    ({"batch": {"volume": 0, "unit": "L"}}, "batch.volume", "from 0.01"),
    ({"batch": {"volume": 5, "unit": "bushels"}}, "batch.unit", "L, gal"),
    ({"batch": {"volume": 5, "part": 2}}, "batch", "one of volume"),
    ({"batch": {"vessels": [{"kind": "boot", "count": 1}]}}, "batch.vessels[0].kind", "round-pot"),
    (
        {"batch": {"vessels": [{"kind": "round-pot", "count": 2}]}},
        "batch.vessels[0].litres",
        "how many litres",
    ),
    (
        {"batch": {"vessels": [{"kind": "round-pot", "count": 1.5, "litres": 5}]}},
        "batch.vessels[0].count",
        "whole number",
    ),
    ({"crop": "triffids"}, "crop", "seedling"),
    (
        {"doses": [{"material": "kelp-meal", "amount": 1, "unit": "thimble"}]},
        "doses[0].unit",
        "tbsp",
    ),
    (
        {"doses": [{"material": "kelp-meal", "amount": 1, "unit": "g/acre"}]},
        "doses[0].unit",
        "per L",
    ),
    ({"doses": [{"material": "kelp-meal", "amount": 0, "unit": "g"}]}, "doses[0].amount", "from"),
    ({"doses": [{"material": "kelp-meal", "unit": "g"}]}, "doses[0].amount", "needed"),
    ({"materials": [{"id": "perlite", "sparkle": 1}]}, "materials[0].sparkle", "pelk.material/1"),
    ({"materials": [{"name": "no id"}]}, "materials[0].id", "needed"),
    ({"materials": [{"id": "perlite", "density": 0}]}, "materials[0].density", "from 0.001"),
    ({"materials": [{"id": "perlite", "ph": 77}]}, "materials[0].ph", "to 14"),
    (
        {"materials": [{"id": "perlite", "moisture_pct": 100}]},
        "materials[0].moisture_pct",
        "to 99.9",
    ),
    (
        {"materials": [{"id": "perlite", "composition": {"N": -1}}]},
        "materials[0].composition.N",
        "from 0",
    ),
    (
        {"materials": [{"id": "perlite", "density": {"low": 2, "typ": 1, "high": 3}}]},
        "materials[0].density",
        "its span",
    ),
    ({"conditions": {"moisture": "soggy"}}, "conditions.moisture", "dry, moist, wet"),
    ({"format": "pelk.mix/9"}, "format", "pelk.mix/1"),
]


def worked(**changes):
    """Return the evaluation of a document, judged as the command judges it."""
    return evaluate(*as_plan(read(mix(**changes)), library()))


class Refusals(SimpleTestCase):
    def test_each_names_the_path_and_what_is_allowed(self):
        for change, path, allowed in REFUSED:
            with self.subTest(path, **change):
                try:
                    worked(**change)
                except DocumentError as error:
                    problem = error.problems[0]
                except ValueError as error:
                    problem = error
                else:
                    self.fail("it was taken")
                self.assertEqual(problem.path, path)
                self.assertIn(allowed, problem.message)


class Reading(SimpleTestCase):
    def test_written_and_read_again_is_the_same(self):
        document = read(mix())
        self.assertEqual(read(write(document)), document)

    def test_percent_and_amounts_come_to_the_same_as_parts(self):
        percent = [
            {"material": "coir-pith-loose", "percent": 75},
            {"material": "pumice", "percent": 25},
        ]
        amounts = [
            {"material": "coir-pith-loose", "amount": 3, "unit": "gal"},
            {"material": "pumice", "amount": 1, "unit": "gal"},
        ]
        by_parts = worked().loose.value
        self.assertAlmostEqual(worked(bulk=percent).loose.value, by_parts)
        self.assertAlmostEqual(worked(bulk=amounts).loose.value, by_parts)

    def test_amounts_alone_say_how_much_and_weights_go_by_density(self):
        bulk = [{"material": "coir-pith-loose", "amount": 23, "unit": "kg"}]
        # 23 kg at 0.23 kg/L is 100 L loose; one part alone loses nothing.
        self.assertAlmostEqual(worked(bulk=bulk, batch=None).mixed.value, 100)

    def test_a_dry_quart_bag_a_gallon_and_a_part(self):
        # Exact: 8 dry quarts are 8.81 L; 10 US gallons 37.854 L; a part of 2 gal times four.
        self.assertAlmostEqual(
            worked(batch={"volume": 8, "unit": "dry-qt"}).mixed.value, 8.809767541720
        )
        self.assertAlmostEqual(worked(batch={"volume": 10, "unit": "gal"}).mixed.value, 37.85411784)
        self.assertAlmostEqual(
            worked(batch={"part": 2, "unit": "gal"}).loose.value, 8 * 3.785411784
        )

    def test_kitchen_units_in_a_dose(self):
        # One US cup is 236.588 mL; kelp meal at 0.70 kg/L weighs 165.6 g.
        got = worked(doses=[{"material": "kelp-meal", "amount": 1, "unit": "cup"}])
        self.assertAlmostEqual(got.doses[0].millilitres, 236.5882365, places=4)
        self.assertAlmostEqual(got.doses[0].grams.typ, 165.61, places=1)
        share = worked(doses=[{"material": "worm-castings", "amount": 5, "unit": "%"}])
        self.assertAlmostEqual(share.doses[0].share, 0.05)

    def test_ones_own_material_and_a_shipped_one_overridden(self):
        own = {
            "id": "rain-compost",
            "name": "Rain compost",
            "role": "bulk",
            "density": {"low": 0.4, "typ": 0.5, "high": 0.6},
            "moisture_pct": 50,
            "composition": {"N": 1.0},
            "ph": 6.5,
            "buffer": 40,
        }
        better = {"id": "coir-pith-loose", "ph": 5.5}
        bulk = [
            {"material": "rain-compost", "parts": 1},
            {"material": "coir-pith-loose", "parts": 1},
        ]
        got = worked(bulk=bulk, materials=[own, better])
        self.assertAlmostEqual(got.bulk[0].kg, got.bulk[0].loose_l * 0.5)
        self.assertLess(got.acidity.start.value, 6.5)
        self.assertEqual(got.bulk[1].material.ph.typ, 5.5)


class KeptAlong(SimpleTestCase):
    """What the Bench does not edit survives a round through its form."""

    DOCUMENT = mix(
        days=240,
        pot_height_cm=40.0,
        conditions={"leaching_fraction": 0.3, "temperature_c": 12.0},
        batch={
            "vessels": [
                {"kind": "round-pot", "count": 4, "litres": 5.0},
                {"kind": "round-pot", "count": 2, "litres": 12.0},
            ]
        },
        materials=[{"format": "pelk.material/1", "id": "pumice", "ph": 5.5}],
    )

    def sent(self, **changes):
        form = BenchForm.from_document(read(self.DOCUMENT))
        posted = bench_posted(
            {
                "name": form.name,
                "crop": form.crop,
                "how": form.how,
                "kind": form.kind,
                "count": "5",
                "litres": form.litres,
                "spare": form.spare,
                "temperature": form.temperature,
                "kept": form.kept,
                "part_material": [row.material for row in form.parts],
                "part_parts": [row.parts for row in form.parts],
                **changes,
            }
        )
        return BenchForm.from_post(QueryDict(urlencode(posted)))

    def test_every_key_comes_back(self):
        form = self.sent()
        document = form.as_document()
        self.assertEqual(form.errors, {})
        self.assertEqual((document.days, document.pot_height_cm), (240, 40.0))
        self.assertEqual(document.conditions.leaching_fraction, 0.3)
        self.assertEqual([(v.count, v.litres) for v in document.batch.vessels], [(5, 5), (2, 12)])
        self.assertEqual(document.materials, self.DOCUMENT["materials"])
        self.assertEqual(BenchForm.from_document(read(mix())).kept, "")

    def test_what_was_tampered_with_says_so(self):
        for text in ("{", '{"days": "long"}', '{"nights": 3}', "x" * 300_000):
            form = self.sent(kept=text)
            form.as_document()
            self.assertIn("reload the page", form.batch_error)
