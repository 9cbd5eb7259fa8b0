"""Hazards are stated, never inherited; a school is offered nothing it refuses."""

from django.test import SimpleTestCase

from pelk.core.base.tables import rows
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.feeding_styles import FeedingStyle, Inputs
from pelk.core.materials.library import library
from tests.core.mixes import plan

# Checked by hand, by the name of each: what has something of an animal in it, or may have.
ANIMAL = frozenset(
    [
        "acid-lover-blend",
        "all-purpose-3-4-4",
        "all-purpose-4-4-4",
        "all-purpose-5-5-5",
        "alpaca-llama-manure",
        "bat-guano-high-n",
        "bat-guano-high-p",
        "biogas-slurry",
        "biosolids-compost",
        "bird-guano-high-n",
        "bird-guano-high-p",
        "blood-and-bone",
        "blood-meal",
        "bone-meal-raw",
        "bone-meal-steamed",
        "broiler-litter-raw",
        "cattle-manure-dehydrated",
        "composted-buffalo-manure",
        "composted-camel-manure",
        "composted-chicken-manure",
        "composted-cow-manure",
        "composted-duck-manure",
        "composted-goat-manure",
        "composted-horse-manure",
        "composted-layer-manure",
        "composted-pig-manure",
        "composted-rabbit-manure",
        "composted-sheep-manure",
        "crab-meal",
        "cricket-frass",
        "eggshell-crushed",
        "feather-meal",
        "fish-amino-acid",
        "fish-blood-bone",
        "fish-bone-meal",
        "fish-emulsion",
        "fish-hydrolysate",
        "fish-meal",
        "frass-liquid",
        "hoof-and-horn",
        "human-hair",
        "human-urine",
        "humus-and-manure",
        "insect-frass-bsf",
        "insect-frass-mealworm",
        "jeevamrut",
        "manure-tea",
        "meat-and-bone-meal",
        "oyster-shell-flour",
        "panchagavya",
        "pigeon-manure",
        "poultry-manure-pellets",
        "raw-buffalo-manure",
        "raw-camel-manure",
        "raw-chicken-manure",
        "raw-cow-manure",
        "raw-goat-manure",
        "raw-horse-manure",
        "raw-rabbit-manure",
        "raw-sheep-manure",
        "shrimp-meal",
        "silkworm-frass",
        "soil-conditioner-manure",
        "vermicompost-manure",
        "wool-pellets",
        "wool-shoddy",
    ]
)
UNKNOWN = frozenset(
    [
        "aragonite-coral-sand",
        "bagged-acid-mix",
        "bagged-cactus-mix",
        "bagged-loam-mix",
        "bagged-orchid-mix",
        "bagged-peat-free-mix",
        "bagged-potting-mix",
        "bagged-raised-bed-mix",
        "bagged-seed-mix",
        "bagged-topsoil-blended",
        "bagged-topsoil-peaty",
        "biochar-charged",
        "calcified-seaweed",
        "compost-tea",
        "digestate-fibre",
        "garden-soil-calcareous",
        "garden-soil-neutral",
        "municipal-compost",
        "mushroom-compost",
        "predatory-nematodes",
        "spent-potting-mix",
        "topsoil-clay",
        "topsoil-loam",
        "topsoil-sandy",
        "worm-castings",
        "worm-leachate",
        "worm-tea",
    ]
)
# Material, a caution that its own nature asks for, whether nobody may override it.
SAID = [
    ("quicklime", "L2", "hard"),
    ("human-urine", "M11", "hard"),
    ("biosolids-compost", "M11", "hard"),
    ("manure-tea", "M1", "stop"),
    ("jeevamrut", "M1", "stop"),
    ("panchagavya", "M1", "stop"),
    ("biogas-slurry", "M1", "stop"),
    ("pigeon-manure", "M1", "stop"),
    ("sulfuric-acid-water", "A1", "caution"),
    ("phosphoric-acid", "A1", "caution"),
    ("lime-sulfur", "A7", "caution"),
    ("sphagnum-moss-fibre", "D9", "note"),
    ("seaweed-fresh", "H9", "caution"),
]
# What each must no longer say: it was its kin's.
NOT_SAID = [
    ("quicklime", "L1"),
    ("sulfuric-acid-water", "A3"),
    ("lime-sulfur", "D10"),
    ("mahua-cake", "P3"),
    ("sodium-molybdate", "B1"),
]
PEAT = {"sphagnum-peat-light": 4, "perlite": 1}


def cautions(slug, **more):
    """Return the cautions of a mix with some of a material in it."""
    of_bulk = library()[slug].role == "bulk"
    parts = {**PEAT, slug: 1} if of_bulk else PEAT
    doses = [] if of_bulk else [(slug, 6)]
    told = evaluate(plan(parts, doses, crop="leafy", **more), library(), samples=0)
    return {c.id: c.severity for c in told.cautions}


class Stated(SimpleTestCase):
    def test_every_kin_states_its_own(self):
        told = rows("materials_more.csv")
        self.assertEqual(len(told), 114)
        for row in told:
            with self.subTest(row["slug"]):
                self.assertTrue(row["tags"] and row["metals"] and row["organic_program"])
                self.assertIn(row["vegan"], ("yes", "no", "check"))

    def test_each_says_its_own_hazard_and_not_its_kins(self):
        for slug, key, severity in SAID:
            with self.subTest(slug):
                self.assertEqual(cautions(slug).get(key), severity)
        for slug, key in NOT_SAID:
            with self.subTest(slug, silent=key):
                self.assertNotIn(key, cautions(slug))

    def test_the_dog_is_named_where_there_is_one(self):
        self.assertIn("cocoa", library()["cocoa-shell"].tags)
        self.assertIn("hops", library()["spent-hops"].tags)


class Schools(SimpleTestCase):
    def test_plant_and_mineral_only_takes_what_is_known_to_be(self):
        style = FeedingStyle(inputs=Inputs.PLANT_AND_MINERAL_ONLY)
        refused = {slug for slug, m in library().items() if not style.allows(m)}
        self.assertEqual(len(library()), 267)
        self.assertEqual({slug for slug in library() if library()[slug].vegan == "check"}, UNKNOWN)
        self.assertLessEqual(ANIMAL | UNKNOWN, refused)
        banned = {s for s, m in library().items() if "not-allowed" in m.tags}
        coated = {s for s, m in library().items() if "controlled-release" in m.tags}
        self.assertEqual(refused, ANIMAL | UNKNOWN | banned | coated)

    def test_any_organic_takes_all_but_what_no_certifier_lists(self):
        refused = {slug for slug, m in library().items() if not FeedingStyle().allows(m)}
        self.assertEqual(len(refused & ANIMAL), 2)
        self.assertIn("quicklime", refused)
        self.assertNotIn("blood-meal", refused)
