"""The mass ledger with the build in hand, for the core, and what is judged of it."""

from __future__ import annotations

from dataclasses import dataclass

from bench.weights.facts import Weighing, inputs_of, pads_of, weighings
from garage.file import CarFile
from garage.kept import once
from garage.mass.ledger import between, goal_of, items_of, ledger_of, off_the_car, scales, since, weighed_of
from planner.models import Build
from planner.wants import with_needs
from rimcore.mass.against import Padded, judge_pads
from rimcore.mass.balance import Item, Stands, after, ballast_mm, behind_front_mm, right_of_centre_mm
from rimcore.mass.ledger import Scaled, judge_guarded, judge_minimum, judge_phase, judge_scale, moved, totals
from rimcore.quantities.judgement import Judgement
from rimcore.ride.weights import Pads
from rimcore.wanted import Wanted

#: under which ballast stands in a build
BALLAST = "ballast"


@dataclass(frozen=True)
class Balanced:
    """Four pads before and after what came out since, or is planned.

    Places of the centre of gravity [mm], and items without a place.
    """

    before: Stands
    after: Stands
    unplaced: tuple[str, ...]

    @property
    def pads(self) -> tuple[Pads, Pads]:
        """Both, for shares and cross weight."""
        return Pads(*self.before.pads_kg), Pads(*self.after.pads_kg)

    @property
    def places(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Centre of gravity behind the front axle and right of the centre line, before and after [mm]."""
        return tuple((behind_front_mm(one), right_of_centre_mm(one)) for one in (self.before, self.after))  # type: ignore[return-value]


@once
def balanced(file: CarFile) -> Balanced | str:
    """What the ledger does to the pads that were read last, once a page.

    In words what is missing where it can't be told.
    """
    return _balanced(file)


def _balanced(file: CarFile) -> Balanced | str:
    found, car = pads_of(file), file.car
    missing = [
        name
        for name, value in (
            ("four pads", found),
            ("the wheelbase", car.wheelbase_mm),
            ("the front track", car.track_front_mm),
            ("the rear track", car.track_rear_mm),
        )
        if value is None
    ]
    if found is None or car.wheelbase_mm is None or car.track_front_mm is None or car.track_rear_mm is None:
        return ", ".join(missing)
    items, unplaced = moved(off_the_car(file, found.newest, True), ("out", "planned"))
    fl, fr, rl, rr = found.loads_kg
    stands = Stands((fl, fr, rl, rr), car.wheelbase_mm, (car.track_front_mm, car.track_rear_mm), car.cg_height_mm)
    then = after(stands, items)
    return (
        Balanced(stands, then, tuple(unplaced))
        if then.total_kg > 0
        else "more is planned to come out than the car weighs"
    )


def car_now(file: CarFile) -> Scaled | None:
    """The car as the scale said last, less what came out since."""
    read = scales(file)
    if not read:
        return None
    reading, scaled = read[0]
    gone = totals(since(file, reading))
    return Scaled(scaled.kg - gone.net_kg, (scaled.doubt_kg**2 + gone.doubt_kg**2) ** 0.5, scaled.said)


@dataclass(frozen=True)
class Ballasted:
    """Ballast that the class minimum wants, where it helps most [mm], and the car with it."""

    kg: float
    behind_mm: float
    right_mm: float
    then: Stands

    @property
    def pads(self) -> Pads:
        """With it in place."""
        return Pads(*self.then.pads_kg)

    @property
    def left_mm(self) -> float:
        """Left of the centre line."""
        return -self.right_mm


def ballast_of(file: CarFile) -> Ballasted | None:
    """What is missing to the class minimum with what is planned.

    None where nothing is, or the corners are not known.
    """
    least = next((one for one in judgements(file) if one.code == "mass.minimum"), None)
    stands = balanced(file)
    if least is None or least.margin is None or least.margin >= 0 or isinstance(stands, str):
        return None
    behind, right = ballast_mm(stands.after, -least.margin)
    return Ballasted(-least.margin, behind, right, after(stands.after, [Item("ballast", -least.margin, behind, right)]))


def wanted_of(file: CarFile, build: Build) -> list[Wanted]:
    """Ballast that the class minimum wants, as a part of the build; empty where none is."""
    found = ballast_of(file)
    if found is None:
        return []
    spec = {"mass_change_kg": round(found.kg, 1), "bolt_mm": 10.0}
    part = Wanted("ballast", "ballast", f"Ballast, {found.kg:.1f} kg, M10 with a plate", 1, spec, why="class minimum")
    return with_needs(file, build, BALLAST, [part])


def begun(file: CarFile) -> bool:
    """Has anybody weighed an item, or said what the car is to weigh?"""
    return bool(items_of(file)) or ledger_of(file).goal is not None


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the mass bench judges, once a page."""
    return _judged(file)


def _judged(file: CarFile) -> tuple[Judgement, ...]:
    items, goal = weighed_of(file), goal_of(file)
    planned = totals(items, ("planned",))
    found = [
        judge_phase(goal, totals(items)),
        judge_minimum(goal, car_now(file), planned),
        _residual(file),
        _against_pads(file),
    ]
    return (*(one for one in found if one is not None), *judge_guarded(items))


def _residual(file: CarFile) -> Judgement | None:
    """Between the first and the last time that the whole car stood on a scale on the wheels that stand on it now."""
    now = file.current.pk if file.current else None
    read = [(reading, scaled) for reading, scaled in scales(file) if reading.outfit_id == now]
    if len(read) < 2:
        return None
    (last, after_), (first, before) = read[0], read[-1]
    gone = totals(between(file, first, last))
    return judge_scale(before, after_, gone) if gone.count else None


def _against_pads(file: CarFile) -> Judgement | None:
    """Between the first and the last time that four pads were read on the wheels that stand on it now, with the same
    crew; None before that.
    """
    last, car = pads_of(file), file.car
    if last is None or car.wheelbase_mm is None or car.track_front_mm is None or car.track_rear_mm is None:
        return None
    crew, _ = file.stood_at(last.newest)
    alike = [
        one
        for one in weighings(file)
        if one.newest.outfit_id == last.newest.outfit_id and file.stood_at(one.newest)[0] == crew
    ]
    first = alike[-1]
    gone = between(file, first.newest, last.newest)
    if first is last or not gone:
        return None
    items, unknown = moved(gone, ("out",))
    stood = Stands(first.four_kg, car.wheelbase_mm, (car.track_front_mm, car.track_rear_mm))
    return judge_pads(stood, _padded(file, first), _padded(file, last), items, unknown, totals(gone).doubt_kg)


def _padded(file: CarFile, one: Weighing) -> Padded:
    return Padded(
        one.four_kg,
        max(row.uncertainty for row in one.read.values()),
        inputs_of(one.read),
        file.stood_at(one.newest)[1],
    )
