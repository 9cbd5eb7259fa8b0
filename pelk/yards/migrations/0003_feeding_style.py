"""A yard's feeding style: its answers, kept as sentences so far, become keys."""

from django.db import migrations


def with_spaces_as(old, new):
    """Return the step that writes every answer of a yard the other way."""

    def rewrite(apps, schema_editor):
        for yard in apps.get_model("yards", "Yard").objects.exclude(feeding_style={}):
            yard.feeding_style = {
                question: answer.replace(old, new)
                for question, answer in yard.feeding_style.items()
            }
            yard.save(update_fields=["feeding_style"])

    return rewrite


class Migration(migrations.Migration):
    dependencies = [("yards", "0002_currency_months_school_hands")]

    operations = [
        migrations.RenameField("yard", "school", "feeding_style"),
        migrations.RunPython(with_spaces_as(" ", "-"), migrations.RunPython.noop),
    ]
