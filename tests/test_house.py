"""Where every line lives: the rules of docs/architecture.md that no import contract can hold."""

import ast
import inspect
import pkgutil
import re
from importlib import import_module
from pathlib import Path

from django.contrib.staticfiles import finders
from django.forms import BaseForm
from django.test import SimpleTestCase

import pelk
import pelk.core
from pelk.core.base.sources import citations
from pelk.sources.selectors import core_methods

ROOT = Path(pelk.__file__).parent
FILES = [p for p in sorted(ROOT.rglob("*.py")) if "migrations" not in p.parts]
ROOMS = {
    "base",
    "materials",
    "plans",
    "salts",
    "acid_base",
    "release",
    "crops",
    "vessels",
    "simulation",
    "evaluation",
    "old_soil",
    "lab",
    "advice",
    "curing",
}
STATIONS = ("yards", "log", "shelf", "bench", "barrow", "cure", "pots", "today")
# Where a station has no sentences.
WORDLESS = ("views", "domain", "urls", "selectors")
TEMPLATES = sorted(ROOT.rglob("templates/**/*.html"))


def nodes(*kinds):
    """Yield (file, node) for every node of these kinds in the code."""
    for path in FILES:
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, kinds):
                yield path.relative_to(ROOT), node


class Core(SimpleTestCase):
    def test_every_module_stands_in_a_room(self):
        rooms = {info.name for info in pkgutil.iter_modules(pelk.core.__path__)}
        self.assertEqual(rooms, ROOMS)
        for room in ROOMS:
            doc = import_module(f"pelk.core.{room}").__doc__
            self.assertTrue(doc, room)
            self.assertIn(f"``{room}``", pelk.core.__doc__)

    def test_sources_and_style_see_the_whole_core(self):
        """A walk one level deep would see nothing: then /sources would be empty."""
        methods = core_methods()
        modules = {method.__module__ for method in methods}
        rooms = {name.split(".")[2] for name in modules}
        self.assertEqual(rooms, ROOMS)
        self.assertGreaterEqual(len(modules), 85)
        self.assertGreaterEqual(len(methods), 290)
        self.assertGreaterEqual(sum(bool(citations(m)) for m in methods), 150)

    def test_it_stands_without_django(self):
        for path in sorted((ROOT / "core").rglob("*.py")):
            self.assertNotIn("django", path.read_text("utf-8").replace("no Django", ""), path.name)


class Stations(SimpleTestCase):
    def test_forms_stand_in_forms(self):
        tried = 0
        for station in STATIONS:
            package = import_module(f"pelk.{station}")
            for info in pkgutil.walk_packages(package.__path__, f"pelk.{station}."):
                if "migrations" in info.name:
                    continue
                for name, kind in vars(import_module(info.name)).items():
                    is_own = getattr(kind, "__module__", "") == info.name
                    if is_own and inspect.isclass(kind) and issubclass(kind, BaseForm):
                        tried += 1
                        self.assertIn("forms", info.name.split("."), f"{info.name}.{name}")
        self.assertGreater(tried, 25)

    def test_no_package_passes_names_on(self):
        for path in FILES:
            if path.name == "__init__.py":
                tree = ast.parse(path.read_text("utf-8"))
                froms = [n for n in tree.body if isinstance(n, ast.ImportFrom)]
                own = [n.module for n in froms if (n.module or "").startswith("pelk")]
                self.assertEqual(own, [], path.relative_to(ROOT))

    def test_services_take_named_and_typed_arguments(self):
        tried = 0
        for path, node in nodes(ast.FunctionDef):
            if "services" not in str(path) or node.name.startswith("_"):
                continue
            tried += 1
            keywords = node.args.kwarg
            if keywords is not None:
                self.assertNotEqual(ast.unparse(keywords.annotation), "Any", node.name)
        self.assertGreater(tried, 40)

    def test_addresses_are_asked_for_by_name(self):
        stations = "|".join(STATIONS)
        for path, node in nodes(ast.Constant, ast.JoinedStr):
            text = ast.unparse(node)
            if "urls.py" in str(path) or "management" in str(path):
                continue
            self.assertNotRegex(text, rf"""^f?["']/({stations})/""", str(path))

    def test_scripts_and_sheets_stand_in_their_station(self):
        for name in (
            "bench/js/bench.js",
            "barrow/js/barrow.js",
            "bench/css/bench.css",
            "shelf/css/shelf.css",
            "pots/css/pots.css",
            "ui/css/kit.css",
        ):
            self.assertTrue(finders.find(name), name)


class Words(SimpleTestCase):
    def test_nothing_is_called_found(self):
        for path, node in nodes(ast.Name, ast.arg):
            name = node.id if isinstance(node, ast.Name) else node.arg
            self.assertNotEqual(name, "found", f"{path}:{node.lineno}")

    def test_no_number_is_written_with_an_exponent(self):
        """`sig` writes what people read; a file's own numbers are made floats at once."""
        wrong = re.compile(r"(?<!float\(f\")\{[^{}]*:\.\dg\}")
        for path in FILES:
            for number, line in enumerate(path.read_text("utf-8").splitlines(), 1):
                if wrong.search(line) and 'float(f"' not in line and path.parent.name != "tests":
                    self.assertNotIn("pelk/", str(path), f"{path}:{number} {line.strip()}")

    def test_no_page_has_a_threshold_of_its_own(self):
        """What pH, salts, ammonium or air mean stands in one table of grades."""
        wrong = re.compile(
            r"\b\w*(?:ph|ec|ec_ds_m|ammonium\w*|salts|air)\b\s*(?:<=?|>=?)\s*-?\d", re.IGNORECASE
        )
        for path in (ROOT / "pelk").rglob("pages/*.py"):
            for number, line in enumerate(path.read_text("utf-8").splitlines(), 1):
                self.assertIsNone(wrong.search(line), f"{path}:{number} {line.strip()}")

    def test_an_assert_never_stands_for_a_type(self):
        self.assertEqual([f"{p}:{n.lineno}" for p, n in nodes(ast.Assert)], [])

    def test_no_sentence_is_compared_or_looked_up(self):
        """A key is one word; what a reader sees is made of it in pages."""
        for path, node in nodes(ast.Compare):
            for side in (node.left, *node.comparators):
                if isinstance(side, ast.Constant) and isinstance(side.value, str):
                    spaces = side.value.strip().count(" ")
                    self.assertLess(spaces, 2, f"{path}:{node.lineno} {side.value!r}")

    def test_views_urls_and_domain_make_no_sentences(self):
        """A station's words stand in its templates and `pages/`; a form has its refusals."""
        sentence = re.compile(r"[A-Z“{].*[a-z}] [a-z{].*[.?!]$", re.DOTALL)
        stated = {(path, e.value.lineno) for path, e in nodes(ast.Expr)}
        for path, node in nodes(ast.Constant, ast.JoinedStr):
            room = path.with_suffix("").parts[1:-1] or (path.stem,)
            is_station = path.parts[0] in STATIONS
            if not is_station or room[0] not in WORDLESS or (path, node.lineno) in stated:
                continue
            parts = node.values if isinstance(node, ast.JoinedStr) else [node]
            text = "".join(str(getattr(part, "value", "{}")) for part in parts)
            self.assertIsNone(sentence.match(text), f"{path}:{node.lineno} {text}")

    def test_the_formatter_is_never_switched_off(self):
        for path in FILES:
            self.assertNotIn("fmt: ", path.read_text("utf-8"), path.relative_to(ROOT))


class Pages(SimpleTestCase):
    def test_templates_and_sheets_can_be_read(self):
        self.assertGreater(len(TEMPLATES), 90)
        for path in TEMPLATES:
            longest = max(map(len, path.read_text("utf-8").splitlines()))
            self.assertLessEqual(longest, 140, path.relative_to(ROOT))
        for path in ROOT.rglob("static/*/css/*.css"):
            for line in path.read_text("utf-8").splitlines():
                self.assertLessEqual(len(re.findall(r";(?=\s|$)", line)), 1, f"{path.name}: {line}")


class GlossaryWords(SimpleTestCase):
    """One name a thing, and plain verbs: the avoided ones stand on no page."""

    AVOIDED = re.compile(
        r"\b(?:runway|reckon(?:s|ed|ing)?|put away|the sums|foretold|nobody knows|set beside|"
        r"charge ledger|still to work|tied up|appetite is|probe[sd]?|begun|keep it so|"
        r"bring it over|nobody|someone|anew|fluffed|taken in|reckonings|my shelf|my school|"
        r"take the ticked|what binds|who says so|said, and not so|nothing waits)\b",
        re.IGNORECASE,
    )
    # A yard of one's own words may hold them; what is marked up is no text.
    MARKED_UP = re.compile(r"\{#.*?#\}|\{%.*?%\}|\{\{.*?\}\}|<[^>]*>", re.DOTALL)

    def test_no_page_says_what_the_glossary_avoids(self):
        for path in sorted(ROOT.glob("*/templates/**/*.html")):
            text = self.MARKED_UP.sub(" ", path.read_text())
            with self.subTest(path.name):
                self.assertEqual(self.AVOIDED.findall(text), [])

    def test_no_sentence_of_the_pages_says_so_either(self):
        for path in sorted(ROOT.glob("*/pages/*.py")):
            tree = ast.parse(path.read_text())
            docs = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
            said = [
                n.value
                for n in ast.walk(tree)
                if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in docs
            ]
            with self.subTest(path.name):
                self.assertEqual([s for s in said if " " in s and self.AVOIDED.search(s)], [])
