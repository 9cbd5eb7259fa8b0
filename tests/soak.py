"""`make soak`: kills, writers beside readers, dear answers, odd input; on this machine alone.

Serves the application with a database in a folder that is thrown away, presses it, and prints
what it stood. Bounded: about five minutes. docs/reliability.md keeps the figures.
"""

import http.cookiejar
import os
import re
import signal
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from urllib.error import HTTPError, URLError
from urllib.parse import urlencode
from urllib.request import HTTPCookieProcessor, build_opener, urlopen

ROOT = Path(__file__).resolve().parents[1]
ADDRESS = "127.0.0.1:8767"
BASE = f"http://{ADDRESS}"
WRITERS, EACH, READERS = 8, 200, 3
KILLS, FITTERS, ODD_SEEDS = 5, 10, range(100, 104)
TOKEN = re.compile(r'name="csrfmiddlewaretoken" value="([^"]+)"')
BEGIN = """
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
call_command("load_demo", verbosity=0)
"""
COUNT = """
import django; django.setup()
from django.db import connection
from pelk.log.models import Entry
said = set(Entry.objects.filter(text__startswith="soak ").values_list("text", flat=True))
print("\\n".join(sorted(said)))
with connection.cursor() as cursor:
    if connection.vendor == "sqlite":
        assert cursor.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
"""


class Person:
    """Somebody with a browser."""

    def __init__(self):
        self.opener = build_opener(HTTPCookieProcessor(http.cookiejar.CookieJar()))
        self.token = ""

    def get(self, path):
        with self.opener.open(BASE + path, timeout=60) as answer:
            text = answer.read().decode()
        if token := TOKEN.search(text):
            self.token = token[1]
        return text

    def post(self, path, fields, **headers):
        from urllib.request import Request

        body = urlencode({**fields, "csrfmiddlewaretoken": self.token}).encode()
        asked = Request(BASE + path, body, headers)
        with self.opener.open(asked, timeout=60) as answer:
            return answer.status, answer.read().decode()

    def come_in(self):
        self.get("/yard/sign-in/")
        typed = {"username": "bench@gannetsteps.example", "password": "terrace-and-tub"}
        self.post("/yard/sign-in/", typed)
        self.get("/log/")
        return self


class Served:
    """gunicorn as it is deployed, with its worker."""

    def __init__(self, var):
        self.env = {**os.environ, "PELK_VAR": var, "PELK_BIND": ADDRESS, "PELK_WORKERS": "3",
                    "DJANGO_SETTINGS_MODULE": "pelk.config.settings"}  # fmt: skip
        self.process = None

    def python(self, code):
        done = subprocess.run([sys.executable, "-c", code], cwd=ROOT, env=self.env, text=True,
                              capture_output=True, check=True)  # fmt: skip
        return done.stdout

    def start(self):
        command = [sys.executable, "-m", "gunicorn", "pelk.config.wsgi", "-c",
                   "deploy/gunicorn.conf.py"]  # fmt: skip
        began = time.monotonic()
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.env, start_new_session=True,
                                        stderr=subprocess.DEVNULL)  # fmt: skip
        while True:
            try:
                urlopen(f"{BASE}/health/ready", timeout=5).read()
                return time.monotonic() - began
            except (URLError, OSError):
                time.sleep(0.1)

    def kill(self):
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def stop(self):
        os.killpg(self.process.pid, signal.SIGTERM)
        self.process.wait(timeout=40)


def percentile(values, share):
    return sorted(values)[min(int(share * len(values)), len(values) - 1)]


def writers_beside_readers():
    took, read, broke, stop = [], [], [], threading.Event()

    def write(number):
        person = Person().come_in()
        for i in range(EACH):
            began = time.monotonic()
            try:
                person.post("/log/note/", {"note": f"soak w{number} n{i}"})
            except HTTPError as error:
                broke.append(error.code)
            took.append(time.monotonic() - began)

    def look():
        person = Person().come_in()
        while not stop.is_set():
            began = time.monotonic()
            try:
                person.get("/today/")
            except HTTPError as error:
                broke.append(error.code)
            read.append(time.monotonic() - began)

    readers = [threading.Thread(target=look) for _ in range(READERS)]
    writers = [threading.Thread(target=write, args=[n]) for n in range(WRITERS)]
    for thread in (*readers, *writers):
        thread.start()
    for thread in writers:
        thread.join()
    stop.set()
    for thread in readers:
        thread.join()
    print(f"{WRITERS} writers x {EACH}, {READERS} readers: p50 {statistics.median(took):.3f} s, "
          f"p99 {percentile(took, 0.99):.3f} s, pages p99 {percentile(read, 0.99):.3f} s; "
          f"5xx {len(broke)}   wanted 0, and p99 within 1.5 s")  # fmt: skip


def kills(served):
    lost, back = 0, []
    for round_ in range(KILLS):
        person, answered = Person().come_in(), []

        def write(person=person, answered=answered, round_=round_):
            i = 0
            while True:
                try:
                    person.post("/log/note/", {"note": f"soak k{round_} n{i}"})
                except (HTTPError, URLError, OSError):
                    return
                answered.append(f"soak k{round_} n{i}")
                i += 1

        thread = threading.Thread(target=write)
        thread.start()
        time.sleep(1.5)
        served.kill()
        thread.join()
        back.append(served.start())
        held = set(served.python(COUNT).split("\n"))
        lost += sum(text not in held for text in answered)
    print(f"killed {KILLS} times while it wrote: acknowledged and lost {lost}   wanted 0; "
          f"answers again after {max(back):.1f} s at most")  # fmt: skip


def dear_answers():
    person = Person().come_in()

    def page():
        began = time.monotonic()
        person.get("/shelf/")
        return time.monotonic() - began

    quiet = statistics.median(page() for _ in range(20))
    stop = threading.Event()
    fits = []

    def fit():
        from html.parser import HTMLParser

        class Form(HTMLParser):
            fields: list = []
            name = None

            def handle_starttag(self, tag, attrs):
                said = dict(attrs)
                if (
                    tag == "input"
                    and said.get("name")
                    and said.get("type") not in ("submit", "checkbox")
                ):
                    self.fields.append((said["name"], said.get("value") or ""))
                elif tag == "select":
                    self.name = said.get("name")
                elif tag == "option" and self.name and "selected" in said:
                    self.fields.append((self.name, said.get("value") or ""))

        mine = Person().come_in()
        form = Form()
        form.fields = []
        form.feed(mine.get("/bench/1/").split('id="bench"')[1].split("</form>")[0])
        typed = dict(form.fields)
        typed.pop("csrfmiddlewaretoken", None)
        i = 0
        while not stop.is_set():
            typed |= {"action": "fit", "fit_from": "any", "name": f"{threading.get_ident()} {i}"}
            try:
                mine.post("/bench/1/", typed)
            except HTTPError as error:
                fits.append(error.code)
            i += 1
            stop.wait(3)

    people = [threading.Thread(target=fit) for _ in range(FITTERS)]
    for thread in people:
        thread.start()
    time.sleep(4)
    busy = statistics.median(page() for _ in range(20))
    stop.set()
    for thread in people:
        thread.join()
    print(f"{FITTERS} people press Fit: another's page {busy / quiet:.1f} x its quiet time "
          f"({quiet * 1000:.0f} ms)   wanted within 3 x")  # fmt: skip


def odd_input():
    seeds = f"range({ODD_SEEDS.start}, {ODD_SEEDS.stop})"
    code = (
        f"import tests.yards.test_fuzz as t; t.SEEDS = {seeds}; t.TIMES = 4\n"
        "from django.conf import settings; from django.test.utils import get_runner\n"
        "import sys; sys.exit(get_runner(settings)(verbosity=0, interactive=False).run_tests("
        "['tests.yards.test_fuzz.OddInput.test_no_address_breaks']))"
    )
    with tempfile.TemporaryDirectory() as var:
        env = {**os.environ, "PELK_VAR": var,
               "DJANGO_SETTINGS_MODULE": "pelk.config.settings_test"}  # fmt: skip
        done = subprocess.run([sys.executable, "-c", f"import django; django.setup()\n{code}"],
                              cwd=ROOT, env=env, capture_output=True, text=True)  # fmt: skip
    says = "none is a 500" if done.returncode == 0 else done.stderr[-2000:]
    print(f"odd input, seeds {ODD_SEEDS.start} to {ODD_SEEDS.stop - 1}: {says}")


def main():
    with tempfile.TemporaryDirectory() as var:
        served = Served(var)
        served.python(BEGIN)
        served.start()
        try:
            writers_beside_readers()
            dear_answers()
            kills(served)
        finally:
            served.stop()
    odd_input()


if __name__ == "__main__":
    main()
