"""The add boxes of the Bench: what is understood goes in, what is open is asked."""

from django.test import SimpleTestCase

from pelk.bench.forms.edits import add_part
from pelk.bench.forms.entry import Shop, read_entry
from pelk.bench.forms.mix import BenchForm
from pelk.bench.forms.mix_rows import PartRow
from pelk.bench.forms.part_units import Fillings
from pelk.bench.models import Recipe
from pelk.core.materials.library import library
from pelk.core.materials.words import Box, Vocabulary
from pelk.shelf.models.materials import Material
from pelk.shelf.models.words import PackSize, Word
from pelk.yards.models import Yard
from tests.bench.test_bench import BenchCase
from tests.factories import yard_of


def shop(region="GB", system="metric", packs=None, **yard):
    held = Yard(system=system, region=region, **yard)
    vocabulary = Vocabulary(materials=library(), region=region)
    known = packs or {}
    fillings = Fillings(held, library().__getitem__, lambda slug, pack: known.get((slug, pack)))
    return Shop(fillings, vocabulary)


def entered(text, box=Box.DOSE, form=None, said=None, **more):
    return read_entry(text, box, form or BenchForm(), shop(**more), said)


class Read(SimpleTestCase):
    def line(self, text, box=Box.DOSE, **more):
        entry = entered(text, box, **more)
        self.assertIsNone(entry.question, entry.question)
        (line,) = entry.lines
        return line.slug, line.amount, line.unit

    def test_doses_as_said(self):
        # By hand: an imperial gallon and spoons of 15 mL; a barrow of 85 L; 10 L to the square
        # metre for each centimetre.
        kelp = "kelp-meal"
        for text, expected, more in (
            ("2 tbsp kelp meal per gal", ("2", "tbsp/gal"), {"region": "US"}),
            ("2 tbsp kelp meal per gal", ("30", "mL/imp-gal"), {"region": "GB"}),
            ("2 tbsp kelp meal per gal", ("40", "mL/imp-gal"), {"region": "AU"}),
            ("3 kg kelp meal per cube", ("3", "kg/m3"), {}),
            ("2 handfuls kelp meal", ("2", "handful"), {}),
            ("kelp meal 85 g per barrow", ("1", "g/L"), {}),
            ("100 g per square metre kelp meal, 20 cm deep", ("0.5", "g/L"), {}),
            ("kelp meal", ("1", "g/L"), {}),
            ("kelp meal", ("1", "tsp/gal"), {"region": "US", "system": "us"}),
            ("1 cup kelp meal per pot", ("50", "mL/L"), {}),
            ("0,5 g/l kelp meal", ("0.5", "g/L"), {"region": "DE"}),
        ):
            with self.subTest(text, **more):
                self.assertEqual(self.line(text, **more), (kelp, *expected))

    def test_parts_as_said(self):
        peat = "sphagnum-peat-light"
        packs = {(peat, "bag"): 70.0}
        for text, form, expected in (
            ("3 parts light peat", BenchForm(), ("3", "parts")),
            ("40% light peat", BenchForm(), ("40", "percent")),
            ("half a bag light peat", BenchForm(), ("0.5", "bag")),
            ("2 buckets light peat", BenchForm(), ("2", "bucket")),
            ("2 shovels light peat", BenchForm(), ("9.4", "L")),
            ("5 light peat", BenchForm(way="gal"), ("5", "gal")),
        ):
            with self.subTest(text):
                self.assertEqual(
                    self.line(text, Box.PART, form=form, packs=packs), (peat, *expected)
                )
        # By hand: at its loose weight of a litre.
        soil = library()["topsoil-loam"].loose_density().typ
        read = self.line("40 lb topsoil, loam", Box.PART)
        self.assertEqual(read, ("topsoil-loam", "40", "lb"))
        form = BenchForm(parts=[PartRow("topsoil-loam", "40", unit="lb")], way="L", how="sum")
        form.fill(shop().fillings)
        litres = form.litres_of_one(form.parts[0])
        self.assertAlmostEqual(litres, 0.45359237 / soil, delta=1e-9)
        entry = entered("40 lb topsoil, loam", Box.PART)
        self.assertIn("kg a litre", entry.lines[0].read_as)

    def test_what_is_open_is_a_question_and_nothing_goes_in(self):
        for text, box, kind, words in (
            ("2 tbsp lime per gal", Box.DOSE, "which", "lime"),
            ("compost", Box.PART, "which", "compost"),
            ("half a bag light peat", Box.PART, "pack", "loose litres"),
            ("moon dust", Box.DOSE, "unknown", "material of your own"),
            ("kelp meel", Box.DOSE, "near", "not known"),
            ("20 ppm kelp meal", Box.DOSE, "amount", "strength"),
            ("some kelp meal", Box.DOSE, "amount", "How much"),
            ("5 kelp meal", Box.DOSE, "amount", "5 what"),
            ("one teaspoon kelp meal in a litre of water", Box.DOSE, "amount", "by the can"),
            ("50 g per square metre kelp meal", Box.DOSE, "amount", "depth"),
            ("2 g/l light peat", Box.PART, "amount", "dose"),
            ("2 tbsp per gal", Box.DOSE, "amount", "Of what"),
        ):
            with self.subTest(text):
                question = entered(text, box).question
                self.assertIsNotNone(question, entered(text, box).lines)
                self.assertEqual(question.kind, kind)
                self.assertIn(words, question.text)

    def test_an_answer_counts_for_the_words_it_was_given_to(self):
        entry = entered("2 g/l lime, 1 g/l kelp meal", said={"lime": "lime-dolomitic-ground"})
        self.assertIsNone(entry.question)
        self.assertEqual(
            [(ln.slug, ln.amount) for ln in entry.lines],
            [("lime-dolomitic-ground", "2"), ("kelp-meal", "1")],
        )


class Entered(BenchCase):
    def rows(self, page, kind="parts"):
        form = page.context["form"]
        return [(r.material, r.parts if kind == "parts" else r.amount) for r in getattr(form, kind)]

    def test_enter_puts_in_what_is_sure_and_keeps_nothing_as_a_recipe(self):
        page = self.post(action="enter", add_part="leaf mould", add_dose="2 g/l kelp meal")
        self.assertEqual(self.rows(page)[-1], ("leaf-mould", "1"))
        self.assertEqual(self.rows(page, "doses")[-1], ("kelp-meal", "2"))
        self.assertEqual(page.context["entries"]["part"].text, "")
        self.assertFalse(Recipe.objects.exists())
        self.assertFalse(self.post(action="enter").context["form"].errors)

    def test_what_is_typed_stays_until_it_is_entered(self):
        page = self.post(add_part="leaf mould")
        self.assertEqual(len(self.rows(page)), 2)
        self.assertContains(page, 'value="leaf mould"')
        page = self.post(action="drop-part:1:perlite:2", add_dose="2 tbsp lime per gal")
        self.assertContains(page, 'value="2 tbsp lime per gal"')

    def test_several_meanings_are_offered_and_a_choice_takes_its_amount(self):
        page = self.post(action="enter", add_dose="2 g/l lime")
        self.assertEqual(len(self.rows(page, "doses")), 1)
        self.assertContains(page, "Which “lime” is it?")
        self.assertContains(page, "take-dose:lime-dolomitic-ground")
        page = self.post(
            action="take-dose:lime-dolomitic-ground", add_dose="2 g/l lime", add_dose_teach="1"
        )
        self.assertEqual(self.rows(page, "doses")[-1], ("lime-dolomitic-ground", "2"))
        # The word was taught: it is sure from now on, in this yard alone.
        page = self.post(action="enter", add_dose="1 g/l lime")
        self.assertEqual(self.rows(page, "doses")[-1], ("lime-dolomitic-ground", "1"))
        self.assertEqual(Word.objects.of(yard_of(self.user)).count(), 1)

    def test_the_next_item_over_an_open_question_leaves_both(self):
        asked = self.post(action="enter", add_part="3 parts compost")
        waiting = asked.context["entries"]["part"]
        self.assertIsNotNone(waiting.question)
        for text in ("2 parts perlite", "a bag of pumice"):
            with self.subTest(text):
                page = self.post(action="enter", add_part=text, add_part_open=waiting.text)
                entry = page.context["entries"]["part"]
                self.assertEqual(entry.text, f"3 parts compost; {text}")
                self.assertEqual(entry.question.words, "compost")
        # Said better it is that item; emptied it is none.
        for text, left in (("3 parts yard compost", ""), ("", "")):
            page = self.post(action="enter", add_part=text, add_part_open=waiting.text)
            self.assertEqual(page.context["entries"]["part"].text, left)

    def test_a_bag_is_asked_for_its_litres_once(self):
        typed = {"add_part": "half a bag light peat", "part_material": ["topsoil-loam", "perlite"]}
        page = self.post(action="enter", **typed)
        self.assertContains(page, "How many loose litres does one bag")
        page = self.post(action="enter", **typed, add_part_holds="70", add_part_holds_unit="L")
        self.assertEqual(self.rows(page)[-1], ("sphagnum-peat-light", "0.5"))
        form = page.context["form"]
        self.assertEqual((form.way, form.parts[-1].held), ("L", "bag 70"))
        self.assertContains(page, "of 70")
        size = PackSize.objects.get()
        self.assertEqual(size.litres, 70)
        page = self.post(action="enter", **typed)
        self.assertEqual(self.rows(page)[-1], ("sphagnum-peat-light", "0.5"))
        # A recipe keeps what a bag of it held when it was written.
        self.post(
            action="save",
            part_material=["sphagnum-peat-light", "perlite"],
            part_parts=["2", "3"],
            part_counted=["bag", "bucket"],
            part_held=["bag 70", ""],
            way="L",
            way_was="L",
            how="sum",
        )
        recipe = Recipe.objects.latest("pk")
        kept = [(p.amount, p.unit, p.unit_l) for p in recipe.latest.as_document().bulk]
        self.assertEqual(kept, [(2, "bag", 70), (3, "bucket", 10)])
        size.litres = 40
        size.save()
        page = self.client.get(recipe.get_absolute_url())
        form, evaluation = page.context["form"], page.context["shown"].evaluation
        self.assertEqual([row.held for row in form.parts], ["bag 70", "bucket 10"])
        self.assertEqual([round(x, 9) for x in evaluation.volumes.loose_l], [140, 30])
        # More of it, in litres, joins its row in bags.
        form.fill(shop(packs={}).fillings)
        add_part(form, PartRow("sphagnum-peat-light", "35"))
        self.assertEqual(form.parts[0].parts, "2.5")
        page = self.post(action="enter", add_part="a bag of perlite", add_part_holds="-3")
        self.assertContains(page, "How many loose litres")

    def test_an_unknown_word_becomes_a_material_of_ones_own_in_one_step(self):
        page = self.post(action="enter", add_dose="3 g/l moon dust")
        self.assertContains(page, "“moon dust” is not known here")
        page = self.post(action="like-dose:basalt-dust", add_dose="3 g/l moon dust")
        self.assertEqual(self.rows(page, "doses")[-1], ("moon-dust", "3"))
        own = Material.objects.get(slug="moon-dust")
        self.assertEqual((own.yard, own.like.slug), (yard_of(self.user), "basalt-dust"))

    def test_the_live_list_answers_and_takes_anything(self):
        url = "/bench/look/"
        self.assertContains(self.client.get(url, {"box": "dose", "text": "lime"}), "take-dose:")
        sure = self.client.get(url, {"box": "part", "text": "2 buckets leaf mould"})
        self.assertContains(sure, 'aria-selected="true"')
        for rubbish in ("", "\0", "🙂" * 500, "1/0 peat", "[]", "2:1:"):
            for said in ("", "[1]", "{", '{"a": {}}'):
                got = self.client.get(url, {"box": "x", "text": rubbish, "said": said})
                self.assertEqual(got.status_code, 200, rubbish)
