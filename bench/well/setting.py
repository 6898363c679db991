"""A setting of the bench: what the address says, and what the core makes of it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from garage.car.assemble import mount_on_list
from garage.car.parts import Tyre, Wheel
from garage.file import CarFile
from garage.inhand import in_hand
from planner.chosen import build_in_hand, candidate, chosen
from rimcore.well.judge.fitment import mount_of
from rimcore.well.read.measured import Candidate
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel as CoreWheel
from rimcore.wheels.wheel import same_rim
from shelf.assemble import camber_in, outline_known
from shelf.queries import tyres_of, wheels_of


@dataclass(frozen=True)
class Setting:
    """What is on the bench."""

    candidate: Candidate
    school: str
    wheel: Wheel | None
    values: dict[str, Any]


def start(file: CarFile, end: str, pick: Wheel | None, tyre: Tyre | None) -> dict[str, Any] | None:
    """Where the bench starts: the picked wheel, else the build in hand, else what stands on the car."""
    held = in_hand(file)
    build = build_in_hand(file)
    from_build = candidate(file, build, end) if build else None
    present = file.fitted(file.current, end)
    if present is None:
        return None
    fitted = from_build.fitted if from_build else present
    setting = held.end(end)
    chosen_wheel, _ = chosen(build, end) if build else (None, None)
    wheel: Any = pick or fitted.wheel
    size = tyre.size if tyre else fitted.tyre.size
    if not same_rim(parse_tyre(size).rim_diameter_in, wheel.diameter_in):
        size = next((t.size for t in tyres_of(file) if same_rim(t.rim_diameter_in, wheel.diameter_in)), size)
    used = pick or chosen_wheel
    return {
        "diameter": wheel.diameter_in,
        "width": wheel.width_in,
        "offset": wheel.offset_mm,
        "spacer": fitted.spacer_mm if pick is None else setting.spacer_mm,
        "tyre": size,
        "drop": setting.ride_drop_mm,
        "camber": camber_in(file, end, setting),
        "lock": setting.lock_limit_deg,
        "lip": setting.lip_rolled_mm,
        "stroke": setting.stroke_moves,
        "steer": 0.0,
        "travel": 0.0,
        "school": held.tolerance,
        "wheel": used.pk if used else None,
    }


def read(file: CarFile, end: str, values: dict[str, Any]) -> Setting:
    """The core's candidate of checked values; hub data come from the shortlisted wheel they started from."""
    held = in_hand(file)
    wheel = next((w for w in wheels_of(file) if w.pk == values.get("wheel")), None)
    if wheel is not None and not same_rim(wheel.diameter_in, values["diameter"]):
        wheel = None
    core = _core(file, end, values, wheel)
    listed = next((t for t in tyres_of(file) if t.size == values["tyre"]), None)
    section, profile = outline_known(file, end, listed, values["tyre"], core.width_in)
    fitted = file.tried(Fitted(core, parse_tyre(values["tyre"]), values["spacer"], values["camber"], section, profile))
    school = values["school"] if values.get("school") in file.all_tolerances else held.tolerance
    levers = replace(
        held.end(end),
        spacer_mm=values["spacer"],
        ride_drop_mm=values["drop"],
        camber_deg=values["camber"],
        stroke_moves=bool(values["stroke"]),
        lock_limit_deg=values["lock"],
        lip_rolled_mm=values["lip"],
    )
    return Setting(replace(_candidate(file, end, fitted, wheel), levers=levers), school, wheel, values)


def _core(file: CarFile, end: str, values: dict[str, Any], wheel: Wheel | None) -> CoreWheel:
    present = file.fitted(file.current, end)
    like: Any = wheel or (present.wheel if present else None)
    return CoreWheel(
        values["diameter"],
        values["width"],
        values["offset"],
        getattr(like, "bolts", None),
        getattr(like, "pcd_mm", None),
        getattr(like, "bore_mm", None),
    )


def _candidate(file: CarFile, end: str, fitted: Fitted, wheel: Wheel | None) -> Candidate:
    """What is on the bench before any lever: a wheel of the list, what stands there, or a rim that nobody offers."""
    if wheel is None:
        standing = file.standing(end)
        if standing is not None and standing.fitted.wheel.spec == fitted.wheel.spec:
            return replace(standing, fitted=fitted)
        return Candidate(fitted, mount=mount_of(fitted.wheel, None, None))
    mount = replace(
        mount_on_list(wheel), bolts=fitted.wheel.bolts, pcd_mm=fitted.wheel.pcd_mm, bore_mm=fitted.wheel.bore_mm
    )
    return Candidate(
        fitted,
        mount=mount,
        wheel_load_kg=wheel.load_kg,
        barrel_radius_mm=wheel.barrel_radius_mm,
        spoke_back_mm=wheel.spoke_back_mm,
    )
