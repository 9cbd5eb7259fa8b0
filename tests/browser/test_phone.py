"""The Bench on a phone: parts on the first screen, nothing jumps, the rest is one press away."""

from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase
from tests.factories import make_recipe, make_user

WATCH = """() => {
  window.shifted = 0;
  new PerformanceObserver(list => {
    for (const entry of list.getEntries()) if (!entry.hadRecentInput) window.shifted += entry.value;
  }).observe({ type: 'layout-shift', buffered: true });
}"""
MOST = 0.02


class Phone(BrowserTestCase):
    size = {"width": 390, "height": 844}

    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.recipe = make_recipe(self.user)
        self.sign_in(self.user)

    def answered(self, target):
        return lambda r: r.request.headers.get("hx-target") == target

    def test_nothing_jumps_when_the_page_or_its_slower_answer_comes(self):
        page = self.page
        page.add_init_script(f"({WATCH})()")
        with page.expect_response(self.answered("graded")):
            page.goto(self.recipe.get_absolute_url())
        parts = page.locator(".parts")
        before = parts.bounding_box()["y"]
        self.assertLess(before, 420)
        self.assertLess(page.evaluate("shifted"), MOST)
        with page.expect_response(self.answered("ahead")):
            page.locator("[data-part]").first.fill("9")
        with page.expect_response(self.answered("graded")):
            pass
        expect(page.locator(".said")).to_be_visible()
        self.assertEqual(parts.bounding_box()["y"], before)
        self.assertLess(page.evaluate("shifted"), MOST)

    def test_goal_and_results_open_and_stay_open(self):
        page = self.page
        page.goto(self.recipe.get_absolute_url())
        crop = page.get_by_label("for", exact=True).nth(1)
        expect(crop).to_be_hidden()
        page.get_by_role("button", name="Change", exact=True).click()
        expect(crop).to_be_visible()
        said = page.locator(".said")
        low = said.bounding_box()["height"]
        page.get_by_role("button", name="All results").click()
        self.assertGreater(said.bounding_box()["height"], low)
        page.locator("[data-part]").first.fill("9")
        with page.expect_response(self.answered("ahead")):
            pass
        expect(crop).to_be_visible()
        self.assertGreater(said.bounding_box()["height"], low)

    def test_units_and_the_ph_desk_are_in_the_yard_menu(self):
        page = self.page
        page.goto("/shelf/")
        page.get_by_text("Yard", exact=True).click()
        page.locator(".menu-body").get_by_role("button", name="gal, oz").click()
        page.get_by_text("Yard", exact=True).click()
        pressed = page.locator(".menu-body").get_by_role("button", name="gal, oz")
        expect(pressed).to_have_attribute("aria-pressed", "true")
        page.locator(".menu-body").get_by_role("link", name="pH desk").click()
        expect(page.get_by_role("heading", level=1)).to_be_visible()
