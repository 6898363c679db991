"""The list of modules: what is done to fit the parts of each family, and to move each lever."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from rimcore.work.modules_base import (
    OF_THE_WELL,
    Again,
    CornerHub,
    JobPlan,
    PartOn,
    closing,
    locks,
    opening,
    rolled,
    stage_torque_nm,
)
from rimcore.work.modules_body import ballast, battery, outside, panel, seats, splitter, strip
from rimcore.work.modules_chassis import arms, bar, joints, springs
from rimcore.work.modules_engine import exhaust, intake, radiator, shifter, tuning
from rimcore.work.modules_fluids import (
    bearings,
    driveshafts,
    fluids,
    mounts,
    propshaft,
    steering_lines,
    subframe,
)
from rimcore.work.modules_levers import alignment, axle_gears, crossmember, height, limiters, lip, rack
from rimcore.work.modules_parts import brakes, nuts, other, rings, spacers, studs, valves, wheels
from rimcore.work.modules_running import hoses, leaves, rods, weights
from rimcore.work.steps import StepPlan

__all__ = ["MODULES", "OF_LEVER", "Again", "CornerHub", "JobPlan", "PartOn", "stage_torque_nm", "steps_of"]

Module = Callable[[JobPlan], list[StepPlan]]
#: what is done for each module that a family or a lever names, in working order
MODULES: Mapping[str, Module] = {
    "nuts": nuts,
    "valves": valves,
    "axle gears": axle_gears,
    "driveshafts": driveshafts,
    "propshaft": propshaft,
    "height": height,
    "springs": springs,
    "leaves": leaves,
    "arms": arms,
    "joints": joints,
    "bar": bar,
    "bearings": bearings,
    "brakes": brakes,
    "hoses": hoses,
    "studs": studs,
    "lip": lip,
    "limiters": limiters,
    "rods": rods,
    "rack": rack,
    "steering lines": steering_lines,
    "crossmember": crossmember,
    "subframe": subframe,
    "mounts": mounts,
    "wheels": wheels,
    "spacers": spacers,
    "rings": rings,
    "other": other,
    "alignment": alignment,
    "weights": weights,
    "panel": panel,
    "splitter": splitter,
    "outside": outside,
    "strip": strip,
    "seats": seats,
    "battery": battery,
    "ballast": ballast,
    "intake": intake,
    "tuning": tuning,
    "exhaust": exhaust,
    "radiator": radiator,
    "shifter": shifter,
    "fluids": fluids,
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
#: modules that take no wheel off
NO_WHEEL_OFF = frozenset(
    {
        "panel",
        "splitter",
        "outside",
        "propshaft",
        "strip",
        "seats",
        "battery",
        "ballast",
        "intake",
        "tuning",
        "exhaust",
        "radiator",
        "shifter",
        "mounts",
        "steering lines",
        "fluids",
        "other",
    }
)
#: modules that read the settled car even where no wheel came off
READ_SETTLED = frozenset({"alignment", "weights", "steering lines"})


def steps_of(job: JobPlan, names: Sequence[str]) -> list[StepPlan]:
    """Steps of some modules, in the order of the list of modules, each with its module's name.

    Shared ones stand once a module.
    """
    chosen = [name for name in MODULES if name in names]
    body = [replace(step, module=name) for name in chosen for step in MODULES[name](job)]
    off = any(step.share == "wheels off" for step in body)
    found = [replace(step, module="before") for step in opening(job, chosen)]
    if off or READ_SETTLED & set(chosen):
        found.append(replace(rolled(), module="settle"))
    if off and OF_THE_WELL & set(chosen) and not any(step.share == "lock and bump" for step in body):
        found.append(replace(locks(), module="settle"))
    salvaged = any(step.salvage for step in body)
    return found + body + [replace(step, module="settle") for step in closing(job, chosen, off, salvaged)]
