"""The shared library, the list, one material, the switch."""

from math import isfinite

from django.core.management import call_command
from django.test import TestCase

from pelk.shelf.models.materials import Analysis, Material, ShelfItem
from pelk.shelf.pages.material import material_page
from pelk.shelf.pages.tables import analysis_rows
from pelk.shelf.services.materials import load_library
from tests.factories import make_own_material, make_user, yard_of


class Library(TestCase):
    def test_it_is_loaded_on_migrate_and_loading_again_changes_nothing(self):
        self.assertEqual(Material.objects.filter(yard=None).count(), 267)
        self.assertEqual(load_library(), 0)
        call_command("migrate", verbosity=0)
        self.assertEqual(Analysis.objects.count(), 267)

    def test_a_changed_row_is_brought_up_to_date_and_the_old_analysis_stays(self):
        row = Material.objects.get(slug="kelp-meal")
        facts = {**row.analyses.get().facts, "notes": "older"}
        Analysis.objects.filter(material=row).update(facts=facts)
        self.assertEqual(load_library(), 1)
        self.assertEqual(row.analyses.count(), 2)
        self.assertNotEqual(Material.objects.get(pk=row.pk).core.notes, "older")


class Pages(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_search_by_other_names_family_and_several_words(self):
        for words, got in (
            ("peat moss", "Sphagnum peat"),
            ("rockweed", "Kelp meal"),
            ("lime dolomitic", "Ground limestone, dolomitic"),
        ):
            with self.subTest(words):
                self.assertContains(self.client.get("/shelf/", {"q": words}), got)
        nothing = self.client.get("/shelf/", {"q": "unobtainium"})
        self.assertContains(nothing, "Nothing by that name")

    def test_the_fragment_is_the_list_alone(self):
        response = self.client.get("/shelf/?q=peat", headers={"HX-Target": "shelf-list"})
        self.assertContains(response, "Sphagnum peat")
        self.assertNotContains(response, "<html")
        self.assertIn("HX-Target", response["Vary"])

    def test_parts_doses_and_pages(self):
        self.assertNotContains(self.client.get("/shelf/?show=parts"), "Blood meal")
        self.assertNotContains(self.client.get("/shelf/?show=doses"), "Perlite")
        pages = [self.client.get(f"/shelf/?page={n}") for n in (1, 2, 3, 4, 5)]
        self.assertContains(pages[0], 'href="?page=2"')
        self.assertNotContains(pages[-1], ">On</a>")
        names = [
            row.material.slug
            for page in pages
            for _, rows in page.context["shelf"].groups
            for row in rows
        ]
        self.assertEqual((len(names), len(set(names))), (267, 267))
        self.assertEqual(self.client.get("/shelf/?page=nonsense").status_code, 200)

    def test_a_material_says_where_each_value_comes_from(self):
        page = self.client.get("/shelf/kelp-meal/")
        self.assertContains(page, "Nitrogen, total")
        self.assertContains(page, "from memory</span>")
        self.assertContains(page, "Ascophyllum composition monographs")
        unsure = self.client.get("/shelf/yard-compost/")
        self.assertContains(unsure, "guess</span>")

    def test_label_oxides_at_the_edge_only(self):
        core = Material.objects.get(slug="soft-rock-phosphate").core
        by_name = {row.name: row.value for row in analysis_rows(core, oxide=True)}
        self.assertEqual(by_name["Phosphorus as P2O5"], "20 %")
        self.assertEqual({r.name: r.value for r in analysis_rows(core)}["Phosphorus"], "8.73 %")

    def test_on_and_off_the_shelf_is_remembered_and_logged_once(self):
        for on in ("1", "1", "0", "1"):
            self.client.post("/shelf/perlite/keep/", {"on": on})
        self.assertEqual(ShelfItem.objects.of(yard_of(self.user)).count(), 1)
        self.assertContains(self.client.get("/shelf/?show=mine"), "Perlite")
        self.assertContains(self.client.get("/log/"), "put on the shelf", count=2)

    def test_the_yards_own_material_goes_before_the_shared_one(self):
        make_own_material(self.user, slug="yard-compost")
        self.assertContains(self.client.get("/shelf/yard-compost/"), "<h1>House compost</h1>")

    def test_queries_do_not_grow_with_the_list(self):
        self.client.get("/shelf/")  # analyses are read once and kept
        with self.assertNumQueries(10):
            self.client.get("/shelf/")

    def test_every_material_has_its_page_and_every_figure_its_why(self):
        yard, asked = yard_of(self.user), 0
        for row in Material.objects.filter(yard=None).with_analysis():
            with self.subTest(row.slug):
                read = material_page(row, yard)
                self.assertTrue(read.core.provenance)
                for figure in read.figures.values():
                    self.assertTrue(figure.method and figure.citations and figure.inputs)
                    self.assertTrue(isfinite(figure.value))
                    asked += 1
        self.assertGreater(asked, 500)
        self.assertContains(self.client.get("/shelf/kelp-meal/?why=released"), "two pools that rot")
        self.assertContains(
            self.client.get("/shelf/sphagnum-peat-light/?why=to_ph"), "Buffer capacity"
        )
