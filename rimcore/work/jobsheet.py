"""The job sheet of a change of wheels: steps in working order, cautions at the step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.fastening.fasteners import crosswise_order, pound_feet, stage_torques_nm
from rimcore.well.stations import CORNER_NAMES

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
    #: nuts of a torque step; None where nobody counted them
    lugs: int | None = None


@dataclass(frozen=True)
class CornerHub:
    """The hub of one corner, as the sheet needs it. Torque in N·m; what is not known is None."""

    corner: str
    lugs: int | None
    full_nm: float | None
    thread: str = ""
    ring: str = ""


@dataclass(frozen=True)
class WheelJob:
    """What the sheet is made from: the corners to be done, each with its own hub."""

    hubs: tuple[CornerHub, ...]
    directional: bool = False


def wheel_job(job: WheelJob) -> tuple[StepPlan, ...]:
    """Steps of a change of wheels and tyres.

    Source: common practice throughout; the torque is the car's own figure.

    >>> steps = wheel_job(WheelJob((CornerHub("FL", 5, 110.0), CornerHub("RL", 4, None))))
    >>> [(step.corner, step.lugs, step.torque_nm) for step in steps if step.kind == "torque"]
    [('FL', 5, 55.0), ('RL', 4, None), ('FL', 5, 110.0), ('RL', 4, None)]
    """
    steps = [*_before(), *_trial(job)]
    for hub in job.hubs:
        steps += _mount(job, hub)
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


def _mount(job: WheelJob, hub: CornerHub) -> list[StepPlan]:
    corner = hub.corner
    ring = f"Ring {hub.ring}, solid, pressed home. " if hub.ring else ""
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
    """Every corner to half, then every corner to its full figure; what is not known of a hub is asked at its step."""
    stages = (("half", "to half", "Tyre just touching the ground."), ("full", "to the full figure", "Car on its tyres."))
    return [
        StepPlan(
            "Tighten",
            "torque",
            f"{CORNER_NAMES[hub.corner].capitalize()}: tighten crosswise {words}",
            f"{stands} {hub.thread}".strip(),
            CAUTION_TORQUE,
            ("torque wrench",),
            hub.corner,
            stage_torque_nm(hub.full_nm, stage),
            stage,
            hub.lugs,
        )
        for stage, words, stands in stages
        for hub in job.hubs
    ]


def stage_torque_nm(full_nm: float | None, stage: str) -> float | None:
    """Figure of a stage, ``half`` or ``full`` [N·m]; None where the car's is not known.

    >>> stage_torque_nm(110.0, "half"), stage_torque_nm(None, "full")
    (55.0, None)
    """
    if full_nm is None:
        return None
    half, full = stage_torques_nm(full_nm)
    return half if stage == "half" else full


def not_known(lugs: int | None, torque_nm: float | None) -> tuple[str, ...]:
    """What nobody has said of a hub that is to be tightened.

    >>> not_known(None, 110.0)
    ('how many nuts or bolts it has',)
    """
    wanted = {"how many nuts or bolts it has": lugs, "the torque of the car's handbook": torque_nm}
    return tuple(name for name, value in wanted.items() if value is None)


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
        for corner in (hub.corner for hub in job.hubs)
    ]
    steps.append(
        StepPlan("Settle", "do", "Weigh the old wheels with their tyres, label where each stood, store them lying down", "", "", ("scale",))
    )
    steps.append(StepPlan("Settle", "do", "Note the odometer: the nuts come due after 80 km and again after 800 km", "Common practice."))
    return steps


def tools_of(steps: Sequence[StepPlan]) -> tuple[str, ...]:
    """Every tool of a sheet once, in the order of first use.

    >>> tools_of(wheel_job(WheelJob((CornerHub("FL", 5, 110.0),))))[0]
    'wheel chocks'
    """
    return tuple(dict.fromkeys(tool for step in steps for tool in step.tools))
