"""Setting a car square: a caster sweep, four wheels' angles and their adjusters, four marks of a frame."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import optimize

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, Judgement, State, unmeasured

ANGLES = ("camber_deg", "caster_deg", "toe_deg")
#: a subframe's sides and diagonals may differ by [mm]: 1/16 and 1/8 in (common practice)
SIDE_MM, DIAGONAL_MM = 1.5875, 3.175


def sweep_uncertainty_deg(resolution_deg: float, steer_deg: float) -> float:
    """± of a caster from two readings of this resolution [deg].

    Source: propagation through (out − in) ÷ (2 sin θ), JCGM 100:2008, 5.1.2.

    Parameters
    ----------
    resolution_deg : of one camber reading, over 0 [deg]
    steer_deg : each way, over 0 [deg]

    >>> round(sweep_uncertainty_deg(0.1, 20.0), 3)
    0.207
    """
    return resolution_deg * math.sqrt(2) / (2 * math.sin(math.radians(steer_deg)))


#: least sweep that says much, and most ± with which a caster is told [deg] (ours)
LEAST_SWEEP_DEG, MOST_DOUBT_DEG = 5.0, 5.0


def sweep_warnings(steer_deg: float, uncertainty_deg: float | None) -> list[str]:
    """What keeps a sweep from saying much, in words.

    Source: common practice.

    Parameters
    ----------
    steer_deg : each way, over 0 [deg]
    uncertainty_deg : ± of the caster; None where not known [deg]

    >>> sweep_warnings(20.0, 0.2), len(sweep_warnings(0.1, 40.0))
    ([], 2)
    """
    said = []
    if steer_deg < LEAST_SWEEP_DEG:
        said.append(
            f"a sweep of {steer_deg:g}° each way is too little to tell a caster by; 20° is usual (common practice)"
        )
    if uncertainty_deg is not None and uncertainty_deg > MOST_DOUBT_DEG:
        said.append(f"± {uncertainty_deg:.1f}° is more than a caster is: nothing is told")
    return said


def camber_steered_deg(caster_deg: float, kpi_deg: float, straight_deg: float, steer_deg: float) -> float:
    """Camber of a wheel whose heading has changed by an angle [deg], front edge outboard positive, body held.

    The wheel axis turns about the steering axis until its heading atan2(aₓ, a_y) has changed by the angle, as turn
    plates read it.

    Source: rotation about the steering axis; signs of ISO 8855:2011.

    Parameters
    ----------
    caster_deg : −30 to 30 [deg]
    kpi_deg : kingpin inclination, −30 to 30 [deg]
    straight_deg : camber straight ahead [deg]
    steer_deg : front edge outboard positive [deg]

    Raises
    ------
    BadInput : no turn about this axis gives that heading

    >>> round(camber_steered_deg(0.0, 0.0, -1.5, 20.0), 6)
    -1.5
    """
    along = np.array([-math.tan(math.radians(caster_deg)), -math.tan(math.radians(kpi_deg)), 1.0])
    along /= np.linalg.norm(along)
    camber, wanted = math.radians(straight_deg), math.radians(-steer_deg)
    axis = np.array([0.0, math.cos(camber), -math.sin(camber)])
    held = along * (along @ axis)
    out, side = axis - held, np.cross(along, axis)
    across = np.array([math.cos(wanted), -math.sin(wanted), 0.0])
    const, cosine, sine = across @ held, across @ out, across @ side
    size = math.hypot(cosine, sine)
    if size < abs(const) or size == 0:
        raise BadInput("no turn about this axis gives that heading; accepted: a smaller angle", "steer_deg")
    middle, off = math.atan2(sine, cosine), math.acos(-const / size)
    turns = [math.remainder(middle + way * off, 2 * math.pi) for way in (1, -1)]
    turn = min(turns, key=lambda one: abs(math.remainder(one + wanted, 2 * math.pi)))
    upward = held[2] + out[2] * math.cos(turn) + side[2] * math.sin(turn)
    return -math.degrees(math.asin(max(-1.0, min(1.0, upward))))


def exact_axis_deg(out_deg: float, in_deg: float, straight_deg: float, steer_deg: float) -> tuple[float, float] | None:
    """Caster and kingpin inclination that give both readings exactly [deg]; None where none do.

    Starts from the small-angle pair: caster (out − in) ÷ (2 sin θ), inclination ((out + in) ÷ 2 − straight) ÷ (1 − cos
    θ).

    Source: rotation about the steering axis; small-angle pair is common practice.

    Parameters
    ----------
    out_deg : camber with the front edge outboard [deg]
    in_deg : camber with it inboard [deg]
    straight_deg : camber straight ahead [deg]
    steer_deg : each way, over 0 [deg]

    >>> readings = [camber_steered_deg(6.0, 12.0, -1.0, way) for way in (20.0, -20.0)]
    >>> [round(one, 6) for one in exact_axis_deg(*readings, -1.0, 20.0)]
    [6.0, 12.0]
    """
    angle = math.radians(steer_deg)
    begun = (
        (out_deg - in_deg) / (2 * math.sin(angle)),
        ((out_deg + in_deg) / 2 - straight_deg) / (1 - math.cos(angle)),
    )

    def off(pair: Sequence[float]) -> list[float]:
        return [
            camber_steered_deg(pair[0], pair[1], straight_deg, way * steer_deg) - read
            for way, read in ((1, out_deg), (-1, in_deg))
        ]

    try:
        found = optimize.root(off, begun, tol=1e-12)
        if max(abs(one) for one in off(found.x)) > 1e-8 or max(abs(one) for one in found.x) >= 89.0:
            return None
    except BadInput:
        return None
    return float(found.x[0]), float(found.x[1])


def toe_deg(toe_mm: float, over_mm: float) -> float:
    """Toe of one wheel from its millimetres over a length: mm = over × sin toe.

    Source: plane geometry; ISO 8855:2011 for the sign.

    Parameters
    ----------
    toe_mm : of one wheel, in positive [mm]
    over_mm : length it was read over, over 0 [mm]

    Raises
    ------
    BadInput : more than the length

    >>> round(toe_deg(2.0, 400.0), 4)
    0.2865
    """
    if abs(toe_mm) > over_mm:
        raise BadInput(f"is more than the length it is read over; accepted: −{over_mm:g} to {over_mm:g} mm", "toe_mm")
    return math.degrees(math.asin(toe_mm / over_mm))


def toe_mm(angle_deg: float, over_mm: float) -> float:
    """The other way round.

    Source: plane geometry.

    Parameters
    ----------
    angle_deg : toe of one wheel [deg]
    over_mm : length it is read over, over 0 [mm]

    >>> round(toe_mm(0.2865, 400.0), 2)
    2.0
    """
    return over_mm * math.sin(math.radians(angle_deg))


def total_deg(left_deg: float | None, right_deg: float | None) -> float | None:
    """Total toe of an axle [deg]; None with a part missing.

    Source: ISO 8855:2011 for the sign.

    Parameters
    ----------
    left_deg : toe of the left wheel, in positive; None where not read [deg]
    right_deg : of the right one [deg]

    >>> total_deg(0.1, 0.2), total_deg(None, 0.2)
    (0.30000000000000004, None)
    """
    return None if left_deg is None or right_deg is None else left_deg + right_deg


def thrust_deg(rear_left_deg: float, rear_right_deg: float) -> float:
    """Mean heading of the rear wheels [deg], positive to the left of the centre line.

    Source: definition: half the difference.

    Parameters
    ----------
    rear_left_deg : toe of the left rear, in positive [deg]
    rear_right_deg : of the right one [deg]

    >>> thrust_deg(-0.1, 0.3)
    0.2
    """
    return (rear_right_deg - rear_left_deg) / 2


#: lengths of a frame in words, in the order of its fields
_LENGTHS = {
    "left_mm": "the left side",
    "right_mm": "the right side",
    "front_mm": "between the front marks",
    "rear_mm": "between the rear marks",
    "left_to_right_mm": "front left to rear right",
    "right_to_left_mm": "front right to rear left",
}
_DIAGONALS = ("left_to_right_mm", "right_to_left_mm")


def _flatness(squares: Mapping[str, float], scale: float) -> float:
    """Cayley–Menger determinant of the four marks, lengths in units of the largest; 0 in a plane."""
    fl_fr, rl_rr, fl_rl, fr_rr, fl_rr, fr_rl = (
        squares[name] / scale
        for name in ("front_mm", "rear_mm", "left_mm", "right_mm", "left_to_right_mm", "right_to_left_mm")
    )
    rows = np.array(
        [
            [0.0, 1.0, 1.0, 1.0, 1.0],
            [1.0, 0.0, fl_fr, fl_rl, fl_rr],
            [1.0, fl_fr, 0.0, fr_rl, fr_rr],
            [1.0, fl_rl, fr_rl, 0.0, rl_rr],
            [1.0, fl_rr, fr_rr, rl_rr, 0.0],
        ]
    )
    return float(np.linalg.det(rows))


@dataclass(frozen=True)
class Frame:
    """Four marks of a frame: two sides, two ends, two diagonals [mm].

    Raises
    ------
    BadInput : lengths that no four marks have
    """

    left_mm: float
    right_mm: float
    front_mm: float
    rear_mm: float
    left_to_right_mm: float
    right_to_left_mm: float

    def __post_init__(self) -> None:
        triangles = (
            ("front_left_to_rear_right_mm", self.left_to_right_mm, (self.front_mm, self.right_mm)),
            ("front_left_to_rear_right_mm", self.left_to_right_mm, (self.left_mm, self.rear_mm)),
            ("front_right_to_rear_left_mm", self.right_to_left_mm, (self.front_mm, self.left_mm)),
            ("front_right_to_rear_left_mm", self.right_to_left_mm, (self.right_mm, self.rear_mm)),
        )
        for field, diagonal, (one, two) in triangles:
            if not abs(one - two) <= diagonal <= one + two:
                raise BadInput(
                    f"no triangle has sides of {diagonal:g}, {one:g} and {two:g} mm; accepted: {abs(one - two):g} to {one + two:g} mm",
                    field,
                )

    def closing_mm(self, name: str) -> float | None:
        """What a length would be in one plane with the other five as read [mm]; None where no length closes them.

        The six lengths of four marks in a plane have one redundancy: their Cayley–Menger determinant is 0, which is a
        quadratic in the square of each. A diagonal takes the figure whose diagonals cross, a side the nearer one.

        >>> round(Frame(900, 900, 1200, 1200, 1499, 1500).closing_mm("left_to_right_mm"), 6)
        1500.0
        """
        squares = {one: getattr(self, one) ** 2 for one in _LENGTHS}
        scale = max(squares.values())
        places = np.array([0.0, 1.0, 2.0])
        quadratic = np.polyfit(places, [_flatness(squares | {name: x * scale}, scale) for x in places], 2)
        roots = [float(x.real) * scale for x in np.roots(quadratic) if abs(x.imag) < 1e-9 and x.real > 0]
        if not roots:
            return None
        lengths = [math.sqrt(x) for x in roots]
        return max(lengths) if name in _DIAGONALS else min(lengths, key=lambda one: abs(one - getattr(self, name)))

    @property
    def off_plane_mm(self) -> float:
        """Front left to rear right as read, less what the other five lengths give [mm]."""
        closing = self.closing_mm("left_to_right_mm")
        return self.left_to_right_mm - (self.left_to_right_mm if closing is None else closing)

    @property
    def read_again(self) -> tuple[str, float]:
        """The reading whose change alone closes the figure with the least, and that change [mm]."""
        wanted = {
            name: closing - getattr(self, name) for name in _LENGTHS if (closing := self.closing_mm(name)) is not None
        }
        name = min(wanted, key=lambda one: abs(wanted[one]))
        return name, wanted[name]

    @property
    def rear_stands_left_mm(self) -> float:
        """How far the rear pair stands to the left of square under the front one [mm].

        Source: the two diagonals by the cosine rule.

        >>> round(Frame(1000, 1000, 600, 600, 1163.62, 1168.76).rear_stands_left_mm, 1)
        5.0
        """
        return (self.right_to_left_mm**2 - self.left_to_right_mm**2) / (2 * (self.front_mm + self.rear_mm))

    @property
    def sides_apart_mm(self) -> float:
        """Left side less right side [mm]."""
        return self.left_mm - self.right_mm

    @property
    def move(self) -> str:
        """Which way to nudge it, in words; what to read again where the lengths are those of no flat figure."""
        return misread(self) or self.nudge

    @property
    def nudge(self) -> str:
        """Which way to nudge it, in words."""
        across, along = self.rear_stands_left_mm, self.sides_apart_mm
        words = []
        if abs(across) >= 0.05:
            words.append(f"move the rear pair {abs(across):.1f} mm to the {'right' if across > 0 else 'left'}")
        if abs(along) >= 0.05:
            longer, shorter = ("left", "right") if along > 0 else ("right", "left")
            words.append(f"bring the {longer} rear mark {abs(along):.1f} mm forward, or the {shorter} one back")
        return "; ".join(words) if words else "it stands square"


def apart(code: str, name: str, one_mm: float, other_mm: float, tolerance_mm: float, basis: str) -> Judgement:
    """Do two lengths agree? ``tight`` beyond half the tolerance.

    Source: none; a comparison.

    Parameters
    ----------
    code : of the judgement
    name : in words
    one_mm : a length [mm]
    other_mm : the other one [mm]
    tolerance_mm : within which they agree, over 0 [mm]
    basis : where the tolerance is from

    >>> apart("x", "Sides", 1000, 1001, 1.5875, "").state
    'tight'
    """
    off = abs(one_mm - other_mm)
    state: State = "hit" if off > tolerance_mm else "tight" if off > tolerance_mm / 2 else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{off:.1f} mm apart, {tolerance_mm:.1f} mm allowed",
        basis,
        value=off,
        unit="mm",
        held_against=tolerance_mm,
        margin=tolerance_mm - off,
        formula=f"|{one_mm:g} − {other_mm:g}| = {off:.1f} mm",
        remedies=() if state == "clear" else ("nudge the rear pair across until the diagonals agree",),
    )


#: how many tolerances of a diagonal six lengths may miss one plane by
OFF_PLANE = 2.0


def misread(frame: Frame, diagonal_mm: float = DIAGONAL_MM) -> str:
    """What says that the six lengths are those of no flat figure, in words; empty where they close.

    Source: Cayley-Menger determinant of four points in a plane.

    Parameters
    ----------
    frame : the six lengths of four points [mm]
    diagonal_mm : tolerance of the diagonals, over 0 [mm]

    >>> misread(Frame(900, 900, 1200, 1200, 1500, 1500))
    ''
    """
    off = frame.off_plane_mm
    if abs(off) <= OFF_PLANE * diagonal_mm:
        return ""
    name, change = frame.read_again
    return (
        f"the six lengths miss one plane by {abs(off):.1f} mm: one is misread, or the frame is twisted; "
        f"read {_LENGTHS[name]} again ({abs(change):.1f} mm {'more' if change > 0 else 'less'} would close it)"
    )


def squareness(frame: Frame, side_mm: float = SIDE_MM, diagonal_mm: float = DIAGONAL_MM) -> tuple[Judgement, Judgement]:
    """Sides left with right, and the diagonals; ``unmeasured`` where the six lengths are those of no flat figure.

    Source: common practice.

    Parameters
    ----------
    frame : the six lengths of four points [mm]
    side_mm : tolerance left with right, over 0 [mm]
    diagonal_mm : tolerance of the diagonals, over 0 [mm]
    """
    if doubt := misread(frame, diagonal_mm):
        again = ["read the marks again", "level both ends and look for twist"]
        return (
            unmeasured("square.sides", "Sides", doubt, [frame.read_again[0]], again),
            unmeasured("square.diagonals", "Diagonals", doubt, [frame.read_again[0]], again),
        )
    own = side_mm == SIDE_MM and diagonal_mm == DIAGONAL_MM
    basis = f"{COMMON_PRACTICE}: 1/16 in on the sides, 1/8 in on the diagonals" if own else "the tolerances given"
    return (
        apart("square.sides", "Sides", frame.left_mm, frame.right_mm, side_mm, basis),
        apart("square.diagonals", "Diagonals", frame.left_to_right_mm, frame.right_to_left_mm, diagonal_mm, basis),
    )
