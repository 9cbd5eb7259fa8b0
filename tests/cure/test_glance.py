"""The heaps before one is opened: drawn, with what was read last and when they may be ready."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from tests.factories import make_heap, make_reading, make_user


class Glance(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_an_empty_yard_is_shown_the_step_before(self):
        page = self.client.get("/cure/")
        self.assertContains(page, "Go to the Barrow")
        self.assertContains(page, "Play a practice heap")

    def test_each_heap_has_its_last_reading_and_many_ask_no_more(self):
        heap = make_heap(self.user, days_old=30)
        for ph, ago in ((5.1, 9), (6.2, 2)):
            at = timezone.now() - timedelta(days=ago)
            make_reading(self.user, heap, ph=ph, taken_at=at, is_sure=True)
        page = self.client.get("/cure/")
        [shown] = page.context["glance"]
        self.assertEqual(shown.last.ph, 6.2)
        self.assertEqual(shown.picture.count("<pattern"), 2)
        with self.assertNumQueries(8):
            self.client.get("/cure/")
        for _ in range(4):
            make_heap(self.user, days_old=5)
        with self.assertNumQueries(8):
            self.client.get("/cure/")
