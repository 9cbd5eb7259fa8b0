"""Where a value comes from, by the words of docs/glossary.md; nothing stored changes."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shelf", "0002_values_bags_measures_reports")]

    operations = [
        migrations.RenameField("value", "ground", "mark"),
        migrations.AlterField(
            "value",
            "mark",
            models.CharField(
                choices=[
                    ("label", "from the label"),
                    ("lab", "from the lab"),
                    ("yours", "measured here"),
                    ("guess", "my guess"),
                ],
                max_length=10,
                verbose_name="provenance",
            ),
        ),
    ]
