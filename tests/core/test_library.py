"""The core by itself: its face, its examples, its wheel; without Django."""

import subprocess
import sys
import tempfile
import zipfile
from pathlib import Path

from django.test import SimpleTestCase
from django.utils.module_loading import import_string

import pelk.core

ROOT = Path(pelk.__file__).parents[1]
EXAMPLES = ROOT / "docs" / "core.md"
# Whatever is imported beside these, the standard library and the core is refused.
ALONE = """
import sys
ALLOWED = {"numpy", "scipy", "msgspec", "pelk"} | set(sys.stdlib_module_names)

class Refuses:
    def find_spec(self, name, path=None, target=None):
        top, _, rest = name.partition(".")
        if top.startswith("_sysconfigdata"):
            return None
        if top not in ALLOWED or (top == "pelk" and rest and not rest.startswith("core")):
            raise ImportError(f"the core must not import {name}")

sys.meta_path.insert(0, Refuses())
"""


def alone(code):
    """Run code in a process that has numpy, scipy, msgspec and nothing else."""
    return subprocess.run(
        [sys.executable, "-c", ALONE + code],
        capture_output=True,
        text=True,
        cwd=ROOT,
        timeout=120,
        check=False,
    )


class Library(SimpleTestCase):
    def test_the_face_is_what_it_says(self):
        for name, module in pelk.core.FACE.items():
            self.assertIs(getattr(pelk.core, name), import_string(f"pelk.core.{module}.{name}"))
        with self.assertRaisesRegex(AttributeError, "Moon"):
            pelk.core.Moon  # noqa: B018

    def test_every_example_runs_without_django(self):
        blocks = EXAMPLES.read_text("utf-8").split("```python\n")[1:]
        code = "\n".join(block.split("```")[0] for block in blocks)
        self.assertEqual(len(blocks), 4)
        ran = alone(code)
        self.assertEqual((ran.returncode, ran.stderr), (0, ""))
        said = ran.stdout.splitlines()
        self.assertRegex(said[0], r"kg, pH \d\.\d on day 180")
        self.assertIn("crop: found 'moonflower'", ran.stdout)
        self.assertRegex(ran.stdout, r"day 60: pH \d\.\d\d, eight in ten between")

    def test_every_module_loads_without_django(self):
        ran = alone(
            "import pkgutil, importlib, pelk.core\n"
            "names = [i.name for i in pkgutil.walk_packages(pelk.core.__path__, 'pelk.core.')]\n"
            "[importlib.import_module(name) for name in names]\n"
            "print(len(names))\n"
        )
        self.assertEqual(ran.stderr, "")
        self.assertGreater(int(ran.stdout), 100)
        refused = alone("import django")
        self.assertIn("the core must not import django", refused.stderr)

    def test_the_wheel_carries_core_data_templates_and_static_files(self):
        with tempfile.TemporaryDirectory() as folder:
            subprocess.run(
                [sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", folder],
                cwd=ROOT,
                check=True,
                capture_output=True,
            )
            [wheel] = Path(folder).glob("*.whl")
            names = set(zipfile.ZipFile(wheel).namelist())
        for name in (
            "pelk/core/data/materials.csv",
            "pelk/core/evaluation/evaluate.py",
            "pelk/bench/templates/bench/bench.html",
            "pelk/bench/static/bench/css/bench.css",
            "pelk/bench/domain/starting_points.json",
            "pelk/ui/static/ui/fonts/bitter-latin-wght-normal.woff2",
        ):
            self.assertIn(name, names)
