"""The core keeps its manners: documented, cited, sources that exist, data unchanged."""

import inspect
import warnings
from itertools import product
from math import inf, isfinite, nan

import numpy as np
from django.test import SimpleTestCase

from pelk.core.base import sources, tables
from pelk.core.base.errors import PelkError
from pelk.core.crops import groups as crops
from pelk.core.materials import library as materials
from pelk.core.materials.material import checked
from pelk.sources.selectors import core_methods


class HouseStyle(SimpleTestCase):
    def test_every_public_function_says_what_it_does(self):
        for method in core_methods():
            with self.subTest(f"{method.__module__}.{method.__name__}"):
                self.assertTrue(inspect.getdoc(method), "write a docstring")

    def test_every_method_that_gives_a_number_cites_a_source_and_names_units(self):
        for method in core_methods():
            if inspect.signature(method).return_annotation not in (float, "float"):
                continue
            with self.subTest(f"{method.__module__}.{method.__name__}"):
                self.assertTrue(sources.citations(method), "add @cites(source, where)")
                text = inspect.getdoc(method)
                for name in inspect.signature(method).parameters:
                    self.assertIn(f"{name}", text)
                self.assertIn("[", text.split("Returns")[1], "give the unit in brackets")

    def test_every_citation_is_of_a_known_work(self):
        for method in core_methods():
            for citation in sources.citations(method):
                self.assertIn(citation.source.mark, sources.MARKS)


class Rubbish(SimpleTestCase):
    """Every method that takes plain numbers, one by one: refused by name, or finite."""

    # Called hundreds of times in an answer, with numbers that are checked already.
    INNER = frozenset(
        [
            "pelk.core.release.processes",
            "pelk.core.release.rate_factors",
            "pelk.core.base.arithmetic",
            "pelk.core.materials.totals",
        ]
    )

    def test_no_method_of_plain_numbers_answers_rubbish_with_rubbish(self):
        tried = 0
        for method in core_methods():
            wanted = [
                p for p in inspect.signature(method).parameters.values() if p.default is p.empty
            ]
            if (
                method.__module__ in self.INNER
                or not wanted
                or any(p.annotation not in ("float", float) for p in wanted)
            ):
                continue
            tried += 1
            for i, bad in product(range(len(wanted)), (nan, inf, -inf, 1e308, -1.0, 0.0)):
                given = [1.0] * len(wanted)
                given[i] = bad
                with self.subTest(f"{method.__module__}.{method.__name__}", at=i, bad=bad):
                    self.one(method, given)
        self.assertGreater(tried, 50)

    def one(self, method, given):
        with warnings.catch_warnings(), np.errstate(all="raise", under="ignore"):
            warnings.simplefilter("error")
            try:
                got = method(*given)
            except PelkError as error:
                self.assertTrue(error.message)
                return
        parts = got if isinstance(got, tuple) else (got,)
        for part in parts:
            if isinstance(part, float) and method.__name__ != "years_to_limit":
                self.assertTrue(isfinite(part), got)


class Data(SimpleTestCase):
    """Sums recorded when the tables were copied in: a slip of the pen shows."""

    def test_the_library_is_whole(self):
        library = materials.library()
        self.assertEqual(len(library), 267)
        library = materials.studied()
        nitrogen = sum(m.composition["N"].typ for m in library.values() if "N" in m.composition)
        buffers = sum(m.buffer.typ for m in library.values() if m.buffer)
        self.assertAlmostEqual(nitrogen, NITROGEN_SUM, delta=0.001)
        self.assertAlmostEqual(buffers, BUFFER_SUM, delta=0.001)

    def test_no_two_materials_are_shown_by_one_name(self):
        shown = [m.short_name for m in materials.library().values()]
        self.assertEqual([name for name in shown if shown.count(name) > 1], [])

    def test_every_material_that_goes_in_as_a_part_can_be_weighed(self):
        for material in materials.library().values():
            if material.role == "bulk":
                with self.subTest(material.slug):
                    self.assertGreater(material.loose_density().typ, 0)

    def test_no_material_of_the_library_is_impossible(self):
        for material in materials.library().values():
            with self.subTest(material.slug):
                self.assertIs(checked(material, material.slug), material)

    def test_crops_are_the_twelve_groups_with_their_demand(self):
        library = crops.library()
        self.assertEqual(len(library), 12)
        for group in library.values():
            self.assertLess(group.ph_soilless[0], group.ph_soilless[1])
            self.assertGreater(group.uptake_mg_l["N"], 0)

    def test_retention_sets_named_by_materials_exist(self):
        sets = {row["set"] for row in tables.rows("retention.csv")}
        named = {m.retention_set for m in materials.library().values() if m.retention_set}
        self.assertEqual(named - sets, set())


NITROGEN_SUM, BUFFER_SUM = 301.94, 1578.0
