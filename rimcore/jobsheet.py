"""The job sheet of a change of wheels: steps in working order, cautions at the step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.fasteners import crosswise_order, pound_feet, stage_torques_nm
from rimcore.stations import CORNER_NAMES

LOCAL = "Local codes and licensed practice decide."
CAUTION_JACK = "Jacks and stands on firm, level ground. Never under a car that stands on a jack."
CAUTION_TORQUE = "Wheels on the ground before the full figure. A wrench, not the impact gun."
CAUTION_ROAD = f"Protrusion, spacers and tyre size are regulated: check local law, inspection body and insurer. {LOCAL}"
CAUTION_BRAKE = f"Never hang a caliper by its hose. Brake work needs a licensed inspection where that is required. {LOCAL}"


@dataclass(frozen=True)
class StepPlan:
    """One step. ``kind`` is do, parts, trial, torque, measure or photo; torque steps carry the figure [N·m]."""

    phase: str
    kind: str
    title: str
    detail: str = ""
    caution: str = ""
    tools: tuple[str, ...] = ()
    corner: str = ""
    torque_nm: float | None = None
    stage: str = ""


@dataclass(frozen=True)
class WheelJob:
    """What the sheet is made from. Torque in N·m, None where the car's figure is not known."""

    corners: tuple[str, ...]
    lugs: int
    full_nm: float | None
    thread: str = ""
    ring: str = ""
    directional: bool = False


def wheel_job(job: WheelJob) -> tuple[StepPlan, ...]:
    """Steps of a change of wheels and tyres.

    Source: common practice throughout; the torque is the car's own figure.

    >>> steps = wheel_job(WheelJob(("FL", "FR"), 5, 110.0))
    >>> [step.torque_nm for step in steps if step.kind == "torque" and step.corner == "FL"]
    [55.0, 110.0]
    """
    steps = [*_before(), *_trial(job)]
    for corner in job.corners:
        steps += _mount(job, corner)
    steps += _tighten(job)
    return tuple(steps + _after(job))


def tightening(lugs: int, full_nm: float) -> list[tuple[int, str, float, float]]:
    """Every pull in order: (lug, stage, N·m, lbf·ft).

    >>> [row[:2] for row in tightening(4, 100)][:5]
    [(1, 'half'), (3, 'half'), (2, 'half'), (4, 'half'), (1, 'full')]
    """
    rows = []
    for stage, torque in zip(("half", "full"), stage_torques_nm(full_nm), strict=True):
        rows += [(lug, stage, torque, pound_feet(torque)) for lug in crosswise_order(lugs)]
    return rows


def _before() -> list[StepPlan]:
    return [
        StepPlan(
            "Before",
            "parts",
            "Lay out every part and compare it with the order",
            "Width, offset and bolt circle are stamped on the rim. A wrong part is a snag, not a surprise on the jack.",
        ),
        StepPlan("Before", "photo", "Photograph each corner", "Square to the wheel, then along the body side."),
        StepPlan("Before", "measure", "Measure what is still unmeasured on the wheels to be changed", "Car on its tyres, wheels straight."),
    ]


def _trial(job: WheelJob) -> list[StepPlan]:
    fit_tools = ("bare rim", "card 3 mm thick", "torch")
    return [
        StepPlan("Trial fit", "do", "Firm level ground, hand brake on, in gear, wheels chocked", "", CAUTION_JACK, ("wheel chocks",)),
        StepPlan(
            "Trial fit", "do", "Crack the nuts a quarter turn while the car stands on its tyres", "", "", ("breaker bar", "deep socket")
        ),
        StepPlan(
            "Trial fit",
            "do",
            "Jack at the maker's point, set the stands, shake the car",
            "It must not move on the stands.",
            CAUTION_JACK,
            ("trolley jack", "two stands"),
        ),
        StepPlan(
            "Trial fit",
            "do",
            "Wheel off; count the nuts into a bag; clean the hub's face and collar",
            "Look at the threads: a stripped or stretched stud is a snag.",
            CAUTION_BRAKE,
            ("wire brush",),
        ),
        StepPlan(
            "Trial fit",
            "trial",
            "Bare rim first: on by hand, flat on the hub, turned once",
            "Before paying for tyres: over the collar, flat on the face, card between caliper and barrel and between caliper and spokes all the way round.",
            "",
            fit_tools,
        ),
    ]


def _mount(job: WheelJob, corner: str) -> list[StepPlan]:
    ring = f"Ring {job.ring}, solid, pressed home. " if job.ring else ""
    arrow = "The rotation arrow decides, not the chalk. " if job.directional else "Trust the rotation arrow, not the chalk. "
    where = CORNER_NAMES[corner]
    return [
        StepPlan(
            "Fit",
            "do",
            f"{where.capitalize()}: wheel on, every nut started by hand",
            ring + arrow + "Snug crosswise until the wheel sits flat.",
            corner=corner,
            tools=("deep socket",),
        ),
        StepPlan(
            "Fit",
            "do",
            f"{where.capitalize()}: spin it and listen",
            "No touch, no wobble at the rim. A wheel that wobbles is not sitting on the hub.",
            corner=corner,
        ),
    ]


def _tighten(job: WheelJob) -> list[StepPlan]:
    if job.full_nm is None:
        return [
            StepPlan(
                "Tighten",
                "do",
                "Find the car's figure for the wheel nuts and tighten crosswise, half first, then full",
                "The figure is not in the hub's data.",
                CAUTION_TORQUE,
                ("torque wrench",),
            )
        ]
    half, full = stage_torques_nm(job.full_nm)
    steps = []
    for corner in job.corners:
        where = CORNER_NAMES[corner]
        steps.append(
            StepPlan(
                "Tighten",
                "torque",
                f"{where.capitalize()}: tighten crosswise to half",
                f"Tyre just touching the ground. {job.thread}".strip(),
                CAUTION_TORQUE,
                ("torque wrench",),
                corner,
                half,
                "half",
            )
        )
    for corner in job.corners:
        where = CORNER_NAMES[corner]
        steps.append(
            StepPlan(
                "Tighten",
                "torque",
                f"{where.capitalize()}: tighten crosswise to the full figure",
                f"Car on its tyres. {job.thread}".strip(),
                CAUTION_TORQUE,
                ("torque wrench",),
                corner,
                full,
                "full",
            )
        )
    return steps


def _after(job: WheelJob) -> list[StepPlan]:
    steps = [
        StepPlan("Settle", "do", "Lower the car, roll it two metres forth and back", "Settled on its tyres, wheels straight."),
        StepPlan(
            "Settle",
            "do",
            "Full lock each way, standing, a helper watching",
            "Nothing may touch. A touch is a snag: say where and when.",
            CAUTION_ROAD,
            ("a helper",),
        ),
    ]
    steps += [
        StepPlan(
            "Settle",
            "measure",
            f"{CORNER_NAMES[corner].capitalize()}: measure the gaps again",
            "The same stations as before: what was promised is held against it.",
            corner=corner,
        )
        for corner in job.corners
    ]
    steps.append(
        StepPlan("Settle", "do", "Weigh the old wheels with their tyres, label where each stood, store them lying down", "", "", ("scale",))
    )
    steps.append(StepPlan("Settle", "do", "Note the odometer: the nuts come due after 80 km and again after 800 km", "Common practice."))
    return steps


def tools_of(steps: Sequence[StepPlan]) -> tuple[str, ...]:
    """Every tool of a sheet once, in the order of first use.

    >>> tools_of(wheel_job(WheelJob(("FL",), 5, 110.0)))[0]
    'wheel chocks'
    """
    return tuple(dict.fromkeys(tool for step in steps for tool in step.tools))
