"""Every table of published/ against the method it names."""

import tomllib
from pathlib import Path

from django.test import SimpleTestCase
from django.utils.module_loading import import_string

FOLDER = Path(__file__).parent / "published"
TABLES = sorted(p for p in FOLDER.glob("*.toml") if p.stem != "scenarios")


class PublishedTables(SimpleTestCase):
    def test_methods_give_the_printed_numbers(self):
        for path in TABLES:
            table = tomllib.loads(path.read_text("utf-8"))
            method = import_string(table["method"])
            self.assertTrue(table["source"], path.name)
            for row in table["row"]:
                given = dict(row)
                expected = given.pop("expected")
                with self.subTest(path.stem, **given):
                    self.assertAlmostEqual(
                        method(**given), expected, delta=table["within"]
                    )
