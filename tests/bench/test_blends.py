"""A dry feed blend on its page: tried, kept, changed, put away."""

from django.test import TestCase
from django.urls import reverse

from pelk.bench.forms.blends import as_posted
from pelk.bench.models import FeedBlend
from pelk.core.materials.library import library
from tests.factories import blend_typed, make_blend, make_user, yard_of


def posted(**changes):
    """Return a blend as its form sends it."""
    return as_posted(blend_typed(**changes))


NEW = reverse("bench:blend_new")
SHELF_LIME = library()["lime-calcitic-ground"].name


class Blends(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.user = make_user()

    def setUp(self):
        self.client.force_login(self.user)

    def figures(self, **changes):
        read = self.client.post(NEW, posted(**changes)).context["read"]
        return {f.quantity.key: f for f in read.figures}, read

    def test_a_typed_name_finds_the_plain_salt_not_its_namesake(self):
        _, read = self.figures()
        self.assertEqual(read.lines[1].name, "Sulfate of potash, mined")

    def test_twice_the_pot_takes_twice_the_feed_and_serves_half_as_long(self):
        small, _ = self.figures()
        large, _ = self.figures(pot="20")
        self.assertAlmostEqual(large["plant"].value, 2 * small["plant"].value)
        self.assertAlmostEqual(large["weeks"].value, small["weeks"].value / 2)
        self.assertAlmostEqual(large["bed"].value, small["bed"].value)

    def test_parts_by_volume_weigh_what_their_litres_weigh(self):
        form = self.client.post(NEW, posted(by="volume")).context["form"]
        (meal, meal_kg), (salt, salt_kg) = form.weighed
        ratio = 2 * meal.loose_density().typ / salt.loose_density().typ
        self.assertAlmostEqual(meal_kg / salt_kg, ratio)
        self.assertAlmostEqual(meal_kg + salt_kg, 5)

    def test_pounds_and_gallons_are_reckoned(self):
        typed = {"tub": "11.023", "tub_unit": "lb", "pot": "2.6417", "pot_unit": "gal"}
        us, _ = self.figures(**typed)
        metric, _ = self.figures()
        for key in ("plant", "weeks"):
            self.assertAlmostEqual(us[key].value / metric[key].value, 1, 3)

    def test_the_lid_says_the_dose_by_weight_and_by_the_spoon(self):
        got, read = self.figures()
        grams = got["plant"].value
        self.assertEqual(read.dose.split()[:2], [f"{grams:.0f}", "g,"])
        self.assertRegex(read.dose, "tsp|tbsp|cup")
        yard = yard_of(self.user)
        yard.system = "us"
        yard.save()
        self.assertEqual(self.figures()[1].dose.split()[1], "oz,")

    def test_every_number_says_why(self):
        got, _ = self.figures()
        self.assertEqual({"nitrogen", "charge", "free", "plant", "bed", "weeks"}, got.keys())
        for key, figure in got.items():
            with self.subTest(key):
                self.assertTrue(figure.method and figure.inputs and figure.citations)

    def test_bad_lines_say_so_beside_the_field_and_keep_what_was_typed(self):
        for field, text in (
            ("m2", "Moon dust"),
            ("p1", "two"),
            ("m1", "Perlite"),
            ("p2", ""),
            ("plants", "0"),
            ("tub", "lots"),
        ):
            with self.subTest(field):
                response = self.client.post(NEW, posted(action="keep", **{field: text}))
                names = {"m": "material", "p": "parts"}
                if field[1:].isdecimal():
                    field = f"lines-{int(field[1:]) - 1}-{names[field[0]]}"
                self.assertIsNone(response.context["read"])
                self.assertContains(response, f'id="id_{field}_error"')
                if text:
                    self.assertContains(response, f'value="{text}"')
        self.assertFalse(FeedBlend.objects.exists())

    def test_a_blend_a_third_of_lime_is_no_feed_by_itself(self):
        """Four alfalfa, a bone meal, a kelp, a dolomite: a gram of lime a litre stops it at 7."""
        lines = {"m1": "Alfalfa meal", "p1": "4", "m2": "Fish bone meal", "p2": "1"}
        lines |= {"m3": "Kelp meal", "p3": "1"}
        lines |= {"m4": "Ground limestone, dolomitic", "p4": "1", "by": "weight"}
        got, read = self.figures(**lines)
        self.assertLessEqual(got["plant"].value, 7.5 * 10)
        self.assertIn("Too weak in nitrogen to feed by alone", read.tub_says)
        self.assertEqual(read.how_often, "once")

    def test_what_holds_no_nitrogen_is_given_no_dose(self):
        got, read = self.figures(m1="", p1="")
        self.assertNotIn("plant", got)
        self.assertEqual(read.tub_says, "")

    def test_a_feed_without_a_price_is_named(self):
        _, read = self.figures()
        said = "no price on the shelf for feather meal and sulfate of potash, mined"
        self.assertIn(said, read.beside.says[-1])

    def test_kept_changed_deleted_and_brought_back(self):
        self.client.post(NEW, posted(action="keep"))
        row = FeedBlend.objects.of(yard_of(self.user)).get()
        self.assertContains(self.client.get(row.get_absolute_url()), "Terrace feed")
        self.client.post(row.get_absolute_url(), posted(p1="5", action="keep"))
        self.assertEqual([v.document["p1"] for v in row.versions.all()], ["5", "2"])
        self.client.post(row.get_absolute_url(), posted(p1="5", action="keep"))
        self.assertEqual(row.versions.count(), 2)
        old = self.client.get(f"{row.get_absolute_url()}?version=1")
        self.assertEqual(old.context["form"].rows[0]["parts"].value(), "2")
        book = reverse("bench:blends")
        self.client.post(reverse("bench:blend_delete", args=[row.pk]))
        self.assertNotContains(self.client.get(book), f'"{row.get_absolute_url()}"')
        self.client.post(reverse("bench:blend_restore", args=[row.pk]))
        self.assertContains(self.client.get(book), f'"{row.get_absolute_url()}"')

    def test_the_judge_speaks_on_the_page(self):
        page = self.client.post(NEW, posted(m1="Blood meal", m2="Hydrated lime"))
        self.assertContains(page, "off as ammonia")
        page = self.client.post(NEW, posted(m2=SHELF_LIME, crop="ericaceous"))
        self.assertContains(page, "no place in a feed for acid lovers")

    def test_trying_keeps_nothing(self):
        row = make_blend(self.user)
        self.client.post(row.get_absolute_url(), posted(p1="9"))
        self.assertEqual(row.latest.document["p1"], "2")
