"""One term for one thing: the words that the glossary sets aside stand on no page, in no form, step or message.

Typed input still takes them; docstrings, keys, formulas and the command line's contract keep theirs.
"""

import ast
import re
import subprocess
import unittest
from html.parser import HTMLParser
from pathlib import Path

ROOT = Path(__file__).parent.parent.parent
#: set aside -> said instead
ASIDE = {
    r"build in hand": "current build",
    r"tak(?:e|en) in hand": "make current",
    r"drag(?:s|ged) along": "also needed",
    r"candidates?": "part",
    r"judgements?": "result",
    r"combinations": "pairs",
    r"known dip": "test dip",
    r"spring perch": "spring seat",
    r"sway bar": "anti-roll bar",
    r"headlights?": "headlamp",
    r"ring gear": "crown wheel",
    r"(?:brake )?rotors?": "brake disc",
    r"torque book": "torque record",
    r"lug (?:nuts|seat)": "wheel nut, nut seat",
    r"hub collars?": "hub spigot",
    r"(?:write|writes|written) (?:it |them )?down": "record",
    r"mass ledger": "weight ledger",
    r"length at rest": "free length",
    r"nobody (?:measured|weighed|said|says|asked|read it)": "not measured",
    r"promis(?:e|es|ed)": "predicted",
    r"ways? out of it": "option",
}
#: where a word is meant otherwise, or is somebody's typing
MEANT = re.compile(
    r"steering wheel rotor|rotor of the|calculations|contract|rimcore/lines\.py|rimcore/shop\.py|proofs/|migrations|/tests/|"
    r"management|rimcore/help_works\.py|journeys/|rimcore/quantities/"
)


class Text(HTMLParser):
    """What a template shows: its text, and what is read out."""

    def __init__(self):
        super().__init__()
        self.said, self.shut = [], 0

    def handle_starttag(self, tag, attrs):
        self.shut += tag in ("script", "style")
        self.said += [value for name, value in attrs if name in ("aria-label", "title", "placeholder") and value]

    def handle_endtag(self, tag):
        self.shut -= tag in ("script", "style")

    def handle_data(self, data):
        if not self.shut:
            self.said.append(data)


def tracked(*patterns):
    found = subprocess.run(["git", "ls-files", *patterns], cwd=ROOT, capture_output=True, text=True, check=True)
    return [name for name in found.stdout.split() if not MEANT.search(name)]


def of_template(path):
    """Text of a template, Django's tags taken out."""
    plain = re.sub(r"\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\}", " ", (ROOT / path).read_text(), flags=re.DOTALL)
    parser = Text()
    parser.feed(plain)
    return [" ".join(said.split()) for said in parser.said if said.strip()]


def of_python(path):
    """Sentences of a module: strings with a blank in them that are neither docstrings, patterns nor names to parse."""
    tree = ast.parse((ROOT / path).read_text())
    aside = set()
    for node in ast.walk(tree):
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef)) and node.body:
            first = node.body[0]
            if isinstance(first, ast.Expr) and isinstance(first.value, ast.Constant):
                aside.add(id(first.value))
        if isinstance(node, ast.keyword) and node.arg in ("words", "heads", "shapes", "example"):
            aside |= {id(one) for one in ast.walk(node.value)}
        if isinstance(node, ast.Call) and getattr(node.func, "attr", "") in ("compile", "sub", "search", "match"):
            aside |= {id(one) for one in ast.walk(node)}
        if isinstance(node, ast.Raise) and "ValueError" in ast.dump(node):
            aside |= {id(one) for one in ast.walk(node)}
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.Constant)
            and isinstance(node.value, str)
            and id(node) not in aside
            and " " in node.value
        ):
            yield " ".join(node.value.split())


class Words(unittest.TestCase):
    def faults(self, texts):
        found = []
        for path, said in texts:
            for word, better in ASIDE.items():
                if re.search(rf"\b{word}\b", said, re.IGNORECASE):
                    found.append(f"{path}: “{said[:90]}”: say {better}")
        return found

    def test_no_template_says_a_word_that_is_set_aside(self):
        texts = [(path, said) for path in tracked("*.html") for said in of_template(path)]
        self.assertGreater(len(texts), 1500)
        self.assertEqual(self.faults(texts), [])

    def test_no_sentence_of_the_code_says_one(self):
        rooms = ("rimcore", "garage", "shelf", "planner", "bench", "workshop", "proof", "manual", "exchange", "shell")
        texts = [(path, said) for path in tracked(*(f"{room}/**/*.py" for room in rooms)) for said in of_python(path)]
        self.assertGreater(len(texts), 3000)
        self.assertEqual(self.faults(texts), [])
