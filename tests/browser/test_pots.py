"""Pots by hand: three old soils judged, a feeding month ticked, a can soured, jars read."""

from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from pelk.pots.models import PotDeed
from pelk.pots.services.groups import fill
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import make_pots, make_user, yard_of

FINE = [
    "Of earth, or of nothing",
    "Nothing",
    "Worms, nothing else",
    "Fibres and grit still seen",
    "Spongy, springs back",
    "Roots all through it",
    "Yes",
    "None",
    "Sinks in",
    "6.3",
    "1.4",
    "One",
    "Yes",
    "No",
    "Mixed here",
]


class OldSoil(ByKeysAlone, BrowserTestCase):
    size = {"width": 390, "height": 844}

    def setUp(self):
        super().setUp()
        self.sign_in(make_user())

    def judge(self, name, **other):
        page = self.page
        page.goto("/pots/old/")
        page.get_by_label("or a name for it").fill(name)
        page.get_by_label("of soil, settled").fill("60")
        page.get_by_role("button", name="Start the check").click()
        for i, said in enumerate(FINE):
            said = other.get(f"q{i}", said)
            heading = page.locator("#ask").inner_text()
            if said[0].isdigit():
                page.locator("#said").fill(said)
                page.get_by_role("button", name="Next").click()
            else:
                page.get_by_role("button", name=said, exact=True).click()
            if i < len(FINE) - 1:
                expect(page.locator("#ask")).not_to_have_text(heading)
        expect(page.get_by_text("All questions are answered")).to_be_visible()
        return page.get_by_role("region", name="What to do with it")

    def test_sour_fine_and_mildew_get_three_prescriptions(self):
        page = self.page
        sour = self.judge("Sour tub", q0="Sour, like silage")
        expect(sour.get_by_text("It went airless").first).to_be_visible()
        expect(sour.get_by_text("Spread it 20 cm deep or less, under a roof.")).to_be_visible()
        expect(page.get_by_role("button", name="Open it on the Bench")).to_have_count(0)
        mildew = self.judge("Mildew tub", q1="Mildew, rust or spots on leaves")
        expect(mildew.get_by_text("Take all debris off, and grow another family.")).to_be_visible()
        fine = self.judge("Fine tub")
        expect(fine.get_by_text("Worth reviving.")).to_be_visible()
        expect(fine.get_by_text("Take all debris off")).to_have_count(0)
        expect(fine.get_by_role("row", name="Compost 18 L")).to_be_visible()
        page.get_by_role("button", name="Open it on the Bench").click()
        expect(page.get_by_label("Name of the mix")).to_have_value("Fine tub, renewed")
        expect(page.get_by_role("link", name="Old soil, Fine tub").first).to_be_visible()


class InUse(ByKeysAlone, BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.yard = yard_of(self.user)
        self.yard.normals_c = [16.0] * 12
        self.yard.save()
        self.sign_in(self.user)

    def test_a_feeding_month_is_planned_and_ticked(self):
        page = self.page
        group = make_pots(self.user, name="Aubergine tubs", crop="fruiting")
        on = timezone.localdate() - timedelta(days=28)
        fill(
            group=group, by=self.user, what="old mix", taken_l=110, how="filled", on=on, plants=True
        )
        page.goto(f"/pots/{group.pk}/")
        expect(page.get_by_role("img", name="Nitrogen each week")).to_be_visible()
        liquid = page.get_by_role("button", name="Done: Liquid:").first
        liquid.click()
        expect(page.get_by_text("1 of")).to_be_visible()
        page.get_by_text("Add an entry", exact=True).click()
        page.get_by_label("What", exact=True).select_option(label="flower buds seen")
        expect(page.get_by_label("salts, dS/m")).to_be_hidden()
        page.get_by_label("What", exact=True).select_option(label="reading")
        page.get_by_label("salts, dS/m").fill("4,8")
        page.get_by_role("button", name="Save entry").click()
        expect(
            page.locator(".due").get_by_text("Rinse: plain water, one pore volume")
        ).to_be_visible()
        page.get_by_role("link", name="Today", exact=True).click()
        rinse = page.get_by_role("button", name="Done: Rinse")
        rinse.click()
        expect(rinse).to_have_count(0)
        kinds = sorted(PotDeed.objects.exclude(kind="planted").values_list("kind", flat=True))
        self.assertEqual(kinds, ["done", "done", "reading"])

    def test_a_can_is_soured_and_a_bed_is_asked_by_area(self):
        page = self.page
        page.goto("/pots/ph/")
        page.get_by_role("link", name="Treat the water").click()
        page.get_by_label("alkalinity").fill("240")
        page.get_by_role("button", name="Work it out").click()
        expect(page.get_by_role("row", name="citric acid, crystals")).to_contain_text("g")
        expect(page.get_by_text("eat these acids within days")).to_be_visible()
        page.get_by_role("link", name="Raise or lower a soil").click()
        expect(page.get_by_label("the area")).to_be_hidden()
        page.get_by_label("how much").select_option(label="a bed, area by depth")
        page.get_by_label("the area").fill("3")
        page.get_by_role("button", name="Work it out").click()
        expect(page.get_by_text("for 450 L of soil".replace(" L", "\u00a0L"))).to_be_visible()

    def test_jars_are_set_up_and_read(self):
        page = self.page
        page.goto("/pots/ph/jars/")
        page.get_by_label("Mix", exact=True).fill("New bale")
        page.get_by_label("of mix to dose").fill("40")
        page.get_by_role("button", name="Set up the jars").click()
        for i, ph in enumerate(("4.6", "5.2", "5.7", "6,1", "6.4"), 1):
            page.get_by_label(f"pH of jar {i}").fill(ph)
        page.get_by_role("button", name="Save readings").click()
        expect(page.get_by_text("For pH 6:")).to_be_visible()
        expect(page.locator("circle.pt")).to_have_count(5)
