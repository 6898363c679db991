"""Both front corners with the rack where the build has it, and what is judged of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from bench.geometry.facts import Linked, linked, rack_of_build
from garage.chassis.links import read_of
from garage.chassis.load import chassis_of
from garage.chassis.models import Rack
from garage.file import CarFile
from garage.kept import once
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured
from rimcore.ride.points import HardPoints
from rimcore.steering.bench import MOVES, judge_centre
from rimcore.steering.planview import PlanView, check_view, judge_view
from rimcore.steering.rack import (
    TOGGLE_DEG,
    Axle,
    Steered,
    axle_read,
    kingpin_track_mm,
    lock_to_lock,
    rack_end_mm,
    toggle,
)

#: rack travel that is drawn where nobody measured it [mm], and mounting face from the car's middle where no track is
#: known
USUAL_RACK_MM, USUAL_FACE_MM = 60.0, 740.0


@dataclass(frozen=True, eq=False)
class Steer:
    """Both front corners with the rack where it is tried, and as it was read."""

    axle: Axle
    before: Axle
    half_mm: float
    #: the right side was not read and is the left one mirrored
    assumed: bool
    inputs: tuple[InputUsed, ...]
    tyre_mm: float


def end_of(kept: Rack | None, limit_mm: float) -> float:
    """Rack travel to either lock with its limiters [mm]; the usual where nobody measured it."""
    return rack_end_mm(kept.travel_mm if kept is not None and kept.travel_mm is not None else USUAL_RACK_MM, limit_mm)


@once
def pair(file: CarFile, *moves_mm: float) -> Steer | None:
    """Both front corners with the rack moved, once a page; None until one side is read whole.

    A side that is not is the other one mirrored.
    """
    return _pair(file, moves_mm)


def _pair(file: CarFile, moves_mm: tuple[float, ...]) -> Steer | None:
    sides: dict[str, Linked | None] = {corner: linked(file, corner) for corner in ("FL", "FR")}
    there = sides["FL"] or sides["FR"]
    if there is None or file.car.wheelbase_mm is None:
        return None
    left, right = sides["FL"] or there, sides["FR"] or there
    then = [one.before.hard_points() for one in (left, right)]
    half = _face_mm(file, then[0])
    track = kingpin_track_mm(then[0], then[1], half)
    base = file.car.wheelbase_mm
    assumed = sides["FL"] is None or sides["FR"] is None or left.mirrored or right.mirrored
    standing = file.standing("F")
    tyre = standing.fitted.tyre.section_width_mm if standing else 205.0
    try:
        now, before = (
            axle_read(left.before, right.before, rack, base, track) for rack in (moves_mm or (0.0, 0.0), (0.0, 0.0))
        )
    except CoreError:
        return None
    return Steer(now, before, half, assumed, left.inputs, tyre)


def _face_mm(file: CarFile, points: HardPoints) -> float:
    """Mounting face from the car's middle: as it was read, else by the track, else as is usual."""
    track = file.car.track_front_mm
    if points.face_mm is None and track is not None:
        points = replace(points, half_track_mm=track / 2)
    return USUAL_FACE_MM if points.face_mm is None else points.face_mm


def missing_of(file: CarFile) -> str:
    """What has to be said before anything can be steered, in words; empty where all is there."""
    if file.car.wheelbase_mm is None:
        return "the wheelbase"
    read = read_of(file, "FL")
    if read is None:
        return "the wheels that stand on the car, and a front suspension with links"
    return (
        f"{len(read.missing)} hard point{'' if len(read.missing) == 1 else 's'} of the front left corner"
        if read.missing
        else "points that can be assembled"
    )


def judged_toggle(found: Steered, both: Steer, kept: Rack | None) -> Judgement:
    """Rod against arm over the rack's travel; never clear where the travel or one side is not measured."""
    judged = replace(toggle(found, TOGGLE_DEG), inputs=both.inputs)
    if kept is None or kept.travel_mm is None:
        reason = f"rack travel is not measured; over ±{USUAL_RACK_MM:g} mm: {judged.reason}"
        return replace(
            judged,
            state="unmeasured" if judged.state == "clear" else judged.state,
            reason=reason,
            missing=("rack travel",),
        )
    if both.assumed and judged.state == "clear":
        return replace(
            judged,
            state="unmeasured",
            reason=f"{judged.reason}; the other side is only mirrored",
            missing=("hard points",),
        )
    return judged


def view_of(file: CarFile) -> tuple[PlanView | None, tuple[InputUsed, ...]]:
    """The left front corner from above, from the newest five lengths of either side; and where they come from."""
    read = next((one for one in file.latest if one.code == "steer_plan" and len(one.values) == 5), None)
    if read is None:
        return None, ()
    ball, outer, behind, inner, inner_behind = read.values
    view = PlanView(
        ball_out_mm=ball,
        outer_out_mm=outer,
        outer_behind_mm=behind,
        inner_out_mm=inner,
        inner_behind_mm=inner_behind,
    )
    try:
        check_view(view)
    except CoreError:
        return None, ()
    lengths = ", ".join(f"{value:g}" for value in read.values)
    return view, (InputUsed("five lengths from above", f"{lengths} mm", read.who, f"{read.taken_on:%-d %b %Y}"),)


def judged_view(file: CarFile) -> Judgement:
    """Rod against arm seen from above, with the rack where the build has it."""
    kept: Rack | None = chassis_of(file).rack
    moves, limit = rack_of_build(file)
    view, inputs = view_of(file)
    travel = end_of(kept, limit) if kept is not None and kept.travel_mm is not None else None
    return judge_view(None if view is None else moved_view(view, moves), travel, inputs)


def moved_view(view: PlanView, moves_mm: tuple[float, ...]) -> PlanView:
    """A view with the rack and arms where a build has them: forward, spacers, longer arms."""
    named = dict(zip(MOVES, moves_mm, strict=False))
    return view.moved(
        named.get("rack_forward_mm", 0.0), named.get("rack_spacer_mm", 0.0), named.get("steer_arm_mm", 0.0)
    )


def racked(file: CarFile) -> Callable[[float, float], Judgement] | None:
    """For parts of the list: what is judged of rod and arm with the rack moved so far forward and up [mm]."""
    if pair(file) is None:
        return None
    return lambda forward, up: _toggle_at(file, forward, up)


def _toggle_at(file: CarFile, forward: float, up: float) -> Judgement:
    kept: Rack | None = chassis_of(file).rack
    moves, limit = rack_of_build(file)
    both, end = pair(file, forward, up, *moves[2:]), end_of(kept, limit)
    if both is None:
        return unmeasured(
            "steer.toggle",
            "Angle between rod and steering arm",
            "the points can't be assembled there",
            ["hard points"],
            ["move the rack less"],
        )
    return judged_toggle(lock_to_lock(both.axle, end), both, kept)


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the steering bench judges of the build in hand, once a page."""
    return _judge(file)


def _judge(file: CarFile) -> tuple[Judgement, ...]:
    kept: Rack | None = chassis_of(file).rack
    noted = f"{kept.noted_on:%-d %b %Y}" if kept else ""
    used = tuple(
        InputUsed(name, f"{value:g} mm", "the car's data", noted)
        for name, value in (
            ("left", kept.left_stick_out_mm if kept else None),
            ("right", kept.right_stick_out_mm if kept else None),
        )
        if value is not None
    )
    centre = judge_centre(kept.left_stick_out_mm if kept else None, kept.right_stick_out_mm if kept else None, used)
    moves, limit = rack_of_build(file)
    both = pair(file, *moves)
    if both is None:
        return judged_view(file), centre
    end = end_of(kept, limit)
    return (judged_toggle(lock_to_lock(both.axle, end), both, kept), centre)


def begun(file: CarFile) -> bool:
    """Is a front hard point, the rack, or the steering from above read?"""
    read = any(corner[0] == "F" for corner, _, _ in chassis_of(file).points) or view_of(file)[0] is not None
    return read or chassis_of(file).rack is not None
