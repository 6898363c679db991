"""Four corners at the height of the build in hand, for the core, and what is judged of them."""

from __future__ import annotations

from garage.file import CarFile
from garage.inhand import in_hand
from garage.models import KnownDip, Springs
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.ride.springs import Coil, Sprung, Stack
from rimcore.ride.standing import Dip, Stands, judge_ride, travel_at, wheel_travel_mm
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
    droop, bump = travel_at(motion.droop_mm, motion.bump_mm, drop)
    read = {dip.name: dip for dip in reversed(file.extra["dips"]) if dip.corner == corner}
    used = tuple(one for one in motion.inputs if one.name in _TRAVEL)
    sprung, unknown = _sprung(file, corner, kept)
    dips = tuple(_dip(one, kept) for one in read.values())
    return Stands(CORNER_NAMES[corner], bump, droop, drop, sprung, dips, used, motion.travel_uncertainty_mm, unknown)


def _dip(row: KnownDip, kept: Springs | None) -> Dip:
    """A drive for the core; how far the wheel went is not known without a motion ratio."""
    said = f"{row.shaft_mm:g} mm on the shaft, lowered {row.ride_drop_mm:g} mm"
    travel = None
    if kept is not None:
        travel = wheel_travel_mm(row.shaft_mm, kept.motion_ratio)
        said += f"; ÷ {kept.motion_ratio:g} = {travel:.1f} mm"
    return Dip(row.name, travel, InputUsed(row.name, said, row.who, f"{row.driven_on:%-d %b %Y}"), row.touched)


def _sprung(file: CarFile, corner: str, kept: Springs | None) -> tuple[Sprung | None, tuple[str, ...]]:
    """Springs of a corner with its load, or what of them is not known, in words."""
    load = next((one.value for one in file.latest if one.corner == corner and one.code == "corner_mass"), None)
    wanted = {
        "springs": kept, "the spring's length at rest": kept and kept.free_length_mm, "its length with the coils touching": kept and kept.block_length_mm,
        "what moves with the wheel": kept and kept.unsprung_kg, "the corner's weight": load,
    }  # fmt: skip
    unknown = tuple(name for name, value in wanted.items() if value is None)
    if kept is None or load is None or kept.free_length_mm is None or kept.block_length_mm is None or kept.unsprung_kg is None:
        return None, unknown if kept is not None else tuple(name for name in unknown if name in ("springs", "the corner's weight"))
    try:
        coil = Coil(kept.rate_n_per_mm, kept.free_length_mm, kept.block_length_mm)
        return Sprung(Stack(coil), load, kept.unsprung_kg, kept.motion_ratio, kept.preload_mm), ()
    except CoreError as error:
        return None, (error.message,)


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the ride bench judges of the build in hand, once a page."""
    if "ride" not in file.extra:
        file.extra["ride"] = judge_ride(stands(file), file.car.use)
    found: tuple[Judgement, ...] = file.extra["ride"]
    return found
