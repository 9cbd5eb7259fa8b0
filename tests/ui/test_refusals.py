"""What the core refuses, said to who typed it: the subject, what is wrong, what to do."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import PARTS, TEMPERATURE
from pelk.ui.refusals import sentence


class Refusals(SimpleTestCase):
    def test_each_shape_of_the_core_has_its_sentence(self):
        for said, told in (
            (
                "Parts: found -3, allowed: from 0.0001 to 1000000",
                "Parts can’t be -3. Enter a number from 0.0001 to 1,000,000.",
            ),
            (
                "found 'soon', allowed: a date such as 2026-11-26",
                "“soon” is not a date. Write it like 2026-11-26.",
            ),
            (
                "found 'sulfr', allowed: a material of the shelf",
                "Pelk has no material called “sulfr”. Choose one from the list, or add it on the "
                "Shelf.",
            ),
            ("found 'x', allowed: g, kg", "“x” can’t be used here. It may be: g, kg."),
            ("the mix has no part", "The mix has no part."),
            ("It is whole.", "It is whole."),
        ):
            with self.subTest(said):
                self.assertEqual(sentence(PelkError(said)), told)

    @given(st.sampled_from([PARTS, TEMPERATURE]), st.floats(1e7, 1e300))
    def test_no_exponent_and_no_key_reaches_a_grower(self, quantity, value):
        try:
            quantity.check(value, "parts[0].parts")
        except PelkError as error:
            told = sentence(error)
        self.assertNotRegex(told, r"\de[+-]?\d|found|allowed|parts\[0\]")
        self.assertTrue(told.startswith(quantity.name) and told.endswith("."))

    @given(st.text(min_size=1, max_size=200))
    def test_anything_else_is_told_whole(self, text):
        self.assertTrue(sentence(text).strip())
