"""Four marks of a frame as they were read, and what is judged of them."""

from __future__ import annotations

from dataclasses import replace

from garage.chassis.load import chassis_of
from garage.chassis.models import FrameMarks, FrameTrial
from garage.file import CarFile
from planner.chosen import build_in_hand, choices_of
from rimcore.parts.spaces import CAR_GAPS, judge_car_gap
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured
from rimcore.ride.framefit import Trial, judge_frame_fit
from rimcore.steering.schools import CROSSMEMBER
from rimcore.steering.setting import Frame, squareness
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.stations import STATIONS

#: lengths of a set of marks, in the order in which one reads them
LENGTHS = {
    "front_mm": "Front pair, left to right",
    "rear_mm": "Rear pair, left to right",
    "left_mm": "Left side, front to rear",
    "right_mm": "Right side, front to rear",
    "left_to_right_mm": "Front left to rear right",
    "right_to_left_mm": "Front right to rear left",
}


#: order of the core's frame
ORDER = ("left_mm", "right_mm", "front_mm", "rear_mm", "left_to_right_mm", "right_to_left_mm")


def newest_of(file: CarFile) -> FrameMarks | None:
    marks: list[FrameMarks] = chassis_of(file).marks
    return marks[0] if marks else None


def frame_of(marks: FrameMarks) -> Frame:
    """A row as the core's frame."""
    return Frame(*(getattr(marks, name) for name in ORDER))


def trials_of(file: CarFile) -> list[Trial]:
    """Trials beside the frame for the core, the newest first."""
    rows: list[FrameTrial] = chassis_of(file).trials
    return [
        Trial(
            row.what,
            CORNER_NAMES[row.corner],
            row.bump_mm,
            row.droop_mm,
            row.plate_mm,
            row.again,
            (
                InputUsed(
                    "bump, droop", f"{_said(row.bump_mm)}, {_said(row.droop_mm)}", row.who, f"{row.taken_on:%-d %b %Y}"
                ),
            ),
        )
        for row in rows
    ]


def _said(gap_mm: float | None) -> str:
    return "not tried" if gap_mm is None else f"{gap_mm:g} mm"


#: parts that change where engine and arms stand to the frame
CHANGING = ("subframe", "mount", "control_arm")


def gaps(file: CarFile) -> tuple[Judgement, ...]:
    """Sump, bonnet, tunnel and arms against what stands round them: what was read, and what the build changes."""
    build = build_in_hand(file)
    chosen = [] if build is None else choices_of(build)
    changed = any(one.kind in CHANGING for one in chosen) or bool(build is not None and build.lever(CROSSMEMBER.code))
    found: list[Judgement] = []
    for code in CAR_GAPS:
        read = [one for one in file.latest if one.code == code and one.values]
        for one in read:
            used = InputUsed(STATIONS[code].name.lower(), f"{one.values[0]:g} mm", one.who, f"{one.taken_on:%-d %b %Y}")
            judged = judge_car_gap(code, float(one.values[0]), used, changed)
            if judged is not None:
                found.append(replace(judged, where=CORNER_NAMES.get(one.corner, "")))
        if not read and (missing := judge_car_gap(code, None, None, changed)) is not None:
            found.append(missing)
    return tuple(found)


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """Sides and diagonals of the newest marks, trials beside the frame, and gaps of the car."""
    newest, beside = newest_of(file), (*judge_frame_fit(trials_of(file)), *gaps(file))
    if newest is None:
        return (
            *beside,
            unmeasured(
                "square.sides",
                "Frame square",
                "no marks are read",
                ["marks"],
                ["plumb two front and two rear points onto the floor"],
            ),
        )
    day = f"{newest.taken_on:%-d %b %Y}"
    used = tuple(
        InputUsed(label.lower(), f"{getattr(newest, name):g} mm", newest.who, day) for name, label in LENGTHS.items()
    )
    return (*beside, *(replace(one, inputs=used, where=newest.what) for one in squareness(frame_of(newest))))


def begun(file: CarFile) -> bool:
    """Are marks or a gap round the engine read, or was a frame tried up?"""
    read = any(one.code in CAR_GAPS for one in file.latest)
    return read or bool(chassis_of(file).marks or chassis_of(file).trials)
