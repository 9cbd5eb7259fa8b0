"""The shelf of the demo: invented bags, weighings, a label, a report, a heap of its own."""

from datetime import datetime, timedelta
from decimal import Decimal

from pelk.core.materials.weighing import density_of, volume_of, weighed
from pelk.shelf.forms.materials import LabelForm
from pelk.shelf.models.materials import Material
from pelk.shelf.services.bags import Printed, buy
from pelk.shelf.services.lab import keep_report, send_sample, take_report
from pelk.shelf.services.materials import Said, add_own, say_values
from pelk.shelf.services.measures import keep_cup, keep_measure
from pelk.ui.units import sizes
from pelk.yards.models import User, Yard

# Slug, kind, size, unit, how many, price of one. All invented.
BAGS = [
    ("sphagnum-peat-light", "bale", 107.6, "L", 1, "21.50"),
    ("pine-bark-fines-composted", "bag", 60, "L", 2, "9.20"),
    ("leaf-mould", "heap", 90, "L", 1, None),
    ("perlite", "bag", 100, "L", 1, "18.90"),
    ("coir-pith-loose", "bag", 70, "L", 2, "13.40"),
    ("pumice", "bag", 25, "L", 3, "11.75"),
    ("worm-castings", "bag", 16, "dry-qt", 1, "14.00"),
    ("cottonseed-meal", "sack", 20, "kg", 1, "62.00"),
    ("feather-meal", "sack", 5, "kg", 1, "19.50"),
    ("blood-meal", "sack", 2.5, "kg", 1, "14.80"),
    ("fish-bone-meal", "sack", 2, "kg", 1, "9.90"),
    ("kelp-meal", "sack", 5, "lb", 1, "12.60"),
    ("sulfur-dusting", "sack", 2, "kg", 1, "7.80"),
    ("sulfate-of-potash", "sack", 1, "kg", 1, "6.40"),
    ("lime-dolomitic-ground", "sack", 3, "kg", 1, "4.20"),
    ("basalt-dust", "sack", 10, "kg", 1, "16.00"),
]
REPORT = """Sample: steps compost
Dry matter 54.0 %
pH (1:5) 7.4
EC 620 uS/cm
Total N 1.62 % DM
P2O5 0.71 % DM
K2O 1.30 % DM
CaO 4.90 % DM
Bulk density 610 g/L
"""
ODD_REPORT = REPORT + "MgO 5.14 % DM\n"


def fill_shelf(yard: Yard, user: User, at: datetime) -> None:
    """Fill the demo's shelf by the services a grower's clicks go through."""
    shared = {m.slug: m for m in Material.objects.filter(yard=None)}
    for slug, kind, size, unit, count, price in BAGS:
        amount = size * sizes()[unit]
        by_mass = kind == "sack"
        printed = Printed(
            kind, size, unit, None if by_mass else amount, amount / 1000 if by_mass else None
        )
        buy(
            yard=yard,
            by=user,
            material=shared[slug],
            printed=printed,
            count=count,
            at=at,
            price=None if price is None else Decimal(price),
        )
    _label(yard, user, shared["feather-meal"], at)
    cup = weighed([150.0, 153.0, 149.0])
    keep_cup(
        yard=yard,
        by=user,
        material=shared["cottonseed-meal"],
        at=at,
        density=density_of(cup, 250.0),
        note="mean of 3",
    )
    castings = shared["worm-castings"].core
    grams = [31.0, 36.0, 34.0]
    keep_measure(
        yard=yard,
        by=user,
        kind="handful",
        weighings=grams,
        of="Worm castings",
        at=at,
        one_ml=volume_of(weighed(grams), castings.loose_density()),
    )
    compost = add_own(
        yard=yard,
        by=user,
        name="Steps compost",
        family="compost",
        role="bulk",
        like=shared["yard-compost"],
        at=at,
    )
    report = keep_report(
        yard=yard, by=user, material=compost, text=REPORT, method="total", lab="a valley lab", at=at
    )
    take_report(report=report, by=user)
    later = at + timedelta(days=20)
    keep_report(
        yard=yard,
        by=user,
        material=compost,
        text=ODD_REPORT,
        method="total",
        lab="a valley lab",
        at=later,
    )
    send_sample(yard=yard, by=user, material=compost, at=later)


def _label(yard: Yard, user: User, material: Material, at: datetime) -> None:
    """Read the label of a sack as the form does: 12.5-0-0."""
    form = LabelForm({"label_n": "12.5", "label_p": "0", "label_k": "0"})
    form.is_valid()
    values, usable = form.says
    said = Said("label", at.date())
    say_values(
        yard=yard, by=user, material=material, said=said, values=values, usable=usable, at=at
    )
