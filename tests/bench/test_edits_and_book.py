"""Edits by button, doses fitted, a pH on a day; versions, comparison, the book, starting points."""

from django.test import TestCase

from pelk.bench.domain.starting_points import starting_points
from pelk.bench.formats.documents import read
from pelk.bench.formats.planning import as_plan
from pelk.bench.models import Recipe
from pelk.core.advice.ph_on_a_day import dose_for_day
from pelk.core.crops.groups import library as crops
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from tests.bench.test_bench import TYPED, BenchCase
from tests.factories import bench_posted, make_bag, make_recipe, make_user, mix, yard_of


class Rows(BenchCase):
    def parts(self, page):
        return [(r.material, r.parts) for r in page.context["form"].parts]

    def test_moved_swapped_and_dropped(self):
        page = self.post(action="move-part:1:0")
        self.assertEqual(self.parts(page), [("perlite", "1"), ("sphagnum-peat-light", "4")])
        page = self.post(action="swap-part:0:coir-pith-loose")
        self.assertEqual(self.parts(page)[0], ("coir-pith-loose", "4"))
        page = self.post(action="swap-dose:0:ferrous-sulfate:8.83")
        dose = page.context["form"].doses[0]
        self.assertEqual((dose.material, dose.amount), ("ferrous-sulfate", "0.883"))
        for rubbish in (
            "move-part:9:0",
            "move-part:x",
            "swap-part:7:peat",
            "swap-dose:0::",
            "drop-part:99",
            "swaps:part:77",
            "swaps:::",
            "area",
        ):
            with self.subTest(rubbish):
                self.assertEqual(self.post(action=rubbish).status_code, 200)

    def test_percents_stand_as_typed_and_the_rest_is_shared_out_on_request(self):
        page = self.post(way="percent", way_was="parts")
        self.assertEqual([p for _, p in self.parts(page)], ["80", "20"])
        held = {"way": "percent", "way_was": "percent", "part_parts": ["70", "20"]}
        page = self.post(**held)
        self.assertEqual([p for _, p in self.parts(page)], ["70", "20"])
        self.assertContains(page, "10% are missing")
        self.assertIsNotNone(page.context["shown"])
        page = self.post(**held, action="save")
        self.assertContains(page, "The percents do not come to 100 yet")
        page = self.post(**held, action="share-out", part_lock=["1", ""])
        self.assertEqual([p for _, p in self.parts(page)], ["70", "30"])
        self.assertNotContains(page, "are missing")

    def test_two_under_gallons_stays_two(self):
        page = self.post(way="gal", way_was="parts")
        self.assertEqual([p for _, p in self.parts(page)], ["4", "1"])
        ph, again = (p.context["shown"].evaluation.forecast.ph[1, 30] for p in (self.post(), page))
        self.assertAlmostEqual(ph, again, places=9)

    def test_volumes_are_kept(self):
        self.post(way="L", way_was="L", how="sum", part_parts=["80", "20"], action="save")
        document = Recipe.objects.get().latest.document
        self.assertEqual(
            document["bulk"][0], {"material": "sphagnum-peat-light", "amount": 80.0, "unit": "L"}
        )
        self.assertNotIn("batch", document)
        again = self.client.get(Recipe.objects.get().get_absolute_url()).context["form"]
        self.assertEqual((again.way, again.how, again.parts[0].parts), ("L", "sum", "80"))
        page = self.post(way="gal", way_was="L", how="sum", part_parts=["80", "20"])
        gallons = [float(p) for _, p in self.parts(page)]
        self.assertAlmostEqual(gallons[0], 80 / 3.785, delta=0.01)

    def test_a_bed_rate_becomes_a_rate_per_volume(self):
        # 1 lb on 100 ft2 is 48.8 g/m2; in 15 cm that is 0.325 g/L.
        page = self.post(
            action="area",
            area_rate="1",
            area_unit="lb/100 ft2",
            area_depth="15",
            area_depth_unit="cm",
            area_dose="0",
        )
        self.assertEqual(page.context["form"].doses[0].amount, "0.325")
        bad = self.post(action="area", area_rate="much", area_depth="15", area_dose="0")
        self.assertContains(bad, "Enter the rate and the working depth")


class Goals(BenchCase):
    def says(self, **typed):
        return [str(v.say) for v in self.post(**typed).context["shown"].verdicts]

    def test_ready_by_a_day_and_out_of_doors_it_is_later(self):
        doses = {"dose_material": ["feather-meal"], "dose_amount": ["3"], "temperature": "20"}
        warm = self.post(**doses, start="2026-11-26", ready_by="2026-12-01")
        self.assertIn("Not ready by <b>1 Dec 2026</b>", str(warm.context["shown"].verdicts[0].say))
        ready = [
            self.post(**doses, start="2026-11-26", months=m)
            .context["shown"]
            .evaluation.forecast.ready.p50
            for m in ("", "1")
        ]
        self.assertTrue(ready[1] is None or ready[1] > ready[0], ready)
        self.assertContains(self.post(ready_by="soon"), "Enter a day, such as")

    def test_a_way_of_feeding_moves_defaults_and_is_judged(self):
        rich = {"dose_material": ["blood-meal"], "dose_amount": ["6"], "temperature": "20"}
        self.assertTrue(
            any(
                "feed as you go" in s and "over" in s
                for s in self.says(**rich, feeding="feed as you go")
            )
        )
        self.assertFalse(any("feed as you go" in s for s in self.says(**rich)))
        plan, _ = as_plan(read(mix(feeding="living soil")), library())
        self.assertEqual(plan.conditions.inoculum, "rich")
        kept, _ = as_plan(
            read(mix(feeding="living soil", conditions={"inoculum": "none"})), library()
        )
        self.assertEqual(kept.conditions.inoculum, "none")
        self.assertContains(self.post(feeding="by moonlight"), "by moonlight")

    def test_the_charge_per_pot_and_as_oxides(self):
        row = self.post().context["shown"].charge[1]
        oxide = self.post(charge_as="oxide", charge_unit="lb/yd3").context["shown"].charge[1]
        pot = self.post(charge_unit="g/pot").context["shown"].charge[1]
        self.assertEqual((row.written, oxide.written), ("P", "P2O5"))
        # 1 lb/yd3 is 593.3 mg/L; P2O5 holds 43.64 % phosphorus.
        self.assertAlmostEqual(
            float(oxide.total) * 593.3 * 0.4364 / float(row.total), 1, delta=0.06
        )
        filled = self.post().context["shown"].evaluation.volumes.filled_l / 24
        self.assertAlmostEqual(float(pot.total) * 1000 / filled / float(row.total), 1, delta=0.06)

    def test_what_is_in_the_barrow_already(self):
        page = self.post(how="litres", volume="100", part_there=["20", ""])
        self.assertIn("Add sphagnum peat", page.context["base"].say)
        odd = self.post(part_there=["lots", ""])
        self.assertContains(odd, "Enter how much of each part")


class Fitting(BenchCase):
    def test_from_the_shelf_at_least_cost_and_taken(self):
        bare = self.post(action="fit")
        self.assertContains(bare, "Your shelf has no dose materials yet")
        for slug, price in (
            ("feather-meal", "20"),
            ("lime-dolomitic-ground", "4"),
            ("cottonseed-meal", "60"),
        ):
            make_bag(self.user, slug, kg=5, price=price)
        typed = {
            "crop": "fruiting",
            "dose_material": [],
            "dose_amount": [],
            "dose_unit": [],
            "dose_per": [],
        }
        fit = self.post(action="fit", **typed).context["fit"]
        self.assertTrue(fit.lines)
        self.assertTrue(
            {line.slug for line in fit.lines}
            <= {"feather-meal", "lime-dolomitic-ground", "cottonseed-meal"}
        )
        take = [f"{line.slug}:{line.rate}" for line in fit.lines]
        page = self.post(action="fit-take", fit_take=[*take, "rubbish", "kelp-meal:much"], **typed)
        self.assertEqual(
            [d.material for d in page.context["form"].doses], [line.slug for line in fit.lines]
        )

    def test_what_cannot_be_had_is_said_with_the_nearest(self):
        make_bag(self.user, "gypsum", kg=5)
        fit = self.post(action="fit", crop="fruiting", dose_material=[]).context["fit"]
        self.assertFalse(fit.is_met)
        self.assertTrue(fit.conflicts and fit.misses)

    def test_a_ph_on_a_day_leads_there(self):
        coir = {"part_material": ["coir-pith-loose", "perlite"]}
        page = self.post(action="aim", aim_ph="5.2", aim_day="120", dose_material=[], **coir)
        aim = page.context["aim"]
        self.assertEqual(aim.slug, "sulfur-dusting")
        after = self.post(dose_material=[aim.slug], dose_amount=[aim.rate], **coir)
        line = after.context["shown"].evaluation.forecast.line.daily("ph")
        self.assertLessEqual(float(line[120]), 5.3)
        self.assertGreaterEqual(float(line.min()), 4.2)
        self.assertContains(
            self.post(action="aim", aim_ph="x"), "Enter a pH and a whole number of days"
        )
        sweet = self.post(action="aim", aim_ph="9.5", aim_day="60", dose_material=[])
        self.assertContains(sweet, "lime stops dissolving")

    def test_a_bed_table_for_loam_is_named_where_it_overshoots(self):
        plan, shelf = as_plan(mix_of("perlite", 3, "sphagnum-peat-light", 1), library())
        got = evaluate(plan, shelf, samples=0)
        sulfur = [library()["sulfur-dusting"]]
        by_itself = float(got.forecast.line.daily("ph")[90])
        aim = dose_for_day(plan, shelf, got, by_itself - 0.6, 90, [], sulfur)
        self.assertGreater(aim.loam_g_per_l, aim.answer.plan.full_g_per_l)
        self.assertLess(aim.loam_ph, by_itself - 0.9)


def mix_of(*rows):
    """Return a document of parts without doses."""
    pairs = zip(rows[::2], rows[1::2], strict=True)
    return read(mix(bulk=[{"material": m, "parts": p} for m, p in pairs], doses=[]))


class Versions(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.recipe = make_recipe(self.user)

    def keep(self, **changes):
        typed = {**TYPED, "name": "Kumquat tub mix", "action": "save", **changes}
        return self.client.post(self.recipe.get_absolute_url(), bench_posted(typed))

    def test_every_keep_is_a_version_with_its_note_and_an_old_one_opens(self):
        self.keep(version_note="more air")
        page = self.client.get(self.recipe.get_absolute_url())
        self.assertContains(page, "more air")
        old = self.client.get(f"{self.recipe.get_absolute_url()}?version=1")
        self.assertEqual(old.context["form"].parts[0].material, "coir-pith-loose")

    def test_side_by_side_with_the_differences_named(self):
        self.keep()
        one, two = Recipe.objects.get().versions.order_by("number")
        table = self.client.get(f"/bench/compare/?v={one.pk}&v={two.pk}").context["table"]
        said = dict(table.says)["b"]
        self.assertTrue(any("more sphagnum peat" in s for s in said), said)
        self.assertTrue(any("lower" in s and "pH ends" in s for s in said), said)
        # Drawn from one foot to one top, and told in one table by day.
        ticks = [[t.text for t in c.run.ph_ticks] for c in table.columns]
        self.assertEqual(ticks[0], ticks[1])
        self.assertEqual(table.numbers.heads[1:4:2], ("a: pH", "b: pH"))
        ends = [table.columns[i].shown.evaluation.forecast.ph[1][-1] for i in (0, 1)]
        last = table.numbers.rows[-1].cells
        self.assertEqual([last[1], last[3]], [f"{ph:.1f}" for ph in ends])
        same = self.client.get(f"/bench/compare/?v={one.pk}&v={one.pk}&r=999").context["table"]
        self.assertEqual(same.says, [("b", ["no difference worth noting"])])
        few = self.client.get(f"/bench/compare/?v={one.pk}", follow=True)
        self.assertContains(few, "Tick two to four")

    def test_another_yards_versions_are_not_compared(self):
        theirs = make_recipe(make_user("other@cove.example", "Upper Cove")).latest.pk
        own = self.recipe.latest.pk
        page = self.client.get(f"/bench/compare/?v={theirs}&v={own}", follow=True)
        self.assertContains(page, "Tick two to four")


class Book(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_search_by_word_tag_material_and_crop(self):
        recipe = make_recipe(self.user)
        make_recipe(self.user, name="Auricula pans", crop="lean")
        self.client.post(f"{recipe.get_absolute_url()}tags/", {"tags": "Spring, tubs ,"})

        def names(**query):
            return [r.name for r in self.client.get("/bench/", query).context["page"]]

        self.assertEqual(names(q="kumquat"), ["Kumquat tub mix"])
        self.assertEqual(names(tag="spring"), ["Kumquat tub mix"])
        self.assertEqual(names(crop="lean"), ["Auricula pans"])
        self.assertEqual(len(names(q="pumice kelp")), 2)
        self.assertEqual(names(q="unobtainium"), [])

    def test_begun_from_a_starting_point(self):
        page = self.client.get("/bench/new/?from=ericaceous-peat")
        self.assertEqual(page.context["form"].crop, "ericaceous")
        self.assertEqual(self.client.get("/bench/new/?from=nonsense").status_code, 200)
        self.assertEqual(yard_of(self.user).name, "Lower Steps")

    def test_every_starting_point_does_what_its_crop_wants(self):
        self.assertEqual({p.document.crop for p in starting_points().values()}, set(crops()))
        for point in starting_points().values():
            with self.subTest(point.key):
                plan, shelf = as_plan(point.document, library())
                got = evaluate(plan, shelf, samples=0)
                low, high = got.ph_band
                self.assertTrue(low - 0.1 <= got.ph.value <= high + 0.1, got.ph.value)
                self.assertEqual(got.stops, [])
                self.assertIsNotNone(got.ready.value)
