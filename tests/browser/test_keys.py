"""By keyboard and by ear: drawers hold the focus and hand it back; answers are short."""

import re
from pathlib import Path

from playwright.sync_api import expect

from tests.browser.base import StockedTestCase

SPACED = """() => {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(`* { line-height: 1.5 !important; letter-spacing: .12em !important;
    word-spacing: .16em !important } p { margin-bottom: 2em !important }`);
  document.adoptedStyleSheets = [sheet];
  return document.documentElement.scrollWidth - innerWidth;
}"""
# What can be pressed and is smaller than a fingertip needs, but for links within a sentence.
SMALL = """() => [...document.querySelectorAll(
    'main a, main button, main summary, main select, main input, .path-foot a')]
  .filter(e => e.offsetParent && !e.closest('.visually-hidden, p, li, td, th, dd, .lg')
    && !e.matches('.visually-hidden, [type=hidden], [type=checkbox], [type=radio]'))
  .map(e => [e.outerHTML.slice(0, 90), e.getBoundingClientRect()])
  .filter(([, box]) => box.height < 23.5 || box.width < 23.5).map(([html]) => html)"""
BARE_TABLES = """() => [...document.querySelectorAll('table')]
  .filter(t => t.rows.length && !t.querySelector('th')).map(t => t.outerHTML.slice(0, 120))"""
INSIDE = (
    "() => !!document.activeElement.closest('dialog') || document.activeElement === document.body"
)
NAMELESS = """() => [...document.querySelectorAll('main .why')]
  .filter(e => e.offsetParent && e.textContent.trim() === 'why').map(e => e.outerHTML)"""


# What is said begins with, or holds, what is seen (WCAG 2.5.3).
UNLIKE = """() => [...document.querySelectorAll('button, a, summary')]
  .filter(e => e.hasAttribute('aria-label') && e.offsetParent && !e.closest('svg'))
  .map(e => [e.getAttribute('aria-label'), e.innerText])
  .map(pair => pair.map(t => t.toLowerCase().replace(/\\s+/g, ' ').trim()))
  .filter(([said, seen]) => seen && !said.includes(seen))"""


class Keys(StockedTestCase):
    def test_a_drawer_holds_the_focus_and_hands_it_back(self):
        page = self.page
        page.goto(self.recipe.get_absolute_url())
        opener = page.get_by_role("button", name="Why Forecast pH").first
        opener.press("Enter")
        drawer = page.get_by_role("dialog")
        expect(drawer.get_by_role("button", name="Close")).to_be_focused()
        for _ in range(12):
            page.keyboard.press("Tab")
            self.assertTrue(page.evaluate(INSIDE))
        page.keyboard.press("Escape")
        expect(drawer).to_have_count(0)
        expect(opener).to_be_focused()
        # The same where each step is a page of its own.
        page.goto("/shelf/kelp-meal/")
        page.get_by_role("link", name="Why a level cup").press("Enter")
        expect(page.get_by_role("dialog")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.get_by_role("link", name="Why a level cup")).to_be_focused()

    def test_what_goes_gives_the_focus_to_the_next_row(self):
        page = self.page
        page.goto(self.recipe.get_absolute_url())
        rows = page.locator(".parts tbody tr[data-row]")
        expect(rows).to_have_count(2)
        page.get_by_role("button", name="Take out").first.press("Enter")
        expect(rows).to_have_count(1)
        page.wait_for_function("() => !!document.activeElement.closest('.parts tbody tr')")
        page.keyboard.press("Control+z")
        expect(rows).to_have_count(2)
        page.wait_for_function("() => document.activeElement !== document.body")

    def test_a_list_that_is_found_anew_keeps_the_focus(self):
        page = self.page
        page.goto("/shelf/")
        with page.expect_response(lambda r: "q=peat" in r.url):
            page.get_by_label("Find a material").fill("peat")
            link = page.locator("#shelf-list").get_by_role("link", name="Sphagnum peat, light")
            link.focus()
        expect(page.locator("#shelf-list tr.grp")).not_to_have_count(0)
        expect(page.get_by_role("link", name="Coir husk chips")).to_have_count(0)
        expect(link).to_be_focused()

    def test_an_answer_is_one_short_sentence_and_every_why_has_its_name(self):
        page = self.page
        page.goto(self.recipe.get_absolute_url())
        page.get_by_label("Dose of Kelp meal").fill("60")
        heard = page.locator("#heard")
        expect(heard).not_to_be_empty()
        self.assertLess(len(heard.inner_text()), 160)
        self.assertEqual(page.locator("main [aria-live]:not([role=status])").count(), 0)
        self.assertEqual(page.evaluate(NAMELESS), [])
        slider = page.get_by_role("slider").first
        self.assertIn("percent", slider.get_attribute("aria-valuetext"))
        before = slider.get_attribute("aria-valuenow")
        slider.press("ArrowDown")
        expect(slider).not_to_have_attribute("aria-valuenow", before)

    def test_an_error_is_tied_to_its_field_and_has_the_focus(self):
        page = self.page
        page.goto("/yard/settings/")
        page.get_by_label("Bucket, litres").fill("9000")
        page.get_by_role("button", name="Save settings").click()
        field = page.get_by_label("Bucket, litres")
        expect(field).to_be_focused()
        tied = field.get_attribute("aria-describedby")
        expect(page.locator(f"#{tied.split()[-1]}")).to_contain_text("Enter a size")

    def test_every_page_bears_spaced_text_large_targets_and_headed_tables(self):
        page = self.page
        page.set_viewport_size({"width": 360, "height": 740})
        for url in (
            *("/today/", "/bench/", "/shelf/", "/shelf/kelp-meal/", "/shelf/bags/", "/shelf/lab/"),
            *("/shelf/measures/", "/barrow/", "/cure/", "/cure/practice/", "/log/", "/pots/"),
            *("/pots/ph/", "/pots/old/", "/yard/settings/", "/yard/water/", "/yard/people/"),
            *("/exchange/", self.recipe.get_absolute_url(), f"/cure/{self.heap.pk}/"),
            self.pots.get_absolute_url(),
        ):
            with self.subTest(url):
                page.goto(url)
                self.assertEqual(page.evaluate(BARE_TABLES), [])
                self.assertEqual(page.evaluate(SMALL), [])
                self.assertEqual(page.evaluate(UNLIKE), [])
                self.assertLessEqual(page.evaluate(SPACED), 0)

    def test_keys_are_the_same_on_every_page_and_rest_while_one_types(self):
        page = self.page
        page.goto("/shelf/")
        page.keyboard.press("Control+k")
        box = page.get_by_role("dialog", name="Jump to")
        box.get_by_role("searchbox").fill(self.heap.code)
        expect(box.get_by_role("link", name=re.compile(self.heap.code))).to_be_visible()
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(f"/cure/{self.heap.pk}/$"))
        page.wait_for_load_state("load")
        page.keyboard.press("?")
        expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
        page.keyboard.press("Escape")
        page.keyboard.press("g")
        page.keyboard.press("p")
        expect(page).to_have_url(re.compile("/pots/$"))
        page.goto("/log/")
        page.get_by_label("A note").type("gp?")
        expect(page).to_have_url(re.compile("/log/$"))
        expect(page.get_by_label("A note")).to_have_value("gp?")
        page.goto("/today/keys/")
        page.locator("main [data-keys-off]").check()
        page.locator("h1").click()
        page.keyboard.press("?")
        expect(page.get_by_role("dialog", name="Keys")).to_have_count(0)

    def test_a_chart_reads_its_numbers_and_saves_them(self):
        page = self.page
        page.goto(self.heap.get_absolute_url().replace("barrow", "cure"))
        chart = page.locator(".charted svg.chart >> visible=true").first
        chart.hover()
        expect(page.locator(".charted .chart-at").first).to_contain_text("pH")
        page.get_by_text("Numbers of this chart").first.click()
        for kind, begins in (("CSV", "day,pH,8 in 10 from"), ("SVG", "<svg")):
            with page.expect_download() as download:
                page.get_by_role("button", name=f"Save as {kind}").first.click()
            self.assertEqual(download.value.suggested_filename, f"ph-forecast.{kind.lower()}")
            text = Path(download.value.path()).read_text()
            self.assertTrue(text.startswith(begins), text[:80])
        self.assertIn("stroke=", text)

    def tab_to(self, control, most=160):
        """Reach a control as one without a mouse does."""
        expect(control).to_be_visible()
        for _ in range(most):
            self.page.keyboard.press("Tab")
            if control.evaluate("e => e === document.activeElement"):
                return
        self.fail(f"not within {most} tabs: {control}")

    def test_from_the_recipe_to_the_first_reading_by_keys_alone(self):
        page = self.page
        page.goto(self.recipe.get_absolute_url())
        self.tab_to(page.locator("[data-part]").first)
        page.keyboard.press("Control+a")
        page.keyboard.type("3")
        self.tab_to(page.get_by_role("button", name="Save", exact=True))
        page.keyboard.press("Enter")
        expect(page.get_by_text("saved as v2")).to_be_visible()
        self.tab_to(page.get_by_role("button", name="Take to the Barrow"))
        page.keyboard.press("Enter")
        self.tab_to(page.get_by_role("button", name="Make this batch"))
        page.keyboard.press("Enter")
        self.tab_to(page.locator(".bigtick"))
        page.keyboard.press("Enter")
        expect(page.locator(".picks button[aria-pressed=true]")).to_have_count(1)
        self.tab_to(page.get_by_role("button", name="Mark as mixed and move to Cure"))
        page.keyboard.press("Enter")
        self.tab_to(page.get_by_label("pH", exact=True).first)
        page.keyboard.type("6.1")
        self.tab_to(page.get_by_role("button", name="Save reading"))
        page.keyboard.press("Enter")
        expect(page.locator(".readings")).to_contain_text("6.1")
