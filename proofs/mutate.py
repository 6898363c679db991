"""Mutants of the core: small faults put in at random, one at a time; the tests have to notice each.

    ./tally mutate [TOPIC] [MUTANTS] [SEED]

Works on a copy of the core in a temporary folder. A mutant is met only by the tests that run its line, quickest
first, and is killed by the first that fails. Lines that no test runs are survivors. Survivors are listed.
"""

from __future__ import annotations

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]

#: what is mutated, by topic
TOPICS: dict[str, tuple[str, ...]] = {
    "judging": (
        "well/judge/fitment.py",
        "well/judge/at_rest.py",
        "well/judge/rest_gaps.py",
        "well/judge/in_motion.py",
        "well/judge/ranges.py",
        "well/judge/ratings.py",
        "wheels/spacers.py",
        "well/read/obstacles.py",
        "well/judge/drags.py",
    ),
    "remedies": ("well/judge/remedies.py", "well/judge/trials.py"),
    "ranking": ("well/rank/rank.py", "well/rank/most.py"),
    "map": ("well/judge/wellmap.py", "well/judge/posegaps.py", "well/judge/bands.py", "well/judge/window.py"),
    "trials": ("well/judge/trialfit.py", "well/judge/sightings.py"),
    "tolerance": ("well/judge/tolerance.py", "quantities/judgement.py"),
    "template": ("well/draw/template.py",),
    "parts": (
        "parts/common.py",
        "parts/hubware.py",
        "parts/brakes.py",
        "parts/rolling.py",
        "parts/needs.py",
        "lines.py",
    ),
    "chassis": (
        "parts/sprung.py",
        "parts/damped.py",
        "parts/stopped.py",
        "parts/linked.py",
        "parts/barred.py",
        "parts/steered.py",
        "parts/leafed.py",
        "parts/hung.py",
        "parts/gives.py",
        "parts/against.py",
        "ride/heights.py",
    ),
    "jobs": (
        "work/steps.py",
        "work/cures.py",
        "work/removed.py",
        "work/quotes.py",
        "work/template.py",
        "work/ledger.py",
        "fastening/torques.py",
    ),
    "ride": (
        "ride/springs.py",
        "ride/links.py",
        "ride/curves.py",
        "ride/weights.py",
        "ride/points.py",
        "ride/plumb.py",
        "ride/bench.py",
        "ride/standing.py",
        "ride/framefit.py",
        "driveline/lift.py",
        "well/solid/follow.py",
        "well/solid/bylinks.py",
    ),
    "steering": ("steering/rack.py", "steering/setting.py", "steering/schools.py"),
    "breathing": (
        "breathing/air.py",
        "breathing/bill.py",
        "breathing/heard.py",
        "logs/tables.py",
        "breathing/meter.py",
        "breathing/power.py",
        "breathing/pulls.py",
        "breathing/runs.py",
        "breathing/sound.py",
        "breathing/spectra.py",
        "breathing/typed.py",
        "cooling/bleed.py",
        "cooling/boiling.py",
        "cooling/exchanger.py",
        "driveline/gearing.py",
        "parts/piped.py",
        "parts/cooling.py",
        "parts/turned.py",
    ),
    "mass": ("mass/ledger.py", "mass/listed.py", "mass/balance.py", "mass/lighten.py", "mass/drawing.py"),
    "air": (
        "aero/coastdown.py",
        "aero/coastlogs.py",
        "aero/panel.py",
        "aero/card.py",
        "aero/ramp.py",
        "aero/splitter.py",
        "aero/bench.py",
        "parts/aired.py",
    ),
    "walk": ("well/read/around.py", "well/read/repeats.py", "well/draw/scene_map.py"),
}

#: tests that take longer than this alone are left out: they draw at random and tell little of a single line [s]
SLOW_S = float(os.environ.get("TALLY_MUTATE_SLOW_S", "5"))
#: longest that the tests of one mutant may take [s]; a mutant that never ends is killed
LONGEST_S = 120.0

_COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE,
    ast.GtE: ast.Lt,
    ast.Gt: ast.LtE,
    ast.LtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
}
_RECKONED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
_CALLED = {
    "min": "max",
    "max": "min",
    "minimum": "maximum",
    "maximum": "minimum",
    "any": "all",
    "all": "any",
    "argmin": "argmax",
    "floor": "ceil",
    "ceil": "floor",
}


@dataclass(frozen=True)
class Mutant:
    """A fault: in which file and line, what it does, and the whole source with it."""

    file: str
    line: int
    what: str
    source: str


class _Places(ast.NodeVisitor):
    """Nodes that can be mutated, in order; annotations, docstrings and messages are left alone."""

    def __init__(self) -> None:
        self.found: list[ast.AST] = []

    def visit(self, node: ast.AST) -> None:
        if (
            isinstance(node, (ast.Compare, ast.BoolOp))
            or (isinstance(node, ast.BinOp) and type(node.op) in _RECKONED and not _text(node))
            or isinstance(node, ast.UnaryOp)
            and isinstance(node.op, (ast.Not, ast.USub))
            or _number(node)
            or _swapped(node)
        ):
            self.found.append(node)
        for name, value in ast.iter_fields(node):
            if name in ("annotation", "returns", "decorator_list") or isinstance(node, ast.JoinedStr):
                continue
            for child in value if isinstance(value, list) else [value]:
                if isinstance(child, ast.AST):
                    self.visit(child)


def _text(node: ast.BinOp) -> bool:
    sides = (node.left, node.right)
    return any(
        isinstance(side, (ast.JoinedStr, ast.Tuple, ast.List)) or isinstance(getattr(side, "value", None), str)
        for side in sides
    )


def _number(node: ast.AST) -> bool:
    return isinstance(node, ast.Constant) and isinstance(node.value, (bool, int, float))


def _swapped(node: ast.AST) -> bool:
    return isinstance(node, ast.Call) and _name(node) in _CALLED


def _name(call: ast.Call) -> str:
    return call.func.id if isinstance(call.func, ast.Name) else getattr(call.func, "attr", "")


def _fault(node: ast.AST, dice: random.Random) -> str:
    """Put a fault into a node; says which."""
    before = ast.unparse(node)
    if isinstance(node, ast.Compare):
        place = dice.randrange(len(node.ops))
        node.ops[place] = _COMPARED[type(node.ops[place])]()
    elif isinstance(node, ast.BoolOp):
        node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
    elif isinstance(node, ast.BinOp):
        node.op = _RECKONED[type(node.op)]()
    elif isinstance(node, ast.UnaryOp):
        node.op = ast.UAdd()
        if before.startswith("not"):
            node.operand = ast.Call(ast.Name("bool", ast.Load()), [node.operand], [])
    elif isinstance(node, ast.Constant):
        value = node.value
        node.value = (
            (not value)
            if isinstance(value, bool)
            else value + 1
            if isinstance(value, int)
            else value * 2
            if value
            else 1.0
        )
    elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
        node.func.id = _CALLED[node.func.id]
    elif isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
        node.func.attr = _CALLED[node.func.attr]
    return f"{before}  →  {ast.unparse(node)}"


def mutants(files: tuple[str, ...], count: int, seed: int) -> list[Mutant]:
    """So many random mutants over files of the core, every place at most once."""
    dice = random.Random(seed)
    places: list[tuple[str, ast.Module, int]] = []
    for file in files:
        tree = ast.parse((ROOT / "rimcore" / file).read_text())
        visitor = _Places()
        visitor.visit(tree)
        places += [(file, tree, place) for place in range(len(visitor.found))]
    dice.shuffle(places)
    return [_mutant(file, tree, place, dice) for file, tree, place in places[:count]]


def _mutant(file: str, tree: ast.Module, place: int, dice: random.Random) -> Mutant:
    changed = copy.deepcopy(tree)
    visitor = _Places()
    visitor.visit(changed)
    node = visitor.found[place]
    what = _fault(node, dice)
    return Mutant(file, getattr(node, "lineno", 0), what, ast.unparse(ast.fix_missing_locations(changed)))


class Tests:
    """Which tests run which line of the core, and how long each takes."""

    def __init__(self, work: Path, files: tuple[str, ...]) -> None:
        self.seconds: dict[str, float] = {}
        self.by_line: dict[tuple[str, int], set[str]] = {}
        listed = subprocess.run(
            [sys.executable, "-c", _TRACE, *files], cwd=work, capture_output=True, text=True, env=_environment(work)
        )
        if listed.returncode:
            raise SystemExit(listed.stderr[-3000:])
        for row in listed.stdout.splitlines():
            kind, _, rest = row.partition("\t")
            if kind == "left":
                print(f"left out, it fails here without any mutant: {rest}", flush=True)
            elif kind == "time":
                name, seconds = rest.split("\t")
                self.seconds[name] = float(seconds)
            elif kind == "line":
                file, line, name = rest.split("\t")
                self.by_line.setdefault((file, int(line)), set()).add(name)

    def of(self, mutant: Mutant) -> list[str]:
        """Tests that run a mutant's line, quickest first."""
        near = self.by_line.get((mutant.file, mutant.line), ())
        return sorted(
            (name for name in near if self.seconds.get(name, SLOW_S + 1) <= SLOW_S), key=lambda name: self.seconds[name]
        )


#: run in the copy: every test of the core by itself under a tracer of the mutated files
_TRACE = """
import sys, time, unittest
from pathlib import Path
import coverage
files = {str(Path.cwd() / "rimcore" / name): name for name in sys.argv[1:]}
tracer = coverage.Coverage(include=list(files), data_file=None)
tracer.start()
suite = unittest.defaultTestLoader.discover("rimcore", pattern="test_*.py", top_level_dir=".")
def each(suite):
    for one in suite:
        if isinstance(one, unittest.TestSuite):
            yield from each(one)
        else:
            yield one
names = []
for test in each(suite):
    tracer.switch_context(test.id())
    began = time.perf_counter()
    result = unittest.TestResult()
    test.run(result)
    if not result.wasSuccessful():
        print("left", test.id(), sep="\t")
        continue
    names.append(test.id())
    print("time", test.id(), time.perf_counter() - began, sep="\t")
tracer.stop()
data = tracer.get_data()
for path, name in files.items():
    for line, contexts in data.contexts_by_lineno(path).items():
        # A line that runs when the module is loaded is met by every test that runs the module at all.
        for test in names if "" in contexts else contexts:
            print("line", name, line, test, sep="\t")
"""


def _environment(work: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": str(work), "PYTHONDONTWRITEBYTECODE": "1", "OMP_NUM_THREADS": "1"}


#: run in a copy: for every line of test names a child that loads the core anew, as it stands in the copy, and runs them
_SERVER = """
import io, os, signal, sys, unittest
import hypothesis, numpy, scipy.optimize, scipy.stats
for line in sys.stdin:
    child = os.fork()
    if not child:
        signal.alarm(int(sys.argv[1]))
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        try:
            suite = unittest.defaultTestLoader.loadTestsFromNames(line.split())
            done = unittest.TextTestRunner(stream=io.StringIO(), failfast=True).run(suite)
            os._exit(0 if done.wasSuccessful() else 1)
        except BaseException:
            os._exit(1)
    print(os.waitpid(child, 0)[1], flush=True)
"""


class Copy:
    """A copy of the core with a process that runs tests on it; what all tests load from elsewhere is loaded once."""

    def __init__(self, work: Path) -> None:
        self.work = work
        self.process = subprocess.Popen(
            [sys.executable, "-c", _SERVER, str(int(LONGEST_S))],
            cwd=work,
            env=_environment(work),
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )

    def passes(self, tests: list[str]) -> bool:
        """Do these tests pass, in their order, on the core as it stands here?"""
        if self.process.stdin is None or self.process.stdout is None:
            raise RuntimeError("the process has its pipes")
        self.process.stdin.write(" ".join(tests) + "\n")
        self.process.stdin.flush()
        return self.process.stdout.readline().strip() == "0"

    def survives(self, mutant: Mutant, tests: list[str]) -> bool:
        """Do all tests of a mutant's line pass with it?"""
        if not tests:
            return True
        target = self.work / "rimcore" / mutant.file
        kept = target.read_text()
        target.write_text(mutant.source)
        try:
            return self.passes(tests)
        finally:
            target.write_text(kept)


def main(topic: str = "all", count: int = 200, seed: int = 20) -> int:
    if topic != "all" and topic not in TOPICS:
        print(f"There is no topic “{topic}”; accepted: all, {', '.join(TOPICS)}.")
        return 2
    files = tuple(file for name, some in TOPICS.items() if topic in ("all", name) for file in some)
    workers = max(1, int(os.environ.get("TALLY_MUTATE_PROCESSES", str(os.cpu_count() or 1))))
    with tempfile.TemporaryDirectory() as folder:
        works = [Path(folder, str(k)) for k in range(workers)]
        for one in works:
            for room in ("rimcore", "proofs"):
                shutil.copytree(ROOT / room, one / room, ignore=shutil.ignore_patterns("__pycache__"))
        began = time.perf_counter()
        tests = Tests(works[0], files)
        found = mutants(files, count, seed)
        print(
            f"{len(found)} mutants of {len(files)} files, {len(tests.seconds)} tests, {time.perf_counter() - began:.0f} s to trace",
            flush=True,
        )
        free = [Copy(work) for work in works]

        def met(mutant: Mutant) -> bool:
            some = free.pop()
            try:
                lives = some.survives(mutant, tests.of(mutant))
            finally:
                free.append(some)
            print("." if not lives else f"\nlives  {mutant.file}:{mutant.line}  {mutant.what}\n", end="", flush=True)
            return lives

        with ThreadPoolExecutor(workers) as pool:
            alive = [mutant for mutant, lives in zip(found, pool.map(met, found), strict=True) if lives]
        for one in free:
            one.process.kill()
    print(
        "\n\nsurvivors\n"
        + "\n".join(
            f"  {one.file}:{one.line}  {one.what}" for one in sorted(alive, key=lambda one: (one.file, one.line))
        )
    )
    killed = len(found) - len(alive)
    print(
        f"{killed} of {len(found)} killed, {100 * killed / max(1, len(found)):.1f} %, {time.perf_counter() - began:.0f} s, seed {seed}"
    )
    return 0 if killed >= 0.9 * len(found) else 1


if __name__ == "__main__":
    words = sys.argv[1:]
    sys.exit(main(words[0] if words else "all", *(int(word) for word in words[1:])))
