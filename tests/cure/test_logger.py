"""A data logger: read as it writes, asked about what it leaves open, thinned, undone as one."""

from datetime import datetime, timedelta

from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase, TestCase
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from pelk.core.curing.logged_days import by_day
from pelk.core.curing.logger_csv import DAY_FIRST, MONTH_FIRST, read_logger
from pelk.cure.domain.visits import visits_of
from pelk.cure.models import LoggedImport, LoggerShape, Reading
from pelk.cure.services.readings import record_reading
from pelk.ui.uploads import text_of
from tests.factories import make_heap, make_user


def one(text, **answers):
    got = read_logger(text, answers or None)
    assert not got.problems and not got.questions, (got.problems, got.questions)
    return got.rows[0]


class Files(SimpleTestCase):
    def test_units_stand_in_the_heads(self):
        for head, value, ec in (
            ("EC (mS/cm)", "0.82", 0.82),
            ("EC (µS/cm)", "820", 0.82),
            ("Conductivity [uS/cm]", '"1,250"', 1.25),
            ("EC dS/m", "0.82", 0.82),
            ("ec_us_cm", "820", 0.82),
        ):
            with self.subTest(head):
                self.assertAlmostEqual(one(f"time,{head}\n2026-11-20 08:00,{value}").ec_ds_m, ec)
        warm = "Timestamp,Temperature (°F)\n2026-11-20 08:00,59"
        self.assertAlmostEqual(one(warm).temperature_c, 15.0)
        latin = "time;Temp (°C)\n20.11.2026 08:00;14,5\n".encode("cp1252")
        self.assertEqual(one(text_of(ContentFile(latin))).temperature_c, 14.5)

    def test_dates_and_times_as_loggers_write_them(self):
        moment = datetime(2026, 11, 20, 20, 5)
        for text in (
            "Date,Time,pH\n2026-11-20,20:05,5.6",
            "Date,Time,pH\n20/11/2026,8:05 PM,5.6",
            "Date;Time;pH\n20.11.2026;20:05:00;5,6",
            "Date Time,pH\n11/20/2026 8:05:00 PM,5.6",
            "Logger 7\nSerial: 44, site: terrace\n\nTimestamp,pH\n2026-11-20T20:05:00,5.6",
        ):
            with self.subTest(text):
                row = one(text)
                self.assertEqual((row.at, row.ph), (moment, 5.6))
        before = read_logger("Logger 7\n\nTimestamp,pH,Battery\n2026-11-20 20:05,5.6,88")
        self.assertEqual(before.aside, ("lines 1 to 2, before the table", "the column Battery"))

    def test_what_it_leaves_open_is_asked_and_never_guessed(self):
        text = "Date,EC,Temp\n03/04/2026 08:00,820,59"
        asked = read_logger(text)
        self.assertEqual([q.key for q in asked.questions], ["ec", "warmth", "order"])
        self.assertEqual(asked.rows, ())
        row = one(text, ec="us/cm", warmth="F", order=MONTH_FIRST)
        self.assertEqual((row.at.month, row.at.day), (3, 4))
        self.assertAlmostEqual(row.ec_ds_m, 0.82)
        self.assertEqual(one(text, ec="us/cm", warmth="F", order=DAY_FIRST).at.month, 4)
        # A day over twelve anywhere tells the order for all.
        told = read_logger("Date,pH\n03/04/2026 08:00,5.6\n25/04/2026 08:00,5.7")
        self.assertEqual(told.rows[0].at.month, 4)

    def test_damage_is_named_and_gaps_are_gaps(self):
        text = "time,ph\n2026-11-20 08:00,5,6\n2026-11-20 09:00,---\n2026-11-20 10:00,nan\n"
        self.assertEqual([line for line, _ in read_logger(text).problems], [2, 3, 4])
        self.assertIn("decimal comma", read_logger(text).problems[0][1])
        wrong = read_logger("time,ph\n2026-11-20 25:00,5.6\n2026-02-30 08:00,5.6\n2026-11-20,54")
        self.assertEqual(len(wrong.problems), 3)

    @given(
        st.lists(
            st.tuples(
                st.datetimes(datetime(2020, 1, 1), datetime(2029, 12, 31)),
                st.floats(2, 12),
                st.floats(0.05, 9),
                st.floats(-5, 60),
            ),
            min_size=1,
            max_size=12,
        ),
        st.sampled_from([",", ";", "\t"]),
        st.booleans(),
        st.booleans(),
        st.booleans(),
    )
    def test_any_file_comes_back_as_it_was_or_is_refused(self, rows, mark, comma, small, cold):
        """A logger's file with known truth: never a silent wrong number."""
        comma = comma and mark != ","
        heads = ["Timestamp", "pH", "EC (µS/cm)" if small else "EC (mS/cm)"]
        heads.append("Temperature (°C)" if cold else "Temperature (°F)")

        def cell(value, digits):
            text = f"{value:.{digits}f}"
            return text.replace(".", ",") if comma else text

        lines = [mark.join(heads)]
        for at, ph, ec, warm in rows:
            shown = (ph, ec * (1000 if small else 1), warm if cold else warm * 1.8 + 32)
            cells = [cell(x, 1 if x > 20 else 4) for x in shown]
            lines.append(mark.join([f"{at:%Y-%m-%d %H:%M:%S}", *cells]))
        got = read_logger("\r\n".join(lines))
        self.assertEqual((got.problems, got.questions), ((), ()))
        for row, (at, ph, ec, warm) in zip(got.rows, rows, strict=True):
            self.assertEqual(row.at, at.replace(microsecond=0))
            self.assertAlmostEqual(row.ph, ph, delta=1e-3)
            self.assertAlmostEqual(row.ec_ds_m, ec, delta=1e-3)
            self.assertAlmostEqual(row.temperature_c, warm, delta=0.06)

    def test_days_are_medians(self):
        text = "time,ph\n" + "\n".join(f"2026-11-20 {h:02d}:00,{5 + (h == 3)}" for h in range(9))
        days = by_day(read_logger(text).rows)
        self.assertEqual((len(days), days[0].ph, days[0].count), (1, 5.0, 9))


class Page(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.heap = make_heap(self.user, days_old=20)
        self.url = f"/cure/{self.heap.pk}/"

    def lines(self, days=6, minutes=15, ph=5.8):
        start = timezone.localtime(self.heap.made_at) + timedelta(days=8)
        count = days * 24 * 60 // minutes
        moments = [start + timedelta(minutes=minutes * i) for i in range(count)]
        return "time,ph\n" + "\n".join(f"{at:%Y-%m-%d %H:%M},{ph}" for at in moments)

    def keep(self, text, **more):
        return self.client.post(f"{self.url}logger/", {"text": text, "action": "keep", **more})

    def test_a_logger_never_drowns_the_first_reading(self):
        at = self.heap.made_at + timedelta(hours=1)
        record_reading(batch=self.heap, by=self.user, ph=4.6, taken_at=at, is_sure=True)
        self.assertEqual(self.keep(self.lines()).status_code, 302)
        self.assertEqual(Reading.objects.filter(imported__isnull=False).count(), 576)
        counted = visits_of(self.heap)
        self.assertEqual(counted[-1].ph, 4.6)
        self.assertLessEqual(len(counted), 8)
        page = self.client.get(self.url)
        self.assertEqual(page.context["taught_by"], len(counted))
        self.assertAlmostEqual(page.context["evaluation"].forecast.ph[1][0], 4.6, delta=0.15)

    def test_a_second_import_adds_nothing_and_one_is_undone_as_one(self):
        text = self.lines(days=2)
        self.keep(text, name="october.csv")
        again = self.client.post(
            f"{self.url}logger/", {"text": text, "action": "keep"}, follow=True
        )
        self.assertContains(again, "192 were there already")
        taken = LoggedImport.objects.get()
        self.assertEqual((taken.count, taken.name), (192, "october.csv"))
        self.client.post(f"/cure/imports/{taken.pk}/undo/")
        self.assertEqual(Reading.objects.live().count(), 0)
        self.assertEqual(visits_of(self.heap), [])
        self.client.post(f"/cure/imports/{taken.pk}/again/")
        self.assertEqual(Reading.objects.live().count(), 192)

    def test_an_answer_is_kept_for_files_of_that_shape(self):
        day = timezone.localdate() - timedelta(days=3)
        text = f"time,EC\n{day} 08:00,820"
        page = self.client.post(f"{self.url}logger/", {"text": text, "action": "keep"})
        self.assertContains(page, "In which unit is the EC?")
        self.assertEqual(Reading.objects.count(), 0)
        self.keep(text, ec="us/cm")
        self.assertAlmostEqual(Reading.objects.get().ec_ds_m, 0.82)
        self.assertEqual(LoggerShape.objects.get().answers, {"ec": "us/cm"})
        self.keep(f"time,EC\n{day} 09:00,900")
        self.assertAlmostEqual(Reading.objects.first().ec_ds_m, 0.9)

    def test_bad_lines_are_left_out_only_when_asked(self):
        day = timezone.localdate() - timedelta(days=3)
        text = f"time,ph\n{day} 08:00,5.8\n{day} 09:00,54"
        file = SimpleUploadedFile("a.csv", text.encode())
        page = self.client.post(f"{self.url}logger/", {"file": file, "action": "keep"})
        self.assertContains(page, "leave the bad lines out")
        self.assertEqual(Reading.objects.count(), 0)
        self.client.post(f"{self.url}logger/", {"text": text, "action": "leave"})
        self.assertEqual(Reading.objects.get().ph, 5.8)
