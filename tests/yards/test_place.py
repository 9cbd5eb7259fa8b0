"""Where a yard is: asked once, and everything that follows from it."""

from decimal import Decimal

from django.test import SimpleTestCase, TestCase

from pelk.core.base.regions import climates
from pelk.ui.money import currencies, foreign_sign, read_money, sign_of
from pelk.yards.forms.yard import SignUpForm, spoken_in
from pelk.yards.models import Yard
from tests.factories import PASSWORD, make_user, yard_of

TYPED = {"email": "new@steps.example", "yard_name": "Wall Side", "password": PASSWORD}


class SignUp(TestCase):
    def open(self, **typed):
        answer = self.client.post("/yard/sign-up/", {**TYPED, **typed})
        return Yard.objects.first(), answer

    def test_a_territory_brings_units_money_and_climate(self):
        yard, _ = self.open(region="US", time_zone="America/Denver")
        self.assertEqual((yard.system, yard.currency, yard.region), ("us", "USD", "US"))
        self.assertEqual(yard.time_zone, "America/Denver")
        self.assertEqual(tuple(yard.normals_c), climates()[yard.climate].normals_c)

    def test_each_can_be_chosen_otherwise(self):
        yard, _ = self.open(
            region="US", system="metric", currency="CAD", climate="cool-maritime", time_zone="Mars"
        )
        self.assertEqual((yard.system, yard.currency), ("metric", "CAD"))
        self.assertEqual(tuple(yard.normals_c), climates()["cool-maritime"].normals_c)
        self.assertEqual(yard.time_zone, "")

    def test_it_is_asked_never_assumed(self):
        yard, answer = self.open()
        self.assertIsNone(yard)
        self.assertContains(answer, "This field is required")
        self.assertContains(answer, 'value="Wall Side"')
        self.assertContains(self.client.get("/yard/place/?region=DE"), "Usual in Germany")
        self.assertContains(self.client.get("/yard/place/?region=US"), "gallons and ounces")
        for region in ("", "XX", "\0"):
            self.assertEqual(self.client.get("/yard/place/", {"region": region}).status_code, 200)
        page = self.client.get("/yard/sign-up/", headers={"Accept-Language": "en-NZ,en;q=0.8"})
        self.assertEqual(page.context["form"].initial["region"], "NZ")
        self.assertEqual(spoken_in("en,fr;q=0.1"), "")

    def test_another_climate_brings_its_months(self):
        user = make_user()
        self.client.force_login(user)
        page = self.client.get("/yard/settings/")
        form = page.context["form"]
        typed = {name: form[name].value() or "" for name in form.fields}
        self.client.post("/yard/settings/", {**typed, "climate": "hot-desert"})
        self.assertEqual(tuple(yard_of(user).normals_c), climates()["hot-desert"].normals_c)
        page = self.client.post("/yard/settings/", {**typed, "time_zone": "Nowhere"})
        self.assertContains(page, "Enter it as Europe/Dublin")

    def test_the_day_is_the_yards(self):
        user = make_user()
        Yard.objects.update(time_zone="Pacific/Kiritimati")
        self.client.force_login(user)
        page = self.client.get("/today/")
        self.assertEqual(page.status_code, 200)
        Yard.objects.update(time_zone="")


class Signs(SimpleTestCase):
    def test_every_territory_can_be_chosen(self):
        form = SignUpForm()
        self.assertGreater(len(form.fields["region"].choices), 240)
        self.assertGreater(len(currencies()), 120)

    def test_another_countrys_sign_is_not_taken_for_ones_own(self):
        self.assertEqual(foreign_sign("$12", "EUR"), "$")
        self.assertEqual(foreign_sign("12 USD", "EUR"), "USD")
        for text, currency in (
            ("$12", "USD"),
            ("12", "EUR"),
            ("€ 12,50", "EUR"),
            ("12 eur", "EUR"),
        ):
            self.assertEqual(foreign_sign(text, currency), "", text)
        self.assertEqual(read_money("€ 12,50"), Decimal("12.50"))
        self.assertEqual(read_money("12 eur"), Decimal(12))
        self.assertIsNone(read_money("twelve"))
        self.assertEqual(sign_of("XAF"), "FCFA ")
