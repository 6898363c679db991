"""A car's file: everything the pages of a car need, read once, and the bridge to the core."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from django.contrib.auth.models import User
from django.shortcuts import get_object_or_404
from django.urls import reverse

from garage.models import Axle, Car, Outfit, OutfitAxle, Preferences, Reading, Rub, Sighting, ToleranceSet, Trial
from rimcore.fastening.threads import Thread, parse_thread
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed
from rimcore.well import measured as core
from rimcore.well import seen as seeing
from rimcore.well import trialfit
from rimcore.well.gap import Station
from rimcore.well.measured import Doubt, Held, TyreKey
from rimcore.well.mover import Hinge
from rimcore.well.pose import Pose
from rimcore.well.ranges import camber_gain_deg_per_mm, gain_over_25_mm
from rimcore.well.stations import CORNERS, METHOD_NAMES, STATIONS, StationKind
from rimcore.well.tolerance import MARGIN_FIELDS, SCHOOL_NAMES, SCHOOLS, Tolerances
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub, Seat, WheelMount, parse_seat
from rimcore.wheels.outline import outline
from rimcore.wheels.swap import Corner, true_kmh
from rimcore.wheels.tyre import Tyre, parse_tyre, tyre_from_fields
from rimcore.wheels.wheel import parse_wheel

CORNERS_OF = {"F": ("FL", "FR"), "R": ("RL", "RR")}


class Rooms(dict[str, Any]):
    """What other rooms keep with a car's file; a room's loader runs when its first value is asked for."""

    def __init__(self, file: CarFile) -> None:
        super().__init__()
        self.file = file

    def __missing__(self, key: str) -> Any:
        if key not in _loaders:
            raise KeyError(key)
        _loaders[key](self.file)
        return self[key]

    def get(self, key: str, default: Any = None) -> Any:
        return self[key] if key in self or key in _loaders else default


@dataclass
class CarFile:
    """A car with its axles, outfits and readings; ``extra`` is where other rooms keep what they read."""

    car: Car
    user: User
    preferences: Preferences
    axles: dict[str, Axle]
    outfits: list[Outfit]
    readings: list[Reading]
    sets: list[ToleranceSet]
    trials: list[Trial] = field(default_factory=list)
    rubs: list[Rub] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.extra = Rooms(self)
        self.problems = unreadable(self)

    @property
    def baseline(self) -> Outfit | None:
        return next((outfit for outfit in self.outfits if outfit.is_baseline), None)

    @property
    def current(self) -> Outfit | None:
        """What stands on the car now."""
        return self.outfits[-1] if self.outfits else None

    @cached_property
    def outfit_axles(self) -> dict[tuple[int, str], OutfitAxle]:
        return {(outfit.pk, axle.end): axle for outfit in self.outfits for axle in outfit.axles.all() if fault_of(axle) is None}

    def on(self, outfit: Outfit | None, end: str) -> OutfitAxle | None:
        """Wheel and tyre of an end in an outfit."""
        return None if outfit is None else self.outfit_axles.get((outfit.pk, end))

    @cached_property
    def latest(self) -> list[Reading]:
        """The newest reading of every station, struck ones left out."""
        return latest_of(self.readings)

    def fitted(self, outfit: Outfit | None, end: str) -> Fitted | None:
        """What stands at an end, for the core."""
        axle = self.on(outfit, end)
        return None if axle is None else fitted_of(axle)

    def standing(self, end: str) -> core.Candidate | None:
        """What stands at an end now, whole, as a candidate for the core: the same part as when it was chosen."""
        axle = self.on(self.current, end)
        if axle is None:
            return None
        mount = mount_of(axle, hub_of(self.axles.get(end)))
        fitted = self.tried(replace(fitted_of(axle), camber_deg=self.camber_of(axle) or 0.0))
        return core.Candidate(fitted, axle.ride_drop_mm, mount, None, axle.load_kg, axle.barrel_radius_mm, axle.spoke_back_mm)

    def tried(self, fitted: Fitted) -> Fitted:
        """A candidate with what trial fits found of its tyre's real size."""
        if fitted.measured_section_mm or fitted.profile_mm:
            return fitted
        found = self.corrections.grown_mm.get((fitted.tyre.size, fitted.wheel.width_in))
        return fitted if found is None else replace(fitted, grown_mm=found[0], grown_doubt_mm=found[1])

    def core_readings(self, readings: list[Reading] | None = None, as_read: bool = False) -> tuple[core.Reading, ...]:
        """Readings that place an obstacle, for the core; moved by trial fits unless wanted as they were read."""
        if readings is None and not as_read:
            return self.corrections.readings
        found = []
        for reading in self.latest if readings is None else readings:
            axle = self.outfit_axles.get((reading.outfit_id, reading.corner[:1]))
            if axle is not None and STATIONS[reading.code].place in _PLACED and reading.code != "caliper_inner":
                stood = self.camber_of(axle, reading.corner)
                found.append(core_reading(reading, axle, self.axles.get(reading.corner[:1]), self.motions.get(reading.corner), stood))
        return tuple(found)

    @cached_property
    def motions(self) -> dict[str, core.Motion]:
        """How every corner moves, from its newest readings."""
        return {corner: motion_of(self, corner) for corner in CORNERS}

    @cached_property
    def corrections(self) -> Corrections:
        """What trial fits make of the readings, once a page."""
        return corrections_of(self)

    def core_axle(self, end: str, readings: list[Reading] | None = None) -> core.Axle | None:
        """One end of the car as it stands, for the core; None before anything stands on it."""
        if readings is None:
            if end not in self._core_axles:
                self._core_axles[end] = self._core_axle(end, None)
            return self._core_axles[end]
        return self._core_axle(end, readings)

    @cached_property
    def _core_axles(self) -> dict[str, core.Axle | None]:
        return {}

    def _core_axle(self, end: str, readings: list[Reading] | None) -> core.Axle | None:
        present = self.fitted(self.current, end)
        if present is None:
            return None
        hub = hub_of(self.axles.get(end))
        load = self.axle_load_kg(end)
        known = self.core_readings(readings)
        motions = tuple((corner, self.motions[corner]) for corner in CORNERS_OF[end])
        held = None if readings is not None else self.corrections.held(end)
        here = tuple(r for r in known if r.corner[0] == end)
        return core.Axle(CORNERS_OF[end], present, hub, here, load, motions, held, *self._true_speed)

    def axle_load_kg(self, end: str) -> float | None:
        """Load of an axle: what was written for the car, else the corners as they were weighed."""
        written = self.car.front_axle_kg if end == "F" else self.car.rear_axle_kg
        if written is not None:
            return float(written)
        known = STATIONS["corner_mass"]
        weighed = {r.corner: r.value for r in self.latest if r.code == known.code and r.corner in CORNERS_OF[end] and known.holds(r.value)}
        return sum(weighed.values()) if len(weighed) == 2 else None

    @cached_property
    def _true_speed(self) -> tuple[float | None, InputUsed | None]:
        """True speed at an indicated 100 km/h on the tyres that stand there now; a reading on others is carried over by their diameter."""
        reading = next((r for r in self.latest if r.code == "true_speed" and STATIONS["true_speed"].holds(r.value)), None)
        driven = "R" if self.car.drive == "R" else "F"
        then = self.outfit_axles.get((reading.outfit_id, driven)) if reading is not None else None
        now = self.on(self.current, driven)
        if reading is None or then is None or now is None:
            return None, None
        value = true_kmh(reading.value, parse_tyre(then.tyre).diameter_mm, parse_tyre(now.tyre).diameter_mm)
        used = InputUsed(
            "true speed", f"{reading.value:g} ± {reading.uncertainty:g} km/h at 100", reading.who, f"{reading.taken_on:%-d %b %Y}"
        )
        return value, used

    def camber_of(self, axle: OutfitAxle, corner: str = "") -> float | None:
        """Camber of an end as it stood in an outfit: read at the corner, else the mean of both sides as read, else as written."""
        read = {r.corner: r.value for r in self.latest if r.code == "camber" and r.outfit_id == axle.outfit_id and r.corner[:1] == axle.end}
        if corner in read:
            return read[corner]
        return sum(read.values()) / len(read) if read and not corner else axle.camber_deg

    def tolerances(self, key: str) -> Tolerances:
        """A school's margins, or those of one's own set (``set-12``)."""
        return self.all_tolerances.get(key, SCHOOLS["daily"])

    @cached_property
    def all_tolerances(self) -> dict[str, Tolerances]:
        own = {f"set-{one.pk}": Tolerances(*(getattr(one, name) for name in MARGIN_FIELDS)) for one in self.sets}
        return {**SCHOOLS, **own}

    @cached_property
    def tolerance_names(self) -> dict[str, str]:
        return {**SCHOOL_NAMES, **{f"set-{one.pk}": one.name for one in self.sets}}


_loaders: dict[str, Callable[[CarFile], None]] = {}


def load_with(loader: Callable[[CarFile], None], *keys: str) -> None:
    """A room registers what it reads into a car's file, and the keys it fills; a constant number of queries."""
    _loaders.update(dict.fromkeys(keys, loader))


_PLACED = frozenset({"damper", "perch", "arch", "liner", "rail", "arm", "caliper", "joint"})


def open_file(user: Any, car_id: int) -> CarFile:
    """The file of one of the person's own cars, else 404; a constant number of queries."""
    car = get_object_or_404(Car.objects.select_related("owner__preferences"), pk=car_id, owner=user)
    preferences = getattr(car.owner, "preferences", None) or Preferences(user=user)
    outfits = list(car.outfits.prefetch_related("axles"))
    stood = {outfit.pk: outfit for outfit in outfits}
    readings = list(car.readings.all())
    for reading in readings:
        reading.outfit = stood[reading.outfit_id]
    known = {reading.pk: reading for reading in readings}
    trials = list(car.trials.prefetch_related("sightings"))
    for sighting in (one for trial in trials for one in trial.sightings.all()):
        sighting.reading = known[sighting.reading_id]
    return CarFile(
        car,
        user,
        preferences,
        {axle.end: axle for axle in car.axles.all()},
        outfits,
        readings,
        list(ToleranceSet.objects.filter(owner=user)),
        trials,
        list(car.rubs.all()),
    )


def latest_of(readings: list[Reading]) -> list[Reading]:
    """Newest of every station; ``readings`` come newest first."""
    found: dict[Any, Reading] = {}
    for reading in readings:
        if not reading.struck_why:
            found.setdefault(reading.key, reading)
    return list(found.values())


def fitted_of(axle: OutfitAxle) -> Fitted:
    """Wheel and tyre of an outfit, for the core; a camber nobody wrote is drawn upright, with its own ±."""
    camber = axle.camber_deg or 0.0
    return Fitted(parse_wheel(axle.wheel), parse_tyre(axle.tyre), axle.spacer_mm, camber, axle.measured_section_mm, points_of(axle.profile))


def mount_of(axle: OutfitAxle, hub: Hub) -> WheelMount:
    """How a wheel that stands on the hub meets it: bolt circle and count are the hub's, since it is bolted there; its seat only as written."""
    wheel = parse_wheel(axle.wheel)
    seat: Seat | None = _read(parse_seat, axle.seat)
    since = f"{axle.outfit.since:%-d %b %Y}"
    bolts, pcd = wheel.bolts or hub.bolts, wheel.pcd_mm or hub.pcd_mm
    return WheelMount(bolts, pcd, wheel.bore_mm, seat, axle.pad_thickness_mm, "what stands on the car", since)


def points_of(profile: Any) -> tuple[tuple[float, float], ...] | None:
    """A stored half section, for the core."""
    return tuple((float(across), float(radius)) for across, radius in profile) if profile else None


def corner_of(axle: OutfitAxle) -> Corner:
    """The same with masses, for comparing."""
    return Corner(parse_wheel(axle.wheel), parse_tyre(axle.tyre), axle.spacer_mm, axle.wheel_kg, axle.tyre_kg, axle.measured_section_mm)


def hub_of(axle: Axle | None) -> Hub:
    """Hub data for the core; blank is unmeasured."""
    if axle is None:
        return Hub()
    thread: Thread | None = _read(parse_thread, axle.thread)
    seat: Seat | None = _read(parse_seat, axle.seat)
    noted = f"{axle.noted_on:%-d %b %Y}" if axle.noted_on else ""
    return Hub(
        axle.bolts,
        axle.pcd_mm,
        axle.bore_mm,
        thread,
        axle.stud_length_mm,
        axle.bolt_length_mm,
        seat,
        axle.collar_mm,
        "the car's hub data",
        noted,
    )


def _read(parse: Callable[[str], Any], text: str) -> Any:
    """What a kept text says; None where it says nothing, or nothing that can be read any more."""
    try:
        return parse(text) if text else None
    except CoreError:
        return None


@dataclass(frozen=True)
class Problem:
    """Something kept that can't be read any more: what it is, why, and where it is put right."""

    what: str
    why: str
    url: str


def fault_of(row: OutfitAxle | Trial) -> str | None:
    """Why the wheel and tyre of a row can't be read; None where they can."""
    try:
        wheel = parse_wheel(row.wheel)
        if row.tyre:
            outline(wheel, parse_tyre(row.tyre), row.measured_section_mm)
        if isinstance(row, OutfitAxle):
            _ = fitted_of(row).outline
        _ = Fitted(wheel, _any_tyre(wheel.diameter_in)).centre_mm
    except CoreError as error:
        return error.message
    return None


def unreadable(file: CarFile) -> list[Problem]:
    """Rows of before that today's core refuses; each is left out of what is judged, and told with the way to repair it."""
    found: list[Problem] = []
    car = reverse("car", args=[file.car.pk])
    for outfit in file.outfits:
        for row in outfit.axles.all():
            fault = fault_of(row)
            if fault is not None:
                found.append(Problem(f"{row.get_end_display()} wheel and tyre of “{outfit.name}” ({row.wheel}, {row.tyre})", fault, car))
    for axle in file.axles.values():
        for name, parse in (("thread", parse_thread), ("seat", parse_seat)):
            text = getattr(axle, name)
            if text and _read(parse, text) is None:
                found.append(Problem(f"{axle.get_end_display()} hub, {name} “{text}”", "it can't be read", car))
    for trial in file.trials:
        fault = fault_of(trial)
        if fault is not None:
            found.append(
                Problem(f"trial fit of {trial.tried_on:%-d %b %Y}, {trial}", fault, reverse("trial", args=[file.car.pk, trial.corner]))
            )
    file.trials = [trial for trial in file.trials if fault_of(trial) is None]
    return found


def core_reading(
    reading: Reading, on_car: OutfitAxle, axle: Axle | None, motion: core.Motion | None = None, camber_deg: float | None = None
) -> core.Reading:
    """A stored reading as the core takes it, placed against what stood on the hub at the time and as it stood."""
    kind = STATIONS[reading.code]
    motion = motion or core.Motion()
    strut = axle is None or axle.suspension == "strut"
    absolute = kind.place in ("caliper", "joint", "arch")
    camber = motion.camber_at(camber_deg or 0.0, 0.0, reading.travel_mm)
    travel = on_car.ride_drop_mm + reading.travel_mm
    return core.Reading(
        corner=reading.corner,
        code=reading.code,
        station=_station(reading, kind, strut),
        gap_mm=None if absolute else reading.value,
        present=replace(fitted_of(on_car), camber_deg=camber),
        pose=Pose(camber, reading.steer_deg, travel, motion.kpi_deg or 0.0, motion.caster_deg or 0.0, motion.kingpin_inboard_mm or 0.0),
        uncertainty_mm=reading.uncertainty,
        taken_on=f"{reading.taken_on:%-d %b %Y}",
        who=reading.who,
        method=METHOD_NAMES.get(reading.method, reading.method),
        assumed=reading.mirrored_from_id is not None,
        drop_mm=on_car.ride_drop_mm,
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


def motion_of(file: CarFile, corner: str) -> core.Motion:
    """How a corner moves, from the baseline's height: bump and droop are counted from where the car stood when they were read."""
    here = [r for r in file.latest if r.corner == corner and r.code in _MOTION_CODES]
    read = {reading.code: reading for reading in reversed(here)}

    def value(code: str, sign: float = 0.0) -> float | None:
        reading = read.get(code)
        return None if reading is None else reading.value + sign * _drop_then(file, reading)

    pivot, joint = read.get("arm_pivot"), read.get("arm_joint")
    used = [reading for reading in here if reading.code != "camber"]
    return core.Motion(
        value("bump", 1.0), value("droop", -1.0), value("lock_out"), value("lock_in"), _camber_gain(file, here), value("kpi"), value("caster"),
        value("kingpin"), _hinge(pivot, joint), corner[0] == "F", any(reading.mirrored_from_id for reading in used),
        max((r.uncertainty for r in used if r.code in ("bump", "droop")), default=0.0),
        max((r.uncertainty for r in used if r.code in ("lock_out", "lock_in")), default=0.0),
        tuple(_motion_input(reading) for reading in used), value("lock_stop"), _doubt(file, here, corner),
    )  # fmt: skip


#: ± of a camber that is written for the wheels and not read at the corner [deg] (common practice)
WRITTEN_CAMBER_DEG = 0.2
#: ± of a camber that nobody wrote or read: street cars stand within this of upright [deg] (common practice)
UNWRITTEN_CAMBER_DEG = 1.5


def _doubt(file: CarFile, readings: list[Reading], corner: str) -> Doubt:
    """± of camber, camber gain and steering axis from the readings that say them."""
    own = {reading.code: reading.uncertainty for reading in reversed(readings)}
    raised = [r for r in readings if r.code == "camber_bump"]
    gain = own.get("camber_gain", 0.0) / 25.0
    if raised:
        heights = [_drop_then(file, r) + r.travel_mm for r in raised] + [0.0]
        gain = math.sqrt(2) * max(r.uncertainty for r in raised) / max(max(heights) - min(heights), 10.0)
    written = [axle for (_, end), axle in file.outfit_axles.items() if end == corner[:1]]
    unread = WRITTEN_CAMBER_DEG if all(axle.camber_deg is not None for axle in written) else UNWRITTEN_CAMBER_DEG
    return Doubt(own.get("camber", unread), gain, own.get("kpi", 0.0), own.get("caster", 0.0), own.get("kingpin", 0.0))


def _drop_then(file: CarFile, reading: Reading) -> float:
    axle = file.outfit_axles.get((reading.outfit_id, reading.corner[:1]))
    return axle.ride_drop_mm if axle else 0.0


def _camber_gain(file: CarFile, readings: list[Reading]) -> float | None:
    """From camber at two or more heights; with no reading at ride height, from the camber written for the wheels."""
    raised = [r for r in readings if r.code == "camber_bump"]
    pairs = [(_drop_then(file, r) + r.travel_mm, r.value) for r in raised]
    level = [(_drop_then(file, r), r.value) for r in readings if r.code == "camber"]
    if raised and not level:
        axle = file.outfit_axles.get((raised[0].outfit_id, raised[0].corner[:1]))
        level = [(axle.ride_drop_mm, axle.camber_deg)] if axle is not None and axle.camber_deg is not None else []
    typed = next((r.value for r in readings if r.code == "camber_gain"), None)
    measured = camber_gain_deg_per_mm(pairs + level) if pairs else None
    return gain_over_25_mm(typed) if measured is None and typed is not None else measured


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
        kind.name, f"{reading.value:g}{unit}{second} ± {reading.uncertainty:g}", reading.who + assumed, f"{reading.taken_on:%-d %b %Y}"
    )


@dataclass(frozen=True)
class Corrections:
    """Readings as trial fits correct them, real tyre sizes with their ±, and how well each sighting agrees (by its key).

    ``before`` are the readings with settled corrections only.
    """

    readings: tuple[core.Reading, ...]
    before: tuple[core.Reading, ...]
    grown_mm: dict[TyreKey, tuple[float, float]]
    found: seeing.Corrected
    #: key of a sighting -> its place in the fit
    places: dict[int, int]

    def held(self, end: str) -> Held | None:
        """What an end was before corrections that are not settled; None where all are."""
        loose = [group for group in self.found.groups if not group.settled]
        keys = frozenset(key for group in loose for key in group.keys)
        touched = any(self.readings[place].corner[0] == end for group in loose for place in group.readings)
        return Held(tuple(r for r in self.before if r.corner[0] == end), keys) if touched or keys else None

    def group_of(self, sighting_id: int) -> seeing.Group | None:
        """How well the fit of a sighting agrees."""
        place = self.places.get(sighting_id)
        return None if place is None else self.found.group_of(place)

    def conflict(self, sighting_id: int) -> bool:
        """Is a sighting among what contradicts the others?"""
        place = self.places.get(sighting_id)
        return place is not None and self.found.conflict(place)


def corrections_of(file: CarFile) -> Corrections:
    """All sightings of all trial fits, corner by corner; a sighting of a reading that was replaced no longer counts."""
    known = list(file.core_readings(as_read=True))
    place = {reading.pk: k for k, reading in enumerate(placing(file))}
    seen, keys = [], []
    for trial in file.trials:
        for sighting in trial.sightings.all():
            if sighting.reading_id in place:
                seen.append(seen_of(file, trial, sighting, place[sighting.reading_id]))
                keys.append(sighting.pk)
    found = trialfit.correct(known, seen)
    loose = {place for group in found.groups if not group.settled for place in group.readings}
    before = tuple(known[k] if k in loose else reading for k, reading in enumerate(found.readings))
    return Corrections(found.readings, before, found.grown_mm, found, {key: k for k, key in enumerate(keys)})


def placing(file: CarFile) -> list[Reading]:
    """The newest readings that place an obstacle, in the order of the core's."""
    return [
        reading
        for reading in file.latest
        if STATIONS[reading.code].place in _PLACED
        and reading.code != "caliper_inner"
        and (reading.outfit_id, reading.corner[:1]) in file.outfit_axles
    ]


def seen_of(file: CarFile, trial: Trial, sighting: Sighting, place: int) -> seeing.Seen:
    """A stored sighting as the core takes it."""
    fitted, pose = trial_standing(file, trial, sighting.steer_deg, sighting.travel_mm)
    gap = sighting.gap_mm if sighting.gap_mm is not None else seeing.SEEN_MM[sighting.seen][0]
    return seeing.Seen(place, fitted, not trial.tyre, pose, gap, sighting.uncertainty_mm)


def trial_standing(file: CarFile, trial: Trial, steer_deg: float, travel_mm: float) -> tuple[Fitted, Pose]:
    """What was held on the hub, and how it stood. A bare rim carries the present tyre's name for its size only."""
    motion = file.motions[trial.corner]
    wheel = parse_wheel(trial.wheel)
    tyre = parse_tyre(trial.tyre) if trial.tyre else _any_tyre(wheel.diameter_in)
    travel = trial.ride_drop_mm + travel_mm
    camber = motion.camber_at(trial.camber_deg, trial.ride_drop_mm, travel)
    fitted = Fitted(wheel, tyre, trial.spacer_mm, camber, trial.measured_section_mm)
    return fitted, Pose(camber, steer_deg, travel, motion.kpi_deg or 0.0, motion.caster_deg or 0.0, motion.kingpin_inboard_mm or 0.0)


def _any_tyre(diameter_in: float) -> Tyre:
    """A bare rim's outline is that of its flanges; the tyre only carries the rim's diameter."""
    return tyre_from_fields(205.0, 55.0, diameter_in)


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
