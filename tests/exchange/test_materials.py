"""pelk.material/1 in and out: the same again, previewed, all or nothing, the bad line named."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from pelk.core.materials.library import library
from pelk.exchange.domain.materials import as_csv, as_json, preview
from pelk.shelf.models.materials import Material, Value
from tests.factories import make_user, say, yard_of

NEW = {
    "format": "pelk.material/1",
    "id": "river-silt",
    "name": "River silt",
    "family": "soil",
    "role": "bulk",
    "density": 1.2,
    "composition": {"N": 0.1},
    "grounds": {"N": {"mark": "lab", "dated": "2026-10-01"}},
}


class InAndOut(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.yard = yard_of(self.user)

    def send(self, text, **more):
        return self.client.post("/exchange/materials/", {"text": text, **more})

    def test_the_whole_library_out_and_in_again_changes_nothing(self):
        cores = list(library().values())
        for text in (as_json(cores), as_csv(cores)):
            with self.subTest(text[:20]):
                got = preview(text, self.yard)
                self.assertEqual(len(got), 267)
                self.assertEqual([(f.slug, f.changes) for f in got if f.changes], [])

    def test_own_values_travel_to_another_yard_with_their_source(self):
        say(self.user, "kelp-meal", "lab", note="ours", N=1.31)
        files = {
            kind: self.client.get(f"/exchange/materials/all.{kind}").content.decode()
            for kind in ("json", "csv")
        }
        for kind, text in files.items():
            other = make_user(f"{kind}@cove.example", "Upper Cove")
            self.client.force_login(other)
            page = self.send(text)
            self.assertContains(page, "0 new, 1 changed, 0 the same")
            self.assertFalse(Value.objects.of(yard_of(other)).exists())
            self.send(text, action="take")
            core = Material.objects.get(yard=yard_of(other)).core
            self.assertEqual(
                (core.composition["N"].typ, core.mark_of("N"), core.provenances["N"].note),
                (1.31, "lab", "ours"),
            )
            self.assertContains(self.send(text), "0 new, 0 changed, 1 the same")

    def test_a_new_one_is_previewed_then_kept_with_its_grounds(self):
        text = json.dumps(NEW)
        self.assertContains(self.send(text), "1 new, 0 changed")
        self.assertFalse(Material.objects.filter(yard=self.yard).exists())
        self.assertRedirects(self.send(text, action="take"), "/shelf/?show=own")
        core = Material.objects.get(slug="river-silt").core
        self.assertEqual(
            (core.density.typ, core.mark_of("N"), core.mark_of("density")), (1.2, "lab", "yours")
        )
        say(self.user, "river-silt", "guess", K=0.3)
        core = Material.objects.get(slug="river-silt").core
        self.assertEqual((core.composition["N"].typ, core.composition["K"].typ), (0.1, 0.3))
        self.assertContains(self.client.get("/log/"), "1 new, 0 changed")

    def test_a_bad_file_names_its_line_or_key_and_nothing_is_taken(self):
        heads = "id,name,family,role,N [%],N source"
        for text, said in (
            ("{", "line 1: not JSON"),
            (json.dumps([NEW, {**NEW, "id": "b", "density": -1}]), "materials[1].density"),
            (json.dumps({**NEW, "wings": 2}), "materials[0].wings"),
            (json.dumps({**NEW, "grounds": {"N": {"mark": "hearsay"}}}), "grounds.N.mark"),
            (json.dumps({**NEW, "composition": {"N": 80, "C": 40}}), "all contents together"),
            (json.dumps([NEW, NEW]), "is there twice"),
            (json.dumps({**NEW, "format": "x"}), "allowed: &#x27;pelk.material/1&#x27;"),
            (
                f"{heads}\na,A,soil,bulk,1,\nb,B,soil,bulk,much,",
                "line 3, N [%]: found &#x27;much&#x27;",
            ),
            (f"{heads}\na,A,soil,bulk,1,hearsay", "line 2, N source"),
            (f"{heads},wings\na,A,soil,bulk,1,,2", "the column &#x27;wings&#x27;"),
            (f"{heads}\na,A,soil,bulk,1 | 2,", "allowed: a number, or low | typical | high"),
            ("id\nnew-thing", "a new material needs it"),
            (json.dumps({**NEW, "id": "a" * 90}), "80 at most"),
            (json.dumps({**NEW, "id": "bags"}), "an address of the shelf"),
            ("", "Choose a file, or paste its text."),
        ):
            with self.subTest(said):
                page = self.send(text, action="take")
                self.assertContains(page, said, status_code=400)
        picture = SimpleUploadedFile("m.json", b"\xff\xd8\xff\xe0")
        page = self.client.post("/exchange/materials/", {"file": picture})
        self.assertContains(page, "This file is not text", status_code=400)
        self.assertFalse(Material.objects.filter(yard=self.yard).exists())

    def test_many_at_once_ask_few_questions(self):
        rows = [{**NEW, "id": f"silt-{i}", "name": f"Silt {i}"} for i in range(300)]
        # SQLite sends its rows in several parts, PostgreSQL in one.
        with CaptureQueriesContext(connection) as asked:
            self.send(json.dumps(rows), action="take")
        self.assertLessEqual(len(asked), 18)
        self.assertEqual(Material.objects.filter(yard=self.yard).count(), 300)
        self.assertContains(self.client.get("/shelf/silt-7/"), "Silt 7")
