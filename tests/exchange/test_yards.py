"""A yard carried off and brought in: the same bytes, nothing of anybody else, no half ones."""

import io
import json
import zipfile
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest.mock import patch

import msgspec
from django.apps import apps
from django.core.files.base import ContentFile
from django.core.management import CommandError, call_command
from django.test import TestCase
from django.utils import timezone

from pelk.core.base.errors import PelkError
from pelk.cure.services.training import begin
from pelk.cure.services.visits import sow
from pelk.exchange.formats.yard_file import KINDS, yard_file
from pelk.exchange.pages.schemas import FORMATS, example_of, schema_of
from pelk.exchange.services.yards import take_in_yard, unpacked
from pelk.log.models import Entry
from pelk.pots.services.diary import see
from pelk.pots.services.groups import fill
from pelk.yards.models import User, Yard
from pelk.yards.services.people import end_yard
from tests.factories import (
    PNG,
    make_bag,
    make_blend,
    make_deed,
    make_evidence,
    make_fill,
    make_heap,
    make_jars,
    make_measure,
    make_old_soil,
    make_own_material,
    make_pack_size,
    make_photo,
    make_pots,
    make_reading,
    make_recipe,
    make_report,
    make_sample,
    make_user,
    make_word,
    say,
    yard_of,
)

# What of a yard stays at home: who may come in, and by which links.
AT_HOME = {
    *("CalendarFeed", "Done", "FitAsked", "Invitation", "Membership"),
    *("Session", "Tally", "User", "Yard"),
}


def full_yard(user):
    """Fill a yard with one of everything."""
    batch = make_heap(user, days_old=40)
    make_recipe(user)
    make_reading(user, batch)
    make_own_material(user)
    make_bag(user)
    make_blend(user)
    say(user, "kelp-meal", N=1.2)
    make_measure(user)
    make_report(user)
    make_sample(user)
    sow(batch=batch, by=user, seeds=20)
    pots = make_pots(user)
    make_fill(user, pots)
    on = timezone.localdate() - timedelta(days=30)
    fill(
        group=pots, by=user, batch=batch, on=on, what="mix", taken_l=20.0, how="filled", plants=True
    )
    make_jars(user)
    make_old_soil(user)
    make_deed(user, pots)
    begin(yard=yard_of(user), by=user, case="bed-table", doses={}, seed=3)
    make_photo(user, batch)
    make_word(user)
    make_pack_size(user)
    make_evidence(user)
    seen = ContentFile(PNG, "seen.png")
    see(group=pots, by=user, on=timezone.localdate(), figures={}, text="", picture=seen)
    return yard_of(user)


OLDEST = "0001-01-01T00:00:00+14:00"


class Carried(TestCase):
    def setUp(self):
        self.user = make_user()
        self.yard = full_yard(self.user)
        self.file = yard_file(self.yard)
        self.data, self.pictures = unpacked(self.file)

    def fresh(self):
        return yard_of(make_user(f"new{Yard.objects.count()}@cove.example", "Cove"))

    def test_every_model_of_a_yard_goes_along(self):
        for model in apps.get_models():
            if not model.__module__.startswith("pelk."):
                continue
            with self.subTest(model.__name__):
                self.assertIn(
                    model,
                    [*KINDS.values(), *(m for m in apps.get_models() if m.__name__ in AT_HOME)],
                )
        missing = KINDS.keys() - self.data["rows"].keys()
        self.assertLessEqual(
            missing,
            {
                "tick",
                "logger_shape",
                "import",
                "pen_check",
                "decision",
                "planted_anyway",
                "soil_event",
            },
        )

    def test_out_in_and_out_again_are_the_same_bytes(self):
        self.assertEqual(self.file, yard_file(self.yard))
        other = self.fresh()
        take_in_yard(yard=other, data=self.data, pictures=self.pictures)
        again = yard_file(other)
        if again != self.file:
            first, second = (
                json.loads(zipfile.ZipFile(io.BytesIO(f)).read("yard.json"))
                for f in (self.file, again)
            )
            self.maxDiff = 4000
            self.assertEqual(first, second)
        self.assertEqual(again, self.file)
        text = zipfile.ZipFile(io.BytesIO(self.file)).read("yard.json").decode()
        self.assertNotIn(self.user.email, text)

    def test_its_pages_open_and_its_log_leads_to_its_own_things(self):
        user = make_user("new@cove.example", "Cove")
        take_in_yard(yard=yard_of(user), data=self.data, pictures=self.pictures)
        self.client.force_login(user)
        urls = {e.url.partition("#")[0] for e in Entry.objects.filter(yard=yard_of(user)) if e.url}
        self.assertGreater(len(urls), 5)
        for url in [*urls, "/today/", "/shelf/", "/bench/", "/cure/", "/pots/", "/log/"]:
            with self.subTest(url):
                self.assertEqual(self.client.get(url).status_code, 200)

    def test_a_bad_file_names_its_row_and_changes_nothing(self):
        other = self.fresh()
        for change, says in (
            (lambda d: d["rows"]["reading"][0].update(ph="acid"), "rows.reading[0].ph"),
            (lambda d: d["rows"]["reading"][0].update(batch="batch-99"), "rows.reading[0].batch"),
            (lambda d: d["rows"]["bag"][0].update(wings=2), "rows.bag[0].wings"),
            (lambda d: d["rows"]["bag"].append(7), "rows.bag[1]"),
            (lambda d: d["yard"].update(system="cubits"), "yard.system"),
            (lambda d: d["rows"]["version"][0].update(document=[]), "rows.version[0].document"),
            (lambda d: d["yard"].update(time_zone="../../etc/passwd"), "yard.time_zone"),
            (lambda d: d["yard"].update(climate="moon"), "yard.climate"),
            (lambda d: d["yard"].update(normals_c=[1, 2]), "yard.normals_c"),
            (lambda d: d["rows"]["reading"][0].update(ph="inf"), "rows.reading[0].ph"),
            (lambda d: d["rows"]["reading"][0].update(ec_ds_m="nan"), "rows.reading[0].ec_ds_m"),
            (lambda d: d["rows"]["reading"][0].update(taken_at=OLDEST), "rows.reading[0].taken_at"),
            (lambda d: d["rows"]["entry"][0].update(url="https://x.example/"), "rows.entry[0].url"),
            (lambda d: d["rows"]["entry"][0].update(url="//x.example"), "rows.entry[0].url"),
            (
                lambda d: d["rows"]["batch"][0].update(yard_measures={"handful": "1e5000"}),
                "rows.batch[0].yard_measures.handful",
            ),
        ):
            data = json.loads(json.dumps(self.data))
            change(data)
            with self.subTest(says), self.assertRaisesMessage(Exception, ""):
                try:
                    take_in_yard(yard=other, data=data, pictures=self.pictures)
                except Exception as error:
                    self.assertEqual(getattr(error, "path", None), says)
                    raise
        self.assertFalse(Entry.objects.filter(yard=other).exists())
        self.assertEqual(Yard.objects.get(pk=other.pk).name, "Cove")

    def test_a_broken_zip_is_a_sentence(self):
        self.client.force_login(make_user("zip@cove.example", "Cove"))
        tried = 0
        for at in range(30, len(self.file), max(len(self.file) // 60, 1)):
            broken = bytearray(self.file)
            broken[at] ^= 0xFF
            try:
                unpacked(bytes(broken))
            except PelkError:
                tried += 1
        self.assertGreater(tried, 20)
        page = self.client.post(
            "/exchange/yard/in/", {"file": ContentFile(bytes(broken[:-40]), "yard.zip")}
        )
        self.assertEqual(page.status_code, 400)

    def test_brackets_by_the_million_are_counted_before_they_are_read(self):
        text = '{"format": "pelk.yard/1", "rows": {"x": [' + "[]," * 5_000_000 + "[]]}}"
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("yard.json", text)
        with self.assertRaisesMessage(PelkError, "more values than a yard"):
            unpacked(packed.getvalue())

    def test_only_an_empty_yard_takes_one_in_and_only_its_keeper(self):
        self.client.force_login(self.user)
        file = ContentFile(self.file, "yard.zip")
        page = self.client.post("/exchange/yard/in/", {"file": file})
        self.assertContains(page, "not empty", status_code=400)
        user = make_user("new@cove.example", "Cove")
        self.client.force_login(user)
        file = ContentFile(self.file, "yard.zip")
        self.assertRedirects(
            self.client.post("/exchange/yard/in/", {"file": file}),
            "/",
            fetch_redirect_response=False,
        )
        self.assertEqual(yard_of(user).name, self.yard.name)
        out = self.client.get("/exchange/yard/out/")
        self.assertEqual(out.content, self.file)
        user.memberships.update(role="hand")
        self.assertEqual(self.client.get("/exchange/yard/out/").status_code, 403)

    def test_the_commands_carry_it_and_mail_a_link(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "yard.zip"
            call_command("export_yard", self.user.email, str(path), stdout=io.StringIO())
            self.assertEqual(path.read_bytes(), self.file)
            out = io.StringIO()
            call_command("import_yard", str(path), "--as", "Late@cove.example", stdout=out)
            self.assertIn("mailed to late@cove.example", out.getvalue())
            user = User.objects.get(email="late@cove.example")
            self.assertEqual(yard_file(yard_of(user)), self.file)
            path.write_text('{"format": "pelk.yard/1",\n "yard": oops}')
            with self.assertRaisesMessage(CommandError, "line 2"):
                call_command("import_yard", str(path), "--as", "late@cove.example")


class Ended(TestCase):
    def test_a_yard_goes_after_thirty_days_with_its_pictures_and_can_be_kept(self):
        user, neighbour = make_user(), make_user("next@cove.example", "Cove")
        yard, other = full_yard(user), full_yard(neighbour)
        kept = yard_file(other)
        self.client.force_login(user)
        self.client.post("/yard/end/")
        self.assertContains(self.client.get("/yard/people/"), "is deleted on")
        self.client.post("/yard/keep/")
        later = timezone.now() + timedelta(days=31)
        with patch("django.utils.timezone.now", return_value=later):
            call_command("purge", stdout=io.StringIO())
        self.assertTrue(Yard.objects.filter(pk=yard.pk).exists())
        end_yard(yard=yard)
        photos = [
            p for k in ("heap_photo", "pot_photo") for p in KINDS[k].objects.filter(yard=yard)
        ]
        paths = [Path(p.image.path) if hasattr(p, "image") else Path(p.file.path) for p in photos]
        self.assertTrue(all(p.exists() for p in paths) and len(paths) == 2)
        with patch("django.utils.timezone.now", return_value=later):
            call_command("purge", stdout=io.StringIO())
        self.assertFalse(Yard.objects.filter(pk=yard.pk).exists())
        self.assertFalse(any(p.exists() for p in paths))
        self.assertEqual(yard_file(other), kept)


class Formats(TestCase):
    def test_each_has_a_schema_and_an_example_that_its_command_takes(self):
        self.client.force_login(make_user())
        self.assertContains(self.client.get("/exchange/formats/"), "pelk.yard/1")
        for name, one in FORMATS.items():
            with self.subTest(name):
                schema = self.client.get(f"/formats/{name}.schema.json").json()
                self.assertIn(one.stated, json.dumps(schema))
                self.assertEqual(schema, json.loads(json.dumps(schema_of(name))))
                example = self.client.get(f"/formats/{name}.example.json").content.decode()
                self.assertEqual(json.loads(example)["format"], one.stated)
                if name in ("mix", "goal", "life"):
                    with patch("sys.stdin", io.StringIO(example)):
                        call_command(one.command, "-", stdout=io.StringIO(), stderr=io.StringIO())
        page = self.client.post("/exchange/", {"text": example_of("material")}, follow=True)
        self.assertContains(page, "the same")
        data, pictures = unpacked(example_of("yard").encode())
        yard = yard_of(make_user("new@cove.example", "Cove"))
        self.assertEqual(take_in_yard(yard=yard, data=data, pictures=pictures), 2)
        self.assertIsInstance(msgspec.json.decode(example_of("mix")), dict)
        self.assertEqual(self.client.get("/formats/moon.schema.json").status_code, 404)
