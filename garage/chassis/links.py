"""The links of a corner as they were read, for the core; no pages."""

from __future__ import annotations

from typing import Protocol

from garage.car.assemble import fitted_of
from garage.car.models import Axle, Outfit, OutfitAxle
from garage.chassis.load import OfCar, chassis_of
from garage.chassis.models import HardPoint
from garage.readings.models import Reading
from rimcore.quantities.judgement import InputUsed
from rimcore.ride.plumb import Plumb, Read, wanted
from rimcore.well.read.travel import Motion
from rimcore.well.solid.bylinks import ByLinks, by_links


class Rows(OfCar, Protocol):
    """A car's file, as far as it is needed here."""

    axles: dict[str, Axle]

    @property
    def current(self) -> Outfit | None: ...
    @property
    def latest(self) -> list[Reading]: ...
    def on(self, outfit: Outfit | None, end: str) -> OutfitAxle | None: ...
    def camber_of(self, axle: OutfitAxle, corner: str = "") -> float | None: ...


#: layouts of links that a suspension of the car's data has; beams and live axles have none
LAYOUT_OF = {"strut": "strut", "wishbone": "wishbone", "multilink": "five_link"}


def layout_of(file: Rows, corner: str) -> str | None:
    """The layout of links at a corner; None for a beam or a live axle."""
    axle = file.axles.get(corner[:1])
    return LAYOUT_OF.get(axle.suspension) if axle else None


def points_of(file: Rows, corner: str) -> dict[str, HardPoint]:
    """Newest point of every name at a corner, of its present layout."""
    layout = layout_of(file, corner)
    return {
        name: point for (at, kind, name), point in chassis_of(file).points.items() if at == corner and kind == layout
    }


def plumb_of(point: HardPoint) -> Plumb:
    """A row as the core's reading."""
    return Plumb(point.across_mm, point.ahead_mm, point.up_mm, point.uncertainty_mm, point.from_face)


def read_of(file: Rows, corner: str) -> Read | None:
    """What was read of a corner's links, with the wheel that stands there; None without a layout or a wheel."""
    layout, axle = layout_of(file, corner), file.on(file.current, corner[:1])
    if layout is None or axle is None:
        return None
    points = points_of(file, corner)
    readings = tuple((name, plumb_of(points[name])) for name in wanted(layout) if name in points)
    fitted = fitted_of(axle)
    if fitted.wheel.offset_mm is None:
        return None
    rest = {"camber": file.camber_of(axle, corner), "toe": _toe_of(file, corner)}
    unread = tuple(name for name, value in rest.items() if value is None)
    centre = fitted.spacer_mm - fitted.wheel.offset_mm
    return Read(layout, readings, centre, rest["camber"] or 0.0, rest["toe"] or 0.0, at_rest_unread=unread)


def _toe_of(file: Rows, corner: str) -> float | None:
    """Toe of a wheel as it was read on what stands now [deg]."""
    now = file.current.pk if file.current else None
    return next(
        (one.value for one in file.latest if (one.corner, one.code, one.outfit_id) == (corner, "toe", now)), None
    )


def count_of(file: Rows, corner: str) -> tuple[int, int] | None:
    """Points read at a corner, and all there are; None where its suspension has no links that are followed."""
    layout = layout_of(file, corner)
    return (len(points_of(file, corner)), len(wanted(layout))) if layout else None


def drop_when_read_mm(file: Rows, corner: str) -> float:
    """How far the end was lowered when the newest of its points was read."""
    points = points_of(file, corner)
    return max(points.values(), key=lambda one: one.pk).ride_drop_mm if points else 0.0


def links_of(file: Rows, corner: str, motion: Motion) -> ByLinks | None:
    """The links of a corner for the wheel well; None until all its points and its travel are read.

    Points that were only taken over from the other side don't count: a gap is not clear by what nobody read there.
    """
    if not chassis_of(file).points or motion.bump_mm is None or motion.droop_mm is None:
        return None
    points = points_of(file, corner)
    read = read_of(file, corner) if points else None
    if read is None or any(one.mirrored for one in points.values()):
        return None
    rack = chassis_of(file).rack
    end = rack.travel_mm if rack is not None else None
    return by_links(read, drop_when_read_mm(file, corner), motion.droop_mm, motion.bump_mm, end, corner[0] == "F")


def points_used(file: Rows, corner: str) -> InputUsed | None:
    """The points of a corner as what a judgement rests on; None where none is read."""
    points = points_of(file, corner) if chassis_of(file).points else {}
    if not points:
        return None
    newest = max(points.values(), key=lambda one: one.pk)
    return InputUsed(
        "hard points",
        f"{len(points)} read, ± {max(one.uncertainty_mm for one in points.values()):g} mm",
        newest.who,
        f"{newest.taken_on:%-d %b %Y}",
    )
