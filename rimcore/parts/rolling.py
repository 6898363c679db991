"""Wheels and tyres, and what a wheel drags along."""

from __future__ import annotations

import math

from rimcore.parts.declared import Due, Family, Given, Need, Place, Question, Spec
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE
from rimcore.wheels import hub as hubs
from rimcore.wheels.hub import parse_seat
from rimcore.wheels.outline import outline
from rimcore.wheels.traced import traced
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel, same_rim


def _wheel(given: Given) -> None:
    Wheel(*(given.get(name) for name in ("diameter_in", "width_in", "offset_mm", "bolts", "pcd_mm", "bore_mm")))  # type: ignore[arg-type]


def _tyre(given: Given) -> None:
    tyre = parse_tyre(given["size"])
    if not same_rim(tyre.rim_diameter_in, given["diameter_in"]):
        raise BadInput(f"its size says {tyre.rim_diameter_in:g} in, its row {given['diameter_in']:g} in", "size")
    if given.get("profile"):
        points = tuple((float(across), float(radius)) for across, radius in given["profile"])
        traced(outline(Wheel(tyre.rim_diameter_in, tyre.measuring_rim_in), tyre), points)


def wheel_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """What a pair of wheels at one end drags along, with quantities.

    Ring, studs and nuts, spacers' share, valves, sensors, caps, alignment.

    Source: common practice; thread engagement as :func:`rimcore.wheels.hub.judge_engagement` wants it.
    """
    candidate, hub = place.candidate, place.axle.hub
    fit = hubs.hub_fit(hub, candidate.mount, candidate.fitted.spacer_mm, candidate.levers.ring)
    lugs = 2 * (place.lugs or hub.bolts or candidate.mount.bolts or 0)
    found: list[Need] = []
    if fit.ring is not None:
        ring = {"inner_mm": fit.ring.inner_mm, "outer_mm": fit.ring.outer_mm, "build": "solid"}
        name = f"Centring ring {fit.ring.inner_mm:g} → {fit.ring.outer_mm:g} mm"
        found.append(
            Need(
                "ring",
                name,
                2,
                f"the wheel's bore is {2 * (fit.radial_play_mm or 0.0):.1f} mm over the hub",
                COMMON_PRACTICE,
                ring,
            )
        )
    found += _longer(fit.engagement, place, lugs)
    seat = candidate.mount.seat
    seated = any(need.family == "bolt" for need in found)
    if not seated and fit.seat.state == "hit" and seat is not None and lugs:
        nut = {"seat": str(seat)} | ({"thread": str(hub.thread).replace("×", "x")} if hub.thread is not None else {})
        bolts = hub.bolt_length_mm is not None and hub.stud_length_mm is None
        family, word = ("bolt", "Wheel bolts") if bolts else ("nut", "Wheel nuts")
        found.append(Need(family, f"{word}, {seat} seat", lugs, fit.seat.reason, COMMON_PRACTICE, nut))
    found.append(
        Need(
            "valve",
            "Valves",
            2,
            "a new wheel comes without; its hole decides which",
            COMMON_PRACTICE,
            {"style": "rubber"},
            needed=False,
        )
    )
    found.append(
        Need(
            "sensor",
            "Pressure sensors",
            2,
            "or move the old ones over, or accept the warning light",
            COMMON_PRACTICE,
            needed=False,
        )
    )
    bore = candidate.mount.bore_mm
    if bore is not None and hub.bore_mm is not None and abs(bore - hub.bore_mm) > hubs.BORE_MATCH_MM:
        found.append(
            Need(
                "cap",
                "Centre caps",
                2,
                f"the bore is {bore:g} mm, the hub {hub.bore_mm:g} mm",
                COMMON_PRACTICE,
                needed=False,
            )
        )
    return tuple(found)


def _longer(engagement: hubs.Engagement, place: Place, lugs: int) -> list[Need]:
    """Studs or bolts of the length that pad and spacer leave short.

    Whole millimetres, with the tenth more that is clear of tight.
    """
    hub, candidate = place.axle.hub, place.candidate
    pad = candidate.mount.pad_thickness_mm
    if (
        engagement.length_mm is None
        or engagement.required_mm is None
        or engagement.judgement.state != "hit"
        or not lugs
        or pad is None
    ):
        return []
    slipped = candidate.fitted.spacer_mm if candidate.levers.spacer_kind != "bolted" else 0.0
    length = math.ceil(pad + slipped + engagement.required_mm * (1 + hubs.ENGAGEMENT_TIGHT_SHARE))
    bolts = hub.stud_length_mm is None
    spec: dict[str, object] = {"length_mm": float(length), "thread": str(hub.thread).replace("×", "x")}
    if bolts and place.candidate.mount.seat is not None:
        spec["seat"] = str(place.candidate.mount.seat)
    word = "Longer wheel bolts" if bolts else "Longer studs"
    short = engagement.required_mm - engagement.length_mm
    return [
        Need(
            "bolt" if bolts else "stud",
            f"{word} {length} mm",
            lugs,
            f"{short:.0f} mm of thread short",
            engagement.judgement.basis,
            spec,
        )
    ]


WHEEL = Family(
    "wheel",
    "wheel",
    "wheels",
    (
        Spec("diameter_in", "diameter", "diameter_in", required=True, column=True),
        Spec("width_in", "width", "width_in", required=True, column=True),
        Spec("offset_mm", "offset", "offset_mm", column=True),
        Spec("bolts", "lugs", "bolts", counted=True),
        Spec("pcd_mm", "bolt circle", "pcd_mm"),
        Spec("bore_mm", "centre bore", "bore_mm"),
        Spec("seat", "seat", read=parse_seat),
        Spec("pad_thickness_mm", "pad thickness", "pad_thickness_mm"),
        Spec("load_kg", "load rating", "load_kg"),
        Spec("barrel_radius_mm", "barrel, inner radius", "barrel_radius_mm"),
        Spec("spoke_back_mm", "spoke back beyond the mounting face", "spoke_back_mm"),
    ),
    _wheel,
    words=("wheel", "wheels", "rim", "rims"),
    on_wheels=True,
    example="18x9.5 +22 5x114.3 73.1, 8.4 kg, 310, 6 weeks, supplier, link",
    knows=("hub.pattern", "hub.bore", "hub.seat", "hub.thread", "hub.stud"),
    drags=wheel_drags,
    same_sides=("diameter_in", "width_in", "offset_mm"),
    asks=(
        Question(
            "valve_hole", "Valve hole", ("11.3 mm", "8.3 mm"), "the other hole takes another valve and another sensor"
        ),
    ),
    modules=("wheels",),
    dues=(
        Due("Wheel nuts, re-torque", after_km=80),
        Due("Wheel nuts, re-torque", after_km=800),
    ),
    used_share=0.5,
    per_end=lambda lugs: 2,
)
TYRE = Family(
    "tyre",
    "tyre",
    "tyres",
    (
        Spec("size", "size", read=parse_tyre, required=True),
        Spec("diameter_in", "rim diameter", "diameter_in", required=True, column=True),
        Spec("section_width_mm", "section", "section_mm", column=True),
        Spec("measured_section_mm", "measured section", "section_mm"),
        Spec("profile", "measured half section", aside=True),
        Spec("profile_rim_in", "rim it was measured on", "width_in"),
    ),
    _tyre,
    words=("tyre", "tyres", "tire", "tires"),
    on_wheels=True,
    example="225/45R17 94W, 9.4 kg, 101.50, 5 days, supplier, link",
    same_sides=("size",),
    asks=(
        Question(
            "marking",
            "Marking on the side",
            ("as ordered", "extra load", "other speed symbol"),
            "load and speed symbols differ at one size",
        ),
        Question("turns", "Rotation arrow", ("none", "arrow"), "with an arrow left and right are mounted apart"),
    ),
    modules=("wheels",),
    used_share=0.25,
    per_end=lambda lugs: 2,
)
