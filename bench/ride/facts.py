"""Four corners at the height of the build in hand, for the core, and what is judged of them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from bench.weights.facts import stance_of
from garage.chassis.load import chassis_of
from garage.chassis.models import KnownDip, Springs
from garage.file import CarFile
from garage.inhand import in_hand, place_in_hand
from garage.kept import once
from garage.mass.ledger import corner_moves
from rimcore.parts.declared import Place
from rimcore.parts.gives import Gives, gives
from rimcore.parts.sprung import spring_of, sprung_of
from rimcore.parts.stopped import judge_bump_stop
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.ride.collars import Wound, judge_corner_heights, wound
from rimcore.ride.standing import Dip, Stands, judge_ride, travel_at, wheel_travel_mm
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.stations import STATIONS

#: names of the readings that say how far a wheel moves
_TRAVEL = tuple(STATIONS[code].name for code in ("bump", "droop"))


@once
def stands(file: CarFile) -> tuple[Stands, ...]:
    """All four corners, once a page."""
    return tuple(_stands(file, corner) for corner in CORNERS)


def _stands(file: CarFile, corner: str) -> Stands:
    setting, place = in_hand(file).end(corner[0]), place_at(file, corner[0])
    drop = in_hand(file).drop_at(corner)
    eats = setting.eats_mm + drop - setting.ride_drop_mm
    motion, kept = file.motions[corner], chassis_of(file).springs.get(corner[0])
    droop, bump = travel_at(motion.droop_mm, motion.bump_mm, eats)
    read = {dip.name: dip for dip in reversed(chassis_of(file).dips) if dip.corner == corner}
    used = tuple(one for one in motion.inputs if one.name in _TRAVEL)
    load = next((one.value for one in file.latest if one.corner == corner and one.code == "corner_mass"), None)
    if load is not None:
        load += corner_moves(file, in_hand(file).strips).get(corner, 0.0)
    here = None if place is None else replace(place, stood=replace(place.stood, corner_kg=load))
    found = "not known: springs" if here is None else sprung_of(here, spring_of(here))
    dips = tuple(_dip(one, kept) for one in read.values())
    sprung, unknown = (
        (None, tuple(found.removeprefix("not known: ").split(", "))) if isinstance(found, str) else (found, ())
    )
    leaf = here.there("leaf_pack").get("rate_n_per_mm") if here is not None else None
    unsprung = kept.unsprung_kg if kept is not None else None
    carried = None if load is None or unsprung is None else load - unsprung
    return Stands(
        where=CORNER_NAMES[corner],
        bump_mm=bump,
        droop_mm=droop,
        drop_mm=drop,
        sprung=sprung,
        dips=dips,
        inputs=used,
        uncertainty_mm=motion.travel_uncertainty_mm,
        unknown=unknown,
        eats_mm=eats,
        leaf_n_per_mm=leaf,
        carried_kg=carried,
        corner=corner,
        parts=tuple(gives(here).rows) if here is not None else (),
    )


@once
def place_at(file: CarFile, end: str) -> Place | None:
    """An end with the build in hand, once a page."""
    place = place_in_hand(file, end)
    return place if place is not None and place.wheels else None


def height_given(file: CarFile, end: str) -> Gives | None:
    """What the parts of the build in hand do to the height of an end; None before anything stands there."""
    place = place_at(file, end)
    return None if place is None else gives(place)


@dataclass(frozen=True)
class Collars:
    """Collars of the build that are wound more than their end's, and what they do; None where it can't be told."""

    up_mm: tuple[float, ...]
    found: Wound | None
    missing: str = ""

    @property
    def any(self) -> bool:
        """Is one of them wound?"""
        return any(self.up_mm)

    @property
    def lowers_mm(self) -> tuple[float, ...] | None:
        """Lowered more than its end, at each corner [mm]."""
        return None if self.found is None else tuple(round(-float(one), 3) + 0.0 for one in self.found.up_mm)


@once
def collars(file: CarFile) -> Collars:
    """What unevenly wound collars of the build in hand do, once a page: on its own springs, where it has others."""
    return _collars(file)


def _collars(file: CarFile) -> Collars:
    held = in_hand(file)
    up = tuple(one for end in ("F", "R") for one in held.end(end).collar_mm)
    if not any(up):
        return Collars(up, Wound(np.zeros(4), np.zeros(4)))
    stance = stance_of(file)
    if isinstance(stance, str):
        return Collars(up, None, stance)
    rates = [one.wheel_rate_n_per_mm for one in stands(file)]
    if any(rate is None for rate in rates):
        return Collars(up, None, "the build's springs")
    return Collars(up, wound(replace(stance, wheel_rate_n_per_mm=np.array(rates)), up))


def _corners(file: CarFile) -> Iterator[Judgement]:
    """Do collars and heights of the corners agree?"""
    held, found = in_hand(file), collars(file)
    reckoned = tuple(one for end in ("F", "R") for one in held.end(end).corner_mm)
    inputs = tuple(
        InputUsed(f"collar, {CORNER_NAMES[corner]}", f"{up:+g} mm".replace("-", "−"), "the build")
        for corner, up in zip(CORNERS, found.up_mm, strict=True)
    )
    judged = judge_corner_heights(found.lowers_mm, reckoned, found.missing, inputs)
    if judged is not None and held.build_id is not None:
        yield judged


def _dip(row: KnownDip, kept: Springs | None) -> Dip:
    """A drive for the core; how far the wheel went is not known without a motion ratio."""
    said = f"{row.shaft_mm:g} mm on the shaft, lowered {row.ride_drop_mm:g} mm"
    travel = None
    if kept is not None:
        travel = wheel_travel_mm(row.shaft_mm, kept.motion_ratio)
        said += f"; ÷ {kept.motion_ratio:g} = {travel:.1f} mm"
    return Dip(row.name, travel, InputUsed(row.name, said, row.who, f"{row.driven_on:%-d %b %Y}"), row.touched)


def _stops(file: CarFile) -> Iterator[Judgement]:
    """First contact and the way to the solid stop, where a stop and a damper are written down or chosen."""
    for end, name in (("F", "front"), ("R", "rear")):
        place = place_at(file, end)
        said = place.there("bump_stop") if place is not None else {}
        if place is None or said.get("free_mm") is None or said.get("solid_mm") is None:
            continue
        for judged in judge_bump_stop(said, place):
            if judged.code != "part.stop.hole" and judged.state != "unmeasured":
                yield replace(
                    judged, code=judged.code.replace("part.", "ride."), name=f"{judged.name}, {name}", where=name
                )


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the ride bench judges of the build in hand, once a page."""
    return (*judge_ride(stands(file), file.car.use), *_stops(file), *_corners(file))


def begun(file: CarFile) -> bool:
    """Is a spring, a dip or the way of a wheel read?"""
    return bool(chassis_of(file).springs or chassis_of(file).dips) or any(
        one.code in ("bump", "droop") for one in file.latest
    )
