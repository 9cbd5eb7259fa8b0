"""A practice heap on its pages: dosed, waited for, probed, planted; the truth comes last."""

from pelk.cure.models import Reading, TrainingHeap
from pelk.cure.services.training import begin
from tests.cure.test_cure import CureCase
from tests.factories import yard_of


class Practice(CureCase):
    def played(self, **doses):
        told = {"case": "bed-table", "sulfur-dusting": "0.1", "feather-meal": "0.7"}
        return self.client.post("/cure/practice/", told | doses)

    def act(self, row, action, **more):
        return self.client.post(row.get_absolute_url(), {"action": action, **more}, follow=True)

    def test_a_bad_dose_says_so_and_keeps_what_was_typed(self):
        page = self.played(**{"sulfur-dusting": "7"})
        self.assertContains(page, "from 0 to 1 g/L")
        self.assertContains(page, 'value="7"')
        self.assertEqual(self.client.post("/cure/practice/", {"case": "x"}).status_code, 404)

    def test_dose_wait_probe_give_and_plant(self):
        self.played()
        row = TrainingHeap.objects.get()
        self.act(row, "wait:14")
        page = self.act(row, "probe")
        self.assertContains(page, "day 14")
        self.assertNotContains(page, "Hidden in this heap")
        self.assertContains(
            self.act(row, "give", slug="sulfur-dusting", grams="lots"), "as a number"
        )
        self.act(row, "give", slug="sulfur-dusting", grams="0,05")
        self.act(row, "dance")
        row.refresh_from_db()
        self.assertEqual(
            (row.day, len(row.probes), row.given), (14, 1, [[14, "sulfur-dusting", 0.05]])
        )
        page = self.act(row, "plant")
        self.assertContains(page, "Hidden in this heap")
        self.assertContains(page, "growth lost")
        self.act(row, "wait:30")
        row.refresh_from_db()
        self.assertEqual((row.day, row.planted_day), (14, 14))
        self.assertFalse(Reading.objects.exists())

    def test_a_pen_that_lies_is_set_right_in_its_buffers(self):
        row = begin(
            yard=yard_of(self.user), by=self.user, case="light-peat-unlimed", doses={}, seed=5
        )
        self.act(row, "probe")
        self.act(row, "check")
        self.act(row, "probe")
        row.refresh_from_db()
        (_, lied), (_, true) = row.probes
        self.assertGreater(lied - true, 1.2)
