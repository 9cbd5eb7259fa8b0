"""The Bench: trying out, keeping, and bad input that loses nothing."""

import re
from html import unescape

from django.test import TestCase

from pelk.bench.models import Recipe, RecipeVersion
from pelk.yards.models import Yard
from tests.factories import bench_posted, make_bag, make_recipe, make_user, yard_of

TYPED = {
    "name": "Terrace mix",
    "crop": "ericaceous",
    "how": "pots",
    "count": "24",
    "kind": "round-pot",
    "litres": "5",
    "volume": "50",
    "volume_unit": "L",
    "part": "10",
    "part_unit": "L",
    "spare": "5",
    "part_material": ["sphagnum-peat-light", "perlite"],
    "part_parts": ["4", "1"],
    "dose_material": ["sulfur-dusting"],
    "dose_amount": ["0.1"],
    "dose_unit": ["g/L"],
    "dose_per": [""],
}
# What is typed instead, and the sentence that must stand on the page.
BAD = [
    ({"part_parts": ["-4", "1"]}, "Parts can’t be -4"),
    ({"part_parts": ["four", "1"]}, "Enter one number"),
    ({"part_parts": ["1e308", "1"]}, "Parts can’t be so large a number"),
    ({"part_parts": ["nan", "1"]}, "Enter one number"),
    ({"part_parts": ["", "1"]}, "Enter one number"),
    ({"count": "0"}, "Number of pots can’t be 0. Enter a number from 1"),
    ({"count": "1.5"}, "whole number of pots"),
    ({"count": "-3"}, "Number of pots"),
    ({"litres": "0"}, "Pot volume can’t be 0"),
    ({"how": "litres", "volume": "0"}, "Mixed volume can’t be 0"),
    ({"how": "litres", "volume": "1e308"}, "Mixed volume"),
    ({"how": "part", "part": "1e308"}, "Mixed volume"),
    ({"how": "litres", "volume_unit": "firkin"}, "firkin"),
    ({"kind": "boot"}, "boot"),
    ({"crop": "triffids"}, "triffids"),
    ({"spare": "900"}, "Spare"),
    ({"dose_amount": ["0.9.1"]}, "Enter one number"),
    ({"dose_amount": ["-1"]}, "Dose amount"),
    ({"dose_amount": ["1e308"]}, "Dose amount"),
    ({"dose_amount": ["99999"]}, "Dose can’t be 99999"),
    ({"dose_unit": ["stone"]}, "stone"),
    ({"dose_unit": ["g"], "dose_per": ["perlite"]}, "whole batch"),
    ({"dose_per": ["pumice"]}, "pumice"),
    ({"part_material": ["sphagnum-peat-light", "moon-dust"]}, "moon-dust"),
    ({"part_material": ["perlite", "perlite"]}, "there twice"),
    ({"part_material": [], "part_parts": []}, "at least one part"),
    ({"name": "  "}, "Give the mix a name"),
    ({"temperature": "warm"}, "Enter one number"),
    ({"temperature": "1e308"}, "Temperature can’t be"),
    ({"alkalinity": "-5"}, "Alkalinity"),
    ({"weekly": "900"}, "Water a week"),
]


class BenchCase(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def post(self, url="/bench/new/", headers=None, **changes):
        return self.client.post(url, bench_posted({**TYPED, **changes}), headers=headers)


class TryingOut(BenchCase):
    def test_the_fragment_is_the_page_without_its_frame(self):
        response = self.post(headers={"HX-Target": "bench"})
        self.assertNotContains(response, "<html")
        self.assertContains(response, 'id="graded"')
        self.assertContains(response, 'role="group" aria-label="Cutaway: Sphagnum peat')
        self.assertEqual(Recipe.objects.count(), 0)

    def test_an_edit_is_answered_without_the_fan_and_the_fan_follows(self):
        quick = self.post(headers={"HX-Target": "bench"})
        self.assertIn("bench-read", quick.headers["HX-Trigger-After-Settle"])
        self.assertNotContains(quick, 'class="spread"')
        then = self.post(headers={"HX-Target": "ahead"})
        self.assertContains(then, 'class="spread"')
        self.assertContains(then, 'id="ahead"')
        self.assertNotContains(then, 'id="bench"')

    def test_where_it_lies_moves_the_ready_day(self):
        def ready(temperature):
            page = self.post(
                part_material=["sphagnum-peat-light", "yard-compost", "perlite"],
                part_parts=["4", "2", "2"],
                crop="leafy",
                temperature=temperature,
                dose_material=["alfalfa-meal"],
                dose_amount=["6"],
            )
            text = page.content.decode()
            return int(re.search(r"Ready for.*?<b>day (\d+)</b>", text, re.S)[1])

        self.assertLess(ready("22"), ready("10"))

    def test_the_page_works_without_scripts(self):
        page = self.post()
        self.assertContains(page, "<html")
        self.assertContains(page, 'id="graded"')

    def test_rows_are_added_and_taken_out(self):
        added = self.post(action="add", add_part="pumice", add_dose="kelp-meal")
        self.assertContains(added, "Pumice</a>")
        self.assertContains(added, "Kelp meal</a>")
        gone = self.post(action="drop-part:1:perlite:2")
        self.assertNotContains(gone, "Perlite, coarse/medium</a>")
        for stale in (
            "drop-part:99",
            "drop-part:1",
            "drop-part:1:perlite:3",
            "drop-part:0:perlite:2",
        ):
            self.assertContains(self.post(action=stale), "Perlite, coarse/medium</a>")

    def test_a_ready_bag_is_set_beside_it(self):
        yard = yard_of(self.user)
        make_bag(self.user, "sphagnum-peat-light", price="12")
        make_bag(self.user, "perlite", price="9")
        make_bag(self.user, "sulfur-dusting", price="4")
        page = self.post(bag_l="40", bag_price="9.50", how="pots", count="10", litres="5")
        told = " ".join(page.context["shown"].beside)
        for words in (
            "Ready-bagged instead, 40",
            "a litre against",
            "A pot of it",
            "All of it: 2 bags",
        ):
            self.assertIn(words, told)
        Yard.objects.filter(pk=yard.pk).update(system="us")
        told = " ".join(self.post(bag_l="10", bag_price="9.50").context["shown"].beside)
        self.assertIn("a gallon against", told)
        self.assertNotIn("litre", told)

    def test_every_number_can_be_asked_why(self):
        for key, words in (
            ("ph_settled", "take away the acid of sulfur"),
            ("mixed_volume", "kept over"),
            ("loose_volume", "fines fall between"),
            ("wet_mass", "30 cm heap"),
            ("mass", "weight by volume"),
            ("N", "percent × 10"),
            ("N_free", "set free by day 180"),
            ("ph_forecast", "where the mix holds what is left"),
            ("ready", "three days running"),
            ("ec_later", "no crop has taken anything"),
            ("air", "a drain test is better"),
            ("c_to_n", "never averaged"),
        ):
            with self.subTest(key):
                page = self.post(action=f"why:{key}")
                self.assertContains(page, "Sources")
                self.assertContains(page, words)
        self.assertNotContains(self.post(action="why:nonsense"), "Sources")

    def test_an_empty_bench_waits(self):
        page = self.client.get("/bench/new/")
        self.assertContains(page, "the results appear here")
        self.assertContains(page, "need a pH of")

    def test_stops_and_cautions_are_said(self):
        page = self.post(dose_amount=["2"])
        self.assertContains(page, "Will harm")
        self.assertContains(page, "too acid for acid lovers")
        self.assertNotContains(page, "gv-fix")
        fixes = self.post(dose_amount=["2"], headers={"HX-Target": "graded"})
        self.assertContains(fixes, "gv-fix")
        self.assertNotContains(fixes, "<html")
        posted = re.search(r'value="(fix:[^"]+)"', fixes.content.decode())[1]
        mended = self.post(dose_amount=["2"], action=unescape(posted))
        self.assertNotContains(mended, "Will harm")
        untouched = self.post(dose_amount=["2"], action="fix:[{nonsense")
        self.assertContains(untouched, "too acid for acid lovers")

    def test_no_number_is_claimed_where_the_curve_only_bounds_the_sum(self):
        page = self.post(dose_amount=["6"])
        self.assertContains(page, "pH goes to under 3")
        self.assertContains(self.post(dose_amount=["3"], action="why:ph_settled"), "<b>under 3</b>")

    def test_us_units(self):
        yard = yard_of(self.user)
        yard.system = "us"
        yard.save()
        page = self.post(how="litres", volume="10", volume_unit="gal")
        self.assertContains(page, "Makes <b>10\u00a0gal</b>")
        self.assertContains(page, "\u00a0oz</b>")


class BadInput(BenchCase):
    def test_each_gets_its_sentence_and_nothing_is_lost(self):
        for change, sentence in BAD:
            for action in ("", "save", "make", "why:N"):
                with self.subTest(action=action, **change):
                    response = self.post(action=action, **change)
                    self.assertEqual(response.status_code, 200)
                    self.assertContains(response, sentence)
                    self.assertContains(
                        response,
                        'value="0.1"'
                        if "dose_amount" not in change
                        else f'value="{change["dose_amount"][0]}"',
                    )
        self.assertEqual(RecipeVersion.objects.count(), 0)

    def test_an_empty_recipe_is_not_kept(self):
        for action in ("save", "make"):
            page = self.client.post("/bench/new/", {"name": "Air", "action": action})
            self.assertContains(page, "at least one part")
        self.assertEqual(Recipe.objects.count(), 0)

    def test_a_recipe_of_only_doses_keeps_the_doses(self):
        page = self.post(part_material=[], part_parts=[])
        self.assertContains(page, "doses need something to go in")
        self.assertContains(page, "Elemental sulfur")

    def test_hostile_bodies_are_answered(self):
        for body in (
            {"part_material": ["<script>x</script>"], "part_parts": ["1"]},
            {"part_material": ["perlite"] * 400, "part_parts": ["1"] * 400},
            {"name": "x" * 5000, "part_material": ["perlite"], "part_parts": ["1"]},
            {"action": "drop-part:-1"},
            {"how": "sideways"},
            {"action": "drop-part:²", "part_material": ["perlite"], "part_parts": ["1"]},
            {"name": "nul\0nul", "part_material": ["perlite"], "part_parts": ["1"]},
            {"part_parts": ["1"], "dose_amount": ["1"], "dose_unit": ["g/L"]},
        ):
            with self.subTest(str(body)[:40]):
                response = self.client.post("/bench/new/", bench_posted(body))
                self.assertEqual(response.status_code, 200)
                self.assertNotContains(response, "<script>x")


class Keeping(BenchCase):
    def test_save_makes_a_version_and_an_unchanged_save_none(self):
        self.post(action="save")
        recipe = Recipe.objects.get()
        self.assertEqual(recipe.latest.number, 1)
        self.post(recipe.get_absolute_url(), action="save")
        self.assertEqual(recipe.versions.count(), 1)
        self.post(recipe.get_absolute_url(), action="save", part_parts=["3", "1"])
        self.assertEqual(recipe.versions.count(), 2)
        self.assertContains(self.client.get(recipe.get_absolute_url()), 'value="3"')
        self.assertContains(self.client.get("/log/"), "Terrace mix saved as v2")

    def test_what_was_kept_comes_back_as_it_was_typed(self):
        self.post(
            action="save",
            how="part",
            part="2",
            part_unit="gal",
            crop="annuals",
            dose_unit=["tbsp/gal"],
            dose_per=["perlite"],
        )
        page = self.client.get(Recipe.objects.get().get_absolute_url())
        self.assertContains(page, '<option value="gal" selected>')
        self.assertContains(page, "<option selected>tbsp/gal</option>")
        self.assertContains(page, '<option value="perlite" selected>')
        self.assertContains(page, '<option value="annuals" selected>')

    def test_copy_rename_delete_and_undo(self):
        recipe = make_recipe(self.user)
        self.client.post(f"/bench/{recipe.pk}/copy/")
        copy = Recipe.objects.exclude(pk=recipe.pk).get()
        self.assertEqual(copy.name, "Kumquat tub mix copy")
        self.client.post(f"/bench/{copy.pk}/rename/", {"name": "Kumquat, leaner"})
        self.client.post(f"/bench/{copy.pk}/rename/", {"name": " "})
        copy.refresh_from_db()
        self.assertEqual(copy.name, "Kumquat, leaner")
        gone = self.client.post(f"/bench/{copy.pk}/delete/", follow=True)
        self.assertContains(gone, f"/bench/{copy.pk}/restore/")
        self.assertEqual(self.client.get(f"/bench/{copy.pk}/").status_code, 404)
        self.client.post(f"/bench/{copy.pk}/restore/")
        self.assertContains(self.client.get("/bench/"), "Kumquat, leaner")

    def test_the_bench_asks_few_questions_of_the_database(self):
        recipe = make_recipe(self.user)
        self.client.get(recipe.get_absolute_url())  # analyses are read once and kept
        with self.assertNumQueries(10):
            self.client.get(recipe.get_absolute_url())
