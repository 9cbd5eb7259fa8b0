"""Old soil: one question a step, a decision with reasons, the prescription on the Bench."""

from datetime import timedelta

from django.test import SimpleTestCase, TestCase
from django.utils import timezone

from pelk.barrow.services import finish_batch, make_batch
from pelk.core.old_soil.questions import STEPS, inspected, next_step, what_would_change
from pelk.pots.models import OldSoil, PotGroup
from pelk.pots.pages.old_soil import old_soil_page
from pelk.pots.services.groups import fill
from pelk.pots.services.old_soil import answer, begin_old_soil
from pelk.ui.soil_pictures import soil_picture
from tests.factories import make_heap, make_old_soil, make_pots, make_user

SOUND = {
    "smell": "earthy",
    "disease": "none",
    "pest": "none",
    "slurry": "gritty",
    "squeeze": "springs",
    "roots_pct": "some",
    "roots_left_in": "yes",
    "crust": "none",
    "is_dry": "takes",
    "ph": 6.3,
    "ec_ds_m": 1.4,
    "seasons": "1",
    "crop_ok": "yes",
    "herbicide": "no",
    "origin": "own",
}


class Steps(SimpleTestCase):
    def test_every_question_is_asked_once_and_grubs_are_counted_only_where_seen(self):
        answers, asked = {}, []
        while (step := next_step(answers)) is not None:
            asked.append(step.key)
            answers[step.key] = "unknown"
        self.assertEqual(len(asked), len(STEPS) - 1)
        self.assertEqual(next_step({**SOUND, "pest": "weevil"}).key, "pest_amount")

    def test_answers_become_an_inspection_and_unknown_stays_unknown(self):
        seen = inspected({**SOUND, "ph": "unknown", "seasons": "0"}, next_crop="leafy")
        self.assertEqual((seen.ph, seen.planted_once, seen.roots_pct), (None, False, 20.0))

    def test_what_would_change_names_other_answers_that_lead_elsewhere(self):
        routes = {d.route for _, _, d in what_would_change(SOUND, 10.0, next_crop="fruiting")}
        self.assertLessEqual({"discard", "air-out", "hold", "minor-part"}, routes)
        self.assertNotIn("dump-and-refresh", routes)

    def test_every_answer_that_is_seen_has_its_drawing(self):
        for step in STEPS[:10]:
            for name, _, _ in step.options:
                self.assertIn("<svg", soil_picture(step.key, name), f"{step.key} {name}")


class Judged(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def judged(self, answers, **changes):
        row = make_old_soil(self.user, **changes)
        for key, said in {**SOUND, **answers}.items():
            self.client.post(f"/pots/old/{row.pk}/answer/", {"key": key, "said": said})
        row.refresh_from_db()
        return row, self.client.get(row.get_absolute_url())

    def test_sour_fine_and_mildew_are_three_prescriptions(self):
        _, sour = self.judged({"smell": "sour"})
        self.assertContains(sour, "It went airless")
        self.assertContains(sour, "days 3, 7 and 14")
        self.assertNotContains(sour, "Open it on the Bench")
        _, fine = self.judged({})
        self.assertContains(fine, "Worth reviving")
        self.assertNotContains(fine, "Take all debris off")
        _, mildew = self.judged({"disease": "leaf"})
        self.assertContains(mildew, "Take all debris off, and grow another family")
        self.assertContains(mildew, "Worth reviving")

    def test_amounts_follow_the_vessel(self):
        _, small = self.judged({}, litres=20.0)
        _, large = self.judged({}, litres=60.0)
        amounts = [dict(page.context["told"].rows)["compost"] for page in (small, large)]
        # By hand: a fifth of compost and 15 % of perlite leave 65 %: 20/0.65*0.2 = 6.2 L.
        self.assertEqual(amounts[0].replace("\u00a0", " "), "6.2 L")
        self.assertEqual(amounts[1].replace("\u00a0", " "), "18 L")
        _, heavy = self.judged({"roots_left_in": "no"}, pot_l=40.0)
        self.assertContains(heavy, "Refresh it where it stands")
        self.assertContains(heavy, "no bagged manure on top")

    def test_the_same_family_is_warned_of(self):
        _, page = self.judged({}, last_family="Solanaceae", next_family="Solanaceae")
        self.assertContains(page, "choose another for three years")
        _, page = self.judged({}, last_family="Solanaceae", next_family="Fabaceae")
        self.assertNotContains(page, "choose another for three years")

    def test_it_is_carried_to_the_bench_with_what_it_still_holds(self):
        heap = make_heap(self.user, days_old=200)
        group = make_pots(self.user, crop="fruiting")
        on = timezone.localdate() - timedelta(days=150)
        fill(
            group=group,
            by=self.user,
            what="mix",
            batch=heap,
            taken_l=110,
            how="filled",
            on=on,
            plants=True,
        )
        row = begin_old_soil(
            yard=group.yard,
            by=self.user,
            group=group,
            name="Tea pots",
            litres=60.0,
            pot_l=4.4,
            made_of="clay",
            next_crop="fruiting",
        )
        self.assertGreater(row.left_mg_l["Ca"], 0)
        for key, said in SOUND.items():
            answer(soil=row, by=self.user, key=key, said=said)
        page = self.client.post(f"/pots/old/{row.pk}/mix/", follow=True)
        self.assertContains(page, "Old soil, Tea pots")
        row.refresh_from_db()
        document = row.recipe.latest.as_document()
        slugs = [part.material for part in document.bulk]
        self.assertIn("yard-compost", slugs)
        self.assertEqual(document.bulk[0].amount, 60.0)
        # The whole amount that was prescribed, not a rate of another volume.
        blend = dict(old_soil_page(row).rows)["balanced organic blend"].replace("\u00a0g", "")
        self.assertAlmostEqual(document.doses[0].amount, float(blend), delta=0.05 * float(blend))
        self.assertEqual(document.doses[0].unit, "g")
        # A heap mixed from it carries the seasons of the old soil along.
        again = make_batch(recipe=row.recipe, by=self.user, reason="a trial")
        filled = fill(
            group=group,
            by=self.user,
            what="renewed",
            batch=again,
            taken_l=50,
            how="filled",
            on=timezone.localdate(),
        )
        self.assertEqual(filled.seasons, 1)
        # And the planting card knows what grew in it.
        finish_batch(batch=again, by=self.user)
        OldSoil.objects.filter(pk=row.pk).update(last_family="Solanaceae")
        url = f"/pots/{group.pk}/plant/?batch={again.pk}"
        self.assertNotContains(self.client.get(url), "Same family")
        PotGroup.objects.filter(pk=group.pk).update(family="solanaceae")
        self.assertContains(self.client.get(url), "Same family")
        self.assertTrue(page.context["shown"], page.context["form"].errors)

    def test_what_must_not_be_mixed_is_not(self):
        row, page = self.judged({"disease": "soil-borne"})
        self.assertContains(page, "Do not keep it")
        self.assertContains(page, "sealed waste")
        page = self.client.post(f"/pots/old/{row.pk}/mix/", follow=True)
        self.assertContains(page, "There is nothing to mix")
        self.assertIsNone(OldSoil.objects.get(pk=row.pk).recipe)

    def test_bad_readings_are_told_and_kept_and_answers_can_be_given_again(self):
        row = make_old_soil(self.user)
        url = f"/pots/old/{row.pk}/answer/"
        page = self.client.post(url, {"key": "ph", "said": "sour"})
        self.assertContains(page, "is not a reading")
        self.assertContains(page, 'value="sour"')
        self.client.post(url, {"key": "smell", "said": "of roses"})
        self.client.post(url, {"key": "ph", "said": "6,4"})
        row.refresh_from_db()
        self.assertEqual(row.answers, {"ph": 6.4})
        page = self.client.get(f"{row.get_absolute_url()}?step=ph")
        self.assertContains(page, 'value="6.4"')
        page = self.client.post("/pots/old/", {"next_crop": "leafy"})
        self.assertContains(page, "Give it a name.")

    def test_two_who_answer_at_once_lose_nothing(self):
        row = make_old_soil(self.user)
        mine, theirs = (OldSoil.objects.get(pk=row.pk) for _ in range(2))
        answer(soil=mine, by=self.user, key="smell", said="earthy")
        answer(soil=theirs, by=self.user, key="pest", said="none")
        row.refresh_from_db()
        self.assertEqual(row.answers, {"smell": "earthy", "pest": "none"})

    def test_little_known_is_provisional_and_the_card_prints(self):
        row = make_old_soil(self.user)
        for key in ("smell", "disease", "pest"):
            answer(soil=row, by=self.user, key=key, said="unknown")
        page = self.client.get(row.get_absolute_url())
        self.assertContains(page, "Not enough is known")
        self.assertContains(self.client.get(f"{row.get_absolute_url()}store/"), "holes open")
