"""A rack and both wheels from above, in drawing units: what is held, what it turns, and how close to over centre."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.ride.curves import Curves
from rimcore.ride.points import HardPoints
from rimcore.steering.rack import Steered
from rimcore.steering.setting import Frame

Array = NDArray[np.float64]

WIDTH, HEIGHT = 900.0, 420.0
#: width of a tyre as drawn where it is not said [mm]
TYRE_MM = 215.0


@dataclass(frozen=True)
class Side:
    """One wheel with its arm and rod: polygons and lines in drawing units; empty where the pose is not reached."""

    name: str
    tyre: str
    axis: tuple[float, float]
    arm: tuple[float, float, float, float]
    rod: tuple[float, float, float, float]
    arc: str
    #: the angle between rod and arm, and where its figure stands
    toggle_deg: float
    label: tuple[float, float]
    steer_deg: float


@dataclass(frozen=True)
class Plan:
    """Both sides now, both before, and the rack."""

    width: float
    height: float
    now: tuple[Side, ...]
    before: tuple[Side, ...]
    rack: tuple[float, float, float] | None
    rack_before: tuple[float, float, float] | None
    lock_left: float
    lock_right: float

    @property
    def middle(self) -> float:
        """The car's middle on the sheet."""
        return self.width / 2


@dataclass(frozen=True)
class Shown:
    """What is drawn of one state of the steering: both corners, their poses and which of the rows."""

    left: HardPoints
    right: HardPoints
    found: Steered
    row: int


def _centre(points: HardPoints, other: float) -> float:
    """Mounting face from the car's middle [mm]."""
    return other if points.face_mm is None else points.face_mm


def plan(now: Shown, before: Shown | None, half_mm: float, travel_mm: float, tyre_mm: float = TYRE_MM) -> Plan:
    """From above, forward up, the left wheel on the left.

    Parameters
    ----------
    half_mm : mounting face from the car's middle, where the points don't say it [mm]
    travel_mm : of the rack to either lock, drawn as its ends [mm]
    """
    wide = max(_centre(one, half_mm) for one in (now.left, now.right)) + 330.0
    scale = WIDTH / (2 * wide)

    def at(across: float, ahead: float) -> tuple[float, float]:
        return round(WIDTH / 2 + across * scale, 1), round(HEIGHT * 0.48 - ahead * scale, 1)

    def both(one: Shown | None) -> tuple[Side, ...]:
        if one is None:
            return ()
        sides = (("left", one.left, one.found.left, -1.0), ("right", one.right, one.found.right, 1.0))
        return tuple(
            _side(
                name=name,
                points=points,
                rows=rows,
                row=one.row,
                way=way,
                face=_centre(points, half_mm),
                tyre_mm=tyre_mm,
                at=at,
            )
            for name, points, rows, way in sides
            if rows.reached[one.row]
        )

    left, _ = at(-travel_mm, 0.0)
    right, _ = at(travel_mm, 0.0)
    return Plan(
        width=WIDTH,
        height=HEIGHT,
        now=both(now),
        before=both(before),
        rack=_bar(now, half_mm, at),
        rack_before=_bar(before, half_mm, at) if before else None,
        lock_left=left,
        lock_right=right,
    )


def _side(name: str, points: HardPoints, rows: Curves, row: int, way: float, face: float, tyre_mm: float, at) -> Side:  # type: ignore[no-untyped-def]
    poses, wheel = rows.poses, points.wheel

    def where(point: Sequence[float] | Array) -> tuple[float, float]:
        found: tuple[float, float] = at(way * (face + float(point[1])), float(point[0]))
        return found

    turn, hub = poses.turn[row], poses.at[row]
    axle = turn @ wheel.axis
    middle = hub + axle * wheel.centre_y_mm
    ahead = np.array([axle[1], -axle[0], 0.0])
    corners = [
        middle + a * ahead * wheel.radius_mm + b * axle * tyre_mm / 2 for a, b in ((1, 1), (1, -1), (-1, -1), (-1, 1))
    ]
    tyre = "M" + "L".join(f"{x} {y}" for x, y in map(where, corners)) + "Z"
    outer_end, inner_end = points.layout.rod
    low = turn @ (points.at(points.layout.axis[0]) if points.layout.axis else np.zeros(3)) + hub
    outer = turn @ points.at(outer_end) + hub
    inner = points.at(inner_end) + np.array([0.0, rows.rack_mm[row], 0.0])
    pivot, end, rack = where(low), where(outer), where(inner)
    arc, label = _arc(end, pivot, rack)
    return Side(
        name=name,
        tyre=tyre,
        axis=pivot,
        arm=(*pivot, *end),
        rod=(*end, *rack),
        arc=arc,
        toggle_deg=float(rows.toggle_margin_deg[row]),
        label=label,
        steer_deg=float(rows.steer_deg[row]),
    )


def _arc(
    end: tuple[float, float], one: tuple[float, float], other: tuple[float, float], radius: float = 34.0
) -> tuple[str, tuple[float, float]]:
    """Arc at a joint from one line to the other, and where its figure stands."""
    a, b = (math.atan2(p[1] - end[1], p[0] - end[0]) for p in (one, other))
    span = math.remainder(b - a, 2 * math.pi)
    start = (end[0] + radius * math.cos(a), end[1] + radius * math.sin(a))
    stop = (end[0] + radius * math.cos(b), end[1] + radius * math.sin(b))
    middle = a + span / 2
    path = (
        f"M{start[0]:.1f} {start[1]:.1f}A{radius:g} {radius:g} 0 0 {1 if span > 0 else 0} {stop[0]:.1f} {stop[1]:.1f}"
    )
    return path, (round(end[0] + 58 * math.cos(middle), 1), round(end[1] + 58 * math.sin(middle), 1))


def _bar(one: Shown, half_mm: float, at) -> tuple[float, float, float] | None:  # type: ignore[no-untyped-def]
    """The rack between its inner joints: left end, right end, height on the sheet."""
    rack = float(one.found.rack_mm[one.row])
    left, right = (side.at(side.layout.rod[1]) for side in (one.left, one.right))
    x1, y1 = at(-(_centre(one.left, half_mm) + left[1] + rack), left[0])
    x2, _ = at(_centre(one.right, half_mm) + right[1] - rack, right[0])
    return x1, x2, y1


#: toe is drawn so many times larger than it is, so that it can be seen
TOE_TIMES = 20


def wheel_turn_deg(toe_deg: float | None, corner: str) -> float:
    """How a wheel is turned on the sheet, clockwise [deg]: toe in turns a left wheel to the right.

    One that is not read stands straight.

    >>> wheel_turn_deg(0.2, "FL"), wheel_turn_deg(0.2, "FR"), wheel_turn_deg(None, "FL")
    (4.0, -4.0, 0.0)
    """
    return round((toe_deg or 0.0) * TOE_TIMES * (1 if corner[1] == "L" else -1), 1) + 0.0


@dataclass(frozen=True)
class Marks:
    """Four marks from above in drawing units, and where they would stand square."""

    width: float
    height: float
    marks: tuple[tuple[str, float, float], ...]
    outline: str
    square: str
    diagonals: tuple[tuple[float, float, float, float], ...]


#: what the drawing magnifies the rear pair's offset by, so that it can be seen
MAGNIFIED = 20.0


def marks_of(frame: Frame) -> Marks:
    """The four marks, forward up, the front pair level; how the rear pair is off is drawn twenty times larger.

    Examples
    --------
    >>> [mark[0] for mark in marks_of(Frame(900, 900, 700, 640, 1125, 1130)).marks]
    ['FL', 'FR', 'RL', 'RR']
    """
    long = (frame.left_mm + frame.right_mm) / 2
    scale = min(360.0 / max(frame.front_mm, frame.rear_mm), 300.0 / long)
    off = -frame.rear_stands_left_mm * MAGNIFIED
    ahead = (frame.left_mm - frame.right_mm) / 2 * MAGNIFIED
    places = {
        "FL": (-frame.front_mm / 2, 0.0),
        "FR": (frame.front_mm / 2, 0.0),
        "RL": (-frame.rear_mm / 2 + off, -long - ahead),
        "RR": (frame.rear_mm / 2 + off, -long + ahead),
    }
    true = [places["FL"], places["FR"], (frame.rear_mm / 2, -long), (-frame.rear_mm / 2, -long)]

    def at(x: float, y: float) -> tuple[float, float]:
        return round(280 + x * scale, 1), round(50 - y * scale, 1)

    def ring(points: Sequence[tuple[float, float]]) -> str:
        return "M" + "L".join(f"{x} {y}" for x, y in (at(*point) for point in points)) + "z"

    now = [places[name] for name in ("FL", "FR", "RR", "RL")]
    diagonals = tuple((*at(*places[one]), *at(*places[other])) for one, other in (("FL", "RR"), ("FR", "RL")))
    return Marks(
        560.0,
        50 + long * scale + 50,
        tuple((name, *at(*point)) for name, point in places.items()),
        ring(now),
        ring(true),
        diagonals,
    )
