"""The first batch, end to end, as a grower would; then the same without scripts."""

from playwright.sync_api import expect

from pelk.barrow.models import Batch
from pelk.bench.models import Recipe
from pelk.bench.services import plan_recipe
from pelk.cure.models import Reading
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import (
    PASSWORD,
    make_bag,
    make_fill,
    make_heap,
    make_jars,
    make_old_soil,
    make_pots,
    make_recipe,
    make_report,
    make_user,
)

CURE_PAGES = ("schedule/", "anyway/", "sprout/", "photos/", "logger/")


class FirstBatch(ByKeysAlone, BrowserTestCase):
    def test_from_an_empty_yard_to_the_first_reading(self):
        self.open_a_yard()
        self.fill_the_shelf()
        self.design_on_the_bench()
        self.try_bad_input()
        self.ask_why()
        self.look_ahead()
        self.make_it_at_the_barrow()
        self.read_the_heap()
        self.look_in_the_log()

    def open_a_yard(self):
        page = self.page
        page.goto("/")
        page.get_by_role("link", name="Open a yard").click()
        page.get_by_label("Email").fill("terrace@steps.example")
        page.get_by_label("Name of your yard").fill("Gannet Steps")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_label("Where it is").select_option("GB")
        page.get_by_role("button", name="Open the yard").click()
        expect(page.get_by_role("heading", name="Where do you want to begin?")).to_be_visible()
        page.get_by_role("link", name="Shelf", exact=True).first.click()
        expect(page.get_by_role("heading", name="Shelf", exact=True)).to_be_visible()

    def fill_the_shelf(self):
        page = self.page
        for words, name in (("peat moss", "Sphagnum peat, light"), ("perlite", "Perlite")):
            page.get_by_label("Find a material").fill(words)
            page.locator("#shelf-list").get_by_role("link", name=name).first.click()
            page.get_by_role("button", name="Put on your shelf").click()
            expect(page.get_by_role("button", name="Take off your shelf")).to_be_visible()
        expect(page.get_by_text("from memory").first).to_be_visible()
        expect(page.get_by_role("link", name="Shelf 2", exact=True)).to_be_visible()

    def design_on_the_bench(self):
        page = self.page
        page.get_by_role("link", name="Bench", exact=True).first.click()
        page.get_by_role("link", name="New mix").click()
        page.get_by_label("Name of the mix").fill("Tea camellia acid mix")
        page.get_by_label("How many pots").fill("24")
        page.locator("#crop").select_option("ericaceous")
        page.get_by_label("Add a part").fill("Sphagnum peat, light")
        page.get_by_label("Add a part").press("Enter")
        expect(page.get_by_label("Parts of Sphagnum peat, light")).to_have_value("1")
        page.get_by_label("Add a part").fill("Perlite, coarse/medium")
        page.get_by_label("Add a part").press("Enter")
        expect(page.get_by_label("Parts of Perlite, coarse/medium")).to_have_value("1")
        page.get_by_label("Parts of Sphagnum peat, light").fill("4")
        expect(page.get_by_role("row", name="Sphagnum peat, light").first).to_contain_text("80%")
        expect(page.get_by_role("group", name="Cutaway: Sphagnum peat")).to_be_visible()
        page.get_by_label("Add a dose").fill("Ground limestone, dolomitic")
        page.get_by_label("Add a dose").press("Enter")
        dose = page.get_by_label("Dose of Ground limestone, dolomitic")
        dose.fill("1,2")
        # Typing goes on while answers come: the caret and the text stay.
        dose.press("End")
        dose.press("5")
        expect(page.get_by_text("154 g").first).to_be_visible()
        expect(dose).to_be_focused()
        expect(dose).to_have_value("1,25")
        # On the paper's sheet too, once the slower answer has brought it.
        expect(page.get_by_text("pH near").locator("visible=true")).to_be_visible()

    def try_bad_input(self):
        page = self.page
        dose = page.get_by_label("Dose of Ground limestone, dolomitic")
        dose.fill("1.2.5")
        expect(page.get_by_text("Enter one number")).to_be_visible()
        expect(page.get_by_text("Something you typed can’t be used yet")).to_be_visible()
        # The last good answer stays under the note.
        expect(page.get_by_text("pH near").locator("visible=true")).to_be_visible()
        expect(page.get_by_role("button", name="Take to the Barrow")).to_be_disabled()
        dose.fill("1.25")
        expect(page.get_by_text("Something you typed can’t be used yet")).to_have_count(0)

    def ask_why(self):
        page = self.page
        line = page.get_by_role("listitem").filter(has_text="pH near")
        line.get_by_role("button", name="why").click()
        drawer = page.get_by_role("dialog", name="Why Forecast pH")
        expect(drawer).to_contain_text("Sources")
        expect(drawer).to_contain_text("pH on mixing day")
        page.keyboard.press("Escape")
        expect(drawer).to_have_count(0)
        page.get_by_text("Totals").click()
        settled = page.get_by_text("Where the pH ends when all lime")
        settled.get_by_role("button", name="why").click()
        drawer = page.get_by_role("dialog", name="Why pH once all lime and sulfur are spent")
        expect(drawer).to_contain_text("Ground limestone, dolomitic")
        page.keyboard.press("Escape")
        expect(drawer).to_have_count(0)

    def look_ahead(self):
        page = self.page
        expect(page.locator("#ahead .spread").first).to_be_attached()
        expect(page.get_by_role("img", name="ready day")).to_be_visible()
        now = page.get_by_role("listitem").filter(has_text="Plant it now")
        expect(now.locator("visible=true")).to_have_count(1)
        page.get_by_text("What if").click()
        cold = page.get_by_label("Temperature, °C")
        cold.fill("9")
        # In the cold the lime is slower: there is a day to wait for.
        expect(page.get_by_text("Ready for acid lovers about").first).to_be_visible()
        expect(now).to_have_count(0)
        # The fan follows by itself, and does not take the caret away.
        expect(page.locator("#ahead .spread").first).to_be_attached()
        expect(cold).to_be_focused()
        expect(cold).to_have_value("9")
        cold.fill("20")

    def make_it_at_the_barrow(self):
        page = self.page
        page.get_by_role("button", name="Take to the Barrow").click()
        page.get_by_role("button", name="Make this batch").click()
        expect(page.get_by_role("heading", name="Load 1 of 2")).to_be_visible()
        expect(page.get_by_text("Read the cautions first")).to_be_visible()
        bar = page.locator(".bigtick")
        first = page.locator(".picks button[aria-pressed]").first
        bar.click()
        expect(first).to_have_attribute("aria-pressed", "true")
        page.reload()
        expect(page.locator(".picks button[aria-pressed]").first).to_have_attribute(
            "aria-pressed", "true"
        )
        page.get_by_role("button", name="Take the last tick back").click()
        expect(page.locator(".picks button[aria-pressed=true]")).to_have_count(0)
        for _ in range(60):
            if bar.inner_text().startswith("All mixed"):
                break
            with page.expect_response("**/tick/"):
                bar.click()
            # A finger is slower than the answer: it is on the page before the next tap.
            expect(page.locator(".htmx-request")).to_have_count(0)
        expect(bar).to_contain_text("All mixed")
        bar.click()
        expect(page.get_by_role("heading", name="Heap T1")).to_be_visible()
        self.assertEqual(Batch.objects.get().version, 1)

    def read_the_heap(self):
        page = self.page
        page.get_by_label("pH", exact=True).fill("7.0")
        page.get_by_label("heap °C").fill("16")
        page.get_by_label("smell", exact=True).select_option("earthy")
        page.get_by_role("button", name="Save reading").click()
        expect(page.get_by_role("row", name="earthy")).to_contain_text("16")
        expect(page.get_by_role("img", name="1 reading, last 7.0").first).to_be_visible()
        expect(page.get_by_text("is above the")).to_be_visible()
        self.assertEqual(Reading.objects.get().ph, 7.0)

    def look_in_the_log(self):
        page = self.page
        page.get_by_role("link", name="Log", exact=True).first.click()
        for deed in (
            "T1: pH 7, 16 °C, earthy",
            "T1 mixed and moved to Cure",
            "saved as v1",
            "put on the shelf",
        ):
            expect(page.get_by_text(deed).first).to_be_visible()


class Phone(BrowserTestCase):
    size = {"width": 390, "height": 844}

    def test_no_page_is_wider_than_the_phone_and_targets_are_large(self):
        user = make_user()
        recipe, bag = make_recipe(user), make_bag(user, "kelp-meal", kg=0.01)
        plan_recipe(recipe=recipe, by=user, planned=True)
        heap, pots = make_heap(user, name="Heap"), make_pots(user, crop="leafy")
        make_fill(user, pots, plants=True)
        old, jars = make_old_soil(user), make_jars(user)
        lime = {"material": "lime-dolomitic-ground", "amount": 0.4, "unit": "tbsp/gal"}
        of_a_part = make_recipe(
            user,
            name="Limed by its peat",
            bulk=[{"material": "sphagnum-peat-light", "parts": 1}],
            doses=[{**lime, "per": "sphagnum-peat-light"}],
        )
        report = make_report(user, "Total N 1.62 % DM\nMgO 50 % DM\nZeal 12 mg/kg")
        self.sign_in(user)
        for path in (
            of_a_part.get_absolute_url(),
            "/shelf/",
            "/shelf/kelp-meal/",
            f"/shelf/bags/beside/?bag={bag.pk}",
            bag.get_absolute_url(),
            report.get_absolute_url(),
            "/shelf/bags/",
            "/shelf/measures/",
            "/shelf/measures/handful/",
            "/shelf/lab/",
            "/shelf/lab/new/",
            "/shelf/kelp-meal/buy/",
            "/shelf/kelp-meal/value/N/",
            "/shelf/buying/",
            "/exchange/materials/",
            recipe.get_absolute_url(),
            "/bench/",
            "/bench/blends/new/",
            f"/barrow/make/{recipe.pk}/",
            "/barrow/",
            "/cure/",
            "/log/",
            "/today/",
            "/pots/",
            "/pots/new/",
            "/pots/ph/",
            "/pots/ph/?way=water",
            f"/pots/{pots.pk}/plant/?batch={heap.pk}",
            pots.get_absolute_url(),
            f"/pots/{pots.pk}/air/",
            f"/pots/{pots.pk}/seasons/",
            "/pots/old/",
            old.get_absolute_url(),
            "/pots/ph/jars/",
            jars.get_absolute_url(),
            *(f"/cure/{heap.pk}/{page}" for page in CURE_PAGES),
            f"/barrow/{heap.pk}/made/",
            f"/barrow/{heap.pk}/label/",
            "/cure/pens/",
            "/cure/practice/?case=bed-table",
            "/cure/beside/",
        ):
            with self.subTest(path):
                self.page.goto(path)
                width = self.page.evaluate("document.documentElement.scrollWidth")
                self.assertLessEqual(width, 390)
        self.page.goto(f"/barrow/make/{recipe.pk}/")
        self.page.get_by_role("button", name="Make this batch").click()
        self.page.wait_for_selector(".picks button")
        for button in self.page.locator(".picks button, .bigbar button").all():
            self.assertGreaterEqual(button.bounding_box()["height"], 44)


class WithoutScripts(BrowserTestCase):
    def test_the_main_path_works(self):
        user = make_user()
        recipe = make_recipe(user)
        self.page = page = self.open_page(java_script_enabled=False)
        self.sign_in_by_hand(user)
        page.goto(recipe.get_absolute_url())
        page.get_by_label("Parts of Pumice").fill("2")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("saved as v2")).to_be_visible()
        page.get_by_role("button", name="Take to the Barrow").click()
        page.get_by_role("button", name="Make this batch").click()
        page.locator(".bigtick").click()
        expect(page.locator(".picks button[aria-pressed=true]")).to_have_count(1)
        self.assertEqual(Recipe.objects.get().versions.count(), 2)


class Print(BrowserTestCase):
    def test_the_card_is_one_page(self):
        user = make_user()
        parts = (
            "sphagnum-peat-light",
            "coir-pith-loose",
            "leaf-mould",
            "yard-compost",
            "worm-castings",
            "perlite",
            "pumice",
            "rice-hulls",
        )
        doses = (
            "cottonseed-meal",
            "kelp-meal",
            "gypsum",
            "feather-meal",
            "basalt-dust",
            "fish-bone-meal",
            "alfalfa-meal",
            "greensand",
        )
        recipe = make_recipe(
            user,
            batch={"volume": 300, "unit": "L"},
            bulk=[{"material": slug, "parts": 1} for slug in parts],
            doses=[{"material": slug, "amount": 1, "unit": "g/L"} for slug in doses],
        )
        self.sign_in(user)
        self.page.goto(f"/barrow/make/{recipe.pk}/")
        self.page.get_by_role("button", name="Make this batch").click()
        self.page.wait_for_selector(".picks")
        pdf = self.page.pdf(format="A4", prefer_css_page_size=True)
        self.assertEqual(pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page "), 1)
