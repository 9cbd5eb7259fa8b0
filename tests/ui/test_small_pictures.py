"""Small pictures: nothing covers anything, and each says its numbers in words too."""

import re
from datetime import date, timedelta

import numpy as np
from django.core.files.base import ContentFile
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from pelk.ui.chart_numbers import chart_numbers
from pelk.ui.dots import CLEAR, WIDTH, R, dots_svg
from pelk.ui.months_chart import months_svg
from pelk.ui.ph_dot import ph_dot_svg
from pelk.ui.season_nitrogen import PotsNitrogen, season_nitrogen_svg, season_numbers
from pelk.ui.small_releases import small_releases
from pelk.ui.tally import tally_svg
from pelk.ui.time_strip import MARK, Happened, time_strip_svg
from pelk.ui.units import Measures
from pelk.ui.uploads import UploadError, text_of

numbers = st.floats(-1e4, 1e4)


class Pictures(SimpleTestCase):
    @given(st.lists(st.none() | numbers, min_size=2, max_size=4))
    def test_dots_lie_apart_and_inside(self, values):
        drawn = dots_svg(values, "abcd")
        places = [float(x) for x in re.findall(r'<circle [^>]*cx="([\d.-]+)"', drawn)]
        known = [v for v in values if v is not None]
        if len(known) < 2 or len({round(v, 9) for v in known}) == 1:
            self.assertEqual(drawn, "")
            return
        self.assertEqual(len(places), len(known))
        for i, place in enumerate(places):
            self.assertTrue(R <= place <= WIDTH - R)
            self.assertTrue(all(abs(place - o) > CLEAR - 0.11 for o in places[:i]))

    def test_a_tally_has_a_stroke_for_each_and_none_for_many(self):
        for count in range(1, 16):
            self.assertEqual(tally_svg(count).count("M"), count)
        self.assertEqual((tally_svg(0), tally_svg(16)), ("", ""))

    @given(st.lists(st.integers(0, 300), min_size=2, max_size=30))
    def test_marks_of_a_strip_never_cover_each_other(self, days):
        start = date(2031, 1, 5)
        deeds = [Happened(start + timedelta(days=d), "g-cure", "read", "/x/") for d in days]
        drawn = time_strip_svg(deeds, "T1")
        boxes = re.findall(r'<rect class="strip-hit" x="([\d.]+)" y="([\d.-]+)"', drawn)
        places = [(float(x), float(y)) for x, y in boxes]
        if len(set(days)) < 2:
            self.assertEqual(drawn, "")
        for i, (x, y) in enumerate(places):
            for ox, oy in places[:i]:
                self.assertTrue(abs(x - ox) >= MARK or abs(y - oy) >= MARK)

    def test_a_table_lies_along_its_axis_from_end_to_end(self):
        table = chart_numbers("x", ("day", "pH"), [(d, (str(d), "6.0")) for d in (0, 45, 180)])
        self.assertEqual([row.share for row in table.rows], [0, 0.25, 1])
        self.assertEqual(chart_numbers("x", (), []).rows, ())

    def test_months_and_releases_tell_their_numbers(self):
        twelve = [-4, 0, 3, 8, 12, 16, 18, 17, 13, 8, 3, -2]
        drawn = months_svg(twelve, Measures("metric"))
        self.assertIn("-4, 0, 3, 8", drawn)
        self.assertEqual((drawn.count("mo-cold"), drawn.count("mo-bar")), (2, 10))
        self.assertIn("°F: 25, 32, 37", months_svg(twelve, Measures("us")))
        curves = [np.linspace(0, 0.3 + i / 24, 183) for i in range(12)]
        released = small_releases(curves, here=4)
        self.assertEqual(released.numbers.rows[0].cells[0], "Jan")
        self.assertEqual(released.picture.count("is-here"), 1)
        self.assertIn("target 4.5 to 5.4", ph_dot_svg(4.6, (4.5, 5.4), "4.6"))

    def test_a_season_says_where_nitrogen_runs_short(self):
        today = date(2031, 5, 1)
        rows = [
            PotsNitrogen("Tea <pots>", "/pots/1/", today, [1.0] * 20, [0.2] * 20, (3, 4)),
            PotsNitrogen("Long ago", "/pots/2/", date(2020, 1, 1), [1.0] * 9, [2.0] * 9, ()),
        ]
        drawn = season_nitrogen_svg(rows, today, 460)
        self.assertIn("Tea &lt;pots&gt;: short in 2 weeks", drawn)
        self.assertEqual(drawn.count("hungry"), 2)
        self.assertNotIn("Long ago", drawn)
        self.assertEqual(season_nitrogen_svg([], today, 460), "")
        table = season_numbers(rows, today)
        self.assertEqual(table.heads[1:], ("Tea <pots> gets, mg/L", "Tea <pots> needs, mg/L"))
        self.assertEqual((len(table.rows), table.rows[19].cells[1:]), (20, ("0.2", "1.0")))
        self.assertIsNone(season_numbers([], today))


class Uploads(SimpleTestCase):
    def test_text_of_any_writer_and_nothing_else(self):
        said = "time,Temp (°C)\n08:00,14,5"
        for data in (said.encode(), b"\xef\xbb\xbf" + said.encode(), said.encode("utf-16")):
            self.assertEqual(text_of(ContentFile(data)), said)
        self.assertEqual(text_of(ContentFile(said.encode("cp1252"))), said)
        for data in (b"PK\x03\x04 sheet", b"%PDF-1.7", b"\x89PNG", b"\xd0\xcf\x11\xe0 old sheet"):
            with self.assertRaisesMessage(UploadError, "Save it as CSV or JSON"):
                text_of(ContentFile(data))
        with self.assertRaisesMessage(UploadError, "over 1 kB"):
            text_of(ContentFile(b"x" * 2000), 1000)
