"""Odd numbers, odd ways back and odd addresses are answered, never a 500; var is private."""

import os
import stat
import subprocess
import sys
import tempfile
from pathlib import Path

from django.core.exceptions import SuspiciousOperation
from django.test import SimpleTestCase, TestCase
from django.urls import reverse

from pelk.core.base.errors import PelkError
from pelk.exchange.formats.files import parsed, refuse_odd_values
from pelk.ui.numbers import read_count, read_number
from tests.factories import bench_posted, make_old_soil, make_pots, make_recipe, make_user
from tests.yards.test_permissions import OPEN, addresses

DIGITS = "9" * 400
# Twenty digits are more than a database keeps, 5,000 more than Python reads.
TOO_LONG = "9" * 20
LONGEST = "9" * 5000
ODD = [
    "inf",
    "nan",
    "-",
    "½",
    f"{DIGITS}/1",
    f"{DIGITS}½",
    f"1/{DIGITS}",
    f"{DIGITS} 1/2",
    TOO_LONG,
    LONGEST,
    "1e400",
    "--5",
    "\x00",
    "//cove.example/",
    "https://cove.example/",
]


class OddNumbers(SimpleTestCase):
    def test_they_are_no_number(self):
        for text in ODD:
            value = read_number(text)
            self.assertTrue(value is None or abs(value) <= 1e20, text)
        self.assertEqual(read_number("1 1/2"), 1.5)

    def test_a_count_is_digits_that_a_field_can_hold(self):
        self.assertEqual(
            [read_count(t) for t in ("7", "", "-1", "x", LONGEST)], [7, None, None, None, None]
        )
        self.assertLess(read_count(TOO_LONG), 2**63)

    def test_a_file_with_odd_values_names_the_key(self):
        for text in (LONGEST, DIGITS, '"\\ud800"', "1e999", "NaN"):
            with self.assertRaisesRegex(PelkError, "found") as caught:
                refuse_odd_values(parsed(f'{{"ph": [{text}]}}'), "")
            self.assertEqual(caught.exception.path, "ph[0]")
        with self.assertRaisesRegex(PelkError, "half a character"):
            refuse_odd_values(parsed('{"\\udc00": 1}'), "")


class OddRequests(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.user = make_user()
        cls.recipe = make_recipe(cls.user)
        cls.pots = make_pots(cls.user)
        cls.soil = make_old_soil(cls.user)

    def setUp(self):
        self.client.force_login(self.user)

    def answer(self, method, url, data=None):
        try:
            return method(url, data or {}).status_code
        except SuspiciousOperation:  # Django answers it with 400
            return 400

    def test_only_one_slash_is_a_way_back(self):
        for asked in [
            "inf",
            "home",
            "//cove.example/",
            "https://cove.example/",
            "/\\cove.example",
            "/" + "x" * 3000,
        ]:
            for url in (reverse("yards:system"), reverse("cure:feed")):
                response = self.client.post(url, {"next": asked, "system": "us"})
                self.assertIn(response["Location"], {"/", "/cure/"}, asked)
        response = self.client.post(reverse("yards:system"), {"next": "/pots/?page=2"})
        self.assertEqual(response["Location"], "/pots/?page=2")

    def test_ids_that_no_database_holds_are_not_found(self):
        self.assertEqual(self.client.get(f"/bench/{TOO_LONG}/").status_code, 404)
        tried = 0
        for name, wanted in addresses():
            if name in OPEN or not wanted:
                continue
            for odd in (TOO_LONG, LONGEST):
                url = reverse(name, kwargs=dict.fromkeys(wanted, odd))
                for method in (self.client.get, self.client.post):
                    with self.subTest(name):
                        self.assertLess(self.answer(method, url), 500)
                        tried += 1
        self.assertGreater(tried, 200)

    def test_odd_words_in_addresses_and_forms_are_answered(self):
        own = {"recipe": self.recipe.pk, "group": self.pots.pk, "soil": self.soil.pk}
        keys = [
            "page",
            "heaps",
            "version",
            "v",
            "r",
            "h",
            "bag",
            "group",
            "from",
            "month",
            "why",
            "as",
            "sort",
            "q",
            "show",
            "next",
            "action",
            "key",
            "said",
            "number",
            "litres",
        ]
        tried = 0
        for name, wanted in addresses():
            if name in OPEN or not set(wanted) <= own.keys():
                continue
            url = reverse(name, kwargs={key: own[key] for key in wanted})
            for odd in ODD:
                for method in (self.client.get, self.client.post):
                    with self.subTest(name, odd=odd[:20]):
                        self.assertLess(self.answer(method, url, dict.fromkeys(keys, odd)), 500)
                        tried += 1
            # Whoever was put away by a POST is needed for the next address.
            for row in (self.recipe, self.pots, self.soil):
                row.bring_back()
        self.assertGreater(tried, 1000)

    def test_bench_rows_by_odd_places(self):
        for action in (
            f"drop-part:{LONGEST}",
            "move-part:0:--5",
            f"move-part:0:-{LONGEST}",
            f"swaps:part:{LONGEST}",
            f"swap-part:{TOO_LONG}:perlite",
        ):
            data = {
                "name": "Odd",
                "crop": "citrus",
                "how": "litres",
                "volume": f"{DIGITS}/1",
                "part_material": ["pumice"],
                "part_parts": ["1"],
                "part_lock": [LONGEST],
                "do": action,
                "action": action,
            }
            self.assertLess(self.client.post("/bench/new/", bench_posted(data)).status_code, 400)


class ForOurEyesOnly(SimpleTestCase):
    def test_var_and_all_in_it_is_closed_from_the_start_and_mended(self):
        with tempfile.TemporaryDirectory() as top:
            var = Path(top) / "var"
            (var / "mail").mkdir(parents=True)
            (var / "mail" / "link.log").write_text("a link")
            for path in (var, var / "mail", var / "mail" / "link.log"):
                path.chmod(0o755)
            env = {
                **os.environ,
                "PELK_VAR": str(var),
                "DATABASE_URL": "",
                "DJANGO_SETTINGS_MODULE": "pelk.config.settings",
            }
            code = (
                "import django; django.setup()\n"
                "from django.core.management import call_command\n"
                "call_command('migrate', verbosity=0)\n"
                "from django.core.mail import send_mail\n"
                "send_mail('Sign in', 'the link', None, ['a@steps.example'])"
            )
            subprocess.run(
                [sys.executable, "-c", f"import os; os.umask(0o022)\n{code}"], env=env, check=True
            )
            paths = [var, *var.rglob("*")]
            self.assertGreaterEqual(len(paths), 6)
            for path in paths:
                mode = stat.S_IMODE(path.stat().st_mode)
                self.assertFalse(mode & 0o077, f"{path.name} {mode:o}")
