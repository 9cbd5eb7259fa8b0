"""Cells that leave the house are text: no formula, no control character, nothing is nothing."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from pelk.ui.cells import FORMULAS, NUMBER, as_typed, plain_cell


class Cells(SimpleTestCase):
    def test_formulas_are_text_and_numbers_numbers(self):
        for text in ("=1+1", "+1+1", "-cmd", "@sum", "\t=1", "\r=1", "=x@y.example", "\uff1d1"):
            self.assertEqual(plain_cell(text), f"'{text}")
        for text in ("-1.5", "+2", "12 %", "bench@steps.example", "a=1", "-0,5"):
            self.assertEqual(plain_cell(text), text)
        self.assertEqual([plain_cell(x) for x in (None, "", 0, 1.5)], ["", "", "0", "1.5"])
        self.assertEqual(plain_cell("a\x00b\x1b[31m\x7f"), "ab[31m")

    @given(st.text(max_size=60))
    def test_what_was_typed_comes_back(self, text):
        held = plain_cell(text)
        self.assertFalse(held.startswith(FORMULAS) and not NUMBER.fullmatch(held))
        if text.isprintable() and not text.startswith("'"):
            self.assertEqual(as_typed(held), text)
