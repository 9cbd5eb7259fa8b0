"""The entry line of the Bench, and a hand that no answer overtakes: nothing typed is lost."""

import random
import re
import time

from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import PASSWORD, make_recipe, make_user

BULK = [
    {"material": "sphagnum-peat-light", "parts": 4},
    {"material": "yard-compost", "parts": 3},
    {"material": "perlite", "parts": 3},
]


class EntryLine(BrowserTestCase):
    worker = "allow"

    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.recipe = make_recipe(self.user, name="Terrace mix", bulk=BULK)
        self.sign_in(self.user)
        self.page.goto(self.recipe.get_absolute_url())
        self.part = self.page.get_by_label("Add a part", exact=True)
        self.dose = self.page.get_by_label("Add a dose", exact=True)

    def test_words_are_read_as_they_are_typed_and_taken_by_keys(self):
        page = self.page
        self.dose.press_sequentially("2 g/l lime")
        options = page.locator("#entry-dose [role=option]")
        expect(options).not_to_have_count(0)
        # Nothing is lit beforehand where more is meant: Enter asks, it does not take.
        expect(page.locator("#entry-dose [aria-selected=true]")).to_have_count(0)
        self.dose.press("Enter")
        expect(page.get_by_text("Which “lime” is it?")).to_be_visible()
        expect(self.dose).to_have_value("2 g/l lime")
        self.dose.press("ArrowDown")
        expect(page.locator("#entry-dose [aria-selected=true]")).to_have_count(1)
        self.dose.press("Enter")
        expect(page.get_by_label(re.compile("Dose of .*lime"))).to_have_value("2")
        expect(self.dose).to_have_value("")
        expect(self.dose).to_be_focused()
        # Sure words are lit, and Enter puts them in; no version was kept by it.
        self.part.press_sequentially("2 leaf mould")
        expect(page.locator("#entry-part [aria-selected=true]")).to_have_count(1)
        self.part.press("Enter")
        expect(page.get_by_label("Parts of Leaf mould")).to_have_value("2")
        page.get_by_label("Parts of Leaf mould").press("Enter")
        expect(page.get_by_role("button", name="Save", exact=True)).to_be_visible()
        self.assertEqual(self.recipe.versions.count(), 1)

    def test_typed_words_stay_through_answers_and_a_reload(self):
        page = self.page
        self.part.fill("half a bag cow manure")
        page.get_by_label("Parts of Perlite, coarse/medium").fill("2")
        expect(page.get_by_role("row", name="Perlite").first).to_contain_text("22%")
        expect(self.part).to_have_value("half a bag cow manure")
        page.reload()
        expect(page.get_by_text("What you had not kept is back.")).to_be_visible()
        expect(self.part).to_have_value("half a bag cow manure")
        expect(page.get_by_label("Parts of Perlite, coarse/medium")).to_have_value("2")

    def test_a_double_click_takes_one_row_out(self):
        page = self.page
        page.get_by_role("button", name="Take out Sphagnum peat, light").dblclick()
        expect(page.locator(".parts tbody .nm a")).to_have_text(
            ["Yard-waste compost", "Perlite, coarse/medium"]
        )
        page.wait_for_load_state("networkidle")
        expect(page.locator(".parts tbody .nm a")).to_have_count(2)

    def test_without_a_connection_keep_loses_nothing_and_tries_again(self):
        page = self.page
        page.get_by_label("Parts of Perlite, coarse/medium").fill("2")
        expect(page.get_by_role("row", name="Perlite").first).to_contain_text("22%")
        page.wait_for_load_state("networkidle")
        page.context.set_offline(True)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("What you typed is safe on this device")).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_text("saved as v2")).to_be_visible()
        expect(page.get_by_label("Parts of Perlite, coarse/medium")).to_have_value("2")
        self.troubles = [t for t in self.troubles if "ERR_INTERNET" not in t and "htmx" not in t]


class Hand(BrowserTestCase):
    """Answers held back on purpose, out of order: what the hand did last stands."""

    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.recipe = make_recipe(self.user, name="Terrace mix", bulk=BULK)
        self.sign_in(self.user)
        self.chance = random.Random(17)
        self.page.route("**/bench/**", self.hold_back)
        self.page.goto(self.recipe.get_absolute_url())

    def hold_back(self, route):
        if route.request.method == "POST":
            time.sleep(self.chance.choice((0.1, 0.3, 0.8, 1.6)))
        route.continue_()

    def test_typing_picking_ticking_and_taking_out_lose_nothing(self):
        page = self.page
        peat = page.get_by_label("Parts of Sphagnum peat, light")
        perlite = page.get_by_label("Parts of Perlite, coarse/medium")
        peat.fill("5")
        page.wait_for_timeout(300)
        page.get_by_label("Unit of the charge").select_option("lb/yd3")
        page.get_by_label("Lock Perlite, coarse/medium").check(force=True)
        page.get_by_role("button", name="Take out Yard-waste compost").click()
        perlite.fill("2")
        page.wait_for_timeout(200)
        page.get_by_label("Mixed volume").fill("31")
        page.get_by_label("Add a dose", exact=True).fill("kelp meal 1 g/l")
        page.wait_for_timeout(150)
        page.locator("#crop").select_option("leafy")
        peat.fill("5.5")
        expect(page.locator(".parts tbody .nm a")).to_have_count(2)
        expect(page.get_by_text("lb/yd3, reaches")).to_be_visible()
        for _ in range(2):
            page.wait_for_load_state("networkidle")
            page.wait_for_timeout(700)
        expect(peat).to_have_value("5.5")
        expect(perlite).to_have_value("2")
        expect(page.get_by_label("Mixed volume")).to_have_value("31")
        expect(page.get_by_label("Add a dose", exact=True)).to_have_value("kelp meal 1 g/l")
        expect(page.locator("#crop")).to_have_value("leafy")
        expect(page.get_by_label("Unit of the charge")).to_have_value("lb/yd3")
        expect(page.get_by_label("Lock Perlite, coarse/medium")).to_be_checked()
        # What the page says belongs to what stands in it.
        expect(page.get_by_role("row", name="Sphagnum peat, light").first).to_contain_text("73%")


class FirstMix(ByKeysAlone, BrowserTestCase):
    """From nothing to a true mix: counted, on the phone as at the desk."""

    ACTIONS_MOST = 12

    def first_mix(self, width, height):
        page = self.open_page(locale="en-GB")
        page.set_viewport_size({"width": width, "height": height})
        done = []

        def act(deed, *args):
            done.append(deed)
            deed(*args)

        page.goto("/yard/sign-up/")
        act(page.get_by_label("Email").fill, f"new{width}@steps.example")
        act(page.get_by_label("Name of your yard").fill, "Wall Side")
        act(page.get_by_label("Password").fill, PASSWORD)
        expect(page.get_by_label("Where it is")).to_have_value("GB")
        act(page.get_by_role("button", name="Open the yard").click)
        act(page.get_by_role("link", name="Start a mix").click)
        act(page.locator("#crop").select_option, "ericaceous")
        part = page.get_by_label("Add a part", exact=True)
        act(part.fill, "4 parts light peat, 3 parts leaf mould, 2 parts horticultural grit")
        act(part.press, "Enter")
        expect(page.locator("[data-rows=part] tr")).to_have_count(3)
        dose = page.get_by_label("Add a dose", exact=True)
        act(dose.fill, "1 g/l kelp meal, 2 g/l cottonseed meal")
        act(dose.press, "Enter")
        expect(page.locator("[data-rows=dose] tr")).to_have_count(2)
        act(page.get_by_role("button", name="Save").click)
        expect(page.get_by_text("saved as v1")).to_be_visible()
        if page.get_by_role("button", name="All results").is_visible():
            page.get_by_role("button", name="All results").click()
        expect(page.get_by_text("pH near").first).to_be_visible()
        self.assertLessEqual(len(done), self.ACTIONS_MOST)
        wide = page.evaluate("document.documentElement.scrollWidth")
        self.assertLessEqual(wide, width)

    def test_at_the_desk(self):
        self.first_mix(1280, 800)

    def test_on_the_phone(self):
        self.first_mix(390, 844)
