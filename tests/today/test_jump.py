"""Anything by a few letters, and never another yard's."""

from django.test import TestCase

from pelk.today.pages.jump import PAGES, jumps
from tests.factories import make_heap, make_own_material, make_pots, make_recipe, make_user, yard_of


class Jump(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.yard = yard_of(self.user)

    def names(self, words):
        return [one.name for one in jumps(self.yard, words)]

    def test_each_kind_of_thing_is_reached_by_a_piece_of_its_name(self):
        recipe = make_recipe(self.user, name="Terrace mix")
        heap = make_heap(self.user, name="Kumquat tub mix")
        pots = make_pots(self.user, name="Auricula pans", place="Cold frame")
        for words, url in (
            ("terr", recipe.get_absolute_url()),
            (heap.code.lower(), f"/cure/{heap.pk}/"),
            ("frame aur", pots.get_absolute_url()),
            ("kelp meal", "/shelf/kelp-meal/"),
            ("settings", "/yard/settings/"),
            ("shopping", "/shelf/buying/"),
        ):
            with self.subTest(words):
                self.assertIn(url, [one.url for one in jumps(self.yard, words)])
                self.assertContains(self.client.get("/today/jump/", {"q": words}), f'href="{url}"')
        self.assertEqual(jumps(self.yard, "   "), [])
        self.assertContains(self.client.get("/today/jump/?q=xyzzy"), "Nothing by that name")

    def test_nothing_of_another_yard_is_found(self):
        other = make_user("other@cove.example", "Cove")
        make_recipe(other, name="Hidden mix")
        make_heap(other, name="Hidden heap")
        make_pots(other, name="Hidden pots")
        make_own_material(other, slug="hidden-compost")
        self.assertEqual(self.names("hidden"), [])

    def test_every_page_of_the_list_opens(self):
        for name, _, _ in PAGES:
            with self.subTest(name):
                [url] = {one.url for one in jumps(self.yard, name) if one.name == name}
                self.assertEqual(self.client.get(url).status_code, 200)

    def test_the_list_alone_answers_typing(self):
        ask = {"q": "kelp", "list": "jump-list"}
        page = self.client.get("/today/jump/", ask, headers={"HX-Request": "true"})
        self.assertTrue(page.content.decode().lstrip().startswith('<div id="jump-list"'))
        self.assertContains(self.client.get("/today/keys/"), "jump to anything")
