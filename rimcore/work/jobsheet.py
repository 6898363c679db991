"""A job sheet composed of modules: shared removals once, order by gates, cautions at the step."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rimcore.fastening.fasteners import crosswise_order, pound_feet, stage_torques_nm
from rimcore.work.modules import MODULES, OF_LEVER, CornerHub, JobPlan, PartOn, stage_torque_nm, steps_of
from rimcore.work.steps import StepPlan, composed, tools_of

__all__ = [
    "MODULES",
    "CornerHub",
    "JobPlan",
    "PartOn",
    "StepPlan",
    "job_sheet",
    "modules_of",
    "not_known",
    "stage_torque_nm",
    "tightening",
    "tools_of",
]


def modules_of(job: JobPlan, of_family: Mapping[str, Sequence[str]]) -> tuple[str, ...]:
    """Modules that parts and levers of a job call for, in working order.

    Parameters
    ----------
    of_family : family -> its modules

    >>> modules_of(JobPlan((), (PartOn("ring", "Ring"),), {"ride_drop_mm": ("F",)}), {"ring": ("rings",)})
    ('height', 'rings', 'alignment')
    """
    wanted = {name for part in job.parts for name in of_family.get(part.family, ())}
    wanted |= {name for lever in job.levers for name in OF_LEVER.get(lever, ())}
    if not wanted and job.parts:
        # What goes on with other parts is fitted by itself where there are none.
        wanted = {"other"}
    return tuple(name for name in MODULES if name in wanted)


def job_sheet(job: JobPlan, modules: Sequence[str]) -> tuple[StepPlan, ...]:
    """Steps of a job. Source: common practice throughout; torques are the car's or the makers' own figures.

    >>> steps = job_sheet(JobPlan((CornerHub("FL", 5, 110.0), CornerHub("RL", 4, None))), ("wheels",))
    >>> [(step.corner, step.lugs, step.torque_nm) for step in steps if step.kind == "torque"]
    [('FL', 5, 55.0), ('RL', 4, None), ('FL', 5, 110.0), ('RL', 4, None)]
    """
    return composed(steps_of(job, modules))


def tightening(lugs: int, full_nm: float) -> list[tuple[int, str, float, float]]:
    """Every pull in order: (lug, stage, N·m, lbf·ft).

    >>> [row[:2] for row in tightening(4, 100)][:5]
    [(1, 'half'), (3, 'half'), (2, 'half'), (4, 'half'), (1, 'full')]
    """
    rows = []
    for stage, torque in zip(("half", "full"), stage_torques_nm(full_nm), strict=True):
        rows += [(lug, stage, torque, pound_feet(torque)) for lug in crosswise_order(lugs)]
    return rows


def not_known(lugs: int | None, torque_nm: float | None) -> tuple[str, ...]:
    """What nobody has said of a hub that is to be tightened.

    >>> not_known(None, 110.0)
    ('how many nuts or bolts it has',)
    """
    wanted = {"how many nuts or bolts it has": lugs, "the torque of the car's handbook": torque_nm}
    return tuple(name for name, value in wanted.items() if value is None)


@dataclass(frozen=True)
class Counter:
    """How much removal a sheet saves: steps asked for by modules, and steps that are left."""

    asked: int
    left: int


def saved(job: JobPlan, modules: Sequence[str]) -> Counter:
    """Steps that several modules share and that are done once.

    >>> plan = JobPlan((CornerHub("FL", 5, 110.0),), (PartOn("stud", "Studs"), PartOn("rotor", "Rotors")))
    >>> found = saved(plan, ("studs", "brakes"))
    >>> found.asked - found.left
    11
    """
    return Counter(len(steps_of(job, modules)), len(job_sheet(job, modules)))
