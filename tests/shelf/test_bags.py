"""Buying, counting down, counting again, side by side, the buying list."""

from decimal import Decimal
from io import BytesIO

from django.test import TestCase
from openpyxl import load_workbook

from pelk.barrow.services import finish_batch, make_batch
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import Material, ShelfItem
from tests.factories import make_bag, make_recipe, make_user, yard_of


class Buying(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def buy(self, slug, **typed):
        data = {
            "kind": "sack",
            "size": "5",
            "unit": "kg",
            "count": "1",
            "price": "12.50",
            "bought_on": "2026-11-03",
            **typed,
        }
        return self.client.post(f"/shelf/{slug}/buy/", data)

    def test_a_bale_in_cubic_feet_is_kept_loosened(self):
        self.buy("sphagnum-peat-light", kind="bale", size="3.8", unit="ft3", price="€21,50")
        bag = Bag.objects.get()
        self.assertAlmostEqual(bag.holds, 3.8 * 28.316846592 * 1.9, places=3)
        self.assertEqual((bag.measure, bag.price), ("L", Decimal("21.50")))
        page = self.client.get("/shelf/?sort=price")
        self.assertContains(page, "€0.105/L")
        self.assertContains(page, "204")

    def test_dry_quarts_pounds_and_bricks(self):
        self.buy("worm-castings", kind="bag", size="16", unit="dry-qt")
        self.buy("kelp-meal", size="5", unit="lb")
        self.buy("coir-brick", kind="brick", size="0.65", unit="kg", count="3")
        held = {b.material.slug: (round(b.left, 3), b.measure) for b in Bag.objects.all()}
        self.assertEqual(held["worm-castings"], (17.620, "L"))
        self.assertEqual(held["kelp-meal"], (2.268, "kg"))
        self.assertEqual(held["coir-brick"], (1.95, "kg"))
        loose = ShelfItem.objects.get(material__slug="coir-brick").left_l
        self.assertAlmostEqual(loose, 1.95 * 13.5, delta=0.01)

    def test_bad_input_stands_beside_its_field_and_nothing_is_bought(self):
        for typed, sentence in (
            ({"size": "a lot"}, "Enter one number"),
            ({"kind": "bale", "unit": "kg"}, "is sold by litres or the like"),
            ({"price": "dear"}, "Enter an amount"),
            ({"bought_on": "2031-01-01"}, "That date is in the future"),
            ({"label_n": "60", "label_p": "60"}, "come to 120 % together"),
            ({"count": "0"}, "greater than or equal to 1"),
        ):
            with self.subTest(**typed):
                self.assertContains(self.buy("kelp-meal", **typed), sentence)
        self.assertFalse(Bag.objects.exists())

    def test_a_bags_own_label_counts_and_goes_with_it(self):
        self.buy("feather-meal", label_n="11", label_p="0", label_k="0")
        bag = Bag.objects.get()
        self.assertEqual(bag.core.composition["N"].typ, 11.0)
        self.assertEqual(bag.material.core.mark_of("N"), "label")
        self.assertContains(self.client.get(bag.get_absolute_url()), "Its own label")

    def test_counted_again_and_put_away_with_the_way_back(self):
        bag = make_bag(self.user)
        self.client.post(bag.get_absolute_url(), {"left": "3,5", "text": "mice"})
        bag.refresh_from_db()
        self.assertEqual(bag.left, 3.5)
        page = self.client.get(bag.get_absolute_url())
        self.assertContains(page, "mice")
        self.assertContains(self.client.get("/shelf/?show=low"), "Cottonseed")
        bad = self.client.post(bag.get_absolute_url(), {"left": "-1"})
        self.assertContains(bad, "allowed: from 0")
        self.assertContains(self.client.post(f"{bag.get_absolute_url()}away/", follow=True), "Undo")
        self.assertIsNone(ShelfItem.objects.get().left_kg)
        self.client.post(f"{bag.get_absolute_url()}restore/")
        self.assertEqual(ShelfItem.objects.get().left_kg, 3.5)


class CountingDown(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_a_mixed_batch_takes_from_the_oldest_bag_and_never_below_nothing(self):
        old = make_bag(self.user, "kelp-meal", kg=0.04)
        new = make_bag(self.user, "kelp-meal", kg=2)
        recipe = make_recipe(self.user)  # 60 g of kelp
        batch = make_batch(recipe=recipe, by=self.user)
        self.assertEqual(Bag.objects.get(pk=new.pk).left, 2)
        for _ in range(2):
            finish_batch(batch=batch, by=self.user)
        left = [Bag.objects.get(pk=b.pk).left for b in (old, new)]
        self.assertEqual(left[0], 0)
        self.assertAlmostEqual(left[1], 1.98, places=3)
        self.assertContains(self.client.get(new.get_absolute_url()), batch.code)
        self.assertAlmostEqual(ShelfItem.objects.get().left_kg, 1.98, places=3)

    def test_prices_reach_the_bench(self):
        for slug, price in (("coir-pith-loose", "10"), ("pumice", "20"), ("kelp-meal", "30")):
            make_bag(self.user, slug, kg=10, price=price)
        recipe = make_recipe(self.user)
        self.assertContains(self.client.get(recipe.get_absolute_url()), "a litre.")
        make_bag(self.user, "kelp-meal", kg=1, price=None)
        Bag.objects.filter(material__slug="pumice").update(price=None)
        page = self.client.get(recipe.get_absolute_url())
        self.assertContains(page, "no price for pumice")


class SideBySide(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_four_bags_the_cheapest_nitrogen_named(self):
        rows = [
            make_bag(self.user, slug, kg=kg, price=price)
            for slug, kg, price in (
                ("cottonseed-meal", 20, "62"),
                ("feather-meal", 5, "19.50"),
                ("blood-meal", 2.5, "14.80"),
                ("worm-castings", 10, None),
            )
        ]
        query = "&".join(f"bag={b.pk}" for b in rows)
        table = self.client.get(f"/shelf/bags/beside/?{query}").context["table"]
        by_name = {line.name: line for line in table.lines}
        self.assertEqual(by_name["a gram of nitrogen"].best, 1)
        self.assertTrue(table.says[1].text.startswith("Best value: €0.0312"))
        self.assertIn("No price recorded", table.says[3].text)
        bars = dict(table.bars)["Nitrogen"]
        self.assertEqual(bars[0].text, "210 g")  # 10 / 62 of 20 kg at 6.5 %
        own = self.client.get("/shelf/cottonseed-meal/").context["read"]
        self.assertIn("Feather meal is better value", own.value)

    def test_nothing_ticked_asks(self):
        page = self.client.get("/shelf/bags/beside/", follow=True)
        self.assertContains(page, "Tick two to four bags")


class BuyingList(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.recipe = make_recipe(self.user)  # 60 L: coir 3, pumice 1, kelp 60 g
        self.client.post(f"{self.recipe.get_absolute_url()}plan/", {"planned": "1"})

    def lines(self):
        got = self.client.get("/shelf/buying/").context["list"]
        return {line.material.slug: line for line in got.lines}, got

    def test_whole_packages_less_what_is_there_and_what_is_over(self):
        make_bag(self.user, "kelp-meal", kg=0.05, price="4.00")
        make_bag(self.user, "pumice", kg=50, price="12")
        lines, got = self.lines()
        self.assertEqual(lines["kelp-meal"].packages, 1)
        self.assertAlmostEqual(lines["kelp-meal"].left_kg, 0.04, places=4)
        self.assertFalse(lines["pumice"].is_short)
        self.assertTrue(lines["coir-pith-loose"].is_short)
        self.assertEqual(
            (got.total, got.unpriced), (Decimal("4.00"), ["Coir pith, washed and buffered, loose"])
        )

    def test_as_a_file_for_others(self):
        make_bag(self.user, "kelp-meal", kg=0.05, price="4.00")
        Material.objects.filter(slug="pumice").update(name="=SUM(A1:A9)")
        rows = self.client.get("/shelf/buying/list.csv").content.decode().splitlines()
        self.assertTrue(rows[0].startswith("material,needed_L,needed_kg"))
        self.assertTrue(any(row.startswith("'=SUM") for row in rows))
        sheet = load_workbook(BytesIO(self.client.get("/shelf/buying/list.xlsx").content)).active
        kelp = next(
            r for r in sheet.iter_rows(values_only=True) if r[0] and r[0].startswith("Kelp meal")
        )
        self.assertEqual((kelp[5], float(kelp[8])), (1, 4.0))

    def test_a_batch_begun_takes_the_recipes_place_and_a_mixed_one_leaves(self):
        batch = make_batch(recipe=self.recipe, by=self.user)
        _, got = self.lines()
        self.assertEqual([need.name for need in got.needs], [f"{batch.code} {batch.name}"])
        finish_batch(batch=batch, by=self.user)
        self.assertContains(self.client.get("/shelf/buying/"), "Nothing is planned")

    def test_where_a_material_is_used(self):
        page = self.client.get("/shelf/kelp-meal/")
        self.assertEqual([p.name for p in page.context["read"].places], ["Kumquat tub mix"])
        self.assertEqual(self.client.get("/shelf/kelp-meal/").context["read"].item, None)
        self.assertEqual(yard_of(self.user).currency, "EUR")
