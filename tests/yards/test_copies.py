"""Copies made while it is in use, brought back whole, thinned by days, weeks, months."""

import json
import logging
import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path

from django.test import SimpleTestCase, TestCase

from pelk.config.copies import STAMP, thin_out
from pelk.config.logs import JsonLines

FILL = """
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from tests.factories import make_heap, make_photo, make_user
user = make_user()
make_photo(user, make_heap(user))
"""
SPOIL = """
import django; django.setup()
from pelk.cure.models import HeapPhoto
from pelk.yards.models import User
for photo in HeapPhoto.objects.all():
    photo.file.delete()
User.objects.all().delete()
"""
LOOK = """
import django; django.setup()
from pelk.cure.models import HeapPhoto
from pelk.yards.models import User
photo = HeapPhoto.objects.get()
print(User.objects.count(), len(photo.file.read()) > 10)
"""


class Commands(SimpleTestCase):
    def run_it(self, *arguments, ok=True):
        said = subprocess.run(
            [sys.executable, *arguments], env=self.env, capture_output=True, text=True, check=False
        )
        self.assertEqual(said.returncode == 0, ok, said.stderr[-500:])
        return said.stdout.strip() if ok else said.stderr


class Copies(Commands):
    def test_what_was_lost_is_brought_back_and_what_stood_there_is_kept(self):
        with tempfile.TemporaryDirectory() as folder:
            self.env = {
                **os.environ,
                "PELK_VAR": f"{folder}/var",
                "DJANGO_SETTINGS_MODULE": "pelk.config.settings",
            }
            self.env["DATABASE_URL"] = ""
            self.run_it("-c", FILL)
            copy = Path(self.run_it("manage.py", "backup", f"{folder}/copies", "--thin"))
            self.assertEqual(copy.stat().st_mode & 0o077, 0)
            self.run_it("-c", SPOIL)
            said = self.run_it("manage.py", "restore", str(copy))
            self.assertEqual(self.run_it("-c", LOOK), "1 True")
            self.assertTrue(Path(said.rsplit(" ", 1)[-1]).is_dir())
            (copy / "pelk.sqlite3").write_bytes(b"SQLite format 3\0" + b"x" * 4000)
            self.assertIn(
                "nothing was changed", self.run_it("manage.py", "restore", str(copy), ok=False)
            )
            self.assertEqual(self.run_it("-c", LOOK), "1 True")


# Where a restore may be killed: the name in `copies` whose nth call ends the process.
KILLED = [
    ("shutil.copytree", 1),
    ("shutil.copyfile", 1),
    ("os.fsync", 1),
    ("os.fsync", 3),
    ("os.link", 1),
    ("Path.replace", 1),
    ("Path.rename", 1),
    ("Path.rename", 2),
]
KILL = """
import django; django.setup()
import os, shutil
from pathlib import Path
left = [{count}]
real = {name}
def kill(*args, **kwargs):
    left[0] -= 1
    if left[0] == 0:
        os._exit(9)
    return real(*args, **kwargs)
{name} = kill
from pelk.config.copies import bring_back
bring_back(Path({copy!r}))
"""
BRING = """
import django; django.setup()
from pathlib import Path
from pelk.config.copies import bring_back
bring_back(Path({copy!r}))
"""


class Killed(Commands):
    def asked(self, sql):
        with closing(sqlite3.connect(f"{self.env['PELK_VAR']}/pelk.sqlite3")) as held, held:
            return held.execute(sql).fetchall()

    def test_a_restore_killed_at_any_step_leaves_the_old_or_the_new(self):
        with tempfile.TemporaryDirectory() as folder:
            self.env = {
                **os.environ,
                "PELK_VAR": f"{folder}/var",
                "DJANGO_SETTINGS_MODULE": "pelk.config.settings",
                "DATABASE_URL": "",
            }
            self.run_it("-c", FILL)
            copy = self.run_it("manage.py", "backup", f"{folder}/copies")
            killed = 0
            for name, count in KILLED:
                with self.subTest(name, count=count):
                    self.asked("UPDATE yards_yard SET name = 'Changed since'")
                    said = subprocess.run(
                        [sys.executable, "-c", KILL.format(name=name, count=count, copy=copy)],
                        env=self.env,
                        capture_output=True,
                        text=True,
                        check=False,
                    )
                    killed += said.returncode == 9
                    self.assertEqual(self.asked("PRAGMA integrity_check"), [("ok",)])
                    there = self.asked("SELECT name FROM yards_yard")[0][0]
                    self.assertIn(there, ("Changed since", "Lower Steps"))
            self.assertEqual(killed, len(KILLED))
            # What the kills left behind is in nobody's way.
            self.run_it("-c", BRING.format(copy=copy))
            self.assertEqual(self.asked("SELECT name FROM yards_yard"), [("Lower Steps",)])
            self.assertEqual(self.run_it("-c", LOOK), "1 True")

    def test_a_database_without_tables_is_no_copy(self):
        with tempfile.TemporaryDirectory() as folder:
            self.env = {
                **os.environ,
                "PELK_VAR": f"{folder}/var",
                "DJANGO_SETTINGS_MODULE": "pelk.config.settings",
                "DATABASE_URL": "",
            }
            said = self.run_it("manage.py", "backup", f"{folder}/copies", ok=False)
            self.assertIn("holds no tables", said)
            self.assertFalse(Path(folder, "copies").exists())


class Wrapper(Commands):
    """``deploy/pelk``: the service's own settings, read as names and values."""

    def run_pelk(self, folder, settings, *arguments):
        home = Path(folder, "home")
        (home / ".venv/bin").mkdir(parents=True, exist_ok=True)
        if not (home / ".venv/bin/python").exists():
            (home / ".venv/bin/python").symlink_to(sys.executable)
            (home / "manage.py").write_text("import os; print(os.environ['PELK_SAID'])")
        (home / "env").write_text(settings)
        # Who it runs as is the machine's: here nobody else than who tests.
        env = {"PATH": os.environ["PATH"], "PELK_HOME": str(home), "PELK_ENV": str(home / "env")}
        return subprocess.run(
            [Path("deploy/pelk").resolve(), *arguments],
            env={**env, "PELK_USER": "nobody-by-this-name"},
            capture_output=True,
            text=True,
            check=False,
        )

    def test_a_value_is_never_run(self):
        with tempfile.TemporaryDirectory() as folder:
            odd = f"two words & $(touch {folder}/owned) `id` ; exit 3"
            for written in (odd, f'"{odd}"', f"'{odd}'"):
                said = self.run_pelk(folder, f"# of the service\n\nPELK_SAID={written}", "backup")
                self.assertEqual((said.returncode, said.stdout.strip()), (0, odd), said.stderr)
            self.assertFalse(Path(folder, "owned").exists())
            said = self.run_pelk(folder, "rm -rf x\n", "backup")
            self.assertEqual(said.returncode, 1)
            self.assertIn("cannot read", said.stderr)


class Thinned(SimpleTestCase):
    def test_seven_days_four_weeks_twelve_months_stay(self):
        with tempfile.TemporaryDirectory() as name:
            folder, last = Path(name), datetime(2031, 12, 31, 3, 20)
            for back in range(500):
                (folder / (last - timedelta(days=back)).strftime(STAMP)).mkdir()
            (folder / "mine").mkdir()
            thin_out(folder)
            left = sorted(p.name for p in folder.iterdir())
            self.assertIn("mine", left)
            days = [datetime.strptime(n, STAMP) for n in left if n != "mine"]
            self.assertEqual(days[-7:], [last - timedelta(days=n) for n in range(6, -1, -1)])
            self.assertEqual(len({(d.year, d.month) for d in days}), 12)
            self.assertLessEqual(len(days), 7 + 4 + 12)


class Served(TestCase):
    def test_health_says_alive_and_ready(self):
        self.assertEqual(self.client.get("/health/live").content, b"ok")
        answer = self.client.get("/health/ready")
        self.assertEqual(answer.json()["database"], "ok")

    def test_log_lines_are_json_and_carry_no_secret(self):
        record = logging.LogRecord("pelk.security", 20, "", 0, "signed in", (), None)
        record.event, record.user = "signed in", 7
        said = json.loads(JsonLines().format(record))
        self.assertEqual((said["event"], said["user"]), ("signed in", 7))
        with self.assertLogs("pelk.security", "INFO") as seen:
            self.client.post("/yard/sign-in/", {"username": "a@b.example", "password": "s3cret"})
        text = "".join(JsonLines().format(r) for r in seen.records)
        self.assertIn("a wrong password", text)
        self.assertNotIn("s3cret", text)
        self.assertNotIn("a@b.example", text)
