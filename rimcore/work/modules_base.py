"""What every job sheet has: the hubs, the parts, up on stands and wheels off, wheels on, down and settled.

Common practice throughout. Longer than other files: it is one list of steps.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
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
    tightened,
    work,
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

    @property
    def name(self) -> str:
        """Its corner, as a step begins.

        >>> CornerHub("FL", 5, None).name
        'Front left'
        """
        return CORNER_NAMES[self.corner].capitalize()


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
        return ends_text(self.ends)


def ends_text(ends: Sequence[str]) -> str:
    """Ends of the car in words.

    >>> ends_text(("F", "R")), ends_text(("R",))
    ('front and rear', 'rear')
    """
    return "front and rear" if len(ends) > 1 else "front" if tuple(ends) == ("F",) else "rear"


@dataclass(frozen=True)
class Again:
    """What is looked at again after the job, by distance [km] or by days, as its parts say."""

    what: str
    after_km: int | None = None
    after_days: int | None = None
    after_track_days: int | None = None


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
    #: what the parts that are fitted want looked at again
    again: tuple[Again, ...] = ()

    def of(self, *families: str) -> tuple[PartOn, ...]:
        """Its parts of some families."""
        return tuple(part for part in self.parts if part.family in families)

    def names(self, *families: str) -> str:
        """Names of its parts of some families, in words."""
        return ", ".join(dict.fromkeys(part.name for part in self.of(*families)))

    def ends(self, families: Iterable[str] = (), levers: Iterable[str] = ()) -> tuple[str, ...]:
        """Ends that parts of some families go on, or some levers moved at, front first."""
        found = {end for part in self.of(*families) for end in part.ends}
        found |= {end for code in levers for end in self.levers.get(code, ())}
        return tuple(end for end in ("F", "R") if end in found)

    def at(self, ends: Sequence[str]) -> tuple[CornerHub, ...]:
        """Its hubs at some ends."""
        return tuple(hub for hub in self.hubs if hub.corner[:1] in ends)

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


#: what is held against the order of a module's parts: one sentence each
LAID_OUT = {
    "wheels": "Width, offset and bolt circle are stamped on the rim.",
    "brakes": "Hats of the discs front and rear, vanes left and right; bleed screws end up on top.",
    "springs": "Left and right, front and rear are marked on springs and dampers.",
    "arms": "Left and right, upper and lower; tapers and bolts against the old ones.",
    "intake": "Bores and ends of every piece.",
    "exhaust": "Bores, flanges and sides of every piece.",
    "radiator": "Necks, brackets and the side they are on.",
    "axle gears": "Ratio and part of each half of the pair.",
}
#: what is photographed before a module's work begins
WITNESS = {
    "wheels": "each corner, square to the wheel, then along the body side",
    "brakes": "caliper, hose and pads at each corner",
    "springs": "top mounts, seats and lines as they are",
    "height": "top mounts, seats and lines as they are",
    "arms": "cams and washers as they stand",
    "bar": "links and brackets of the bar",
    "leaves": "plates, pins and hoses at the axle",
    "rods": "rods, boots and how far their ends are screwed in",
    "rack": "mounts, shaft and lines of the rack",
    "crossmember": "marks of the crossmember, lines and earth straps",
    "subframe": "marks of the crossmember, lines and earth straps",
    "mounts": "engine and gearbox where they stand",
    "bearings": "hub, ring and sensor of each corner",
    "hoses": "every hose, its brackets and its turn",
    "steering lines": "hoses of the steering and their brackets",
    "intake": "the old run, every clamp, and where each cable and hose lies",
    "exhaust": "the old run, every joint and hanger",
    "radiator": "hoses, brackets and the fan's plug",
    "shifter": "lever, gaiter and trim",
    "panel": "the floor, drain plugs and jacking points",
    "splitter": "the bumper's lower edge and its fixings",
    "propshaft": "flanges and centre bearing of the propshaft",
    "driveshafts": "how each driveshaft sits, and its sensor",
    "outside": "the place it goes on, from straight ahead and from the side",
    "strip": "plugs and clips before they are parted",
    "seats": "the seat's plugs and the belt's way",
    "battery": "the clamp and both leads",
}
#: modules after which the gaps at the wheel are other ones
OF_THE_WELL = frozenset(
    {
        "wheels",
        "spacers",
        "springs",
        "height",
        "leaves",
        "lip",
        "brakes",
        "arms",
        "limiters",
        "rack",
        "rods",
        "subframe",
    }
)


def opening(job: JobPlan, names: Sequence[str]) -> list[StepPlan]:
    """What a job begins with: parts held against the order, what is photographed, what is still unmeasured."""
    steps = []
    if job.parts:
        said = [LAID_OUT[name] for name in names if name in LAID_OUT]
        steps.append(
            work(
                "Before",
                "Lay out every part and compare it with the order",
                " ".join([*said, "A wrong part is a snag, not a surprise with the car apart."]),
                kind="parts",
                opens="parts",
            )
        )
    seen = list(dict.fromkeys(WITNESS[name] for name in names if name in WITNESS))
    if seen:
        steps.append(
            work("Before", "Photographs before anything is loosened", _sentences(seen), kind="photo", opens="witness")
        )
    if job.hubs and OF_THE_WELL & set(names):
        steps.append(
            work(
                "Before",
                "Measure what is still unmeasured at the wheels",
                "Car on its tyres, wheels straight.",
                kind="measure",
            )
        )
    return steps


def _sentences(words: Sequence[str]) -> str:
    return " ".join(f"{one[:1].upper()}{one[1:]}." for one in words)


def on_stands() -> list[StepPlan]:
    """Up on stands: once, whatever needs it.

    >>> [step.share for step in on_stands()]
    ['chocks', 'stands', 'car down']
    """
    return [
        work(
            "Before",
            "Firm level ground, hand brake on, in gear, wheels chocked",
            caution=CAUTION_JACK,
            tools=("wheel chocks",),
            share="chocks",
        ),
        work(
            "Remove",
            "Jack at the maker's point, set the stands, shake the car",
            "It must not move on the stands.",
            caution=CAUTION_JACK,
            tools=("trolley jack", "two stands"),
            share="stands",
            opens="support",
            does=("support",),
        ),
        car_down(),
    ]


def car_down() -> StepPlan:
    """Down on its tyres: once.

    >>> car_down().does
    ('down',)
    """
    return work(
        "Tighten",
        "Car down on its tyres; jack and stands away",
        "Nothing left under it.",
        caution=CAUTION_JACK,
        tools=("trolley jack",),
        share="car down",
        opens="ground",
        does=("down",),
    )


def wheels_off(job: JobPlan) -> list[StepPlan]:
    """Up on stands, wheels off: once, whatever needs it.

    >>> [step.phase for step in wheels_off(JobPlan(()))]
    ['Before', 'Remove', 'Remove', 'Remove', 'Tighten']
    """
    chocks, stands, down = on_stands()
    return [
        chocks,
        work(
            "Remove",
            "Crack the nuts a quarter turn while the car stands on its tyres",
            tools=("breaker bar", job.socket),
            share="crack",
            gates=("parts",),
        ),
        stands,
        work(
            "Remove",
            "Wheels off; count the nuts into a bag; clean each hub's face and collar",
            "Look at the threads: a stripped or stretched stud is a snag.",
            caution=CAUTION_BRAKE,
            tools=("wire brush",),
            share="wheels off",
            gates=("support", "witness"),
            salvage=("wheel nuts, counted into a bag",),
            consumables=("bags and labels",),
            opens="off",
        ),
        down,
    ]


def wheels_on(job: JobPlan) -> list[StepPlan]:
    """Wheels back on by hand, down, tightened crosswise in two stages: once, whatever took them off."""
    steps: list[StepPlan] = []
    for hub in job.hubs:
        steps += _mount(job, hub)
    return [*steps, *_tighten(job, "half", "to half"), car_down(), *_tighten(job, "full", "to the full figure")]


def _mount(job: JobPlan, hub: CornerHub) -> list[StepPlan]:
    ring = f"Ring {hub.ring}, solid, pressed home. " if hub.ring else ""
    arrow = (
        "The rotation arrow decides, not the chalk. "
        if job.directional
        else "Trust the rotation arrow, not the chalk. "
    )
    return [
        work(
            "Fit",
            f"{hub.name}: wheel on, every nut started by hand",
            ring + arrow + "Snug crosswise until the wheel sits flat.",
            corner=hub.corner,
            tools=(job.socket,),
            share=f"wheel on {hub.corner}",
            gates=("fitted",),
            opens=f"on {hub.corner}",
            does=("wheel on",),
            late=True,
        ),
        work(
            "Fit",
            f"{hub.name}: spin it and listen",
            "No touch, no wobble at the rim. A wheel that wobbles is not sitting on the hub.",
            corner=hub.corner,
            share=f"spin {hub.corner}",
            gates=(f"on {hub.corner}",),
            late=True,
        ),
    ]


def _tighten(job: JobPlan, stage: str, words: str) -> list[StepPlan]:
    """Every corner at one stage; what is not known of a hub is asked at its step."""
    stands = "Tyre just touching the ground." if stage == "half" else "Car on its tyres."
    return [
        tightened(
            "Tighten",
            f"{hub.name}: tighten crosswise {words}",
            f"{stands} {hub.thread}".strip(),
            Joint(
                name="Wheel nuts",
                count=hub.lugs,
                torque_nm=stage_torque_nm(hub.full_nm, stage),
                thread=hub.thread,
                grade=hub.grade,
                crosswise=True,
                source="the car's hub data",
            ),
            tools=("torque wrench", job.socket),
            corner=hub.corner,
            torque_nm=stage_torque_nm(hub.full_nm, stage),
            stage=stage,
            lugs=hub.lugs,
            share=f"tighten {hub.corner} {stage}",
            gates=(f"on {hub.corner}", *(("ground",) if stage == "full" else ())),
            caution=CAUTION_TORQUE,
            does=("nuts full",) if stage == "full" else ("wheel on",),
        )
        for hub in job.hubs
    ]


def rolled() -> StepPlan:
    """The car rolled and settled: once, before anything is read again.

    >>> rolled().opens
    'settled'
    """
    return work(
        "Settle",
        "Roll the car two metres forth and back",
        "Settled on its tyres, wheels straight.",
        opens="settled",
        share="rolled",
        does=("rolled",),
    )


def locks() -> StepPlan:
    """Full lock each way before anything is driven."""
    return work(
        "Settle",
        "Full lock each way, standing, a helper watching",
        "Nothing may touch. A touch is a snag: say where and when.",
        caution=CAUTION_ROAD,
        helpers=1,
        gates=("settled",),
        share="locks",
    )


def closing(job: JobPlan, names: Sequence[str], wheels_were_off: bool, salvaged: bool) -> list[StepPlan]:
    """What a job ends with: locks and gaps where the well changed, what was bagged, what comes due and when."""
    steps: list[StepPlan] = []
    if wheels_were_off and OF_THE_WELL & set(names):
        steps += [
            work(
                "Settle",
                f"{hub.name}: measure the gaps again",
                "The same stations as before: what was predicted is checked against it.",
                kind="measure",
                corner=hub.corner,
                gates=("settled",),
                share=f"gaps {hub.corner}",
            )
            for hub in job.hubs
        ]
    if salvaged:
        steps.append(
            work(
                "Settle",
                "Count what was bagged back: nothing is left over",
                "No nut, clip or shim.",
                share="count back",
            )
        )
    again = due_text(job.again, wheels_were_off)
    if again:
        steps.append(work("Settle", "Note the odometer and the day: what comes due", again, share="odometer"))
    return steps


def due_text(again: Sequence[Again], wheels_were_off: bool) -> str:
    """What is looked at again, and after how far or how long.

    >>> due_text((Again("Seat bolts", 80),), False), due_text((), True)
    ('Seat bolts after 80 km. Common practice.', 'Wheel nuts after 80 km and again after 800 km. Common practice.')
    """
    found: dict[str, list[str]] = {}
    if wheels_were_off:
        found["Wheel nuts"] = ["80 km", "800 km"]
    for one in again:
        name = one.what.removesuffix(", re-torque")
        said = (
            f"{one.after_km} km"
            if one.after_km is not None
            else f"{one.after_days} day{'s' if one.after_days != 1 else ''}"
            if one.after_days is not None
            else f"{one.after_track_days} track day{'s' if one.after_track_days != 1 else ''}"
        )
        if said not in found.setdefault(name, []):
            found[name].append(said)
    if not found:
        return ""
    return " ".join(
        [*(f"{name} after {' and again after '.join(whens)}." for name, whens in found.items()), "Common practice."]
    )
