"""Growers' words: every row of the list, in three regions; asked where more is meant."""

from django.test import SimpleTestCase

from pelk.core.base.tables import rows
from pelk.core.materials.library import library
from pelk.core.materials.words import Box, Sense, Vocabulary, folded, understood, word_list

SHELF = library()
REGIONS = ("GB", "US", "DE")
SPOKEN_FOR = [
    # What was typed, where, and what it must never be taken for.
    ("compost", Box.PART, "worm-tea"),
    ("lime", Box.DOSE, "aragonite"),
    ("sulfur", Box.DOSE, "acid-lover-blend"),
    ("acidifier", Box.DOSE, "aluminium-sulfate"),
    ("soil", Box.PART, "soil-acidifier-granules"),
]


def vocabulary(**more):
    return Vocabulary(materials=SHELF, **more)


class Words(SimpleTestCase):
    def test_every_row_in_three_regions(self):
        listed = word_list()
        named = {slug for slugs, _, _ in listed.values() for slug in slugs}
        kin = {
            folded(name): m.slug
            for m in SHELF.values()
            if m.slug not in named
            for name in (m.slug, m.name, m.short_name, *m.other_names)
        }
        for region in REGIONS:
            yard = vocabulary(region=region)
            for row in rows("material_words.csv"):
                slugs, is_sure, _ = listed[folded(row["words"])]
                got = understood(row["words"], yard)
                with self.subTest(row["words"], region=region):
                    if folded(row["words"]) in kin:
                        # The list is older than these: their own name is sure.
                        self.assertEqual(got.slug, kin[folded(row["words"])])
                        continue
                    self.assertEqual(set(got.slugs) & set(slugs), set(got.slugs))
                    if row["sure"] == "no":
                        self.assertIs(got.sense, Sense.WHICH)
                        self.assertEqual(set(got.slugs), set(slugs))
                    elif is_sure:
                        self.assertEqual(got.slug, row["materials"])

    def test_what_was_once_mistaken_is_asked(self):
        for words, box, never in SPOKEN_FOR:
            got = understood(words, vocabulary(), box)
            with self.subTest(words):
                self.assertIs(got.sense, Sense.WHICH)
                self.assertNotEqual(got.slugs[0], never)
                self.assertTrue(got.note)

    def test_nothing_that_is_poured_or_sown_is_offered_as_a_part(self):
        for material in SHELF.values():
            if material.role in ("liquid", "inoculant"):
                got = understood(material.name.split("(")[0], vocabulary(), Box.PART)
                self.assertNotIn(
                    material.slug, got.slugs if got.sense is not Sense.SURE else (), material.slug
                )
        self.assertIsNot(understood("seaweed", vocabulary(), Box.PART).sense, Sense.SURE)

    def test_a_name_in_full_is_sure_and_a_misspelt_one_is_asked(self):
        for material in SHELF.values():
            self.assertEqual(understood(material.name, vocabulary()).slug, material.slug)
        near = understood("sphagnam peat lihgt", vocabulary())
        self.assertIs(near.sense, Sense.NEAR)
        self.assertIn("sphagnum-peat-light", near.slugs)
        self.assertIs(understood("unobtainium flakes", vocabulary()).sense, Sense.UNKNOWN)

    def test_the_shelf_stands_first_and_the_yards_word_wins(self):
        own = vocabulary(owned=frozenset(["lime-dolomitic-ground"]))
        self.assertEqual(understood("lime", own).slugs[0], "lime-dolomitic-ground")
        self.assertIs(understood("lime", own).sense, Sense.WHICH)
        taught = vocabulary(taught={"Trace dust": "basalt-dust"})
        self.assertEqual(understood("trace dusts", taught).slug, "basalt-dust")

    def test_compost_in_a_bag_is_a_potting_mix_in_britain(self):
        british = understood("compost", vocabulary(region="GB"), Box.PART)
        self.assertEqual(british.slugs[0], "bagged-potting-mix")
        self.assertEqual(
            understood("compost", vocabulary(region="US"), Box.PART).slugs[0], "yard-compost"
        )
