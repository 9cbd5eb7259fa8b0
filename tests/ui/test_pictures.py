"""Pictures from a phone: upright, small, without place or time; nonsense is refused."""

from io import BytesIO

from django.test import SimpleTestCase
from PIL import Image

from pelk.core.base.errors import PelkError
from pelk.ui.pictures import LONGEST, re_encoded

MAKE, TURN, TAKEN, PLACE = 0x010F, 0x0112, 0x0132, 0x8825


def camera(size=(400, 300), turn=6, kind="JPEG", **more):
    """Return a picture as a phone writes it: red on the left, lying on its side."""
    image = Image.new("RGB", size, "blue")
    image.paste("red", (0, 0, size[0] // 4, size[1]))
    exif = Image.Exif()
    exif[MAKE], exif[TURN], exif[TAKEN] = "A Camera", turn, "2026:06:14 09:00:00"
    exif.get_ifd(PLACE)[1] = "N"
    kept = BytesIO()
    image.save(kept, kind, exif=exif, **more)
    return kept.getvalue()


class Pictures(SimpleTestCase):
    def test_it_arrives_upright_and_says_nothing(self):
        data = camera() + b"hidden words behind the end"
        self.assertIn(b"A Camera", data)
        kept = re_encoded(data)
        for told in (b"A Camera", b"2026:06:14", b"hidden words", b"Exif"):
            self.assertNotIn(told, kept)
        image = Image.open(BytesIO(kept))
        self.assertEqual((image.format, image.size), ("JPEG", (300, 400)))
        red, _, blue = image.getpixel((150, 20))
        self.assertGreater(red, blue)  # turned by a quarter, the left is up
        self.assertEqual(dict(image.getexif()), {})

    def test_a_large_one_gets_small_and_every_format_is_read(self):
        large = re_encoded(camera((4000, 3000), turn=1))
        self.assertEqual(Image.open(BytesIO(large)).size, (LONGEST, LONGEST * 3 // 4))
        for kind in ("PNG", "WEBP"):
            self.assertEqual(re_encoded(camera(kind=kind))[:3], b"\xff\xd8\xff")
        clear = BytesIO()
        Image.new("RGBA", (8, 8), (0, 0, 0, 0)).save(clear, "PNG")
        self.assertEqual(Image.open(BytesIO(re_encoded(clear.getvalue()))).getpixel((2, 2))[0], 255)

    def test_what_is_no_picture_is_refused(self):
        whole = camera((900, 700))
        bomb = BytesIO()
        Image.new("L", (30_000, 30_000)).save(bomb, "PNG")
        gif = BytesIO()
        Image.new("P", (8, 8)).save(gif, "GIF")
        torn = whole[: len(whole) // 2]
        for wrong in (b"", b"<svg/>", torn, bomb.getvalue(), gif.getvalue(), b"\xff\xd8\xff"):
            with self.assertRaises(PelkError):
                re_encoded(wrong)
