"""Ranking: one measured corner, many wheels and tyres, ordered by what a school wants most.

Longer than other files: one search, with the quick order that stands before it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.judgement import State, state_of_gap, worst
from rimcore.well.judge.unknown import Usual, Usuals, depends, state_of_usual
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.field import fields_of
from rimcore.well.solid.gap import outline_polygon
from rimcore.well.solid.polygon import signed_distance
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import Outline
from rimcore.wheels.stance import scrub_radius_mm
from rimcore.wheels.tyre import Tyre, rim_fit, section_on_rim_mm
from rimcore.wheels.wheel import Wheel

Array = NDArray[np.float64]


#: what a school puts first (common practice)
SCHOOLS = {
    "flush": "outer face nearest to the arch lip without standing out",
    "light": "least weight of wheel and tyre",
    "cheap": "least price of wheel and tyre",
    "wide": "widest section on its rim",
    "scrub": "least change of scrub radius",
}


#: most pairs of one ranking
MOST_PAIRS = 20_000


#: poses of the cloud that all pairs walk through, and how much less a gap may be between them [mm]
STEER_COUNT, TRAVEL_COUNT, MISSED_MM = 81, 53, 0.2


#: first places of the order whose gaps are answered exactly
MOST_EXACT = 200


#: and those that a list shows where nobody says how many
MOST_SHOWN = 50


@dataclass(frozen=True)
class Pair:
    """A wheel and a tyre with what is known of them; None is not known."""

    wheel: Wheel
    tyre: Tyre
    measured_section_mm: float | None = None
    mass_kg: float | None = None
    price: float | None = None
    name: str = ""
    #: inside of the barrel, and back of the spokes beyond the mounting face, where the wheel's maker says so
    barrel_radius_mm: float | None = None
    spoke_back_mm: float | None = None


@dataclass(frozen=True)
class Inside:
    """Something that stands inside the rim: its largest radius, and how far it stands beyond the mounting face [mm]."""

    name: str
    radius_mm: float | None = None
    face_mm: float | None = None


@dataclass(frozen=True)
class Place:
    """Where the pairs would stand: what is on the car now, the well, its obstacles, and the spacer.

    ``axial`` names obstacles on the knuckle that were read with a rule along the axle: beyond the point that
    was read they go on past the lip. ``loose`` are arms whose pivot and joint nobody measured.
    """

    present: Fitted
    well: Well
    things: tuple[Thing, ...]
    spacer_mm: float = 0.0
    body_margin_mm: float = 10.0
    knuckle_margin_mm: float = 5.0
    #: the range of steer and travel is measured; else only a hit at rest is known
    range_known: bool = True
    #: y of the arch lip in body axes, where it was measured [mm]
    lip_mm: float | None = None
    axle_load_kg: float | None = None
    #: steering axis measured
    axis_known: bool = False
    axial: frozenset[str] = frozenset()
    loose: frozenset[str] = frozenset()
    inside: tuple[Inside, ...] = ()
    #: what of steering axis and camber gain is not measured and matters
    unknown: tuple[str, ...] = ()


@dataclass(frozen=True)
class Ranked:
    """One pair's place in the order; ``range_mm`` is over every usual axis where one is not measured."""

    pair: Pair
    state: State
    gap_mm: float | None
    obstacle: str
    margin_left_mm: float | None
    measure: float | None
    reasons: tuple[str, ...]
    missing: tuple[str, ...] = ()
    range_mm: tuple[float, float] | None = None
    #: place in the list as it was given
    given: int = 0


def rank(place: Place, pairs: Sequence[Pair], school: str, shown: int = MOST_SHOWN) -> list[Ranked]:
    """Order pairs by school: what goes in first, then what nobody can say, then what touches; ties as given.

    All pairs share one cloud of obstacle points over steer and travel, so that the work for each is one
    walk through it and the whole grows linearly with their number. Where that leaves a state in doubt, and
    for the first ``shown`` places of the order (``MOST_EXACT`` at most), the gap is that of the continuous
    range, from the same search that judges a single pair.

    Source: nearest approach of solids, as ``gaps_at``.

    Parameters
    ----------
    place : the corner with its readings and motion
    pairs : wheel with tyre (n,), 1 to ``MOST_PAIRS``
    school : code of the school of gaps
    shown : places of the order that are told exactly, 0 or more

    Raises
    ------
    BadInput : an unknown school, no pairs, or too many

    Examples
    --------
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x7.5 +45"), parse_tyre("225/45R17"))
    >>> strut = Thing("strut", "knuckle", np.array([[0.0, -170.0, 250.0]]))
    >>> pairs = [Pair(parse_wheel(f"17x8 {offset:+d}"), parse_tyre("225/45R17")) for offset in (60, 45, 35)]
    >>> [one.pair.wheel.offset_mm for one in rank(Place(on_car, Well(0.0), (strut,), lip_mm=95.0), pairs, "flush")]
    [35.0, 45.0, 60.0]
    """
    if school not in SCHOOLS:
        raise BadInput(f"no such margin set; accepted: {', '.join(SCHOOLS)}", "school")
    if not pairs:
        raise BadInput("no pairs; accepted: at least one wheel and one tyre whose rim diameters agree", "wheels")
    if len(pairs) > MOST_PAIRS:
        raise BadInput(f"{len(pairs)} pairs; accepted: {MOST_PAIRS} at most", "wheels")
    gaps = _Gaps(place)
    gaps.walk(pairs)
    ranked = [_ranked(place, pair, k, gaps, _MEASURES[school]) for k, pair in enumerate(pairs)]
    wanted, answered = min(shown, MOST_EXACT), set[int]()
    while True:
        ranked.sort(key=_order)
        rough = [k for k, one in enumerate(ranked[:wanted]) if one.given not in answered]
        if not rough:
            return ranked
        for k in rough:
            answered.add(ranked[k].given)
            ranked[k] = _ranked(place, ranked[k].pair, ranked[k].given, gaps, _MEASURES[school], exact=True)


def _order(one: Ranked) -> tuple[int, float, int]:
    group = {"clear": 0, "tight": 1, "unmeasured": 2, "hit": 3}[one.state]
    return group, math.inf if one.measure is None else round(one.measure, 6), one.given


@dataclass(frozen=True)
class _Gap:
    """Gap of an obstacle [mm], what it is held against, and its state before anything that is not measured."""

    name: str
    mm: float
    margin_mm: float
    state: State
    usual: Usual | None = None

    @property
    def left_mm(self) -> float:
        """What is left over the margin, for every usual axis [mm]."""
        return (self.mm if self.usual is None else self.usual.lo_mm) - self.margin_mm


class _Gaps:
    """Gaps of all obstacles of a place for fitted pairs: quickly for many, exactly for a few."""

    def __init__(self, place: Place) -> None:
        self.place = place
        well = replace(place.well, centre_mm=0.0)
        if not place.range_known:
            rest = well.ride_drop_mm
            well = replace(well, bump_mm=rest, droop_mm=-rest, steer_in_deg=0.0, steer_out_deg=0.0)
        self.moving = [thing for thing in place.things if thing.frame != "knuckle"]
        self.riding = [thing for thing in place.things if thing.frame == "knuckle"]
        unknown = place.unknown if place.range_known else ()
        self.fields = (
            fields_of(Cloud(well, self.moving, STEER_COUNT, TRAVEL_COUNT)) if self.moving and not unknown else []
        )
        #: all moving obstacles are held alike, so that the nearest of them decides
        self.alike = place.range_known and not place.loose
        self.rough: dict[tuple[Outline, float], tuple[float, int]] = {}
        self.cloud = Cloud(well, self.moving) if self.moving else None
        self.usuals = Usuals(well, self.moving, unknown) if self.moving and unknown else None
        points = [thing.points_mm for thing in self.riding]
        self.points = np.vstack(points) if points else np.zeros((0, 3))
        self.starts = np.cumsum([0, *(len(each) for each in points[:-1])]) if points else np.zeros(0, dtype=np.intp)
        self.radii = np.array([thing.radius_mm for thing in self.riding])
        self.depth = np.hypot(self.points[:, 0], self.points[:, 2])

    def walk(self, pairs: Sequence[Pair]) -> None:
        """The nearest moving obstacle of every pair, roughly: all places of one outline at a time."""
        wanted: dict[Outline, set[float]] = {}
        for pair in pairs if self.fields else ():
            fitted = _fitted(self.place, pair)
            with suppress(CoreError):
                wanted.setdefault(fitted.outline, set()).add(fitted.centre_mm)
        for shape, places in wanted.items():
            centres, polygon = np.array(sorted(places)), outline_polygon(shape)
            each = [field.gaps_at(polygon, centres) for field in self.fields]
            nearest = np.argmin([gaps for gaps, _ in each], axis=0)
            for k, centre in enumerate(centres.tolist()):
                gaps, whose = each[nearest[k]]
                self.rough[shape, centre] = float(gaps[k]), int(whose[k])

    def of(self, fitted: Fitted, exact: bool) -> list[_Gap]:
        """Gaps of a pair: of those that ride along each, of the moving ones each or the nearest."""
        polygon, centre = outline_polygon(fitted.outline), fitted.centre_mm
        found = self._riding(fitted, polygon, centre)
        if self.cloud is None:
            return found
        if self.usuals is not None:
            return found + self._usual(polygon, centre)
        if not exact:
            gap, which = self.rough[fitted.outline, centre]
            margin = self.place.body_margin_mm
            if abs(gap) > MISSED_MM and abs(gap - margin) > MISSED_MM:
                return [*found, self._plain(self.moving[which], gap)]
        if self.alike:
            gap, which = self.cloud.lowest(polygon, centre)
            return [*found, self._plain(self.moving[which], gap)]
        return found + [
            self._plain(thing, low.gap_mm)
            for thing, low in zip(self.moving, self.cloud.lows(polygon, centre), strict=True)
        ]

    def _plain(self, thing: Thing, gap: float) -> _Gap:
        margin = self.place.body_margin_mm
        return _Gap(thing.name, gap, margin, state_of_gap(gap, margin))

    def _usual(self, polygon: Array, centre: float) -> list[_Gap]:
        """Where the axis is not measured: the figure without it, and the range over all that is usual."""
        if self.usuals is None or self.cloud is None:
            return []
        lows = self.cloud.lows(polygon, centre)
        found = []
        for thing, low, one in zip(self.moving, lows, self.usuals.ranges(polygon, centre), strict=True):
            usual, plain = depends(one, low.gap_mm), self._plain(thing, low.gap_mm)
            state = plain.state if usual is None else state_of_usual(usual.lo_mm, usual.hi_mm, plain.margin_mm)
            found.append(replace(plain, usual=usual, state=state))
        return found

    def _riding(self, fitted: Fitted, polygon: Array, centre: float) -> list[_Gap]:
        """What rides with the wheel: shortest way, and past the lip where it goes on beyond the point that was read."""
        if not self.riding:
            return []
        across = self.points[:, 1] - centre
        gaps = (
            np.minimum.reduceat(signed_distance(polygon, np.column_stack([across, self.depth])), self.starts)
            - self.radii
        )
        margin, shape = self.place.knuckle_margin_mm, fitted.outline
        found = []
        for thing, gap, start in zip(self.riding, gaps.tolist(), self.starts.tolist(), strict=True):
            if thing.name in self.place.axial and self.depth[start] <= shape.crown_mm:
                gap = min(gap, -shape.half_width_at(float(self.depth[start])) - float(across[start]))
            found.append(_Gap(thing.name, gap, margin, state_of_gap(gap, margin)))
        return found


def _fitted(place: Place, pair: Pair) -> Fitted:
    return Fitted(pair.wheel, pair.tyre, place.spacer_mm, place.well.camber_deg, pair.measured_section_mm)


def _ranked(place: Place, pair: Pair, given: int, gaps_of: _Gaps, measure: Measure, exact: bool = False) -> Ranked:
    fitted = _fitted(place, pair)
    value, said = measure(place, pair, fitted)
    reasons = [said] if said else []
    try:
        gaps = gaps_of.of(fitted, exact)
    except CoreError as error:
        return Ranked(pair, "hit", None, "", None, value, (error.message, *reasons), given=given)
    inside, missing = _inside(place, pair)
    gaps += inside
    states: list[State] = [_state_here(place, one) for one in gaps]
    if missing or not place.range_known or not gaps:
        states.append("unmeasured")
    reasons += [
        f"{one.name}: arms turn with travel, its pivot and joint are not measured"
        for one in gaps
        if one.name in place.loose
    ]
    if not gaps:
        reasons.append("no obstacle is measured")
    if not place.range_known:
        reasons.append("the range of steer and travel is not measured")
    shown = _shown(gaps, states)
    if shown is not None:
        reasons.append(_said(shown))
    missing += _to_measure(gaps)
    fit = rim_fit(pair.tyre, pair.wheel.width_in)
    if fit != "ok":
        low, high = pair.tyre.rim_range_in
        reasons.append(f"tyre on rim: {fit}, {low:g} to {high:g} in approved")
        states.append("hit" if fit == "outside" else "tight")
    state = _load(place, pair, worst(states), reasons)
    if shown is None:
        return Ranked(
            pair=pair,
            state=state,
            gap_mm=None,
            obstacle="",
            margin_left_mm=None,
            measure=value,
            reasons=tuple(reasons),
            missing=tuple(missing),
            given=given,
        )
    usual = None if shown.usual is None else (shown.usual.lo_mm, shown.usual.hi_mm)
    return Ranked(
        pair=pair,
        state=state,
        gap_mm=shown.mm,
        obstacle=shown.name,
        margin_left_mm=shown.mm - shown.margin_mm,
        measure=value,
        reasons=tuple(reasons),
        missing=tuple(missing),
        range_mm=usual,
        given=given,
    )


def _state_here(place: Place, one: _Gap) -> State:
    """A gap's state; an arm that stands still because nobody measured its pivot says nothing, and without a range only
    contact does.
    """
    moves = any(thing.name == one.name and thing.frame != "knuckle" for thing in place.things)
    if one.name in place.loose or (moves and not place.range_known and one.state != "hit"):
        return "unmeasured"
    return one.state


def _shown(gaps: list[_Gap], states: list[State]) -> _Gap | None:
    """The gap that decides a pair: of those in the worst state the deepest overlap, else the least over its margin."""
    known = list(zip(gaps, states, strict=False))
    if not known:
        return None
    decides = worst(state for _, state in known)
    return min((one for one, state in known if state == decides), key=lambda one: one.left_mm)


def _to_measure(gaps: list[_Gap]) -> list[str]:
    """What of axis and gain leaves gaps open, most useful first."""
    most: dict[str, float] = {}
    for one in gaps:
        for name, by in one.usual.narrows if one.usual is not None and one.state == "unmeasured" else ():
            most[name] = max(by, most.get(name, 0.0))
    return sorted(most, key=lambda name: -most[name])


def _said(one: _Gap) -> str:
    if one.usual is not None:
        return f"{one.name}: {one.usual.lo_mm:.1f} to {one.usual.hi_mm:.1f} mm over every usual steering axis, wants {one.margin_mm:g} mm"
    return (
        f"{one.name}: overlaps by {-one.mm:.1f} mm"
        if one.mm < 0
        else f"{one.name}: {one.mm:.1f} mm, wants {one.margin_mm:g} mm"
    )


def _inside(place: Place, pair: Pair) -> tuple[list[_Gap], list[str]]:
    """Brake and joints against barrel and spokes; what the wheel's maker has not said is missing."""
    found, missing = [], []
    for one in place.inside:
        known = (
            ("barrel_radius_mm", one.radius_mm, pair.barrel_radius_mm),
            (
                "spoke_back_mm",
                one.face_mm,
                None if pair.spoke_back_mm is None else pair.spoke_back_mm + place.spacer_mm,
            ),
        )
        for key, on_car, in_wheel in known:
            if on_car is None:
                continue
            if in_wheel is None:
                missing.append(f"{one.name}: wheel.{key}")
                continue
            gap, margin = in_wheel - on_car, place.knuckle_margin_mm
            found.append(_Gap(one.name, gap, margin, state_of_gap(gap, margin)))
    return found, missing


def _load(place: Place, pair: Pair, state: State, reasons: list[str]) -> State:
    """A tyre that does not carry half of the axle is no candidate."""
    if place.axle_load_kg is None or pair.tyre.load_kg is None or pair.tyre.load_kg >= place.axle_load_kg / 2:
        return state
    reasons.append(
        f"load index carries {pair.tyre.load_kg:.0f} kg, half of the axle is {place.axle_load_kg / 2:.0f} kg"
    )
    return "hit"


Measure = Callable[[Place, Pair, Fitted], tuple[float | None, str]]


def _flush(place: Place, pair: Pair, fitted: Fitted) -> tuple[float | None, str]:
    if place.lip_mm is None:
        return None, "the arch lip is not measured"
    gap = place.lip_mm - fitted.centre_mm - fitted.outline.outermost_mm
    if gap < 0:
        return 1000.0 - gap, f"stands {-gap:.1f} mm out past the lip; protrusion is regulated"
    return gap, f"{gap:.1f} mm inside the lip at rest"


def _light(place: Place, pair: Pair, fitted: Fitted) -> tuple[float | None, str]:
    return pair.mass_kg, "weight not known" if pair.mass_kg is None else f"{pair.mass_kg:.1f} kg a corner"


def _cheap(place: Place, pair: Pair, fitted: Fitted) -> tuple[float | None, str]:
    return pair.price, "price not known" if pair.price is None else f"{pair.price:g} a corner"


def _wide(place: Place, pair: Pair, fitted: Fitted) -> tuple[float | None, str]:
    section = pair.measured_section_mm or section_on_rim_mm(pair.tyre, pair.wheel.width_in)
    return -section, f"{section:.0f} mm section on its rim"


def _scrub(place: Place, pair: Pair, fitted: Fitted) -> tuple[float | None, str]:
    if not place.axis_known:
        return None, "the steering axis is not measured"
    well = place.well
    before = scrub_radius_mm(place.present, well.kpi_deg, well.kingpin_inboard_mm)
    after = scrub_radius_mm(fitted, well.kpi_deg, well.kingpin_inboard_mm)
    return abs(after - before), f"scrub radius {before:+.1f} → {after:+.1f} mm"


_MEASURES: dict[str, Measure] = {"flush": _flush, "light": _light, "cheap": _cheap, "wide": _wide, "scrub": _scrub}
