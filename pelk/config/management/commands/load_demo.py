"""``manage.py load_demo``: Gannet Steps, an invented terrace nursery, by a user's rules."""

from datetime import timedelta
from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.barrow.pages.card import card_of
from pelk.barrow.services import finish_batch, make_batch, tick
from pelk.bench.formats.documents import MixDocument, read
from pelk.bench.services import keep_blend, plan_recipe, save_recipe
from pelk.config.demo_shelf import fill_shelf
from pelk.config.demo_years import three_years
from pelk.core.base.regions import regions
from pelk.cure.services.readings import record_reading
from pelk.cure.services.visits import check_pen
from pelk.pots.models import PotGroup
from pelk.pots.services.groups import fill, keep_group, write_deed
from pelk.pots.services.jars import begin_jars, read_jars
from pelk.pots.services.old_soil import answer, begin_old_soil
from pelk.shelf.models.materials import Material
from pelk.shelf.services.materials import keep_on_shelf
from pelk.yards.models import User, Yard
from pelk.yards.services.yards import sign_up

EMAIL, PASSWORD, YARD = "bench@gannetsteps.example", "terrace-and-tub", "Gannet Steps"
AGE_DAYS = 21

CAMELLIA: dict[str, Any] = {
    "format": "pelk.mix/1",
    "name": "Tea camellia acid mix",
    "crop": "ericaceous",
    "batch": {"vessels": [{"kind": "round-pot", "count": 24, "litres": 5}]},
    "bulk": [
        {"material": "sphagnum-peat-light", "parts": 4},
        {"material": "pine-bark-fines-composted", "parts": 3},
        {"material": "leaf-mould", "parts": 3},
        {"material": "perlite", "parts": 1},
    ],
    "doses": [
        {"material": "sulfur-dusting", "amount": 0.1, "unit": "g/L"},
        {"material": "cottonseed-meal", "amount": 2, "unit": "g/L"},
        {"material": "kelp-meal", "amount": 0.3, "unit": "g/L"},
    ],
    "conditions": {"temperature_c": 13},
}
AUBERGINE: dict[str, Any] = {
    "format": "pelk.mix/1",
    "name": "Aubergine charged mix",
    "crop": "fruiting",
    "batch": {"vessels": [{"kind": "trade-5", "count": 12}]},
    "bulk": [
        {"material": "coir-pith-loose", "parts": 4},
        {"material": "sphagnum-peat-light", "parts": 3.5},
        {"material": "worm-castings", "parts": 1},
        {"material": "pumice", "parts": 1.5},
    ],
    "doses": [
        {"material": "feather-meal", "amount": 0.5, "unit": "tbsp/gal"},
        {"material": "fish-bone-meal", "amount": 1, "unit": "tbsp/gal"},
        {"material": "sulfate-of-potash", "amount": 0.6, "unit": "g/L"},
        {
            "material": "lime-dolomitic-ground",
            "amount": 0.4,
            "unit": "tbsp/gal",
            "per": "sphagnum-peat-light",
        },
        {"material": "basalt-dust", "amount": 4, "unit": "g/L"},
    ],
}
# A tub of feed as its form sends it.
FEED = {
    "name": "Terrace feed",
    "tub": "5",
    "tub_unit": "kg",
    "crop": "fruiting",
    "plants": "12",
    "pot": "12",
    "pot_unit": "L",
    "plants_m2": "3",
    "weeks": "4",
    "sack": "all-purpose-4-4-4",
    "m1": "Feather meal",
    "p1": "3",
    "m2": "Bone meal, steamed",
    "p2": "2",
    "m3": "Kelp meal",
    "p3": "1",
    "m4": "Sulfate of potash, mined",
    "p4": "2",
}
SHELF = [row["material"] for mix in (CAMELLIA, AUBERGINE) for row in [*mix["bulk"], *mix["doses"]]]
POTS: list[dict[str, Any]] = [
    {
        "name": "Tea pots",
        "count": 24,
        "kind": "round-pot",
        "litres": 5.0,
        "made_of": "clay",
        "place": "North wall",
        "crop": "ericaceous",
        "plant": "tea camellia",
        "family": "Theaceae",
    },
    {
        "name": "Aubergine tubs",
        "count": 12,
        "kind": "trade-5",
        "made_of": "plastic",
        "place": "Glasshouse",
        "crop": "fruiting",
        "plant": "aubergine",
        "family": "Solanaceae",
    },
    {
        "name": "Kumquat tubs",
        "count": 3,
        "kind": "tub",
        "litres": 35.0,
        "made_of": "wood",
        "place": "South terrace",
        "crop": "citrus",
        "plant": "kumquat",
        "family": "Rutaceae",
    },
]
# Days ago, what was done or seen on the kumquats. Invented.
KUMQUAT_YEAR: list[tuple[int, str, str, dict[str, float]]] = [
    (310, "stars", "sweet, few", {"stars": 3}),
    (180, "buds", "", {}),
    (40, "note", "moved under the glass", {}),
]
# What was seen of last year's aubergine soil; one question is left. Invented.
OLD_ANSWERS: dict[str, Any] = {
    "smell": "earthy",
    "disease": "leaf",
    "pest": "none",
    "slurry": "mixed",
    "squeeze": "lump",
    "roots_pct": "some",
    "roots_left_in": "yes",
    "crust": "light",
    "is_dry": "takes",
    "ph": 6.7,
    "ec_ds_m": 1.6,
    "seasons": "2",
    "crop_ok": "yes",
    "herbicide": "no",
}
JARS = [4.6, 5.2, 5.7, 6.1, 6.4]
# The second heap heats, and then runs dry. Invented.
SECOND_VISITS: list[tuple[float, dict[str, Any]]] = [
    (0.1, {"ph": 5.8, "temperature_c": 15, "moisture": "sponge", "smell": "earthy"}),
    (
        3,
        {
            "ph": 6.1,
            "temperature_c": 27,
            "moisture": "sponge",
            "smell": "ammonia",
            "note": "warm in the middle",
        },
    ),
    (
        6,
        {"ph": 6.0, "temperature_c": 22, "ec_ds_m": 1.9, "moisture": "crumbles", "smell": "earthy"},
    ),
]
# Days after mixing, and what was measured. Invented.
VISITS: list[tuple[float, dict[str, Any]]] = [
    (
        0.1,
        {
            "ph": 5.6,
            "temperature_c": 14,
            "moisture": "sponge",
            "smell": "earthy",
            "note": "pen checked in 7.00",
        },
    ),
    (3, {"ph": 5.6, "temperature_c": 17, "moisture": "sponge", "smell": "earthy"}),
    (
        7,
        {
            "ph": 5.5,
            "temperature_c": 18,
            "ec_ds_m": 0.7,
            "moisture": "sponge",
            "smell": "earthy",
            "note": "turned",
        },
    ),
    (10, {"temperature_c": 16, "moisture": "crumbles", "note": "3 L of rainwater"}),
    (
        14,
        {
            "ph": 5.4,
            "temperature_c": 15,
            "ec_ds_m": 0.9,
            "moisture": "sponge",
            "smell": "earthy",
            "note": "turned",
        },
    ),
    (20, {"ph": 5.3, "temperature_c": 14, "moisture": "sponge", "smell": "earthy"}),
]


class Command(BaseCommand):
    """Load the demo yard once; a second run changes nothing."""

    help = "Load the invented demo yard, once."

    def handle(self, *args: Any, **options: Any) -> None:
        """Load it and say how to sign in."""
        if not User.objects.filter(email=EMAIL).exists():
            load()
        self.stdout.write(f"Demo sign-in: {EMAIL} / {PASSWORD}")


@transaction.atomic
def load() -> Yard:
    """Enter the demo through the services that a user's clicks go through."""
    user = sign_up(email=EMAIL, password=PASSWORD, yard_name=YARD)
    yard = user.memberships.get().yard
    yard.currency, yard.region, yard.climate = "GBP", "GB", regions()["GB"].climate
    yard.save(update_fields=["currency", "region", "climate"])
    made_at = timezone.now().replace(hour=10, minute=0) - timedelta(days=AGE_DAYS)
    before = made_at - timedelta(days=2)
    owned = list(Material.objects.visible_to(yard).filter(slug__in=set(SHELF)))
    keep_on_shelf(yard=yard, by=user, materials=owned, on=True, at=before)
    fill_shelf(yard, user, before)
    camellia = save_recipe(yard=yard, by=user, document=_document(CAMELLIA), at=before)
    batch = make_batch(recipe=camellia, by=user, at=made_at)
    _tick_all(batch, user)
    finish_batch(batch=batch, by=user, at=made_at + timedelta(hours=2))
    for days, measured in VISITS:
        at = made_at + timedelta(days=days)
        record_reading(batch=batch, by=user, taken_at=at, **_as_it_goes(batch, days, measured))
    later = made_at + timedelta(days=12)
    aubergine = save_recipe(yard=yard, by=user, document=_document(AUBERGINE), at=later)
    second = make_batch(recipe=aubergine, by=user, at=later)
    _tick_all(second, user)
    finish_batch(batch=second, by=user, at=later + timedelta(hours=3))
    for days, measured in SECOND_VISITS:
        at = later + timedelta(days=days)
        record_reading(batch=second, by=user, taken_at=at, **_as_it_goes(second, days, measured))
    plan_recipe(recipe=aubergine, by=user, planned=True, at=later)
    pots = {group["name"]: keep_group(yard=yard, by=user, **group) for group in POTS}
    fill_pots(pots, batch, user)
    judge_soil(yard, user)
    check_pen(yard=yard, by=user, meter="yard pen", read_low=4.08, read_high=7.06)
    keep_blend(yard=yard, by=user, name=FEED["name"], document=dict(FEED), at=later)
    return yard


def _as_it_goes(batch: Batch, days: float, measured: dict[str, Any]) -> dict[str, Any]:
    """Return a visit with the pH and salts that the simulator has for its day.

    So readings and forecast belong together: the demo is invented, not its arithmetic.
    """
    ahead = batch.evaluation(samples=0).forecast
    if ahead is None:
        return measured
    day = round(days)
    told = dict(measured)
    if "ph" in told:
        told["ph"] = round(ahead.ph_on(day) - ahead.lowered_on(day), 1)
    if "ec_ds_m" in told:
        told["ec_ds_m"] = round(float(ahead.ec[day]), 1)
    return told


def fill_pots(pots: dict[str, PotGroup], camellia: Batch, user: User) -> None:
    """Plant the tea pots from the heap that is ready; the kumquats grew all last year. Invented."""
    today = timezone.localdate()
    tea, kumquat = pots["Tea pots"], pots["Kumquat tubs"]
    fill(
        group=tea,
        by=user,
        what=camellia.name,
        batch=camellia,
        taken_l=112.0,
        how="filled",
        on=today - timedelta(days=9),
        filled_count=24,
        reckoned_l=118.0,
        plants=True,
    )
    three_years(tea.yard, kumquat, user)
    for days, kind, text, figures in KUMQUAT_YEAR:
        write_deed(
            group=kumquat,
            by=user,
            kind=kind,
            text=text,
            figures=figures,
            on=today - timedelta(days=days),
        )


def judge_soil(yard: Yard, user: User) -> None:
    """Look at last year's soil, and read five jars. Invented."""
    old = begin_old_soil(
        yard=yard,
        by=user,
        group=None,
        name="Aubergine troughs",
        litres=60.0,
        pot_l=15.0,
        made_of="clay",
        next_crop="legumes",
        last_family="Solanaceae",
        next_family="Fabaceae",
    )
    for key, said in OLD_ANSWERS.items():
        answer(soil=old, by=user, key=key, said=said)
    jars = begin_jars(
        yard=yard,
        by=user,
        name="Peat and bark, new bale",
        material="lime-calcitic-ground",
        estimate_g_l=2.0,
        jar_l=0.5,
        target_ph=5.8,
        litres=120.0,
    )
    read_jars(jars=jars, by=user, read=list(JARS))


def _document(data: dict[str, Any]) -> MixDocument:
    return read(data)


def _tick_all(batch: Batch, user: User) -> None:
    for load in card_of(batch).loads:
        for step in load.steps:
            for pick in step.picks:
                tick(batch=batch, by=user, load=load.number, step=pick.key, done=True)
