"""What was read of links, rack, springs, dips and frame, loaded with a car's file when a page first asks for it."""

from __future__ import annotations

from garage.file import CarFile, load_with
from garage.models import FrameMarks, HardPoint, KnownDip, Rack, Springs

#: how many drives and sets of marks a page looks back over
DIPS, MARKS = 40, 20


def _load(file: CarFile) -> None:
    """Five queries, whatever there is."""
    found: dict[tuple[str, str, str], HardPoint] = {}
    for point in HardPoint.objects.filter(car=file.car):
        found.setdefault((point.corner, point.layout, point.name), point)
    file.extra["points"] = found
    file.extra["rack"] = Rack.objects.filter(car=file.car).first()
    file.extra["springs"] = {springs.end: springs for springs in Springs.objects.filter(car=file.car)}
    file.extra["dips"] = list(KnownDip.objects.filter(car=file.car)[:DIPS])
    file.extra["marks"] = list(FrameMarks.objects.filter(car=file.car)[:MARKS])


def register() -> None:
    """Called when the room is ready."""
    load_with(_load, "points", "rack", "springs", "dips", "marks")
