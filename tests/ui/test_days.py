"""A day is typed in the yard's order and said in words beside its field."""

from datetime import date, datetime, timedelta

from django import forms
from django.test import SimpleTestCase, TestCase
from django.utils import timezone
from django.utils.translation import override

from pelk.log.models import Entry
from pelk.ui.days import DayField, MomentField, day_in_words, read_day, short_day, typed_day
from tests.factories import make_heap, make_user, yard_of


class Words(SimpleTestCase):
    def test_a_day_an_hour_or_what_was_typed(self):
        # 5 March 2026 was a Thursday.
        for value in (date(2026, 3, 5), datetime(2026, 3, 5, 14, 30), "2026-03-05", "5/3/26"):
            self.assertEqual(day_in_words(value), "Thu 5 Mar 2026")
        for nothing in (None, "", "soon", "2026-13-05", "31/2/2026"):
            self.assertEqual(day_in_words(nothing), "")

    def test_half_a_year_off_a_day_has_its_year(self):
        today = timezone.localdate()
        for days in (-183, 0, 183):
            on = today + timedelta(days=days)
            self.assertEqual(short_day(on), f"{on.day} {on:%b}")
            self.assertEqual(short_day(on, "D j M"), f"{on:%a} {on.day} {on:%b}")
        for days in (-184, 184, 1060):
            on = today + timedelta(days=days)
            self.assertEqual(short_day(on), f"{on.day} {on:%b} {on.year}")


class Typed(SimpleTestCase):
    def test_each_region_reads_its_own_order(self):
        march, may = date(2026, 3, 5), date(2026, 5, 3)
        for region, read in (("en-gb", march), ("en-us", may)):
            with override(region):
                for text in ("5/3/2026", "05/03/26", "5.3.2026", "05-03-2026", " 5/3/2026 "):
                    self.assertEqual(read_day(text), read, (region, text))
                for text in ("5 Mar 2026", "5 March 2026", "Mar 5, 2026", "2026-03-05"):
                    self.assertEqual(read_day(text), march, (region, text))
                self.assertEqual(read_day(typed_day(march)), march)
                # An hour beside it is no part of the day.
                self.assertIs(type(read_day("2026-03-05 14:30")), date)

    def test_what_is_no_day_stays_and_is_told(self):
        self.assertEqual(typed_day("soon"), "soon")
        for field, told in (
            (DayField(), r"such as \d\d/\d\d/\d{4}\."),
            (MomentField(), r"\d{4} 14:30\."),
        ):
            for text in ("soon", "31/2/2026", "5/3"):
                with self.assertRaisesRegex(forms.ValidationError, told):
                    field.clean(text)

    def test_fields_carry_it_and_keep_what_was_typed(self):
        class Form(forms.Form):
            on = DayField(label="Date")
            at = MomentField()

        drawn = str(Form({"on": "2026-03-05", "at": "5/3/2026 14:30"}))
        self.assertEqual(drawn.count("Thu 5 Mar 2026</output>"), 2)
        self.assertIn('aria-label="Calendar: Date"', drawn)
        self.assertIn('placeholder="dd/mm/yyyy hh:mm"', drawn)
        self.assertIn('value="soon"', str(Form({"on": "soon"})))
        kept = Form(initial={"on": date(2026, 3, 5), "at": datetime(2026, 3, 5, 14, 30)})
        self.assertIn('value="05/03/2026"', str(kept))
        self.assertIn('value="05/03/2026 14:30"', str(kept))


class Pages(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def in_the_united_states(self):
        yard = yard_of(self.user)
        yard.region = "US"
        yard.save()

    def test_in_the_order_of_the_yard(self):
        url = "/log/?since=5/3/2026"
        self.assertContains(self.client.get(url), "Thu 5 Mar 2026")
        self.in_the_united_states()
        page = self.client.get(url)
        self.assertContains(page, "Sun May 3, 2026")
        self.assertContains(page, 'value="05/03/2026"')
        self.assertContains(page, 'lang="en-US"')

    def test_the_log_says_which_day_it_cannot_read(self):
        self.client.post("/log/note/", {"note": "first frost"})
        self.assertTrue(Entry.objects.filter(text="first frost").exists())
        page = self.client.get("/log/?since=soon")
        self.assertContains(page, "Enter a day, such as")
        self.assertContains(page, 'value="soon"')
        self.assertContains(page, "first frost")

    def test_the_bench_takes_it_and_says_what_it_cannot_read_beside_the_field(self):
        typed = {"ready_by": "1/12/2026", "start": "31/2/2026"}
        page = self.client.post("/bench/new/", typed, headers={"HX-Request": "true"})
        self.assertContains(page, "Tue 1 Dec 2026")
        self.assertContains(page, 'id="start-error"')
        self.assertContains(page, 'value="31/2/2026"')

    def test_a_reading_comes_back_with_its_day(self):
        heap = make_heap(self.user, days_old=9)
        page = self.client.post(f"/cure/{heap.pk}/", {"ph": "99", "taken_at": "2026-03-05T14:30"})
        self.assertContains(page, "Thu 5 Mar 2026", status_code=page.status_code)
