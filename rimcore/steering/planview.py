"""Steering from above by five lengths: how far the wheel turns, how close rod and arm come to one line.

For who has a plumb line and no hard points. The axis is taken as upright and rod and arm as lying in one plane: that,
and the rule, are the ± of every angle.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, fields, replace

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.steering.rack import TOGGLE_DEG

Array = NDArray[np.float64]

#: what an upright axis and a flat linkage leave out of the angle [deg] (common practice, from memory: axes lean 5 to
#: 15 degrees)
FLAT_DEG = 4.0
#: ± of a length read to a plumb line on the floor [mm] (common practice)
PLUMB_MM = 3.0
#: places of the rack that are looked at from lock to lock
PLACES = 121
CODE, NAME = "steer.toggle", "Angle between rod and steering arm"


@dataclass(frozen=True, kw_only=True)
class PlanView:
    """The left front corner from above [mm]: out from the car's middle, and behind the ball joint; ahead is minus."""

    ball_out_mm: float
    outer_out_mm: float
    outer_behind_mm: float
    inner_out_mm: float
    inner_behind_mm: float

    @property
    def arm_mm(self) -> float:
        """Steering arm, axis to the rod's outer joint.

        >>> PlanView(ball_out_mm=700, outer_out_mm=660, outer_behind_mm=120, inner_out_mm=300, inner_behind_mm=100).arm_mm
        126.49110640673517
        """
        return math.hypot(self.outer_out_mm - self.ball_out_mm, self.outer_behind_mm)

    @property
    def rod_mm(self) -> float:
        """Rod, joint to joint, as it lies with the wheels straight."""
        return math.hypot(self.outer_out_mm - self.inner_out_mm, self.outer_behind_mm - self.inner_behind_mm)

    def moved(self, forward_mm: float, spacer_mm: float = 0.0, arm_mm: float = 0.0) -> PlanView:
        """With the rack moved forward, spacers on its ends, longer arms; the rods are set so that toe stays.

        Source: plane geometry.

        Parameters
        ----------
        forward_mm : backward is minus [mm]
        spacer_mm : between rack and rod, each side [mm]
        arm_mm : how much longer the arm is [mm]

        >>> view = PlanView(ball_out_mm=700, outer_out_mm=660, outer_behind_mm=120, inner_out_mm=300, inner_behind_mm=100)
        >>> view.moved(26.0).inner_behind_mm
        74.0
        """
        share = 1.0 + arm_mm / self.arm_mm
        return replace(
            self,
            inner_behind_mm=self.inner_behind_mm - forward_mm,
            inner_out_mm=self.inner_out_mm + spacer_mm,
            outer_out_mm=self.ball_out_mm + (self.outer_out_mm - self.ball_out_mm) * share,
            outer_behind_mm=self.outer_behind_mm * share,
        )


@dataclass(frozen=True)
class Swept:
    """Over rack travel (n), towards the left plus: turn of the left wheel, outwards plus, and rod to arm [deg].

    NaN where the rod can't follow.
    """

    rack_mm: Array
    steer_deg: Array
    toggle_deg: Array

    @property
    def reached(self) -> bool:
        return bool(np.isfinite(self.toggle_deg).all())


def check_view(view: PlanView) -> None:
    """Raise where five lengths make no steering.

    Raises
    ------
    BadInput : arm or rod too short, or joints on the wrong side of each other
    """
    if view.arm_mm < 30.0:
        raise BadInput("arm of less than 30 mm: read the ball joint and the rod's outer joint again", "outer_out")
    if view.rod_mm < 80.0:
        raise BadInput("rod of less than 80 mm: read its two joints again", "inner_out")
    if view.inner_out_mm >= view.outer_out_mm:
        raise BadInput("the inner joint lies further out than the outer one: read them again", "inner_out")


def sweep(view: PlanView, travel_mm: float, places: int = PLACES) -> Swept:
    """The left wheel from lock to lock, by two circles: the arm's round the axis and the rod's round the rack's joint.

    Source: plane geometry; the side of the crossing is the one that it stands on with the wheels straight.

    Parameters
    ----------
    view : the corner from above
    travel_mm : rack travel to either side, over 0 [mm]
    places : at least 2

    >>> view = PlanView(ball_out_mm=700, outer_out_mm=660, outer_behind_mm=120, inner_out_mm=300, inner_behind_mm=120)
    >>> found = sweep(view, 40.0, 3)
    >>> found.steer_deg.round(1).tolist(), found.toggle_deg.round(1).tolist()
    ([21.2, 0.0, -18.4], [46.8, 71.6, 89.0])
    """
    rack = np.linspace(-travel_mm, travel_mm, places)
    arm, rod = view.arm_mm, view.rod_mm
    out, behind = view.inner_out_mm + rack - view.ball_out_mm, view.inner_behind_mm
    apart = np.hypot(out, behind)
    with np.errstate(invalid="ignore", divide="ignore"):
        along = (arm**2 - rod**2 + apart**2) / (2 * apart)
        across = np.sqrt(arm**2 - along**2)
    unit = np.stack([out / apart, np.full_like(out, behind) / apart])
    normal = np.stack([-unit[1], unit[0]])
    first = np.array([view.outer_out_mm - view.ball_out_mm, view.outer_behind_mm])
    straight = np.array([view.inner_out_mm - view.ball_out_mm, behind])
    side = 1.0 if straight[0] * first[1] - straight[1] * first[0] >= 0 else -1.0
    joint = along * unit + side * across * normal
    turn = np.degrees(np.arctan2(first[0] * joint[1] - first[1] * joint[0], first[0] * joint[0] + first[1] * joint[1]))
    lies = joint - np.stack([out, np.full_like(out, behind)])
    cosine = np.abs((joint * lies).sum(axis=0)) / (arm * rod)
    # 0 * across carries NaN where the circles don't meet
    return Swept(
        rack, np.where(np.abs(turn) < 1e-9, 0.0, turn), np.degrees(np.arccos(np.clip(cosine, 0, 1))) + 0 * across
    )


def doubt_deg(view: PlanView, travel_mm: float, plus_mm: float = PLUMB_MM) -> float:
    """± of the least angle between rod and arm [deg]: each length moved by its own ±, and what a flat view leaves out.

    Source: JCGM 100:2008 (GUM), 5.1.2, by differences.

    Parameters
    ----------
    view : the corner from above
    travel_mm : rack travel to either side, over 0 [mm]
    plus_mm : ± of each length, over 0 [mm]
    """
    least = _least(view, travel_mm)
    parts = [FLAT_DEG]
    for one in fields(view):
        moved = _least(replace(view, **{one.name: getattr(view, one.name) + plus_mm}), travel_mm)
        parts.append(moved - least if math.isfinite(moved - least) else FLAT_DEG)
    return math.hypot(*parts)


@dataclass(frozen=True)
class FromAbove:
    """Both sides from above as lines in drawing units, at both locks and straight: arms, rods, joints; NaN left out."""

    width: float
    height: float
    #: (name of the state, lines as points, is it the straight one)
    lines: tuple[tuple[str, str, bool], ...]
    axes: tuple[tuple[float, float], ...]

    @property
    def middle(self) -> float:
        return self.width / 2


def from_above(view: PlanView, travel_mm: float, width: float = 640.0, height: float = 300.0) -> FromAbove:
    """Arms and rods of both sides, forward up, the right side as the left one mirrored.

    Source: plane geometry.

    Parameters
    ----------
    view : the left corner from above
    travel_mm : rack travel to either side, over 0 [mm]
    width : of the drawing
    height : of the drawing

    >>> view = PlanView(ball_out_mm=700, outer_out_mm=660, outer_behind_mm=120, inner_out_mm=300, inner_behind_mm=120)
    >>> len(from_above(view, 40.0).lines)
    6
    """
    found = sweep(view, travel_mm, 3)
    scale = width / (2 * (view.ball_out_mm + 120.0))
    middle = height / 2

    def at(out_mm: float, behind_mm: float, way: float) -> str:
        return f"{width / 2 - way * out_mm * scale:.1f},{middle + behind_mm * scale:.1f}"

    lines = []
    for way in (1.0, -1.0):
        for k, name in enumerate(("right lock", "straight", "left lock")):
            row = k if way > 0 else 2 - k
            if not np.isfinite(found.steer_deg[row]):
                continue
            turn = math.radians(found.steer_deg[row])
            arm = view.outer_out_mm - view.ball_out_mm, view.outer_behind_mm
            out = view.ball_out_mm + math.cos(turn) * arm[0] - math.sin(turn) * arm[1]
            behind = math.sin(turn) * arm[0] + math.cos(turn) * arm[1]
            inner = view.inner_out_mm + found.rack_mm[row], view.inner_behind_mm
            joints = (at(view.ball_out_mm, 0.0, way), at(out, behind, way), at(*inner, way))
            lines.append((name, " ".join(joints), k == 1))
    axes = tuple((round(width / 2 - way * view.ball_out_mm * scale, 1), middle) for way in (1.0, -1.0))
    return FromAbove(width, height, tuple(lines), axes)


def _least(view: PlanView, travel_mm: float) -> float:
    found = sweep(view, travel_mm).toggle_deg
    return float(found.min()) if np.isfinite(found).all() else 0.0


def judge_view(
    view: PlanView | None, travel_mm: float | None, inputs: tuple[InputUsed, ...] = (), wanted_deg: float = TOGGLE_DEG
) -> Judgement:
    """Do rod and arm keep their angle from lock to lock, seen from above?

    Parameters
    ----------
    view : None where the five lengths are not read
    travel_mm : rack travel to either side; None where not measured [mm]
    inputs : what was read, with its date
    wanted_deg : least angle between rod and arm [deg]

    Source: common practice.

    >>> judge_view(None, None).state
    'unmeasured'
    >>> view = PlanView(ball_out_mm=700, outer_out_mm=660, outer_behind_mm=120, inner_out_mm=300, inner_behind_mm=120)
    >>> judge_view(view, 40.0).state, judge_view(view, 110.0).state, judge_view(view, None).state
    ('clear', 'hit', 'unmeasured')
    """
    how = ["five lengths from above with a plumb line, or the hard points"]
    if view is None:
        return unmeasured(
            CODE, NAME, "neither hard points nor the five lengths from above are read", ["plan view"], how
        )
    if travel_mm is None:
        return unmeasured(CODE, NAME, "rack travel not measured", ["rack travel"], ["measure it lock to lock"], inputs)
    found = sweep(view, travel_mm)
    least, pm = _least(view, travel_mm), doubt_deg(view, travel_mm)
    place = float(found.rack_mm[int(np.nanargmin(found.toggle_deg))])
    state: State = "hit" if not found.reached else "clear" if least - pm >= wanted_deg else "tight"
    words = f"{least:.0f}° ± {pm:.0f}° left at {place:+.0f} mm of rack travel, seen from above; {wanted_deg:g}° needed"
    if not found.reached:
        lost = np.abs(found.rack_mm[~np.isfinite(found.toggle_deg)]).min()
        words = f"at {lost:.0f} mm of rack travel the rod can't follow: it is over centre, seen from above"
    return Judgement(
        CODE,
        NAME,
        state,
        words.replace("-", "−"),
        f"{COMMON_PRACTICE}: {wanted_deg:g}° at least; upright axis and flat linkage taken, ± {FLAT_DEG:g}° for that",
        value=least,
        unit="°",
        held_against=wanted_deg,
        margin=least - wanted_deg,
        formula=f"arm {view.arm_mm:.0f} mm, rod {view.rod_mm:.0f} mm, two circles; ± {pm:.1f}°",
        inputs=inputs,
        remedies=()
        if state == "clear"
        else ("move the rack forward", "take offset spacers off the rack", "limit the lock", "read the hard points"),
    )
