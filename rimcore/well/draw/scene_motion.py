"""The well in motion, in section and from above."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rimcore.drawing.planes import FAR_MM, Dimension, Label, Plane, Scene, Shape, scale_text, short
from rimcore.well.draw.scene import axes, disc, fender, hub, leaning, wheel
from rimcore.well.judge.posegaps import PoseGap, pose_of
from rimcore.well.read.measured import Candidate
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import outline_polygon
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted


def moving_scene(
    corner: str,
    present: Fitted,
    candidate: Candidate,
    motion: Motion,
    gaps: Sequence[PoseGap],
    steer_deg: float,
    travel_mm: float,
    width: float = 580,
    height: float = 500,
) -> Scene:
    """Section through the axle at a steer and travel.

    Every obstacle is turned about the axle into the plane of the cut.

    Parameters
    ----------
    gaps : of this corner at that pose
    travel_mm : from the baseline's ride height [mm]
    """
    scene = Scene(width, height, "")
    plane = moving_plane(corner, candidate, motion, scene)
    scene = replace(scene, scale=scale_text(plane.scale))
    drop = candidate.levers.ride_drop_mm
    axes(scene, plane, travel_mm)
    hub(scene, plane, travel_mm)
    lip = min((one for one in gaps if one.reading.station.place == "arch"), key=lambda one: one.gap_mm, default=None)
    # One lip: of its readings the one that stands nearest here.
    for one in reversed(
        [one for one in gaps if one.gap_mm < FAR_MM and (one.reading.station.place != "arch" or one is lip)]
    ):
        _met(scene, plane, one, pose_of(motion, candidate, 0.0, travel_mm), candidate)
    for fitted, at, ink in ((present, 0.0, "present"), (candidate.fitted, drop, "candidate")):
        standing = replace(fitted, camber_deg=motion.camber_at(fitted.camber_deg, at, travel_mm))
        wheel(scene, plane, standing, travel_mm, ink)
    disc(scene, plane, replace(candidate, fitted=standing), travel_mm)
    for one in gaps[:3]:
        _gap_line(scene, plane, one, pose_of(motion, candidate, 0.0, travel_mm), candidate)
    figures_apart(scene)
    return scene


def moving_plane(corner: str, candidate: Candidate, motion: Motion, scene: Scene) -> Plane:
    """The plane of the section in motion on a drawing of that size."""
    crown = candidate.fitted.outline.crown_mm
    up, lowest = crown + max(95.0, (motion.bump_mm or 0.0) + 60.0), crown + 34.0
    scale = min(scene.height / (up + lowest), scene.width / 620.0)
    mirror = corner.endswith("L")
    return Plane(scene.width * (0.42 if mirror else 0.58), up * scale, scale, mirror)


def above_plane(corner: str, candidate: Candidate, scene: Scene) -> Plane:
    """The plane from above on a drawing of that size."""
    crown, mirror = candidate.fitted.outline.crown_mm, corner.endswith("L")
    scale = min(scene.width / 520.0, scene.height / (2 * crown + 120.0))
    return Plane(scene.width * (0.45 if mirror else 0.55), scene.height / 2, scale, mirror)


def in_cut(across_mm: float, radius_mm: float, pose: Pose, candidate: Candidate) -> tuple[float, float]:
    """A place in the wheel's axes, in the plane of the cut: across and up [mm]."""
    point = pose.to_body(np.array([[0.0, candidate.fitted.centre_mm + across_mm, radius_mm]]))[0]
    return float(point[1]), float(point[2])


def _met(scene: Scene, plane: Plane, one: PoseGap, pose: Pose, candidate: Candidate) -> None:
    """An obstacle at its place: only the point facing the wheel was measured."""
    y, z = in_cut(one.across_mm, one.radius_mm, pose, candidate)
    place = one.reading.station.place
    if place == "arch":
        scene.shapes.append(Shape(fender(plane, y, z), "solid-hatched"))
        return
    if place == "damper":
        scene.shapes.append(Shape(leaning(plane, y, z, 0.0, -24.0, 110.0), "solid-hatched"))
        return
    length = math.hypot(one.across_mm - one.foot_across_mm, one.radius_mm - one.foot_radius_mm) or 1.0
    away = ((one.across_mm - one.foot_across_mm) / length, (one.radius_mm - one.foot_radius_mm) / length)
    if one.gap_mm < 0:
        away = (-away[0], -away[1])
    side = (away[1], -away[0])
    block = [
        (y + a * away[0] + b * side[0], z + a * away[1] + b * side[1])
        for a, b in ((0, -22), (0, 22), (18, 22), (18, -22))
    ]
    scene.shapes.append(Shape(plane.path(block), "solid-hatched"))


def _gap_line(scene: Scene, plane: Plane, one: PoseGap, pose: Pose, candidate: Candidate) -> None:
    x1, y1 = plane.at(*in_cut(one.across_mm, one.radius_mm, pose, candidate))
    x2, y2 = plane.at(*in_cut(one.foot_across_mm, one.foot_radius_mm, pose, candidate))
    outward = x1 >= x2
    scene.dimensions.append(
        Dimension(
            x1=x1,
            y1=y1,
            x2=x2,
            y2=y2,
            tx=x1 + (9 if outward else -9),
            ty=y1 + 6,
            text=short(one.gap_mm),
            state=one.state,
            key=one.reading.code,
            anchor="start" if outward else "end",
            heads="h" if abs(x2 - x1) >= abs(y2 - y1) else "v",
        )
    )


def above_scene(
    corner: str,
    present: Fitted,
    candidate: Candidate,
    motion: Motion,
    gaps: Sequence[PoseGap],
    steer_deg: float,
    travel_mm: float,
    width: float = 260,
    height: float = 232,
) -> Scene:
    """From above at a steer and travel: the tyre in plan, and what was read before and behind it."""
    scene, crown = Scene(width, height, ""), candidate.fitted.outline.crown_mm
    plane = above_plane(corner, candidate, scene)
    scene = replace(scene, scale=scale_text(plane.scale))
    for fitted, ink in ((present, "present"), (candidate.fitted, "candidate")):
        pose = pose_of(motion, replace(candidate, fitted=fitted), steer_deg, travel_mm)
        scene.shapes.append(Shape(plane.path(_plan_of(fitted, pose)), ink))
    axle = pose.to_body(
        np.array([[crown * 0.9, candidate.fitted.centre_mm, 0.0], [-crown * 0.9, candidate.fitted.centre_mm, 0.0]])
    )
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
    wall = [
        (across - 90, forward + way * 10),
        (across - 30, forward),
        (across + 30, forward),
        (across + 90, forward + way * 10),
    ]
    scene.shapes.append(Shape(plane.path(wall, closed=False), "wall"))


def _gap_above(scene: Scene, plane: Plane, one: PoseGap) -> None:
    x1, y1 = plane.at(one.point_mm[1], one.point_mm[0])
    x2, y2 = plane.at(one.foot_mm[1], one.foot_mm[0])
    late = x1 > scene.width * 0.55
    scene.dimensions.append(
        Dimension(
            x1=x1,
            y1=y1,
            x2=x2,
            y2=y2,
            tx=x1 - 8 if late else x1 + 8,
            ty=y1 + (16 if one.point_mm[0] > 0 else -6),
            text=short(one.gap_mm),
            state=one.state,
            key=one.reading.code,
            anchor="end" if late else "start",
            heads="v" if abs(y2 - y1) > abs(x2 - x1) else "h",
        )
    )


#: how far figures stand from each other on a drawing, across and up, in drawing units
FIGURE_WIDE, FIGURE_HIGH = 48.0, 20.0


def figures_apart(scene: Scene) -> None:
    """Figures that would lie on each other stand apart; one that was moved has a leader to its dimension.

    >>> scene = Scene(100, 100, "1 : 1")
    >>> scene.dimensions += [Dimension(0, 0, 0, 9, 5, 5, "9", "clear", "a", "start", "v"), Dimension(0, 0, 0, 9, 5, 8, "8", "clear", "b", "start", "v")]
    >>> figures_apart(scene)
    >>> [one.ty for one in scene.dimensions], len(scene.leaders)
    ([5, 25.0], 1)
    """
    placed: list[Dimension] = []
    for one in scene.dimensions:
        moved = one
        for other in sorted(placed, key=lambda at: at.ty):
            if abs(moved.tx - other.tx) < FIGURE_WIDE and abs(moved.ty - other.ty) < FIGURE_HIGH:
                moved = replace(moved, ty=other.ty + FIGURE_HIGH)
        if moved is not one:
            scene.leaders.append((moved.tx, moved.ty - 6, (one.x1 + one.x2) / 2, (one.y1 + one.y2) / 2))
        placed.append(moved)
    scene.dimensions[:] = placed
