"""What stands on the car as core values: wheels, tyres, hubs, and how they meet."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from garage.car.models import Axle, OutfitAxle
from garage.car.parts import Part
from garage.readings.models import Trial
from rimcore.fastening.threads import Thread, parse_thread
from rimcore.quantities.errors import CoreError
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub, Seat, WheelMount, parse_seat
from rimcore.wheels.outline import outline
from rimcore.wheels.swap import Corner
from rimcore.wheels.tyre import Tyre, parse_tyre, tyre_from_fields
from rimcore.wheels.wheel import Wheel, parse_wheel

CORNERS_OF = {"F": ("FL", "FR"), "R": ("RL", "RR")}


def core_wheel(part: Part) -> Wheel:
    """A wheel, on the list or on the car."""
    named = (part.diameter_in or 0.0, part.width_in or 0.0, part.offset_mm)
    return Wheel(*named, *(part.spec.get(name) for name in ("bolts", "pcd_mm", "bore_mm")))


def fitted_of(axle: OutfitAxle) -> Fitted:
    """Wheel and tyre of an outfit, for the core; a camber nobody wrote is drawn upright, with its own ±."""
    section, profile = axle.said("measured_section_mm"), points_of(axle.said("profile"))
    return Fitted(
        core_wheel(axle.wheel_part), parse_tyre(axle.tyre), axle.spacer_mm, axle.camber_deg or 0.0, section, profile
    )


def mount_of(axle: OutfitAxle, hub: Hub) -> WheelMount:
    """How a wheel that stands on the hub meets it: bolt circle and count are the hub's, since it is bolted there.

    Its seat only as written.
    """
    wheel = core_wheel(axle.wheel_part)
    seat: Seat | None = text_of(parse_seat, axle.said("seat"))
    since = f"{axle.outfit.since:%-d %b %Y}"
    bolts, pcd = wheel.bolts or hub.bolts, wheel.pcd_mm or hub.pcd_mm
    return WheelMount(bolts, pcd, wheel.bore_mm, seat, axle.said("pad_thickness_mm"), "what stands on the car", since)


def mount_on_list(part: Part) -> WheelMount:
    """How a wheel of the list meets the hub, and who says so."""
    wheel = core_wheel(part)
    seat: Seat | None = text_of(parse_seat, part.spec.get("seat", ""))
    source = f"shortlist, {part.supplier}" if part.supplier else "shortlist"
    date = f"{part.made_at:%-d %b %Y}" if part.made_at else ""
    return WheelMount(wheel.bolts, wheel.pcd_mm, wheel.bore_mm, seat, part.spec.get("pad_thickness_mm"), source, date)


def points_of(profile: Any) -> tuple[tuple[float, float], ...] | None:
    """A stored half section, for the core."""
    return tuple((float(across), float(radius)) for across, radius in profile) if profile else None


def corner_of(axle: OutfitAxle) -> Corner:
    """The same with masses, for comparing."""
    fitted = fitted_of(axle)
    return Corner(fitted.wheel, fitted.tyre, axle.spacer_mm, axle.wheel_kg, axle.tyre_kg, fitted.measured_section_mm)


def hub_of(axle: Axle | None) -> Hub:
    """Hub data for the core; blank is unmeasured."""
    if axle is None:
        return Hub()
    thread: Thread | None = text_of(parse_thread, axle.thread)
    seat: Seat | None = text_of(parse_seat, axle.seat)
    noted = f"{axle.noted_on:%-d %b %Y}" if axle.noted_on else ""
    return Hub(
        bolts=axle.bolts,
        pcd_mm=axle.pcd_mm,
        bore_mm=axle.bore_mm,
        thread=thread,
        stud_length_mm=axle.stud_length_mm,
        bolt_length_mm=axle.bolt_length_mm,
        seat=seat,
        collar_mm=axle.collar_mm,
        source="the car's hub data",
        date=noted,
        off_wheel=frozenset(axle.off_wheel),
    )


def text_of(parse: Callable[[str], Any], text: str | None) -> Any:
    """What a kept text says; None where it says nothing, or nothing that can be read any more."""
    try:
        return parse(text) if text else None
    except CoreError:
        return None


def fault_of(row: OutfitAxle | Trial) -> str | None:
    """Why the wheel and tyre of a row can't be read; None where they can."""
    if isinstance(row, OutfitAxle):
        for part, family in ((row.wheel_part, "wheel"), (row.tyre_part, "tyre")):
            if part.family != family or part.fault is not None:
                return part.fault or f"its {family} can't be read"
    try:
        wheel = core_wheel(row.wheel_part) if isinstance(row, OutfitAxle) else parse_wheel(row.wheel)
        if isinstance(row, OutfitAxle):
            _ = fitted_of(row).outline
        elif row.tyre:
            outline(wheel, parse_tyre(row.tyre), row.measured_section_mm)
        _ = Fitted(wheel, any_tyre(wheel.diameter_in)).centre_mm
    except CoreError as error:
        return error.message
    return None


def any_tyre(diameter_in: float) -> Tyre:
    """A bare rim's outline is that of its flanges; the tyre only carries the rim's diameter."""
    return tyre_from_fields(205.0, 55.0, diameter_in)
