"""A rack and both its wheels: how far each steers, how close to over centre, where it locks; centring, rods and shafts.

Longer than other files: it is one list of judgements of one rack.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.fastening.threads import Thread
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.curves import Curves, measured, outward
from rimcore.ride.links import Array, Corner, Poses, follow, polished, stacked, start
from rimcore.ride.plumb import Read
from rimcore.ride.points import HardPoints
from rimcore.ride.rods import as_built

#: least angle between rod and steering arm that should be left at full lock [deg] (common practice)
TOGGLE_DEG = 20.0
#: how far the rack is followed in search of over-centre [mm]
FARTHEST_MM = 150.0
#: stick-out of both rods counts as equal within this [mm] (common practice: half a millimetre is what a rule shows)
CENTRED_MM = 0.5
#: thread that a rod's end keeps, in diameters; spline of a shaft that a joint keeps (common practice)
ROD_DIAMETERS, SPLINE_DIAMETERS = 1.5, 1.0
#: within this above what is wanted it is tight
TIGHT_SHARE = 1.1
#: a shaft joint's angle [deg]: beyond the first it binds and wears, beyond the second it locks (common practice)
JOINT_TIGHT_DEG, JOINT_HIT_DEG = 30.0, 35.0


@dataclass(frozen=True, eq=False)
class Axle:
    """Both corners of a steered axle, each in its own corner frame; the rack moves them together.

    One axle is equal to itself alone, so that what was steered with it can be remembered.
    """

    left: HardPoints
    right: HardPoints
    wheelbase_mm: float
    kingpin_track_mm: float


@dataclass(frozen=True)
class Steered:
    """Rows of rack travel (n); NaN where a wheel can't follow.

    ``inside_deg`` and ``outside_deg`` are NaN unless one wheel steers out and the other in.
    """

    rack_mm: Array
    left: Curves
    right: Curves
    inside_deg: Array
    outside_deg: Array
    ackermann_pct: Array
    #: least rack travel to the left, and to the right, at which a wheel can be followed no further; None to 150 mm
    to_left_mm: float | None
    to_right_mm: float | None

    @property
    def reached(self) -> NDArray[np.bool_]:
        """Do both wheels follow?"""
        return self.left.reached & self.right.reached


def ackermann_pct(inside_deg: Array, outside_deg: Array, kingpin_track_mm: float, wheelbase_mm: float) -> Array:
    """Share of the difference that true rolling wants [%].

    100 (δi − δo) ÷ (δi* − δo), cot δo − cot δi* = track ÷ wheelbase.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 6 (steering geometry).

    Parameters
    ----------
    inside_deg : any shape, over 0 [deg]
    outside_deg : as ``inside_deg`` [deg]
    kingpin_track_mm : between the steering axes, over 0 [mm]
    wheelbase_mm : over 0 [mm]

    >>> inside = math.degrees(math.atan2(1, 1 / math.tan(math.radians(20)) - 1400 / 2600))
    >>> ackermann_pct(np.array([inside]), np.array([20.0]), 1400, 2600).round(6).tolist()
    [100.0]
    """
    out = np.radians(outside_deg)
    with np.errstate(divide="ignore", invalid="ignore"):
        true = np.degrees(np.arctan2(1.0, 1.0 / np.tan(out) - kingpin_track_mm / wheelbase_mm))
        return np.asarray(100.0 * (inside_deg - outside_deg) / (true - outside_deg))


def steered(axle: Axle, rack_mm: Sequence[float], travel_mm: float = 0.0) -> Steered:
    """Both wheels over rack travel [mm], positive towards the left, at a held hub height [mm]; and how far they follow.

    Source: closure of the links, as ``moved_to``.

    Parameters
    ----------
    axle : both corners with their rack
    rack_mm : (n,), left positive [mm]
    travel_mm : hub height that is held, bump positive [mm]
    """
    rack = np.asarray(rack_mm, dtype=float)
    values = np.unique(np.concatenate([rack, -rack, [-FARTHEST_MM, FARTHEST_MM]]))
    ways = _ways(axle, values, travel_mm)
    sides = []
    for points, (poses, _), way in zip((axle.left, axle.right), ways, (rack, -rack), strict=True):
        pick = np.searchsorted(values, way)
        heights = np.full(len(way), travel_mm)
        kept = polished(points.corner, Poses(poses.turn[pick], poses.at[pick], poses.reached[pick]), heights, way)
        sides.append(measured(points, kept, heights, way))
    left, right = sides
    turns = left.steer_deg * right.steer_deg < 0
    inside = np.where(turns, np.maximum(left.steer_deg, right.steer_deg), np.nan)
    outside = np.where(turns, -np.minimum(left.steer_deg, right.steer_deg), np.nan)
    ackermann = ackermann_pct(inside, outside, axle.kingpin_track_mm, axle.wheelbase_mm)
    (_, of_left), (_, of_right) = ways
    ends = [_least(of_left[1], of_right[0]), _least(of_left[0], of_right[1])]
    return Steered(
        rack_mm=rack,
        left=left,
        right=right,
        inside_deg=inside,
        outside_deg=outside,
        ackermann_pct=ackermann,
        to_left_mm=ends[0],
        to_right_mm=ends[1],
    )


@lru_cache(maxsize=24)
def lock_to_lock(axle: Axle, end_mm: float) -> Steered:
    """Both wheels at 21 places of the rack from lock to lock, once for an axle.

    Source: closure of the links, as ``moved_to``.

    Parameters
    ----------
    axle : both corners with their rack
    end_mm : rack travel to either lock, over 0 [mm]

    Raises
    ------
    BadInput : the points can't be followed
    """
    return steered(axle, np.linspace(-end_mm, end_mm, 21).tolist())


@lru_cache(maxsize=24)
def axle_read(
    left: Read, right: Read, rack_mm: tuple[float, ...], wheelbase_mm: float, kingpin_track_mm: float
) -> Axle:
    """Both corners as they were read, with the rack moved; once for what was read.

    Source: none; a container.

    Parameters
    ----------
    left : points of the left corner
    right : of the right one
    rack_mm : what a build does to the corner, as ``as_built`` [mm]
    wheelbase_mm : over 0 [mm]
    kingpin_track_mm : between the steering axes, over 0 [mm]

    Raises
    ------
    BadInput : the points can't be assembled there
    """
    now = [as_built(one.hard_points(), rack_mm) for one in (left, right)]
    return Axle(now[0], now[1], wheelbase_mm, kingpin_track_mm)


def _least(one: float, other: float) -> float | None:
    """Whichever wheel comes first; None where both follow to the end of the search."""
    least = min(one, other)
    return None if least >= FARTHEST_MM else least


def _ways(axle: Axle, values: Array, travel_mm: float) -> list[tuple[Poses, Array]]:
    """Left and right with the rod's inner end at each value, and how far each follows inboard and outboard [mm]."""
    sides = (axle.left, axle.right)
    if axle.left.layout is not axle.right.layout:
        return [_way(stacked([one.corner], 1), values, travel_mm)[0] for one in sides]
    return _way(stacked([one.corner for one in sides], 1), values, travel_mm)


def _way(corner: Corner, values: Array, travel_mm: float) -> list[tuple[Poses, Array]]:
    count = len(corner.outer)
    raised, _ = follow(corner, start(count), np.zeros(count), np.zeros(count), np.full((count, 1), travel_mm), False)
    poses, came = outward(corner, raised, np.full(count, travel_mm), values, True)
    turn, at, reached = (
        one.reshape(count, len(values), *one.shape[1:]) for one in (poses.turn, poses.at, poses.reached)
    )
    return [(Poses(turn[k], at[k], reached[k]), np.abs(came[:, k])) for k in range(count)]


def toggle(found: Steered, wanted_deg: float = TOGGLE_DEG) -> Judgement:
    """Do rod and steering arm keep their angle over these racks?

    Source: common practice.

    Parameters
    ----------
    found : both wheels over the rack
    wanted_deg : least angle between rod and arm, 0 to 90 [deg]
    """
    name = "Angle between rod and steering arm"
    if not found.reached.all():
        lost = found.rack_mm[~found.reached]
        nearest = _signed(round(float(lost[np.argmin(np.abs(lost))]), 1))
        return Judgement(
            "steer.toggle",
            name,
            "hit",
            f"at {nearest} mm of rack travel a wheel can't follow: it is over centre or out of reach",
            COMMON_PRACTICE,
            value=0.0,
            unit="°",
            held_against=wanted_deg,
            margin=-wanted_deg,
            remedies=_CURES,
        )
    angles = np.stack([found.left.toggle_margin_deg, found.right.toggle_margin_deg])
    if np.isnan(angles).any():
        return unmeasured(
            "steer.toggle", name, "this layout has no steering axis between two joints", ["steering axis"]
        )
    side, place = np.unravel_index(np.argmin(angles), angles.shape)
    least = float(angles[side, place])
    state: State = "hit" if least <= 1e-9 else "tight" if least < wanted_deg else "clear"
    return Judgement(
        "steer.toggle",
        name,
        state,
        f"{least:.1f}° left at {_signed(round(float(found.rack_mm[place]), 1))} mm of rack travel, {('left', 'right')[side]} wheel; {wanted_deg:g}° wanted",
        f"{COMMON_PRACTICE}: {wanted_deg:g}° at least" if wanted_deg == TOGGLE_DEG else "the angle asked for",
        value=least,
        unit="°",
        held_against=wanted_deg,
        margin=least - wanted_deg,
        inputs=(InputUsed("rack travel", f"{_signed(found.rack_mm.min())} to {_signed(found.rack_mm.max())} mm"),),
        remedies=() if state == "clear" else _CURES,
    )


def _signed(value: float) -> str:
    return f"{value:g}".replace("-", "−")


_CURES = ("move the rack forward", "take offset spacers off the rack", "limit the lock")


def turning_circle_m(found: Steered, wheelbase_mm: float) -> float | None:
    """Diameter that the outside wheel's lock allows [m]: 2 L ÷ sin δo at the largest outside angle; None in no turn.

    Source: plane geometry; slip is left out.

    Parameters
    ----------
    found : both wheels over the rack
    wheelbase_mm : over 0 [mm]
    """
    outside = found.outside_deg[np.isfinite(found.outside_deg)]
    if not len(outside):
        return None
    return 2.0 * wheelbase_mm / 1000.0 / math.sin(math.radians(float(outside.max())))


@dataclass(frozen=True)
class Centring:
    """Where a rack stands: how far it has to move [mm], and which way."""

    move_mm: float
    towards: str
    centred: bool


def centring(left_mm: float, right_mm: float, tolerance_mm: float = CENTRED_MM) -> Centring:
    """How far a rack is off its middle, by the rods' stick-out each side; it moves away from the longer side.

    Common practice: equal stick-out is centred.

    Parameters
    ----------
    left_mm : stick-out of the left rod, 0 or more [mm]
    right_mm : of the right rod [mm]
    tolerance_mm : over 0 [mm]

    >>> centring(20.0, 14.0)
    Centring(move_mm=3.0, towards='right', centred=False)
    >>> centring(11 / 16 * 25.4, 22 / 32 * 25.4).towards
    'centred'
    """
    apart = abs(left_mm - right_mm)
    if apart <= tolerance_mm + 1e-9:
        return Centring(apart / 2, "centred", True)
    return Centring(apart / 2, "right" if left_mm > right_mm else "left", False)


def turns_from_lock(turns_lock_to_lock: float) -> float:
    """From either lock back to the middle.

    Source: common practice: half of lock to lock.

    Parameters
    ----------
    turns_lock_to_lock : over 0

    >>> turns_from_lock(2.75)
    1.375
    """
    return turns_lock_to_lock / 2


@dataclass(frozen=True)
class Rod:
    """A tie rod before and after its inner joint moved [mm]."""

    before_mm: float
    after_mm: float

    @property
    def change_mm(self) -> float:
        """How much longer it has to be."""
        return self.after_mm - self.before_mm

    def turns(self, thread: Thread) -> float:
        """The same in turns of its thread, signed."""
        return self.change_mm / thread.pitch_mm


def rod(inner: Sequence[float], outer: Sequence[float], moved: Sequence[float]) -> Rod:
    """Length of a rod between its joints, before and after the inner one moves.

    Source: distance of two points.

    Parameters
    ----------
    inner : joint on the rack (3,) [mm]
    outer : joint on the arm (3,) [mm]
    moved : of the inner joint (3,) [mm]

    >>> rod((0, 0, 0), (0, 300, 0), (40, 0, 0)).after_mm.__round__(2)
    302.65
    """
    first = math.dist(inner, outer)
    if first == 0:
        raise BadInput("the joints are one point; accepted: joints apart", "outer_mm")
    return Rod(first, math.dist([a + b for a, b in zip(inner, moved, strict=True)], outer))


def rod_of(then: HardPoints, now: HardPoints) -> Rod:
    """The rod of a corner before and after its rack, its arm or its ends moved."""
    outer, inner = then.layout.rod
    return Rod(*(math.dist(one.points[inner], one.points[outer]) for one in (then, now)))


def engagement(
    code: str, name: str, engaged_mm: float | None, diameter_mm: float | None, times: float, of: str
) -> Judgement:
    """Is enough of a thread or a spline engaged?

    Source: common practice: one diameter in steel.

    Parameters
    ----------
    code : of the judgement
    name : in words
    engaged_mm : 0 or more; None where not read [mm]
    diameter_mm : of the thread or spline, over 0; None where not read [mm]
    times : wanted, in diameters
    of : what is engaged, in words

    >>> engagement("x", "Thread", 22.0, 14.0, 1.5, "diameter").state
    'tight'
    """
    if engaged_mm is None or diameter_mm is None:
        missing = [what for what, value in (("engaged_mm", engaged_mm), (of, diameter_mm)) if value is None]
        return unmeasured(
            code, name, f"not given: {', '.join(missing)}", missing, ["measure how far it is screwed or pushed in"]
        )
    wanted = times * diameter_mm
    state: State = (
        "hit" if engaged_mm < wanted - 1e-9 else "tight" if engaged_mm <= TIGHT_SHARE * wanted + 1e-9 else "clear"
    )
    return Judgement(
        code,
        name,
        state,
        f"{engaged_mm:.1f} mm engaged, {wanted:.1f} mm wanted",
        f"{COMMON_PRACTICE}: {times:g} × {of}",
        value=engaged_mm,
        unit="mm",
        held_against=wanted,
        margin=engaged_mm - wanted,
        formula=f"{times:g} × {diameter_mm:g} = {wanted:.1f} mm",
        remedies=() if state == "clear" else ("a longer rod or shaft", "an extension adapter", "move the rack less"),
    )


def engaged_after_mm(engaged_mm: float | None, change_mm: float, rod_mm: float | None) -> float | None:
    """Thread that is engaged after a rod became longer, without cutting it [mm]; never more than the rod has.

    Source: plane geometry.

    Parameters
    ----------
    engaged_mm : 0 or more; None where not read [mm]
    change_mm : how much longer the rod became [mm]
    rod_mm : length of its thread; None where not read [mm]

    >>> engaged_after_mm(25.0, -250.0, 100.0), engaged_after_mm(25.0, 10.0, None), engaged_after_mm(None, 1.0, 1.0)
    (100.0, 15.0, None)
    """
    if engaged_mm is None:
        return None
    after = engaged_mm - change_mm
    return after if rod_mm is None else min(after, rod_mm)


def no_rod_left(code: str, name: str, rod_mm: float, change_mm: float) -> Judgement:
    """A rod that would have to be no longer than nothing.

    Source: plane geometry.

    Parameters
    ----------
    code : of the judgement
    name : in words
    rod_mm : of the rod before, over 0 [mm]
    change_mm : how much longer it has to be [mm]

    >>> no_rod_left("x", "Rod", 100.0, -250.0).state
    'hit'
    """
    new = rod_mm + change_mm
    return Judgement(
        code,
        name,
        "hit",
        f"the rod of {rod_mm:.0f} mm would have to be {-change_mm:.0f} mm shorter: none is left",
        "arithmetic",
        value=new,
        unit="mm",
        held_against=0.0,
        margin=new,
        formula=f"{rod_mm:g} − {-change_mm:g} = {new:.1f} mm",
        remedies=("move the rack less", "a rack that is narrower"),
    )


def shaft_ratio(angles_deg: Sequence[float], phases_deg: Sequence[float]) -> tuple[float, float]:
    """Largest and smallest ratio of the last to the first shaft's speed over a turn; all shafts in one plane.

    Parameters
    ----------
    angles_deg : of each joint, 0 to below 90 [deg]
    phases_deg : turn of each joint's input yoke from being in line with the output yoke on the same shaft; the
        first is ignored [deg]

    Each joint stretches the direction of its yoke across the plane by 1/cos β, so that a train of them is one linear
    map whose two stretches s₁ ≥ s₂ give s₁/s₂ and s₂/s₁.

    Source: a single Cardan joint turns between 1/cos β and cos β (Milliken & Milliken; any handbook of machine
    elements).

    Examples
    --------
    >>> [round(one, 4) for one in shaft_ratio([30.0], [0.0])], [round(one, 4) for one in shaft_ratio([25.0, 25.0], [0.0, 0.0])]
    ([1.1547, 0.866], [1.0, 1.0])
    """
    whole = np.eye(2)
    for place, (angle, phase) in enumerate(zip(angles_deg, phases_deg, strict=True)):
        if place:
            turn = math.radians(90.0 + phase)
            whole = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]]) @ whole
        whole = np.diag([math.cos(math.radians(angle)), 1.0]) @ whole
    large, small = np.linalg.svd(whole, compute_uv=False)
    return float(large / small), float(small / large)


def joint_angle(angles_deg: Sequence[float]) -> Judgement:
    """Is the largest angle of a shaft's joints one that it bears?

    Source: limits are common practice for single joints.

    Parameters
    ----------
    angles_deg : of each joint (n,), n ≥ 1 [deg]
    """
    largest = max(angles_deg)
    state: State = "hit" if largest > JOINT_HIT_DEG else "tight" if largest > JOINT_TIGHT_DEG else "clear"
    return Judgement(
        "steer.joint",
        "Angle of a shaft joint",
        state,
        f"{largest:g}° at the sharpest joint; {JOINT_TIGHT_DEG:g}° is what it should bear",
        f"{COMMON_PRACTICE}: tight over {JOINT_TIGHT_DEG:g}°, hit over {JOINT_HIT_DEG:g}°",
        value=largest,
        unit="°",
        held_against=JOINT_TIGHT_DEG,
        margin=JOINT_TIGHT_DEG - largest,
        remedies=() if state == "clear" else ("share the angle between two joints", "move the rack or the column less"),
    )


def rack_end_mm(travel_mm: float, limiter_mm: float) -> float:
    """Rack travel to either lock with a limiter on each side [mm]; a millimetre at least.

    Source: plane geometry.

    Parameters
    ----------
    travel_mm : to either lock without limiter, over 0 [mm]
    limiter_mm : on each side, 0 or more [mm]

    >>> rack_end_mm(66.0, 6.0), rack_end_mm(66.0, 70.0)
    (60.0, 1.0)
    """
    return max(1.0, travel_mm - limiter_mm)


def most_steer_deg(found: Steered, way: int) -> float | None:
    """Largest steer of the inside wheel with the rack to the left (1), or to the right (−1) [deg].

    None where nothing turns.

    Source: none; picks the largest.

    Parameters
    ----------
    found : both wheels over the rack
    way : 1 left, −1 right
    """
    rows = (found.rack_mm * way >= 0) & np.isfinite(found.inside_deg)
    return float(found.inside_deg[rows].max()) if rows.any() else None


def where_it_locks(found: Steered, end_mm: float) -> list[str]:
    """Where each way goes over centre against the rack's own end, in words.

    Source: none; words.

    Parameters
    ----------
    found : both wheels over the rack
    end_mm : the rack's own end [mm]
    """
    said = []
    for side, limit in (("left", found.to_left_mm), ("right", found.to_right_mm)):
        if limit is None:
            said.append(f"To the {side} both wheels follow the rack beyond {FARTHEST_MM:g} mm.")
        elif limit <= end_mm:
            said.append(
                f"To the {side} a wheel goes over centre {limit:.1f} mm from the middle, inside the rack's {end_mm:.0f} mm: it sticks at lock."
            )
        else:
            said.append(f"To the {side} over centre comes at {limit:.1f} mm, {limit - end_mm:.1f} mm past the lock.")
    return said


def kingpin_track_mm(left: HardPoints, right: HardPoints, face_mm: float) -> float:
    """Between the steering axes at hub height [mm], from the mounting faces' distance to the car's centre.

    Source: plane geometry; ISO 8855:2011 for the steering axis.

    Parameters
    ----------
    left : points of the left corner
    right : of the right one
    face_mm : mounting face to the car's centre, over 0 [mm]
    """
    return sum((face_mm if one.face_mm is None else one.face_mm) - kingpin_inboard_mm(one) for one in (left, right))


def kingpin_inboard_mm(points: HardPoints) -> float:
    """From the mounting face inboard to the steering axis at hub height [mm].

    To the lower outer joint where there is no axis.

    >>> from rimcore.ride.points import LAYOUTS, Wheel
    >>> made = {"strut_top": (0, -160, 480), "strut_knuckle": (0, -110, 60), "lower_front": (40, -380, -110), "lower_rear": (-250, -390, -100),
    ...         "lower_joint": (0, -70, -120), "rod_inner": (-120, -360, -60), "rod_outer": (-125, -80, -70)}
    >>> kingpin_inboard_mm(HardPoints(LAYOUTS["strut"], made, Wheel(0, 300)))
    88.0
    """
    if points.layout.axis is None:
        return float(-points.at(points.layout.rod[0])[1])
    low, high = (points.at(name) for name in points.layout.axis)
    return float(-(low[1] + (high[1] - low[1]) * (0.0 - low[2]) / (high[2] - low[2])))
