"""The diary of some pots: what was seen, drawn season above season, and compared."""

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.utils import timezone

from pelk.pots.models import PotDeed, PotPhoto
from pelk.pots.services.diary import see
from tests.factories import PNG, make_pots, make_user


class Diary(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.today = timezone.localdate()
        self.group = make_pots(
            self.user,
            name="Aubergine tubs",
            crop="fruiting",
            plant="aubergine",
            planted_on=self.today - timedelta(days=80),
        )
        self.url = f"/pots/{self.group.pk}/"

    def saw(self, days, **figures):
        on = self.today - timedelta(days=days)
        return see(group=self.group, by=self.user, on=on, figures=figures, text="", picture=None)

    def post(self, **typed):
        return self.client.post(f"{self.url}saw/", typed, follow=True)

    def test_what_is_seen_is_kept_with_its_picture_and_what_is_done_first(self):
        self.assertContains(self.client.get(f"{self.url}saw/"), "fungus gnats")
        picture = SimpleUploadedFile("a.png", PNG)
        page = self.post(
            height="34", leaves="11", flower="on", pests=["gnats"], text="well", picture=picture
        )
        self.assertContains(page, "Bti in the water")
        deed = PotDeed.objects.get(kind="saw")
        wanted = {"height_cm": 34.0, "leaves": 11.0, "flower": 1.0, "gnats": 1.0}
        self.assertEqual(deed.figures, wanted)
        for words in ("34\u00a0cm tall", "11 leaves", "first flower", "fungus gnats"):
            self.assertIn(words, deed.says)
        photo = PotPhoto.objects.get(deed=deed)
        for size in ("", "?small=1"):
            sent = self.client.get(f"/pots/photos/{photo.pk}/{size}")
            self.assertEqual(sent["Content-Type"], "image/jpeg")
            self.assertTrue(b"".join(sent).startswith(b"\xff\xd8\xff"))
        self.client.post(f"/pots/photos/{photo.pk}/delete/")
        self.assertEqual(self.client.get(f"/pots/photos/{photo.pk}/").status_code, 404)
        self.client.post(f"/pots/photos/{photo.pk}/restore/")
        self.assertEqual(self.client.get(f"/pots/photos/{photo.pk}/").status_code, 200)

    def test_a_torn_picture_loses_nothing_that_was_typed(self):
        torn = SimpleUploadedFile("a.jpg", b"\xff\xd8\xff torn")
        page = self.post(height="34", text="first buds", picture=torn)
        self.assertContains(page, "or it is torn")
        self.assertContains(page, 'value="34"')
        self.assertContains(page, "first buds")
        self.assertEqual(PotDeed.objects.filter(kind="saw").count(), 0)
        self.assertContains(self.post(), "Say what you saw")

    def test_two_seasons_are_drawn_and_compared(self):
        for days, tall in ((70, 12.0), (40, 40.0), (10, 70.0)):
            self.saw(days, height_cm=tall)
            self.saw(days + 365, height_cm=0.7 * tall)
        self.saw(35, flower=1.0)
        self.saw(365 + 24, flower=1.0)
        page = self.client.get(f"{self.url}diary/")
        # Sooner by eleven days; at 70 cm against 49.
        self.assertContains(page, "The first flower came 11 days sooner than last year.")
        self.assertContains(page, "The plants stand 21\u00a0cm taller than last year.")
        above, below = page.context["desk"].seasons
        self.assertEqual((len(above.heights), len(below.heights)), (3, 3))
        self.assertLess(above.flower.x, below.flower.x)
        self.assertTrue(above.area and below.area)
        told = page.context["desk"].numbers.rows
        self.assertEqual(len(told), 8)
        self.assertEqual(told[0].cells[1:3], (above.title, "12\u00a0cm"))
        self.assertIn("first flower", told[2].cells[-1])

    def test_other_pots_stand_beside(self):
        other = make_pots(self.user, name="Other tubs", crop="fruiting")
        self.saw(40, height_cm=30.0)
        page = self.client.get(f"{self.url}diary/", {"beside": other.pk})
        self.assertContains(page, "Other tubs")
        self.assertTrue(page.context["desk"].seasons[1].is_empty)
        stranger = make_pots(make_user("other@cove.example", "Cove"))
        page = self.client.get(f"{self.url}diary/", {"beside": stranger.pk, "back": "x"})
        self.assertIsNone(page.context["beside"])

    def test_an_american_yard_sees_inches(self):
        self.group.yard.system = "us"
        self.group.yard.save()
        self.post(height="10")
        self.assertAlmostEqual(PotDeed.objects.get(kind="saw").figures["height_cm"], 25.4)
        self.assertContains(self.client.get(self.url), "10\u00a0in tall")
