"""The air bench, as declared: slopes against the car at rest and at full bump, its drawings, and what is judged."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from rimcore.aero.ramp import Angles, angles, angles_along, judge_ramp
from rimcore.quantities.declared import Bench
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured

AIR_BENCH = Bench(
    "air",
    "Aero",
    "panels from a card's readings, heat, splitter and the slopes it has to get over",
    (),
    ("bump",),
    ("panel", "splitter", "ramp", "coastdown"),
)


@dataclass(frozen=True)
class Hung:
    """A panel under the car: its points behind the front axle and above the ground [mm], front to rear, straight
    between them.
    """

    name: str
    points_mm: tuple[tuple[float, float], ...]
    inputs: tuple[InputUsed, ...] = ()

    def lowered(self, front_mm: float, rear_mm: float, wheelbase_mm: float | None) -> Hung:
        """The same with the body lower at both ends [mm].

        >>> Hung("belly", ((650.0, 150.0), (1300.0, 140.0))).lowered(20.0, 10.0, 2600.0).points_mm
        ((650.0, 132.5), (1300.0, 125.0))
        """
        return replace(
            self,
            points_mm=tuple((x, max(0.0, up - _down(x, front_mm, rear_mm, wheelbase_mm))) for x, up in self.points_mm),
        )


def _down(along_mm: float, front_mm: float, rear_mm: float, wheelbase_mm: float | None) -> float:
    """How far the body goes down at a place behind the front axle [mm]."""
    return front_mm + (along_mm / wheelbase_mm if wheelbase_mm else 0.0) * (rear_mm - front_mm)


@dataclass(frozen=True)
class Under:
    """What the car has under it, at the height it stood when that was measured [mm].

    Lip, tail, belly as (along, height); None is not measured.
    """

    lip: tuple[float, float] | None
    tail: tuple[float, float] | None
    belly: tuple[float, float] | None
    radius_mm: tuple[float, float] | None
    wheelbase_mm: float | None
    inputs: tuple[InputUsed, ...] = ()
    panels: tuple[Hung, ...] = ()


def lowered(under: Under, front_mm: float, rear_mm: float) -> Under:
    """The same with the body lower at both ends [mm]; the belly by its place between them.

    Nothing goes below the ground.

    >>> lowered(Under((800, 150), None, (1300, 140), (300, 300), 2600.0), 20.0, 10.0).belly
    (1300, 125.0)
    """

    def down(point: tuple[float, float] | None, by: float) -> tuple[float, float] | None:
        return None if point is None else (point[0], max(0.0, point[1] - by))

    belly = under.belly
    return replace(
        under,
        lip=down(under.lip, front_mm),
        tail=down(under.tail, rear_mm),
        belly=down(belly, _down(belly[0], front_mm, rear_mm, under.wheelbase_mm) if belly else 0.0),
        panels=tuple(one.lowered(front_mm, rear_mm, under.wheelbase_mm) for one in under.panels),
    )


def slopes(text: str) -> tuple[tuple[str, float], ...]:
    """A person's own slopes, a line each: name and degrees, or per cent.

    >>> slopes("drive 12\\ntrailer: 14.5°\\nkerb 20 %")
    (('drive', 12.0), ('trailer', 14.5), ('kerb', 11.31))

    Raises
    ------
    BadInput : a line that is none, or not between 0 and 60 degrees
    """
    found = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        m = re.fullmatch(r"\s*(.*?)[:\s]\s*(\d+(?:[.,]\d+)?)\s*(%|°|deg)?\s*", line)
        if m is None or not m[1].strip():
            raise BadInput(
                f"line {number} “{line.strip()[:30]}” is not understood; accepted: drive 12, or kerb 20 %", "slopes"
            )
        value = float(m[2].replace(",", "."))
        if m[3] == "%":
            value = round(math.degrees(math.atan(value / 100.0)), 2)
        if not 0 < value <= 60:
            raise BadInput(f"line {number} is out of range; accepted: over 0 to 60°", "slopes")
        found.append((m[1].strip()[:40], value))
    return tuple(found)


def angles_of(under: Under) -> Angles | None:
    """Approach, departure and ramp-over, panels among them; None before lip, tyres and wheelbase are known.

    A panel does not stand for a tail or a belly that nobody measured: something else may hang lower there.

    Raises
    ------
    BadInput : a point lies inside a tyre
    """
    limits = _limits(under)
    return None if limits is None else limits[0]


#: angles of a car by the names that ``judge_ramp`` gives them
_ANGLES = ("approach", "departure", "breakover")


def _limits(under: Under) -> tuple[Angles, dict[str, Hung]] | None:
    """The least of the car's own angles and its panels', and which panel makes it, by angle; None as ``angles_of``."""
    if under.lip is None or under.radius_mm is None or under.wheelbase_mm is None:
        return None
    least = dict(angles(under.lip, under.tail, under.belly, under.radius_mm, under.wheelbase_mm).known)
    by: dict[str, Hung] = {}
    for one in under.panels:
        for name, value in angles_along(one.points_mm, under.radius_mm, under.wheelbase_mm).known.items():
            if name in least and value < least[name]:
                least[name], by[name] = value, one
    return Angles(*(least.get(name) for name in _ANGLES)), by


def judge_slopes(
    under: Under, named: Sequence[tuple[str, float]], bump_mm: tuple[float | None, float | None]
) -> list[Judgement]:
    """Every slope at rest, and with the springs down to the stops.

    Unmeasured where a point, a tyre or the travel is not known.

    >>> car = Under((800, 150), (900, 200), (1300, 160), (300, 300), 2600.0)
    >>> [one.state for one in judge_slopes(car, [("drive", 8.0)], (60.0, 60.0))]
    ['clear', 'hit']
    """
    missing = [
        name
        for name, value in (
            ("the lip", under.lip),
            ("the tyres", under.radius_mm),
            ("the wheelbase", under.wheelbase_mm),
        )
        if value is None
    ]
    if missing:
        what = f"not known: {', '.join(missing)}"
        return [unmeasured(f"air.ramp.{name}", name, what, ["air.lip"], ["measure the lip"]) for name, _ in named]
    try:
        still = _limits(under)
    except BadInput as error:
        return [
            unmeasured(f"air.ramp.{name}", name, error.message, ["air.lip"], ["measure the point again"])
            for name, _ in named
        ]
    low: tuple[Angles, dict[str, Hung]] | str | None = None
    if bump_mm[0] is not None and bump_mm[1] is not None:
        try:
            low = _limits(lowered(under, bump_mm[0], bump_mm[1]))
        except BadInput as error:
            low = error.message
    return [
        one
        for name, slope in named
        for one in (_judge_one(under, name, slope, still), _at_bump(under, name, slope, low))
    ]


def _at_bump(under: Under, name: str, slope_deg: float, low: tuple[Angles, dict[str, Hung]] | str | None) -> Judgement:
    """A slope with the springs down to the stops.

    Unmeasured where the travel is, or where a point then lies in a tyre (``low`` says it in words).
    """
    if low is None or isinstance(low, str):
        what = low or "bump to the stop is not measured at both ends"
        return unmeasured(
            f"air.ramp.{name}.bump", f"{name}, at full bump", what, ["bump"], ["measure the bump travel left"]
        )
    judged = _judge_one(under, name, slope_deg, low)
    return replace(judged, code=f"air.ramp.{name}.bump", name=f"{judged.name}, at full bump")


def _judge_one(under: Under, name: str, slope_deg: float, limits: tuple[Angles, dict[str, Hung]] | None) -> Judgement:
    """One slope, and which panel is in its way."""
    if limits is None:
        raise ValueError("lip, tyres and wheelbase are known here")
    judged, by = judge_ramp(name, slope_deg, limits[0])
    panel = limits[1].get(by or "")
    said = judged.reason if panel is None else f"{judged.reason}, at {panel.name}"
    return replace(
        judged, name=f"{name}, {slope_deg:g}°", reason=said, inputs=(*under.inputs, *(panel.inputs if panel else ()))
    )


#: the sheet of the side view: its scale comes from the car's length; ground line and what is left free [drawing units]
SIDE_W, SIDE_H, FREE, GROUND_Y = 720.0, 220.0, 20.0, 190.0


@dataclass(frozen=True)
class Side:
    """The car from its left, in drawing units: ground, wheels, body's lowest line, lines of the angles, each slope."""

    wheels: tuple[tuple[float, float, float], ...]
    body: str
    lines: tuple[tuple[str, str, float], ...]
    slopes: tuple[tuple[str, str, str], ...]
    #: each panel's path; points that can be dragged up and down: which of the panel's, where, and how far the build
    #: lowered it [mm]
    panels: tuple[str, ...] = ()
    handles: tuple[tuple[int, float, float, float], ...] = ()
    scale: float = 1.0


def side_view(
    under: Under, named: Sequence[tuple[str, float]], dragged: Sequence[tuple[int, float, float, float]] = ()
) -> Side | None:
    """Lip, belly, tail and panels with their lines, and slopes at the front wheel; None before they are known.

    ``dragged``: points of the panel in hand that can be dragged: which, behind the front axle, height, how far the
    build lowered it [mm].

    >>> car = Under((800, 150), (900, 200), (1300, 160), (300, 300), 2600.0)
    >>> found = side_view(car, [("drive", 8.0)])
    >>> len(found.wheels), [name for name, _, _ in found.lines]
    (2, ['approach', 'departure'])
    """
    known = angles_of(under)
    if known is None or under.lip is None or under.radius_mm is None or under.wheelbase_mm is None:
        return None
    ahead = under.lip[0] + 250.0
    behind = (under.tail[0] if under.tail else 900.0) + 250.0
    scale = (SIDE_W - 2 * FREE) / (ahead + under.wheelbase_mm + behind)

    def at(x_mm: float, up_mm: float) -> tuple[float, float]:
        return round(FREE + (ahead + x_mm) * scale, 1), round(GROUND_Y - up_mm * scale, 1)

    front, rear = under.radius_mm
    wheels = ((*at(0.0, front), round(front * scale, 1)), (*at(under.wheelbase_mm, rear), round(rear * scale, 1)))
    points = [at(-under.lip[0], under.lip[1])]
    points += [at(*under.belly)] if under.belly else []
    points += [at(under.wheelbase_mm + under.tail[0], under.tail[1])] if under.tail else []
    lines = []
    for name, (x, up), degrees, way in (
        ("approach", (-under.lip[0], under.lip[1]), known.approach_deg, 1.0),
        (
            "departure",
            (under.wheelbase_mm + under.tail[0], under.tail[1]) if under.tail else (0.0, 0.0),
            known.departure_deg,
            -1.0,
        ),
    ):
        if degrees is not None:
            run = 900.0
            (x0, y0), (x1, y1) = (
                at(x - way * 120.0, up + 120.0 * math.tan(math.radians(degrees))),
                at(x + way * run, up - run * math.tan(math.radians(degrees))),
            )
            lines.append((name, f"M{x0} {y0}L{x1} {y1}", degrees))
    drawn = []
    for name, slope in named:
        (x0, y0), (x1, y1) = (
            at(-front * math.tan(math.radians(slope) / 2), 0.0),
            at(-ahead + 40.0, (ahead - 40.0) * math.tan(math.radians(slope))),
        )
        drawn.append((name, f"M{x0} {y0}L{x1} {y1}", f"{slope:g}°"))
    hung = tuple("M" + "L".join("{} {}".format(*at(x, up)) for x, up in one.points_mm) for one in under.panels)
    handles = tuple((k, *at(x, up), round(by, 2)) for k, x, up, by in dragged)
    return Side(wheels, "M" + "L".join(f"{x} {y}" for x, y in points), tuple(lines), tuple(drawn), hung, handles, scale)
