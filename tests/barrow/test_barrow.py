"""Batches: frozen, ticked, stopped, finished."""

from django.test import TestCase

from pelk.barrow.models import Batch, Tick
from pelk.barrow.pages.card import card_of
from pelk.barrow.services import BATCHES, StoppedError, finish_batch, make_batch
from pelk.bench.models import Recipe
from pelk.shelf.models.materials import Analysis, Material
from pelk.shelf.services.bags import count_again
from tests.factories import bench_posted, make_bag, make_heap, make_recipe, make_user, yard_of

STOPPED = [{"material": "lime-hydrated", "amount": 1, "unit": "g/L"}]
FORBIDDEN = [
    {"material": "sulfur-dusting", "amount": 0.1, "unit": "g/L"},
    {"material": "sodium-nitrate-mined", "amount": 0.1, "unit": "g/L"},
]


class BarrowCase(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def begun(self, **changes):
        return make_batch(recipe=make_recipe(self.user, **changes), by=self.user, reason="a trial")


class Making(BarrowCase):
    def test_asking_makes_nothing_and_posting_makes_one(self):
        recipe = make_recipe(self.user)
        page = self.client.get(f"/barrow/make/{recipe.pk}/")
        self.assertContains(page, "Make this batch")
        self.assertEqual(Batch.objects.count(), 0)
        made = self.client.post(f"/barrow/make/{recipe.pk}/")
        batch = Batch.objects.get()
        self.assertRedirects(made, batch.get_absolute_url())
        self.assertEqual((batch.code, batch.version), ("K1", 1))
        self.assertEqual(batch.shown["format"], "pelk.evaluation/1")

    def test_the_list_draws_each_and_says_how_far_it_is(self):
        open_one = self.begun()
        Tick.objects.create(batch=open_one, load=1, step="care")
        mixed = make_heap(self.user, days_old=4)
        page = self.client.get("/barrow/")
        rows = page.context["rows"]
        self.assertEqual([r.batch for r in rows], [open_one, mixed])
        self.assertEqual([r.ticked for r in rows], [1, 0])
        self.assertEqual([str(r.slab).count("<pattern") for r in rows], [2, 2])
        self.assertContains(page, "1 thing ticked")
        self.assertContains(page, "see it in Cure", count=1)

    def test_codes_are_never_used_again(self):
        recipe = make_recipe(self.user)
        codes = [make_batch(recipe=recipe, by=self.user).code for _ in range(2)]
        Batch.objects.get(code="K2").put_away()
        codes.append(make_batch(recipe=recipe, by=self.user).code)
        self.assertEqual(codes, ["K1", "K2", "K3"])

    def test_a_stop_wants_a_reason_and_keeps_what_was_typed(self):
        recipe = make_recipe(self.user, doses=STOPPED)
        url = f"/barrow/make/{recipe.pk}/"
        refused = self.client.post(url, {"reason": "  "})
        self.assertContains(refused, "Say why you are making it anyway")
        self.client.post(url, {"reason": "old lime kiln trial, goggles on"})
        self.assertEqual(Batch.objects.get().override_reason, "old lime kiln trial, goggles on")

    def test_a_hard_stop_nobody_overrides(self):
        recipe = make_recipe(self.user, doses=FORBIDDEN)
        page = self.client.get(f"/barrow/make/{recipe.pk}/")
        self.assertContains(page, "cannot be overridden")
        with self.assertRaisesMessage(StoppedError, "cannot be made"):
            make_batch(recipe=recipe, by=self.user, reason="I insist")

    def test_the_bench_takes_a_kept_recipe_to_the_barrow(self):
        recipe = make_recipe(self.user)
        data = {
            "name": recipe.name,
            "crop": "citrus",
            "how": "litres",
            "volume": "60",
            "part_material": ["perlite"],
            "part_parts": ["1"],
            "action": "make",
        }
        response = self.client.post(recipe.get_absolute_url(), bench_posted(data))
        self.assertRedirects(response, f"/barrow/make/{recipe.pk}/")


class Freezing(BarrowCase):
    def test_later_changes_change_no_batch(self):
        batch = self.begun()
        before = batch.evaluation()
        card_before = card_of(batch)
        # The recipe, the material and the yard all change.
        recipe = Recipe.objects.get()
        recipe.versions.update(document={**recipe.latest.document, "crop": "lean"})
        material = Material.objects.get(slug="coir-pith-loose")
        facts = {**material.analyses.get().facts, "buffer": {"low": 1, "typ": 99, "high": 99}}
        Analysis.objects.create(material=material, facts=facts)
        yard = yard_of(self.user)
        yard.barrow_l, yard.system = 20, "us"
        yard.save()
        batch = Batch.objects.get()
        self.assertEqual(batch.evaluation().acidity.end, before.acidity.end)
        self.assertEqual(batch.evaluation().crop.slug, "citrus")
        self.assertEqual(len(card_of(batch).loads), len(card_before.loads))
        self.assertEqual(card_of(batch).litres, card_before.litres)

    def test_it_computes_from_the_analyses_of_its_day_and_not_the_shipped_ones(self):
        material = Material.objects.get(slug="coir-pith-loose")
        facts = {**material.analyses.get().facts, "ph": {"low": 4.4, "typ": 4.5, "high": 4.6}}
        sour = Analysis.objects.create(material=material, facts=facts)
        batch = self.begun()
        start = batch.evaluation().acidity.start.value
        self.assertAlmostEqual(start, 4.5, delta=0.4)
        sour.delete()
        frozen = Batch.objects.get().evaluation().acidity.start.value
        self.assertEqual(frozen, start)
        self.assertAlmostEqual(frozen, batch.shown["ph"]["start"], delta=0.001)


class Card(BarrowCase):
    def test_loads_fit_the_barrow_and_add_up(self):
        batch = self.begun(batch={"volume": 300, "unit": "L"})
        card = card_of(batch)
        self.assertGreater(len(card.loads), 3)
        kelp = next(p for s in card.loads[0].steps for p in s.picks if "kelp" in p.key)
        self.assertEqual(kelp.exact, f"{300 / len(card.loads):.3g}\u00a0g")

    def test_steps_come_in_mixing_order_with_cautions_first(self):
        card = card_of(self.begun())
        self.assertEqual(
            [step.key for step in card.loads[0].steps],
            ["care", "damp", "blend", "layer", "turn", "wet", "feel"],
        )

    def test_dry_doses_those_of_the_water_and_those_of_planting_day_stand_apart(self):
        doses = [
            {"material": slug, "amount": 0.5, "unit": "g/L"}
            for slug in ("kelp-meal", "fish-emulsion", "mycorrhizal-am")
        ]
        load = card_of(self.begun(doses=doses)).loads[0]
        named = {step.key: [p.name for p in step.picks] for step in load.steps}
        self.assertEqual(named["blend"], ["Kelp meal"])
        self.assertEqual(named["wet"][-1], "Water")
        self.assertIn("Fish emulsion", named["wet"][0])
        self.assertEqual(len(named["planting"]), 1)
        self.assertIn("not into the heap", load.steps[-1].note)

    def test_a_pool_takes_it_in_one_load_and_what_lies_there_is_left_out(self):
        recipe = make_recipe(self.user, batch={"volume": 180, "unit": "L"})
        url = f"/barrow/make/{recipe.pk}/"
        too_much = {"vessel": "pool", "there_pumice": "400"}
        self.assertContains(self.client.post(url, too_much), "make it larger")
        self.client.post(url, {"vessel": "pool", "there_pumice": "10"})
        card = card_of(Batch.objects.get())
        self.assertEqual(len(card.loads), 1)
        pumice = next(p for s in card.loads[0].steps for p in s.picks if "pumice" in p.key)
        self.assertRegex(pumice.exact, "^[0-9.]+\u00a0L, [0-9.]+\u00a0kg, 10\u00a0L is there$")
        whole = next(a for m, a in card.whole if m.slug == "pumice")
        left, all_of_it = (float(t.split("\u00a0")[0]) for t in (pumice.exact, whole))
        self.assertAlmostEqual(all_of_it - left, 10, delta=0.2)

    def test_ones_own_scoop_is_counted(self):
        yard = yard_of(self.user)
        yard.hands = {"scoop": [9.0, 10.0, 11.0]}
        yard.save()
        card = card_of(self.begun(batch={"volume": 60, "unit": "L"}))
        kelp = next(p for s in card.loads[0].steps for p in s.picks if "kelp" in p.key)
        self.assertIn("scoops", kelp.measure)

    def test_what_really_went_in_changes_every_number_and_can_be_taken_back(self):
        batch = self.begun(batch={"volume": 60, "unit": "L"})
        url = f"/barrow/{batch.pk}/made/"
        page = self.client.get(url)
        typed = {f.name: f.value() for f in page.context["form"]}
        more = {**typed, "dose_0": str(5 * float(typed["dose_0"]))}
        tried = self.client.post(url, {**more, "action": "try"})
        salts = next(r for r in tried.context["rows"] if r.name.startswith("salts"))
        self.assertGreater(float(salts.made), float(salts.planned))
        batch.refresh_from_db()
        self.assertIsNone(batch.as_mixed)
        bad = self.client.post(url, {**more, "dose_0": "lots", "action": "keep"})
        self.assertContains(bad, 'value="lots"')
        before = batch.evaluation(samples=0).ec_later.value
        self.client.post(url, {**more, "action": "keep"})
        batch = Batch.objects.get(pk=batch.pk)
        self.assertGreater(batch.evaluation(samples=0).ec_later.value, before)
        self.client.post(url, {"action": "forget"})
        batch = Batch.objects.get(pk=batch.pk)
        self.assertAlmostEqual(batch.evaluation(samples=0).ec_later.value, before)

    def test_what_really_went_in_counts_the_shelf_anew_but_for_what_was_counted_since(self):
        bag = make_bag(self.user, "kelp-meal", kg=20.0)
        batch = self.begun(batch={"volume": 60, "unit": "L"})
        finish_batch(batch=batch, by=self.user)
        bag.refresh_from_db()
        taken = 20.0 - bag.left
        self.assertGreater(taken, 0)
        url = f"/barrow/{batch.pk}/made/"
        form = {f.name: f.value() for f in self.client.get(url).context["form"]}
        at = next(i for i, d in enumerate(batch.as_document().doses) if d.material == "kelp-meal")
        twice = {**form, f"dose_{at}": str(2 * float(form[f"dose_{at}"]))}
        self.client.post(url, {**twice, "action": "keep"})
        bag.refresh_from_db()
        self.assertAlmostEqual(20.0 - bag.left, 2 * taken, delta=0.02 * taken)
        self.client.post(url, {"action": "forget"})
        bag.refresh_from_db()
        self.assertAlmostEqual(20.0 - bag.left, taken, delta=0.02 * taken)
        count_again(bag=bag, by=self.user, left=7.0)
        self.client.post(url, {**twice, "action": "keep"})
        bag.refresh_from_db()
        self.assertEqual(bag.left, 7.0)

    def test_the_label_of_the_bin_leads_to_the_heap(self):
        batch = self.begun()
        page = self.client.get(f"/barrow/{batch.pk}/label/")
        self.assertContains(page, "<svg")
        self.assertContains(page, f"Label of {batch.code}")
        self.assertContains(page, "Ready about")

    def test_ticks_survive_a_reload_and_are_taken_back(self):
        batch = self.begun()
        url = f"/barrow/{batch.pk}/tick/"
        step = card_of(batch).current.next.key
        for _ in range(2):
            self.client.post(url, {"load": "1", "step": step, "done": "1"})
        self.assertEqual(Tick.objects.count(), 1)
        self.assertContains(self.client.get(batch.get_absolute_url()), 'aria-pressed="true"')
        self.client.post(url, {"load": "1", "step": step, "done": "0"})
        self.assertEqual(Tick.objects.count(), 0)

    def test_a_step_the_card_does_not_have_is_not_found(self):
        batch = self.begun()
        for load, step in (("1", "dance"), ("99", "turn"), ("x", "turn")):
            data = {"load": load, "step": step, "done": "1"}
            response = self.client.post(f"/barrow/{batch.pk}/tick/", data)
            self.assertEqual(response.status_code, 404)

    def test_ticked_through_it_goes_to_cure(self):
        batch = self.begun()
        for load in card_of(batch).loads:
            for step in load.steps:
                for pick in step.picks:
                    data = {"load": load.number, "step": pick.key, "done": "1"}
                    self.client.post(f"/barrow/{batch.pk}/tick/", data)
        page = self.client.get(batch.get_absolute_url())
        self.assertContains(page, "All mixed: move to Cure")
        self.client.post(f"/barrow/{batch.pk}/finish/")
        self.assertContains(self.client.get("/cure/"), "K1 Kumquat tub mix")
        self.assertContains(self.client.get("/log/"), "K1 mixed and moved to Cure")

    def test_an_unknown_wet_weight_still_gives_a_card(self):
        bulk = [{"material": "kitchen-scraps", "parts": 1}]
        recipe = make_recipe(self.user, bulk=bulk)
        make_batch(recipe=recipe, by=self.user, reason="a trial")
        page = self.client.get(Batch.objects.get().get_absolute_url())
        self.assertNotContains(page, "wet</p>")

    def test_put_away_and_undo(self):
        batch = make_heap(self.user)
        page = self.client.post(f"/barrow/{batch.pk}/discard/", follow=True)
        self.assertContains(page, "is deleted")
        self.assertEqual(self.client.get(f"/cure/{batch.pk}/").status_code, 404)
        BATCHES.bring_back(batch, by=self.user)
        self.assertEqual(self.client.get(f"/cure/{batch.pk}/").status_code, 200)
