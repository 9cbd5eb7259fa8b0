"""Doses are fitted by a worker, one after the other, and the page shows its place."""

from datetime import timedelta
from io import StringIO

from django.core.management import call_command
from django.test import TestCase, override_settings
from django.utils import timezone

from pelk.bench.domain import fit_queue
from pelk.bench.models import FitAsked
from pelk.yards.models import Tally
from tests.factories import bench_posted, make_user, yard_of

TYPED = {
    "name": "Chard trough",
    "crop": "leafy",
    "how": "litres",
    "volume": "60",
    "volume_unit": "L",
    "part_material": ["sphagnum-peat-light", "yard-compost", "perlite"],
    "part_parts": ["5", "2", "3"],
    "action": "fit",
    "fit_from": "any",
}


class FitQueue(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def press(self, **changes):
        return self.client.post("/bench/new/", bench_posted({**TYPED, **changes}))

    def test_without_a_worker_a_page_reckons_for_itself(self):
        page = self.press()
        self.assertTrue(page.context["fit"].lines)
        self.assertFalse(FitAsked.objects.exists())

    def test_with_one_it_waits_its_turn_and_comes_to_the_same(self):
        alone = self.press().context["fit"]
        fit_queue.beat()
        self.press(fit_minimise="mass")
        page = self.press()
        self.assertContains(page, "1 before yours")
        self.assertEqual(self.press().context["waits"]["pk"], page.context["waits"]["pk"])
        url = f"/bench/fit/{page.context['waits']['pk']}/"
        self.assertContains(self.client.get(url), "1 before yours")
        call_command("work", "--until-idle", stdout=StringIO())
        answer = self.client.get(url + "?here=https://x.example/")
        self.assertEqual(answer.context["fit"], alone)
        self.assertNotContains(answer, "x.example")
        stranger = make_user("other@cove.example", "Cove")
        self.client.force_login(stranger)
        self.assertEqual(self.client.get(url).status_code, 404)

    @override_settings(LIMITS=True)
    def test_a_person_may_ask_so_often_and_is_told_kindly(self):
        fit_queue.beat()
        for i in range(20):
            self.assertTrue(self.press(name=f"Trough {i}").context["waits"])
        page = self.press(name="Trough 21")
        self.assertContains(page, "at once. Wait")
        self.assertEqual(FitAsked.objects.count(), 20)

    def test_a_question_that_a_lost_worker_began_is_taken_up_again(self):
        row = fit_queue.ask(yard=yard_of(self.user), by=self.user, posted="a=1")
        self.assertEqual(fit_queue.next_asked(), row)
        self.assertIsNone(fit_queue.next_asked())
        FitAsked.objects.update(begun_at=timezone.now() - timedelta(minutes=5))
        self.assertEqual(fit_queue.next_asked(), row)
        call_command("work", "--until-idle", stdout=StringIO())
        fit_queue.beat()
        self.assertTrue(fit_queue.is_worked())
        Tally.objects.update(since=timezone.now() - timedelta(minutes=1))
        self.assertFalse(fit_queue.is_worked())
