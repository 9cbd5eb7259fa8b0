"""The yard itself, by keys alone: its climate and water, who works in it, what is noted."""

from playwright.sync_api import expect

from pelk.log.models import Entry
from pelk.yards.models import Membership
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import make_recipe, make_user, yard_of

MONTHS = "4 4 6 9 13 16 18 18 15 11 7 5"


class Yard(ByKeysAlone, BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.sign_in(self.user)

    def test_its_climate_and_water_are_told_and_used(self):
        page = self.page
        page.goto("/yard/settings/")
        months = page.get_by_label("Mean air temperature of each month")
        # The bars follow what is typed, before anything is saved.
        with page.expect_response(lambda r: "/yard/months/" in r.url):
            months.fill(MONTHS.replace("18 18", "21 20"))
        warm = page.locator("svg").get_by_text("21", exact=True)
        expect(warm).to_be_visible()
        with page.expect_response(lambda r: "/yard/months/" in r.url):
            months.fill(MONTHS)
        expect(warm).to_have_count(0)
        page.get_by_role("button", name="Save").first.click()
        expect(page.get_by_text("Settings saved.")).to_be_visible()
        self.assertEqual(months.input_value().split(), MONTHS.split())
        page.get_by_role("link", name="Water", exact=True).click()
        page.get_by_label("What you know of it").select_option("hardness")
        page.get_by_label("Hardness", exact=True).select_option(index=3)
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("The water is kept.")).to_be_visible()
        expect(page.get_by_role("heading", name="What it brings")).to_be_visible()
        self.assertTrue(yard_of(self.user).water_analysis)

    def test_a_hand_comes_in_by_a_link_works_and_changes_no_settings(self):
        page = self.page
        recipe = make_recipe(self.user)
        page.goto("/yard/people/")
        page.get_by_label("They come as").select_option("hand")
        page.get_by_role("button", name="Make a link").click()
        link = page.locator(".token").inner_text()
        hand = make_user("hand@cove.example", "Cove")
        self.page = theirs = self.open_page()
        self.sign_in(hand)
        theirs.goto(link)
        theirs.get_by_role("button", name="Come in").click()
        expect(theirs.get_by_text(f"You are in {yard_of(self.user).name} now.")).to_be_visible()
        theirs.goto("/log/")
        theirs.get_by_label("A note").fill("frost in the night")
        theirs.get_by_role("button", name="Add note").click()
        expect(theirs.get_by_text("frost in the night")).to_be_visible()
        theirs.goto(recipe.get_absolute_url())
        expect(theirs.get_by_label("Name of the mix")).to_have_value(recipe.name)
        # The keeper sees who wrote it, finds it by a word, and sends them away.
        page.goto("/log/?q=frost")
        expect(page.locator(".deeds")).to_contain_text("hand, ")
        expect(page.locator(".deeds li")).to_have_count(1)
        page.goto("/yard/people/")
        page.get_by_label("hand as").select_option("away")
        page.get_by_role("button", name="Change").last.click()
        expect(page.get_by_text("hand@cove.example")).to_have_count(0)
        self.assertEqual(Membership.objects.filter(user=hand).count(), 1)
        self.assertEqual(Entry.objects.get(text="frost in the night").by, hand)
        theirs.goto(recipe.get_absolute_url())
        expect(theirs.get_by_label("Name of the mix")).to_have_count(0)
        self.troubles = [t for t in self.troubles if "404" not in t]

    def test_what_was_deleted_comes_back_by_a_key(self):
        page = self.page
        recipe = make_recipe(self.user, name="Terrace mix")
        page.goto("/bench/")
        page.get_by_role("button", name="Delete Terrace mix").click()
        expect(page.get_by_text("Terrace mix is deleted.")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Name of the mix")).to_have_value(recipe.name)
        page.goto("/log/")
        page.keyboard.press("Control+k")
        page.get_by_role("dialog").get_by_role("searchbox").fill("terrace")
        page.get_by_role("dialog").get_by_role("link", name="Terrace mix").click()
        expect(page.get_by_label("Name of the mix")).to_have_value(recipe.name)
