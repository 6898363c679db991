"""The core's mathematics says what goes in, in which shape, unit and range, and where it is from."""

from __future__ import annotations

import ast
import re
import unittest
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
#: rooms and modules that declare, draw or write words: no mathematics of the trade
DECLARE = {"tests", "work", "parts", "tables", "drawing", "draw"}
DECLARING = re.compile(r"__init__|bench|limits|registry|families|benches|drawing|scene.*|side|calculations.*")
NUMBER = re.compile(r"\b(float|int|Array|NDArray|ndarray|Vector|Points|Any)\b")
#: a source, by its word or by the body whose standard or handbook it is
SOURCE = re.compile(
    r"Source:|common practice|\b(ISO|SAE|DIN|IEC|JCGM|NHTSA|WMO|IAPWS|ETRTO)\b|, ch\. \d|Kays & London|Hooke's law"
)


def mathematics() -> Iterator[tuple[str, ast.FunctionDef]]:
    """Public functions of the core that take a number or an array: where they stand, and they themselves."""
    for path in sorted(ROOT.rglob("*.py")):
        if DECLARE & set(path.relative_to(ROOT).parts) or DECLARING.fullmatch(path.stem):
            continue
        for node in ast.parse(path.read_text()).body:
            public = isinstance(node, ast.FunctionDef) and not node.name.startswith("_")
            if public and any(NUMBER.search(ast.unparse(one.annotation)) for one in arguments(node) if one.annotation):
                yield f"{path.relative_to(ROOT)}: {node.name}", node


def arguments(node: ast.FunctionDef) -> list[ast.arg]:
    return [*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs]


def section(doc: str) -> list[str] | None:
    """Names under ``Parameters``, in their order; None without the section."""
    found = re.search(r"^Parameters\n-+\n((?:\S.*\n?(?: +\S.*\n?)*)*)", doc, re.MULTILINE)
    lines = re.findall(r"^(\w+(?:, \w+)*) :", found[1], re.MULTILINE) if found else []
    return [name for line in lines for name in line.split(", ")] if found else None


class DocstringTests(unittest.TestCase):
    """Counted over all functions, so that a new one without the section brings the share down."""

    def setUp(self) -> None:
        self.all = [(name, node, ast.get_docstring(node) or "") for name, node in mathematics()]
        self.assertGreater(len(self.all), 250)

    def without(self, lacking: list[str], share: float) -> None:
        self.assertLessEqual(len(lacking), (1 - share) * len(self.all), "\n".join(lacking))

    def test_what_goes_in_is_told(self) -> None:
        self.without([name for name, _, doc in self.all if section(doc) is None], 0.8)

    def test_what_is_told_is_what_goes_in(self) -> None:
        for name, node, doc in self.all:
            told = section(doc)
            if told is not None:
                with self.subTest(name):
                    self.assertEqual([one.arg for one in arguments(node)], told)

    def test_a_number_has_its_unit_where_its_name_has_one(self) -> None:
        for name, _, doc in self.all:
            for line in re.findall(
                r"^((?:\w+, )*\w+_(?:mm|deg|kg|kmh|kpa|nm|kw|hz|db|pct)) : (.*(?:\n {4}\S.*)*)$", doc, re.MULTILINE
            ):
                with self.subTest(name, parameter=line[0]):
                    self.assertRegex(line[1], r"\[.+\]")

    def test_where_it_is_from_is_told(self) -> None:
        self.without([name for name, _, doc in self.all if not SOURCE.search(doc)], 0.8)
