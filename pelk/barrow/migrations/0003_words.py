"""Fields of a batch by the words of docs/glossary.md; nothing stored changes."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("barrow", "0002_made_foretold")]

    operations = [
        migrations.RenameField("batch", "made", "as_mixed"),
        migrations.RenameField("batch", "foretold", "forecast_at_mixing"),
        migrations.RenameField("batch", "outlook", "schedule_cache"),
    ]
