"""Feeding: planned when pots are planted, ticked, and kept by the yard."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.pots.domain.due import due_of_pots
from pelk.pots.models import PotDeed, PotGroup
from pelk.pots.services import groups as services
from tests.factories import make_deed, make_heap, make_pots, make_user, yard_of

WARM = [15.0] * 12
MEAL = [{"material": "soybean-meal", "amount": 4, "unit": "g/L"}]


class Feeding(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.yard = yard_of(self.user)
        self.yard.normals_c = WARM
        self.yard.save()
        self.today = timezone.localdate()

    def planted(self, days=40, batch=None, **changes):
        group = make_pots(self.user, crop="fruiting", **changes)
        services.fill(
            group=group,
            by=self.user,
            what="old mix",
            taken_l=100,
            how="filled",
            batch=batch,
            on=self.today - timedelta(days=days),
            plants=True,
        )
        return group

    def test_planting_makes_the_plan_and_a_heap_feeds_before_it_runs_out(self):
        empty = make_pots(self.user)
        self.assertContains(
            self.client.get(empty.get_absolute_url()), "when these pots are planted"
        )
        bare = self.planted()
        self.assertContains(
            self.client.get(bare.get_absolute_url()), "did not come from one of your heaps"
        )
        heap = make_heap(self.user, days_old=60, doses=MEAL)
        fed = self.planted(days=0, batch=heap)
        soil = self.client.get(fed.get_absolute_url()).context["plan"].soil
        self.assertGreater(sum(soil), 0)
        self.assertEqual(sum(self.client.get(bare.get_absolute_url()).context["plan"].soil), 0)

    def test_a_row_is_ticked_taken_back_and_skipped(self):
        group = self.planted()
        url = f"/pots/{group.pk}/decide/"
        row = next(r for r in due_of_pots(self.yard, self.today) if r.feeding.kind == "liquid")
        for _ in range(2):
            self.client.post(url, {"key": row.key, "action": "done"})
        deed = PotDeed.objects.get(key=row.key)
        self.assertIn("mL/L", deed.text)
        # The yard's own can; by spoon and cup in an American yard.
        self.assertIn("in a can of 10\u00a0L", deed.text)
        row.group.yard.system = "us"
        self.assertIn("cup", row.amount)
        self.assertNotIn(row.key, [r.key for r in due_of_pots(self.yard, self.today)])
        self.client.post(url, {"key": row.key, "action": "back"})
        self.assertIn(row.key, [r.key for r in due_of_pots(self.yard, self.today)])
        page = self.client.post(url, {"key": "2020:nothing", "action": "done"}, follow=True)
        self.assertContains(page, "no longer in the plan")

    def test_today_gathers_pots_and_one_tap_does_it(self):
        group = self.planted(days=8)
        page = self.client.get("/today/")
        row = next(r for r in page.context["day"].pots if r.feeding.kind == "top up")
        self.assertContains(page, "Top up with the same mix")
        done = {"key": row.key, "action": "done", "next": "/today/"}
        self.assertRedirects(self.client.post(f"/pots/{group.pk}/decide/", done), "/today/")
        kinds = [r.feeding.kind for r in self.client.get("/today/").context["day"].pots]
        self.assertNotIn("top up", kinds)
        away = {**done, "next": "https://elsewhere.example/"}
        self.assertRedirects(
            self.client.post(f"/pots/{group.pk}/decide/", away), f"/pots/{group.pk}/"
        )

    def test_the_calendar_brings_feeding_too_and_drops_what_is_done(self):
        group = self.planted(days=8)
        text = self.client.get("/cure/heaps.ics").content.decode()
        self.assertIn("SUMMARY:Tea pots: Top up with the same mix", text)
        row = next(r for r in due_of_pots(self.yard, self.today) if r.feeding.kind == "top up")
        self.client.post(f"/pots/{group.pk}/decide/", {"key": row.key, "action": "done"})
        text = self.client.get("/cure/heaps.ics").content.decode()
        self.assertNotIn("Top up", text)
        self.assertIn("Tea pots: Liquid:", text)

    def test_pots_planted_before_there_was_a_plan_get_one_when_looked_at(self):
        group = self.planted(days=8)
        PotGroup.objects.update(plan=None)
        kinds = [r.feeding.kind for r in due_of_pots(self.yard, self.today)]
        self.assertIn("top up", kinds)
        group.refresh_from_db()
        self.assertTrue(group.plan)

    def test_another_yards_pots_are_not_due_here(self):
        self.planted(days=8)
        other = yard_of(make_user("other@cove.example", "Cove"))
        self.assertEqual(due_of_pots(other, self.today), [])

    def test_salts_that_were_read_ask_for_water_until_struck_out(self):
        group = self.planted()
        data = {"kind": "reading", "ec_ds_m": "4,6"}
        self.client.post(f"/pots/{group.pk}/write/", data)
        kinds = [r.feeding.kind for r in due_of_pots(self.yard, self.today)]
        self.assertIn("water", kinds)
        deed = PotDeed.objects.get(kind="reading")
        page = self.client.post(f"/pots/deeds/{deed.pk}/delete/", follow=True)
        self.assertContains(page, "struck out")
        kinds = [r.feeding.kind for r in due_of_pots(self.yard, self.today)]
        self.assertNotIn("water", kinds)

    def test_bad_input_is_told_beside_its_field_and_kept(self):
        group = self.planted()
        data = {"kind": "reading", "ec_ds_m": "salty", "text": "run-off, five pots"}
        page = self.client.post(f"/pots/{group.pk}/write/", data)
        self.assertContains(page, "run-off, five pots")
        self.assertEqual(PotDeed.objects.exclude(kind="planted").count(), 0)
        page = self.client.post(f"/pots/{group.pk}/write/", {"kind": "note"})
        self.assertContains(page, "Enter the note.")

    def test_tea_has_its_clock(self):
        group = self.planted()
        for hours, extra, word in (
            (3, {}, "Use it now"),
            (30, {}, "Over 24 hours"),
            (3, {"sweetened": "on"}, "germs may have grown"),
        ):
            data = {"kind": "tea", "age_h": str(hours), **extra}
            page = self.client.post(f"/pots/{group.pk}/write/", data, follow=True)
            self.assertContains(page, word)

    def test_plant_only_growers_are_given_no_animal(self):
        self.yard.feeding_style = {"inputs": "plant and mineral only"}
        self.yard.save()
        group = self.planted()
        group.refresh_from_db()
        text = str(group.plan["rows"]).lower()
        self.assertNotIn("poultry", text)
        self.assertNotIn("fish", text)
        make_deed(self.user, group, kind="note", text="looks well")
