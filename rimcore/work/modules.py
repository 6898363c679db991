"""The list of modules: what is done to fit the parts of each family, and to move each lever."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from rimcore.work.modules_base import CornerHub, JobPlan, PartOn, before, settle, stage_torque_nm
from rimcore.work.modules_levers import alignment, axle_gears, crossmember, height, limiters, lip, rack
from rimcore.work.modules_parts import brakes, nuts, other, rings, spacers, studs, valves, wheels
from rimcore.work.steps import StepPlan

__all__ = ["MODULES", "OF_LEVER", "CornerHub", "JobPlan", "PartOn", "stage_torque_nm", "steps_of"]

Module = Callable[[JobPlan], list[StepPlan]]
#: what is done for each module that a family or a lever names, in working order
MODULES: Mapping[str, Module] = {
    "nuts": nuts, "valves": valves, "axle gears": axle_gears, "height": height, "brakes": brakes, "studs": studs, "lip": lip, "limiters": limiters, "rack": rack, "crossmember": crossmember,
    "wheels": wheels, "spacers": spacers, "rings": rings, "other": other, "alignment": alignment,
}  # fmt: skip
#: lever of a build -> modules
OF_LEVER: Mapping[str, Sequence[str]] = {
    "ride_drop_mm": ("height", "alignment"), "camber_deg": ("alignment",), "lip_rolled_mm": ("lip",), "lock_limit_deg": ("limiters",),
    "axle_ratio": ("axle gears",), "rack_forward_mm": ("rack", "alignment"), "rack_up_mm": ("rack", "alignment"), "rack_limit_mm": ("limiters",), "crossmember": ("crossmember", "alignment"),
}  # fmt: skip


def steps_of(job: JobPlan, names: Sequence[str]) -> list[StepPlan]:
    """Steps of some modules, in the order of the list of modules, each with its module's name; shared ones stand once a module."""
    found = [replace(step, module="before") for step in before(job)]
    for name, module in MODULES.items():
        if name in names:
            found += [replace(step, module=name) for step in module(job)]
    return found + [replace(step, module="settle") for step in settle(job)]
