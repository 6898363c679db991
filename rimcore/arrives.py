"""What every family and every lever adds to a build: order, sheet, money, mass, hours and promises, as one table.

    python -m rimcore.arrives > docs/arrives.md

An empty cell has its reason.
"""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.benches import LEVERS
from rimcore.companions import ALONE, OF_LEVER, needs_of
from rimcore.families import FAMILIES
from rimcore.lines import parse_line
from rimcore.parts.declared import Place
from rimcore.parts.stood import Stood
from rimcore.proof.promised import KINDS
from rimcore.well.read.measured import Axle, Candidate
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel
from rimcore.work.hours import estimate
from rimcore.work.jobsheet import CornerHub, JobPlan, PartOn, job_sheet, modules_of

COLUMNS = ("order", "sheet", "money", "mass", "hours", "promises")
OF_FAMILY = {key: family.modules for key, family in FAMILIES.items()}
HUBS = tuple(CornerHub(corner, 5, 110.0) for corner in ("FL", "FR", "RL", "RR"))
#: levers that change how a gap is reckoned, or come with a part, and no work of their own
NO_WORK = {
    "spacer_mm": "the spacer is a part, and brings its own",
    "spacer_kind": "the spacer is a part, and brings its own",
    "stroke_moves": "it says how a gap is reckoned",
    "corner_drop_mm": "it is what the collars give",
}
#: families of which nothing is weighed
GRAMS = "grams, or as much comes out as goes in"


@dataclass(frozen=True)
class Arrives:
    """A family or a lever, and what it adds; a cell that adds nothing says why in brackets."""

    name: str
    order: str
    sheet: str
    money: str
    mass: str
    hours: str
    promises: str

    @property
    def cells(self) -> tuple[str, ...]:
        return tuple(getattr(self, column) for column in COLUMNS)


def rows() -> list[Arrives]:
    """Every family, then every lever.

    >>> found = {one.name: one for one in rows()}
    >>> found["brake disc"].order
    'itself; Brake pads for the new discs'
    """
    return [*(_family(key) for key in FAMILIES), *(_lever(code) for code in LEVERS)]


def _place() -> Place:
    fitted = Fitted(parse_wheel("17x8 +40 5x112 66.6"), parse_tyre("225/45R17"))
    hub = Hub(bore_mm=66.6)
    return Place(Axle(("FL", "FR"), fitted, hub, ()), Candidate(fitted), 5, stood=Stood())


def _family(key: str) -> Arrives:
    family = FAMILIES[key]
    spec = parse_line(family.example).spec
    needs = [need.name for need in needs_of(key, spec, _place()) if need.needed]
    ends = family.ends if len(family.ends) == 1 else ("F", "R")
    part = PartOn(key, family.name.capitalize(), spec, ends)
    plan = JobPlan(tuple(hub for hub in HUBS if hub.corner[0] in ends), (part,))
    if family.grams:
        mass = f"({GRAMS})"
    elif key in ("wheel", "tyre"):
        mass = "its own against what stood there"
    else:
        mass = "its own" if family.adds else "its change, asked with it"
    order = "; ".join(["itself", *(needs or [f"({ALONE[key]})" if key in ALONE else "(worth considering alone)"])])
    return _row(family.name, plan, order, "price of one × quantity, asked where not known", mass)


def _lever(code: str) -> Arrives:
    lever = LEVERS[code]
    name = lever.name[:1].lower() + lever.name[1:]
    if code in NO_WORK:
        why = f"({NO_WORK[code]})"
        return Arrives(name, *(why for _ in COLUMNS))
    ends = ("F",) if code.startswith(("rack_", "rod_", "steer_")) or code == "crossmember" else ("F", "R")
    plan = JobPlan(tuple(hub for hub in HUBS if hub.corner[0] in ends), levers={code: ends})
    needs = [need.name for need in OF_LEVER[code] if need.needed]
    mass = "what the ledger takes out" if code == "strip_out" else "(it moves, and weighs nothing)"
    money = "what it also needs" + ("; what each item costs to take out" if code == "strip_out" else "")
    return _row(name, plan, "; ".join(needs), money, mass)


def _row(name: str, plan: JobPlan, order: str, money: str, mass: str) -> Arrives:
    names = modules_of(plan, OF_FAMILY)
    steps = job_sheet(plan, names)
    found = estimate(plan, names, OF_FAMILY)
    moved = [kind.name.lower() for kind in KINDS if kind.moved_by is not None and kind.moved_by & set(names)]
    always = [kind.name.lower() for kind in KINDS if kind.moved_by is None]
    hours = f"{found.hours:g} h" if found.hours is not None else "(nobody has timed it; its own hours are asked)"
    return Arrives(
        name, order, f"{', '.join(names)}: {len(steps)} steps", money, mass, hours, ", ".join([*moved, *always])
    )


def table() -> str:
    """The table as a page of its own.

    >>> table().splitlines()[0]
    '# What arrives where'
    """
    head = [
        "# What arrives where",
        "",
        "What each family of parts and each lever adds to a build. Made by `python -m rimcore.arrives`; a test holds "
        "it to the code. What adds nothing says why, in brackets.",
        "",
        f"| | {' | '.join(COLUMNS)} |",
        f"|{' --- |' * (len(COLUMNS) + 1)}",
    ]
    return "\n".join([*head, *(f"| {one.name} | {' | '.join(one.cells)} |" for one in rows())]) + "\n"


if __name__ == "__main__":
    print(table(), end="")
