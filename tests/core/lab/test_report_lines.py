"""A laboratory's lines as they are printed: thousands, decimal commas, bases, units of an acre."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from pelk.core.lab.lab_reports import mapped
from pelk.core.lab.report_lines import MOST_ROWS, read_report
from pelk.core.materials.library import library

COMPOST = library()["yard-compost"]


def one(line):
    return read_report(line)[0]


class Lines(SimpleTestCase):
    def test_thousands_are_thousands_and_decimal_commas_decimal(self):
        for line, value in (
            ("Calcium 1,250 ppm", 1250.0),
            ('Calcium,"1,250",ppm', 1250.0),
            ("Calcium: 12,500 lb/A", 12500.0),
            ("Total N 1,25 %", 1.25),
            ("Total N 1,250 %", 1.25),
            ("Stickstoff gesamt; 1,25; %", 1.25),
            ("Phosphorus .82 %", 0.82),
            ("pH 6,8", 6.8),
            ("Iron 1,234,567 mg/kg", 1234567.0),
        ):
            with self.subTest(line):
                self.assertEqual(one(line).value, value)
        self.assertTrue(one("Calcium 1,25,0 ppm").problem)

    def test_what_it_is_weighed_by(self):
        for line, basis, unit in (
            ("Total N 1.2 % dry wt", "dry", "%"),
            ("Total N 1.2 % of dry matter", "dry", "%"),
            ("Total N 1.2 % DM", "dry", "%"),
            ("Total N 1.2 % (dry weight basis)", "dry", "%"),
            ("Total N 1.2 % as received", "fresh", "%"),
            ("Total N 1.2 % as-is", "fresh", "%"),
            ("Potassium 400 lbs/ac", "", "lbs/ac"),
        ):
            with self.subTest(line):
                row = one(line)
                self.assertEqual((row.basis, row.unit), (basis, unit))

    def test_pounds_an_acre_are_half_of_ppm(self):
        for unit in ("lb/A", "lbs/ac", "lb/acre"):
            row = mapped([one(f"Potassium 400 {unit}")], COMPOST, "soil")[0]
            self.assertEqual(row.fact, "K")
            dry = 1 - COMPOST.moisture_pct / 100
            self.assertAlmostEqual(row.value, 200 * dry / 1e4)

    def test_two_values_for_one_thing_are_asked_about(self):
        rows = read_report("Moisture 40 %\nTotal N 1.2 % dry wt\nTKN 0.9 % dry wt\nP 0.3 %")
        got = mapped(rows, COMPOST, "total")
        self.assertEqual([m.state for m in got[1:3]], ["unlikely", "unlikely"])
        self.assertIn("lines 2 and 3", got[1].why)
        same = mapped(read_report("Total N 1.2 %\nTKN 1.2 %"), COMPOST, "total")
        self.assertEqual([m.state for m in same], ["good", "aside"])

    def test_rows_are_bounded_while_they_are_read(self):
        rows = read_report("Iron 12 ppm\n" * (MOST_ROWS + 500))
        self.assertEqual(len(rows), MOST_ROWS + 1)
        self.assertIn("not read", rows[-1].problem)

    @given(
        st.floats(0.001, 900_000),
        st.sampled_from(["ppm", "mg/kg", "lb/acre"]),
        st.sampled_from(["plain", "thousands", "csv"]),
    )
    def test_any_value_comes_back_as_it_was(self, value, unit, how):
        value = round(value, 3)
        text = f"{value:,.3f}" if how != "plain" else f"{value:.3f}"
        line = f'Iron,"{text}",{unit}' if how == "csv" else f"Iron {text} {unit}"
        self.assertAlmostEqual(one(line).value, value)
