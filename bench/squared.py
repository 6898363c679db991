"""Four marks of a frame as they were read, and what is judged of them."""

from __future__ import annotations

from dataclasses import replace

from garage.file import CarFile
from garage.models import FrameMarks
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured
from rimcore.steering.setting import Frame, squareness

#: lengths of a set of marks, in the order in which one reads them
LENGTHS = {
    "front_mm": "Front pair, left to right", "rear_mm": "Rear pair, left to right", "left_mm": "Left side, front to rear", "right_mm": "Right side, front to rear",
    "left_to_right_mm": "Front left to rear right", "right_to_left_mm": "Front right to rear left",
}  # fmt: skip


#: order of the core's frame
ORDER = ("left_mm", "right_mm", "front_mm", "rear_mm", "left_to_right_mm", "right_to_left_mm")


def newest_of(file: CarFile) -> FrameMarks | None:
    marks: list[FrameMarks] = file.extra["marks"]
    return marks[0] if marks else None


def frame_of(marks: FrameMarks) -> Frame:
    """A row as the core's frame."""
    return Frame(*(getattr(marks, name) for name in ORDER))


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """Sides and diagonals of the newest marks."""
    newest = newest_of(file)
    if newest is None:
        return (
            unmeasured(
                "square.sides", "Frame square", "no marks are read", ["marks"], ["plumb two front and two rear points onto the floor"]
            ),
        )
    day = f"{newest.taken_on:%-d %b %Y}"
    used = tuple(InputUsed(label.lower(), f"{getattr(newest, name):g} mm", newest.who, day) for name, label in LENGTHS.items())
    return tuple(replace(one, inputs=used, where=newest.what) for one in squareness(frame_of(newest)))
