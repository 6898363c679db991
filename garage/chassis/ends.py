"""An end of the car as core value for parts of the chassis.

Old parts, springs, travel, rods, and what the build in hand does to them.
"""

from __future__ import annotations

from collections.abc import Mapping
from statistics import fmean
from typing import Any

from garage.air.load import air_of
from garage.car.assemble import CORNERS_OF
from garage.chassis.links import points_of, read_of
from garage.chassis.load import chassis_of
from garage.chassis.models import OldPart, Springs
from garage.engine.load import running_of
from garage.engine.models import COOLING
from garage.file import CarFile
from garage.mass.ledger import corner_moves, stripped
from garage.setting import InHand, Racked
from rimcore.aero.card import hot_lines
from rimcore.aero.panel import Hot
from rimcore.families import CHASSIS
from rimcore.parts.spaces import SPACES, Space
from rimcore.parts.stood import Stood
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed
from rimcore.ride.points import HardPoints
from rimcore.ride.rods import as_built
from rimcore.ride.standing import travel_at
from rimcore.steering.rack import rod_of
from rimcore.well.read.stations import STATIONS


def old_of(file: CarFile, end: str) -> dict[str, Mapping[str, Any]]:
    """What stands at an end, by family; what its family no longer takes is left out.

    Springs are those of the corner weights' sheet.
    """
    rows: Mapping[tuple[str, str], OldPart] = chassis_of(file).old
    found = {
        family: row.spec
        for (at, family), row in rows.items()
        if at == end and family in CHASSIS and old_fault(row) is None
    }
    springs: Springs | None = chassis_of(file).springs.get(end)
    if springs is not None:
        said = {name: getattr(springs, name) for name in ("rate_n_per_mm", "free_length_mm", "block_length_mm")}
        found["spring"] = {
            **found.get("spring", {}),
            **{name: value for name, value in said.items() if value is not None},
        }
    return found


def old_fault(row: OldPart) -> str | None:
    """Why an old part can't be read any more; None where it can."""
    try:
        CHASSIS[row.family].check_old(row.spec)
    except CoreError as error:
        return error.message
    except (KeyError, TypeError, ValueError, AttributeError):
        return "its specification can't be read"
    return None


def stood_of(file: CarFile, end: str, held: InHand, racked: Racked | None = None) -> Stood:
    """One end for the core, at the height and with the rack of a build."""
    springs: Springs | None = chassis_of(file).springs.get(end)
    setting = held.end(end)
    now = file.on(file.current, end)
    motions = [file.motions[corner] for corner in CORNERS_OF[end]]
    least = [_least([getattr(motion, name) for motion in motions]) for name in ("droop_mm", "bump_mm")]
    droop, bump = travel_at(least[0], least[1], setting.eats_mm)
    moves = corner_moves(file, held.strips)
    loads = {
        one.corner: one.value + moves.get(one.corner, 0.0)
        for one in file.latest
        if one.code == "corner_mass" and one.corner in CORNERS_OF[end]
    }
    points = _points(file, end)
    length, change = _rod(points, setting.rack_mm)
    return Stood(
        use=file.car.use,
        end=end,
        old=old_of(file, end),
        corner_kg=min(loads.values()) if len(loads) == 2 else None,
        heavy_kg=max(loads.values()) if len(loads) == 2 else None,
        out_kg=_out_kg(file, end, held),
        unsprung_kg=springs.unsprung_kg if springs else None,
        motion_ratio=springs.motion_ratio if springs else None,
        preload_mm=springs.preload_mm if springs else None,
        bump_mm=bump,
        droop_mm=droop,
        levers=setting,
        stands_mm=now.ride_drop_mm if now is not None else 0.0,
        camber_deg=file.camber_of(now) if now is not None else None,
        rod_mm=length,
        rod_change_mm=change,
        joints_apart_mm=points.joints_apart_mm if points is not None else None,
        racked=racked if end == "F" else None,
        inputs=_used(file, end, loads, springs),
        run=run_of(file, end, held),
    )


def _out_kg(file: CarFile, end: str, held: InHand) -> float | None:
    """What a corner of the end carries less with what the build strips, both sides' mean [kg].

    None where that can't be told.
    """
    less = stripped(file, held.strips)
    return None if less is None else fmean([less.get(corner, 0.0) for corner in CORNERS_OF[end]])


def run_of(file: CarFile, end: str, held: InHand) -> dict[str, Any]:
    """What is known of engine, cooling and driveline, and what the build does to them."""
    engine, cooling = running_of(file).engine, running_of(file).cooling
    other = held.axle_ratios.get("R" if end == "F" else "F")
    known = {name: getattr(cooling, name) for name in COOLING} if cooling else {}
    return {
        "drive": file.car.drive,
        "tuned_first": held.tuned_first,
        "other_axle": other,
        "meter_mm": engine.meter_mm if engine else None,
        "hot": lambda: hot_noted(file),
        "spaces": spaces_of(file, end),
        **known,
    }


def spaces_of(file: CarFile, end: str) -> dict[str, Space]:
    """What was read of spaces on the car that parts go into, by station; of a corner's the end's own."""
    found: dict[str, Space] = {}
    for reading in file.latest:
        kind = STATIONS.get(reading.code)
        here = not reading.corner or reading.corner[0] == end
        if kind is None or reading.code not in SPACES or not here or len(reading.values) != len(kind.values):
            continue
        said = ", ".join(f"{value:g}" for value in reading.values)
        used = InputUsed(kind.name.lower(), f"{said} mm", reading.who, f"{reading.taken_on:%-d %b %Y}")
        found.setdefault(reading.code, Space(dict(zip(kind.values, reading.values, strict=True)), used))
    return found


def hot_noted(file: CarFile) -> list[str]:
    """Names of what is noted as hot beside the car's panels."""
    found = [one.name for row in air_of(file).panels for one in _hot_of(row.heat)]
    return list(dict.fromkeys(found))


def _hot_of(text: str) -> list[Hot]:
    try:
        return list(hot_lines(text))
    except CoreError:
        return []


def _least(values: list[float | None]) -> float | None:
    known = [value for value in values if value is not None]
    return min(known) if known and len(known) == len(values) else None


def _points(file: CarFile, end: str) -> HardPoints | None:
    """Links of the left corner, else of the right one.

    None until one is whole, and not only taken over from the other side.
    """
    for corner in CORNERS_OF[end]:
        read = read_of(file, corner)
        taken_over = any(one.mirrored for one in points_of(file, corner).values())
        if read is not None and not read.missing and not taken_over:
            try:
                return read.hard_points()
            except CoreError:
                continue
    return None


def _rod(points: HardPoints | None, moved: tuple[float, ...]) -> tuple[float | None, float | None]:
    """The steered rod between its joints, and what the build asks it to be longer."""
    if points is None:
        return None, None
    try:
        found = rod_of(points, as_built(points, moved))
    except CoreError:
        return None, None
    return found.before_mm, found.change_mm


def _used(file: CarFile, end: str, loads: Mapping[str, float], springs: Springs | None) -> tuple[InputUsed, ...]:
    found = [
        InputUsed(
            f"{one.corner} on its pad", f"{one.value:g} ± {one.uncertainty:g} kg", one.who, f"{one.taken_on:%-d %b %Y}"
        )
        for one in file.latest
        if one.code == "corner_mass" and one.corner in loads
    ]
    if springs is not None:
        found.append(
            InputUsed(
                "motion ratio",
                f"{springs.motion_ratio:g}",
                "the car's data",
                f"{springs.noted_on:%-d %b %Y}",
            )
        )
    return tuple(found)
