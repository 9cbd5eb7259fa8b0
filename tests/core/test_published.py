"""Every table of published/ against the method it names."""

import tomllib
from pathlib import Path

from django.test import SimpleTestCase
from django.utils.module_loading import import_string

FOLDER = Path(__file__).parent / "published"
TABLES = sorted(p for p in FOLDER.glob("*.toml") if "method = " in p.read_text("utf-8"))


class PublishedTables(SimpleTestCase):
    """Rows with a pair as `expected` must fall inside it; others within `within`."""

    def test_methods_give_the_printed_numbers(self):
        for path in TABLES:
            table = tomllib.loads(path.read_text("utf-8"))
            method = import_string(table["method"])
            self.assertTrue(table["source"], path.name)
            for row in table["row"]:
                given = dict(row)
                expected = given.pop("expected")
                with self.subTest(path.stem, **given):
                    got = method(**given)
                    if isinstance(expected, list):
                        low, high = expected
                        self.assertTrue(low <= got <= high, f"{got} not in {expected}")
                    else:
                        within = table.get("within") or table["within_share"] * abs(expected)
                        self.assertAlmostEqual(got, expected, delta=within)
