"""Every address there is: axe in the light and the dark, and nothing that scrolls sideways."""

from pathlib import Path

from django.test import Client
from django.urls import NoReverseMatch, reverse

from pelk.pots.models import JarTest, OldSoil
from pelk.pots.services.jars import read_jars
from pelk.pots.services.old_soil import answer
from tests.browser.base import BrowserTestCase
from tests.factories import make_user
from tests.yards.test_permissions import addresses, everything_of

AXE = (Path(__file__).with_name("vendor") / "axe-core-4.14.1" / "axe.min.js").read_text("utf-8")
# Without the fading from one to the other, which is neither's contrast.
THEME = """(theme) => {
  document.documentElement.dataset.bsTheme = theme;
  for (const fading of document.getAnimations()) fading.finish();
}"""
AXE_RUN = """async (only) => {
  const { violations } = await axe.run({ runOnly: only });
  return violations.map((v) => `${v.id}: ${v.nodes.slice(0, 3).map((n) => n.html).join(" | ")}`);
}"""
ALL = ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"]
# What a theme alone can break.
COLOURS = ["color-contrast", "link-in-text-block"]
ENHANCED = ["color-contrast-enhanced"]
OVER = "document.documentElement.scrollWidth - innerWidth"
UNGUARDED = "form[method=post]:not(:has(input[name=csrfmiddlewaretoken]))"
WIDTHS = (320, 390, 1280)
# What names nothing of one's own in an address.
SHARED = {"kind": "handful", "work": "warncke_e1736", "word": "x", "key": "x"}
# Pages that show more once something is asked of them.
ASKED = (
    "/pots/ph/?way=water",
    "/pots/ph/?start=6.5&target=5.5",
    "/cure/practice/?case=bed-table",
    "/log/?q=K",
    "/pots/?as=list",
    "/today/jump/?q=kelp",
    "/shelf/?show=mine",
)
FEWEST = 80


class EveryPage(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.owned = everything_of(self.user) | SHARED
        soil = OldSoil.objects.get(pk=self.owned["soil"])
        for key in ("smell", "disease", "pest"):
            answer(soil=soil, by=self.user, key=key, said="none" if key != "smell" else "earthy")
        jars = JarTest.objects.get(pk=self.owned["jars"])
        read_jars(jars=jars, by=self.user, read=[4.5, 5.0, 5.6, 6.0, 6.3])

    def pages(self):
        """Return every address that answers with a page."""
        client = Client()
        client.force_login(self.user)
        urls = list(ASKED)
        for name, wanted in addresses():
            try:
                url = reverse(name, kwargs={key: self.owned[key] for key in wanted})
            except (KeyError, NoReverseMatch):
                continue
            if "sign-out" in url or "/media/" in url:
                continue
            response = client.get(url)
            is_page = response.headers.get("Content-Type", "").startswith("text/html")
            if response.status_code == 200 and is_page and b"<!doctype" in response.content[:40]:
                urls.append(url)
        return urls

    def test_axe_is_clean_and_nothing_scrolls_sideways(self):
        urls = self.pages()
        self.assertGreater(len(urls), FEWEST)
        self.sign_in(self.user)
        for url in urls:
            with self.subTest(url):
                self.page.goto(url)
                self.assertEqual(self.page.locator(UNGUARDED).count(), 0)
                self.clean(light=ALL, dark=COLOURS)
                self.no_sideways()

    def test_what_is_read_in_the_yard_has_seven_to_one(self):
        """Sun on the screen: more contrast than the rest (WCAG 1.4.6)."""
        batch, group = self.owned["batch"], self.owned["group"]
        urls = ("/today/", f"/barrow/{batch}/", f"/cure/{batch}/", f"/pots/{group}/")
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.sign_in(self.user)
        for url in (*urls, f"/pots/{group}/fed/", f"/pots/old/{self.owned['soil']}/"):
            with self.subTest(url):
                self.page.goto(url)
                self.clean(light=ENHANCED, dark=ENHANCED)

    def clean(self, **rules_of):
        """Ask axe in the theme the page came in, then in the other, by the same page."""
        self.page.evaluate(AXE)
        for theme, rules in rules_of.items():
            self.page.evaluate(THEME, theme)
            self.assertEqual(self.page.evaluate(AXE_RUN, rules), [], theme)
        self.page.evaluate(THEME, "light")

    def no_sideways(self):
        for wide in WIDTHS:
            self.page.set_viewport_size({"width": wide, "height": 800})
            self.assertLessEqual(self.page.evaluate(OVER), 0, f"at {wide} px")
