"""Pots: described, filled from a heap, planted; what they really took corrects the next card."""

from datetime import timedelta

from django.test import SimpleTestCase, TestCase
from django.utils import timezone

from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop
from pelk.core.plans.plan import Vessels
from pelk.core.vessels.planting import inoculant_for, own_correction, planting_need, surface_of
from pelk.core.vessels.trade_pots import volume_by_size
from pelk.cure.domain.due import heaps_of
from pelk.pots.models import PotFill, PotGroup
from pelk.pots.selectors import heaps_left, layers_of
from pelk.pots.services.groups import fill
from tests.factories import make_heap, make_pots, make_user, yard_of


class Need(SimpleTestCase):
    def test_pots_take_their_true_volume_before_it_settles(self):
        # By hand: 24 x 5 L x 0.88 = 105.6 L settled, over 0.9.
        need = planting_need(Vessels(kind="round-pot", count=24, litres=5), 0.10)
        self.assertAlmostEqual(need.mix_l, 105.6 / 0.9)
        self.assertAlmostEqual(need.first_l + need.later_l, need.mix_l)
        self.assertAlmostEqual(need.water_l, 105.6 / 4)
        # A pot of 1 L as high as it is wide is 10.84 cm wide: 92.3 cm2.
        self.assertAlmostEqual(surface_of(1.0), 92.3, delta=0.1)
        more = planting_need(Vessels(kind="round-pot", count=24, litres=5), 0.10, 1.2)
        self.assertAlmostEqual(more.mix_l / need.mix_l, 1.2)
        with self.assertRaises(PelkError):
            planting_need(Vessels(kind="round-pot", count=2, litres=5), float("nan"))

    def test_an_inoculant_goes_only_where_a_fungus_lives(self):
        self.assertEqual(inoculant_for(crop("fruiting"), "Solanaceae")[0], (5.0, 10.0))
        for group, family in (
            ("ericaceous", ""),
            ("leafy", "Brassicaceae"),
            ("legumes", "Fabaceae"),
        ):
            self.assertIsNone(inoculant_for(crop(group), family)[0], group)

    def test_ones_own_fillings_correct_from_the_second_on(self):
        self.assertEqual(own_correction([1.3]), 1.0)
        self.assertAlmostEqual(own_correction([1.3, 1.1]), 1.2)
        self.assertEqual(own_correction([9.0, 9.0, 9.0]), 1.4)


class Sizes(SimpleTestCase):
    def test_a_vessel_holds_what_its_inside_says(self):
        # By hand: a round 30 cm pot 30 cm high holds 21.2 L; a box 100 x 20 x 20 holds 40 L;
        # a frustum 30 over 20 cm, 30 high: pi 30/12 (900 + 400 + 600) / 1000 = 14.9 L.
        self.assertAlmostEqual(volume_by_size(30, 30), 21.2, delta=0.01)
        self.assertAlmostEqual(volume_by_size(20, 20, length_cm=100), 40.0)
        self.assertAlmostEqual(volume_by_size(30, 30, 20), 14.92, delta=0.01)
        with self.assertRaises(PelkError):
            volume_by_size(0, 30)


class Pots(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.typed = {
            "name": "Tea pots",
            "count": "24",
            "kind": "round-pot",
            "litres": "5",
            "made_of": "clay",
            "place": "North wall",
            "crop": "ericaceous",
            "plant": "tea camellia",
            "family": "Theaceae",
        }

    def test_a_group_is_described_and_changed_and_bad_input_stays(self):
        page = self.client.post("/pots/new/", {**self.typed, "litres": ""})
        self.assertContains(page, "Enter what one pot holds")
        self.assertContains(page, 'value="North wall"')
        self.client.post("/pots/new/", self.typed)
        row = PotGroup.objects.get()
        page = self.client.get(row.get_absolute_url())
        self.assertContains(page, "106\u00a0L")
        sized = {**self.typed, "litres": "", "top": "30", "height": "30"}
        self.client.post(f"/pots/{row.pk}/edit/", sized)
        row.refresh_from_db()
        self.assertAlmostEqual(row.litres, 21.2, delta=0.01)
        trade = {**self.typed, "kind": "trade-5", "litres": "99", "count": "3"}
        self.client.post(f"/pots/{row.pk}/edit/", trade)
        row.refresh_from_db()
        self.assertEqual((row.kind, row.litres, row.count), ("trade-5", None, 3))
        self.assertContains(self.client.get("/pots/"), "North wall")

    def test_a_plant_by_its_name_brings_its_group_and_family(self):
        plain = {**self.typed, "crop": "", "family": ""}
        self.client.post("/pots/new/", {**plain, "plant": "Aubergines"})
        row = PotGroup.objects.get()
        self.assertEqual((row.crop, row.family), ("fruiting", "Solanaceae"))
        for plant, says in (("moonwort", "is not known here"), ("", "Enter the plant")):
            page = self.client.post("/pots/new/", {**plain, "plant": plant})
            self.assertContains(page, says)
        # What was chosen stands, whatever the name says.
        self.client.post(f"/pots/{row.pk}/edit/", {**self.typed, "plant": "aubergine"})
        row.refresh_from_db()
        self.assertEqual((row.crop, row.family), ("ericaceous", "Theaceae"))

    def test_mulch_goes_by_its_depth(self):
        heap = make_heap(self.user, days_old=60)
        url = f"/pots/{make_pots(self.user).pk}/plant/?batch={heap.pk}"
        for typed, deep in (("5", "5\u00a0cm deep, away"), ("400", "3\u00a0cm deep, away")):
            self.assertContains(self.client.get(f"{url}&mulch={typed}"), deep)
        self.assertContains(self.client.get(f"{url}&mulch=400"), "Mulch is 0 to 15 deep.")

    def test_a_pot_is_built_in_layers_with_what_goes_into_its_hole(self):
        heap = make_heap(self.user, days_old=60)
        row = make_pots(self.user, count=4, litres=12.0, crop="fruiting", plant="aubergine")
        url = f"/pots/{row.pk}/plant/?batch={heap.pk}"
        hole = "0.3 L worm castings, 5 g steamed bone meal"
        asked = self.client.get(url, {"batch": heap.pk, "hole": hole, "half": "on", "mulch": "2"})
        card = asked.context["card"]
        kinds = [r.kind for r in card.rows]
        self.assertEqual(kinds[:2], ["mulch", "top up"])
        self.assertEqual(kinds[-3:], ["hole", "lift", "lift"])
        self.assertIn("roots", kinds)
        self.assertEqual([r.is_later for r in card.rows[:2]], [True, True])
        for words in ("In the planting hole", "barrow load", "Stakes go in before the roots"):
            self.assertContains(asked, words)
        # Acid lovers are offered no root fungus, and a bad piece is asked about beside its field.
        row.crop, row.plant, row.family = "ericaceous", "tea camellia", "Theaceae"
        row.save()
        page = self.client.get(url)
        self.assertNotIn("roots", [r.kind for r in page.context["card"].rows])
        wrong = self.client.get(url, {"batch": heap.pk, "hole": "moon dust 3 g"})
        self.assertContains(wrong, "is not known here")
        self.assertContains(wrong, "moon dust 3 g")
        data = {"batch": heap.pk, "taken": "24", "how": "filled", "hole": hole, "half": "on"}
        self.client.post(f"/pots/{row.pk}/plant/", data)
        done = row.deeds.filter(kind="fed").values_list("text", flat=True)
        self.assertEqual(len(done), 2)
        self.assertTrue(all("in the planting hole" in text for text in done))
        row.refresh_from_db()
        if row.soil:
            self.assertEqual(row.soil.events.filter(do="dressed").count(), 2)
            self.assertLess(row.soil.litres, 0.7 * row.pot_l)

    def test_an_unready_heap_is_named_and_what_is_missing(self):
        hot = [{"material": "blood-meal", "amount": 3, "unit": "g/L"}]
        heap = make_heap(self.user, days_old=0, doses=hot)
        row = make_pots(self.user)
        page = self.client.get(f"/pots/{row.pk}/plant/?batch={heap.pk}")
        self.assertContains(page, "is not ready by the forecast")
        self.assertContains(page, "short")
        stranger = make_heap(make_user("other@cove.example", "Cove"))
        page = self.client.get(f"/pots/{row.pk}/plant/?batch={stranger.pk}")
        self.assertIsNone(page.context["card"])

    def test_filling_counts_the_heap_down_and_teaches_the_next_card(self):
        heap = make_heap(self.user, days_old=60)
        row = make_pots(self.user, count=4)
        url = f"/pots/{row.pk}/plant/?batch={heap.pk}"
        before = self.client.get(url).context["card"]
        reckoned = before.reckoned_l
        left = heaps_left(yard_of(self.user), timezone.localdate())[0].left_l
        for _ in range(2):
            data = {"batch": heap.pk, "taken": str(1.2 * reckoned), "filled": "4", "how": "filled"}
            self.client.post(f"/pots/{row.pk}/plant/", data)
        after = heaps_left(yard_of(self.user), timezone.localdate())[0].left_l
        self.assertAlmostEqual(left - after, min(2.4 * reckoned, left), delta=0.01)
        self.assertEqual(self.client.get(url).context["card"].factor, "1.20")
        row.refresh_from_db()
        self.assertEqual(row.planted_on, timezone.localdate())
        fill = PotFill.objects.first()
        self.client.post(f"/pots/fills/{fill.pk}/delete/")
        self.assertEqual(self.client.get(url).context["card"].factor, "1.00")
        self.client.post(f"/pots/fills/{fill.pk}/restore/")
        self.assertEqual(PotFill.objects.live().count(), 2)

    def test_old_soil_carries_its_age_along(self):
        row = make_pots(self.user)
        data = {"taken": "20", "how": "layer", "what": "last year's soil", "seasons": "2"}
        self.client.post(f"/pots/{row.pk}/plant/", {**data, "what": ""})
        self.assertFalse(PotFill.objects.exists())
        self.client.post(f"/pots/{row.pk}/plant/", data)
        self.assertContains(self.client.get(row.get_absolute_url()), "has been used for 2 seasons")
        row.refresh_from_db()
        self.assertIsNone(row.planted_on)

    def test_a_heap_that_is_planted_out_is_due_no_more(self):
        heap = make_heap(self.user, days_old=60)
        row, yard = make_pots(self.user), yard_of(self.user)
        whole = heap.shown["volume"]["litres"]
        for taken in (0.5 * whole, 0.5 * whole):
            self.assertIn(heap, heaps_of(yard))
            self.assertTrue(self.client.get(f"/cure/{heap.pk}/").context["due"])
            fill(
                group=row,
                by=self.user,
                what="mix",
                batch=heap,
                taken_l=taken,
                how="filled",
                on=timezone.localdate(),
            )
        self.assertNotIn(heap, heaps_of(yard))
        page = self.client.get(f"/cure/{heap.pk}/")
        self.assertEqual((page.context["due"], page.context["redose"]), ([], None))
        self.assertContains(page, f'<a href="{row.get_absolute_url()}">{row.name}</a>')
        self.assertContains(page, ", planted</p>")
        self.assertNotContains(page, "Plant anyway")
        # Said by mistake, it is taken back on its schedule.
        self.client.post(f"/cure/{heap.pk}/decide/", {"key": "plant:1", "action": "back"})
        self.assertTrue(self.client.get(f"/cure/{heap.pk}/").context["due"])

    def test_layers_lie_as_they_were_filled_since_the_last_time_anew(self):
        row = make_pots(self.user)
        today = timezone.localdate()
        for days, how, what in (
            (900, "filled", "worn out"),
            (40, "filled", "old mix"),
            (10, "topped", "castings"),
        ):
            fill(
                group=row,
                by=self.user,
                what=what,
                taken_l=20.0,
                how=how,
                on=today - timedelta(days=days),
            )
        layers = layers_of(list(row.fills.filter(deleted_at=None)))
        self.assertEqual([layer.words.split(",")[0] for layer in layers], ["old mix", "castings"])
        page = self.client.get(row.get_absolute_url())
        self.assertContains(page, "In a pot, from below: old mix")
