"""British on the page, American where the yard is: words, dates, and nothing that was typed."""

from django.test import SimpleTestCase, TestCase

from pelk.ui.spelling import american, american_text
from tests.factories import make_recipe, make_user, yard_of


class Words(SimpleTestCase):
    def test_words_keep_their_case_and_dates_turn(self):
        for british, said in (
            ("Leaf mould, 5 litres", "Leaf mold, 5 liters"),
            ("AUBERGINE by 24 Nov 2026", "EGGPLANT by Nov 24, 2026"),
            ("ready 6 May; Barrow, 2 barrow loads", "ready May 6; Barrow, 2 wheelbarrow loads"),
            ("a greyhound at 10 Maywood", "a greyhound at 10 Maywood"),
            ("Tetanus jab in date", "Tetanus shot in date"),
        ):
            with self.subTest(british):
                self.assertEqual(american_text(british), said)

    def test_what_was_typed_and_what_is_code_stays(self):
        page = (
            '<p title="mould">mould</p><input value="grey"><textarea>colour</textarea>'
            "<pre>5 litres</pre><b>grey</b>"
        )
        turned = american(page)
        self.assertEqual(turned.count("mold"), 1)
        for kept in ('title="mould"', 'value="grey"', ">colour<", ">5 litres<", ">gray<"):
            self.assertIn(kept, turned)


class Pages(TestCase):
    def test_the_region_turns_the_spelling_and_the_units_do_not(self):
        user = make_user()
        yard = yard_of(user)
        self.client.force_login(user)
        bulk = [{"material": "leaf-mould", "parts": 1}]
        url = make_recipe(user, bulk=bulk, doses=[]).get_absolute_url()
        yard.system = "us"
        yard.save()
        self.assertContains(self.client.get(url), ">Leaf mould<")
        yard.region = "US"
        yard.save()
        page = self.client.get(url)
        self.assertContains(page, ">Leaf mold<")
        self.assertContains(page, 'value="leaf-mould"')
        self.assertIn(
            "leaf-mould", self.client.get("/exchange/materials/all.json?all=1").content.decode()
        )
