"""The yard's water: typed from a table, refused when it cannot be, and what mixes make of it."""

from django.test import TestCase

from tests.factories import bench_posted, make_user, yard_of

TABLE = {
    "known": "report",
    "alkalinity": "150",
    "Ca": "60",
    "Mg": "10",
    "Na": "20",
    "Cl": "30",
    "sulfate": "30",
    "sulfate_as": "SO4",
    "nitrate_as": "NO3",
    "hardness": "soft",
}
BENCH = {
    "name": "Tub",
    "crop": "fruiting",
    "how": "litres",
    "volume": "50",
    "part_material": ["sphagnum-peat-light"],
    "part_parts": ["1"],
    "weekly": "0.3",
    "alkalinity": "0",
}


class WaterOfTheYard(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_a_table_is_kept_and_shown_with_what_it_does(self):
        self.assertRedirects(self.client.post("/yard/water/", TABLE), "/yard/water/")
        held = yard_of(self.user).water_analysis
        self.assertAlmostEqual(held.ions_mg_l["S"], 10.0, delta=0.05)
        page = self.client.get("/yard/water/")
        self.assertContains(page, "from a report")
        self.assertContains(page, "chloride")

    def test_ions_that_do_not_add_up_are_taken_only_when_said(self):
        odd = {**TABLE, "sulfate": "300"}
        page = self.client.post("/yard/water/", odd)
        self.assertContains(page, "These ions do not add up")
        self.assertContains(page, 'value="300"')
        self.assertEqual(yard_of(self.user).water, {})
        self.assertRedirects(
            self.client.post("/yard/water/", {**odd, "as_given": "on"}), "/yard/water/"
        )
        self.assertTrue(yard_of(self.user).water_analysis.as_given)

    def test_a_negative_ion_is_a_sentence(self):
        page = self.client.post("/yard/water/", {**TABLE, "Na": "-4"})
        self.assertContains(page, "allowed: from 0")

    def test_hardness_or_conductivity_alone_is_reckoned_and_says_so(self):
        self.client.post("/yard/water/", {"known": "hardness", "hardness": "hard"})
        self.assertContains(self.client.get("/yard/water/"), "good to a factor of two")
        page = self.client.post("/yard/water/", {"known": "ec", "alkalinity": "100"})
        self.assertContains(page, "what the rest is reckoned from")

    def test_a_new_mix_is_watered_with_it_and_an_old_one_keeps_its_own(self):
        self.client.post("/yard/water/", TABLE)
        self.assertContains(self.client.get("/bench/new/"), "this yard’s water")
        typed = bench_posted({**BENCH, "tap": "yard", "action": "save"})
        saved = self.client.post("/bench/new/", typed)
        self.assertContains(self.client.get(saved.url), "alkalinity 150 mg/L; Ca 60")
        self.client.post("/yard/water/", {**TABLE, "Na": "30"})
        page = self.client.get(saved.url)
        self.assertContains(page, "the water of this recipe")
        self.assertContains(page, "Na 20")

    def test_the_desk_starts_with_its_alkalinity(self):
        self.client.post("/yard/water/", TABLE)
        self.assertContains(self.client.get("/pots/ph/?way=water"), 'value="150"')
