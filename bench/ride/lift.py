"""A leaf-sprung end at the height of the build in hand, for the core, and the car from the side."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from bench.ride.facts import place_at, stands
from garage.file import CarFile
from rimcore.driveline.lift import Lifted, judge_lift, seat_mm, track_with_mm
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.ride.side import EndOf, Side, side_view
from rimcore.tables.facts import CORNERS


def lifted(file: CarFile) -> Lifted | None:
    """The rear on its leaves; None where no pack is written down or chosen there."""
    place = place_at(file, "R")
    if place is None:
        return None
    stood, pack, old = place.stood, place.there("leaf_pack"), place.stood.old.get("leaf_pack", {})
    if not pack and not old:
        return None
    chosen, old_block = place.other("lift_block"), stood.old.get("lift_block", {})
    lies: Mapping[str, Any] = chosen or old_block
    block = lies.get("height_mm") or 0.0
    inside = stood.was("u_bolt", "inside_mm")
    thick = pack.get("stack_mm") or old.get("stack_mm")
    before = (
        None
        if inside is None or old.get("stack_mm") is None
        else seat_mm(inside, old["stack_mm"], old_block.get("height_mm") or 0.0)
    )
    seat = None if inside is None or thick is None else seat_mm(inside, thick, block)
    front, rear = stood.was("propshaft", "front_deg"), stood.was("propshaft", "rear_deg")
    said = {
        name: pack.get(name) if pack.get(name) is not None else old.get(name) for name in ("rate_n_per_mm", "length_mm")
    }
    return Lifted(
        lift_mm=max(0.0, stood.stands_mm - stood.levers.ride_drop_mm),
        axle_kg=file.axle_load_kg("R"),
        radius_mm=place.candidate.fitted.tyre.diameter_mm / 2,
        rate_n_per_mm=said["rate_n_per_mm"],
        length_mm=said["length_mm"],
        seat_before_mm=before,
        seat_mm=seat,
        block_mm=block,
        taper_deg=_taper_deg(chosen),
        propshaft_mm=stood.was("propshaft", "length_mm"),
        joints_deg=None if front is None or rear is None else (front, rear),
        track_mm=_track(file, "R"),
        other_track_mm=_track(file, "F"),
        cg_height_mm=file.car.cg_height_mm,
        inputs=(
            *stood.inputs,
            InputUsed("leaf pack", _said(pack or old), "the build" if pack else "recorded"),
            _block(lies, bool(chosen)),
        ),
    )


def _taper_deg(chosen: Mapping[str, Any] | None) -> float | None:
    """What a block of the build adds to the pinion's angle; the joints as they stand hold what an old one does."""
    return chosen.get("taper_deg") if chosen else 0.0


def _block(lies: Mapping[str, Any], chosen: bool) -> InputUsed:
    said = f"{lies['height_mm']:g} mm" if lies.get("height_mm") else "none recorded, taken as none"
    return InputUsed("lift block", said, "the build" if chosen else "the old parts")


def _said(pack: Mapping[str, Any]) -> str:
    """What of a pack counts here, in words."""
    names = (("rate_n_per_mm", "N/mm"), ("length_mm", "mm eye to eye"), ("stack_mm", "mm thick"))
    return ", ".join(f"{pack[code]:g} {unit}" for code, unit in names if pack.get(code) is not None)


def _track(file: CarFile, end: str) -> float | None:
    """Track with what the build puts on an end [mm]; None where it is not in the car's data."""
    stood = file.car.track_front_mm if end == "F" else file.car.track_rear_mm
    place, base = place_at(file, end), file.fitted(file.baseline, end)
    if stood is None or place is None or base is None:
        return None
    return track_with_mm(stood, place.candidate.fitted.centre_mm - base.centre_mm)


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What is judged of a lifted rear; nothing where there are no leaves."""
    found = lifted(file)
    return judge_lift(found) if found is not None else ()


def side(file: CarFile) -> Side | None:
    """The car from the side; None until its wheelbase and its wheels are known."""
    if file.car.wheelbase_mm is None:
        return None
    ends = []
    for end in ("F", "R"):
        place = place_at(file, end)
        if place is None:
            return None
        one = stands(file)[CORNERS.index(f"{end}L")]
        lip = next((r.value for r in file.latest if r.corner == f"{end}L" and r.code == "ride_height"), None)
        free, loaded = (
            (None, None) if one.sprung is None else (one.sprung.stack.free_length_mm, one.sprung.loaded_length_mm)
        )
        ends.append(
            EndOf(place.candidate.fitted.tyre.diameter_mm / 2, lip, one.drop_mm, free, loaded, one.natural_frequency_hz)
        )
    return side_view(file.car.wheelbase_mm, ends[0], ends[1])
