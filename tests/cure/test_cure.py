"""Readings of a heap: kept, refused, plotted, struck out; and the log of it all."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.cure.models import Reading
from pelk.log.models import Entry
from tests.factories import make_heap, make_reading, make_user, yard_of

BAD = [
    ({"ph": "six"}, "Enter one number, such as 5.4"),
    ({"ph": "15"}, "pH is from 0 to 14"),
    ({"ph": "-1"}, "pH is from 0 to 14"),
    ({"ph": "1e308"}, "pH is from 0 to 14"),
    ({"ec_ds_m": "-0.1"}, "EC dS/m is from 0 to 50"),
    ({"temperature_c": "200"}, "heap °C is from -30 to 90"),
    ({"smell": "of victory"}, "Select a valid choice"),
    ({}, "Enter at least one measurement"),
    ({"ph": "6", "taken_at": "2099-01-01T10:00"}, "in the future"),
    ({"ph": "6", "taken_at": "yesterday-ish"}, "Enter a day and its hour"),
]


class CureCase(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.batch = make_heap(self.user)
        self.url = f"/cure/{self.batch.pk}/"


class Readings(CureCase):
    def test_a_visit_is_kept_with_what_was_measured_and_no_more(self):
        self.client.post(self.url, {"ph": "5,4", "method": "slurry", "smell": "earthy"})
        row = Reading.objects.get()
        self.assertEqual((row.ph, row.temperature_c, row.smell), (5.4, None, "earthy"))
        self.assertContains(self.client.get("/log/"), "K1: pH 5.4, earthy")

    def test_bad_input_gets_its_sentence_and_what_was_typed_stays(self):
        for typed, sentence in BAD:
            with self.subTest(**typed):
                data = {"method": "slurry", "note": "", **typed}
                response = self.client.post(self.url, data)
                self.assertContains(response, sentence)
                if "ph" in typed:
                    self.assertContains(response, f'value="{typed["ph"]}"')
        self.assertEqual(Reading.objects.count(), 0)

    def test_struck_out_and_brought_back(self):
        reading = make_reading(self.user, self.batch, ph=4.2)
        page = self.client.post(f"/cure/readings/{reading.pk}/delete/", follow=True)
        self.assertContains(page, "struck out")
        self.assertNotContains(page, "<b>4.2</b>")
        self.client.post(f"/cure/readings/{reading.pk}/restore/")
        self.assertContains(self.client.get(self.url), "<b>4.2</b>")

    def test_the_sentence_follows_the_readings(self):
        self.assertContains(self.client.get(self.url), "No pH reading yet")
        make_reading(self.user, self.batch, ph=7.4)
        self.assertContains(self.client.get(self.url), "is above the")
        make_reading(self.user, self.batch, ph=6.0)
        self.assertContains(self.client.get(self.url), "is in the target range")
        make_reading(self.user, self.batch, smell="ammonia")
        self.assertContains(self.client.get(self.url), "no lime or ash")

    def test_only_like_methods_are_plotted_together(self):
        make_reading(self.user, self.batch, ph=6.0)
        make_reading(self.user, self.batch, ph=5.0, method="1:5")
        # The one by 1:5 is not among them; 6.0 read in the salts of the kelp is 6.1 of the mix.
        self.assertContains(self.client.get(self.url), "1 reading, last 6.1")

    def test_readings_move_the_forecast_and_a_why_opens(self):
        before = self.client.get(self.url)
        self.assertContains(before, "no readings yet")
        made = self.batch.made_at
        for day, ph in ((0.2, 6.8), (6, 6.7), (12, 6.6), (18, 6.6)):
            make_reading(self.user, self.batch, ph=ph, taken_at=made + timedelta(days=day))
        after = self.client.get(f"{self.url}?why=ready")
        self.assertContains(after, "fitted to 4 readings")
        # The pen showed 6.8 in the salts of the kelp, a tenth below the mix itself.
        self.assertContains(after, "pH 6.9 on mixing day")
        self.assertContains(after, "Sources")
        self.assertContains(after, "Smells earthy")

    def test_the_page_asks_as_much_for_many_readings_as_for_one(self):
        for day in range(40):
            at = timezone.now() - timedelta(days=day / 2)
            make_reading(self.user, self.batch, ph=6.0, taken_at=at)
        with self.assertNumQueries(14):
            page = self.client.get(self.url)
        self.assertContains(page, "page 1 of 2")


class TheLog(CureCase):
    def test_newest_first_by_month_and_by_station(self):
        old = timezone.now() - timedelta(days=70)
        make_reading(self.user, self.batch, ph=6.3, taken_at=old)
        make_reading(self.user, self.batch, ph=6.0)
        page = self.client.get("/log/").content.decode()
        self.assertLess(page.index("pH 6"), page.index("pH 6.3"))
        self.assertIn(f"{old:%B %Y}", page)
        self.assertNotContains(self.client.get("/log/?kind=bench"), "pH 6")

    def test_long_logs_page(self):
        yard = yard_of(self.user)
        rows = [Entry(yard=yard, station="cure", text=f"deed {i}") for i in range(130)]
        Entry.objects.bulk_create(rows)
        with self.assertNumQueries(5):
            page = self.client.get("/log/?kind=cure")
        self.assertContains(page, "?kind=cure&amp;page=2")
        last = self.client.get("/log/?kind=cure&page=3")
        self.assertContains(last, "page 3")
        self.assertNotContains(last, "page=4")

    def test_it_is_searched_by_words_and_days_noted_in_and_sent_as_csv(self):
        make_reading(self.user, self.batch, ph=6.3, note="=frost")
        self.client.post("/log/note/", {"note": "=1+1 a visitor"})
        page = self.client.get("/log/?q=visitor")
        self.assertContains(page, "a visitor")
        self.assertNotContains(page, "pH 6.3")
        tomorrow = timezone.localdate() + timedelta(days=1)
        page = self.client.get(f"/log/?since={tomorrow}&until=nonsense")
        self.assertContains(page, "No entries match")
        lines = b"".join(self.client.get("/log/log.csv?q=visitor")).decode().splitlines()
        self.assertEqual(lines[0], "at,station,by,what,address")
        # No spreadsheet takes what someone wrote for a formula.
        self.assertIn(",'=1+1 a visitor,", lines[1])
        self.assertEqual(len(lines), 2)

    def test_a_heap_of_any_age_has_its_page(self):
        # Two years on a dose is judged no more, after four a heap is followed no further.
        for days, is_followed in ((800, True), (1410, True), (1411, False), (4000, False)):
            heap = make_heap(self.user, days_old=days)
            for back in (30, 5):
                at = timezone.now() - timedelta(days=back)
                make_reading(self.user, heap, ph=7.9, taken_at=at)
            page = self.client.get(f"/cure/{heap.pk}/")
            said = page.context["redose"].say
            self.assertEqual("older than a forecast reaches" not in said, is_followed, days)

    def test_two_heaps_are_set_side_by_side_by_day(self):
        other = make_heap(self.user, days_old=9, name="Other")
        for heap in (self.batch, other):
            at = heap.made_at + timedelta(days=4)
            make_reading(self.user, heap, ph=6.1, taken_at=at)
        page = self.client.get(f"/cure/beside/?h={self.batch.pk}&h={other.pk}")
        row = page.context["table"][0]
        self.assertEqual((row.day, [c.batch for c in row.cells]), (4, [self.batch, other]))
        self.assertContains(page, "is the same, as far as the readings tell")
        for day in (6, 8):
            at = other.made_at + timedelta(days=day)
            make_reading(self.user, other, ph=7.1, taken_at=at)
            at = self.batch.made_at + timedelta(days=day)
            make_reading(self.user, self.batch, ph=6.0, taken_at=at)
        page = self.client.get(f"/cure/beside/?h={self.batch.pk}&h={other.pk}")
        self.assertContains(page, f"The pH of {other.code} stands")
        page = self.client.get(f"/cure/beside/?h={other.pk}&h={other.pk}")
        self.assertContains(page, "not compared with itself")
        self.assertEqual(len(page.context["columns"]), 1)
        stranger = make_heap(make_user("other@cove.example", "Cove"))
        page = self.client.get(f"/cure/beside/?h={stranger.pk}")
        self.assertEqual(page.context["columns"], [])
