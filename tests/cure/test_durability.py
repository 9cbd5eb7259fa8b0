"""A process killed while it writes loses nothing that it has answered."""

import os
import signal
import subprocess
import sys
import tempfile

from django.test import SimpleTestCase

CHILD = """
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from pelk.log.services.record import record
from pelk.log.models import Station
from tests.factories import make_user, yard_of
yard = yard_of(make_user())
from django.db import transaction
print("ready", flush=True)
n = 0
while True:
    with transaction.atomic():
        record(yard=yard, by=None, station=Station.CURE, text=f"deed {n}")
    n += 1
    print(n, flush=True)
"""
COUNT = """
import django; django.setup()
from pelk.log.models import Entry
from django.db import connection
print(Entry.objects.filter(text__startswith="deed").count())
with connection.cursor() as cursor:
    print(cursor.execute("PRAGMA integrity_check").fetchone()[0])
"""
ANSWERED = 60


class Durability(SimpleTestCase):
    def test_kill_9_during_writes_loses_nothing_that_was_answered(self):
        with tempfile.TemporaryDirectory() as var:
            env = {
                **os.environ,
                "PELK_VAR": var,
                "DATABASE_URL": "",
                "DJANGO_SETTINGS_MODULE": "pelk.config.settings",
            }
            command = [sys.executable, "-c", CHILD]
            with subprocess.Popen(command, env=env, stdout=subprocess.PIPE, text=True) as child:
                answered = 0
                for line in child.stdout:
                    if line.strip().isdecimal():
                        answered = int(line)
                    if answered >= ANSWERED:
                        child.send_signal(signal.SIGKILL)
                        break
            said = subprocess.run(
                [sys.executable, "-c", COUNT], env=env, capture_output=True, text=True, check=True
            )
            count, sound = said.stdout.split()
            self.assertGreaterEqual(int(count), answered)
            self.assertEqual(sound, "ok")
