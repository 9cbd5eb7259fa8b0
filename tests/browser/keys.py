"""A journey without a mouse: what a test clicks, fills or ticks is done by keys."""

from unittest.mock import patch

from playwright.sync_api import Locator, expect

# What the keys reach for an element that is pressed: itself, its label's field, what it lies in.
REACHED = """el => {
  const stops = 'a[href], button, input, select, textarea, summary, [tabindex]';
  const label = el.closest('label');
  const own = el.closest(stops);
  const at = own || (label && label.control);
  if (at) at.focus();
  return !!at;
}"""
HERE = """el => {
  const label = el.closest('label'), at = document.activeElement;
  return at === (el.closest('a[href], button, input, select, textarea, summary, [tabindex]')
    || (label && label.control));
}"""
KIND = "() => document.activeElement.type || document.activeElement.localName"
# In a group of radio buttons one is reached, and the arrows choose among them.
ARROWS = 200
TRIES, PAUSE_MS = 4, 250


class ByKeysAlone:
    """For a journey: no pointer is used. Each control must lie in the order of Tab."""

    def setUp(self):
        typed = {"click": click, "fill": fill, "check": check, "uncheck": check}
        for name, by_keys in typed.items():
            patched = patch.object(Locator, name, by_keys)
            patched.start()
            self.addCleanup(patched.stop)
        super().setUp()


def reach(control):
    """Step back from a control and return to it, as Tab does."""
    page = control.page
    for _ in range(TRIES):
        expect(control).to_be_visible()
        if not control.evaluate(REACHED):
            raise AssertionError(f"no key reaches {control}")
        kind = page.evaluate(KIND)
        if kind == "radio":
            return kind
        page.keyboard.press("Shift+Tab")
        page.keyboard.press("Tab")
        if control.evaluate(HERE):
            return kind
        # What was pressed before is still handing the focus on.
        page.wait_for_timeout(PAUSE_MS)
    raise AssertionError(f"Tab passes by {control}")


def click(control, **_options):
    kind = reach(control)
    if kind == "radio":
        choose(control)
    else:
        control.page.keyboard.press("Space" if kind == "checkbox" else "Enter")


def choose(control):
    """Go through a group of radio buttons by arrows until the wanted one is chosen."""
    for _ in range(ARROWS):
        if control.evaluate("el => (el.control || el).checked"):
            return
        control.page.keyboard.press("ArrowDown")
    raise AssertionError(f"no arrow reaches {control}")


def check(control, **_options):
    reach(control)
    control.page.keyboard.press("Space")


def fill(control, text, **_options):
    kind = reach(control)
    keyboard = control.page.keyboard
    if kind == "range":
        keyboard.press("Home")
        for _ in range(ARROWS):
            if control.evaluate("el => el.value") == text:
                return
            keyboard.press("ArrowRight")
        raise AssertionError(f"no arrow brings {control} to {text}")
    keyboard.press("Control+a")
    keyboard.press("Delete")
    keyboard.type(str(text))
