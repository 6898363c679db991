"""A rub that was seen, drawn on tyre and obstacle where it was, against the gap that the bench predicted there."""

from __future__ import annotations

from dataclasses import replace

from rimcore.drawing.planes import Label, Plane, Scene, Shape
from rimcore.well.draw.scene_motion import above_plane, above_scene, in_cut, moving_plane, moving_scene
from rimcore.well.judge.posegaps import PoseGap, pose_of
from rimcore.well.read.measured import Candidate
from rimcore.well.read.travel import Motion
from rimcore.wheels.fitted import Fitted

#: a trace within this of the predicted gap agrees with it [mm] (common practice: the margin that stands for bushes and
#: squash)
RUB_AGREES_MM = 10.0
#: an obstacle further before or behind the axle than this share of its radius is drawn from above
FROM_ABOVE = 0.4
#: half of a mark on the drawing
MARK = 7.0


def says_of_rub(gap_mm: float) -> str:
    """What a predicted gap says of a trace that was seen there.

    Source: common practice, ``RUB_AGREES_MM``.

    Parameters
    ----------
    gap_mm : predicted with what stood on the car then [mm]

    >>> says_of_rub(3.0)
    'predicted 3.0 mm there: agrees with contact, once bushes and tyre give'
    >>> says_of_rub(25.0)
    'predicted 25 mm there: measure again, or something moves that is not in the model'
    """
    if gap_mm <= RUB_AGREES_MM:
        return f"predicted {gap_mm:.1f} mm there: agrees with contact, once bushes and tyre give"
    return f"predicted {gap_mm:.0f} mm there: measure again, or something moves that is not in the model"


def rub_scene(
    corner: str, present: Fitted, then: Candidate, motion: Motion, gap: PoseGap, pose: tuple[float, float]
) -> Scene:
    """Tyre and obstacle at the pose of a rub, a mark on both where they face each other.

    In section, or from above where the obstacle stands before or behind the axle.

    Parameters
    ----------
    corner : its code
    present : what stands on the car now, dashed
    then : what stood on it when it rubbed
    motion : how the corner moves
    gap : predicted at the pose
    pose : steer [deg], travel [mm]

    Source: drawn to scale; no law.
    """
    steer_deg, travel_mm = pose
    if abs(gap.point_mm[0]) > FROM_ABOVE * gap.radius_mm:
        scene = above_scene(corner, present, then, motion, [gap], steer_deg, travel_mm)
        plane = above_plane(corner, then, scene)
        places = ((gap.point_mm[1], gap.point_mm[0]), (gap.foot_mm[1], gap.foot_mm[0]))
    else:
        scene = moving_scene(corner, present, then, motion, [gap], steer_deg, travel_mm, width=420, height=360)
        plane = moving_plane(corner, then, motion, scene)
        cut = pose_of(motion, then, 0.0, travel_mm)
        places = (
            in_cut(gap.across_mm, gap.radius_mm, cut, then),
            in_cut(gap.foot_across_mm, gap.foot_radius_mm, cut, then),
        )
    _mark(scene, plane, places)
    return scene


def _mark(scene: Scene, plane: Plane, places: tuple[tuple[float, float], tuple[float, float]]) -> None:
    """A cross on the obstacle and one on the tyre, and what they are."""
    spots = [plane.at(*place) for place in places]
    for x, y in spots:
        cross = f"M{x - MARK:.1f} {y - MARK:.1f}l{2 * MARK:g} {2 * MARK:g}m0 {-2 * MARK:g}l{-2 * MARK:g} {2 * MARK:g}"
        scene.shapes.append(Shape(cross, "rub-mark"))
    scene.dimensions[:] = [replace(one, tx=one.tx + (-14 if one.anchor == "end" else 14)) for one in scene.dimensions]
    scene.labels.append(Label(scene.width / 2, scene.height - 6, "× where it rubbed", "rub-text", "middle"))
