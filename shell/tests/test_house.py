"""Habits of the house that a linter does not hold.

Short template lines, files of a readable length, circles in the core.
"""

import ast
import re
import subprocess
import tempfile
from pathlib import Path

from django.core.management import call_command
from django.test import SimpleTestCase, override_settings

ROOT = Path(__file__).resolve().parents[2]
#: longest line of a template, and lines from which a file of the core says at its head why it is longer
LINE, FILE = 160, 500
#: topics of the core from the bottom up: each imports only from those before it
LAYERS = (
    "tables",
    "quantities",
    "drawing",
    "logs",
    "fastening",
    "breathing",
    "cooling",
    "aero",
    "mass",
    "wheels",
    "ride",
    "steering",
    "driveline",
    "braking",
    "well",
    "parts",
    "work",
    "proof",
)


def tracked(pattern):
    """Files of the checkout by pattern, those not yet committed among them."""
    command = ["git", "ls-files", "--cached", "--others", "--exclude-standard", pattern]
    listed = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=True)
    paths = [ROOT / name for name in listed.stdout.split() if "vendor" not in name]
    return [path for path in paths if path.exists()]


class House(SimpleTestCase):
    def test_template_lines_are_short(self):
        for path in tracked("*.html"):
            for number, line in enumerate(path.read_text().splitlines(), start=1):
                self.assertLessEqual(len(line), LINE, f"{path.relative_to(ROOT)}:{number}")

    def test_files_of_the_core_are_of_a_readable_length(self):
        for path in (ROOT / "rimcore").rglob("*.py"):
            lines = path.read_text().splitlines()
            if len(lines) > FILE and "tests" not in path.parts:
                self.assertIn("longer than", "\n".join(lines[:12]).lower(), path.relative_to(ROOT))

    def test_a_topic_of_the_core_imports_only_from_those_below_it(self):
        for place, topic in enumerate(LAYERS):
            for path in (ROOT / "rimcore" / topic).rglob("*.py"):
                if "tests" in path.parts:
                    continue
                for node in ast.walk(ast.parse(path.read_text())):
                    if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("rimcore."):
                        below = node.module.split(".")[1]
                        # Limits are said by each topic in a file that rests on nothing, and gathered for all; how a
                        # function is compiled rests on nothing of the core.
                        known = (*LAYERS[: place + 1], "limits", "compiling")
                        self.assertIn(below, known, f"{path.relative_to(ROOT)} imports {node.module}")
        self.assertNotIn("rimcore", (ROOT / "rimcore" / "compiling.py").read_text())

    def test_what_a_topic_says_of_limits_rests_on_nothing_else(self):
        for path in (ROOT / "rimcore").glob("*/limits.py"):
            if path.parent.name != "quantities":
                named = {
                    node.module for node in ast.walk(ast.parse(path.read_text())) if isinstance(node, ast.ImportFrom)
                }
                self.assertEqual(named, {"__future__", "rimcore.quantities.limits"}, path)

    def test_folders_of_the_well_import_only_from_those_below_them(self):
        """Solid geometry, what was read, judgements, then rank and drawings.

        The command line and the bench stand over all.
        """
        folders = ("solid", "read", "judge", "rank", "draw")
        for place, folder in enumerate(folders):
            for path in (ROOT / "rimcore" / "well" / folder).glob("*.py"):
                for node in ast.walk(ast.parse(path.read_text())):
                    if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("rimcore.well."):
                        below = node.module.split(".")[2]
                        self.assertIn(
                            below, (*folders[: place + 1], "levers"), f"{path.relative_to(ROOT)} imports {node.module}"
                        )

    def test_wide_calls_name_what_they_give(self):
        """Eight values in a row are read wrongly sooner or later; what is not ours takes them as it does."""
        for path in tracked("*.py"):
            if "migrations" in path.parts:
                continue
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.Call) and ast.unparse(node.func) not in ("struct.pack", "st.builds"):
                    given = sum(not isinstance(one, ast.Starred) for one in node.args)
                    self.assertLess(given, 8, f"{path.relative_to(ROOT)}:{node.lineno}")

    def test_modules_that_modules_import_have_hashed_names_when_served(self):
        stores = {
            "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
            "staticfiles": {"BACKEND": "rimtally.static.HashedModules"},
        }
        with (
            tempfile.TemporaryDirectory() as folder,
            override_settings(STORAGES=stores, STATIC_ROOT=folder, DEBUG=False),
        ):
            call_command("collectstatic", interactive=False, verbosity=0)
            modules = {path.name: path.read_text() for path in Path(folder, "shell").glob("*.*.js")}
            main = next(text for name, text in modules.items() if name.startswith("tally."))
            asked = re.findall(r"""["']\./([\w.]+\.js)["']""", "".join(modules.values()))
        self.assertGreaterEqual(len(re.findall(r"import", main)), 4)
        self.assertTrue(asked)
        for name in asked:
            self.assertIn(name, modules)
            self.assertRegex(name, r"\w+\.[0-9a-f]{12}\.js")

    def test_no_room_reckons_what_the_core_reckons(self):
        """Trigonometry and roots are the core's."""
        for room in ("garage", "shelf", "bench", "planner", "workshop", "proof", "shell"):
            for path in (ROOT / room).glob("*.py"):
                names = {n.attr for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.Attribute)}
                self.assertFalse(
                    names & {"sin", "cos", "tan", "atan", "atan2", "radians", "hypot", "degrees", "sqrt"},
                    path.relative_to(ROOT),
                )
