"""Amounts as growers say them: what was read, and what must be asked."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.base.regions import climates, regions
from pelk.core.materials.library import library
from pelk.core.materials.spoken import heard
from pelk.core.materials.spoken_numbers import Reader, figure
from pelk.core.materials.spoken_units import spoken_units
from pelk.core.materials.words import Sense, Vocabulary, is_word, understood

# Phrase, then for each line: amount, unit, what it counts by, words as found.
SAID = [
    ("2 tbsp dolomite powder per gallon", (2, "tbsp", "gal", "dolomite powder")),
    ("dolomite powder 2 tbsp/gal", (2, "tbsp", "gal", "dolomite powder")),
    (
        "per gallon of peat, a tablespoon of ground limestone",
        (1, "tbsp", "gal of peat", "ground limestone"),
    ),
    ("half a cup of bone meal per cubic foot", (0.5, "cup", "ft3", "bone meal")),
    ("½ cup kelp meal / cu ft", (0.5, "cup", "ft3", "kelp meal")),
    ("1 1/2 cups neem cake per cubic foot", (1.5, "cup", "ft3", "neem cake")),
    ("0,5 l perlite per 10 l", (0.5, "L", "10 L", "perlite")),
    ("5 g/l hoof and horn", (5, "g", "L", "hoof and horn")),
    ("3 kg per cube of calcitic lime", (3, "kg", "m3", "calcitic lime")),
    ("calcitic lime @ 3 kg/m3", (3, "kg", "m3", "calcitic lime")),
    ("5 lb ag lime to the yard", (5, "lb", "yd3", "ag lime")),
    ("a couple of handfuls of blood meal per barrow", (2, "handful", "barrow", "blood meal")),
    ("handful of chicken pellets per plant", (1, "handful", "plant", "chicken pellets")),
    ("two buckets of leaf mould", (2, "bucket", "", "leaf mould")),
    ("half a bag of peat moss", (0.5, "bag", "", "peat moss")),
    ("1 bale peat moss", (1, "bale", "", "peat moss")),
    ("a brick of coir soaked in 4 litres", (1, "brick", "", "coir")),
    (
        "3 parts bark fines, 1 part perlite, 1 part peat",
        (3, "part", "", "bark fines"),
        (1, "part", "", "perlite"),
        (1, "part", "", "peat"),
    ),
    (
        "2:1:1 peat, compost, sharp sand",
        (2, "part", "", "peat"),
        (1, "part", "", "compost"),
        (1, "part", "", "sharp sand"),
    ),
    (
        "a third each of loam, leaf mould and grit",
        (1 / 3, "share", "", "loam"),
        (1 / 3, "share", "", "leaf mould"),
        (1 / 3, "share", "", "grit"),
    ),
    (
        "60% peat 30% bark 10% perlite",
        (60, "%", "", "peat"),
        (30, "%", "", "bark"),
        (10, "%", "", "perlite"),
    ),
    ("20 % worm castings", (20, "%", "", "worm castings")),
    ("100 g per square metre sulfur powder, 20 cm deep", (100, "g", "m2 x 20", "sulfur powder")),
    ("4 oz gypsum per sq yd dug in 6 in", (4, "oz", "0.836127 m2 x 15.24", "gypsum")),
    (
        "2 lb per 100 sq ft of sulfur prills, 6 inches deep",
        (2, "lb", "9.2903 m2 x 15.24", "sulfur prills"),
    ),
    ("one teaspoon epsom salts in a litre of water", (1, "tsp", "L of water", "epsom salts")),
    ("liquid seaweed, capful to a 10 l can", (1, "capful", "10 L of water", "liquid seaweed")),
    ("fish emulsion 1:100", (1, "part", "100 part of water", "fish emulsion")),
    ("10 ml per litre worm tea weekly", (10, "mL", "L", "worm tea")),
    ("1 to 2 tsp mycorrhizal granules per hole", (1.5, "tsp", "hole", "mycorrhizal granules")),
    ("5 scoops of 4-4-4 per barrow", (5, "scoop", "barrow", "4-4-4")),
    ("3 heaped tbsp feather meal per 10 l", (4.2, "tbsp", "10 L", "feather meal")),
    (
        "four shovels muck, two shovels topsoil, one of sharp sand",
        (4, "shovel", "", "muck"),
        (2, "shovel", "", "topsoil"),
        (1, "shovel", "", "sharp sand"),
    ),
    ("250 gm sarson khali per pot", (250, "g", "pot", "sarson khali")),
    ("2 kilo vermicompost each tub", (2, "kg", "tub", "vermicompost")),
    ("one ghamela of gobar khad", (1, "ghamela", "", "gobar khad")),
    ("dried blood, 2 oz to the bushel", (2, "oz", "bu", "dried blood")),
    ("a dozen crushed eggshells", (12, "eggshell", "", "crushed eggshells")),
    ("top with an inch of bark nuggets", (1, "in thick", " x 2.54", "bark nuggets")),
    ("ferrous sulphate 2 g/l, 30 litre tub", (2, "g", "L", "ferrous sulphate")),
    (
        "throw in a quart of rice hulls and a pint of biochar",
        (1, "qt", "", "rice hulls"),
        (1, "pint", "", "biochar"),
    ),
    (
        "1 cup each of kelp meal and crab meal per cubic foot",
        (1, "cup", "ft3", "kelp meal"),
        (1, "cup", "ft3", "crab meal"),
    ),
    ("10 % by weight charged biochar", (10, "% by weight", "", "charged biochar")),
    ("half strength tomato feed", (0.5, "label", "", "tomato feed")),
]
# Phrase, and a word of what is asked about its amount; None where its material is asked.
OPEN = [
    ("a few handfuls of lime", "how much"),
    ("some bone meal", "how much"),
    ("2 tbsp lime per gallon", None),
    ("1 cup of sulfur", None),
    ("50 g per square metre of sulfur", "depth"),
    ("handful of feed per pot", "litres"),
    ("a bag of compost", "bag holds"),
    ("2 spoons of potash", "which spoon"),
    ("half a brick", "weighs"),
    ("1 part manure", None),
    ("5 of perlite", "litres, parts or percent"),
    ("1,500 g sulfur", "1.5 or 1500"),
    ("a load of muck", "litres or barrows"),
    ("double the dose of sulfur", "which dose"),
    ("3 t gypsum", "tonnes"),
    ("a scoop per plant", "of what"),
    ("ash, one bucket", None),
    ("guano 2 tbsp per gallon", None),
    ("20 ppm iron", "how much water"),
    ("per gallon in a #1 pot", "2.8 L"),
    ("neem, a spoon", None),
]
NUMBERS = [
    *[(text, 0.5) for text in ("1/2", "half", "half a", "a half", "0.5", "0,5", ".5", "½")],
    *[(text, 1.5) for text in ("1½", "1 1/2", "1-1/2", "one and a half")],
    ("three quarters", 0.75),
    ("two thirds", 2 / 3),
    ("a couple of", 2),
    ("a dozen", 12),
    ("half a dozen", 6),
    ("twenty-five", 25),
    ("two hundred and fifty", 250),
    ("1'000", 1000),
    ("1 000", 1000),
    ("1,00,000", 100000),
    ("1-2", 1.5),
    ("between 1 and 2", 1.5),
    ("about 3", 3),
]
SHELF = Vocabulary(materials=library())


def listen(phrase, region="GB", is_comma=False):
    return heard(phrase, region, is_comma=is_comma, is_known=lambda text: is_word(text, SHELF))


def counted(line):
    """Enter what a line counts by as the table has it."""
    number = "" if line.per_number == 1 or not line.per else f"{line.per_number:g} "
    of = f" of {line.per_material}" if line.per_material else ""
    water = " of water" if line.in_water else ""
    depth = f" x {line.depth_cm:g}" if line.depth_cm is not None else ""
    return f"{number}{line.per}{of}{water}{depth}"


class Phrases(SimpleTestCase):
    def test_every_phrase_in_three_regions(self):
        for region in ("GB", "US", "DE"):
            for phrase, *expected in SAID:
                with self.subTest(phrase, region=region):
                    lines = listen(phrase, region)
                    got = [(ln.amount, ln.unit, counted(ln), ln.words) for ln in lines]
                    for mine, theirs in zip(got, expected, strict=True):
                        self.assertAlmostEqual(mine[0], theirs[0], places=9)
                        self.assertEqual(mine[1:], theirs[1:])

    def test_what_is_open_is_asked(self):
        for phrase, about in OPEN:
            with self.subTest(phrase):
                (line,) = listen(phrase, "DE" if "," in phrase else "GB", is_comma=True)
                meant = understood(line.words, SHELF)
                if about is None:
                    self.assertIsNot(meant.sense, Sense.SURE)
                    self.assertTrue(meant.slugs)
                else:
                    self.assertIn(about, "; ".join(line.asks))

    def test_both_ends_and_a_heaped_spoon_keep_their_spread(self):
        (line,) = listen("1 to 2 tsp mycorrhizal granules per hole")
        self.assertEqual((line.low, line.high), (1, 2))
        (line,) = listen("3 heaped tbsp feather meal per 10 l")
        self.assertEqual((line.low, line.high), (3 * 1.25, 3 * 1.7))
        (line,) = listen("10 ml per litre worm tea weekly")
        self.assertEqual(line.notes, ("weekly",))

    def test_numbers(self):
        for text, value in NUMBERS:
            with self.subTest(text):
                (line,) = listen(f"{text} litres of perlite")
                self.assertAlmostEqual(line.amount, value, places=9)
                self.assertEqual((line.unit, line.words), ("L", "perlite"))

    def test_the_regions_spoons_and_signs(self):
        units = spoken_units()
        # Exact: the US gallon is 231 cubic inches, the imperial one 4.54609 L.
        self.assertAlmostEqual(units["gal"].size_in("US"), 231 * 2.54**3, delta=0.01)
        self.assertAlmostEqual(units["gal"].size_in("GB"), 4546.09, places=6)
        self.assertEqual(units["tbsp"].size_in("AU"), 20)
        self.assertEqual(figure("1.000", is_comma=True), (1000.0, ""))
        self.assertEqual(figure("1.234,5"), (1234.5, ""))
        self.assertEqual([ln.unit for ln in listen("2T kelp meal", "US")], ["tbsp"])

    @settings(deadline=None)
    @given(st.text(max_size=300))
    def test_anything_can_be_said(self, text):
        for line in heard(text, "US", is_known=lambda _: False):
            self.assertTrue(line.words or line.asks)
        Reader(text.split()).number(0)


class Places(SimpleTestCase):
    def test_every_region_has_a_climate_that_is_known(self):
        known = climates()
        for region in regions().values():
            self.assertIn(region.climate, known, region.code)
            self.assertIn(region.units, ("metric", "us", "imperial-mix"))
        for climate in known.values():
            self.assertEqual({len(climate.normals_c), len(climate.rain_mm)}, {12})
