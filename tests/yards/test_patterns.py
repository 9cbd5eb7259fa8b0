"""Every pattern of the application is linear: long lines cost no more than their length."""

import subprocess
import sys

from django.test import SimpleTestCase

# All patterns of all modules on lines that make careless ones run for hours; the process may use
# half a minute of the machine in all, and does it in a second or two.
TRY = """
import resource
resource.setrlimit(resource.RLIMIT_CPU, (12, 12))
import django; django.setup()
import pkgutil, re, sys
from importlib import import_module
import pelk
for module in pkgutil.walk_packages(pelk.__path__, "pelk."):
    if ".migrations" not in module.name and ".commands" not in module.name:
        import_module(module.name)
LINES = ["N" + " " * 10_000 + "x", "a" * 10_000, "1" * 10_000, "1," * 5_000, "1 " * 5_000,
         "(" * 10_000, "a " * 5_000 + "!", " " * 10_000, "-" * 10_000, "1.1" * 3_000,
         "N 1.2 %" * 1_400, "=" * 10_000, "x1/2" * 2_500, "ab,;:\\t" * 1_600,
         "\\n" * 10_000, "%" * 10_000, "a_1-" * 2_500]
tried = 0
for name in sorted(n for n in sys.modules if n.startswith("pelk.")):
    for key, value in vars(sys.modules[name]).items():
        if isinstance(value, re.Pattern) and isinstance(value.pattern, str):
            for line in LINES:
                value.search(line), value.match(line), value.fullmatch(line), value.sub("", line)
            tried += 1
print(tried)
"""


class Patterns(SimpleTestCase):
    def test_ten_thousand_characters_are_no_trouble(self):
        done = subprocess.run(
            [sys.executable, "-c", TRY], capture_output=True, text=True, check=False,
            env={"DJANGO_SETTINGS_MODULE": "pelk.config.settings_test", "PATH": "/usr/bin:/bin"},
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr[-800:] or "it ran out of time")
        self.assertGreater(int(done.stdout), 25)
