"""Steps of a job sheet: what is done, what it waits for, what it takes, and the joints that are tightened."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from rimcore.tables.facts import CORNER_NAMES

#: phases of a job in working order
PHASES = ("Before", "Remove", "Mock-up", "Fit", "Tighten", "Check", "Settle")
KINDS = ("do", "parts", "trial", "torque", "measure", "photo", "dip")

#: what a step may wait for, in words (common practice)
GATES = {
    "arrived": "every part of the sheet has arrived",
    "parts": "every part has arrived and was compared with the order",
    "witness": "positions are marked and photographed",
    "support": "the car is on stands, shake-tested",
    "cold": "brakes and exhaust are cold",
    "off": "the old parts are off",
    "mock-up": "the new parts were tried on",
    "fitted": "the new parts are on",
    "bolted": "the brackets are tightened",
    "spacers": "the spacers lie flat",
    "on": "the wheel is on by hand",
    "ground": "the car stands on its tyres",
    "drained": "the coolant is drained and caught",
    "loose": "everything hangs loose in its place",
    "aligned": "tips and hangers are aligned",
    "filled": "the system is filled",
    "gears": "all gears were rowed through",
    "tuned": "the meter is calibrated",
    "card": "the card lies as the panel will",
    "cut": "the sheet is cut",
    "ramp": "lip and slopes were checked against each other",
    "drilled": "the holes are drilled",
    "bags": "bags, labels and scale are laid out",
    "squared": "the crossmember is square by its marks",
    "settled": "the car was rolled and has settled",
}

LOCAL = "Local codes and licensed practice decide."
CAUTION_JACK = "Jacks and stands on firm, level ground. Never under a car that stands on a jack."
CAUTION_TORQUE = "Wheels on the ground before the full figure. A wrench, not the impact gun."
CAUTION_ROAD = f"Protrusion, spacers and tyre size are regulated: check local law, inspection body and insurer. {LOCAL}"
CAUTION_BRAKE = (
    f"Never hang a caliper by its hose. Brake work needs a licensed inspection where that is required. {LOCAL}"
)
CAUTION_SPRING = (
    f"A compressed spring stores lethal energy: the right compressor, hooks seated, nobody in line with it. {LOCAL}"
)
CAUTION_FLUID = "Brake fluid takes paint and skin; used fluids are collected and recycled."
CAUTION_PUBLIC = "Never test limits on public roads."


@dataclass(frozen=True)
class Joint:
    """A threaded joint: how many, how tight, and how it is known.

    Torque in N·m, angle in degrees; None is not known.
    """

    name: str
    count: int | None = None
    torque_nm: float | None = None
    angle_deg: float | None = None
    thread: str = ""
    grade: str = ""
    #: stretched once, never used again
    one_use: bool = False
    #: tightened crosswise
    crosswise: bool = False
    source: str = ""

    @property
    def not_known(self) -> tuple[str, ...]:
        """What nobody has said of it.

        >>> Joint("Caliper bolts", 2).not_known
        ('the torque of the maker or the handbook',)
        """
        wanted = {"how many there are": self.count, "the torque of the maker or the handbook": self.torque_nm}
        return tuple(name for name, value in wanted.items() if value is None)


@dataclass(frozen=True)
class StepPlan:
    """One step. ``kind`` is one of ``KINDS``; a torque step carries the figure [N·m] and its joint.

    ``gates`` are what it waits for, ``opens`` the gate it opens; steps of the same ``share`` are done once for all.
    """

    phase: str
    kind: str
    title: str
    detail: str = ""
    caution: str = ""
    tools: tuple[str, ...] = ()
    corner: str = ""
    torque_nm: float | None = None
    stage: str = ""
    #: fasteners of a torque step; None where nobody counted them
    lugs: int | None = None
    consumables: tuple[str, ...] = ()
    salvage: tuple[str, ...] = ()
    helpers: int = 0
    gates: tuple[str, ...] = ()
    opens: str = ""
    share: str = ""
    module: str = ""
    joint: Joint | None = None
    #: what it does to the car, for the order of hand work: names of ``ORDER``, with a fluid behind a colon
    does: tuple[str, ...] = ()
    #: it closes its phase: a wheel goes on after everything else that is fitted
    late: bool = False
    #: what is read at it: a station's code, with the corner where it has one, as ``ride_height FL``
    reads: tuple[str, ...] = ()

    def as_dict(self) -> dict[str, Any]:
        """Plain form."""
        return asdict(self)


#: hand work: what comes before what, at the same corner or where either is of the whole car (common practice)
ORDER = (
    ("support", "hub"),
    ("support", "under car"),
    ("spring freed", "arm off"),
    ("preload", "spring in"),
    ("hub", "wheel on"),
    ("spring in", "wheel on"),
    ("wheel on", "down"),
    ("under car", "down"),
    ("down", "nuts full"),
    ("down", "bush tight"),
    ("down", "rolled"),
    ("nuts full", "rolled"),
    ("bush tight", "rolled"),
    ("brakes bled", "rolled"),
    ("filler loose", "drain"),
    ("drain", "fill"),
    ("fill", "bleed"),
    ("tried", "cut"),
    ("engine carried", "mounts off"),
    ("steering locked", "shaft parted"),
    ("aligned", "locked"),
    ("aligned", "aligned again"),
)


def work(phase: str, title: str, detail: str = "", *, kind: str = "do", **more: Any) -> StepPlan:
    """A step by its names.

    >>> work("Fit", "Bar on", share="bar on").kind
    'do'
    """
    return StepPlan(phase, kind, title, detail, **more)


def tightened(phase: str, title: str, detail: str, joint: Joint, **more: Any) -> StepPlan:
    """A joint drawn to its full figure, which the person looks up.

    A torque wrench and its caution, and what else is said.

    >>> step = tightened("Fit", "Rack mounts", "", Joint("Rack mounts", None, source="the car's handbook"))
    >>> step.kind, step.stage, step.torque_nm, step.tools
    ('torque', 'full', None, ('torque wrench',))
    """
    return StepPlan(
        phase,
        "torque",
        title,
        detail,
        **{"caution": CAUTION_TORQUE, "tools": ("torque wrench",), "stage": "full", **more},
        joint=joint,
    )


def merged(first: StepPlan, other: StepPlan) -> StepPlan:
    """Two steps of one share as one: what both say, once.

    >>> a = StepPlan("Remove", "do", "Wheel off", "Bag the nuts.", tools=("socket",), share="off")
    >>> merged(a, StepPlan("Remove", "do", "Wheel off", "Look at the hose.", tools=("socket", "torch"), share="off")).detail
    'Bag the nuts. Look at the hose.'
    """

    def both(name: str) -> tuple[str, ...]:
        return tuple(dict.fromkeys((*getattr(first, name), *getattr(other, name))))

    def said(name: str) -> str:
        one, two = getattr(first, name), getattr(other, name)
        return one if two in one else f"{one} {two}".strip()

    return replace(
        first,
        detail=said("detail"),
        caution=said("caution"),
        tools=both("tools"),
        consumables=both("consumables"),
        salvage=both("salvage"),
        gates=both("gates"),
        does=both("does"),
        reads=both("reads"),
        late=first.late or other.late,
        helpers=max(first.helpers, other.helpers),
        opens=first.opens or other.opens,
        module=said("module") if other.module not in first.module.split() else first.module,
    )


def composed(steps: Iterable[StepPlan]) -> tuple[StepPlan, ...]:
    """Steps of several modules as one sheet.

    Shared ones once, each after what it waits for, else by phase and as they came.

    A step whose gate no step of the sheet opens waits for nothing that is on the sheet. Source: common practice.

    Raises
    ------
    ValueError : steps that wait for each other

    Examples
    --------
    >>> off = StepPlan("Remove", "do", "Wheel off", gates=("support",), share="off")
    >>> up = StepPlan("Before", "do", "Jack and stands", opens="support")
    >>> [step.title for step in composed([off, up, off])]
    ['Jack and stands', 'Wheel off']
    """
    rows = shared(steps)
    waits = _waits(rows)
    left = sorted(range(len(rows)), key=lambda k: (PHASES.index(rows[k].phase), rows[k].late, k))
    order: list[StepPlan] = []
    while left:
        ready = next((k for k in left if waits[k].isdisjoint(left)), None)
        if ready is None:
            raise ValueError(f"steps wait for each other: {', '.join(rows[k].title for k in left)}")
        order.append(rows[ready])
        left.remove(ready)
    return tuple(order)


def shared(steps: Iterable[StepPlan]) -> list[StepPlan]:
    """Steps of one share as one, in the order in which they came first."""
    once: dict[str, StepPlan] = {}
    for place, step in enumerate(steps):
        key = step.share or f"#{place}"
        once[key] = merged(once[key], step) if key in once else step
    return list(once.values())


def _waits(rows: Sequence[StepPlan]) -> list[set[int]]:
    """For each step the places of those that come before it: by its gates, and by the order of hand work."""
    openers: dict[str, list[int]] = {}
    marked: dict[str, list[int]] = {}
    for k, step in enumerate(rows):
        openers.setdefault(step.opens, []).append(k)
        for mark in step.does:
            marked.setdefault(mark, []).append(k)
    return [
        {k for gate in then.gates if gate and gate != then.opens for k in openers.get(gate, ()) if rows[k] is not then}
        | {
            k
            for mark in then.does
            for first in _first_of(mark)
            for k in marked.get(first, ())
            if rows[k] is not then and same_place(rows[k], then)
        }
        for then in rows
    ]


def _first_of(mark: str) -> list[str]:
    """Marks that come before a mark, of the same fluid or part.

    >>> _first_of("fill:axle"), _first_of("wheel on")
    (['drain:axle'], ['hub', 'spring in'])
    """
    name, colon, of = mark.partition(":")
    return [first + colon + of for first, then in ORDER if then == name]


def same_place(one: StepPlan, other: StepPlan) -> bool:
    """Are two steps at the same corner, or is one of them of the whole car?"""
    return not one.corner or not other.corner or one.corner == other.corner


def closed_gates(step: StepPlan, before: Sequence[tuple[StepPlan, bool]]) -> tuple[str, ...]:
    """Gates that a step waits for and that are not open yet: a step of the sheet that opens one is still to do.

    Parameters
    ----------
    before : every other step of the sheet, with whether it is done or passed over

    >>> up = StepPlan("Before", "do", "Stands", opens="support")
    >>> closed_gates(StepPlan("Remove", "do", "Wheel off", gates=("support",)), [(up, False)])
    ('support',)
    """
    shut = {other.opens for other, done in before if other.opens and not done}
    return tuple(gate for gate in step.gates if gate in shut)


def gate_text(gate: str) -> str:
    """A gate in words; one of a corner says so.

    >>> gate_text("on FL"), gate_text("support")
    ('front left: the wheel is on by hand', 'the car is on stands, shake-tested')
    """
    name, _, corner = gate.partition(" ")
    text = GATES.get(name, name)
    return f"{CORNER_NAMES[corner]}: {text}" if corner and corner in CORNER_NAMES else text


def tools_of(steps: Sequence[StepPlan]) -> tuple[str, ...]:
    """Every tool of a sheet once, in the order of first use.

    >>> tools_of([StepPlan("Fit", "do", "a", tools=("torch", "socket")), StepPlan("Fit", "do", "b", tools=("socket",))])
    ('torch', 'socket')
    """
    return tuple(dict.fromkeys(tool for step in steps for tool in step.tools))
