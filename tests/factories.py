"""Yards, recipes, batches and readings for tests, made by a user's rules."""

from datetime import timedelta

from django.utils import timezone

from pelk.barrow.services import finish_batch, make_batch
from pelk.bench.documents import read
from pelk.bench.services import save_recipe
from pelk.cure.services import record_reading
from pelk.shelf.models import Analysis, Material
from pelk.yards.services import sign_up

PASSWORD = "wheelbarrow-and-rain"


def make_user(email="grower@steps.example", yard_name="Lower Steps"):
    """Return a person with a yard of their own."""
    return sign_up(email=email, password=PASSWORD, yard_name=yard_name)


def yard_of(user):
    """Return the person's yard."""
    return user.memberships.get().yard


def mix(**changes):
    """Return a small pelk.mix/1."""
    return {
        "format": "pelk.mix/1",
        "name": "Kumquat tub mix",
        "crop": "citrus",
        "batch": {"volume": 60, "unit": "L"},
        "bulk": [
            {"material": "coir-pith-loose", "parts": 3},
            {"material": "pumice", "parts": 1},
        ],
        "doses": [{"material": "kelp-meal", "amount": 1, "unit": "g/L"}],
        **changes,
    }


def make_recipe(user, **changes):
    """Return a kept recipe."""
    return save_recipe(yard=yard_of(user), by=user, document=read(mix(**changes)))


def make_heap(user, days_old=21, **changes):
    """Return a mixed batch."""
    at = timezone.now() - timedelta(days=days_old)
    batch = make_batch(recipe=make_recipe(user, **changes), by=user, at=at)
    finish_batch(batch=batch, by=user, at=at)
    return batch


def make_reading(user, batch, **measured):
    """Return a reading of a heap."""
    return record_reading(batch=batch, by=user, **(measured or {"ph": 6.1}))


def make_own_material(user, slug="house-compost"):
    """Return a material of the person's yard, copied from the library."""
    shared = Material.objects.get(yard=None, slug="yard-compost")
    own = Material.objects.create(
        yard=yard_of(user), slug=slug, name="House compost", family="compost",
        role="bulk", search=slug,
    )  # fmt: skip
    facts = {**shared.analyses.first().facts, "slug": slug, "name": "House compost"}
    Analysis.objects.create(material=own, facts=facts)
    return own
