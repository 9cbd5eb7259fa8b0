"""Every page answers, guards its forms, and the demo is entered as a user's would be."""

import re
from collections import Counter
from io import StringIO

from django.core.management import call_command
from django.test import Client, TestCase
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.bench.models import Recipe
from pelk.cure.models import Reading
from pelk.log.models import Entry
from pelk.soils.models import Soil
from pelk.yards.models import User, Yard
from tests.factories import make_heap, make_recipe, make_user, yard_of

LINK = re.compile(r'href="(/(?!static/)[^"?#]*)')
NAMED = re.compile(r"(?<=/)[a-z]+-[a-z0-9-]+/|(?<=/work)/\w+/")
FEW, FEWEST_PAGES = 4, 100
POST_FORM = re.compile(r'<form[^>]*method="post".*?</form>', re.DOTALL)


class Pages(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_home_opens_where_the_work_is(self):
        self.assertRedirects(self.client.get("/"), "/today/start/")
        make_recipe(self.user)
        self.assertRedirects(self.client.get("/"), "/bench/")

    def test_every_form_that_posts_is_guarded(self):
        heap = make_heap(self.user)
        recipe = Recipe.objects.get()
        for path in (
            recipe.get_absolute_url(),
            "/bench/",
            "/bench/new/",
            "/shelf/perlite/",
            f"/barrow/make/{recipe.pk}/",
            heap.get_absolute_url(),
            f"/cure/{heap.pk}/",
            "/yard/settings/",
            "/yard/password/",
            "/barrow/",
        ):
            forms = POST_FORM.findall(self.client.get(path).content.decode())
            self.assertGreater(len(forms), 2, path)
            for form in forms:
                with self.subTest(path, form=form[:90]):
                    self.assertIn("csrfmiddlewaretoken", form)

    def test_an_unguarded_post_is_refused_in_words(self):
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.user)
        response = client.post("/bench/new/", {"name": "x"})
        self.assertContains(response, "open too long", status_code=403)

    def test_what_is_not_there_says_so(self):
        for path in (
            "/nowhere/",
            "/bench/99/",
            f"/cure/{10**30}/",
            "/shelf/moon-dust/",
            "/sources/nobody/",
            f"/bench/{10**30}/",
        ):
            with self.subTest(path):
                response = self.client.get(path)
                self.assertContains(response, "Page not found", status_code=404)

    def test_every_work_has_a_page_with_what_rests_on_it(self):
        self.assertContains(self.client.get("/sources/"), "recalled from memory")
        page = self.client.get("/sources/plummer1982/")
        self.assertContains(page, "pelk.core.acid_base.buffering")
        self.assertContains(page, "alkalinity of pore water")

    def test_yard_measures_are_kept_and_cut_the_next_batch(self):
        data = {
            "name": "Lower",
            "system": "metric",
            "barrow_l": "20",
            "barrow_limit_kg": "50",
            "bucket_l": "5",
            "currency": "GBP",
            "normals": "6 6 8 10 13 16 18 18 16 12 9 7",
            "inputs": "any-organic",
            "water_holder": "coir",
            "aggregate": "any",
        }
        bad = self.client.post("/yard/settings/", {**data, "normals": "6 6 8 warm"})
        self.assertContains(bad, "Enter twelve numbers with spaces between them.")
        self.client.post("/yard/settings/", data)
        self.assertEqual(yard_of(self.user).style.water_holder, "coir")
        recipe = make_recipe(self.user)
        page = self.client.get(recipe.get_absolute_url())
        self.assertContains(page, "3 barrow loads")


class Demo(TestCase):
    def test_it_loads_once_through_the_services_and_keeps_what_was_changed(self):
        out = StringIO()
        call_command("load_demo", stdout=out)
        self.assertIn("bench@gannetsteps.example", out.getvalue())
        yard = Yard.objects.get(name="Gannet Steps")
        self.assertEqual(Recipe.objects.of(yard).count(), 3)
        batch = Batch.objects.of(yard).get(code="T1")
        kumquats = Soil.objects.of(yard).get(name="Kumquat tubs")
        self.assertGreaterEqual((timezone.localdate() - kumquats.mixed_on).days, 1000)
        self.assertGreaterEqual(kumquats.events.count(), 20)
        self.assertGreaterEqual(Reading.objects.for_batch(batch).count(), 5)
        deeds = Entry.objects.of(yard).filter(station="cure", url__startswith="/cure/")
        self.assertEqual(
            deeds.exclude(url="/cure/pens/").exclude(text__contains="planted").count(),
            Reading.objects.count(),
        )
        self.assertEqual(batch.evaluation().stops, [])
        Recipe.objects.of(yard).first().put_away()
        call_command("load_demo", stdout=out)
        self.assertEqual(Recipe.objects.of(yard).live().count(), 2)
        self.assertEqual(User.objects.count(), 1)

    def test_every_link_of_its_pages_leads_somewhere(self):
        call_command("load_demo", stdout=StringIO())
        self.client.force_login(User.objects.get())
        to_see, seen, kinds = ["/today/"], set(), Counter()
        while to_see:
            path = to_see.pop()
            if path in seen:
                continue
            seen.add(path)
            answer = self.client.get(path, follow=True)
            self.assertLess(answer.status_code, 400, path)
            if not answer.headers["Content-Type"].startswith("text/html"):
                continue
            for link in LINK.findall(answer.content.decode()):
                # Of a hundred materials or words a few; of heaps, pots and recipes each.
                kind = NAMED.sub("/x/", link)
                kinds[kind] += 1
                if link == kind or kinds[kind] <= FEW:
                    to_see.append(link)
        self.assertGreater(len(seen), FEWEST_PAGES)
