"""One door for every file: Pelk sees what it is, and it is looked at before it counts."""

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from pelk.core.materials.library import library
from pelk.cure.models import Reading
from pelk.exchange.domain.materials import as_csv, as_json
from pelk.exchange.domain.recognise import FileKind, kind_of
from tests.factories import make_heap, make_user

LOGGER = "time,ph,temperature (°C)\n{},6.1,18.5\n"
LAB = "Total N 1.62 % dry\nCalcium 1,250 ppm\npH 6.8"


class BringIn(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_each_kind_is_known_by_what_stands_in_it(self):
        peat = library()["sphagnum-peat-light"]
        for text, kind in (
            (as_json([peat]), FileKind.MATERIALS),
            (as_csv([peat]), FileKind.MATERIALS),
            (LOGGER.format("2031-03-01 10:00"), FileKind.LOGGER),
            (LAB, FileKind.LAB),
            ('{"half": ', FileKind.UNKNOWN),
            ("Dear grower, thank you.", FileKind.UNKNOWN),
            ("", FileKind.UNKNOWN),
        ):
            with self.subTest(text[:30]):
                self.assertIs(kind_of(text), kind)

    def test_a_loggers_file_goes_to_its_heap_and_is_shown_first(self):
        heap = make_heap(self.user, days_old=9)
        text = LOGGER.format(f"{heap.made_at + timedelta(days=2):%Y-%m-%d %H:%M}")
        file = SimpleUploadedFile("box.csv", text.encode())
        page = self.client.post("/exchange/", {"file": file})
        self.assertContains(page, heap.code)
        sent = {"text": text, "name": "box.csv", "heap": heap.pk, "action": "to-heap"}
        page = self.client.post("/exchange/", sent, follow=True)
        self.assertContains(page, "Readable:")
        self.assertFalse(Reading.objects.exists())
        stranger = make_heap(make_user("other@cove.example", "Cove"))
        answer = self.client.post("/exchange/", {**sent, "heap": stranger.pk})
        self.assertEqual(answer.status_code, 404)

    def test_every_kind_of_file_is_looked_at_on_the_same_page(self):
        heap = make_heap(self.user, days_old=9)
        text = LOGGER.format(f"{heap.made_at + timedelta(days=2):%Y-%m-%d %H:%M}")
        lab = {"text": LAB, "material": "yard-compost", "dated": "2031-03-01", "method": "total"}
        lab |= {"basis": "dry", "ec_method": "1:5"}
        for url, sent, said in (
            (f"/cure/{heap.pk}/logger/", {"text": text}, "Import 1 reading"),
            ("/shelf/lab/new/", lab, "2 of 3 rows read well."),
            ("/exchange/materials/", {"text": as_json([library()["kelp-meal"]])}, "1 the same"),
        ):
            with self.subTest(url):
                page = self.client.post(url, sent, follow=True)
                self.assertTemplateUsed(page, "ui/preview.html")
                self.assertContains(page, said)
                picture = SimpleUploadedFile("m.csv", b"\xff\xd8\xff\xe0")
                page = self.client.post(url, {**sent, "text": "", "file": picture})
                self.assertTemplateNotUsed(page, "ui/preview.html")
                self.assertIn("This file is not text", page.content.decode())

    def test_a_report_and_materials_find_their_place(self):
        page = self.client.post("/exchange/", {"text": LAB})
        self.assertContains(page, "Sample of")
        peat = as_json([library()["sphagnum-peat-light"]])
        page = self.client.post("/exchange/", {"text": peat}, follow=True)
        self.assertContains(page, "the same")
        page = self.client.post("/exchange/", {"text": "Dear grower"})
        self.assertContains(page, "This is no logger", status_code=400)
        self.assertContains(page, "Dear grower", status_code=400)
