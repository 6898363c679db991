"""Four corners at the height of the build in hand, for the core, and what is judged of them."""

from __future__ import annotations

from garage.file import CarFile
from garage.inhand import in_hand
from garage.models import KnownDip, Springs
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.ride.springs import Coil, Sprung, Stack
from rimcore.ride.standing import Dip, Stands, judge_ride, wheel_travel_mm
from rimcore.well.stations import CORNER_NAMES, CORNERS, STATIONS

#: names of the readings that say how far a wheel moves
_TRAVEL = tuple(STATIONS[code].name for code in ("bump", "droop"))


def stands(file: CarFile) -> tuple[Stands, ...]:
    """All four corners, once a page."""
    if "stands" not in file.extra:
        file.extra["stands"] = tuple(_stands(file, corner) for corner in CORNERS)
    found: tuple[Stands, ...] = file.extra["stands"]
    return found


def _stands(file: CarFile, corner: str) -> Stands:
    drop = in_hand(file).end(corner[0]).ride_drop_mm
    motion, kept = file.motions[corner], file.extra["springs"].get(corner[0])
    bump = None if motion.bump_mm is None else motion.bump_mm - drop
    droop = None if motion.droop_mm is None else motion.droop_mm + drop
    ratio = kept.motion_ratio if kept else 1.0
    read = {dip.name: dip for dip in reversed(file.extra["dips"]) if dip.corner == corner}
    dips = tuple(_dip(one, ratio) for one in read.values())
    used = tuple(one for one in motion.inputs if one.name in _TRAVEL)
    return Stands(CORNER_NAMES[corner], bump, droop, drop, _sprung(file, corner, kept), dips, used)


def _dip(row: KnownDip, ratio: float) -> Dip:
    travel = wheel_travel_mm(row.shaft_mm, ratio)
    source = InputUsed(row.name, f"{row.shaft_mm:g} mm on the shaft ÷ {ratio:g} = {travel:.1f} mm", row.who, f"{row.driven_on:%-d %b %Y}")
    return Dip(row.name, travel, row.ride_drop_mm, source)


def _sprung(file: CarFile, corner: str, kept: Springs | None) -> Sprung | None:
    """Springs of a corner with its load; None where lengths or load are not known, or can't be."""
    load = next((one.value for one in file.latest if one.corner == corner and one.code == "corner_mass"), None)
    if kept is None or load is None or kept.free_length_mm is None or kept.block_length_mm is None:
        return None
    try:
        coil = Coil(kept.rate_n_per_mm, kept.free_length_mm, kept.block_length_mm)
        return Sprung(Stack(coil), load, kept.unsprung_kg or 0.0, kept.motion_ratio, kept.preload_mm)
    except CoreError:
        return None


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the ride bench judges of the build in hand, once a page."""
    if "ride" not in file.extra:
        file.extra["ride"] = judge_ride(stands(file), file.car.use)
    found: tuple[Judgement, ...] = file.extra["ride"]
    return found
