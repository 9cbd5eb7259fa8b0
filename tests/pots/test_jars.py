"""Jar tests on their page: the jars, the dose with its range, and where it refuses."""

from django.test import TestCase

from pelk.pots.models import JarTest
from tests.factories import make_jars, make_user


class Jars(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def read(self, row, *phs):
        data = {f"ph-{i}": str(ph) for i, ph in enumerate(phs, 1)}
        return self.client.post(row.get_absolute_url(), data, follow=True)

    def test_set_up_shows_the_weights_and_when_to_read(self):
        data = {
            "name": "New bale",
            "material": "lime-dolomitic-ground",
            "estimate": "2",
            "jar": "500",
            "target": "6",
            "volume": "40",
        }
        page = self.client.post("/pots/ph/jars/", data, follow=True)
        # 0, half, one, one and a half and two times 2 g/L in half a litre.
        for grams in ("0.00 g", "0.50 g", "1.00 g", "1.50 g", "2.00 g"):
            self.assertContains(page, grams)
        self.assertContains(page, "has not acted")
        row = JarTest.objects.get()
        self.assertEqual((page.context["last"] - row.created_at.date()).days, 28)
        page = self.client.post("/pots/ph/jars/", {**data, "estimate": "lots"})
        self.assertContains(page, 'value="lots"')

    def test_the_dose_is_read_off_the_line_with_its_range(self):
        row = make_jars(self.user)
        # A straight line, 4.5 + 0.5 a gram: pH 6 at 3 g/L, 120 g in 40 L.
        page = self.read(row, 4.5, 5.0, 5.5, 6.0, 6.5)
        answer = page.context["answer"]
        self.assertTrue(answer.rate.startswith("3 g/L"), answer.rate)
        self.assertIn("120", answer.whole)
        self.assertContains(page, '<circle class="pt"', count=5)
        rows = answer.plot.numbers.rows
        self.assertEqual(rows[-1].cells, ("4 g/L", "6.5", "6.5"))
        self.assertEqual([row.share for row in rows], [0, 0.25, 0.5, 0.75, 1])

    def test_it_never_reads_beyond_the_jars(self):
        page = self.read(make_jars(self.user, target_ph=7.5), 4.5, 5.0, 5.5, 6.0, 6.5)
        self.assertContains(page, "make another jar")
        self.assertEqual(page.context["answer"].rate, "")

    def test_two_jars_are_too_few_and_bad_input_stays(self):
        row = make_jars(self.user)
        page = self.read(row, 4.5, 5.0)
        self.assertIsNone(page.context["answer"])
        page = self.read(row, 4.5, "neutral", 5.5)
        self.assertContains(page, "is not a pH")
        self.assertContains(page, 'value="neutral"')
        row.refresh_from_db()
        self.assertEqual(row.read[:2], [4.5, 5.0])
