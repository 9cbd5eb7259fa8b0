"""What is taken to the yard on paper: one page each, in ink, nothing smaller than nine points."""

from datetime import date, timedelta

from playwright.sync_api import expect

from pelk.config.management.commands.load_demo import AUBERGINE, OLD_ANSWERS
from pelk.pots.models import OldSoil
from tests.browser.base import BrowserTestCase
from tests.factories import make_heap, make_pots, make_recipe, make_user, yard_of

# The smallest print of words on the page, in px of paper: 12 are nine points.
SMALLEST = """() => {
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT), sizes = [];
  for (let node; (node = walk.nextNode());) {
    const at = node.parentElement;
    if (!node.textContent.trim() || !at.getClientRects().length) continue;
    if (at.closest('.visually-hidden, title, desc, svg')) continue;
    sizes.push([parseFloat(getComputedStyle(at).fontSize), node.textContent.trim().slice(0, 40)]);
  }
  return sizes.sort((a, b) => a[0] - b[0])[0];
}"""
FEWEST_PX = 11.5


class Paper(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.recipe = make_recipe(self.user)
        self.heap = make_heap(self.user, days_old=30)
        self.pots = make_pots(self.user, planted_on=date.today() - timedelta(days=20))
        self.sign_in(self.user)

    def sheet(self, url, *says):
        """Print a page: one sheet, in print that can be read, with what it must say."""
        page = self.page
        page.goto(url)
        page.wait_for_load_state("networkidle")
        pdf = page.pdf(format="A4", prefer_css_page_size=True)
        self.assertEqual(pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page "), 1)
        page.emulate_media(media="print")
        size, words = page.evaluate(SMALLEST)
        self.assertGreaterEqual(size, FEWEST_PX, words)
        for said in says:
            expect(page.get_by_text(said).locator("visible=true").first).to_be_visible()
        for control in (".btn", ".path-foot", ".path-strip", ".grip", ".cut-handle"):
            self.assertEqual(page.locator(f"{control} >> visible=true").count(), 0, control)
        page.emulate_media(media="null")

    def test_paper_is_never_blank(self):
        """Printed before the slower answer, or with nothing in it yet, the page itself is there."""
        self.page.route("**/bench/**", lambda route: self.no_second(route))
        self.page.goto(self.recipe.get_absolute_url())
        with self.page.expect_response(lambda r: r.request.headers.get("hx-target") == "bench"):
            self.page.locator("[data-part]").first.fill("7")
        expect(self.page.locator(".recipe-sheet")).to_have_count(0)
        self.page.emulate_media(media="print")
        expect(self.page.locator(".bench-read .verdict")).to_be_visible()
        expect(self.page.locator("[data-part]").first).to_be_visible()
        self.page.emulate_media(media="screen")
        self.page.goto("/bench/new/")
        self.page.emulate_media(media="print")
        expect(self.page.get_by_label("Name of the mix")).to_be_visible()

    def no_second(self, route):
        """Let everything through; the answer that brings the fan and the sheet never comes."""
        if route.request.headers.get("hx-target") != "ahead":
            route.continue_()

    def test_printing_asks_for_nothing(self):
        """Paper is narrow: that once made the page ask anew, and its sheet went meanwhile."""
        page, asked = self.page, []
        page.goto(self.recipe.get_absolute_url())
        expect(page.locator("#graded .gv-fix").first).to_be_visible()
        page.on("request", lambda r: asked.append(r.headers.get("hx-target")))
        page.pdf(format="A4", prefer_css_page_size=True)
        page.wait_for_timeout(1500)
        self.assertEqual(asked, [])
        with page.expect_response(lambda r: r.request.headers.get("hx-target") == "ahead"):
            page.set_viewport_size({"width": 800, "height": 800})
        expect(page.locator(".recipe-sheet")).to_have_count(1)
        self.assertNotIn("bench", asked)

    def test_each_is_one_page_in_ink(self):
        others = [make_recipe(self.user, name=f"Trial {i}") for i in range(3)]
        recipes = "&".join(f"r={r.pk}" for r in (self.recipe, *others))
        soil = OldSoil.objects.create(
            yard=yard_of(self.user),
            name="Last year’s tubs",
            litres=60,
            pot_l=10,
            made_of="plastic",
            next_crop="fruiting",
            answers=OLD_ANSWERS,
        )
        # Five doses and seven cautions.
        rich = make_recipe(self.user, **{**AUBERGINE, "name": "Rich"})
        unplanted = make_pots(self.user, name="Empty tubs")
        for url, *says in (
            (self.recipe.get_absolute_url(), self.recipe.name, "by spoon"),
            (f"/bench/compare/?{recipes}", "Compared with a"),
            (f"/barrow/{self.heap.pk}/", self.heap.code),
            (f"/barrow/{self.heap.pk}/label/", self.heap.code),
            (f"/pots/{self.pots.pk}/plant/?batch={self.heap.pk}", self.pots.name, "What to carry"),
            (self.pots.get_absolute_url(), self.pots.name, "feeding plan"),
            (soil.get_absolute_url(), "Last year’s tubs", "Answered"),
            (rich.get_absolute_url(), "Rich", "silica"),
            (unplanted.get_absolute_url(), "Empty tubs"),
        ):
            with self.subTest(url):
                self.sheet(url, *says)
