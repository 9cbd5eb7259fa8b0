"""The heap to train on, by the words of docs/glossary.md; nothing stored changes."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("cure", "0002_visits_tests_schedule")]

    operations = [migrations.RenameModel("PracticeHeap", "TrainingHeap")]
