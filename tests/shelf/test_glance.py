"""The shelf before anything is chosen: what runs low, what is dear, what is old."""

from datetime import date

from django.test import TestCase

from pelk.shelf.pages.glance import glance
from tests.factories import make_bag, make_user, yard_of


class AtAGlance(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_an_empty_shelf_says_where_to_begin(self):
        self.assertContains(self.client.get("/shelf/"), "Pelk works from what you own")

    def test_dearest_and_oldest_stand_first_and_nothing_of_another_yard(self):
        other = make_user("other@cove.example", "Cove")
        make_bag(other, "blood-meal", kg=1, price="987.65")
        make_bag(self.user, "kelp-meal", kg=10, price="60", bought_on=date(2030, 5, 1))
        make_bag(self.user, "feather-meal", kg=20, price="40", bought_on=date(2029, 3, 1))
        shown = glance(yard_of(self.user))
        self.assertEqual([r.material.slug for r in shown.dear_doses], ["kelp-meal", "feather-meal"])
        self.assertEqual([r.percent for r in shown.dear_doses], [100, 33])
        self.assertEqual([r.bag.material.slug for r in shown.old], ["feather-meal", "kelp-meal"])
        self.assertEqual([r.percent for r in shown.old], [100, 100])
        page = self.client.get("/shelf/")
        self.assertContains(page, "Dearest doses")
        self.assertNotContains(page, "987.65")
        # The sum is one that its own yard does show.
        self.client.force_login(other)
        self.assertContains(self.client.get("/shelf/"), "987.65")
