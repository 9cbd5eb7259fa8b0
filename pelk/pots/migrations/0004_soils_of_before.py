"""Let what fills the pots of before go on as soils: fillings, plantings, readings, harvests."""

from django.db import migrations
from django.utils import timezone

from pelk.core.plans.plan import Vessels
from pelk.core.vessels.planting import surface_of
from pelk.core.vessels.trade_pots import filled_volume

# What a topping-up comes to once it has settled, where nothing else is known.
SETTLED = 0.9


def begin(apps, schema_editor):
    """Make a soil of the last filling of each group that was one of the yard's heaps."""
    groups = apps.get_model("pots", "PotGroup")
    for group in groups.objects.filter(deleted_at=None).iterator():
        fills = list(
            group.fills.filter(deleted_at=None).select_related("batch").order_by("on", "pk")
        )
        filled = [f for f in fills if f.how == "filled"]
        if not filled or filled[-1].batch is None or filled[-1].batch.finished_at is None:
            continue
        _begin(apps, group, filled[-1], fills)


def _begin(apps, group, last, fills):
    soils, events = apps.get_model("soils", "Soil"), apps.get_model("soils", "SoilEvent")
    vessels = Vessels(kind=group.kind, count=group.count, litres=group.litres)
    litres = filled_volume(vessels) / group.count
    soil = soils.objects.create(
        yard_id=group.yard_id,
        name=group.name[:120],
        batch_id=last.batch_id,
        mixed_on=timezone.localdate(last.batch.made_at),
        litres=litres,
        height_cm=group.height_cm or litres * 1000 / surface_of(litres),
        count=group.count,
        wall=group.made_of,
    )
    group.soil = soil
    group.save(update_fields=["soil"])

    def write(row, do, data):
        if row.on < soil.mixed_on:
            return
        row.event = events.objects.create(
            yard_id=group.yard_id, soil=soil, on=row.on, do=do, data=data
        )
        row.save(update_fields=["event"])

    for fill in fills:
        if fill.how != "filled" and fill.batch_id and (fill.on, fill.pk) > (last.on, last.pk):
            each = SETTLED * fill.taken_l / (fill.filled_count or group.count)
            write(fill, "topped", {"batch": fill.batch_id, "litres": each})
    for deed in group.deeds.filter(deleted_at=None, on__gte=last.on).order_by("on", "pk"):
        if deed.kind == "planted":
            write(deed, "planted", {"crop": group.crop})
        elif deed.kind == "reading" and deed.figures:
            held = {k: deed.figures[k] for k in ("ph", "ec_ds_m") if k in deed.figures}
            write(deed, "read", held)
        elif deed.kind == "harvest" and "kg" in deed.figures:
            kg = deed.figures["kg"] / group.count
            write(deed, "harvested", {"kg": kg, "crop": group.crop})


def end(apps, schema_editor):
    """Leave the rows: they say what was written."""


class Migration(migrations.Migration):
    dependencies = [("pots", "0003_soils"), ("soils", "0001_initial"), ("barrow", "0001_initial")]

    operations = [migrations.RunPython(begin, end)]
