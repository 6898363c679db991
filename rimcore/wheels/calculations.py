"""The calculations of the command line: their declarations, and the bridge to the core's functions."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from rimcore.quantities.contract import Calculation, Key, check_object
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.judgement import Judgement
from rimcore.quantities.units import UNIT_OF_KIND, parse_quantity
from rimcore.well import gap as gaps
from rimcore.well.pose import Pose
from rimcore.wheels import hub as hubs
from rimcore.wheels import swap as swaps
from rimcore.wheels.tyre import Tyre, parse_tyre, rim_fit, rim_range_basis, section_on_rim_mm, tyre_from_fields
from rimcore.wheels.wheel import ACCEPTED as WHEEL_ACCEPTED
from rimcore.wheels.wheel import LIMITS, Wheel, offset_from_backspacing_mm, parse_wheel


def number_key(name: str, meaning: str, unit: str = "mm", low: float | None = None, high: float | None = None, **more: Any) -> Key:
    return Key(name, "number", meaning, unit, low, high, **more)


# Wheels and tyres, as text or as an object of fields, everywhere.

_WHEEL_FIELDS = (
    Key("spec", "text", "the wheel on one line: " + WHEEL_ACCEPTED),
    number_key("diameter_in", "rim diameter", "in", *LIMITS["diameter_in"][:2]),
    number_key("width_in", "rim width between the bead seats", "in", *LIMITS["width_in"][:2]),
    number_key("offset_mm", "mounting face outboard of the centre line is positive", "mm", *LIMITS["offset_mm"][:2]),
    number_key("backspacing_mm", "inner lip to mounting face, instead of the offset", "mm", -200, 500),
    Key("bolts", "integer", "lug count", "", *LIMITS["bolts"][:2]),
    number_key("pcd_mm", "bolt circle", "mm", *LIMITS["pcd_mm"][:2]),
    number_key("bore_mm", "centre bore", "mm", *LIMITS["bore_mm"][:2]),
)

_TYRE_FIELDS = (
    Key("size", "text", "the size as on the sidewall"),
    number_key("section_width_mm", "nominal section width", "mm", 100, 500),
    number_key("aspect_pct", "aspect ratio", "%", 20, 100),
    number_key("rim_diameter_in", "rim diameter", "in", 8, 30),
    Key("load_index", "integer", "load index", "", 50, 150),
    Key("speed_symbol", "text", "speed symbol"),
    number_key("measured_section_mm", "caliper reading over the mounted tyre", "mm", 80, 600),
)


def _whole(parse: Callable[[str], Any], text: str) -> Any:
    """Parse a text that stands for the whole object: the field at fault is the object itself."""
    try:
        return parse(text)
    except CoreError as error:
        raise BadInput(error.message) from error


def wheel_of(value: Any) -> Wheel:
    """A wheel from text or from an object of fields.

    >>> wheel_of({"spec": "17x8 +45", "bore_mm": 66.6}).bore_mm
    66.6
    """
    if isinstance(value, str):
        parsed: Wheel = _whole(parse_wheel, value)
        return parsed
    if not isinstance(value, dict):
        raise BadInput(f"must be text or an object; accepted: {WHEEL_ACCEPTED}")
    given = check_object(value, _WHEEL_FIELDS, "")
    read = parse_wheel(given["spec"]) if given["spec"] is not None else None
    fields: dict[str, Any] = {}
    for name in LIMITS:
        stated = getattr(read, name) if read is not None else None
        if stated is not None and given[name] is not None and stated != given[name]:
            raise BadInput(f"the specification says {stated:g}, the field {given[name]:g}; give one of them", name)
        fields[name] = given[name] if given[name] is not None else stated
    for name in ("diameter_in", "width_in"):
        if fields[name] is None:
            raise BadInput(f"is missing; accepted: a spec such as {WHEEL_ACCEPTED.split(',')[0]}, or diameter_in and width_in", name)
    fields["offset_mm"] = _offset(fields, given["backspacing_mm"])
    return Wheel(**fields)


def _offset(fields: dict[str, Any], backspacing_mm: float | None) -> float | None:
    stated: float | None = fields["offset_mm"]
    if backspacing_mm is None:
        return stated
    found = offset_from_backspacing_mm(fields["width_in"], backspacing_mm)
    if stated is not None and abs(stated - found) > 1.0:
        raise BadInput(f"the backspacing means an offset of {found:+.1f} mm, but {stated:+g} is given; give one of them", "backspacing_mm")
    return stated if stated is not None else found


def tyre_of(value: Any) -> tuple[Tyre, float | None]:
    """A tyre and its measured section, from text or from an object of fields.

    >>> tyre_of({"size": "225/45R17", "measured_section_mm": 221})[1]
    221.0
    """
    if isinstance(value, str):
        return _whole(parse_tyre, value), None
    if not isinstance(value, dict):
        raise BadInput("must be text or an object; accepted: 225/45R17 94W, or an object with size")
    given = check_object(value, _TYRE_FIELDS, "")
    if given["size"] is not None:
        return parse_tyre(given["size"]), given["measured_section_mm"]
    if given["section_width_mm"] is None and given["aspect_pct"] is None and given["rim_diameter_in"] is None:
        raise BadInput("is missing; accepted: 225/45R17 94W and the like, or section_width_mm, aspect_pct and rim_diameter_in", "size")
    for name in ("section_width_mm", "aspect_pct", "rim_diameter_in"):
        if given[name] is None:
            raise BadInput("is missing; accepted: a size, or section_width_mm, aspect_pct and rim_diameter_in", name)
    tyre = tyre_from_fields(
        given["section_width_mm"], given["aspect_pct"], given["rim_diameter_in"], given["load_index"], given["speed_symbol"]
    )
    return tyre, given["measured_section_mm"]


WHEEL_KEY = Key("wheel", "any", f"wheel, as text ({WHEEL_ACCEPTED}) or an object of the keys of wheel", required=True, read=wheel_of)
TYRE_KEY = Key("tyre", "any", "tyre, as text (225/45R17 94W) or an object with size and measured_section_mm", read=tyre_of)
NEEDED_TYRE = Key(
    "tyre", "any", "tyre, as text (225/45R17 94W) or an object with size and measured_section_mm", required=True, read=tyre_of
)
SPACER = number_key("spacer_mm", "spacer between hub and wheel", "mm", 0, 200, default=0.0)
CAMBER = number_key("camber_deg", "negative = top inboard", "deg", -20, 20, default=0.0)


def _judged(name: str, meaning: str, *more: Key) -> Key:
    return Key(
        name,
        "object",
        meaning,
        keys=(
            *more,
            Key("state", "choice", "the judgement", choices=("clear", "tight", "hit", "unmeasured")),
            Key("value", "number", "what was found, in unit"),
            Key("held_against", "number", "what it was held against, in unit"),
            Key("margin", "number", "value less what is wanted, in unit"),
            Key("reason", "text", "why, in one sentence"),
            Key("basis", "text", "published source, common practice or the user's own measurement"),
            Key("inputs", "list", "inputs used"),
            Key("remedies", "list", "what would remedy it"),
        ),
    )


# quantity


def _quantity(given: dict[str, Any]) -> dict[str, Any]:
    found = parse_quantity(given["text"], given["kind"], given["default_unit"])
    return {"value": found.value, "unit": found.unit}


QUANTITY = Calculation(
    "quantity",
    "reads one quantity as people write it",
    "unit definitions of Pint (SI, NIST SP 811); 1 kgf = 9.80665 N; hp 550 ft·lbf/s, PS 75 kgf·m/s",
    (
        Key("text", "text", "what was written, such as 11/16 in, 2°30', 7 lb 4 oz, 14k", required=True),
        Key("kind", "choice", "kind of quantity", required=True, choices=tuple(UNIT_OF_KIND)),
        Key("default_unit", "text", "unit of a bare number; without it a bare number is refused"),
    ),
    (Key("value", "number", "the value in unit"), Key("unit", "text", "unit of the kind")),
    _quantity,
)


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
    (*_TYRE_FIELDS[:-1], number_key("rim_width_in", "width of the rim it would sit on", "in", 3, 18)),
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
    _WHEEL_FIELDS,
    (
        *_WHEEL_FIELDS[1:4],
        *_WHEEL_FIELDS[5:],
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
    if tyre is not None and abs(tyre.rim_diameter_in - given["wheel"].diameter_in) > 0.01:
        raise BadInput(f"a {tyre.rim_diameter_in:g} in tyre does not go on a {given['wheel'].diameter_in:g} in wheel", "tyre")
    return swaps.Corner(given["wheel"], tyre, given["spacer_mm"], given["wheel_kg"], given["tyre_kg"], measured, given["inertia_kg_m2"])


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
        Key("speedometer", "object", "if it was exact before", keys=(
            number_key("true_kmh_at_indicated_100", "true speed when it shows 100", "km/h"),
            Key("legal_r39", "boolean", "0 ≤ indicated − true ≤ true/10 + 4 km/h at 40, 80 and 120 km/h"),
        )),
        number_key("mass_change_kg_per_corner", "null when a mass is not given", "kg"),
        number_key("equivalent_mass_change_kg_per_corner", "change of m + I/r²", "kg"),
        Key("inertia_basis", "text", "given, partly estimated or estimated"),
    ),
    _swap,
)  # fmt: skip


# hub and pattern

_HUB_KEYS = (
    Key("bolts", "integer", "lug count", "", 3, 10),
    number_key("pcd_mm", "bolt circle", "mm", 80, 300),
    number_key("bore_mm", "diameter of the centring collar", "mm", 30, 250),
    Key("thread", "text", "thread, such as M14x1.5", read=hubs.parse_thread),
    number_key("stud_length_mm", "stud beyond the hub's mounting face", "mm", 0, 200),
    number_key("bolt_length_mm", "bolt under its seat, for cars with bolts", "mm", 0, 200),
    Key("seat", "text", "seat of nuts or bolts: cone 60, ball R13, flat", read=hubs.parse_seat),
)
_MOUNT_KEYS = (
    Key("bolts", "integer", "lug count", "", 3, 10),
    number_key("pcd_mm", "bolt circle", "mm", 80, 300),
    number_key("bore_mm", "centre bore", "mm", 30, 250),
    Key("seat", "text", "seat in the wheel: cone 60, ball R13, flat", read=hubs.parse_seat),
    number_key("pad_thickness_mm", "mounting face to the seat of the lugs", "mm", 0, 100),
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
        Key("wheel", "object", "the wheel", required=True, keys=_MOUNT_KEYS, read=lambda given: hubs.WheelMount(**given)),
        SPACER,
        Key("ring", "object", "centring ring in the build", keys=(
            number_key("inner_mm", "inner diameter", "mm", 20, 250, required=True),
            number_key("outer_mm", "outer diameter", "mm", 20, 300, required=True),
        ), read=lambda given: hubs.CentringRing(**given)),
    ),
    (
        _judged("pattern", "bolt circle"),
        _judged("bore", "centring", number_key("ring_inner_mm", "ring that would centre it"), number_key("ring_outer_mm", "ring that would centre it"), number_key("radial_play_mm", "half the bore difference")),
        _judged("seat", "lug seat"),
        _judged("engagement", "thread in the nut", number_key("length_mm", "engaged"), number_key("turns", "engaged", ""), number_key("required_mm", "wanted")),
        Key("findings", "list", "the four judgements"),
    ),
    _hub,
)  # fmt: skip


def _pattern(given: dict[str, Any]) -> dict[str, Any]:
    bolts, adjacent, across = given["bolts"], given["adjacent_mm"], given["across_mm"]
    if (adjacent is None) == (across is None):
        raise BadInput("give adjacent_mm, or across_mm for even counts, and only one of them", "adjacent_mm")
    if across is not None and bolts % 2:
        raise BadInput("no lug stands opposite another on an odd count; accepted: adjacent_mm", "across_mm")
    pcd = across if across is not None else hubs.pitch_circle_mm(bolts, adjacent)
    nearest = [
        {"pattern": f"{bolts}x{circle:g}", "pcd_mm": circle, "distance_mm": away} for circle, away in hubs.nearest_patterns(bolts, pcd)
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


# gap

STATION_KEYS = (
    Key("place", "choice", "where the rule went", required=True, choices=gaps.PLACES),
    number_key("height_mm", "above the hub's centre (damper, rail, arm)", "mm", -600, 600),
    number_key("u_mm", "across the tyre from its centre plane, outboard positive (perch)", "mm", -300, 300),
    number_key("clock", "hour on the clock face, 9 over 12 to 3; 12 = top, 3 = front (arch)", "h", 0, 12),
    number_key("side_gap_mm", "lip sideways from the outer sidewall (arch)", "mm", -300, 1000),
    number_key("up_gap_mm", "lip away from the tread (arch)", "mm", -300, 1000),
    Key("edge", "choice", "which edge of the tyre (liner, rail, arm)", choices=("front", "rear")),
    Key("u", "choice", "where across the tread (liner)", choices=("inner", "centre", "outer")),
    number_key("radius_mm", "largest radius from the hub's centre (caliper, joint)", "mm", 0, 600),
    number_key("face_mm", "how far the caliper stands beyond the mounting face", "mm", -300, 300),
    number_key("inner_face_mm", "its inner end", "mm", -300, 300),
    number_key("from_mm", "start inboard of the mounting face (joint)", "mm", -300, 600),
    number_key("to_mm", "end inboard of the mounting face (joint)", "mm", -300, 600),
    Key("strut", "boolean", "the damper is a strut, fixed to the knuckle", default=True),
)
FITTED_KEYS = (WHEEL_KEY, NEEDED_TYRE, SPACER, CAMBER)


def fitted_of(given: dict[str, Any]) -> gaps.Fitted:
    """What stands on a corner, from an object of keys; a tyre that does not go on the wheel is refused with its field."""
    tyre, measured = given["tyre"]
    fitted = gaps.Fitted(given["wheel"], tyre, given["spacer_mm"], given["camber_deg"], measured)
    if given["wheel"].offset_mm is None:
        raise BadInput("is missing; accepted: an offset, as +22 or ET22", "wheel.offset_mm")
    fitted.outline  # noqa: B018  a tyre that does not go on the wheel is refused here, with its field
    return fitted


POSE_KEYS = (
    number_key("steer_deg", "front edge outboard is positive", "deg", -60, 60, default=0.0),
    number_key("travel_mm", "bump positive", "mm", -500, 500, default=0.0),
)
_KINGPIN_KEYS = (
    number_key("kpi_deg", "kingpin inclination, top inboard positive; 0 when absent", "deg", -30, 30),
    number_key("caster_deg", "top rearward positive; 0 when absent", "deg", -30, 30),
    number_key("kingpin_inboard_mm", "mounting face to the steering axis at hub height; 0 when absent", "mm", -300, 500),
    number_key("camber_gain_deg_per_mm", "camber per mm of bump; 0 when absent", "deg/mm", -1, 1),
)


def _gap(given: dict[str, Any]) -> dict[str, Any]:
    station: gaps.Station = given["station"]
    reading = given["gap_mm"]
    if reading is None and station.place not in ("arch", "caliper", "joint"):
        raise BadInput("is missing; accepted: the reading in mm", "gap_mm")
    present, pose = _standing(given, given["present"])
    obstacle = gaps.place_obstacle(present, station, reading, pose)
    answer: dict[str, Any] = {"frame": obstacle.frame, "points_mm": obstacle.points_mm.tolist(), "kind": obstacle.kind}
    answer["assumed"] = _assumed(given)
    if given["candidate"] is None:
        return answer
    if obstacle.kind in ("caliper", "joint"):
        reason = "against the barrel nothing is known until the candidate's barrel or its brake template is measured"
        return answer | {"new_gap_mm": None, "state": "unmeasured", "reason": reason}
    again = gaps.read_again(obstacle, station, *_standing(given, given["candidate"]))
    answer["new_gap_mm"] = again.gap_mm
    if again.side_gap_mm is not None:
        answer |= {"new_side_gap_mm": again.side_gap_mm, "new_up_gap_mm": again.up_gap_mm}
    return answer


def _standing(given: dict[str, Any], fitted: gaps.Fitted) -> tuple[gaps.Fitted, Pose]:
    """What stands on the corner with its camber at the pose's travel, and the pose."""
    steer, travel = given["pose"]["steer_deg"], given["pose"]["travel_mm"]
    camber = fitted.camber_deg + (given["camber_gain_deg_per_mm"] or 0.0) * travel
    pose = Pose(camber, steer, travel, given["kpi_deg"] or 0.0, given["caster_deg"] or 0.0, given["kingpin_inboard_mm"] or 0.0)
    return replace(fitted, camber_deg=camber), pose


def _assumed(given: dict[str, Any]) -> list[str]:
    """What was taken as 0 although it was not given and the pose needs it."""
    steered = ("kpi_deg", "caster_deg", "kingpin_inboard_mm") if given["pose"]["steer_deg"] else ()
    moved = ("camber_gain_deg_per_mm",) if given["pose"]["travel_mm"] else ()
    return [f"{name} = 0" for name in (*steered, *moved) if given[name] is None]


GAP = Calculation(
    "gap",
    "places an obstacle from a reading; with a candidate, the gap the same rule would read",
    "geometry of the corner frame; the user's own measurement",
    (
        Key("present", "object", "what was on the car when the rule was held", required=True, keys=FITTED_KEYS, read=fitted_of),
        Key("pose", "object", "how the wheel stood", keys=POSE_KEYS, default={"steer_deg": 0.0, "travel_mm": 0.0}),
        Key("station", "object", "where the rule went", required=True, keys=STATION_KEYS, read=lambda given: gaps.Station(**given)),
        number_key("gap_mm", "the reading; not for arch, caliper and joint", "mm", -300, 2000),
        Key("candidate", "object", "what would stand there", keys=FITTED_KEYS, read=fitted_of),
        *_KINGPIN_KEYS,
    ),
    (
        Key("frame", "choice", "axes of the points", choices=("body", "knuckle")),
        Key("points_mm", "list", "points x forward, y outboard, z up", "mm"),
        Key("kind", "text", "the place"),
        Key("assumed", "list", "what was taken as 0 without being given"),
        number_key("new_gap_mm", "with the candidate, at the same pose; null where it can't be known"),
        number_key("new_side_gap_mm", "arch, sideways"),
        number_key("new_up_gap_mm", "arch, upward"),
    ),
    _gap,
)


AT_REST = {one.name: one for one in (QUANTITY, TYRE, WHEEL, SWAP, HUB, PATTERN, GAP)}
