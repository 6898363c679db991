"""The wheels' part of the command line: tyre, wheel, swap, hub, pattern."""

from __future__ import annotations

from typing import Any

from rimcore.fastening.threads import parse_thread
from rimcore.quantities.contract import Calculation, Key, limited_key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import Judgement
from rimcore.wheels import hub as hubs
from rimcore.wheels import swap as swaps
from rimcore.wheels.keys import SPACER, TYRE_FIELDS, TYRE_KEY, WHEEL_FIELDS, WHEEL_KEY, judged_key, tyre_of, wheel_of
from rimcore.wheels.patterns import nearest_patterns, pitch_circle_mm
from rimcore.wheels.tyre import rim_fit, rim_range_basis, section_on_rim_mm
from rimcore.wheels.wheel import same_rim

# tyre


def _tyre(given: dict[str, Any]) -> dict[str, Any]:
    tyre, _ = tyre_of({name: given[name] for name in given if name != "rim_width_in"})
    rim = given["rim_width_in"]
    answer = {
        "size": tyre.size,
        "section_width_mm": tyre.section_width_mm,
        "section_on_rim_mm": None if rim is None else section_on_rim_mm(tyre, rim),
        "measuring_rim_in": tyre.measuring_rim_in,
        "rim_range_in": list(tyre.rim_range_in),
        "rim_range_basis": rim_range_basis(tyre),
        "rim_fit": None if rim is None else rim_fit(tyre, rim),
        "aspect_pct": tyre.aspect_pct,
        "rim_diameter_in": tyre.rim_diameter_in,
        "diameter_mm": tyre.diameter_mm,
        "sidewall_mm": tyre.sidewall_mm,
        "rolling_circumference_mm": tyre.rolling_circumference_mm,
        "revs_per_km": tyre.revs_per_km,
        "load_index": tyre.load_index,
        "load_kg": tyre.load_kg,
        "speed_symbol": tyre.speed_symbol,
        "speed_kmh": tyre.speed_kmh,
    }
    if tyre.load_index_dual is not None:
        answer |= {"load_index_dual": tyre.load_index_dual, "load_kg_dual": tyre.load_kg_dual}
    return answer


TYRE = Calculation(
    "tyre",
    "a tyre size: dimensions, rims, load and speed",
    "ISO 4000-1 / ETRTO; rim rules from the handbook, from memory",
    (*TYRE_FIELDS[:-1], number_key("rim_width_in", "width of the rim it would sit on", "in", 3, 18)),
    (
        Key("size", "text", "as read"),
        number_key("section_width_mm", "nominal section width"),
        number_key("section_on_rim_mm", "section on the given rim; null without a rim"),
        number_key("measuring_rim_in", "rim on which the nominal section holds", "in"),
        Key("rim_range_in", "list", "narrowest and widest approved rim", "in"),
        Key("rim_range_basis", "text", "where the range comes from"),
        Key("rim_fit", "choice", "how it sits on the given rim", choices=("ok", "stretched", "pinched", "outside")),
        number_key("aspect_pct", "sidewall over section", "%"),
        number_key("rim_diameter_in", "rim diameter", "in"),
        number_key("diameter_mm", "outside diameter, unloaded"),
        number_key("sidewall_mm", "section height"),
        number_key("rolling_circumference_mm", "3.05 × diameter"),
        number_key("revs_per_km", "turns per kilometre", ""),
        Key("load_index", "integer", "load index, single tyre"),
        number_key("load_kg", "load per tyre", "kg"),
        Key("load_index_dual", "integer", "load index in twin fitment, where stated"),
        number_key("load_kg_dual", "load per tyre in twin fitment", "kg"),
        Key("speed_symbol", "text", "speed symbol"),
        number_key("speed_kmh", "speed of the symbol", "km/h"),
    ),
    _tyre,
)


# wheel


def _wheel(given: dict[str, Any]) -> dict[str, Any]:
    wheel = wheel_of(given)
    return {
        "diameter_in": wheel.diameter_in,
        "width_in": wheel.width_in,
        "offset_mm": wheel.offset_mm,
        "bolts": wheel.bolts,
        "pcd_mm": wheel.pcd_mm,
        "bore_mm": wheel.bore_mm,
        "flange_width_mm": wheel.flange_width_mm,
        "backspacing_mm": wheel.backspacing_mm,
        "outer_lip_mm": wheel.outer_lip_mm,
        "inner_lip_mm": wheel.inner_lip_mm,
    }


WHEEL = Calculation(
    "wheel",
    "a wheel specification: fields, lips and backspacing",
    "geometry; both flanges add 25.4 mm to the nominal width (common practice)",
    WHEEL_FIELDS,
    (
        *WHEEL_FIELDS[1:4],
        *WHEEL_FIELDS[5:],
        number_key("flange_width_mm", "over both flanges"),
        number_key("backspacing_mm", "inner lip to mounting face"),
        number_key("outer_lip_mm", "outer flange face from the mounting face, outboard positive"),
        number_key("inner_lip_mm", "inner flange face from the mounting face, inboard negative"),
    ),
    _wheel,
)


# swap

_CORNER_KEYS = (
    WHEEL_KEY,
    TYRE_KEY,
    SPACER,
    number_key("wheel_kg", "mass of the wheel", "kg", 0, 200),
    number_key("tyre_kg", "mass of the tyre", "kg", 0, 200),
    number_key("inertia_kg_m2", "inertia of wheel and tyre about the axle; estimated when absent", "kg·m²", 0, 100),
)


def _corner(given: dict[str, Any]) -> swaps.Corner:
    tyre, measured = given["tyre"] or (None, None)
    if tyre is not None and not same_rim(tyre.rim_diameter_in, given["wheel"].diameter_in):
        raise BadInput(
            f"a {tyre.rim_diameter_in:g} in tyre does not go on a {given['wheel'].diameter_in:g} in wheel", "tyre"
        )
    return swaps.Corner(
        given["wheel"], tyre, given["spacer_mm"], given["wheel_kg"], given["tyre_kg"], measured, given["inertia_kg_m2"]
    )


def _swap(given: dict[str, Any]) -> dict[str, Any]:
    found = swaps.swap(given["from"], given["to"])
    return {
        "outer_lip_shift_mm": found.outer_lip_shift_mm,
        "inner_lip_shift_mm": found.inner_lip_shift_mm,
        "tyre_outer_shift_mm": found.tyre_outer_shift_mm,
        "tyre_inner_shift_mm": found.tyre_inner_shift_mm,
        "track_change_mm": found.track_change_mm,
        "diameter_change_mm": found.diameter_change_mm,
        "diameter_change_pct": found.diameter_change_pct,
        "ride_height_change_mm": found.ride_height_change_mm,
        "arch_up_gap_change_mm": found.arch_up_gap_change_mm,
        "arch_side_gap_change_mm": found.arch_side_gap_change_mm,
        "speedometer": {"true_kmh_at_indicated_100": found.true_kmh_at_indicated_100, "legal_r39": found.legal_r39},
        "mass_change_kg_per_corner": found.mass_change_kg_per_corner,
        "equivalent_mass_change_kg_per_corner": found.equivalent_mass_change_kg_per_corner,
        "inertia_basis": found.inertia_basis,
    }


SWAP = Calculation(
    "swap",
    "from one wheel and tyre to another: what moves, and by how much",
    "geometry; UN R39; equivalent mass m + I/r² (Gillespie, Fundamentals of Vehicle Dynamics)",
    (
        Key("from", "object", "what is on the car", required=True, keys=_CORNER_KEYS, read=_corner),
        Key("to", "object", "what would be", required=True, keys=_CORNER_KEYS, read=_corner),
    ),
    (
        number_key("outer_lip_shift_mm", "outer lip, outboard positive"),
        number_key("inner_lip_shift_mm", "inner lip, inboard positive"),
        number_key("tyre_outer_shift_mm", "tyre's widest point outside, outboard positive"),
        number_key("tyre_inner_shift_mm", "tyre's widest point inside, inboard positive"),
        number_key("track_change_mm", "of the axle"),
        number_key("diameter_change_mm", "outside diameter"),
        number_key("diameter_change_pct", "outside diameter", "%"),
        number_key("ride_height_change_mm", "half the diameter change"),
        number_key("arch_up_gap_change_mm", "less half the diameter change"),
        number_key("arch_side_gap_change_mm", "less the tyre's outer shift"),
        Key(
            "speedometer",
            "object",
            "if it was exact before",
            keys=(
                number_key("true_kmh_at_indicated_100", "true speed when it shows 100", "km/h"),
                Key("legal_r39", "boolean", "0 ≤ indicated − true ≤ true/10 + 4 km/h at 40, 80 and 120 km/h"),
            ),
        ),
        number_key("mass_change_kg_per_corner", "null when a mass is not given", "kg"),
        number_key("equivalent_mass_change_kg_per_corner", "change of m + I/r²", "kg"),
        Key("inertia_basis", "text", "given, partly estimated or estimated"),
    ),
    _swap,
)


# hub and pattern

_HUB_KEYS = (
    Key("bolts", "integer", "lug count", "", 3, 10),
    limited_key("pcd_mm", "bolt circle"),
    limited_key("bore_mm", "diameter of the centring collar"),
    Key("thread", "text", "thread, such as M14x1.5", read=parse_thread),
    number_key("stud_length_mm", "stud beyond the hub's mounting face", "mm", 0, 200),
    number_key("bolt_length_mm", "bolt under its seat, for cars with bolts", "mm", 0, 200),
    Key("seat", "text", "seat of nuts or bolts: cone 60, ball R13, flat", read=hubs.parse_seat),
)
_MOUNT_KEYS = (
    Key("bolts", "integer", "lug count", "", 3, 10),
    limited_key("pcd_mm", "bolt circle"),
    limited_key("bore_mm", "centre bore"),
    Key("seat", "text", "seat in the wheel: cone 60, ball R13, flat", read=hubs.parse_seat),
    limited_key("pad_thickness_mm", "mounting face to the seat of the lugs"),
)


def _hub_of(given: dict[str, Any]) -> hubs.Hub:
    if given["stud_length_mm"] is not None and given["bolt_length_mm"] is not None:
        raise BadInput("give the stud or the bolt length, not both", "bolt_length_mm")
    return hubs.Hub(**given)


def _hub(given: dict[str, Any]) -> dict[str, Any]:
    fit = hubs.hub_fit(given["hub"], given["wheel"], given["spacer_mm"], given["ring"])
    bore = _plain(fit.bore) | {
        "ring_inner_mm": fit.ring.inner_mm if fit.ring else None,
        "ring_outer_mm": fit.ring.outer_mm if fit.ring else None,
        "radial_play_mm": fit.radial_play_mm,
    }
    engagement = _plain(fit.engagement.judgement) | {
        "length_mm": fit.engagement.length_mm,
        "turns": fit.engagement.turns,
        "required_mm": fit.engagement.required_mm,
    }
    return {
        "pattern": _plain(fit.pattern),
        "bore": bore,
        "seat": _plain(fit.seat),
        "engagement": engagement,
        "findings": [_plain(finding) for finding in fit.findings],
    }


def _plain(judgement: Judgement) -> dict[str, Any]:
    return judgement.as_dict()


HUB = Calculation(
    "hub",
    "does this wheel go on this hub: bolt circle, centring, seat, thread",
    "geometry; 1.0 × diameter of thread, centring rings and seats: common practice",
    (
        Key("hub", "object", "what is on the car", required=True, keys=_HUB_KEYS, read=_hub_of),
        Key(
            "wheel", "object", "the wheel", required=True, keys=_MOUNT_KEYS, read=lambda given: hubs.WheelMount(**given)
        ),
        SPACER,
        Key(
            "ring",
            "object",
            "centring ring in the build",
            keys=(
                number_key("inner_mm", "inner diameter", "mm", 20, 250, required=True),
                number_key("outer_mm", "outer diameter", "mm", 20, 300, required=True),
            ),
            read=lambda given: hubs.CentringRing(**given),
        ),
    ),
    (
        judged_key("pattern", "bolt circle"),
        judged_key(
            "bore",
            "centring",
            number_key("ring_inner_mm", "ring that would centre it"),
            number_key("ring_outer_mm", "ring that would centre it"),
            number_key("radial_play_mm", "half the bore difference"),
        ),
        judged_key("seat", "lug seat"),
        judged_key(
            "engagement",
            "thread in the nut",
            number_key("length_mm", "engaged"),
            number_key("turns", "engaged", ""),
            number_key("required_mm", "wanted"),
        ),
        Key("findings", "list", "the four judgements"),
    ),
    _hub,
)


def _pattern(given: dict[str, Any]) -> dict[str, Any]:
    bolts, adjacent, across = given["bolts"], given["adjacent_mm"], given["across_mm"]
    if (adjacent is None) == (across is None):
        raise BadInput("give adjacent_mm, or across_mm for even counts, and only one of them", "adjacent_mm")
    if across is not None and bolts % 2:
        raise BadInput("no lug stands opposite another on an odd count; accepted: adjacent_mm", "across_mm")
    pcd = across if across is not None else pitch_circle_mm(bolts, adjacent)
    nearest = [
        {"pattern": f"{bolts}x{circle:g}", "pcd_mm": circle, "distance_mm": away}
        for circle, away in nearest_patterns(bolts, pcd)
    ]
    return {"pcd_mm": pcd, "nearest": nearest}


PATTERN = Calculation(
    "pattern",
    "bolt circle from a measurement between lugs",
    "chord of the regular polygon; patterns in use: common practice",
    (
        Key("bolts", "integer", "lug count", "", 3, 10, required=True),
        number_key("adjacent_mm", "centre to centre of adjacent lugs", "mm", 20, 300),
        number_key("across_mm", "centre to centre of opposite lugs, even counts", "mm", 40, 400),
    ),
    (
        number_key("pcd_mm", "bolt circle"),
        Key("nearest", "list", "nearest patterns in use: pattern, pcd_mm, distance_mm"),
    ),
    _pattern,
)


WHEELS = {one.name: one for one in (TYRE, WHEEL, SWAP, HUB, PATTERN)}
