"""For keys, narrow phones and voices: focus is seen, nothing runs off, headings have an order."""

from playwright.sync_api import expect

from tests.browser.base import StockedTestCase

OUTLINE = "e => getComputedStyle(e).outlineStyle + ' ' + getComputedStyle(e).outlineWidth"
LOOK = """() => {
  const ids = [...document.querySelectorAll('[id]')].map(e => e.id);
  const shown = e => e.offsetParent !== null;
  const heads = [...document.querySelectorAll('h1,h2,h3,h4')].filter(shown).map(e => +e.tagName[1]);
  return {
    twice: ids.filter((x, i) => ids.indexOf(x) !== i),
    ones: heads.filter(x => x === 1).length,
    skips: heads.filter((x, i) => i && x > heads[i - 1] + 1).length,
    over: document.documentElement.scrollWidth - innerWidth,
  };
}"""
# What a legend's squares look like, and how a pressed or current thing is marked.
KEYS = """() => [...document.querySelectorAll('.keys i')].map((i) => {
  const style = getComputedStyle(i);
  return [style.backgroundColor, style.backgroundImage, style.borderTopColor].join(' ');
})"""
PRESSED = """() => [...document.querySelectorAll('[aria-pressed=true], [aria-current]')]
  .filter((e) => e.getClientRects().length).map((e) => getComputedStyle(e).outlineStyle)"""


class Access(StockedTestCase):
    size = {"width": 320, "height": 700}

    def test_pages_fit_a_narrow_phone_and_have_one_order_of_headings(self):
        pages = [
            *("/today/", "/bench/", "/bench/new/", "/shelf/", "/shelf/kelp-meal/", "/shelf/bags/"),
            *("/shelf/lab/", "/shelf/measures/", "/barrow/", "/cure/", "/cure/practice/", "/log/"),
            *("/pots/", "/pots/ph/", "/pots/old/", "/yard/settings/", "/yard/people/"),
            *("/yard/account/", "/exchange/", "/exchange/formats/", "/today/start/"),
            self.recipe.get_absolute_url(),
            f"/cure/{self.heap.pk}/",
            self.pots.get_absolute_url(),
        ]
        for url in pages:
            with self.subTest(url):
                self.page.goto(url)
                said = self.page.evaluate(LOOK)
                wanted = {"twice": [], "ones": 1, "skips": 0, "over": 0}
                self.assertEqual({**said, "over": max(said["over"], 0)}, wanted)

    def test_forced_colours_keep_every_key_and_pressed_state(self):
        plain, self.page = self.page, self.open_page(forced_colors="active")
        self.sign_in(self.user)
        pages = [
            self.recipe.get_absolute_url(),
            self.pots.get_absolute_url(),
            f"/cure/{self.heap.pk}/",
            f"/barrow/{self.heap.pk}/",
            "/pots/",
            "/shelf/kelp-meal/",
        ]
        keys, states = 0, 0
        for url in pages:
            with self.subTest(url):
                plain.goto(url)
                self.page.goto(url)
                drawn = self.page.evaluate(KEYS)
                self.assertEqual(drawn, plain.evaluate(KEYS))
                pressed = self.page.evaluate(PRESSED)
                self.assertEqual(set(pressed), {"solid"})
                keys, states = keys + len(drawn), states + len(pressed)
        self.assertGreaterEqual(keys, 5)
        self.assertGreaterEqual(states, 10)

    def test_where_the_keys_are_is_seen_on_every_kind_of_button(self):
        page = self.page
        page.goto("/bench/new/")
        for kind in (".btn-go", ".btn-line", "summary", ".ink-in"):
            control = page.locator(f"main {kind}:visible:enabled").first
            if not control.count():
                continue
            with self.subTest(kind):
                control.focus()
                page.keyboard.press("Shift+Tab")
                page.keyboard.press("Tab")
                style, width = control.evaluate(OUTLINE).split()
                self.assertEqual((style, width), ("solid", "3px"))
        page.goto(f"/cure/{self.heap.pk}/")
        save = page.get_by_role("button", name="Save reading")
        save.focus()
        page.keyboard.press("Shift+Tab")
        page.keyboard.press("Tab")
        expect(save).to_be_focused()
        # Not under the bar of the phone, once the page has moved there.
        page.wait_for_function(
            """() => document.activeElement.getBoundingClientRect().bottom
                <= document.querySelector('.path-foot').getBoundingClientRect().top + 1"""
        )
