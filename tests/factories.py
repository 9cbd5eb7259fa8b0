"""Yards, recipes, batches and readings for tests, made by a user's rules."""

from datetime import timedelta
from decimal import Decimal
from io import BytesIO

from django.core.files.base import ContentFile
from django.utils import timezone
from PIL import Image

from pelk.barrow.services import finish_batch, make_batch
from pelk.bench.formats.documents import read
from pelk.bench.services import keep_blend, save_recipe
from pelk.core.materials.material import Range
from pelk.cure.services.readings import record_reading
from pelk.cure.services.visits import keep_photo
from pelk.pots.services.groups import fill, keep_group, write_deed
from pelk.pots.services.jars import begin_jars
from pelk.pots.services.old_soil import begin_old_soil
from pelk.shelf.models.evidence import Evidence
from pelk.shelf.models.materials import Analysis, Material
from pelk.shelf.models.words import PackSize, Word
from pelk.shelf.services.bags import Printed, buy
from pelk.shelf.services.lab import keep_report, send_sample
from pelk.shelf.services.materials import Said, add_own, say_values
from pelk.shelf.services.measures import keep_measure
from pelk.shelf.services.words import keep_pack_size, teach_word
from pelk.yards.services.yards import sign_up

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
        "bulk": [{"material": "coir-pith-loose", "parts": 3}, {"material": "pumice", "parts": 1}],
        "doses": [{"material": "kelp-meal", "amount": 1, "unit": "g/L"}],
        **changes,
    }


def make_recipe(user, **changes):
    """Return a kept recipe."""
    return save_recipe(yard=yard_of(user), by=user, document=read(mix(**changes)))


def make_heap(user, days_old=21, **changes):
    """Return a mixed batch."""
    at = timezone.now() - timedelta(days=days_old)
    recipe = make_recipe(user, **changes)
    batch = make_batch(recipe=recipe, by=user, at=at, reason="a trial, whatever it harms")
    finish_batch(batch=batch, by=user, at=at)
    return batch


def make_reading(user, batch, **measured):
    """Return a reading of a heap."""
    return record_reading(batch=batch, by=user, **(measured or {"ph": 6.1}))


def make_own_material(user, slug="house-compost"):
    """Return a material of the person's yard, copied from the library."""
    shared = Material.objects.get(yard=None, slug="yard-compost")
    own = Material.objects.create(
        yard=yard_of(user),
        slug=slug,
        name="House compost",
        family="compost",
        role="bulk",
        search=slug,
    )
    facts = {**shared.analyses.first().facts, "slug": slug, "name": "House compost"}
    Analysis.objects.create(material=own, facts=facts)
    return own


def make_bag(user, slug="cottonseed-meal", kg=20.0, price="62.00", count=1, **more):
    """Return a sack of something."""
    printed = Printed("sack", kg, "kg", size_kg=kg)
    return buy(
        yard=yard_of(user),
        by=user,
        printed=printed,
        count=count,
        material=Material.objects.filter(slug=slug).own_first()[0],
        price=None if price is None else Decimal(price),
        **more,
    )


def make_word(user, text="trace dust", slug="basalt-dust"):
    """Return a word that a yard taught."""
    material = Material.objects.get(slug=slug, yard=None)
    teach_word(yard=yard_of(user), text=text, material=material)
    return Word.objects.get(yard=yard_of(user), text=text)


def make_evidence(user, slug="perlite", source="heap:1"):
    """Return what a heap taught of a material."""
    return Evidence.objects.create(
        yard=yard_of(user),
        material=slug,
        factor="ph",
        value=0.2,
        error=0.1,
        source=source,
        said_of="heap K1",
    )


def make_pack_size(user, slug="perlite", pack="bag", litres=100.0):
    """Return what a pack holds, as a yard said."""
    material = Material.objects.get(slug=slug, yard=None)
    keep_pack_size(yard=yard_of(user), material=material, pack=pack, litres=litres)
    return PackSize.objects.get(yard=yard_of(user), pack=pack)


def say(user, slug, mark="label", note="", **values):
    """Give a material values of the grower's own; return its row."""
    material = Material.objects.visible_to(yard_of(user)).filter(slug=slug).own_first()
    spans = {k: v if isinstance(v, Range) else Range(v, v, v) for k, v in values.items()}
    said = Said(mark, note=note)
    return say_values(yard=yard_of(user), by=user, material=material[0], said=said, values=spans)


def make_measure(user, ml=40.0, kind="handful"):
    """Return a calibrated handful."""
    one = Range(ml * 0.9, ml, ml * 1.1)
    return keep_measure(yard=yard_of(user), by=user, kind=kind, one_ml=one, weighings=[ml])


def make_report(user, text="Total N 1.62 % dry", slug="yard-compost", **more):
    """Return a lab report that is not taken yet."""
    material = Material.objects.get(yard=None, slug=slug)
    return keep_report(
        yard=yard_of(user), by=user, material=material, text=text, method="total", **more
    )


def make_sample(user, slug="yard-compost"):
    """Return a sample sent to the simulated lab."""
    return send_sample(
        yard=yard_of(user), by=user, material=Material.objects.get(yard=None, slug=slug)
    )


def bench_posted(typed):
    """Return what was typed on the Bench as it is sent: ``part_parts`` and the like by row."""
    posted, left = {}, dict(typed)
    for kind, names in (
        ("part", ("material", "parts", "was", "there", "lock", "counted", "held")),
        ("dose", ("material", "amount", "unit", "per")),
    ):
        columns = {name: left.pop(f"{kind}_{name}", []) for name in names}
        count = min(len(columns[name]) for name in names[:2])
        posted |= {
            f"{kind}s-{i}-{name.replace('counted', 'unit')}": text
            for name, column in columns.items()
            for i, text in enumerate(column[:count])
        }
        posted |= {f"{kind}s-TOTAL_FORMS": str(count), f"{kind}s-INITIAL_FORMS": "0"}
    return left | posted


def blend_typed(**changes):
    """Return a dry feed blend as the form sends it."""
    return {
        "name": "Terrace feed",
        "tub": "5",
        "tub_unit": "kg",
        "crop": "fruiting",
        "plants": "10",
        "pot": "10",
        "pot_unit": "L",
        "plants_m2": "3",
        "weeks": "4",
        "sack": "all-purpose-4-4-4",
        "m1": "Feather meal",
        "p1": "2",
        "m2": "Sulfate of potash",
        "p2": "1",
        **changes,
    }


def make_blend(user, **typed):
    """Return a kept blend."""
    document = blend_typed(**typed)
    return keep_blend(yard=yard_of(user), by=user, name="Terrace feed", document=document)


def _png() -> bytes:
    kept = BytesIO()
    Image.new("RGB", (40, 30), "olive").save(kept, "PNG")
    return kept.getvalue()


PNG = _png()


def make_photo(user, batch):
    """Return a picture of a heap."""
    return keep_photo(batch=batch, by=user, file=ContentFile(PNG, "heap.png"), note="")


def make_pots(user, **changes):
    """Return a group of pots."""
    said = {
        "name": "Tea pots",
        "count": 24,
        "kind": "round-pot",
        "litres": 5.0,
        "crop": "ericaceous",
        **changes,
    }
    return keep_group(yard=yard_of(user), by=user, **said)


def make_fill(user, group, **more):
    """Return a filling of some pots."""
    on = timezone.localdate()
    return fill(group=group, by=user, what="old soil", taken_l=20.0, how="filled", on=on, **more)


def make_deed(user, group, kind="reading", **more):
    """Something written down of a group of pots."""
    return write_deed(group=group, by=user, kind=kind, on=timezone.localdate(), **more)


def make_old_soil(user, **changes):
    """Return old soil under inspection."""
    said = {
        "group": None,
        "name": "Old tubs",
        "litres": 60.0,
        "pot_l": 10.0,
        "made_of": "plastic",
        "next_crop": "fruiting",
        **changes,
    }
    return begin_old_soil(yard=yard_of(user), by=user, **said)


def make_own_lime(user):
    """Return a lime of the yard's own, like the ground one, on its shelf."""
    like = Material.objects.get(yard=None, slug="lime-calcitic-ground")
    return add_own(
        yard=yard_of(user), by=user, name="Quarry dust", family="lime", role="dose", like=like
    )


def make_jars(user, **changes):
    """Return a jar test."""
    said = {
        "name": "New bale",
        "material": "lime-calcitic-ground",
        "estimate_g_l": 2.0,
        "jar_l": 0.5,
        "target_ph": 6.0,
        "litres": 40.0,
        **changes,
    }
    return begin_jars(yard=yard_of(user), by=user, **said)
