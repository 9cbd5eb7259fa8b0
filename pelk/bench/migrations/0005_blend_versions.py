"""Every save of a feed blend is a version; what was kept so far is the first."""

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models


def keep_as_first(apps, schema_editor):
    """Make what each blend holds its version 1."""
    blends = apps.get_model("bench", "FeedBlend").objects.all()
    versions = apps.get_model("bench", "BlendVersion").objects
    versions.bulk_create(
        versions.model(blend=blend, number=1, document=blend.document, created_at=blend.created_at)
        for blend in blends
    )


class Migration(migrations.Migration):
    dependencies = [("bench", "0004_feed_blends")]

    operations = [
        migrations.CreateModel(
            name="BlendVersion",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveIntegerField()),
                ("document", models.JSONField()),
                ("note", models.CharField(blank=True, max_length=200, verbose_name="what changed")),
                (
                    "created_at",
                    models.DateTimeField(default=django.utils.timezone.now, editable=False),
                ),
                (
                    "blend",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="versions",
                        to="bench.feedblend",
                    ),
                ),
            ],
            options={
                "ordering": ["-number"],
                "constraints": [
                    models.UniqueConstraint(
                        fields=("blend", "number"), name="one_blend_version_of_a_number"
                    )
                ],
            },
        ),
        migrations.RunPython(keep_as_first, migrations.RunPython.noop),
        migrations.RemoveField(model_name="feedblend", name="document"),
    ]
