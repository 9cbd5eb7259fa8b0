"""Forget the days that earlier sums and an earlier judge gave: every heap is looked at again after migrating."""

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def forget(apps: Apps, _: BaseDatabaseSchemaEditor) -> None:
    """Empty the remembered days of all heaps."""
    apps.get_model("barrow", "Batch").objects.update(schedule_cache={})


class Migration(migrations.Migration):
    dependencies = [("barrow", "0004_numbers")]

    operations = [migrations.RunPython(forget, migrations.RunPython.noop)]
