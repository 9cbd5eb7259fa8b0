"""The Bench by hand: dragging, keys, undo, percents, swaps, a bed table, doses fitted, compared."""

import re

from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase
from tests.factories import make_recipe, make_user


class Bench(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.recipe = make_recipe(
            self.user,
            name="Terrace mix",
            bulk=[
                {"material": "sphagnum-peat-light", "parts": 4},
                {"material": "yard-compost", "parts": 3},
                {"material": "perlite", "parts": 3},
            ],
        )
        self.sign_in(self.user)
        self.page.goto(self.recipe.get_absolute_url())
        self.peat = self.page.get_by_label("Parts of Sphagnum peat, light")
        self.compost = self.page.get_by_label("Parts of Yard-waste compost")
        self.perlite = self.page.get_by_label("Parts of Perlite, coarse/medium")

    def test_a_boundary_is_dragged_and_moved_by_keys_and_undone(self):
        page = self.page
        handle = page.locator(".cut-handle").first
        box = handle.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y + 60, steps=4)
        page.mouse.up()
        expect(self.peat).not_to_have_value("4")
        moved, below = (float(f.input_value()) for f in (self.peat, self.compost))
        self.assertTrue(4.5 < moved < 6, moved)
        self.assertAlmostEqual(moved + below, 7, delta=0.01)
        expect(page.get_by_role("button", name="Undo")).to_be_enabled()
        page.get_by_role("button", name="Undo").click()
        expect(self.peat).to_have_value("4")
        page.get_by_role("button", name="Redo").click()
        expect(self.peat).to_have_value(str(moved))
        page.reload()
        expect(page.get_by_text("What you had not kept is back.")).to_be_visible()
        expect(self.peat).to_have_value(str(moved))
        page.get_by_role("button", name="Discard it").click()
        expect(self.peat).to_have_value("4")
        page.reload()
        expect(self.peat).to_have_value("4")
        page.keyboard.press("Control+z")
        expect(self.peat).to_have_value(str(moved))
        page.keyboard.press("Control+y")
        expect(self.peat).to_have_value("4")
        page.locator(".cut-handle").first.focus()
        page.keyboard.press("ArrowUp")
        expect(self.peat).to_have_value("3.9")
        expect(self.compost).to_have_value("3.1")
        expect(self.perlite).to_have_value("3")

    def test_one_answer_one_block_whatever_is_done(self):
        page = self.page
        self.peat.fill("5")
        for amount in ("2", "3"):
            self.compost.fill(amount)
            with page.expect_response(
                lambda r: (
                    r.request.method == "POST" and "ahead" in r.request.headers.get("hx-target", "")
                )
            ):
                pass
        with page.expect_response(lambda r: r.request.method == "POST"):
            page.locator("button.why").first.click()
        expect(page.locator(".drawer")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.locator(".drawer")).to_have_count(0)
        expect(page.locator("button.why").first).to_be_focused()
        with page.expect_response(lambda r: r.request.method == "POST"):
            page.get_by_role("button", name="Undo").click()
        expect(self.compost).to_have_value("2")
        expect(page.get_by_role("heading", name="This recipe")).to_have_count(1)
        ids = page.eval_on_selector_all("[id]", "all => all.map(e => e.id)")
        self.assertEqual(sorted(ids), sorted(set(ids)))
        page.get_by_label("New name").fill("Another name")
        page.get_by_role("button", name="Rename").click()
        expect(page.get_by_label("Name of the mix")).to_have_value("Another name")

    def test_what_is_chosen_while_an_answer_is_on_its_way_stays(self):
        page = self.page
        held = []

        def hold_back(route):
            if route.request.headers.get("hx-target") == "ahead" and not held:
                held.append(route)
            else:
                route.continue_()

        page.route("**/bench/**", hold_back)
        with page.expect_request(lambda r: r.headers.get("hx-target") == "ahead"):
            self.peat.fill("5")
        page.get_by_label("Unit of the charge").select_option("lb/yd3")
        held[0].continue_()
        expect(page.get_by_text("lb/yd3, reaches")).to_be_visible()
        expect(page.get_by_label("Unit of the charge")).to_have_value("lb/yd3")

    def test_percents_stand_as_typed_and_share_the_rest_out_on_request(self):
        page = self.page
        page.get_by_label("Parts are written as").select_option("percent")
        expect(self.peat).to_have_value("40")
        page.get_by_label("Lock Perlite, coarse/medium").check(force=True)
        self.peat.fill("50")
        expect(page.get_by_text("10% too many")).to_be_visible()
        expect(self.compost).to_have_value("30")
        page.get_by_role("button", name="Share the rest out").click()
        expect(self.compost).to_have_value("26.25")
        expect(self.perlite).to_have_value("30")
        page.get_by_label("Parts are written as").select_option("L")
        expect(self.perlite).to_have_value("30")
        page.get_by_label("for", exact=True).first.select_option("sum")
        self.perlite.fill("40")
        expect(page.get_by_text("mixed").first).to_be_visible()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("saved as v2")).to_be_visible()
        expect(self.perlite).to_have_value("40")

    def test_typing_just_before_keep_saves_one_version(self):
        page = self.page
        self.peat.fill("6")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("saved as v2")).to_have_count(1)
        expect(self.peat).to_have_value("6")
        self.assertEqual(self.recipe.versions.count(), 2)

    def test_rows_move_by_key_and_by_drag_and_another_takes_a_place(self):
        page = self.page
        names = page.locator(".parts tbody .nm a")
        page.locator("[data-grip=part]").nth(2).focus()
        page.keyboard.press("ArrowUp")
        expect(names).to_have_text(
            ["Sphagnum peat, light", "Perlite, coarse/medium", "Yard-waste compost"]
        )
        first = page.locator("[data-grip=part]").first.bounding_box()
        last = page.locator("[data-grip=part]").last.bounding_box()
        page.mouse.move(first["x"] + 10, first["y"] + 10)
        page.mouse.down()
        page.mouse.move(last["x"] + 10, last["y"] + 40, steps=5)
        page.mouse.up()
        expect(names.last).to_have_text("Sphagnum peat, light")
        page.get_by_role("button", name="What else instead of Kelp meal").click()
        expect(page.get_by_role("dialog")).to_contain_text("Instead of kelp meal")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="What else instead of Sphagnum peat, light").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Replaces litre for litre")
        dialog.get_by_role("button", name=re.compile("Swap it in ?: Coir pith, washed")).click()
        expect(names.last).to_have_text("Coir pith, washed and buffered, loose")

    def test_a_bed_table_is_brought_over(self):
        page = self.page
        page.get_by_text("Convert a bed rate").click()
        page.get_by_label("Rate per area").fill("100")
        page.get_by_label("Working depth").fill("20")
        page.get_by_role("button", name="Convert to this mix").click()
        expect(page.get_by_label("Dose of Kelp meal")).to_have_value("0.5")

    def test_doses_are_fitted_from_the_shelf_and_taken_line_by_line(self):
        page = self.page
        peat, perlite = ("sphagnum-peat-light", 4), ("perlite", 1)
        bulk = [{"material": slug, "parts": parts} for slug, parts in (peat, perlite)]
        page.goto(make_recipe(self.user, name="Lean mix", bulk=bulk).get_absolute_url())
        page.get_by_role("button", name="Suggest doses").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Suggest", exact=True).click()
        expect(dialog).to_contain_text("Your shelf has no dose materials yet")
        dialog.get_by_label("From").select_option("any")
        dialog.get_by_label("Choose").select_option("mass")
        dialog.get_by_role("button", name="Suggest", exact=True).click()
        take = dialog.get_by_role("button", name="Add the ticked doses")
        expect(take).to_be_visible()
        count = dialog.locator("[name=fit_take]").count()
        self.assertGreater(count, 0)
        take.click()
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.locator("[name$=-amount]")).to_have_count(count + 1)  # and kelp

    def test_a_ph_on_a_day_and_what_a_bed_table_would_do(self):
        page = self.page
        page.get_by_text("Aim for a pH").click()
        page.get_by_label("Wanted pH").fill("5.9")
        page.get_by_label("By which day").fill("soon")
        page.get_by_role("button", name="Work out the dose").click()
        expect(page.get_by_text("Enter a pH and a whole number of days")).to_be_visible()
        page.get_by_label("By which day").fill("120")
        page.get_by_role("button", name="Work out the dose").click()
        expect(page.get_by_text("g/L of elemental sulfur")).to_be_visible()
        page.get_by_role("button", name="Add this dose").click()
        expect(page.get_by_label("Dose of Elemental sulfur, dusting powder")).to_be_visible()

    def test_it_prints_on_one_page_and_a_slider_moves_the_curves(self):
        page = self.page
        # The fixes have come: nothing is replaced meanwhile.
        expect(page.locator("#graded .gv-fix").first).to_be_visible()
        for shown in (
            ".verdict",
            ".charge",
            "#ahead .curve",
            ".parts",
            ".doses",
            ".sum",
            "#tab-what-if",
            ".fit-btn",
        ):
            box = page.locator(f"{shown} >> visible=true").first.bounding_box()
            self.assertLessEqual(box["y"] + box["height"], 800, shown)
        # Printed last: for a frame after it the page still lies as on paper.
        pdf = page.pdf(format="A4", prefer_css_page_size=True)
        self.assertEqual(pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page "), 1)
        page.get_by_text("What if").click()
        page.get_by_label("Slide the temperature").fill("6")
        expect(page.locator("#where-temperature")).to_have_value("6")
        page.get_by_label("needed by", exact=True).fill("1/3/2031")
        for said in ("before you need it", "Sat 1 Mar 2031"):
            expect(page.get_by_text(said).locator("visible=true")).to_be_visible()
        page.get_by_text("Already in the barrow", exact=True).click()
        page.get_by_label("Sphagnum peat, light there already").fill("30")
        expect(page.get_by_text("That is more than you asked for")).to_be_visible()
        expect(page.locator(".cut-base")).to_be_visible()
        page.get_by_label("Unit of the charge").select_option("lb/yd3")
        expect(page.get_by_text("lb/yd3, reaches")).to_be_visible()

    def test_a_feed_blend_is_tried_by_typing_kept_and_its_lid_printed(self):
        page = self.page
        page.goto("/bench/")
        page.get_by_role("link", name="Dry feed blends").click()
        page.get_by_role("link", name="New blend").click()
        lid = page.locator(".lid")
        expect(lid).to_contain_text("Feather meal 33 %")
        page.get_by_label("Material 5").fill("Kelp meal")
        expect(page.locator("#blend-read")).to_contain_text("How many parts")
        page.get_by_label("Parts 5").fill("6")
        expect(lid).to_contain_text("Kelp meal")
        expect(lid).to_contain_text("Feather meal 17 %")
        page.get_by_label("how many plants").fill("20")
        expect(page.locator("#blend-read").get_by_text("20 plants for")).to_be_visible()
        page.get_by_label("Name").fill("Terrace feed")
        page.get_by_text("For one plant, each time").click()
        reason = page.get_by_text("Season’s nitrogen over").first
        expect(reason).to_be_visible()
        page.get_by_label("how many plants").fill("10")
        expect(page.locator("#blend-read").get_by_text("10 plants for")).to_be_visible()
        expect(reason).to_be_visible()
        page.get_by_role("button", name="Save blend").click()
        expect(page.get_by_role("heading", name="Terrace feed")).to_be_visible()
        expect(page.get_by_label("Parts 5")).to_have_value("6")
        page.emulate_media(media="print")
        expect(lid).to_be_visible()
        expect(page.get_by_label("Parts 5")).to_be_hidden()
