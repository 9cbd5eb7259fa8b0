"""Nobody sees another yard's data: every address that takes an id, by walking the URLs."""

from datetime import timedelta

from django.core.files.base import ContentFile
from django.test import TestCase
from django.urls import URLPattern, get_resolver, reverse
from django.utils import timezone

from pelk.bench.models import FitAsked, Recipe
from pelk.cure.models import LoggedImport, Reading
from pelk.cure.services.training import begin
from pelk.cure.services.visits import sow
from pelk.log.models import Entry
from pelk.pots.services.diary import see
from pelk.shelf.models.bags import Bag
from pelk.yards.middleware import KEEPERS, ONES_OWN
from pelk.yards.models import Invitation, Membership, Session
from pelk.yards.services.people import invite
from tests.factories import (
    PNG,
    bench_posted,
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

# Addresses whose argument names nothing of a yard.
SHARED = {
    "cure:calendar",
    "sources:work",
    "yards:link_password",
    "yards:join",
    "yards:email_link",
    "yards:welcome",
    "schema",
    "example",
    "shelf:calibrate",
}
OPEN = {
    "live",
    "ready",
    "worker",
    "manifest",
    "offline",
    "yards:sign_in",
    "yards:sign_up",
    "yards:place",
    "yards:link",
    "yards:link_sent",
}


def addresses(resolver=None, prefix=""):
    """Yield (name, arguments) of every pattern of the project."""
    for entry in (resolver or get_resolver()).url_patterns:
        if isinstance(entry, URLPattern):
            if entry.name:
                yield f"{prefix}{entry.name}", sorted(entry.pattern.converters)
        else:
            inside = f"{prefix}{entry.namespace}:" if entry.namespace else prefix
            yield from addresses(entry, inside)


def invited(owner):
    """Return the id of a link into a person's yard."""
    invite(yard=yard_of(owner), by=owner, role="hand")
    return Invitation.objects.get(author=owner).pk


def everything_of(owner):
    """Give a person one of everything; return what names each in an address."""
    batch = make_heap(owner)
    owned = {
        "recipe": make_recipe(owner, name="Theirs").pk,
        "batch": batch.pk,
        "reading": make_reading(owner, batch).pk,
        "material": make_own_material(owner).slug,
        "bag": make_bag(owner).pk,
        "blend": make_blend(owner).pk,
        "value": say(owner, "kelp-meal", N=1.2).values.get().pk,
        "fact": "N",
        "measure": make_measure(owner).pk,
        "report": make_report(owner).pk,
        "sample": make_sample(owner).pk,
        "test": sow(batch=batch, by=owner, seeds=20).pk,
        "group": (pots := make_pots(owner)).pk,
        "fill": make_fill(owner, pots).pk,
        "jars": make_jars(owner).pk,
        "soil": make_old_soil(owner).pk,
        "deed": make_deed(owner, pots).pk,
        "invitation": invited(owner),
        "heap": begin(yard=yard_of(owner), by=owner, case="bed-table", doses={}).pk,
        "photo": make_photo(owner, batch).pk,
        "word": make_word(owner).pk,
        "year": timezone.localdate().year,
        "pack": make_pack_size(owner).pk,
        "evidence": make_evidence(owner).pk,
        "asked": FitAsked.objects.create(yard=yard_of(owner), posted="").pk,
        "member": owner.memberships.get().pk,
        "session": Session.objects.create(
            session_key=f"theirs-{owner.pk}",
            user=owner,
            expire_date=timezone.now() + timedelta(days=1),
        ).pk,
        "taken": LoggedImport.objects.create(yard=yard_of(owner), batch=batch).pk,
    }
    seen = ContentFile(PNG, "seen.png")
    see(group=pots, by=owner, on=timezone.localdate(), figures={}, text="", picture=seen)
    return owned


class EveryAddress(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.stranger = make_user("stranger@cove.example", "Upper Cove")
        cls.owned = everything_of(make_user())

    def arguments(self, name, wanted):
        missing = set(wanted) - self.owned.keys()
        self.assertFalse(
            missing, f"{name} takes {missing}: add an object of another yard to this test"
        )
        return {key: self.owned[key] for key in wanted}

    def test_another_yards_object_is_not_found(self):
        self.client.force_login(self.stranger)
        tried = 0
        for name, wanted in addresses():
            if not wanted or name in SHARED:
                continue
            url = reverse(name, kwargs=self.arguments(name, wanted))
            for method in (self.client.get, self.client.post):
                with self.subTest(name, method=method.__name__):
                    status = method(url).status_code
                    self.assertIn(status, {404, 405})
                    tried += status == 404
        self.assertGreater(tried, 45)

    def test_a_guest_changes_nothing_and_a_hand_no_settings_anywhere(self):
        owner = make_user("keeper@steps.example", "Upper Steps")
        owned, yard = everything_of(owner), yard_of(owner)
        own = {"yards:sign_in", "yards:sign_up", "yards:link"} | ONES_OWN
        for role, kept in (("guest", None), ("hand", KEEPERS)):
            person = make_user(f"{role}@cove.example", "Cove")
            person.memberships.all().delete()
            Membership.objects.create(user=person, yard=yard, role=role)
            self.client.force_login(person)
            before = {model: model.objects.count() for model in (Entry, Bag, Recipe, Reading)}
            for name, wanted in addresses():
                if name in SHARED | OPEN | own or (kept is not None and name not in kept):
                    continue
                url = reverse(name, kwargs={key: owned[key] for key in wanted})
                with self.subTest(name, role=role):
                    self.assertIn(self.client.post(url).status_code, {403, 405})
            after = {model: model.objects.count() for model in before}
            self.assertEqual(after, before)

    def test_nothing_without_signing_in(self):
        for name, wanted in addresses():
            if name in SHARED | OPEN:
                continue
            url = reverse(name, kwargs=self.arguments(name, wanted))
            with self.subTest(name):
                response = self.client.get(url)
                self.assertRedirects(
                    response, f"/yard/sign-in/?next={url}", fetch_redirect_response=False
                )

    def test_lists_show_the_own_yard_only(self):
        self.client.force_login(self.stranger)
        for name in ("bench:book", "barrow:batches", "cure:heaps", "log:log"):
            with self.subTest(name):
                self.assertNotContains(self.client.get(reverse(name)), "Kumquat")
        self.assertContains(self.client.get("/shelf/bags/"), "No bags here yet")
        self.assertContains(self.client.get("/shelf/lab/"), "No report yet")
        self.assertContains(self.client.get("/shelf/buying/"), "Nothing is planned")
        self.assertNotContains(self.client.get("/exchange/materials/all.csv"), "compost")
        self.assertNotContains(self.client.get("/shelf/kelp-meal/"), "bag label")
        self.assertNotContains(self.client.get("/shelf/?q=house"), "House compost")
        self.assertEqual(yard_of(self.stranger).name, "Upper Cove")

    def test_a_recipe_cannot_use_another_yards_material(self):
        self.client.force_login(self.stranger)
        data = {
            "name": "Mine",
            "crop": "citrus",
            "how": "litres",
            "volume": "10",
            "part_material": ["house-compost"],
            "part_parts": ["1"],
            "action": "save",
        }
        response = self.client.post("/bench/new/", bench_posted(data))
        self.assertContains(response, "Pelk has no material called")
