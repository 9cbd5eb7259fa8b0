"""Two who do the same thing at once: each loaded the row before the other wrote it."""

from threading import Barrier, Thread

from django.db import connection
from django.test import TransactionTestCase

from pelk.barrow.models import Batch
from pelk.barrow.services import BATCHES, finish_batch, make_batch, record_as_mixed
from pelk.bench.models import Recipe
from pelk.bench.services import plan_recipe, tag_recipe
from pelk.core.base.errors import PelkError
from pelk.core.materials.material import Range
from pelk.cure.models import Reading, TrainingHeap
from pelk.cure.services.readings import correct_reading
from pelk.cure.services.training import begin, wait
from pelk.log.models import Entry
from pelk.pots.models import OldSoil, PotGroup
from pelk.pots.services.groups import keep_group
from pelk.pots.services.old_soil import answer
from pelk.shelf.models.bags import Bag, StockMove
from pelk.shelf.models.lab import LabReport
from pelk.shelf.models.materials import Value
from pelk.shelf.services.lab import decide, take_report
from pelk.shelf.services.measures import keep_measure
from pelk.yards.models import Done, User, Yard
from pelk.yards.services.yards import keep_settings, sign_up
from tests.factories import (
    bench_posted,
    make_bag,
    make_heap,
    make_old_soil,
    make_pots,
    make_reading,
    make_recipe,
    make_report,
    make_user,
    yard_of,
)


class TwiceAtOnce(TransactionTestCase):
    """Against the database file, each thread on a connection of its own."""

    def setUp(self):
        self.user = make_user()

    def at_once(self, model, pk, *deeds):
        """Load the row once for each deed, then do them all at once; return what they raised."""
        loaded, troubles = Barrier(len(deeds)), []

        def run(deed):
            row = model.objects.get(pk=pk)
            loaded.wait(timeout=30)
            try:
                deed(row)
            except PelkError as error:
                troubles.append(error)
            finally:
                connection.close()

        threads = [Thread(target=run, args=[deed]) for deed in deeds]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(timeout=60)
        return troubles

    def test_finished_twice_counts_the_shelf_down_once(self):
        bag = make_bag(self.user, slug="kelp-meal", kg=1.0)
        batch = make_batch(recipe=make_recipe(self.user), by=self.user)

        def finish(row):
            finish_batch(batch=row, by=None)

        self.at_once(Batch, batch.pk, finish, finish, finish)
        taken = StockMove.objects.filter(bag=bag, why=StockMove.Why.BATCH)
        self.assertEqual(taken.count(), 1)
        self.assertAlmostEqual(Bag.objects.get(pk=bag.pk).left, 1.0 + taken.get().amount)
        self.assertEqual(Entry.objects.filter(text__endswith="to Cure").count(), 1)

    def test_two_sign_up_with_one_email(self):
        def sign(row):
            sign_up(email="new@steps.example", password="a-long-one-0", yard_name="New")

        troubles = self.at_once(User, self.user.pk, sign, sign)
        self.assertEqual([t.path for t in troubles], ["email"])
        self.assertEqual(Yard.objects.filter(name="New").count(), 1)

    def test_put_away_twice_is_said_once(self):
        batch = make_batch(recipe=make_recipe(self.user), by=self.user)

        def discard(row):
            BATCHES.put_away(row, by=None)

        self.at_once(Batch, batch.pk, discard, discard)
        self.assertEqual(Entry.objects.filter(text__endswith="deleted").count(), 1)

    def test_what_went_in_is_counted_from_what_the_other_wrote(self):
        bag = make_bag(self.user, slug="kelp-meal", kg=1.0)
        batch = make_batch(recipe=make_recipe(self.user), by=self.user)
        self.at_once(
            Batch,
            batch.pk,
            lambda row: finish_batch(batch=row, by=None),
            lambda row: record_as_mixed(
                batch=row, by=None, litres={"coir-pith-loose": 45, "pumice": 15}, grams=[30.0]
            ),
        )
        self.assertAlmostEqual(Bag.objects.get(pk=bag.pk).left, 0.97)

    def test_a_reading_is_corrected_once(self):
        heap = make_heap(self.user)
        reading = make_reading(self.user, heap)

        def correct(row):
            correct_reading(reading=row, by=None, ph=6.4)

        troubles = self.at_once(Reading, reading.pk, correct, correct)
        self.assertEqual(len(troubles), 1)
        self.assertIn("meanwhile", troubles[0].message)
        self.assertEqual(Reading.objects.live().count(), 1)

    def test_a_report_is_taken_once_and_keeps_every_decision(self):
        report = make_report(self.user, text="Total N 1.62 % dry\nTotal K 90 % dry")
        self.at_once(
            LabReport,
            report.pk,
            lambda row: decide(report=row, decisions={"2": "leave"}),
            lambda row: decide(report=row, decisions={"1": "keep"}),
        )
        report.refresh_from_db()
        self.assertEqual(report.decisions, {"1": "keep", "2": "leave"})

        def take(row):
            take_report(report=row, by=None)

        self.assertEqual(len(self.at_once(LabReport, report.pk, take, take)), 1)
        self.assertEqual(Value.objects.filter(report=report).count(), 1)

    def test_both_stay(self):
        """Two change different things of one row: neither is undone by the other's stale copy."""
        yard = yard_of(self.user)
        ten_ml = Range(9, 10, 11)
        self.at_once(
            Yard,
            yard.pk,
            lambda row: keep_measure(
                yard=row, by=None, kind="handful", one_ml=ten_ml, weighings=[1.0]
            ),
            lambda row: keep_measure(
                yard=row, by=None, kind="pinch", one_ml=ten_ml, weighings=[1.0]
            ),
            lambda row: keep_settings(yard=row, name="Upper Steps", feeding_style={}),
        )
        yard.refresh_from_db()
        self.assertEqual((set(yard.hands), yard.name), ({"handful", "pinch"}, "Upper Steps"))

        recipe = make_recipe(self.user)
        self.at_once(
            Recipe,
            recipe.pk,
            lambda row: plan_recipe(recipe=row, by=None, planned=True),
            lambda row: tag_recipe(recipe=row, tags="spring"),
        )
        recipe.refresh_from_db()
        self.assertEqual((recipe.tags, recipe.planned_at is not None), ("spring", True))

        soil = make_old_soil(self.user)
        self.at_once(
            OldSoil,
            soil.pk,
            lambda row: answer(soil=row, by=None, key="ph", said=6.0),
            lambda row: answer(soil=row, by=None, key="ec_ds_m", said=1.0),
        )
        self.assertEqual(OldSoil.objects.get(pk=soil.pk).answers, {"ph": 6.0, "ec_ds_m": 1.0})

        pots = make_pots(self.user)
        self.at_once(
            PotGroup,
            pots.pk,
            lambda row: keep_group(yard=yard, by=None, group=row, name="Tubs"),
            lambda row: keep_group(yard=yard, by=None, group=row, count=7),
        )
        pots.refresh_from_db()
        self.assertEqual((pots.name, pots.count), ("Tubs", 7))

        heap = begin(yard=yard, by=self.user, case="bed-table", doses={})
        self.at_once(TrainingHeap, heap.pk, *[lambda row: wait(heap=row, days=5)] * 2)
        heap.refresh_from_db()
        self.assertEqual(heap.day, 10)


class OneKey(TransactionTestCase):
    """A form that makes something is pressed several times."""

    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_five_presses_of_make_are_one_batch_and_all_lead_to_it(self):
        recipe = make_recipe(self.user)
        url = f"/barrow/make/{recipe.pk}/"
        typed = {"vessel": "barrow", "once": "pressed-five-times"}
        answers, start = [], Barrier(5)

        def press():
            door = self.client_class()
            door.cookies = self.client.cookies
            start.wait(timeout=30)
            answers.append(door.post(url, typed))
            connection.close()

        threads = [Thread(target=press) for _ in range(5)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(timeout=60)
        batch = Batch.objects.get()
        self.assertEqual({a.headers["Location"] for a in answers}, {batch.get_absolute_url()})
        # Another time it is another batch.
        self.client.post(url, {**typed, "once": "again"})
        # A key that no database keeps as it is makes one all the same.
        self.client.post(url, {**typed, "once": "odd\0key"})
        self.assertTrue(Done.objects.filter(key="oddkey").exists())
        self.assertEqual(Batch.objects.count(), 3)

    def test_a_post_that_is_refused_may_be_sent_again_with_its_key(self):
        url = "/shelf/lab/new/"
        bad = {"text": "hello", "once": "k"}
        self.assertEqual(self.client.post(url, bad).status_code, 200)
        good = {
            "material": "yard-compost", "text": "Total N 1.2 %", "method": "total", "basis": "dry",
            "ec_method": "1:5", "dated": "2031-03-01", "once": "k",
        }  # fmt: skip
        self.assertEqual(self.client.post(url, good).status_code, 302)
        self.assertEqual(self.client.post(url, good).status_code, 302)
        self.assertEqual(LabReport.objects.count(), 1)


TYPED = {
    "name": "Kumquat tub mix",
    "crop": "citrus",
    "how": "litres",
    "volume": "60",
    "volume_unit": "L",
    "part_material": ["coir-pith-loose", "pumice"],
    "part_parts": ["3", "1"],
    "dose_material": ["kelp-meal"],
    "dose_unit": ["g/L"],
}


class OneRecipeTwoHands(TransactionTestCase):
    def test_the_second_who_keeps_from_a_stale_page_is_shown_both_and_chooses(self):
        user = make_user()
        self.client.force_login(user)
        recipe = make_recipe(user)
        url = recipe.get_absolute_url()
        mine, theirs = (
            bench_posted({**TYPED, "dose_amount": [g], "base": "1", "action": "save"})
            for g in ("2", "3")
        )
        self.assertEqual(self.client.post(url, theirs).status_code, 302)
        page = self.client.post(url, mine)
        self.assertContains(page, "kept v2 meanwhile")
        self.assertContains(page, "3 g/L")
        self.assertEqual(recipe.versions.count(), 2)
        self.client.post(url, {**mine, "over": "2"})
        self.assertEqual(recipe.versions.count(), 3)
        self.assertEqual(recipe.versions.first().as_document().doses[0].amount, 2)
