"""Own values over the library: said, taken back, had back; materials of one's own."""

from django.test import TestCase

from pelk.shelf.models.materials import Analysis, Material, ShelfItem
from pelk.shelf.services.materials import load_library
from tests.factories import make_bag, make_heap, make_recipe, make_user, say, yard_of


def core_of(user, slug):
    """Return a material as the yard's recipes see it."""
    from pelk.shelf.selectors import known_materials

    return known_materials(yard_of(user), [slug])[slug].core


class OwnValues(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def post_value(self, slug, fact, **typed):
        data = {"mark": "label", "typical": "", "dated": "", "note": "", **typed}
        return self.client.post(f"/shelf/{slug}/value/{fact}/", data)

    def test_a_label_changes_the_yards_recipes_and_no_one_elses(self):
        stranger = make_user("other@cove.example", "Upper Cove")
        data = {"label_n": "6,1", "label_p": "2.5", "label_k": "", "available": "on"}
        self.client.post("/shelf/cottonseed-meal/label/", data)
        mine, theirs = (core_of(u, "cottonseed-meal") for u in (self.user, stranger))
        self.assertEqual((mine.composition["N"].typ, mine.mark_of("N")), (6.1, "label"))
        self.assertAlmostEqual(mine.composition["P"].typ, 2.5 * 0.4364, places=3)
        self.assertEqual((mine.usable, mine.provenances.keys()), (("P",), {"N", "P"}))
        self.assertEqual(theirs.composition["N"].typ, 6.5)
        self.assertContains(self.client.get("/shelf/cottonseed-meal/"), "bag label")
        self.assertNotContains(self.client.get("/shelf/?q=cottonseed"), "<tr class='grp'>")
        listed = self.client.get("/shelf/?q=cottonseed").context["shelf"].groups
        self.assertEqual([len(rows) for _, rows in listed], [1])

    def test_the_bench_counts_with_it_and_its_why_says_so(self):
        recipe = make_recipe(
            self.user, doses=[{"material": "cottonseed-meal", "amount": 2, "unit": "g/L"}]
        )
        say(self.user, "cottonseed-meal", N=3.0)
        page = self.client.get(f"{recipe.get_absolute_url()}?why=N")
        self.assertContains(page, "bag label")

    def test_an_older_value_is_had_back_step_by_step(self):
        say(self.user, "kelp-meal", N=1.3)
        row = say(self.user, "kelp-meal", "lab", N=1.6)
        newest, _ = row.values.all()
        self.client.post(f"/shelf/values/{newest.pk}/back/")
        self.assertEqual(core_of(self.user, "kelp-meal").composition["N"].typ, 1.3)
        self.client.post(f"/shelf/values/{newest.pk}/again/")
        self.assertEqual(core_of(self.user, "kelp-meal").composition["N"].typ, 1.6)
        self.client.post("/shelf/kelp-meal/value/N/forget/")
        core = core_of(self.user, "kelp-meal")
        self.assertEqual((core.composition["N"].typ, core.mark_of("N")), (1.0, "book"))
        page = self.client.get("/shelf/kelp-meal/value/N/")
        self.assertContains(page, "Use again", count=2)

    def test_bad_values_get_their_sentence_and_keep_what_was_typed(self):
        for fact, typed, sentence in (
            ("N", {"typical": "lots"}, "Enter one number"),
            ("N", {"typical": "140"}, "Found 140 %, allowed: from 0 to 100 %."),
            ("ph", {"typical": "6", "low": "7"}, "This must not be more than the value."),
            ("C", {"typical": "99"}, "ll contents together"),
        ):
            with self.subTest(fact, **typed):
                page = self.post_value("cottonseed-meal", fact, **typed)
                self.assertContains(page, sentence)
                self.assertContains(page, f'value="{typed["typical"]}"')
        self.assertFalse(Material.objects.filter(yard=yard_of(self.user)).exists())

    def test_other_units_are_brought_to_the_facts_own(self):
        self.post_value("cottonseed-meal", "P", typical="2.4", unit="% P2O5")
        self.post_value("cottonseed-meal", "Fe", typical="180", unit="mg/kg (ppm)", mark="lab")
        self.post_value("cottonseed-meal", "density", typical="610", unit="g/L", mark="yours")
        core = core_of(self.user, "cottonseed-meal")
        self.assertAlmostEqual(core.composition["P"].typ, 1.0474, places=3)
        self.assertAlmostEqual(core.composition["Fe"].typ, 0.018)
        self.assertAlmostEqual(core.density.typ, 0.61)

    def test_a_batch_begun_keeps_the_values_of_its_day(self):
        batch = make_heap(self.user)
        before = batch.evaluation(samples=0).nutrients["K"].total.value
        say(self.user, "kelp-meal", K=20.0)
        batch.refresh_from_db()
        self.assertEqual(batch.evaluation(samples=0).nutrients["K"].total.value, before)

    def test_a_newer_library_goes_under_the_own_values(self):
        say(self.user, "kelp-meal", N=1.3)
        shared = Material.objects.get(yard=None, slug="kelp-meal")
        facts = {**shared.analyses.get().facts, "notes": "older"}
        Analysis.objects.filter(material=shared).update(facts=facts)
        self.assertEqual(load_library(), 1)
        own = core_of(self.user, "kelp-meal")
        self.assertNotEqual(own.notes, "older")
        self.assertEqual(own.composition["N"].typ, 1.3)

    def test_bags_and_the_shelf_come_along_to_the_own_row(self):
        make_bag(self.user, "kelp-meal", kg=2)
        own = say(self.user, "kelp-meal", N=1.3)
        item = ShelfItem.objects.of(yard_of(self.user)).get()
        self.assertEqual((item.material, item.left_kg), (own, 2.0))
        self.assertEqual(own.bags.count(), 1)


class OwnMaterials(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_added_like_another_it_is_a_guess_until_said(self):
        data = {
            "name": "Steps compost",
            "like": "yard-compost",
            "label_n": "0.9",
            "label_p": "",
            "label_k": "",
        }
        self.assertRedirects(self.client.post("/shelf/add/", data), "/shelf/steps-compost/")
        core = core_of(self.user, "steps-compost")
        self.assertEqual(core.family, "compost")
        self.assertEqual([core.mark_of(f) for f in ("N", "ph")], ["label", "guess"])
        self.assertContains(self.client.get("/shelf/?show=own"), "Steps compost")

    def test_like_nothing_needs_a_family_and_knows_nothing(self):
        bare = self.client.post("/shelf/add/", {"name": "Pond sludge"})
        self.assertContains(bare, "Choose the family, or what it is most like.")
        self.client.post("/shelf/add/", {"name": "Pond sludge", "family": "manure", "role": "bulk"})
        page = self.client.get("/shelf/pond-sludge/")
        self.assertContains(
            page, "What a litre of it weighs is not known. Weigh a cup to find out."
        )
        self.assertContains(page, "Not known, so left out")

    def test_two_of_a_name_and_reserved_names_get_their_own_address(self):
        for _ in range(2):
            self.client.post("/shelf/add/", {"name": "Bags", "like": "kelp-meal"})
        own = Material.objects.filter(yard=yard_of(self.user)).order_by("pk")
        self.assertEqual([m.slug for m in own], ["bags-2", "bags-3"])

    def test_put_away_with_the_way_back(self):
        self.client.post("/shelf/add/", {"name": "Old heap", "like": "yard-compost"})
        page = self.client.post("/shelf/old-heap/away/", follow=True)
        self.assertContains(page, "Undo")
        self.assertNotContains(self.client.get("/shelf/?show=own"), "Old heap")
        self.client.post("/shelf/old-heap/back/")
        self.assertContains(self.client.get("/shelf/?show=own"), "Old heap")
        say(self.user, "kelp-meal", N=1.2)
        self.assertEqual(self.client.post("/shelf/kelp-meal/away/").status_code, 404)

    def test_the_label_says_its_elements_as_it_is_typed(self):
        says = self.client.get("/shelf/label/", {"label_n": "5", "label_p": "3", "label_k": "2"})
        self.assertContains(says, "N 5 %, P 1.31 %, K 1.66 %")
        odd = self.client.get("/shelf/label/", {"label_n": "five"})
        self.assertContains(odd, "Enter numbers")
        much = self.client.get("/shelf/label/", {"label_n": "90", "label_p": "20"})
        self.assertContains(much, "come to 110 % together")
