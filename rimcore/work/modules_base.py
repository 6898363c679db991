"""What every job sheet has: the hubs, the parts, up on stands and wheels off, wheels on and settled.

Common practice throughout.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from rimcore.fastening.fasteners import stage_torques_nm
from rimcore.tables.facts import CORNER_NAMES
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_JACK,
    CAUTION_ROAD,
    CAUTION_TORQUE,
    Joint,
    StepPlan,
)


@dataclass(frozen=True)
class CornerHub:
    """The hub of one corner, as the sheet needs it. Torque in N·m; what is not known is None."""

    corner: str
    lugs: int | None
    full_nm: float | None
    thread: str = ""
    ring: str = ""
    grade: str = ""
    key_mm: float | None = None


@dataclass(frozen=True)
class PartOn:
    """A part of the build that is to be fitted: its family, name, specification, and the ends it goes on."""

    family: str
    name: str
    spec: Mapping[str, Any] = field(default_factory=dict)
    ends: tuple[str, ...] = ("F", "R")
    quantity: int = 1

    @property
    def where(self) -> str:
        """Its ends in words."""
        return "front and rear" if len(self.ends) > 1 else "front" if self.ends == ("F",) else "rear"


@dataclass(frozen=True)
class JobPlan:
    """What a sheet is made from: the hubs of the corners that are worked on, the parts, the levers that moved."""

    hubs: tuple[CornerHub, ...]
    parts: tuple[PartOn, ...] = ()
    #: lever code -> ends at which it moved
    levers: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    directional: bool = False
    #: items of the mass ledger that come out: label and name
    out: tuple[tuple[str, str], ...] = ()

    def of(self, *families: str) -> tuple[PartOn, ...]:
        """Its parts of some families."""
        return tuple(part for part in self.parts if part.family in families)

    @property
    def socket(self) -> str:
        """The socket of the wheel's nuts, with its size where a part says it."""
        size = next((part.spec["key_mm"] for part in self.of("nut", "bolt") if part.spec.get("key_mm")), None)
        size = size or next((hub.key_mm for hub in self.hubs if hub.key_mm), None)
        return f"deep socket {size:g} mm" if size else "deep socket"


def stage_torque_nm(full_nm: float | None, stage: str) -> float | None:
    """Figure of a stage, ``half`` or ``full`` [N·m]; None where the car's is not known.

    >>> stage_torque_nm(110.0, "half"), stage_torque_nm(None, "full")
    (55.0, None)
    """
    if full_nm is None:
        return None
    half, full = stage_torques_nm(full_nm)
    return half if stage == "half" else full


def before(job: JobPlan) -> list[StepPlan]:
    """What every job begins with."""
    return [
        StepPlan(
            "Before",
            "parts",
            "Lay out every part and compare it with the order",
            "Width, offset and bolt circle are stamped on the rim. A wrong part is a snag, not a surprise on the jack.",
            opens="parts",
        ),
        StepPlan(
            "Before",
            "photo",
            "Photograph each corner",
            "Square to the wheel, then along the body side.",
            opens="witness",
        ),
        StepPlan(
            "Before",
            "measure",
            "Measure what is still unmeasured on the wheels to be changed",
            "Car on its tyres, wheels straight.",
        ),
    ]


def wheels_off(job: JobPlan) -> list[StepPlan]:
    """Up on stands, wheels off: once, whatever needs it."""
    return [
        StepPlan(
            "Before",
            "do",
            "Firm level ground, hand brake on, in gear, wheels chocked",
            "",
            CAUTION_JACK,
            ("wheel chocks",),
            share="chocks",
        ),
        StepPlan(
            "Remove",
            "do",
            "Crack the nuts a quarter turn while the car stands on its tyres",
            "",
            "",
            ("breaker bar", job.socket),
            share="crack",
            gates=("parts",),
        ),
        StepPlan(
            "Remove",
            "do",
            "Jack at the maker's point, set the stands, shake the car",
            "It must not move on the stands.",
            CAUTION_JACK,
            ("trolley jack", "two stands"),
            share="stands",
            opens="support",
        ),
        StepPlan(
            "Remove",
            "do",
            "Wheel off; count the nuts into a bag; clean the hub's face and collar",
            "Look at the threads: a stripped or stretched stud is a snag.",
            CAUTION_BRAKE,
            ("wire brush",),
            share="wheels off",
            gates=("support", "witness"),
            salvage=("wheel nuts, counted into a bag",),
            consumables=("bags and labels",),
            opens="off",
        ),
    ]


def wheels_on(job: JobPlan) -> list[StepPlan]:
    """Wheels back on, tightened in two stages, the car settled: once, whatever took them off."""
    steps: list[StepPlan] = []
    for hub in job.hubs:
        steps += _mount(job, hub)
    steps += _tighten(job)
    return steps


def _mount(job: JobPlan, hub: CornerHub) -> list[StepPlan]:
    corner, where = hub.corner, CORNER_NAMES[hub.corner]
    ring = f"Ring {hub.ring}, solid, pressed home. " if hub.ring else ""
    arrow = (
        "The rotation arrow decides, not the chalk. "
        if job.directional
        else "Trust the rotation arrow, not the chalk. "
    )
    return [
        StepPlan(
            "Fit",
            "do",
            f"{where.capitalize()}: wheel on, every nut started by hand",
            ring + arrow + "Snug crosswise until the wheel sits flat.",
            corner=corner,
            tools=(job.socket,),
            share=f"wheel on {corner}",
            gates=("fitted",),
            opens=f"on {corner}",
        ),
        StepPlan(
            "Fit",
            "do",
            f"{where.capitalize()}: spin it and listen",
            "No touch, no wobble at the rim. A wheel that wobbles is not sitting on the hub.",
            corner=corner,
            share=f"spin {corner}",
            gates=(f"on {corner}",),
        ),
    ]


def _tighten(job: JobPlan) -> list[StepPlan]:
    """Every corner to half, then every corner to its full figure; what is not known of a hub is asked at its step."""
    stages = (
        ("half", "to half", "Tyre just touching the ground."),
        ("full", "to the full figure", "Car on its tyres."),
    )
    return [
        StepPlan(
            phase="Tighten",
            kind="torque",
            title=f"{CORNER_NAMES[hub.corner].capitalize()}: tighten crosswise {words}",
            detail=f"{stands} {hub.thread}".strip(),
            caution=CAUTION_TORQUE,
            tools=("torque wrench", job.socket),
            corner=hub.corner,
            torque_nm=stage_torque_nm(hub.full_nm, stage),
            stage=stage,
            lugs=hub.lugs,
            share=f"tighten {hub.corner} {stage}",
            gates=(f"on {hub.corner}",),
            joint=Joint(
                name="Wheel nuts",
                count=hub.lugs,
                torque_nm=stage_torque_nm(hub.full_nm, stage),
                angle_deg=None,
                thread=hub.thread,
                grade=hub.grade,
                one_use=False,
                crosswise=True,
                source="the car's hub data",
            ),
        )
        for stage, words, stands in stages
        for hub in job.hubs
    ]


def settle(job: JobPlan) -> list[StepPlan]:
    """What every job with wheels off ends with."""
    steps = [
        StepPlan(
            "Settle",
            "do",
            "Lower the car, roll it two metres forth and back",
            "Settled on its tyres, wheels straight.",
            opens="settled",
        ),
        StepPlan(
            "Settle",
            "do",
            "Full lock each way, standing, a helper watching",
            "Nothing may touch. A touch is a snag: say where and when.",
            CAUTION_ROAD,
            ("a helper",),
            helpers=1,
            gates=("settled",),
        ),
    ]
    steps += [
        StepPlan(
            "Settle",
            "measure",
            f"{CORNER_NAMES[hub.corner].capitalize()}: measure the gaps again",
            "The same stations as before: what was promised is held against it.",
            corner=hub.corner,
            gates=("settled",),
            share=f"gaps {hub.corner}",
        )
        for hub in job.hubs
    ]
    steps.append(
        StepPlan("Settle", "do", "Count what was bagged back: no nut, clip or shim is left over", share="count back")
    )
    steps.append(
        StepPlan(
            "Settle",
            "do",
            "Note the odometer: the nuts come due after 80 km and again after 800 km",
            "Common practice.",
        )
    )
    return steps
