"""The list of modules: what is done to fit the parts of each family, and to move each lever."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from rimcore.work.modules_base import CornerHub, JobPlan, PartOn, before, settle, stage_torque_nm
from rimcore.work.modules_body import ballast, battery, panel, seats, splitter, strip
from rimcore.work.modules_chassis import arms, bar, springs
from rimcore.work.modules_engine import engine_before, engine_settle, exhaust, intake, radiator, shifter, tuning
from rimcore.work.modules_levers import alignment, axle_gears, crossmember, height, limiters, lip, rack
from rimcore.work.modules_parts import brakes, nuts, other, rings, spacers, studs, valves, wheels
from rimcore.work.modules_running import hoses, leaves, rods, weights
from rimcore.work.steps import StepPlan

__all__ = ["MODULES", "OF_LEVER", "CornerHub", "JobPlan", "PartOn", "stage_torque_nm", "steps_of"]

Module = Callable[[JobPlan], list[StepPlan]]
#: what is done for each module that a family or a lever names, in working order
MODULES: Mapping[str, Module] = {
    "nuts": nuts,
    "valves": valves,
    "axle gears": axle_gears,
    "height": height,
    "springs": springs,
    "leaves": leaves,
    "arms": arms,
    "bar": bar,
    "brakes": brakes,
    "hoses": hoses,
    "studs": studs,
    "lip": lip,
    "limiters": limiters,
    "rods": rods,
    "rack": rack,
    "crossmember": crossmember,
    "wheels": wheels,
    "spacers": spacers,
    "rings": rings,
    "other": other,
    "alignment": alignment,
    "weights": weights,
    "panel": panel,
    "splitter": splitter,
    "strip": strip,
    "seats": seats,
    "battery": battery,
    "ballast": ballast,
    "intake": intake,
    "tuning": tuning,
    "exhaust": exhaust,
    "radiator": radiator,
    "shifter": shifter,
}
#: lever of a build -> modules
OF_LEVER: Mapping[str, Sequence[str]] = {
    "ride_drop_mm": ("height", "alignment"),
    "camber_deg": ("alignment",),
    "lip_rolled_mm": ("lip",),
    "lock_limit_deg": ("limiters",),
    "axle_ratio": ("axle gears",),
    "rack_forward_mm": ("rack", "alignment"),
    "rack_up_mm": ("rack", "alignment"),
    "rack_limit_mm": ("limiters",),
    "rack_spacer_mm": ("rods", "alignment"),
    "steer_arm_mm": ("rods", "alignment"),
    "rod_end_mm": ("rods", "alignment"),
    "rod_longer_mm": ("rods", "alignment"),
    "crossmember": ("crossmember", "alignment"),
    "perch_up_mm": ("height", "alignment"),
    "lower_mount_mm": ("height", "alignment"),
    "collar_mm": ("height", "alignment"),
    "even_weights": ("weights",),
    "strip_out": ("strip",),
}


#: modules that take no wheel off: a sheet of these alone begins and ends in its own way
NO_WHEEL_OFF = frozenset(
    {
        "panel",
        "splitter",
        "strip",
        "seats",
        "battery",
        "ballast",
        "intake",
        "tuning",
        "exhaust",
        "radiator",
        "shifter",
        "other",
    }
)


def steps_of(job: JobPlan, names: Sequence[str]) -> list[StepPlan]:
    """Steps of some modules, in the order of the list of modules, each with its module's name.

    Shared ones stand once a module.
    """
    alone = bool(names) and set(names) <= NO_WHEEL_OFF and set(names) != {"other"}
    found = [replace(step, module="before") for step in (engine_before() if alone else before(job))]
    for name, module in MODULES.items():
        if name in names:
            found += [replace(step, module=name) for step in module(job)]
    return found + [replace(step, module="settle") for step in (engine_settle() if alone else settle(job))]
