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
    "support": "the car stands on stands that were shaken",
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
    "ramp": "lip and slopes were held against each other",
    "drilled": "the holes are drilled",
    "bags": "bags, labels and scale are laid out",
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

    def as_dict(self) -> dict[str, Any]:
        """Plain form."""
        return asdict(self)


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
        **{"caution": CAUTION_TORQUE, "tools": ("torque wrench",), **more},
        stage="full",
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
    once: dict[str, StepPlan] = {}
    for place, step in enumerate(steps):
        key = step.share or f"#{place}"
        once[key] = merged(once[key], step) if key in once else step
    rows = list(once.values())
    left = sorted(range(len(rows)), key=lambda k: (PHASES.index(rows[k].phase), k))
    order: list[StepPlan] = []
    while left:
        opened = {rows[k].opens for k in left if rows[k].opens}
        ready = next((k for k in left if not (set(rows[k].gates) - {rows[k].opens}) & opened), None)
        if ready is None:
            raise ValueError(f"steps wait for each other: {', '.join(rows[k].title for k in left)}")
        order.append(rows[ready])
        left.remove(ready)
    return tuple(order)


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
    ('front left: the wheel is on by hand', 'the car stands on stands that were shaken')
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
