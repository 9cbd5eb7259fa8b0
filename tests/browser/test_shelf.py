"""The Shelf as a grower would: buy, weigh, override a label, take a report, compare, move files."""

import re

from playwright.sync_api import expect

from pelk.shelf.models.bags import Bag
from pelk.shelf.models.lab import LabReport
from pelk.shelf.models.materials import Material
from pelk.shelf.models.measures import HandMeasure
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import make_bag, make_recipe, make_user, yard_of

REPORT = "Dry matter 54 %\nTotal N 1.62 % DM\nMgO 5.14 % DM\nP2O5 0.71 % DM"


class Shelf(ByKeysAlone, BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.sign_in(self.user)

    def find(self, words, name):
        self.page.goto("/shelf/")
        self.page.get_by_label("Find a material").fill(words)
        got = self.page.locator("#shelf-list").get_by_role("link", name=name, exact=True)
        got.click()

    def test_buy_a_bale_and_see_what_a_litre_costs(self):
        page = self.page
        self.find("peat moss", "Sphagnum peat, light")
        page.get_by_role("link", name="Add a bag", exact=True).click()
        # Loose unless said: this bale is pressed.
        page.locator("[name=kind]").select_option("bale")
        page.get_by_label("One holds, as printed").fill("three")
        page.get_by_label("Unit", exact=True).select_option("ft3")
        page.get_by_label("Price of one").fill("21,50")
        page.get_by_role("button", name="Add bag").click()
        expect(page.get_by_text("Enter one number, such as 0.9.")).to_be_visible()
        expect(page.get_by_label("One holds, as printed")).to_have_value("three")
        expect(page.get_by_label("Price of one")).to_have_value("21,50")
        page.get_by_label("One holds, as printed").fill("3.8")
        page.get_by_role("button", name="Add bag").click()
        expect(page.get_by_text("On the shelf 204 L")).to_be_visible()
        row = page.get_by_role("row", name="per litre, loosened")
        expect(row).to_contain_text("€0.105")
        row.get_by_role("link", name="why").click()
        expect(page.get_by_role("dialog")).to_contain_text("Paid for one")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.get_by_role("link", name=re.compile(r"\d+ \w+ 20\d\d")).first.click()
        page.get_by_label("Left in it").fill("150")
        page.get_by_label("Why it differs").fill("a corner was wet")
        page.get_by_role("button", name="Save count").click()
        expect(page.get_by_text("a corner was wet")).to_be_visible()
        self.assertEqual(Bag.objects.get().left, 150)

    def test_override_a_label_and_have_the_book_back(self):
        page = self.page
        self.find("cottonseed", "Cottonseed meal")
        page.get_by_role("link", name="Enter label values").click()
        page.get_by_label("N", exact=True).fill("6")
        page.get_by_label("P (as P2O5)").fill("3")
        expect(page.locator("#label-says")).to_have_text("As elements: N 6 %, P 1.31 %, K 0 %.")
        page.get_by_label("P (as P2O5)").fill("97")
        expect(page.locator("#label-says")).to_contain_text("come to 103 % together")
        page.get_by_label("P (as P2O5)").fill("")
        page.get_by_role("button", name="Save").click()
        row = page.get_by_role("row", name="Nitrogen, total").first
        expect(row).to_contain_text("6 %")
        expect(row).to_contain_text("bag label")
        row.get_by_role("link").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("from the label")
        dialog.get_by_role("button", name="Go back to the library value, 6.5 % back").click()
        expect(page.locator(".answer")).to_have_text("6.5 %")
        page.get_by_role("button", name="Use again").click()
        expect(page.locator(".answer")).to_have_text("6 %")

    def test_calibrate_a_handful_with_keys_alone(self):
        page = self.page
        make_bag(self.user, "cottonseed-meal")
        recipe = make_recipe(
            self.user, doses=[{"material": "cottonseed-meal", "amount": 2, "unit": "handful"}]
        )
        page.goto("/shelf/measures/")
        page.get_by_role("link", name=re.compile("Weigh it ?: handful$")).click()
        page.get_by_label("handful 1").focus()
        for grams in ("28", "36", "32"):
            page.keyboard.type(grams)
            page.keyboard.press("Tab")
        expect(page.locator("#tried")).to_contain_text("A handful is 32 g")
        expect(page.locator("#tried")).to_contain_text("Cottonseed meal, one handful")
        expect(page.get_by_label("handful 4")).to_be_focused()
        page.get_by_role("button", name="Keep it").press("Enter")
        expect(page.get_by_text("used from now on")).to_be_visible()
        page.goto(recipe.get_absolute_url())
        expect(page.get_by_text("64 g").first).to_be_visible()
        self.assertEqual(HandMeasure.objects.get().weighings, [28.0, 36.0, 32.0])

    def test_a_report_with_one_bad_row(self):
        page = self.page
        page.goto("/shelf/lab/new/?material=yard-compost")
        expect(page.get_by_label("Sample of")).to_have_value("yard-compost")
        page.get_by_label("The report").fill(REPORT)
        page.get_by_role("button", name="Check the report").click()
        expect(page.get_by_text("3 of 4 rows read well. 1 still waits for you.")).to_be_visible()
        page.get_by_role("button", name="Use these values", exact=True).click()
        expect(page.get_by_text("Line 3 needs a decision")).to_be_visible()
        page.get_by_label(re.compile("Read it as 0.167 %")).check()
        page.get_by_role("button", name="Save my choices for later").click()
        expect(page.get_by_text("4 of 4 rows read well.")).to_be_visible()
        page.get_by_role("button", name="Use these values", exact=True).click()
        expect(page.get_by_role("row", name="Magnesium").first).to_contain_text("0.167 %")
        self.assertEqual(LabReport.objects.get().state, "taken")

    def test_narrow_sort_compare_and_buy_for_a_plan(self):
        page = self.page
        rows = [
            make_bag(self.user, slug, kg=kg, price=price)
            for slug, kg, price in (("cottonseed-meal", 20, "62"), ("feather-meal", 5, "19.50"))
        ]
        page.goto("/shelf/")
        page.get_by_text("Filter and sort").click()
        page.get_by_label("From", exact=True).select_option("animal")
        expect(page.locator("#shelf-list")).to_contain_text("Feather meal")
        expect(page.locator("#shelf-list")).not_to_contain_text("Cottonseed")
        page.get_by_label("From", exact=True).select_option("")
        page.get_by_label("Order", exact=True).select_option("price")
        expect(page.locator("#shelf-list tbody tr:not(.grp)")).to_have_count(2)
        page.goto("/shelf/bags/")
        for bag in rows:
            page.locator(f"input[value='{bag.pk}']").check()
        page.get_by_role("button", name="Compare the ticked bags").click()
        expect(page.get_by_text("Best value: €0.0312 for each g of nitrogen.")).to_be_visible()
        recipe = make_recipe(self.user)
        page.goto(recipe.get_absolute_url())
        page.get_by_role("button", name="Add to buying list").click()
        expect(page.get_by_role("row", name="Kelp meal")).to_contain_text("add a package size")
        with page.expect_download() as download:
            page.get_by_role("link", name="Spreadsheet").click()
        self.assertEqual(download.value.suggested_filename, "buying-list.xlsx")
        pdf = page.pdf(format="A4", prefer_css_page_size=True)
        self.assertEqual(pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page "), 1)

    def test_files_out_and_in_with_a_preview(self):
        page = self.page
        page.goto("/exchange/materials/")
        with page.expect_download() as download:
            page.get_by_role("link", name="CSV").last.click()
        path = download.value.path()
        text = path.read_text("utf-8").replace("kelp-meal,Kelp meal", "kelp-meal,Shore kelp meal")
        file = {"name": "m.csv", "mimeType": "text/csv", "buffer": text.encode()}
        page.get_by_label("A .json or .csv file").set_input_files(file)
        page.get_by_role("button", name="Show what will change").click()
        expect(page.get_by_text(re.compile(r"0 new, 1 changed, \d+ the same"))).to_be_visible()
        page.get_by_role("button", name="Import all").click()
        expect(page.locator("#shelf-list")).to_contain_text("Shore kelp meal")
        self.assertEqual(Material.objects.filter(yard=yard_of(self.user)).count(), 1)


class ShelfWithoutScripts(BrowserTestCase):
    def test_find_buy_weigh_and_change_a_value(self):
        user = make_user()
        self.page = page = self.open_page(java_script_enabled=False)
        self.sign_in(user)
        page.goto("/shelf/")
        page.get_by_label("Find a material").fill("kelp meal")
        page.get_by_label("Find a material").press("Enter")
        page.locator("#shelf-list").get_by_role("link", name="Kelp meal").first.click()
        page.get_by_role("link", name="Add a bag", exact=True).click()
        page.get_by_label("One holds, as printed").fill("5")
        page.get_by_role("button", name="Add bag").click()
        expect(page.get_by_text("On the shelf 5 kg")).to_be_visible()
        page.get_by_role("link", name="Weigh a cup").click()
        for i, grams in enumerate(("150", "153", "149"), start=1):
            page.get_by_label(f"cup {i}").fill(grams)
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_text("The cup is kept")).to_be_visible()
        page.get_by_role("link", name="Potassium").click()
        page.get_by_label("Value").fill("2.5")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("row", name="Potassium").first).to_contain_text("2.5 %")
