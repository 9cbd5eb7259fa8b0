"""Calibrating a hand, weighing a cup, lab reports looked through and taken, the simulated lab."""

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.utils import timezone

from pelk.shelf.models.lab import LabReport, Sample
from pelk.shelf.models.materials import Material, Value
from pelk.shelf.models.measures import HandMeasure
from tests.factories import make_bag, make_heap, make_recipe, make_report, make_user, yard_of

REPORT = """Sample: steps compost
Dry matter 54.0 %
Total N 1.62 % DM
MgO 5.14 % DM
P2O5 0.71 % DM
"""


class Hands(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        make_bag(self.user, "cottonseed-meal")

    def weigh(self, kind="handful", action="keep", **typed):
        data = {
            "of": "cottonseed-meal",
            "unit": "g",
            "state": "as used",
            "action": action,
            "w1": "28",
            "w2": "36",
            "w3": "32",
            **typed,
        }
        return self.client.post(f"/shelf/measures/{kind}/", data)

    def grams_of_a_handful(self, recipe):
        page = self.client.get(recipe.get_absolute_url())
        return page.context["shown"].evaluation.doses[0].grams

    def test_three_handfuls_change_every_recipe_at_once_and_no_batch(self):
        dose = [{"material": "cottonseed-meal", "amount": 2, "unit": "handful"}]
        recipe, batch = (make_recipe(self.user, doses=dose), make_heap(self.user, doses=dose))
        self.assertRedirects(self.weigh(), "/shelf/measures/")
        grams = self.grams_of_a_handful(recipe)
        self.assertAlmostEqual(grams.typ, 64.0, delta=0.01)
        self.assertGreater(grams.low, 0.6 * grams.typ)
        batch.refresh_from_db()
        density = Material.objects.get(yard=None, slug="cottonseed-meal").core.density.typ
        self.assertAlmostEqual(
            batch.evaluation(samples=0).doses[0].grams.typ, 100 * density, places=3
        )
        kept = HandMeasure.objects.get()
        self.client.post(f"/shelf/measures/{kept.pk}/back/")
        self.assertAlmostEqual(self.grams_of_a_handful(recipe).typ, 100 * density, places=3)
        self.client.post(f"/shelf/measures/{kept.pk}/again/")
        self.assertAlmostEqual(self.grams_of_a_handful(recipe).typ, 64.0, delta=0.01)

    def test_what_it_comes_to_is_shown_while_weighing_and_two_are_too_few(self):
        data = {"of": "cottonseed-meal", "unit": "g", "w1": "28", "w2": "96"}
        tried = self.client.post("/shelf/measures/handful/", data, headers={"HX-Target": "tried"})
        self.assertContains(tried, "A handful is 62 g")
        self.assertContains(tried, "is far from the others")
        self.assertNotContains(tried, "<html")
        self.assertContains(self.weigh(w3=""), "Weigh it three times")
        self.assertContains(self.weigh(w2="much"), "Enter one number")
        self.assertContains(self.weigh(of=""), "Say what you weigh")
        self.assertContains(self.weigh(state="wet"), "Enter roughly how much water")
        self.assertFalse(HandMeasure.objects.exists())

    def test_by_volume_and_the_barrow_of_the_yard_follows(self):
        self.weigh("barrow", of="", unit="L", w1="78", w2="80", w3="82")
        yard = yard_of(self.user)
        self.assertAlmostEqual(yard.barrow_l, 80.0)
        page = self.client.get("/shelf/measures/")
        self.assertContains(page, "80")
        self.assertEqual(self.client.get("/shelf/measures/elbow/").status_code, 404)

    def test_wetter_than_usual_is_reckoned_back(self):
        self.weigh(state="wet", moisture="30")
        # 9 % moisture as used: a litre at 30 % weighs (100 - 9) / (100 - 30) as much.
        density = Material.objects.get(slug="cottonseed-meal").core.density.typ
        kept = HandMeasure.objects.get()
        self.assertAlmostEqual(kept.ml, 32 / (density * 91 / 70), places=3)

    def test_a_cup_gives_the_litre_and_its_moisture(self):
        data = {
            "cup_ml": "250",
            "state": "as used",
            "w1": "150",
            "w2": "153",
            "w3": "149",
            "fresh_g": "100",
            "dried_g": "88",
            "action": "keep",
        }
        self.client.post("/shelf/cottonseed-meal/cup/", data)
        core = Material.objects.get(yard=yard_of(self.user)).core
        self.assertAlmostEqual(core.density.typ, 452 / 750, places=3)
        self.assertEqual((core.moisture_pct, core.mark_of("density")), (12.0, "yours"))
        heavy = self.client.post("/shelf/cottonseed-meal/cup/", {**data, "w1": "99999"})
        self.assertContains(heavy, "can’t be")
        half = self.client.post("/shelf/cottonseed-meal/cup/", {**data, "dried_g": ""})
        self.assertContains(half, "Enter both weights, or leave both blank.")


class Reports(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def paste(self, **typed):
        data = {
            "material": "yard-compost",
            "lab": "a valley lab",
            "dated": "2026-11-03",
            "method": "total",
            "basis": "dry",
            "ec_method": "1:5",
            "text": REPORT,
            **typed,
        }
        return self.client.post("/shelf/lab/new/", data)

    def test_a_report_with_one_bad_row_is_taken_once_that_row_is_mended(self):
        self.paste()
        report = LabReport.objects.get()
        page = self.client.get(report.get_absolute_url())
        self.assertContains(page, "3 of 4 rows read well. 1 still waits for you.")
        refused = self.client.post(report.get_absolute_url(), {"action": "take"})
        self.assertContains(refused, "Line 4 needs a decision")
        self.assertFalse(Value.objects.exists())
        odd = self.client.post(report.get_absolute_url(), {"row-4": "other", "other-4": "oops"})
        self.assertContains(odd, "Enter one number")
        for rubbish in ("=abc", "=nan", "maybe"):
            again = self.client.post(
                report.get_absolute_url(), {"row-4": rubbish, "action": "take"}
            )
            self.assertContains(again, "Line 4 needs a decision")
        mended = page.context["preview"].questions[0].answers[0]
        self.client.post(report.get_absolute_url(), {"row-4": mended.value, "action": "take"})
        core = Material.objects.get(yard=yard_of(self.user)).core
        self.assertAlmostEqual(core.composition["N"].typ, 1.62 * 0.54)
        self.assertAlmostEqual(core.composition["Mg"].typ, 5.14 * 0.603 * 0.054, places=3)
        self.assertEqual(core.provenances["N"].dated, "2026-11-03")
        self.assertEqual(core.moisture_pct, 46.0)

    def test_left_out_and_kept_as_it_is(self):
        self.paste()
        report = LabReport.objects.get()
        self.client.post(report.get_absolute_url(), {"row-4": "leave"})
        self.assertContains(self.client.get(report.get_absolute_url()), "left out")
        self.client.post(report.get_absolute_url(), {"row-4": "keep", "action": "take"})
        core = Material.objects.get(yard=yard_of(self.user)).core
        self.assertAlmostEqual(core.composition["Mg"].typ, 1.674, places=3)

    def test_from_a_file_and_files_that_are_none(self):
        file = SimpleUploadedFile("report.csv", b"analyte,value,unit\nTotal N,1.2,%\n")
        self.paste(text="", file=file)
        self.assertEqual(LabReport.objects.get().text.splitlines()[1], "Total N,1.2,%")
        picture = SimpleUploadedFile("report.csv", b"\xff\xd8\xff\xe0 jpeg")
        self.assertContains(self.paste(file=picture), "This file is not text.")
        self.assertContains(self.paste(text="good morning"), "No row could be read")
        self.assertContains(self.paste(material="gold"), "Select a valid choice")

    def test_a_soil_test_is_what_a_plant_can_have(self):
        self.paste(material="topsoil-loam", method="soil", text="P 40 ppm\nK 0.5 meq/100g\npH 6.4")
        self.client.post(LabReport.objects.get().get_absolute_url(), {"action": "take"})
        core = Material.objects.get(yard=yard_of(self.user)).core
        self.assertEqual(set(core.usable), {"P", "K"})

    def test_put_away_with_the_way_back(self):
        report = make_report(self.user)
        page = self.client.post(f"{report.get_absolute_url()}away/", follow=True)
        self.assertContains(page, "Undo")
        self.assertEqual(self.client.get(report.get_absolute_url()).status_code, 404)
        self.client.post(f"{report.get_absolute_url()}restore/")
        self.assertEqual(self.client.get(report.get_absolute_url()).status_code, 200)

    def test_the_simulated_lab_from_sample_to_value(self):
        self.client.post("/shelf/lab/send/", {"material": "yard-compost"})
        sample = Sample.objects.get()
        self.assertGreater(sample.due_at, timezone.now() + timedelta(days=5))
        file = f"/shelf/lab/samples/{sample.pk}/report.csv"
        self.assertEqual(self.client.get(file).status_code, 404)
        self.client.post(f"/shelf/lab/samples/{sample.pk}/hurry/")
        text = self.client.get(file).content.decode()
        self.assertTrue(text.startswith("# Simulated laboratory, invented numbers"))
        self.client.post(f"/shelf/lab/samples/{sample.pk}/read/")
        report = LabReport.objects.get()
        waiting = {
            asked.name: "leave"
            for asked in self.client.get(report.get_absolute_url()).context["preview"].questions
        }
        self.client.post(report.get_absolute_url(), {**waiting, "action": "take"})
        said = Value.objects.filter(mark="lab", note="simulated lab, simulated")
        self.assertGreater(said.count(), 5)
        page = self.client.get(f"/shelf/yard-compost/value/{said[0].fact}/")
        self.assertContains(page, "simulated lab, simulated")
