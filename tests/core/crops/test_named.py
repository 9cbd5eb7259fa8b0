"""Crops by the names growers use."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.crops.groups import crop, library
from pelk.core.crops.named import agreed, crops_named, family_of, how_to_plant, named_crops
from pelk.core.old_soil.inspection import is_same_family
from pelk.core.vessels.planting import inoculant_for


class Names(SimpleTestCase):
    def test_every_crop_is_found_by_each_of_its_names(self):
        for known in named_crops().values():
            self.assertIn(known.group, library(), known.slug)
            for name in (known.name, *known.other_names):
                with self.subTest(name):
                    self.assertIn(known, crops_named(name))
                    self.assertIn(known, crops_named(name.upper()))

    def test_a_plain_name_says_what_its_kinds_agree_on(self):
        for text, family, group in (
            ("peppers", "Solanaceae", "fruiting"),
            ("Tea camellias", "Theaceae", "ericaceous"),
            ("kumquat", "Rutaceae", "citrus"),
            ("aubergines", "Solanaceae", "fruiting"),
            ("auricula", "Primulaceae", "annuals"),
            ("tomatoe", "Solanaceae", "fruiting"),
        ):
            with self.subTest(text):
                meant = crops_named(text)
                self.assertEqual((agreed(meant, "family"), agreed(meant, "group")), (family, group))
        self.assertEqual(crops_named("zzz"), ())
        self.assertEqual(family_of("Rosaceae"), "Rosaceae")

    def test_the_same_family_is_known_by_the_crops(self):
        self.assertTrue(is_same_family("peppers", "tomatoes"))
        self.assertTrue(is_same_family("Solanaceae", "aubergine"))
        self.assertFalse(is_same_family("peppers", "lettuce"))
        self.assertFalse(is_same_family("peppers", ""))

    def test_what_cannot_work_on_the_roots_is_not_offered(self):
        spoons, says = inoculant_for(crop("leafy"), "", "spinach")
        self.assertIsNone(spoons)
        self.assertIn("Save the inoculant", says)
        self.assertIsNotNone(inoculant_for(crop("fruiting"), "", "aubergine")[0])
        self.assertIsNone(inoculant_for(crop("leafy"), "cabbage")[0])

    def test_how_it_is_planted(self):
        self.assertIn("Bury the stem to the first leaves", how_to_plant("cordon tomato"))
        self.assertEqual(how_to_plant("zzz"), "")

    @settings(deadline=None)
    @given(st.text(max_size=60))
    def test_anything_can_be_typed(self, text):
        for known in crops_named(text):
            self.assertIn(known.slug, named_crops())
