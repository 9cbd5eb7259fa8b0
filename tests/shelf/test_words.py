"""What a yard calls things: taught, used everywhere, forgotten and known again."""

from django.test import TestCase

from pelk.core.materials.words import understood
from pelk.shelf.models.words import Word
from pelk.shelf.selectors import pack_litres, vocabulary_of
from tests.factories import make_own_material, make_pack_size, make_user, make_word, yard_of


class Words(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def meant(self, text, user=None):
        return understood(text, vocabulary_of(yard_of(user or self.user)))

    def test_a_word_is_taught_and_wins_in_its_yard_alone(self):
        self.client.post("/shelf/words/", {"text": "Trace dust", "means": "Basalt rock dust"})
        self.assertEqual(self.meant("trace dusts").slug, "basalt-dust")
        other = make_user("other@cove.example", "Cove")
        self.assertIsNone(self.meant("trace dust", other).slug)
        page = self.client.post("/shelf/words/", {"text": "white stuff", "means": "lime"})
        self.assertContains(page, "is not one material")
        self.assertContains(page, "Ground limestone, dolomitic")
        self.assertContains(page, 'value="white stuff"')

    def test_a_word_is_forgotten_and_known_again(self):
        word = make_word(self.user)
        self.client.post(f"/shelf/words/{word.pk}/away/")
        self.assertIsNone(self.meant("trace dust").slug)
        self.client.post(f"/shelf/words/{word.pk}/again/")
        self.assertEqual(self.meant("trace dust").slug, "basalt-dust")
        self.client.post(f"/shelf/words/{word.pk}/away/")
        make_word(self.user)
        self.assertEqual(Word.objects.count(), 1)

    def test_a_pack_holds_what_was_said_until_it_is_forgotten(self):
        size = make_pack_size(self.user)
        material = size.material
        self.assertEqual(pack_litres(yard_of(self.user), material, "bag"), 100)
        self.assertContains(self.client.get("/shelf/words/"), "100\u00a0L")
        self.client.post(f"/shelf/packs/{size.pk}/away/")
        self.assertIsNone(pack_litres(yard_of(self.user), material, "bag"))

    def test_ones_own_material_is_understood_by_its_name(self):
        own = make_own_material(self.user)
        self.assertEqual(self.meant(own.name).slug, own.slug)
