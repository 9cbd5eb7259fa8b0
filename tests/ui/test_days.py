"""A day is said in words beside its field, in the yard's order, whatever the device shows."""

from datetime import date, datetime

from django import forms
from django.test import SimpleTestCase, TestCase

from pelk.ui.days import DayInput, MomentInput, day_in_words
from tests.factories import make_heap, make_user, yard_of


class Words(SimpleTestCase):
    def test_a_day_an_hour_or_what_was_typed(self):
        # 5 March 2026 was a Thursday.
        for value in (date(2026, 3, 5), datetime(2026, 3, 5, 14, 30), "2026-03-05"):
            self.assertEqual(day_in_words(value), "Thu 5 Mar 2026")
        for nothing in (None, "", "soon", "2026-13-05"):
            self.assertEqual(day_in_words(nothing), "")

    def test_fields_carry_it_and_keep_what_was_typed(self):
        class Form(forms.Form):
            on = forms.DateField(widget=DayInput())
            at = forms.DateTimeField(widget=MomentInput())

        drawn = str(Form({"on": "2026-03-05", "at": "2026-03-05T14:30"}))
        self.assertEqual(drawn.count("Thu 5 Mar 2026</output>"), 2)
        self.assertIn('type="date" name="on" value="2026-03-05"', drawn)
        self.assertIn('type="datetime-local" name="at" value="2026-03-05T14:30"', drawn)
        self.assertIn('value="soon"', str(Form({"on": "soon"})))


class Pages(TestCase):
    def test_in_the_order_of_the_yard(self):
        user = make_user()
        self.client.force_login(user)
        url = "/log/?since=2026-03-05"
        self.assertContains(self.client.get(url), "Thu 5 Mar 2026")
        yard = yard_of(user)
        yard.region = "US"
        yard.save()
        page = self.client.get(url)
        self.assertContains(page, "Thu Mar 5, 2026")
        self.assertContains(page, 'lang="en-US"')

    def test_a_reading_comes_back_with_its_day(self):
        user = make_user()
        self.client.force_login(user)
        heap = make_heap(user, days_old=9)
        page = self.client.post(f"/cure/{heap.pk}/", {"ph": "99", "taken_at": "2026-03-05T14:30"})
        self.assertContains(page, "Thu 5 Mar 2026", status_code=page.status_code)
