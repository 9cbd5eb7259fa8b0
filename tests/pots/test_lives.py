"""A soil's life in some pots: what is written goes on in it, is undone with it, and is followed."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.core.advice.feedings import Feeding
from pelk.core.advice.judged_life import judge_life, standing
from pelk.core.base.errors import PelkError
from pelk.core.curing.due_states import TaskState
from pelk.cure.services.readings import record_reading
from pelk.log.models import Entry
from pelk.pots.domain.due import FeedRow, rows_of
from pelk.pots.domain.feeding import left_in, plan_of
from pelk.pots.domain.feeds import feeds_of
from pelk.pots.domain.outlook import warned_of
from pelk.pots.models import PotDeed
from pelk.pots.services.groups import DEEDS, decide, fill, write_deed
from pelk.shelf.models.bags import Bag
from pelk.soils.domain.living import follow
from pelk.soils.models import Soil, SoilEvent
from pelk.soils.services.soils import write_event
from tests.factories import make_bag, make_heap, make_pots, make_user, yard_of

FED = [
    {"material": "lime-dolomitic-ground", "amount": 3, "unit": "g/L"},
    {"material": "feather-meal", "amount": 3, "unit": "g/L"},
]
BULK = [
    {"material": "sphagnum-peat-light", "parts": 6},
    {"material": "yard-compost", "parts": 2},
    {"material": "perlite", "parts": 2},
]


class PotLife(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.today = timezone.localdate()
        self.heap = make_heap(self.user, days_old=120, bulk=BULK, doses=FED)
        self.group = make_pots(self.user, name="Wall tubs", crop="fruiting", count=4, litres=12.0)

    def ago(self, days):
        return self.today - timedelta(days=days)

    def fill(self, days=100, **more):
        filled = {
            "what": "Kumquat tub mix",
            "taken_l": 48.0,
            "how": "filled",
            "batch": self.heap,
            "plants": True,
            **more,
        }
        fill(group=self.group, by=self.user, on=self.ago(days), **filled)
        self.group.refresh_from_db()
        return self.group.soil

    def write(self, kind, days, **figures):
        return write_deed(
            group=self.group, by=self.user, kind=kind, on=self.ago(days), figures=figures
        )

    def give(self, said, action="write", **typed):
        address = f"{self.group.get_absolute_url()}fed/"
        return self.client.post(address, {"said": said, "action": action, **typed}, follow=True)

    def test_a_filling_begins_a_soil_and_what_is_done_goes_on_in_it(self):
        soil = self.fill()
        self.assertEqual((soil.batch, soil.mixed_on), (self.heap, self.ago(120)))
        self.write("reading", 60, ph=6.4, ec_ds_m=1.2)
        self.write("harvest", 30, kg=6.0)
        self.write("rinsed", 20, litres=5.0)
        self.write("cleared", 5)
        done = list(soil.events.values_list("do", flat=True))
        self.assertEqual(done, ["planted", "read", "harvested", "rinsed", "cleared"])
        picked = soil.events.get(do="harvested")
        self.assertAlmostEqual(picked.data["kg"], 1.5)  # of four pots
        followed = follow(soil, self.today, samples=0)
        self.assertGreater(followed.elements["N"].balance["taken"], 0)
        page = self.client.get(self.group.get_absolute_url())
        self.assertContains(
            page, "leaves the range" if b"leaves the range" in page.content else "pH"
        )
        for word in ("Nitrogen", "Potassium", "Salts", "I fed", "Nothing grows in it"):
            self.assertContains(page, word)

    def test_what_is_struck_out_leaves_the_soil_and_comes_back_with_it(self):
        soil = self.fill()
        before = follow(soil, self.today, samples=0).elements["N"].free[-1]
        make_bag(self.user, slug="blood-meal", kg=2.0)
        self.give("30 g blood meal each", on=self.ago(10).isoformat())
        self.assertAlmostEqual(Bag.objects.get().left, 1.88)
        deed = PotDeed.objects.get(kind="fed")
        fed = follow(soil, self.today, samples=0).elements["N"].free[-1]
        self.assertGreater(fed, before + 5)
        DEEDS.put_away(deed, by=self.user)
        self.assertAlmostEqual(follow(soil, self.today, samples=0).elements["N"].free[-1], before)
        self.assertAlmostEqual(Bag.objects.get().left, 2.0)  # what was not given is in the bag
        deed.refresh_from_db()
        DEEDS.bring_back(deed, by=self.user)
        self.assertAlmostEqual(Bag.objects.get().left, 1.88)
        self.assertAlmostEqual(follow(soil, self.today, samples=0).elements["N"].free[-1], fed)

    def test_a_feed_is_looked_at_before_it_is_written(self):
        self.fill()
        make_bag(self.user, slug="blood-meal", kg=2.0)
        page = self.give("20 g blood meal each", action="look")
        effect = page.context["effect"]
        self.assertGreater(effect.nitrogen_mg_l, 20)
        self.assertEqual(effect.harms, ())
        self.assertEqual(SoilEvent.objects.filter(do="dressed").count(), 0)
        # Too much of it burns, and that is said before it is written.
        harmful = self.give("300 g blood meal each", action="look").context["effect"]
        self.assertGreater(harmful.ec[1], harmful.ec[0] + 1)
        self.assertNotEqual(harmful.harms, ())
        self.give("20 g blood meal each")
        event = SoilEvent.objects.get(do="dressed")
        self.assertEqual((event.data["grams"], event.data["placed"]), (20.0, "on_top"))
        self.assertAlmostEqual(Bag.objects.get().left, 2.0 - 4 * 0.020)
        self.assertIn("20 g blood meal each", PotDeed.objects.get(kind="fed").says)

    def test_one_tap_waters_and_teaches_how_often(self):
        self.fill()
        for days in (8, 6, 3, 1):
            self.write("watered", days)
        page = self.client.post(f"{self.group.get_absolute_url()}watered/", follow=True)
        self.assertContains(page, "watered today. About every 2 days so far.")
        again = self.client.post(f"{self.group.get_absolute_url()}watered/", follow=True)
        self.assertContains(again, "it stands written already")
        self.assertEqual(PotDeed.objects.filter(kind="watered").count(), 5)
        self.assertEqual(SoilEvent.objects.filter(do="watered").count(), 0)
        month = self.client.get(f"{self.group.get_absolute_url()}air/").context["reading"].months[0]
        low, high = (int(x) for x in (month[1].split(" to ") * 2)[:2])
        self.assertTrue(low <= 2 <= high, month)

    def test_amounts_as_said(self):
        self.fill()
        for said, typed, do, key, expected in (
            ("200 g kelp meal", {"share": "all"}, "dressed", "grams", 50.0),
            ("8 g per pot kelp meal", {"share": "all"}, "dressed", "grams", 8.0),
            ("1 oz kelp meal each", {}, "dressed", "grams", 28.35),
            ("3 mL/L fish emulsion", {"litres": "2"}, "poured", "litres", 2.0),
        ):
            with self.subTest(said):
                page = self.give(said, action="look", **typed)
                given = page.context["given"]
                self.assertEqual(given.do, do)
                self.assertAlmostEqual(given.data[key], expected, delta=0.01)
        page = self.give("2 g/L lime", action="look")
        self.assertContains(page, "Which “lime” is it?")
        chosen = self.give("8 g lime each", action="look", meant="lime-calcitic-ground")
        self.assertEqual(chosen.context["given"].slug, "lime-calcitic-ground")

    def test_what_cannot_be_is_a_sentence_and_nothing_is_lost(self):
        soil = self.fill()
        tomorrow = (self.today + timedelta(days=1)).isoformat()
        for said, typed, sentence in (
            ("moon dust 8 g", {}, "is not known here"),
            ("kelp meal", {}, "How much of it?"),
            ("8 g kelp meal", {"on": tomorrow}, "in the future"),
            ("8 g kelp meal", {"on": self.ago(300).isoformat()}, "before the soil was mixed"),
            ("8 g kelp meal and 2 g blood meal", {}, "one feed at a time"),
        ):
            with self.subTest(sentence):
                page = self.give(said, **typed)
                self.assertContains(page, sentence)
                self.assertContains(page, said)
        self.assertEqual(soil.events.count(), 1)
        with self.assertRaises(PelkError):
            write_event(soil=soil, on=self.ago(200), do="rinsed", data={"litres": 1.0})

    def test_a_reading_moves_what_is_believed(self):
        soil = self.fill()
        unread = follow(soil, self.today, samples=0).ph[1]
        high = float(unread[soil.day_of(self.ago(40))]) + 0.6
        self.write("reading", 40, ph=round(high, 2))
        soil.refresh_from_db()
        read = follow(soil, self.today, samples=0).ph[1]
        self.assertGreater(read[-1], unread[-1] + 0.05)
        lesson = Soil.objects.get().lesson
        self.assertTrue(lesson["key"])
        # It is remembered, until something before the reading changes.
        follow(soil, self.today, samples=0)
        self.assertEqual(Soil.objects.get().lesson, lesson)

    def test_topping_up_and_filling_anew(self):
        soil = self.fill()
        litres = follow(soil, self.today, samples=0).litres[-1]
        self.fill(days=20, how="topped", taken_l=8.0, plants=False)
        self.assertEqual(self.group.soil, soil)
        more = follow(soil, self.today, samples=0).litres[-1]
        self.assertGreater(more, litres + 1)
        self.fill(days=3)
        self.assertNotEqual(self.group.soil, soil)

    def test_soil_of_no_heap_is_not_followed(self):
        fill(
            group=self.group,
            by=self.user,
            what="bagged",
            taken_l=40.0,
            how="filled",
            on=self.ago(50),
            plants=True,
        )
        self.assertIsNone(self.group.soil)
        self.assertEqual(self.client.get(self.group.get_absolute_url()).context["soil"], None)
        self.assertContains(self.give("20 g blood meal each", action="look"), "Not known what")

    def test_the_log_sorts_by_when_it_happened(self):
        self.fill()
        self.write("reading", 40, ph=6.2)
        entry = Entry.objects.of(yard_of(self.user)).get(text__contains="reading")
        self.assertEqual(timezone.localdate(entry.at), self.ago(40))
        self.assertTrue(entry.is_written_later)
        self.assertContains(self.client.get("/log/"), "written")

    def test_what_is_left_comes_from_its_course_and_the_judge_sees_ahead(self):
        soil = self.fill()
        left = left_in(self.group, self.today)
        followed = follow(soil, self.today, samples=0)
        self.assertAlmostEqual(left["N free"], followed.elements["N"].free[-1])
        ahead = follow(soil, self.today + timedelta(days=60), samples=0)
        day = soil.day_of(self.today)
        for finding in judge_life(ahead, day, ahead.life.days):
            self.assertTrue(finding.text)

    def test_raw_manure_moves_the_harvest_guard(self):
        self.fill()
        self.give("40 g raw cow manure each", on=self.ago(3).isoformat())
        page = self.client.get(self.group.get_absolute_url())
        self.assertContains(page, "was given")
        self.assertGreater(page.context["not_before"], self.today)

    def test_half_now_and_half_later(self):
        self.group.plants = 2.0
        self.group.save()
        soil = self.fill(taken_l=24.0)
        self.assertLess(soil.litres, 0.6 * self.group.pot_l)
        self.assertEqual(soil.events.get(do="planted").data["plants"], 2.0)
        self.fill(days=60, how="topped", taken_l=24.0, plants=False)
        litres = follow(soil, self.today, samples=0).litres
        self.assertAlmostEqual(litres[-1], 2 * litres[0], delta=0.4)

    def test_a_done_row_of_the_plan_is_in_the_soil(self):
        soil = self.fill()
        for kind, amounts, do in (
            ("dress", {"g_per_pot": 6.0}, "dressed"),
            ("liquid", {"ml_per_l": 4.0, "l_per_pot": 1.0}, "poured"),
            ("water", {"l_per_pot": 5.0}, "rinsed"),
            ("check", {}, None),
        ):
            with self.subTest(kind):
                feeding = Feeding(kind, self.ago(9), kind, "a feed", "it is time", **amounts)
                row = FeedRow(self.group, feeding, kind, TaskState.TODAY)
                deed = decide(row=row, by=self.user, kind="done", on=self.ago(9))
                self.assertEqual(deed.event and deed.event.do, do)
        self.assertEqual(soil.events.count(), 4)

    def test_the_plan_feeds_from_the_shelf_and_a_feed_answers_its_row(self):
        for slug in ("feather-meal", "fish-emulsion", "epsom-salt"):
            make_bag(self.user, slug=slug, kg=3.0)
        self.group.yard.normals_c = [18.0] * 12
        self.group.yard.save()
        self.heap = make_heap(self.user, days_old=60, bulk=BULK, doses=FED[:1])
        self.group.strength = 0.5
        self.group.save()
        self.fill(days=30)
        rows = plan_of(self.group, self.today).rows
        dressed = [r for r in rows if r.kind == "dress"]
        self.assertEqual({r.what for r in dressed}, {"Feather meal"})
        liquids = [r for r in rows if r.kind == "liquid"]
        # 175 mg/L for a hungry crop, at half of it, of 5 % at 1.15 kg/L.
        material = feeds_of(self.group).liquid.material
        each_ml = 10 * material.composition["N"].typ * material.density.typ
        self.assertAlmostEqual(liquids[0].ml_per_l, 87.5 / each_ml, delta=0.01)
        # Done by the plan, the shelf counts down; struck out, it is given back.
        held = next(r for r in rows_of(self.group, [], self.today) if r.feeding.kind == "dress")
        on = self.today - timedelta(days=1)
        deed = decide(row=held, by=self.user, kind="done", on=on)
        left = Bag.objects.get(material__slug="feather-meal").left
        self.assertAlmostEqual(left, 3.0 - 4 * held.feeding.g_per_pot / 1000)
        DEEDS.put_away(deed, by=self.user)
        self.assertAlmostEqual(Bag.objects.get(material__slug="feather-meal").left, 3.0)
        # Given otherwise, about the day of a row, it answers that row.
        near = next(r for r in rows_of(self.group, [], self.today) if r.feeding.kind == "liquid")
        day = min(near.feeding.on, self.today)
        given = self.give("2 mL/L fish emulsion", litres="1", on=day.isoformat())
        self.assertEqual(given.status_code, 200)
        kept = PotDeed.objects.get(kind="fed")
        self.assertEqual(kept.key, near.key)

    def test_today_says_what_lies_ahead_of_the_pots(self):
        self.fill()
        write_deed(
            group=self.group, by=self.user, kind="reading", on=self.ago(2), figures={"ph": 8.2}
        )
        self.group.refresh_from_db()
        self.assertTrue(self.group.outlook)
        page = self.client.get("/today/")
        self.assertContains(page, "Ahead of the pots")
        self.assertContains(page, self.group.outlook[0]["text"][:20])
        ahead = warned_of(yard_of(self.user), self.ago(90))
        self.assertIn(self.group.outlook[0]["text"], ahead[0].summary)

    def test_potting_on_keeps_the_ball_and_mixes_by_charge(self):
        soil = self.fill()
        address = f"{self.group.get_absolute_url()}pot-on/"
        typed = {"heap": self.heap.pk, "kind": "tub", "litres": "30", "kept": "8"}
        self.assertContains(self.client.get(address), "Potted on")
        small = self.client.post(address, {**typed, "litres": "8"})
        self.assertContains(small, "no more than the root ball")
        self.group.refresh_from_db()
        self.assertEqual(self.group.litres, 12.0)
        self.client.post(address, {**typed, "on": self.ago(10).isoformat()})
        self.group.refresh_from_db()
        self.assertEqual((self.group.litres, self.group.soil), (30.0, soil))
        followed = follow(soil, self.today, samples=0)
        self.assertAlmostEqual(followed.litres[-1], self.group.pot_l, delta=0.2)
        self.assertGreater(followed.elements["K"].balance["lost"], 0)  # what was cut from the ball

    def test_what_was_read_in_cure_goes_along(self):
        for days, ph in ((110, 5.9), (105, 6.1)):
            at = timezone.now() - timedelta(days=days)
            record_reading(batch=self.heap, by=self.user, ph=ph, taken_at=at)
        soil = self.fill()
        read = list(soil.events.filter(do="read").values_list("on", "data__ph"))
        self.assertEqual(read, [(self.ago(110), 5.9), (self.ago(105), 6.1)])
        page = self.client.get(self.group.get_absolute_url())
        self.assertEqual(len(page.context["soil"].picture.points), 2)

    def test_planted_again_in_the_same_soil_and_the_same_family_is_warned_of(self):
        self.group.plant, self.group.family = "peppers", "Solanaceae"
        self.group.save()
        soil = self.fill()
        self.write("cleared", 20)
        address = f"{self.group.get_absolute_url()}write/"
        typed = {"kind": "planted", "on": self.ago(5).isoformat()}
        self.assertContains(self.client.post(address, typed), "Which plant?")
        page = self.client.post(address, {**typed, "text": "tomatoes"}, follow=True)
        self.assertContains(page, "of the same family")
        self.group.refresh_from_db()
        self.assertEqual((self.group.soil, self.group.family), (soil, "Solanaceae"))
        self.assertEqual(soil.events.filter(do="planted").count(), 2)
        again = self.client.post(address, {**typed, "text": "lettuce"}, follow=True)
        self.assertNotContains(again, "of the same family")
        self.group.refresh_from_db()
        self.assertEqual(self.group.crop, "leafy")

    def test_two_crops_share_a_pot(self):
        self.group.plant = "aubergine"
        self.group.save()
        soil = self.fill(days=30)
        alone = follow(soil, self.today, samples=0).elements["N"]
        day = self.ago(20).isoformat()
        typed = {"kind": "planted", "text": "basil", "beside": "on", "on": day}
        self.client.post(f"{self.group.get_absolute_url()}write/", typed)
        self.group.refresh_from_db()
        self.assertEqual((self.group.plant, self.group.crop), ("aubergine and basil", "fruiting"))
        together = follow(soil, self.today, samples=0)
        self.assertEqual(len(standing(together.life, together.life.days)), 2)
        self.assertGreater(together.elements["N"].wanted[-1], alone.wanted[-1])
