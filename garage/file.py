"""A car's file: everything the pages of a car need, read once; its rows become core values in assemble."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.db.models import Case, F, Prefetch, Q, QuerySet, TextField, When, Window
from django.db.models.functions import Cast, RowNumber
from django.shortcuts import get_object_or_404
from django.urls import reverse

from garage.car.assemble import CORNERS_OF, fault_of, fitted_of, hub_of, mount_of, text_of
from garage.car.models import Axle, Car, Outfit, OutfitAxle
from garage.chassis.links import links_of, points_used
from garage.person.models import Preferences, ToleranceSet
from garage.readings.assemble import PLACED, core_reading, motion_of, with_links
from garage.readings.corrections import Corrections, corrections_of
from garage.readings.models import Reading, Rub, Sighting, Trial
from rimcore.fastening.threads import parse_thread
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed
from rimcore.tables.facts import CORNERS
from rimcore.well.judge.ranges import axle_of_corners_kg, camber_of_end_deg
from rimcore.well.judge.tolerance import MARGIN_FIELDS, SCHOOL_NAMES, SCHOOLS, Tolerances
from rimcore.well.levers import Levers
from rimcore.well.read import measured as core
from rimcore.well.read.declared import check_values, check_where
from rimcore.well.read.stations import STATIONS
from rimcore.well.read.travel import Motion
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import parse_seat
from rimcore.wheels.swap import true_kmh
from rimcore.wheels.tyre import parse_tyre
from shell.kept import of_the_car

T = TypeVar("T")


@dataclass
class CarFile:
    """A car with its axles, outfits and readings.

    ``kept`` is what was read and worked out of it since (see ``garage.kept``).
    """

    car: Car
    user: User
    preferences: Preferences
    axles: dict[str, Axle]
    outfits: list[Outfit]
    readings: list[Reading]
    sets: list[ToleranceSet]
    trials: list[Trial] = field(default_factory=list)
    #: readings of stations that are declared no more
    strange: list[Reading] = field(default_factory=list)
    rubs: list[Rub] = field(default_factory=list)
    #: how the car stood at each reading that has it noted: somebody aboard, fuel
    stood: Mapping[int, tuple[bool, str]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.kept: dict[Any, Any] = {}
        self.problems = unreadable(self)

    def stood_at(self, reading: Reading) -> tuple[bool, str]:
        """Was somebody aboard, and what fuel, as far as it was noted."""
        return self.stood.get(reading.pk, (False, ""))

    @property
    def baseline(self) -> Outfit | None:
        return next((outfit for outfit in self.outfits if outfit.is_baseline), None)

    @property
    def current(self) -> Outfit | None:
        """What stands on the car now."""
        return self.outfits[-1] if self.outfits else None

    @cached_property
    def outfit_axles(self) -> dict[tuple[int, str], OutfitAxle]:
        return {
            (outfit.pk, axle.end): axle
            for outfit in self.outfits
            for axle in outfit.axles.all()
            if fault_of(axle) is None
        }

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
        return core.Candidate(
            fitted,
            mount=mount,
            wheel_load_kg=axle.said("load_kg"),
            barrel_radius_mm=axle.said("barrel_radius_mm"),
            spoke_back_mm=axle.said("spoke_back_mm"),
            levers=Levers(ride_drop_mm=axle.ride_drop_mm, corner_mm=axle.corner_mm),
        )

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
            if axle is not None and STATIONS[reading.code].place in PLACED and reading.code != "caliper_inner":
                stood = self.camber_of(axle, reading.corner)
                found.append(
                    core_reading(
                        reading, axle, self.axles.get(reading.corner[:1]), self.motions.get(reading.corner), stood
                    )
                )
        return tuple(found)

    @cached_property
    def motions(self) -> dict[str, Motion]:
        """How every corner moves, from its newest readings."""
        found = {corner: motion_of(self, corner) for corner in CORNERS}
        return {
            corner: with_links(motion, links_of(self, corner, motion), points_used(self, corner))
            for corner, motion in found.items()
        }

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
        true_at_100_kmh, true_speed_read = self._true_speed
        return core.Axle(
            CORNERS_OF[end],
            present,
            hub,
            here,
            axle_load_kg=load,
            motions=motions,
            held=held,
            true_at_100_kmh=true_at_100_kmh,
            true_speed_read=true_speed_read,
        )

    def axle_load_kg(self, end: str) -> float | None:
        """Load of an axle: what was written for the car, else the corners as they were weighed."""
        written = self.car.front_axle_kg if end == "F" else self.car.rear_axle_kg
        if written is not None:
            return float(written)
        known = STATIONS["corner_mass"]
        weighed = {
            r.corner: r.value
            for r in self.latest
            if r.code == known.code and r.corner in CORNERS_OF[end] and known.holds(r.value)
        }
        return axle_of_corners_kg(list(weighed.values()))

    @property
    def driven_end(self) -> str:
        """The end whose tyres turn the speedometer; blank where nobody said which wheels are driven."""
        return {"R": "R", "F": "F", "4": "F"}.get(self.car.drive, "")

    @cached_property
    def _true_speed(self) -> tuple[float | None, InputUsed | None]:
        """True speed at an indicated 100 km/h on the tyres that stand there now.

        A reading on others is carried over by their diameter.
        """
        reading = next(
            (r for r in self.latest if r.code == "true_speed" and STATIONS["true_speed"].holds(r.value)), None
        )
        driven = self.driven_end
        then = self.outfit_axles.get((reading.outfit_id, driven)) if reading is not None else None
        now = self.on(self.current, driven)
        if reading is None or then is None or now is None:
            return None, None
        value = true_kmh(reading.value, parse_tyre(then.tyre).diameter_mm, parse_tyre(now.tyre).diameter_mm)
        used = InputUsed(
            "true speed",
            f"{reading.value:g} ± {reading.uncertainty:g} km/h at 100",
            reading.who,
            f"{reading.taken_on:%-d %b %Y}",
        )
        return value, used

    def camber_of(self, axle: OutfitAxle, corner: str = "") -> float | None:
        """Camber of an end as it stood in an outfit.

        Read at the corner, else the mean of both sides as read, else as written.
        """
        read = {
            r.corner: r.value
            for r in self.latest
            if r.code == "camber" and r.outfit_id == axle.outfit_id and r.corner[:1] == axle.end
        }
        if corner:
            return read.get(corner, axle.camber_deg)
        return camber_of_end_deg(list(read.values()), axle.camber_deg)

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


def open_file(user: Any, car_id: int) -> CarFile:
    """The file of one of the person's own cars, else 404; a constant number of queries, and none where it is kept."""
    return of_the_car(car_id, user.pk, lambda: _open(user, car_id), weight_of)


def open_unkept(user: Any, car_id: int) -> CarFile:
    """The same, read anew and kept for nobody: for a reader who is not the one whose pages are kept."""
    return _open(user, car_id)


#: what a row with its core values takes, and one thing that was worked out of a file [bytes], as measured on the demo's
#: cars
ROW_BYTES, WORKED_OUT_BYTES = 3_000, 24_000


def weight_of(file: CarFile) -> int:
    """About how much memory a file takes [bytes]."""
    return ROW_BYTES * (len(file.readings) + len(file.outfits) + 20) + WORKED_OUT_BYTES * len(file.kept)


def _open(user: Any, car_id: int) -> CarFile:
    car = get_object_or_404(Car.objects.select_related("owner__preferences"), pk=car_id, owner=user)
    preferences = getattr(car.owner, "preferences", None) or Preferences(user=car.owner)
    if (reader := getattr(user, "read_by", None)) is not None:
        preferences = preferences.in_units_of(reader)
    outfits = list(
        car.outfits.prefetch_related(Prefetch("axles", OutfitAxle.objects.select_related("wheel_part", "tyre_part")))
    )
    stood = {outfit.pk: outfit for outfit in outfits}
    readings = list(_standing(car).annotate(crewed=F("condition__driver_aboard"), fuel=F("condition__fuel")))
    for reading in readings:
        reading.outfit = stood[reading.outfit_id]
    known = {reading.pk: reading for reading in readings}
    trials = list(car.trials.prefetch_related("sightings"))
    faults = {reading.pk: fault_of_reading(reading) for reading in readings}
    for sighting in (one for trial in trials for one in trial.sightings.all()):
        sighting.reading = known[sighting.reading_id]
    return CarFile(
        car=car,
        user=car.owner,
        preferences=preferences,
        axles={axle.end: axle for axle in car.axles.all()},
        outfits=outfits,
        readings=[reading for reading in readings if faults[reading.pk] is None],
        sets=list(ToleranceSet.objects.filter(owner=user)),
        trials=trials,
        strange=[reading for reading in readings if faults[reading.pk] is not None],
        rubs=list(car.rubs.all()),
        stood={
            reading.pk: (bool(reading.crewed), reading.fuel or "")
            for reading in readings
            if reading.condition_id is not None
        },
    )


#: of one place on one outfit, how many of the newest readings a page takes: one that can't be read any more hides none
#: before it
NEWEST = 3
#: stations whose earlier readings count beside the newest: weighings are compared over time
OVER_TIME = ("car_mass", "corner_mass")


def _standing(car: Car) -> QuerySet[Reading]:
    """What stands of a car's readings, not all that was ever read.

    A station read a thousand times costs what one read thrice does.

    Kept are the newest of every place and outfit, the one entered last, weighings, and what a trial fit speaks of.
    """
    # As text: not every database can compare what JSON holds.
    place: list[Any] = [F("outfit_id"), F("corner"), F("code"), Cast("where", TextField())]
    struck = Case(When(struck_why="", then=0), default=1)
    newest = (
        Reading.objects.filter(car=car)
        .annotate(
            by_day=Window(
                RowNumber(), partition_by=place, order_by=[struck.asc(), F("taken_on").desc(), F("id").desc()]
            ),
            by_entry=Window(RowNumber(), partition_by=[F("corner"), F("code")], order_by=F("id").desc()),
        )
        .filter(Q(by_day__lte=NEWEST) | Q(by_entry=1))
        .values("pk")
    )
    tried = Sighting.objects.filter(trial__car=car).values("reading_id")
    return Reading.objects.filter(car=car).filter(Q(pk__in=newest) | Q(code__in=OVER_TIME) | Q(pk__in=tried))


def latest_of(readings: list[Reading]) -> list[Reading]:
    """Newest of every station; ``readings`` come newest first."""
    found: dict[Any, Reading] = {}
    for reading in readings:
        if not reading.struck_why:
            found.setdefault(reading.key, reading)
    return list(found.values())


def fault_of_reading(reading: Reading) -> str | None:
    """Why a reading that is kept counts for nothing; None where it is what its station declares."""
    kind = STATIONS.get(reading.code)
    if kind is None:
        return "there is no such station any more; the reading is kept and counts for nothing"
    try:
        check_values(kind, reading.values[: len(kind.values)])
        check_where(kind, {name: value for name, value in reading.where.items() if name in kind.params})
    except CoreError as error:
        return f"{error.message}; the reading is kept and counts for nothing"
    return None


@dataclass(frozen=True)
class Problem:
    """Something kept that can't be read any more: what it is, why, and where it is put right."""

    what: str
    why: str
    url: str


def unreadable(file: CarFile) -> list[Problem]:
    """Rows of before that today's core refuses.

    Each is left out of what is judged, and told with the way to repair it.
    """
    found: list[Problem] = []
    car = reverse("car", args=[file.car.pk])
    for outfit in file.outfits:
        for row in outfit.axles.all():
            fault = fault_of(row)
            if fault is not None:
                found.append(
                    Problem(
                        f"{row.get_end_display()} wheel and tyre of “{outfit.name}” ({row.wheel}, {row.tyre})",
                        fault,
                        car,
                    )
                )
    for axle in file.axles.values():
        for name, parse in (("thread", parse_thread), ("seat", parse_seat)):
            text = getattr(axle, name)
            if text and text_of(parse, text) is None:
                found.append(Problem(f"{axle.get_end_display()} hub, {name} “{text}”", "it can't be read", car))
    for reading in file.strange:
        why = fault_of_reading(reading) or ""
        found.append(
            Problem(f"reading “{reading.typed}” at {reading.code}", why, reverse("measure", args=[file.car.pk]))
        )
    for trial in file.trials:
        fault = fault_of(trial)
        if fault is not None:
            found.append(
                Problem(
                    f"trial fit of {trial.tried_on:%-d %b %Y}, {trial}",
                    fault,
                    reverse("trial", args=[file.car.pk, trial.corner]),
                )
            )
    file.trials = [trial for trial in file.trials if fault_of(trial) is None]
    return found
