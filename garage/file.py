"""A car's file: everything the pages of a car need, read once, and the bridge to the core."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from django.contrib.auth.models import User
from django.shortcuts import get_object_or_404

from garage.models import Axle, Car, Outfit, OutfitAxle, Preferences, Reading, ToleranceSet
from rimcore import fitment
from rimcore.gap import Fitted, Station
from rimcore.hub import Hub, Seat, Thread, parse_seat, parse_thread
from rimcore.pose import Pose
from rimcore.stations import METHOD_NAMES, STATIONS
from rimcore.swap import Corner
from rimcore.tolerance import MARGIN_FIELDS, SCHOOL_NAMES, SCHOOLS, Tolerances
from rimcore.tyre import parse_tyre
from rimcore.wheel import parse_wheel

CORNERS_OF = {"F": ("FL", "FR"), "R": ("RL", "RR")}


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
    extra: dict[str, Any] = field(default_factory=dict)

    @property
    def baseline(self) -> Outfit | None:
        return next((outfit for outfit in self.outfits if outfit.is_baseline), None)

    @property
    def current(self) -> Outfit | None:
        """What stands on the car now."""
        return self.outfits[-1] if self.outfits else None

    @cached_property
    def outfit_axles(self) -> dict[tuple[int, str], OutfitAxle]:
        return {(outfit.pk, axle.end): axle for outfit in self.outfits for axle in outfit.axles.all()}

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

    def core_readings(self, readings: list[Reading] | None = None) -> tuple[fitment.Reading, ...]:
        """Readings that place an obstacle, for the core."""
        found = []
        for reading in self.latest if readings is None else readings:
            axle = self.outfit_axles.get((reading.outfit_id, reading.corner[:1]))
            if axle is not None and STATIONS[reading.code].place in _PLACED:
                found.append(core_reading(reading, axle, self.axles.get(reading.corner[:1])))
        return tuple(found)

    def core_axle(self, end: str, readings: list[Reading] | None = None) -> fitment.Axle | None:
        """One end of the car as it stands, for the core; None before anything stands on it."""
        if readings is None:
            if end not in self._core_axles:
                self._core_axles[end] = self._core_axle(end, None)
            return self._core_axles[end]
        return self._core_axle(end, readings)

    @cached_property
    def _core_axles(self) -> dict[str, fitment.Axle | None]:
        return {}

    def _core_axle(self, end: str, readings: list[Reading] | None) -> fitment.Axle | None:
        present = self.fitted(self.current, end)
        if present is None:
            return None
        hub = hub_of(self.axles.get(end))
        load = self.car.front_axle_kg if end == "F" else self.car.rear_axle_kg
        known = self.core_readings(readings)
        return fitment.Axle(CORNERS_OF[end], present, hub, tuple(r for r in known if r.corner[0] == end), load)

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


_loaders: list[Callable[[CarFile], None]] = []


def load_with(loader: Callable[[CarFile], None]) -> None:
    """A room registers what it reads into every car's file, in a constant number of queries."""
    _loaders.append(loader)


_PLACED = frozenset({"damper", "perch", "arch", "liner", "rail", "arm", "caliper", "joint"})


def open_file(user: Any, car_id: int) -> CarFile:
    """The file of one of the person's own cars, else 404; a constant number of queries."""
    car = get_object_or_404(Car, pk=car_id, owner=user)
    preferences = Preferences.objects.filter(user=user).first() or Preferences(user=user)
    file = CarFile(
        car,
        user,
        preferences,
        {axle.end: axle for axle in car.axles.all()},
        list(car.outfits.prefetch_related("axles")),
        list(car.readings.select_related("condition", "outfit")),
        list(ToleranceSet.objects.filter(owner=user)),
    )
    for loader in _loaders:
        loader(file)
    return file


def latest_of(readings: list[Reading]) -> list[Reading]:
    """Newest of every station; ``readings`` come newest first."""
    found: dict[Any, Reading] = {}
    for reading in readings:
        if not reading.struck_why:
            found.setdefault(reading.key, reading)
    return list(found.values())


def fitted_of(axle: OutfitAxle) -> Fitted:
    """Wheel and tyre of an outfit, for the core."""
    return Fitted(parse_wheel(axle.wheel), parse_tyre(axle.tyre), axle.spacer_mm, axle.camber_deg, axle.measured_section_mm)


def corner_of(axle: OutfitAxle) -> Corner:
    """The same with masses, for comparing."""
    return Corner(parse_wheel(axle.wheel), parse_tyre(axle.tyre), axle.spacer_mm, axle.wheel_kg, axle.tyre_kg, axle.measured_section_mm)


def hub_of(axle: Axle | None) -> Hub:
    """Hub data for the core; blank is unmeasured."""
    if axle is None:
        return Hub()
    thread: Thread | None = parse_thread(axle.thread) if axle.thread else None
    seat: Seat | None = parse_seat(axle.seat) if axle.seat else None
    return Hub(axle.bolts, axle.pcd_mm, axle.bore_mm, thread, axle.stud_length_mm, axle.bolt_length_mm, seat)


def core_reading(reading: Reading, on_car: OutfitAxle, axle: Axle | None) -> fitment.Reading:
    """A stored reading as the core takes it, placed against what stood on the hub at the time."""
    kind = STATIONS[reading.code]
    strut = axle is None or axle.suspension == "strut"
    absolute = kind.place in ("caliper", "joint", "arch")
    return fitment.Reading(
        corner=reading.corner,
        code=reading.code,
        station=_station(reading, kind.place, strut),
        gap_mm=None if absolute else reading.value,
        present=fitted_of(on_car),
        pose=Pose(on_car.camber_deg, reading.steer_deg, on_car.ride_drop_mm),
        uncertainty_mm=reading.uncertainty,
        taken_on=f"{reading.taken_on:%-d %b %Y}",
        who=reading.who,
        method=METHOD_NAMES.get(reading.method, reading.method),
        assumed=reading.mirrored_from_id is not None,
        drop_mm=on_car.ride_drop_mm,
    )


def _station(reading: Reading, place: str, strut: bool) -> Station:
    if place == "arch":
        return Station("arch", clock=float(reading.code.removeprefix("arch_")), side_gap_mm=reading.value, up_gap_mm=reading.value2)
    if place == "liner":
        return Station("liner", edge="front" if "front" in reading.code else "rear", u=reading.u or "centre")
    if reading.code == "caliper_spoke":
        return Station("caliper", face_mm=reading.value)
    if place in ("caliper", "joint"):
        return Station(place, radius_mm=reading.value)
    return Station(place, height_mm=reading.height_mm, u_mm=reading.u_mm, strut=strut)
