"""Drawings as plain numbers in drawing units: geometry here, ink in the templates."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.judgement import Judgement
from rimcore.well.fitment import Candidate, Motion, Reading, placed
from rimcore.well.gap import closest, outline_polygon
from rimcore.well.measured import placeable
from rimcore.well.pose import Pose
from rimcore.well.stations import STATIONS
from rimcore.well.wellmap import Band, PoseGap, WellMap, pose_of
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import Outline

#: lean of the drawn damper; not measured
LEAN_DEG = 5.0
#: obstacles farther from the wheel than this are not drawn in motion [mm]
FAR_MM = 75.0
#: drawing units (CSS pixels) per mm of paper
PX_PER_MM = 96 / 25.4


@dataclass(frozen=True)
class Shape:
    """A path: ``d`` as in SVG, ``ink`` names how it is drawn."""

    d: str
    ink: str


@dataclass(frozen=True)
class Label:
    """Text at a place; ``anchor`` start, middle or end."""

    x: float
    y: float
    text: str
    ink: str = "note"
    anchor: str = "start"


@dataclass(frozen=True)
class Dimension:
    """A dimension line with its figure; ``key`` finds its judgement."""

    x1: float
    y1: float
    x2: float
    y2: float
    tx: float
    ty: float
    text: str
    state: str
    key: str
    anchor: str = "middle"
    heads: str = ""


@dataclass
class Scene:
    """What a template draws."""

    width: float
    height: float
    scale: str = ""
    shapes: list[Shape] = field(default_factory=list)
    labels: list[Label] = field(default_factory=list)
    dimensions: list[Dimension] = field(default_factory=list)
    leaders: list[tuple[float, float, float, float]] = field(default_factory=list)


@dataclass(frozen=True)
class Plane:
    """From mm to drawing units: a plane of the corner frame, mirrored for a left corner seen from behind."""

    x0: float
    y0: float
    scale: float
    mirror: bool = False

    def at(self, right_mm: float, up_mm: float) -> tuple[float, float]:
        """Drawing units of a point.

        >>> Plane(100, 50, 0.5).at(10, 20)
        (105.0, 40.0)
        """
        sign = -1.0 if self.mirror else 1.0
        return self.x0 + sign * right_mm * self.scale, self.y0 - up_mm * self.scale

    def path(self, points: Iterable[Sequence[float]], closed: bool = True) -> str:
        """SVG path of a polyline given in mm."""
        pairs = points.tolist() if isinstance(points, np.ndarray) else points
        along, up = (-self.scale if self.mirror else self.scale), self.scale
        drawn = [f"{self.x0 + along * pair[0]:.1f} {self.y0 - up * pair[1]:.1f}" for pair in pairs]
        return "M" + " L".join(drawn) + ("Z" if closed else "")


def well_scene(
    corner: str,
    present: Fitted,
    candidate: Candidate,
    readings: Sequence[Reading],
    gaps: Sequence[Judgement],
    width: float = 580,
    height: float = 500,
) -> Scene:
    """Section through the axle, seen from behind: present dashed, candidate solid.

    Parameters
    ----------
    corner : FL, FR, RL or RR; a left corner has its outboard side on the left
    readings : of this corner, latest only
    gaps : their judgements with the candidate
    """
    plane, lowest = _well_plane(corner, candidate, readings, width, height)
    scene = Scene(width, height, scale_text(plane.scale))
    by_code = {judgement.code: judgement for judgement in gaps}
    drop = candidate.ride_drop_mm
    _ground(scene, plane, drop, lowest)
    _axes(scene, plane, drop)
    _hub(scene, plane, drop)
    _arch(scene, plane, _latest(readings, "arch_12"), by_code, candidate, drop)
    _damper(scene, plane, _latest(readings, "damper"), by_code, candidate)
    _caliper(scene, plane, readings, by_code, candidate, drop)
    _wheel(scene, plane, present, 0.0, "present")
    _wheel(scene, plane, candidate.fitted, drop, "candidate")
    _disc(scene, plane, candidate, drop)
    return scene


def outline_scene(built_in: Outline, measured: Outline, width: float = 420) -> Scene:
    """Half section of a tyre on its rim: from the size dashed, as measured solid; across from the centre plane, up from the axle."""
    across = max(abs(outline.polygon()[:, 0]).max() for outline in (built_in, measured)) + 12.0
    low, high = (
        min(outline.polygon()[:, 1].min() for outline in (built_in, measured)) - 10.0,
        max(built_in.crown_mm, measured.crown_mm) + 10.0,
    )
    scale = width / (2 * across)
    plane = Plane(width / 2, high * scale, scale)
    scene = Scene(width, (high - low) * scale, scale_text(scale))
    scene.shapes.append(Shape(plane.path(built_in.polygon()), "present"))
    scene.shapes.append(Shape(plane.path(measured.polygon()), "candidate"))
    scene.shapes.append(Shape(plane.path([(0, low), (0, high)], closed=False), "centre-line"))
    return scene


def scale_text(px_per_mm: float) -> str:
    """Scale of a drawing shown at 96 units to the inch.

    >>> scale_text(0.63)
    '1 : 6.0'
    """
    return f"1 : {PX_PER_MM / px_per_mm:.1f}"


def _well_plane(corner: str, candidate: Candidate, readings: Sequence[Reading], width: float, height: float) -> tuple[Plane, float]:
    crown = max([candidate.fitted.outline.crown_mm, *(r.present.outline.crown_mm for r in readings)], default=330.0)
    arch = _latest(readings, "arch_12")
    up = crown + max(70.0, (arch.station.up_gap_mm or 0) + 45.0 if arch else 70.0)
    lowest = crown + 34.0
    scale = min(height / (up + lowest), width / 620.0)
    mirror = corner.endswith("L")
    return Plane(width * (0.42 if mirror else 0.58), up * scale, scale, mirror), lowest


def _latest(readings: Sequence[Reading], code: str) -> Reading | None:
    inside = STATIONS[code].place in ("caliper", "joint")
    return next((reading for reading in readings if reading.code == code and (inside or placeable(reading))), None)


def _tilted(points: NDArray[np.float64], camber_deg: float, drop_mm: float) -> NDArray[np.float64]:
    """Points (n, 2) across and up, in hub axes, carried to the body plane x = 0."""
    hub = np.column_stack([np.zeros(len(points)), points])
    return Pose(camber_deg=camber_deg, travel_mm=drop_mm).to_body(hub)[:, 1:]


def _wheel(scene: Scene, plane: Plane, fitted: Fitted, drop: float, ink: str) -> None:
    section = outline_polygon(fitted.outline)
    for side in (1.0, -1.0):
        points = np.column_stack([section[:, 0] + fitted.centre_mm, section[:, 1] * side])
        scene.shapes.append(Shape(plane.path(_tilted(points, fitted.camber_deg, drop)), ink))
    rim = fitted.outline
    for side in (1.0, -1.0):
        flange = [(s * rim.rim_width_mm / 2 + fitted.centre_mm, side * rim.seat_radius_mm) for s in (-1, 1)]
        scene.shapes.append(Shape(plane.path(_tilted(np.array(flange), fitted.camber_deg, drop), closed=False), ink + "-thin"))


def _disc(scene: Scene, plane: Plane, candidate: Candidate, drop: float) -> None:
    """Pad on the hub and a spoke line to the barrel: its shape is not known and is drawn thin."""
    fitted = candidate.fitted
    face, outer = fitted.spacer_mm, fitted.centre_mm + fitted.outline.rim_width_mm * 0.36
    barrel = fitted.outline.seat_radius_mm - 10.0
    for side in (1.0, -1.0):
        spoke = [(face, side * 32.0), (face + 14.0, side * 34.0), (face + 16.0, side * 75.0), (outer, side * barrel)]
        scene.shapes.append(Shape(plane.path(_tilted(np.array(spoke), fitted.camber_deg, drop), closed=False), "candidate-thin"))
    if fitted.spacer_mm > 0:
        box = [(0, -75), (face, -75), (face, 75), (0, 75)]
        scene.shapes.append(Shape(plane.path(_tilted(np.array(box, dtype=float), fitted.camber_deg, drop)), "spacer"))


def _ground(scene: Scene, plane: Plane, drop: float, lowest: float) -> None:
    left, right = (20.0, scene.width - 20.0)
    _, y = plane.at(0, -lowest + 34.0 + drop)
    scene.shapes.append(Shape(f"M{left:.1f} {y:.1f}H{right:.1f}", "ground"))
    scene.shapes.append(Shape(f"M{left:.1f} {y:.1f}h{right - left:.1f}v8h{left - right:.1f}z", "hatched"))


def _axes(scene: Scene, plane: Plane, drop: float) -> None:
    _, y = plane.at(0, drop)
    scene.shapes.append(Shape(f"M20 {y:.1f}H{scene.width - 20:.1f}", "centre-line"))
    x, _ = plane.at(0, 0)
    scene.shapes.append(Shape(f"M{x:.1f} 24V{scene.height - 6:.1f}", "face-line"))
    scene.labels.append(
        Label(x + (5 if not plane.mirror else -5), scene.height - 2, "mounting face", "face", "start" if not plane.mirror else "end")
    )


def _hub(scene: Scene, plane: Plane, drop: float) -> None:
    """Hub and knuckle, schematic: only the mounting face is where it is drawn."""
    block = [(0, 62), (-18, 62), (-18, 40), (-70, 34), (-125, 18), (-125, -18), (-70, -34), (-18, -40), (-18, -62), (0, -62)]
    scene.shapes.append(Shape(plane.path((y, z + drop) for y, z in block), "solid-hatched"))
    collar = [(0, 32), (10, 32), (10, -32), (0, -32)]
    scene.shapes.append(Shape(plane.path((y, z + drop) for y, z in collar), "part"))


def _arch(scene: Scene, plane: Plane, reading: Reading | None, by_code: dict[str, Judgement], candidate: Candidate, drop: float) -> None:
    if reading is None:
        outline = candidate.fitted.outline
        lip_y, lip_z = candidate.fitted.centre_mm + outline.outermost_mm + 20, outline.crown_mm + 30
        scene.shapes.append(Shape(_fender(plane, lip_y, lip_z), "unmeasured"))
        x, y = plane.at(lip_y, lip_z + 34)
        scene.labels.append(Label(x, y - 6, "arch lip: not measured", "unmeasured", "end" if not plane.mirror else "start"))
        return
    point = placed(reading).points_mm[0]
    lip_y, lip_z = float(point[1]), float(point[2])
    scene.shapes.append(Shape(_fender(plane, lip_y, lip_z), "solid-hatched"))
    side, up = by_code.get("gap.arch_12.sideways"), by_code.get("gap.arch_12.upward")
    outline, fitted = candidate.fitted.outline, candidate.fitted
    if side is not None and side.value is not None:
        z = lip_z - 26.0
        outer = fitted.centre_mm + outline.outermost_mm + math.sin(math.radians(fitted.camber_deg)) * outline.widest_radius_mm
        scene.dimensions.append(_dimension(plane, (outer, z), (lip_y, z), side, text_beside=True))
        x, y1 = plane.at(lip_y, lip_z - 4)
        scene.shapes.append(Shape(f"M{x:.1f} {y1:.1f}V{plane.at(0, z - 10)[1]:.1f}", "extension"))
    if up is not None and up.value is not None:
        scene.dimensions.append(_dimension(plane, (fitted.centre_mm + 30, outline.crown_mm + drop), (fitted.centre_mm + 30, lip_z), up))
        scene.shapes.append(Shape(plane.path([(fitted.centre_mm + 18, lip_z), (lip_y - 2, lip_z)], closed=False), "extension"))


def _fender(plane: Plane, lip_y: float, lip_z: float) -> str:
    """A wing's edge with its rolled lip: only the lip's lower edge is where it was measured."""
    outer = [
        (lip_y - 8, lip_z),
        (lip_y, lip_z),
        (lip_y + 2, lip_z + 18),
        (lip_y - 12, lip_z + 36),
        (lip_y - 60, lip_z + 44),
        (lip_y - 250, lip_z + 46),
    ]
    inner = [(lip_y - 250, lip_z + 38), (lip_y - 62, lip_z + 36), (lip_y - 20, lip_z + 28), (lip_y - 8, lip_z + 14)]
    return plane.path(outer + inner)


def _damper(scene: Scene, plane: Plane, reading: Reading | None, by_code: dict[str, Judgement], candidate: Candidate) -> None:
    drop = candidate.ride_drop_mm
    if reading is None:
        scene.shapes.append(Shape(_leaning(plane, -190.0, 230.0, drop, -190.0, 110.0), "unmeasured"))
        x, y = plane.at(-232.0, 120 + drop)
        scene.labels.append(Label(x, y, "damper: not measured", "unmeasured", "end" if not plane.mirror else "start"))
        return
    point = placed(reading).points_mm[0]
    rides = drop if placed(reading).frame == "knuckle" else 0.0
    y_face, z = float(point[1]), float(point[2]) + rides
    scene.shapes.append(Shape(_leaning(plane, y_face, z, 0.0, -24.0, 110.0), "solid-hatched"))
    scene.shapes.append(Shape(_leaning(plane, y_face, z, 0.0, 50.0 - z, -24.0), "unmeasured"))
    judged = by_code.get("gap.damper")
    if judged is not None and judged.value is not None:
        pose = Pose(candidate.fitted.camber_deg, 0.0, drop)
        near = closest(placed(reading), candidate.fitted, pose)
        foot = np.array([[candidate.fitted.centre_mm + near.across_mm, near.radius_mm]])
        tip = _tilted(foot, candidate.fitted.camber_deg, drop)[0]
        scene.dimensions.append(_dimension(plane, (y_face, z), (float(tip[0]), float(tip[1])), judged, text_beside=True))


def _leaning(plane: Plane, face_mm: float, height_mm: float, drop: float, low_mm: float, high_mm: float) -> str:
    """A damper leaning inboard: only its face at the measured height is where it is drawn."""
    lean, thick = math.tan(math.radians(LEAN_DEG)), 52.0
    face = [(face_mm - dz * lean, height_mm + dz + drop) for dz in (low_mm, high_mm)]
    return plane.path([face[0], face[1], (face[1][0] - thick, face[1][1]), (face[0][0] - thick, face[0][1])])


def _caliper(
    scene: Scene, plane: Plane, readings: Sequence[Reading], by_code: dict[str, Judgement], candidate: Candidate, drop: float
) -> None:
    barrel, spoke = _latest(readings, "caliper_barrel"), _latest(readings, "caliper_spoke")
    radius = barrel.station.radius_mm if barrel and barrel.station.radius_mm else 160.0
    face = spoke.station.face_mm if spoke and spoke.station.face_mm is not None else 20.0
    box = [(face, -radius + drop), (face, -radius + 72 + drop), (face - 92, -radius + 72 + drop), (face - 92, -radius + drop)]
    known = barrel is not None and spoke is not None
    scene.shapes.append(
        Shape(plane.path([(-30, -62 + drop), (-52, -62 + drop), (-52, -radius + 14 + drop), (-30, -radius + 14 + drop)]), "part")
    )
    scene.shapes.append(Shape(plane.path(box), "solid-hatched" if known else "unmeasured"))
    judged = by_code.get("gap.caliper_barrel")
    if judged is not None and judged.value is not None:
        scene.dimensions.append(
            _dimension(plane, (face - 60, -radius + drop), (face - 60, -radius - judged.value + drop), judged, text_beside=True)
        )
    else:
        text = "caliper: not measured" if barrel is None else "caliper to barrel: rim not known"
        x1, y1 = plane.at(face - 92, -radius + 30 + drop)
        x2, y2 = plane.at(-235, -radius + 60 + drop)
        scene.leaders.append((x1, y1, x2, y2))
        scene.labels.append(Label(x2 + (-5 if not plane.mirror else 5), y2 + 4, text, "unmeasured", "end" if not plane.mirror else "start"))


def _dimension(
    plane: Plane, start: tuple[float, float], end: tuple[float, float], judged: Judgement, text_beside: bool = False
) -> Dimension:
    x1, y1 = plane.at(*start)
    x2, y2 = plane.at(*end)
    text = change_text(judged)
    horizontal = text_beside or abs(x2 - x1) >= abs(y2 - y1)
    if text_beside:
        out = max(x1, x2) + 8 if (judged.code != "gap.damper") != plane.mirror else min(x1, x2) - 8
        anchor = "start" if out > max(x1, x2) else "end"
        return Dimension(x1, y1, x2, y2, out, y1 + 6, text, judged.state, judged.code, anchor, "h")
    inboard = 8 if plane.mirror else -8
    anchor = "start" if plane.mirror else "end"
    return Dimension(x1, y1, x2, y2, x1 + inboard, (y1 + y2) / 2 + 6, text, judged.state, judged.code, anchor, "h" if horizontal else "v")


def change_text(judged: Judgement) -> str:
    """``31 → 24``, or the one figure that is known.

    >>> change_text(Judgement("g", "g", "tight", "", "", value=3.84, before=9.1))
    '9.1 → 3.8'
    """
    if judged.value is None:
        return "–"
    if judged.before is None or abs(judged.before - judged.value) < 0.05:
        return short(judged.value)
    return f"{short(judged.before)} → {short(judged.value)}"


def short(value: float) -> str:
    """One decimal below 100, none above, a real minus.

    >>> short(-3.25), short(142.4)
    ('−3.2', '142')
    """
    text = f"{value:.0f}" if abs(value) >= 100 else f"{value:.1f}".removesuffix(".0")
    return ("0" if text in ("-0", "0") else text).replace("-", "−")


def moving_scene(
    corner: str, present: Fitted, candidate: Candidate, motion: Motion, gaps: Sequence[PoseGap], steer_deg: float, travel_mm: float,
    width: float = 580, height: float = 500,
) -> Scene:  # fmt: skip
    """Section through the axle at a steer and travel; every obstacle is turned about the axle into the plane of the cut.

    Parameters
    ----------
    gaps : of this corner at that pose
    travel_mm : from the baseline's ride height
    """
    crown = candidate.fitted.outline.crown_mm
    bump = motion.bump_mm or 0.0
    up, lowest = crown + max(95.0, bump + 60.0), crown + 34.0
    scale = min(height / (up + lowest), width / 620.0)
    mirror = corner.endswith("L")
    plane = Plane(width * (0.42 if mirror else 0.58), up * scale, scale, mirror)
    scene = Scene(width, height, scale_text(scale))
    drop = candidate.ride_drop_mm
    _axes(scene, plane, travel_mm)
    _hub(scene, plane, travel_mm)
    lip = min((one for one in gaps if one.reading.station.place == "arch"), key=lambda one: one.gap_mm, default=None)
    # One lip: of its readings the one that stands nearest here.
    for one in reversed([one for one in gaps if one.gap_mm < FAR_MM and (one.reading.station.place != "arch" or one is lip)]):
        _met(scene, plane, one, pose_of(motion, candidate, 0.0, travel_mm), candidate)
    for fitted, at, ink in ((present, 0.0, "present"), (candidate.fitted, drop, "candidate")):
        standing = replace(fitted, camber_deg=motion.camber_at(fitted.camber_deg, at, travel_mm))
        _wheel(scene, plane, standing, travel_mm, ink)
    _disc(scene, plane, replace(candidate, fitted=standing), travel_mm)
    for one in gaps[:3]:
        _gap_line(scene, plane, one, pose_of(motion, candidate, 0.0, travel_mm), candidate)
    return scene


def _in_cut(across_mm: float, radius_mm: float, pose: Pose, candidate: Candidate) -> tuple[float, float]:
    """A place in the wheel's axes, in the plane of the cut: across and up [mm]."""
    point = pose.to_body(np.array([[0.0, candidate.fitted.centre_mm + across_mm, radius_mm]]))[0]
    return float(point[1]), float(point[2])


def _met(scene: Scene, plane: Plane, one: PoseGap, pose: Pose, candidate: Candidate) -> None:
    """An obstacle at its place: only the point facing the wheel was measured."""
    y, z = _in_cut(one.across_mm, one.radius_mm, pose, candidate)
    place = one.reading.station.place
    if place == "arch":
        scene.shapes.append(Shape(_fender(plane, y, z), "solid-hatched"))
        return
    if place == "damper":
        scene.shapes.append(Shape(_leaning(plane, y, z, 0.0, -24.0, 110.0), "solid-hatched"))
        return
    length = math.hypot(one.across_mm - one.foot_across_mm, one.radius_mm - one.foot_radius_mm) or 1.0
    away = ((one.across_mm - one.foot_across_mm) / length, (one.radius_mm - one.foot_radius_mm) / length)
    if one.gap_mm < 0:
        away = (-away[0], -away[1])
    side = (away[1], -away[0])
    block = [(y + a * away[0] + b * side[0], z + a * away[1] + b * side[1]) for a, b in ((0, -22), (0, 22), (18, 22), (18, -22))]
    scene.shapes.append(Shape(plane.path(block), "solid-hatched"))


def _gap_line(scene: Scene, plane: Plane, one: PoseGap, pose: Pose, candidate: Candidate) -> None:
    x1, y1 = plane.at(*_in_cut(one.across_mm, one.radius_mm, pose, candidate))
    x2, y2 = plane.at(*_in_cut(one.foot_across_mm, one.foot_radius_mm, pose, candidate))
    outward = x1 >= x2
    scene.dimensions.append(
        Dimension(
            x1, y1, x2, y2, x1 + (9 if outward else -9), y1 + 6, short(one.gap_mm), one.state, one.reading.code, "start" if outward else "end",
            "h" if abs(x2 - x1) >= abs(y2 - y1) else "v",
        )
    )  # fmt: skip


def above_scene(
    corner: str, present: Fitted, candidate: Candidate, motion: Motion, gaps: Sequence[PoseGap], steer_deg: float, travel_mm: float,
    width: float = 260, height: float = 232,
) -> Scene:  # fmt: skip
    """From above at a steer and travel: the tyre in plan, and what was read before and behind it."""
    crown = candidate.fitted.outline.crown_mm
    scale = min(width / 520.0, height / (2 * crown + 120.0))
    plane = Plane(width * (0.45 if corner.endswith("L") else 0.55), height / 2, scale, corner.endswith("L"))
    scene = Scene(width, height, scale_text(scale))
    for fitted, ink in ((present, "present"), (candidate.fitted, "candidate")):
        pose = pose_of(motion, replace(candidate, fitted=fitted), steer_deg, travel_mm)
        scene.shapes.append(Shape(plane.path(_plan_of(fitted, pose)), ink))
    axle = pose.to_body(np.array([[crown * 0.9, candidate.fitted.centre_mm, 0.0], [-crown * 0.9, candidate.fitted.centre_mm, 0.0]]))
    scene.shapes.append(Shape(plane.path(axle[:, [1, 0]], closed=False), "centre-line"))
    shown = [one for one in gaps if abs(one.point_mm[0]) > 0.4 * one.radius_mm and one.gap_mm < 2 * FAR_MM]
    for one in shown:
        _stands(scene, plane, one)
    # One figure at each end, so that none lies on another.
    ends = {one.point_mm[0] > 0: one for one in reversed(shown)}
    for one in ends.values():
        _gap_above(scene, plane, one)
    if not shown:
        scene.labels.append(Label(width / 2, height - 6, "before and behind: not measured", "unmeasured", "middle"))
    return scene


def _plan_of(fitted: Fitted, pose: Pose) -> NDArray[np.float64]:
    """Outline of the tyre seen from above, shape (n, 2): across, forward."""
    section = outline_polygon(fitted.outline)
    half = section[section[:, 1] > fitted.outline.seat_radius_mm]
    front = np.column_stack([half[:, 1], half[:, 0] + fitted.centre_mm, np.zeros(len(half))])
    rear = np.column_stack([-half[::-1, 1], half[::-1, 0] + fitted.centre_mm, np.zeros(len(half))])
    posed = pose.to_body(np.vstack([front, rear]))
    return np.asarray(posed[:, [1, 0]])


def _stands(scene: Scene, plane: Plane, one: PoseGap) -> None:
    """A liner as a wall across, a rail or arm as a hatched bar along the car, a lip as its edge."""
    forward, across, _ = one.point_mm
    way = 1.0 if forward > 0 else -1.0
    if one.reading.station.place in ("rail", "arm", "damper"):
        bar = [(across, forward - 70), (across, forward + 70), (across - 14, forward + 70), (across - 14, forward - 70)]
        scene.shapes.append(Shape(plane.path(bar), "solid-hatched"))
        return
    if one.reading.station.place == "arch":
        lip = [(across, forward - 34), (across, forward + 34), (across - 8, forward + 34), (across - 8, forward - 34)]
        scene.shapes.append(Shape(plane.path(lip), "solid-hatched"))
        return
    wall = [(across - 90, forward + way * 10), (across - 30, forward), (across + 30, forward), (across + 90, forward + way * 10)]
    scene.shapes.append(Shape(plane.path(wall, closed=False), "wall"))


def _gap_above(scene: Scene, plane: Plane, one: PoseGap) -> None:
    x1, y1 = plane.at(one.point_mm[1], one.point_mm[0])
    x2, y2 = plane.at(one.foot_mm[1], one.foot_mm[0])
    late = x1 > scene.width * 0.55
    scene.dimensions.append(
        Dimension(
            x1, y1, x2, y2, x1 - 8 if late else x1 + 8, y1 + (16 if one.point_mm[0] > 0 else -6), short(one.gap_mm), one.state, one.reading.code,
            "end" if late else "start", "v" if abs(y2 - y1) > abs(x2 - x1) else "h",
        )
    )  # fmt: skip


@dataclass(frozen=True)
class MapScene:
    """The map over steer and travel in drawing units: one path a state, axes, and where poses lie."""

    width: float
    height: float
    x0: float
    y0: float
    x1: float
    y1: float
    paths: dict[str, str]
    zero_x: float
    zero_y: float
    pose_x: float
    pose_y: float
    marks: list[tuple[float, float, str]]


def map_scene(
    found: WellMap, steer_deg: float, travel_mm: float, rest_mm: float, marks: Sequence[tuple[float, float, str]] = (),
    width: float = 260, height: float = 178,
) -> MapScene:  # fmt: skip
    """Draw the map: steer to the right is outboard, travel upward is bump; hits are hatched.

    Parameters
    ----------
    rest_mm : where the build stands, drawn as the level line
    marks : poses to mark, such as traces of rubs: (steer [deg], travel [mm], name)
    """
    x0, y0, x1, y1 = 4.0, 4.0, width - 40.0, height - 22.0
    columns, rows = _edges(found.steer_deg, x0, x1), _edges(found.travel_mm, y1, y0)
    paths: dict[str, str] = {}
    for j, row in enumerate(found.cells):
        start = 0
        for i in range(1, len(row) + 1):
            if i == len(row) or row[i].state != row[start].state:
                run = f"M{columns[start]:.1f} {rows[j]:.1f}H{columns[i]:.1f}V{rows[j + 1]:.1f}H{columns[start]:.1f}z"
                paths[row[start].state] = paths.get(row[start].state, "") + run
                start = i

    def x_of(value: float) -> float:
        return float(np.interp(value, _ends(found.steer_deg), (x0, x1)))

    def y_of(value: float) -> float:
        return float(np.interp(value, _ends(found.travel_mm), (y1, y0)))

    placed_marks = [(x_of(s), y_of(t), name) for s, t, name in marks]
    return MapScene(width, height, x0, y0, x1, y1, paths, x_of(0.0), y_of(rest_mm), x_of(steer_deg), y_of(travel_mm), placed_marks)


def _ends(values: Sequence[float]) -> tuple[float, float]:
    """First and last value; a single one stands in the middle of its axis."""
    return (values[0], values[-1]) if len(values) > 1 else (values[0] - 1.0, values[0] + 1.0)


def _edges(values: Sequence[float], start: float, end: float) -> list[float]:
    """Edges of cells half way between their values, in drawing units."""
    if len(values) == 1:
        return [start, end]
    middles = [(a + b) / 2 for a, b in zip(values, values[1:], strict=False)]
    return [float(x) for x in np.interp([values[0], *middles, values[-1]], (values[0], values[-1]), (start, end))]


@dataclass(frozen=True)
class BandRow:
    """One width's offsets as bars in drawing units."""

    label: str
    y: float
    contact: tuple[float, float] | None
    clear: tuple[float, float] | None
    note: str
    here: float | None
    offset: int


@dataclass(frozen=True)
class BandScene:
    """Offsets that go in, by width, over one scale of offsets."""

    width: float
    height: float
    rows: list[BandRow]
    ticks: list[tuple[float, str]]
    x0: float
    x1: float
    low: int
    high: int


def band_scene(
    bands: Sequence[Band], labels: Sequence[str], low: int, high: int, here: tuple[float, str], offset_mm: float, width: float = 600
) -> BandScene:
    """Bars of the offsets that go in; light where nothing touches, full where every margin is kept.

    Parameters
    ----------
    labels : one a bar
    here : width [in] and tyre that the setting has; its bar is marked at ``offset_mm``
    """
    x0, x1, step = 80.0, width - 210.0, 30.0

    def x_of(offset: float) -> float:
        return x0 + (offset - low) / (high - low) * (x1 - x0)

    def bar(run: tuple[int, int] | None) -> tuple[float, float] | None:
        return None if run is None else (x_of(run[0] - 0.5), max(3.0, x_of(run[1] + 0.5) - x_of(run[0] - 0.5)))

    rows = []
    for k, (band, label) in enumerate(zip(bands, labels, strict=True)):
        at = x_of(offset_mm) if (band.width_in, band.tyre) == here and low <= offset_mm <= high else None
        note = f"out: {band.low_limit} · in: {band.high_limit}" if band.no_contact else f"nothing fits; least at {band.best_mm:+d}"
        rows.append(BandRow(label, 14 + k * step, bar(band.no_contact), bar(band.all_clear), note, at, band.best_mm))
    first = -(-low // 5) * 5
    ticks = [(x_of(tick), f"{tick:+d}".replace("-", "−")) for tick in range(first, high + 1, 5 if high - low <= 60 else 10)]
    return BandScene(width, 26 + len(bands) * step, rows, ticks, x0, x1, low, high)
