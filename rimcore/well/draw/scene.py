"""Drawings as plain numbers in drawing units: geometry here, ink in the templates."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from rimcore.drawing.planes import LEAN_DEG, Dimension, Label, Plane, Scene, Shape, scale_text, short
from rimcore.quantities.judgement import Judgement
from rimcore.well.read.measured import Candidate, Reading, placeable, placed
from rimcore.well.read.stations import STATIONS
from rimcore.well.solid.gap import closest, outline_polygon
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import Outline


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
    drop = candidate.levers.ride_drop_mm
    _ground(scene, plane, drop, lowest)
    axes(scene, plane, drop)
    hub(scene, plane, drop)
    _arch(scene, plane, _latest(readings, "arch_12"), by_code, candidate, drop)
    _damper(scene, plane, _latest(readings, "damper"), by_code, candidate)
    _caliper(scene, plane, readings, by_code, candidate, drop)
    wheel(scene, plane, present, 0.0, "present")
    wheel(scene, plane, candidate.fitted, drop, "candidate")
    disc(scene, plane, candidate, drop)
    return scene


def outline_scene(built_in: Outline, measured: Outline, width: float = 420) -> Scene:
    """Half section of a tyre on its rim: from the size dashed, as measured solid.

    Across from the centre plane, up from the axle.
    """
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


def _well_plane(
    corner: str, candidate: Candidate, readings: Sequence[Reading], width: float, height: float
) -> tuple[Plane, float]:
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


def wheel(scene: Scene, plane: Plane, fitted: Fitted, drop: float, ink: str) -> None:
    section = outline_polygon(fitted.outline)
    for side in (1.0, -1.0):
        points = np.column_stack([section[:, 0] + fitted.centre_mm, section[:, 1] * side])
        scene.shapes.append(Shape(plane.path(_tilted(points, fitted.camber_deg, drop)), ink))
    rim = fitted.outline
    for side in (1.0, -1.0):
        flange = [(s * rim.rim_width_mm / 2 + fitted.centre_mm, side * rim.seat_radius_mm) for s in (-1, 1)]
        scene.shapes.append(
            Shape(plane.path(_tilted(np.array(flange), fitted.camber_deg, drop), closed=False), ink + "-thin")
        )


def disc(scene: Scene, plane: Plane, candidate: Candidate, drop: float) -> None:
    """Pad on the hub and a spoke line to the barrel: its shape is not known and is drawn thin."""
    fitted = candidate.fitted
    face, outer = fitted.spacer_mm, fitted.centre_mm + fitted.outline.rim_width_mm * 0.36
    barrel = fitted.outline.seat_radius_mm - 10.0
    for side in (1.0, -1.0):
        spoke = [(face, side * 32.0), (face + 14.0, side * 34.0), (face + 16.0, side * 75.0), (outer, side * barrel)]
        scene.shapes.append(
            Shape(plane.path(_tilted(np.array(spoke), fitted.camber_deg, drop), closed=False), "candidate-thin")
        )
    if fitted.spacer_mm > 0:
        box = [(0, -75), (face, -75), (face, 75), (0, 75)]
        scene.shapes.append(Shape(plane.path(_tilted(np.array(box, dtype=float), fitted.camber_deg, drop)), "spacer"))


def _ground(scene: Scene, plane: Plane, drop: float, lowest: float) -> None:
    left, right = (20.0, scene.width - 20.0)
    _, y = plane.at(0, -lowest + 34.0 + drop)
    scene.shapes.append(Shape(f"M{left:.1f} {y:.1f}H{right:.1f}", "ground"))
    scene.shapes.append(Shape(f"M{left:.1f} {y:.1f}h{right - left:.1f}v8h{left - right:.1f}z", "hatched"))


def axes(scene: Scene, plane: Plane, drop: float) -> None:
    _, y = plane.at(0, drop)
    scene.shapes.append(Shape(f"M20 {y:.1f}H{scene.width - 20:.1f}", "centre-line"))
    x, _ = plane.at(0, 0)
    scene.shapes.append(Shape(f"M{x:.1f} 24V{scene.height - 6:.1f}", "face-line"))
    scene.labels.append(
        Label(
            x + (5 if not plane.mirror else -5),
            scene.height - 2,
            "mounting face",
            "face",
            "start" if not plane.mirror else "end",
        )
    )


def hub(scene: Scene, plane: Plane, drop: float) -> None:
    """Hub and knuckle, schematic: only the mounting face is where it is drawn."""
    block = [
        (0, 62),
        (-18, 62),
        (-18, 40),
        (-70, 34),
        (-125, 18),
        (-125, -18),
        (-70, -34),
        (-18, -40),
        (-18, -62),
        (0, -62),
    ]
    scene.shapes.append(Shape(plane.path((y, z + drop) for y, z in block), "solid-hatched"))
    collar = [(0, 32), (10, 32), (10, -32), (0, -32)]
    scene.shapes.append(Shape(plane.path((y, z + drop) for y, z in collar), "part"))


def _arch(
    scene: Scene,
    plane: Plane,
    reading: Reading | None,
    by_code: dict[str, Judgement],
    candidate: Candidate,
    drop: float,
) -> None:
    if reading is None:
        outline = candidate.fitted.outline
        lip_y, lip_z = candidate.fitted.centre_mm + outline.outermost_mm + 20, outline.crown_mm + 30
        scene.shapes.append(Shape(fender(plane, lip_y, lip_z), "unmeasured"))
        x, y = plane.at(lip_y, lip_z + 34)
        scene.labels.append(
            Label(x, y - 6, "arch lip: not measured", "unmeasured", "end" if not plane.mirror else "start")
        )
        return
    point = placed(reading).points_mm[0]
    lip_y, lip_z = float(point[1]), float(point[2])
    scene.shapes.append(Shape(fender(plane, lip_y, lip_z), "solid-hatched"))
    side, up = by_code.get("gap.arch_12.sideways"), by_code.get("gap.arch_12.upward")
    outline, fitted = candidate.fitted.outline, candidate.fitted
    if side is not None and side.value is not None:
        z = lip_z - 26.0
        outer = (
            fitted.centre_mm
            + outline.outermost_mm
            + math.sin(math.radians(fitted.camber_deg)) * outline.widest_radius_mm
        )
        scene.dimensions.append(_dimension(plane, (outer, z), (lip_y, z), side, text_beside=True))
        x, y1 = plane.at(lip_y, lip_z - 4)
        scene.shapes.append(Shape(f"M{x:.1f} {y1:.1f}V{plane.at(0, z - 10)[1]:.1f}", "extension"))
    if up is not None and up.value is not None:
        scene.dimensions.append(
            _dimension(plane, (fitted.centre_mm + 30, outline.crown_mm + drop), (fitted.centre_mm + 30, lip_z), up)
        )
        scene.shapes.append(
            Shape(plane.path([(fitted.centre_mm + 18, lip_z), (lip_y - 2, lip_z)], closed=False), "extension")
        )


def fender(plane: Plane, lip_y: float, lip_z: float) -> str:
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


def _damper(
    scene: Scene, plane: Plane, reading: Reading | None, by_code: dict[str, Judgement], candidate: Candidate
) -> None:
    drop = candidate.levers.ride_drop_mm
    if reading is None:
        scene.shapes.append(Shape(leaning(plane, -190.0, 230.0, drop, -190.0, 110.0), "unmeasured"))
        x, y = plane.at(-232.0, 120 + drop)
        scene.labels.append(Label(x, y, "damper: not measured", "unmeasured", "end" if not plane.mirror else "start"))
        return
    point = placed(reading).points_mm[0]
    rides = drop if placed(reading).frame == "knuckle" else 0.0
    y_face, z = float(point[1]), float(point[2]) + rides
    scene.shapes.append(Shape(leaning(plane, y_face, z, 0.0, -24.0, 110.0), "solid-hatched"))
    scene.shapes.append(Shape(leaning(plane, y_face, z, 0.0, 50.0 - z, -24.0), "unmeasured"))
    judged = by_code.get("gap.damper")
    if judged is not None and judged.value is not None:
        pose = Pose(candidate.fitted.camber_deg, 0.0, drop)
        near = closest(placed(reading), candidate.fitted, pose)
        foot = np.array([[candidate.fitted.centre_mm + near.across_mm, near.radius_mm]])
        tip = _tilted(foot, candidate.fitted.camber_deg, drop)[0]
        scene.dimensions.append(
            _dimension(plane, (y_face, z), (float(tip[0]), float(tip[1])), judged, text_beside=True)
        )


def leaning(plane: Plane, face_mm: float, height_mm: float, drop: float, low_mm: float, high_mm: float) -> str:
    """A damper leaning inboard: only its face at the measured height is where it is drawn."""
    lean, thick = math.tan(math.radians(LEAN_DEG)), 52.0
    face = [(face_mm - dz * lean, height_mm + dz + drop) for dz in (low_mm, high_mm)]
    return plane.path([face[0], face[1], (face[1][0] - thick, face[1][1]), (face[0][0] - thick, face[0][1])])


def _caliper(
    scene: Scene,
    plane: Plane,
    readings: Sequence[Reading],
    by_code: dict[str, Judgement],
    candidate: Candidate,
    drop: float,
) -> None:
    barrel, spoke = _latest(readings, "caliper_barrel"), _latest(readings, "caliper_spoke")
    radius = barrel.station.radius_mm if barrel and barrel.station.radius_mm else 160.0
    face = spoke.station.face_mm if spoke and spoke.station.face_mm is not None else 20.0
    box = [
        (face, -radius + drop),
        (face, -radius + 72 + drop),
        (face - 92, -radius + 72 + drop),
        (face - 92, -radius + drop),
    ]
    known = barrel is not None and spoke is not None
    scene.shapes.append(
        Shape(
            plane.path([(-30, -62 + drop), (-52, -62 + drop), (-52, -radius + 14 + drop), (-30, -radius + 14 + drop)]),
            "part",
        )
    )
    scene.shapes.append(Shape(plane.path(box), "solid-hatched" if known else "unmeasured"))
    judged = by_code.get("gap.caliper_barrel")
    if judged is not None and judged.value is not None:
        scene.dimensions.append(
            _dimension(
                plane, (face - 60, -radius + drop), (face - 60, -radius - judged.value + drop), judged, text_beside=True
            )
        )
    else:
        text = "caliper: not measured" if barrel is None else "caliper to barrel: rim not known"
        x1, y1 = plane.at(face - 92, -radius + 30 + drop)
        x2, y2 = plane.at(-235, -radius + 60 + drop)
        scene.leaders.append((x1, y1, x2, y2))
        scene.labels.append(
            Label(
                x2 + (-5 if not plane.mirror else 5), y2 + 4, text, "unmeasured", "end" if not plane.mirror else "start"
            )
        )


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
        return Dimension(
            x1=x1,
            y1=y1,
            x2=x2,
            y2=y2,
            tx=out,
            ty=y1 + 6,
            text=text,
            state=judged.state,
            key=judged.code,
            anchor=anchor,
            heads="h",
        )
    inboard = 8 if plane.mirror else -8
    anchor = "start" if plane.mirror else "end"
    return Dimension(
        x1=x1,
        y1=y1,
        x2=x2,
        y2=y2,
        tx=x1 + inboard,
        ty=(y1 + y2) / 2 + 6,
        text=text,
        state=judged.state,
        key=judged.code,
        anchor=anchor,
        heads="h" if horizontal else "v",
    )


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
