"""Ranking: one measured corner, many wheels and tyres, ordered by what a school wants most."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from rimcore.cloud import Cloud
from rimcore.errors import BadInput, CoreError
from rimcore.field import Field
from rimcore.gap import Fitted, outline_polygon
from rimcore.judgement import State
from rimcore.mover import Thing, Well
from rimcore.polygon import signed_distance
from rimcore.stance import scrub_radius_mm
from rimcore.tyre import Tyre, rim_fit, section_on_rim_mm
from rimcore.wheel import Wheel

Array = NDArray[np.float64]

#: what a school puts first (common practice)
SCHOOLS = {
    "flush": "outer face nearest to the arch lip without standing out",
    "light": "least mass of wheel and tyre",
    "cheap": "least price of wheel and tyre",
    "wide": "widest section on its rim",
    "scrub": "least change of scrub radius",
}
#: most pairs of one ranking
MOST_PAIRS = 20_000


@dataclass(frozen=True)
class Pair:
    """A wheel and a tyre with what is known of them; None is not known."""

    wheel: Wheel
    tyre: Tyre
    measured_section_mm: float | None = None
    mass_kg: float | None = None
    price: float | None = None
    name: str = ""


@dataclass(frozen=True)
class Place:
    """Where the pairs would stand: what is on the car now, the well, its obstacles, and the spacer."""

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


@dataclass(frozen=True)
class Ranked:
    """One pair's place in the order."""

    pair: Pair
    state: State
    gap_mm: float | None
    obstacle: str
    margin_left_mm: float | None
    measure: float | None
    reasons: tuple[str, ...]


def rank(place: Place, pairs: Sequence[Pair], school: str) -> list[Ranked]:
    """Order pairs by school: what goes in first, then what nobody can say, then what touches.

    All pairs share one cloud of obstacle points over steer and travel, so that the work for each is one
    walk through it and the whole grows linearly with their number. The gap is that over 41 × 27 poses,
    which lies within about 0.3 mm of the continuous one; the bench answers a single pair exactly.

    Raises
    ------
    BadInput : an unknown school, no pairs, or too many

    Examples
    --------
    >>> from rimcore.tyre import parse_tyre
    >>> from rimcore.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x7.5 +45"), parse_tyre("225/45R17"))
    >>> strut = Thing("strut", "knuckle", np.array([[0.0, -170.0, 250.0]]))
    >>> pairs = [Pair(parse_wheel(f"17x8 {offset:+d}"), parse_tyre("225/45R17")) for offset in (60, 45, 35)]
    >>> [one.pair.wheel.offset_mm for one in rank(Place(on_car, Well(0.0), (strut,), lip_mm=95.0), pairs, "flush")]
    [35.0, 45.0, 60.0]
    """
    if school not in SCHOOLS:
        raise BadInput(f"no such school; accepted: {', '.join(SCHOOLS)}", "school")
    if not pairs:
        raise BadInput("no pairs; accepted: at least one wheel and one tyre whose rim diameters agree", "wheels")
    if len(pairs) > MOST_PAIRS:
        raise BadInput(f"{len(pairs)} pairs; accepted: {MOST_PAIRS} at most", "wheels")
    moving = [thing for thing in place.things if thing.frame != "knuckle"]
    well = place.well if place.range_known else replace(place.well, bump_mm=0.0, droop_mm=0.0, steer_in_deg=0.0, steer_out_deg=0.0)
    gaps_of = _gaps(place, Field(Cloud(well, moving, 41, 27)) if moving else None)
    measure = _MEASURES[school]
    ranked = [_ranked(place, pair, gaps_of, measure) for pair in pairs]
    return sorted(ranked, key=_order)


def _order(one: Ranked) -> tuple[int, float, float]:
    group = {"clear": 0, "tight": 1, "unmeasured": 2, "hit": 3}[one.state]
    return group, math.inf if one.measure is None else one.measure, -(one.margin_left_mm if one.margin_left_mm is not None else -math.inf)


GapsOf = Callable[[Fitted], list[tuple[str, float, float]]]


def _gaps(place: Place, field: Field | None) -> GapsOf:
    """Name, gap and margin of the nearest moving obstacle and of those that ride along, for a fitted pair."""
    riding = [thing for thing in place.things if thing.frame == "knuckle"]
    points = np.vstack([thing.points_mm for thing in riding]) if riding else np.zeros((0, 3))
    owner = np.concatenate([np.full(len(thing.points_mm), k) for k, thing in enumerate(riding)]) if riding else np.zeros(0, dtype=int)
    radii = np.array([thing.radius_mm for thing in riding])

    def gaps(fitted: Fitted) -> list[tuple[str, float, float]]:
        polygon, centre = outline_polygon(fitted.outline), fitted.centre_mm
        found = []
        if field is not None:
            gap, whose = field.gaps(polygon, centre)
            found = [(field.names[whose], gap, place.body_margin_mm)]
        if riding:
            flat = np.column_stack([points[:, 1] - centre, np.hypot(points[:, 0], points[:, 2])])
            each = np.full(len(riding), np.inf)
            np.minimum.at(each, owner, signed_distance(polygon, flat))
            found += [(thing.name, float(gap), place.knuckle_margin_mm) for thing, gap in zip(riding, each - radii, strict=True)]
        return found

    return gaps


def _ranked(place: Place, pair: Pair, gaps_of: GapsOf, measure: Measure) -> Ranked:
    fitted = Fitted(pair.wheel, pair.tyre, place.spacer_mm, place.well.camber_deg, pair.measured_section_mm)
    value, said = measure(place, pair, fitted)
    reasons = [said] if said else []
    fit = rim_fit(pair.tyre, pair.wheel.width_in)
    try:
        gaps = gaps_of(fitted)
    except CoreError as error:
        return Ranked(pair, "hit", None, "", None, value, (error.message, *reasons))
    if not gaps:
        return Ranked(pair, "unmeasured", None, "", None, value, (*reasons, "no obstacle is measured"))
    name, gap, margin = min(gaps, key=lambda one: one[1] - one[2])
    touched = min(gaps, key=lambda one: one[1])
    state: State = "hit" if touched[1] < 0 else "tight" if gap < margin else "clear"
    if state == "hit":
        name, gap, margin = touched
        reasons.append(f"{name}: overlaps by {-gap:.1f} mm")
    else:
        reasons.append(f"{name}: {gap:.1f} mm, wants {margin:g}")
    if not place.range_known and state != "hit":
        state = "unmeasured"
        reasons.append("the range of steer and travel is not measured")
    if fit != "ok":
        low, high = pair.tyre.rim_range_in
        reasons.append(f"tyre on rim: {fit}, {low:g} to {high:g} in approved")
        state = "hit" if fit == "outside" else "tight" if state == "clear" else state
    state = _load(place, pair, state, reasons)
    return Ranked(pair, state, gap, name, gap - margin, value, tuple(reasons))


def _load(place: Place, pair: Pair, state: State, reasons: list[str]) -> State:
    """A tyre that does not carry half of the axle is no candidate."""
    if place.axle_load_kg is None or pair.tyre.load_kg is None or pair.tyre.load_kg >= place.axle_load_kg / 2:
        return state
    reasons.append(f"load index carries {pair.tyre.load_kg:.0f} kg, half of the axle is {place.axle_load_kg / 2:.0f} kg")
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
    return pair.mass_kg, "mass not known" if pair.mass_kg is None else f"{pair.mass_kg:.1f} kg a corner"


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
