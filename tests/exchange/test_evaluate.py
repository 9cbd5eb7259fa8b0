"""The command: one JSON object out, or exit 2 and one line that names the key."""

import json
import tempfile
from io import StringIO
from pathlib import Path

from django.core.management import call_command
from django.test import SimpleTestCase

from tests.factories import mix

# The example of the open format.
EXAMPLE = mix(
    name="Tea camellia acid mix",
    crop="ericaceous",
    batch={"volume": 120, "unit": "L"},
    bulk=[
        {"material": "sphagnum-peat-light", "parts": 4},
        {"material": "pine-bark-fines-composted", "parts": 3},
        {"material": "leaf-mould", "parts": 2},
        {"material": "perlite", "parts": 1},
    ],
    doses=[
        {"material": "sulfur-dusting", "amount": 0.9, "unit": "g/L"},
        {
            "material": "lime-calcitic-ground",
            "amount": 1,
            "unit": "tbsp/gal",
            "per": "sphagnum-peat-light",
        },
        {"material": "kelp-meal", "amount": 1, "unit": "cup"},
    ],
    materials=[],
    conditions={
        "temperature_c": 20,
        "moisture": "moist",
        "inoculum": "some",
        "water_alkalinity_mg_l": 120,
        "water_l_per_l_week": 0.25,
        "leaching_fraction": 0.15,
    },
    days=180,
)


def run(text):
    """Return (exit status, standard output, standard error) of the command."""
    out, err = StringIO(), StringIO()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "mix.json")
        path.write_text(text, "utf-8")
        try:
            call_command("evaluate", str(path), stdout=out, stderr=err, no_color=True)
        except SystemExit as end:
            return end.code, out.getvalue(), err.getvalue()
    return 0, out.getvalue(), err.getvalue()


class Evaluate(SimpleTestCase):
    def test_the_formats_example(self):
        status, out, err = run(json.dumps(EXAMPLE))
        self.assertEqual((status, err), (0, ""))
        got = json.loads(out)
        self.assertEqual(got["format"], "pelk.evaluation/1")
        self.assertEqual(got["volume"]["litres"], 120)
        self.assertAlmostEqual(sum(b["share"] for b in got["bulk"]), 1, places=3)
        kelp = next(d for d in got["doses"] if d["material"] == "kelp-meal")
        self.assertAlmostEqual(kelp["millilitres"], 236.59, places=2)
        self.assertAlmostEqual(kelp["g_per_l"] * 120, kelp["grams"], places=1)
        nitrogen = got["nutrients"]["N"]
        self.assertAlmostEqual(
            sum(nitrogen["sources"].values()) / nitrogen["total_mg_l"], 1, places=3
        )
        self.assertEqual(got["ph"]["target"], [4.5, 5.4])
        self.assertLess(got["ph"]["settled"], got["ph"]["start"])
        self.assertIn("lime_and_sulfur", {f["kind"] for f in got["findings"]})
        self.assertEqual(
            [f["grade"] for f in got["findings"]],
            sorted((f["grade"] for f in got["findings"]), key=["harms", "drifts", "better"].index),
        )
        # Nothing mends all of it at once; of peat that was limed for acid lovers something does.
        peat = [
            {"material": "sphagnum-peat-light", "parts": 4},
            {"material": "perlite", "parts": 1},
        ]
        lime = [{"material": "lime-dolomitic-ground", "amount": 5, "unit": "g/L"}]
        limed = {k: v for k, v in EXAMPLE.items() if k != "conditions"} | {"doses": lime}
        told = json.loads(run(json.dumps({**limed, "bulk": peat}))[1])
        fixes = [fix for f in told["findings"] for fix in f["remedies"]]
        self.assertTrue(fixes)
        for fix in fixes:
            self.assertTrue(fix["text"] and fix["changes"])
            self.assertEqual({"ph", "ec_ds_m"} - fix["before"].keys(), set())
            self.assertEqual({"ph", "ec_ds_m"} - fix["after"].keys(), set())
        # What later parts of the core will compute is left out, not faked.
        self.assertEqual(len(got["ph"]["p50"]), 181)
        for low, middle, high in zip(
            got["ph"]["p10"], got["ph"]["p50"], got["ph"]["p90"], strict=True
        ):
            self.assertTrue(low <= middle <= high)
        self.assertEqual(
            set(got["nutrients"]["N"]["available_mg_l"]), {"0", "30", "60", "90", "180"}
        )
        for day, free in nitrogen["available_mg_l"].items():
            self.assertGreaterEqual(free, 0)
            self.assertTrue(free == 0 or nitrogen["tied_up_mg_l"][day] == 0)
        self.assertEqual(got["nutrients"]["S"]["extract_band"], None)
        self.assertEqual(got["ec_ds_m"]["basis"], "saturated media extract")
        self.assertEqual(set(got["cure"]["ready_day"]), {"p10", "p50", "p90"})
        self.assertIn("kelp-meal", got["cost"]["missing_prices"])
        self.assertGreater(got["air"]["total_porosity"], got["air"]["container_capacity"])

    def test_what_is_not_known_is_null_with_its_reason(self):
        raw = mix(bulk=[{"material": "kitchen-scraps", "parts": 1}])
        got = json.loads(run(json.dumps(raw))[1])
        self.assertIsNone(got["ph"]["settled"])
        self.assertIn("is not known", got["ph"]["problem"])
        self.assertIsNone(got["volume"]["kg_wet"])

    def test_bad_files_exit_2_with_one_line(self):
        cases = [
            (
                json.dumps(mix(bulk=[{"material": "perlite", "parts": "x"}])),
                "bulk[0].parts: found 'x', allowed: a number",
            ),
            (json.dumps(mix(crop="moss")), "crop: found 'moss', allowed: seedling"),
            (json.dumps(mix(batch={"volume": -4, "unit": "L"})), "batch.volume"),
            (json.dumps([1, 2]), "found"),
            ('{\n "format": "pelk.mix/1",\n oops}', "line 3: not JSON"),
            (json.dumps(mix()).replace("60", "NaN"), "batch.volume: found nan"),
            (json.dumps(mix()).replace("60", "1e999"), "batch.volume"),
            ("[" * 100_000, "nested too deeply"),
        ]
        for text, said in cases:
            with self.subTest(said):
                status, out, err = run(text)
                self.assertEqual((status, out), (2, ""))
                self.assertIn(said, err)
                self.assertEqual(err.count("\n"), 1)
                self.assertNotIn("Traceback", err)

    def test_a_missing_file(self):
        err = StringIO()
        with self.assertRaises(SystemExit) as end:
            call_command("evaluate", "/nowhere.json", stderr=err, no_color=True)
        self.assertEqual(end.exception.code, 2)
        self.assertIn("cannot be read", err.getvalue())
