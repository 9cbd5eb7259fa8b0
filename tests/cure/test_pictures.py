"""Pictures are kept without what the camera wrote into them; the picture itself is not touched."""

from struct import pack
from zlib import crc32

from django.core.files.base import ContentFile
from django.test import SimpleTestCase, TestCase

from pelk.cure.domain.pictures import without_what_the_camera_wrote as stripped
from pelk.cure.services.visits import keep_photo
from tests.factories import make_heap, make_user

PLACE = b"54.9N 1.6W"


def segment(mark, body):
    return bytes((0xFF, mark)) + pack(">H", len(body) + 2) + body


def exif(turn, order=">"):
    head = b"MM\x00*" if order == ">" else b"II*\x00"
    row = pack(f"{order}HHIHH", 0x0112, 3, 1, turn, 0)
    return b"Exif\x00\x00" + head + pack(f"{order}IH", 8, 1) + row + pack(f"{order}I", 0) + PLACE


def jpeg(*segments):
    scan = b"\xff\xda\x00\x04\x01\x00" + b"picture \xff\x00 itself" + b"\xff\xd9"
    return b"\xff\xd8" + b"".join(segments) + scan


class Stripped(SimpleTestCase):
    def test_a_jpeg_loses_its_place_and_keeps_its_turn(self):
        table = segment(0xDB, b"quantisation")
        for order in "><":
            told = jpeg(
                segment(0xE1, exif(6, order)),
                segment(0xE1, b"xmp" + PLACE),
                table,
                segment(0xFE, PLACE),
            )
            got = stripped(told)
            self.assertNotIn(PLACE, got)
            self.assertIn(table, got)
            self.assertTrue(got.endswith(jpeg()[2:]))
            # Stripping again finds the turn that was kept.
            self.assertEqual(stripped(got), got)
            self.assertIn(b"Exif", got)
        self.assertNotIn(b"Exif", stripped(jpeg(segment(0xE1, exif(1)), table)))

    def test_a_png_and_a_webp_lose_their_texts(self):
        def chunk(name, body):
            return pack(">I", len(body)) + name + body + pack(">I", crc32(name + body))

        start, image, end = (b"\x89PNG\r\n\x1a\n", chunk(b"IDAT", b"pixels"), chunk(b"IEND", b""))
        told = start + chunk(b"eXIf", PLACE) + chunk(b"tEXt", PLACE) + image + end
        self.assertEqual(stripped(told), start + image + end)

        def riff(*chunks):
            body = b"WEBP" + b"".join(chunks)
            return b"RIFF" + pack("<I", len(body)) + body

        def part(name, body):
            return name + pack("<I", len(body)) + body + b"\x00" * (len(body) % 2)

        pixels = part(b"VP8 ", b"pixel")
        told = riff(
            part(b"VP8X", b"\x0c" + bytes(9)), pixels, part(b"EXIF", PLACE), part(b"XMP ", PLACE)
        )
        self.assertEqual(stripped(told), riff(part(b"VP8X", bytes(10)), pixels))

    def test_what_is_broken_stays_as_it_is(self):
        for data in (
            b"",
            b"\xff\xd8",
            b"\xff\xd8\xff\xe1\x00",
            jpeg(segment(0xE1, b"Exif\x00\x00MM"))[:20],
            b"text",
        ):
            self.assertEqual(stripped(data), data)


class Kept(TestCase):
    def test_a_picture_of_a_heap_is_kept_without_its_place(self):
        user = make_user()
        file = ContentFile(jpeg(segment(0xE1, exif(1))), "heap.jpg")
        row = keep_photo(batch=make_heap(user), by=user, file=file, kind="image/jpeg", note="")
        self.addCleanup(row.file.delete, save=False)
        self.assertNotIn(PLACE, row.file.read())
