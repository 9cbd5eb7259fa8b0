"""Lime by buffer pH and exchange capacity against tables that are printed."""

from django.test import SimpleTestCase

from pelk.core.lab.lab_reports import lime_readings, mapped
from pelk.core.lab.lime_requirement import (
    TON_ACRE_8_IN_G_L,
    buffer_of,
    by_mehlich,
    by_smp,
    hydrogen_share,
    lime_needs,
)
from pelk.core.lab.report_lines import read_report
from pelk.core.materials.library import library

SOIL = library()["topsoil-loam"]


class Requirement(SimpleTestCase):
    def test_smp_as_the_tables_print_it(self):
        """Tons an acre, 8 inches, mineral soils (extension table, from memory)."""
        for read, tons in ((6.8, (1.0, 1.2, 1.4)), (6.5, (3.2, 3.9, 4.5)), (6.0, (6.7, 8.2, 9.6))):
            for target, ton in zip((6.0, 6.5, 6.8), tons, strict=True):
                got = by_smp(5.0, read, target).typ / TON_ACRE_8_IN_G_L
                self.assertAlmostEqual(got, ton, delta=0.06)
        self.assertEqual(by_smp(6.4, 6.8, 6.0).typ, 0.0)

    def test_mehlich_by_hand(self):
        """Buffer 6.1 is (6.6 - 6.1) / 0.25 = 2 meq in 100 cm3; half of the way takes half."""
        got = by_mehlich(5.0, 6.1, 5.8)
        self.assertAlmostEqual(got.low, 2 * 0.5 * 0.50, delta=0.01)
        self.assertAlmostEqual(got.high, 2 * 0.5 * TON_ACRE_8_IN_G_L)

    def test_hydrogen_share_turns_the_curve_over(self):
        for ph in (4.6, 5.2, 6.0, 6.5):
            h = hydrogen_share(ph)
            self.assertAlmostEqual(7.79 - 5.55 * h + 2.27 * h * h, ph)

    def test_a_report_gives_its_lime_beside_pelks_own(self):
        text = "pH 5.4\nBuffer pH (SMP) 6.5\nCEC 12.5 meq/100g\nPotassium 400 lb/A"
        rows = read_report(text)
        self.assertEqual([m.state for m in mapped(rows, SOIL, "soil")][1:3], ["aside", "aside"])
        ph, buffers, cec = lime_readings(rows, {})
        self.assertEqual((ph, buffers, cec), (5.4, [("smp", 6.5)], 12.5))
        needs = lime_needs(SOIL, ph, buffers, cec)
        self.assertEqual({n.by for n in needs}, {"SMP buffer", "Exchange capacity", "Pelk"})
        for need in needs:
            self.assertGreater(need.caco3_g_l.typ, 0)

    def test_an_unnamed_buffer_is_asked_about_and_nonsense_refused(self):
        self.assertEqual(buffer_of("Buffer pH"), "")
        self.assertIsNone(buffer_of("pH"))
        (row,) = mapped(read_report("Buffer pH 6.4"), SOIL, "soil")
        self.assertEqual((row.state, len(row.buffers)), ("unknown", 4))
        self.assertEqual(lime_readings(read_report("Buffer pH 6.4"), {1: "mehlich"})[1][0][1], 6.4)
        (row,) = mapped(read_report("SMP buffer 1.2"), SOIL, "soil")
        self.assertEqual(row.state, "unknown")
        self.assertEqual(lime_readings(read_report("LTI 65"), {})[1], [("smp", 6.5)])
