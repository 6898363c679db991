"""What was read of links, rack, springs, dips and frame, loaded with a car's file when a page first asks for it."""

from __future__ import annotations

from garage.engine import Brakes, Cooling, Engine, Log
from garage.file import CarFile, load_with
from garage.models import FrameMarks, FrameTrial, HardPoint, KnownDip, OldPart, Rack, Springs

#: how many drives and sets of marks a page looks back over
DIPS, MARKS, LOGS = 40, 20, 60


def _load(file: CarFile) -> None:
    """Seven queries, whatever there is."""
    found: dict[tuple[str, str, str], HardPoint] = {}
    for point in HardPoint.objects.filter(car=file.car):
        found.setdefault((point.corner, point.layout, point.name), point)
    file.extra["points"] = found
    file.extra["rack"] = Rack.objects.filter(car=file.car).first()
    file.extra["springs"] = {springs.end: springs for springs in Springs.objects.filter(car=file.car)}
    file.extra["dips"] = list(KnownDip.objects.filter(car=file.car)[:DIPS])
    old: dict[tuple[str, str], OldPart] = {}
    for part in OldPart.objects.filter(car=file.car):
        old.setdefault((part.end, part.family), part)
    file.extra["old"] = old
    file.extra["trials"] = list(FrameTrial.objects.filter(car=file.car)[:MARKS])
    file.extra["marks"] = list(FrameMarks.objects.filter(car=file.car)[:MARKS])


def _load_engine(file: CarFile) -> None:
    """Four queries: engine, cooling, brakes, and the logs without their files."""
    file.extra["engine"] = Engine.objects.filter(car=file.car).first()
    file.extra["cooling_kept"] = Cooling.objects.filter(car=file.car).first()
    file.extra["brakes_kept"] = Brakes.objects.filter(car=file.car).first()
    file.extra["logs"] = list(Log.objects.filter(car=file.car, draft=False)[:LOGS])


def register() -> None:
    """Called when the room is ready."""
    load_with(_load_engine, "engine", "cooling_kept", "brakes_kept", "logs")
    load_with(_load, "points", "rack", "springs", "dips", "marks", "old", "trials")
