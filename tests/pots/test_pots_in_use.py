"""Pots in use: drained, lifted, guarded before harvest, and seen by the year."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.bench.models import Recipe
from pelk.pots.models import PotDeed
from pelk.pots.services import groups as services
from tests.factories import make_deed, make_heap, make_pots, make_user, yard_of


class InUse(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.today = timezone.localdate()

    def planted(self, days=60, batch=None, **changes):
        group = make_pots(self.user, **{"crop": "leafy", "plant": "lettuce", **changes})
        services.fill(
            group=group,
            by=self.user,
            what="mix",
            batch=batch,
            taken_l=100,
            how="filled",
            on=self.today - timedelta(days=days),
            plants=True,
        )
        return group

    def test_a_drain_test_says_the_air_and_feeds_the_recipe(self):
        group = self.planted(batch=make_heap(self.user, days_old=90))
        url = f"/pots/{group.pk}/air/"
        before = self.client.get(url).context["reading"]
        self.assertIsNone(before.tested)
        # 4 L to the line, 480 mL ran out: 12 % air.
        page = self.client.post(f"{url}drained/", {"volume": "4000", "drained": "480"}, follow=True)
        got = page.context["reading"]
        self.assertAlmostEqual(got.tested, 0.12)
        self.assertEqual(got.state, "short")
        self.assertGreater(got.share, before.share)
        recipe = Recipe.objects.get()
        number = recipe.latest.number
        page = self.client.post(f"{url}open-up/", follow=True)
        self.assertContains(page, "air for Tea pots")
        document = Recipe.objects.get().latest.as_document()
        whole = sum(row.parts for row in document.bulk)
        perlite = next(row.parts for row in document.bulk if row.material == "perlite")
        self.assertAlmostEqual(perlite / whole, got.share, delta=0.01)
        self.assertEqual(Recipe.objects.get().latest.number, number + 1)

    def test_a_low_wide_bed_is_reckoned_by_its_own_height(self):
        heap = make_heap(self.user, days_old=90)
        tall = self.planted(batch=heap, litres=40.0)
        low = self.planted(batch=heap, litres=40.0, height_cm=12.0)
        self.assertAlmostEqual(low.soil_height_cm, 12 * 0.88)
        # 35.2 L over 10.56 cm are a third of a square metre.
        self.assertAlmostEqual(low.surface_cm2, 3333, delta=1)
        air = [
            self.client.get(f"/pots/{g.pk}/air/").context["reading"].reckoned for g in (tall, low)
        ]
        self.assertLess(air[1], air[0])

    def test_a_lift_test_sets_the_months_by_this_pot(self):
        group = self.planted(batch=make_heap(self.user, days_old=90))
        url = f"/pots/{group.pk}/air/"
        reckoned = self.client.get(url).context["reading"]
        self.assertFalse(reckoned.is_weighed)
        data = {"wet": "3.4", "dry": "2.4", "days": "8"}
        got = self.client.post(f"{url}lifted/", data, follow=True).context["reading"]
        self.assertTrue(got.is_weighed)
        self.assertAlmostEqual(got.weight.between_l, 1.0)
        name, days = got.months[0]
        self.assertEqual(name, f"{self.today:%b}")
        low, high = (int(x) for x in days.split(" to "))
        self.assertTrue(low < 8 < high, days)

    def test_an_american_yard_lifts_in_pounds(self):
        group = self.planted()
        group.yard.system = "us"
        group.yard.save()
        page = self.client.post(
            f"/pots/{group.pk}/air/lifted/", {"wet": "10", "dry": "6"}, follow=True
        )
        self.assertContains(page, "10\u00a0lb")
        kept = PotDeed.objects.get(kind="lifted").figures
        self.assertAlmostEqual(kept["wet_kg"], 4.536, delta=0.001)

    def test_an_american_yard_types_inches_and_pounds(self):
        group = self.planted()
        group.yard.system = "us"
        group.yard.save()
        self.client.post(f"/pots/{group.pk}/write/", {"kind": "harvest", "kg": "2"})
        self.assertAlmostEqual(
            PotDeed.objects.get(kind="harvest").figures["kg"], 0.907, delta=0.001
        )
        self.assertContains(self.client.get(group.get_absolute_url()), "harvest, 2\u00a0lb")
        self.assertContains(self.client.get(f"/pots/{group.pk}/seasons/"), "<b>2\u00a0lb</b>")
        said = {
            "name": "Box",
            "count": "1",
            "kind": "trough",
            "made_of": "wood",
            "crop": "leafy",
            "top": "10",
            "length": "40",
            "height": "8",
        }
        self.client.post(f"/pots/{group.pk}/edit/", said)
        group.refresh_from_db()
        # 10 x 40 x 8 inches are 3200 cubic inches, 52.4 L.
        self.assertAlmostEqual(group.litres, 52.44, delta=0.01)
        self.assertAlmostEqual(group.height_cm, 20.32)

    def test_bad_tests_are_told_beside_their_field_and_kept(self):
        url = f"/pots/{self.planted().pk}/air/"
        page = self.client.post(f"{url}drained/", {"volume": "400", "drained": "500"})
        self.assertContains(page, "between nothing and the pot")
        self.assertContains(page, 'value="500"')
        page = self.client.post(f"{url}lifted/", {"wet": "2", "dry": "3"})
        self.assertContains(page, "less than the weight when watered")
        page = self.client.post(f"{url}open-up/", follow=True)
        self.assertContains(page, "These pots have no recipe")
        self.assertEqual(PotDeed.objects.exclude(kind="planted").count(), 0)

    def test_a_form_that_came_back_can_be_reloaded(self):
        group = self.planted()
        for part in ("write/", "air/drained/", "air/lifted/"):
            self.client.post(f"/pots/{group.pk}/{part}", {"volume": "x"})
            self.assertEqual(self.client.get(f"/pots/{group.pk}/{part}").status_code, 302, part)

    def test_a_harvest_too_early_after_manure_asks_why(self):
        group = self.planted()
        make_deed(self.user, group, kind="manure")
        page = self.client.get(group.get_absolute_url())
        first = self.today + timedelta(days=120)
        self.assertEqual(page.context["not_before"], first)
        harvest = {"kind": "harvest", "kg": "1.5"}
        page = self.client.post(f"/pots/{group.pk}/write/", harvest)
        self.assertContains(page, "Raw manure: not before")
        self.assertContains(page, 'value="1.5"')
        self.client.post(f"/pots/{group.pk}/write/", {**harvest, "text": "for the hens"})
        self.assertEqual(PotDeed.objects.get(kind="harvest").text, "for the hens")
        flowers = self.planted(crop="annuals")
        make_deed(self.user, flowers, kind="manure")
        self.assertEqual(self.client.get(flowers.get_absolute_url()).context["guards"], [])

    def test_the_year_gathers_what_filled_fed_and_bore(self):
        group = self.planted(days=400, batch=make_heap(self.user, days_old=420))
        for kind, figures in (
            ("harvest", {"kg": 1.5}),
            ("harvest", {"kg": 0.5}),
            ("stars", {"stars": 4}),
        ):
            make_deed(self.user, group, kind=kind, figures=figures)
        page = self.client.get(f"/pots/{group.pk}/seasons/")
        now, before = (page.context["page"].object_list[0], page.context["page"].object_list[-1])
        self.assertEqual((now.kg, now.stars), (2.0, 4))
        self.assertEqual(before.crops[0].text, "lettuce")
        self.assertContains(page, "Start next year’s mix from this one")
        self.assertContains(page, "4 of 5 stars")

    def test_a_wet_winter_takes_nitrate_from_what_stands_in_the_rain(self):
        group = self.planted()
        yard = group.yard
        yard.normals_c = [4, 4, 6, 9, 12, 15, 17, 17, 14, 11, 7, 5]
        yard.save()
        url = group.get_absolute_url()
        wet = self.client.get(f"{url}?rain=450").context["winter"]
        self.assertIn("N", wet.rule.leave_out)
        self.assertNotIn("P", wet.rule.leave_out)
        # The notes' winter: 450 mm on 25 cm less 60 is 96 % of the nitrate; this pot is lower.
        self.assertEqual(wet.lost[0][0], "nitrate")
        self.assertGreater(wet.rule.lost["N"], 0.9)
        dry = self.client.get(f"{url}?rain=450&covered=on").context["winter"]
        self.assertEqual(dry.rule.leave_out, ())
        page = self.client.get(f"{url}?rain=lots")
        self.assertContains(page, 'value="lots"')

    def test_a_stranger_sees_none_of_it(self):
        group = self.planted()
        self.client.force_login(make_user("other@cove.example", "Cove"))
        for part in ("air/", "seasons/"):
            self.assertEqual(self.client.get(f"/pots/{group.pk}/{part}").status_code, 404)
        self.assertEqual(yard_of(self.user), group.yard)
