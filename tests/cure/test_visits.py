"""A visit to a heap: odd readings, corrections, sprout tests, pens, pictures, what is due."""

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.materials.library import library
from pelk.cure.domain.learning import learned
from pelk.cure.domain.visits import visits_of
from pelk.cure.models import CalendarFeed, HeapPhoto, MeterCheckRow, Reading, SproutTest
from pelk.cure.pages.heap import redose_say
from pelk.cure.services.visits import check_pen
from pelk.log.models import Entry
from tests.cure.test_cure import CureCase
from tests.factories import PNG, make_heap, make_reading, yard_of


class Visits(CureCase):
    def visit(self, **typed):
        return self.client.post(self.url, {"method": "slurry", **typed})

    def test_an_odd_ph_is_asked_about_and_kept_when_it_is_so(self):
        page = self.visit(ph="9.4", note="north side")
        self.assertContains(page, "is far from today’s forecast")
        self.assertContains(page, 'value="north side"')
        self.assertFalse(Reading.objects.exists())
        self.visit(ph="9.4", sure="1")
        self.assertTrue(Reading.objects.get().is_sure)

    def test_a_correction_keeps_the_old_value_visible(self):
        old = make_reading(self.user, self.batch, ph=6.1)
        url = f"/cure/readings/{old.pk}/"
        self.assertContains(self.client.get(url), 'value="6.1"')
        self.client.post(url, {"ph": "6.4", "method": "slurry"})
        new = Reading.objects.live().get()
        self.assertEqual((new.ph, new.corrects_id, new.taken_at), (6.4, old.pk, old.taken_at))
        page = self.client.get(self.url)
        self.assertContains(page, "corrected to pH 6.4")
        self.assertTrue(Entry.objects.filter(text__contains="was pH 6.1").exists())

    def test_readings_stay_on_the_page_behind_many_that_were_struck_out(self):
        now = timezone.now()
        Reading.objects.bulk_create(
            Reading(
                yard=self.batch.yard,
                batch=self.batch,
                ph=6.0,
                taken_at=now - timedelta(minutes=i),
                deleted_at=now if i < 45 else None,
            )
            for i in range(125)
        )
        self.assertEqual(self.client.get(self.url).context["page"].paginator.count, 80)

    def test_the_forecast_of_mixing_day_is_kept_whatever_is_read(self):
        told = Batch.objects.get(pk=self.batch.pk).forecast_at_mixing
        for day in (10, 15, 20):
            at = self.batch.made_at + timedelta(days=day)
            make_reading(self.user, self.batch, ph=7.4, taken_at=at)
        self.batch.refresh_from_db()
        self.assertEqual(self.batch.forecast_at_mixing, told)
        self.assertContains(self.client.get(self.url), "forecast on mixing day")

    def test_a_checked_pen_is_believed_more_closely(self):
        for day in (8, 12, 16, 20):
            at = self.batch.made_at + timedelta(days=day)
            make_reading(self.user, self.batch, ph=5.9, taken_at=at)
        readings = list(Reading.objects.for_batch(self.batch))
        before = learned(self.batch, readings).taught.posterior
        check_pen(yard=yard_of(self.user), by=self.user, meter="pen", read_low=4.0, read_high=7.0)
        after = learned(self.batch, readings).taught.posterior
        self.assertLess(float(after.covariance.trace()), float(before.covariance.trace()))
        self.assertContains(self.client.get("/cure/pens/"), "Reliable")

    def test_a_check_mends_that_pens_later_readings_and_the_raw_value_is_kept(self):
        yard = yard_of(self.user)
        before = self.batch.made_at + timedelta(days=3)
        make_reading(self.user, self.batch, ph=6.0, taken_at=before)
        # Reads 0.3 too high in both buffers; of a second pen nothing is known.
        for meter, off in (("yellow", 0.3), ("blue", 0.0)):
            check_pen(
                yard=yard, by=self.user, meter=meter, read_low=4.01 + off, read_high=7.0 + off
            )
        checked = self.batch.made_at + timedelta(days=5)
        MeterCheckRow.objects.update(checked_at=checked)
        after = checked + timedelta(days=2)
        for pen in ("yellow", "blue", ""):
            make_reading(self.user, self.batch, ph=6.0, taken_at=after, pen=pen)
        rows = {(r.pen, r.taken_at): r for r in visits_of(self.batch)}
        self.assertAlmostEqual(rows["yellow", after].mended_ph, 5.7)
        self.assertEqual(rows["yellow", after].ph, 6.0)
        self.assertAlmostEqual(rows["blue", after].mended_ph, 6.0)
        self.assertEqual(rows["", after].mended_ph, 6.0)  # which pen was never said
        self.assertEqual(rows["", before].mended_ph, 6.0)  # taken before the check
        self.assertEqual(rows["yellow", after].meter, "checked pen")
        self.assertEqual(rows["", after].meter, "unchecked pen")
        page = self.client.get(self.url)
        self.assertContains(page, "corrected</small>", count=1)
        self.assertContains(page, "which pen")

    def test_a_sprout_test_is_sown_counted_and_judged(self):
        sown = self.client.post(f"/cure/{self.batch.pk}/sprout/", {"seeds": "20"})
        typed = {
            "sprouted": "25",
            "sprouted_control": "19",
            "root_mm": "18",
            "root_control_mm": "24",
        }
        self.assertContains(self.client.post(sown.url, typed), "Only 20 were sown")
        # Counted on the day it was sown it says nothing, and nothing is ticked.
        self.client.post(sown.url, {**typed, "sprouted": "18"})
        self.assertContains(self.client.get(sown.url), "It was counted after 0 days")
        self.assertContains(self.client.get(self.url), "the test says nothing")
        SproutTest.objects.update(sown_at=timezone.now() - timedelta(days=4))
        self.client.post(sown.url, {**typed, "sprouted": "18"})
        # By hand: 100 x 18/19 x 18/24 = 71 %.
        page = self.client.get(sown.url)
        self.assertContains(page, "71 %")
        self.assertContains(page, "Not yet.")
        self.assertContains(self.client.get(self.url), "71 %")

    def test_only_pictures_are_kept_and_only_the_own_yard_sees_them(self):
        url = f"/cure/{self.batch.pk}/photos/"
        page = self.client.post(url, {"file": SimpleUploadedFile("a.png", b"<svg>")})
        self.assertContains(page, "no JPEG, PNG or WebP")
        self.client.post(url, {"file": SimpleUploadedFile("a.png", PNG), "note": "week 3"})
        photo = HeapPhoto.objects.get()
        sent = self.client.get(f"/cure/photos/{photo.pk}/")
        self.assertEqual(sent["Content-Type"], "image/jpeg")
        self.assertTrue(b"".join(sent).startswith(b"\xff\xd8\xff"))
        self.client.post(f"/cure/photos/{photo.pk}/delete/")
        self.assertEqual(self.client.get(f"/cure/photos/{photo.pk}/").status_code, 404)

    def test_planting_before_it_is_ready_asks_why(self):
        url = f"/cure/{self.batch.pk}/anyway/"
        self.assertContains(self.client.post(url, {"reason": " "}), "Say why")
        self.client.post(url, {"reason": "the pots were promised"})
        self.assertContains(self.client.get(self.url), "the pots were promised")
        self.assertTrue(Entry.objects.filter(text__contains="promised").exists())
        self.client.post(url, {"action": "back"})
        self.assertNotContains(self.client.get(self.url), "the pots were promised")

    def test_a_heap_has_one_ready_date_on_every_page(self):
        heap = make_heap(self.user, days_old=5, name="One date", crop="annuals")
        make_reading(self.user, heap, ph=6.4)
        heap.refresh_from_db()
        heap.schedule_cache |= {"ready": 99}
        heap.save(update_fields=["schedule_cache"])
        page = self.client.get(f"/cure/{heap.pk}/")
        day = page.context["evaluation"].forecast.ready.p50
        heap.refresh_from_db()
        self.assertEqual(heap.schedule_cache["ready"], day)
        written = heap.date_of(day)
        label = self.client.get(f"/barrow/{heap.pk}/label/")
        self.assertContains(label, f"Ready about {written:%-d %B %Y}")
        self.assertContains(self.client.get("/today/"), f"{written:%-d %b}")

    def test_redosing_counts_what_has_not_worked_yet(self):
        lime = [{"material": "lime-calcitic-ground", "amount": 0.2, "unit": "g/L"}]
        sour = make_heap(
            self.user,
            doses=lime,
            days_old=5,
            name="Sour",
            bulk=[{"material": "sphagnum-peat-light", "parts": 1}],
        )
        limes, sulfurs = ([library()[s]] for s in ("lime-calcitic-ground", "sulfur-dusting"))
        once = redose_say(sour, sour.evaluation(samples=0), 5, limes, sulfurs, [4.0])
        self.assertEqual(once.state, "wait")
        self.assertIn("once more, three days on", once.say)
        asked = redose_say(sour, sour.evaluation(samples=0), 5, limes, sulfurs, [1.0, 4.0])
        self.assertEqual(asked.state, "short")
        self.assertRegex(asked.say, "of ground limestone, .* in all")
        much = [{"material": "lime-calcitic-ground", "amount": 6, "unit": "g/L"}]
        limed = make_heap(
            self.user,
            doses=much,
            days_old=5,
            name="Limed",
            bulk=[{"material": "sphagnum-peat-light", "parts": 1}],
        )
        told = redose_say(limed, limed.evaluation(samples=0), 5, limes, sulfurs, [1.0, 4.0])
        self.assertIn("The lime in it is still working: look again on day", told.say)


class Due(CureCase):
    def rows(self):
        page = self.client.get(f"/cure/{self.batch.pk}/schedule/")
        return {row.due.key: row for row in page.context["rows"]}

    def decide(self, key, action):
        url = f"/cure/{self.batch.pk}/decide/"
        return self.client.post(url, {"key": key, "action": action})

    def test_done_put_off_skipped_and_taken_back(self):
        key = next(k for k, row in self.rows().items() if row.is_open)
        self.decide(key, "snoozed")
        today = timezone.localdate()
        self.assertEqual(self.rows()[key].on, today + timedelta(days=3))
        self.decide(key, "skipped")
        self.assertEqual(self.rows()[key].state, "skipped")
        self.decide(key, "back")
        self.assertTrue(self.rows()[key].is_open)
        self.assertEqual(self.decide("dance:1", "done").status_code, 404)
        self.assertEqual(self.decide(key, "dance").status_code, 404)

    def test_a_visit_is_the_probe_that_was_due(self):
        late = [k for k, r in self.rows().items() if r.due.kind == "probe" and r.is_open]
        self.assertTrue(late)
        make_reading(self.user, self.batch, ph=6.0)
        self.assertEqual(self.rows()[late[-1]].state, "done")

    def test_the_private_calendar_is_read_until_it_is_revoked(self):
        self.client.post("/cure/calendar/", {"action": "make"})
        url = f"/cure/calendar/{CalendarFeed.objects.live().get().token}.ics"
        self.client.logout()
        answer = self.client.get(url)
        self.assertIn(b"BEGIN:VEVENT", answer.content)
        self.assertIn(self.batch.code.encode(), answer.content)
        self.client.force_login(self.user)
        self.client.post("/cure/calendar/", {"action": "revoke"})
        self.assertEqual(self.client.get(url).status_code, 404)
        self.assertEqual(self.client.get("/cure/heaps.ics").status_code, 200)
