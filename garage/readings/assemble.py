"""Readings as core values: where the rule went, how a corner moves, with their ±."""

from __future__ import annotations

from dataclasses import replace
from typing import Protocol

from garage.car.assemble import fitted_of
from garage.car.models import Axle, OutfitAxle
from garage.readings.models import Reading
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed
from rimcore.well.judge.ranges import camber_gain_deg_per_mm, gain_over_25_mm, gain_uncertainty_deg_per_mm
from rimcore.well.read import measured as core
from rimcore.well.read.stations import METHOD_NAMES, STATIONS, StationKind
from rimcore.well.read.travel import Doubt, Motion
from rimcore.well.solid.bylinks import ByLinks
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Hinge


class Rows(Protocol):
    """What is needed of a car's file here: all readings, the newest of every station, and what stood at the ends."""

    @property
    def readings(self) -> list[Reading]: ...
    @property
    def latest(self) -> list[Reading]: ...
    @property
    def outfit_axles(self) -> dict[tuple[int, str], OutfitAxle]: ...


PLACED = frozenset({"damper", "perch", "arch", "liner", "rail", "arm", "caliper", "joint"})


def core_reading(
    reading: Reading,
    on_car: OutfitAxle,
    axle: Axle | None,
    motion: Motion | None = None,
    camber_deg: float | None = None,
) -> core.Reading:
    """A stored reading as the core takes it, placed against what stood on the hub at the time and as it stood."""
    kind = STATIONS[reading.code]
    motion = motion or Motion()
    strut = axle is None or axle.suspension == "strut"
    absolute = kind.place in ("caliper", "joint", "arch")
    drop = on_car.drop_at(reading.corner)
    travel = drop + reading.travel_mm
    camber = motion.camber_at(camber_deg or 0.0, drop, travel)
    return core.Reading(
        corner=reading.corner,
        code=reading.code,
        station=_station(reading, kind, strut),
        gap_mm=None if absolute else reading.value,
        present=replace(fitted_of(on_car), camber_deg=camber),
        pose=Pose(camber, reading.steer_deg, travel, *motion.axis, motion.follow(camber_deg or 0.0, drop)),
        uncertainty_mm=reading.uncertainty,
        taken_on=f"{reading.taken_on:%-d %b %Y}",
        who=reading.who,
        method=METHOD_NAMES.get(reading.method, reading.method),
        assumed=reading.mirrored_from_id is not None,
        drop_mm=drop,
        raised_mm=reading.travel_mm,
    )


#: stations that say how a corner moves
_MOTION_CODES = (
    "bump",
    "droop",
    "lock_out",
    "lock_in",
    "caster",
    "kpi",
    "kingpin",
    "camber",
    "camber_bump",
    "camber_gain",
    "arm_pivot",
    "arm_joint",
    "lock_stop",
)


def motion_of(file: Rows, corner: str) -> Motion:
    """How a corner moves, from the baseline's height.

    Bump and droop are counted from where the car stood when they were read.
    """
    here = [r for r in file.latest if r.corner == corner and r.code in _MOTION_CODES]
    read = {reading.code: reading for reading in reversed(here)}

    def value(code: str, sign: float = 0.0) -> float | None:
        reading = read.get(code)
        return None if reading is None else reading.value + sign * _drop_then(file, reading)

    pivot, joint = read.get("arm_pivot"), read.get("arm_joint")
    used = [reading for reading in here if reading.code != "camber"]
    return Motion(
        bump_mm=value("bump", 1.0),
        droop_mm=value("droop", -1.0),
        steer_out_deg=value("lock_out"),
        steer_in_deg=value("lock_in"),
        camber_gain_deg_per_mm=_camber_gain(file, here),
        kpi_deg=value("kpi"),
        caster_deg=value("caster"),
        kingpin_inboard_mm=value("kingpin"),
        hinge=_hinge(pivot, joint),
        steers=corner[0] == "F",
        assumed=any(reading.mirrored_from_id for reading in used),
        travel_uncertainty_mm=max((r.uncertainty for r in used if r.code in ("bump", "droop")), default=0.0),
        lock_uncertainty_deg=max((r.uncertainty for r in used if r.code in ("lock_out", "lock_in")), default=0.0),
        inputs=tuple(_motion_input(reading) for reading in used),
        lock_stop_mm=value("lock_stop"),
        doubt=_doubt(file, here, corner),
    )


def with_links(motion: Motion, links: ByLinks | None, used: InputUsed | None = None) -> Motion:
    """A corner that follows its links: gain and axis that nobody read by themselves are theirs."""
    if links is None:
        return motion
    gain = motion.camber_gain_deg_per_mm
    doubt = replace(
        motion.doubt, toe_deg_per_mm=links.doubt_per_mm("toe_deg"), track_mm_per_mm=links.doubt_per_mm("track_shift_mm")
    )
    if gain is None:
        doubt = replace(doubt, gain_deg_per_mm=links.doubt_per_mm("camber_deg"))
    axis = {name: getattr(motion, name) for name in ("kpi_deg", "caster_deg", "kingpin_inboard_mm")}
    said = (
        {name: getattr(links, name) if value is None else value for name, value in axis.items()}
        if motion.steers
        else axis
    )
    inputs = motion.inputs if used is None else (*motion.inputs, used)
    return replace(
        motion,
        links=links,
        camber_gain_deg_per_mm=links.gain_deg_per_mm if gain is None else gain,
        doubt=doubt,
        inputs=inputs,
        **said,
    )


#: ± of a camber that is written for the wheels and not read at the corner [deg] (common practice)
WRITTEN_CAMBER_DEG = 0.2


#: ± of a camber that nobody wrote or read: street cars stand within this of upright [deg] (common practice)
UNWRITTEN_CAMBER_DEG = 1.5


def _doubt(file: Rows, readings: list[Reading], corner: str) -> Doubt:
    """± of camber, camber gain and steering axis from the readings that say them."""
    own = {reading.code: reading.uncertainty for reading in reversed(readings)}
    raised = [r for r in readings if r.code == "camber_bump"]
    gain = gain_over_25_mm(own.get("camber_gain", 0.0))
    if raised:
        heights = [_drop_then(file, r) + r.travel_mm for r in raised]
        gain = gain_uncertainty_deg_per_mm(heights, [r.uncertainty for r in raised])
    written = [axle for (_, end), axle in file.outfit_axles.items() if end == corner[:1]]
    unread = WRITTEN_CAMBER_DEG if all(axle.camber_deg is not None for axle in written) else UNWRITTEN_CAMBER_DEG
    return Doubt(own.get("camber", unread), gain, own.get("kpi", 0.0), own.get("caster", 0.0), own.get("kingpin", 0.0))


def _drop_then(file: Rows, reading: Reading) -> float:
    axle = file.outfit_axles.get((reading.outfit_id, reading.corner[:1]))
    return axle.drop_at(reading.corner) if axle else 0.0


def _camber_gain(file: Rows, readings: list[Reading]) -> float | None:
    """From camber at two or more heights, all read as the car stood in one outfit.

    An alignment since then is no travel.

    With no reading at ride height, the camber written for those wheels.
    """
    raised = [r for r in readings if r.code == "camber_bump"]
    typed = next((r.value for r in readings if r.code == "camber_gain"), None)
    if raised:
        stood = raised[0].outfit_id
        pairs = [(_drop_then(file, r) + r.travel_mm, r.value) for r in raised if r.outfit_id == stood]
        measured = camber_gain_deg_per_mm(pairs + _camber_then(file, raised[0].corner, stood))
        if measured is not None:
            return measured
    return None if typed is None else gain_over_25_mm(typed)


def _camber_then(file: Rows, corner: str, outfit_id: int) -> list[tuple[float, float]]:
    """Camber at ride height in an outfit: the newest reading of it, else as it was written."""
    read = next(
        (
            r
            for r in file.readings
            if (r.corner, r.code, r.outfit_id) == (corner, "camber", outfit_id) and not r.struck_why
        ),
        None,
    )
    if read is not None:
        return [(_drop_then(file, read), read.value)]
    axle = file.outfit_axles.get((outfit_id, corner[:1]))
    return [(axle.drop_at(corner), axle.camber_deg)] if axle is not None and axle.camber_deg is not None else []


def _hinge(pivot: Reading | None, joint: Reading | None) -> Hinge | None:
    if pivot is None or joint is None or pivot.value2 is None or joint.value2 is None:
        return None
    try:
        return Hinge((-pivot.value, pivot.value2), (-joint.value, joint.value2))
    except CoreError:
        return None


def _motion_input(reading: Reading) -> InputUsed:
    kind = STATIONS[reading.code]
    unit = "°" if kind.kind == "angle" else " mm"
    second = f", {reading.value2:g}{unit}" if reading.value2 is not None else ""
    assumed = " assumed from the other side" if reading.mirrored_from_id else ""
    return InputUsed(
        kind.name,
        f"{reading.value:g}{unit}{second} ± {reading.uncertainty:g}",
        reading.who + assumed,
        f"{reading.taken_on:%-d %b %Y}",
    )


def _station(reading: Reading, kind: StationKind, strut: bool) -> Station:
    """Where the rule went; place, edge and clock are what the station declares."""
    place = kind.place
    if place == "arch":
        return Station("arch", clock=kind.clock, side_gap_mm=reading.value, up_gap_mm=reading.value2)
    if place == "liner":
        return Station("liner", edge=kind.edge, u=reading.u or "centre")
    if kind.values == ("face",):
        return Station("caliper", face_mm=reading.value)
    if place in ("caliper", "joint"):
        return Station(place, radius_mm=reading.value)
    return Station(place, height_mm=reading.height_mm, u_mm=reading.u_mm, edge=kind.edge or None, strut=strut)
