"""Calculations that choose and explain, for the command line: ranking, stance, shake."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

from rimcore.quantities.contract import Calculation, Key, limited_key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.well.calculations_motion import COORDINATE as _COORDINATE
from rimcore.well.calculations_motion import MOTION_KEYS, RANGE, check_reach, things_given, unknown_given, well_given
from rimcore.well.calculations_rest import FITTED_KEYS, POSE_KEYS, STATION_KEYS, fitted_of
from rimcore.well.rank.rank import MOST_PAIRS, SCHOOLS, Inside, Pair, Place, Ranked, rank
from rimcore.well.read.measured import Reading, placed
from rimcore.well.read.obstacles import things_of
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Hinge, Thing
from rimcore.wheels.keys import NEEDED_TYRE, WHEEL_KEY
from rimcore.wheels.shake import FELT, TESTS, WHEN, find_shake
from rimcore.wheels.stance import stance
from rimcore.wheels.wheel import same_rim

_CAMBER = limited_key("camber_deg", "negative = top inboard; that of present when absent")
_WHEEL_ROW = Key(
    "wheel",
    "object",
    "a wheel of the list",
    required=True,
    keys=(
        WHEEL_KEY,
        limited_key("barrel_radius_mm", "inside of the barrel, from the maker or the brake template"),
        limited_key("spoke_back_mm", "back of the spokes beyond the mounting face"),
        number_key("mass_kg", "mass of one", "kg", 0.5, 200),
        number_key("price", "price of one, any currency", "", 0, 1e7),
        Key("name", "text", "its name"),
    ),
)
_TYRE_ROW = Key(
    "tyre",
    "object",
    "a tyre of the list",
    required=True,
    keys=(
        NEEDED_TYRE,
        number_key("mass_kg", "mass of one", "kg", 0.5, 200),
        number_key("price", "price of one, any currency", "", 0, 1e7),
        Key("name", "text", "its name"),
    ),
)
_READING = Key(
    "reading",
    "object",
    "a reading against what is on the car, as in gap",
    required=True,
    keys=(
        Key("name", "text", "its name; the place when absent"),
        Key(
            "station",
            "object",
            "where the rule went",
            required=True,
            keys=STATION_KEYS,
            read=lambda given: Station(**given),
        ),
        number_key("gap_mm", "the reading; not for arch, caliper and joint", "mm", -300, 2000),
        Key("pose", "object", "how the wheel stood", keys=POSE_KEYS, default={"steer_deg": 0.0, "travel_mm": 0.0}),
        Key(
            "pivot_mm",
            "list",
            "of an arm: inner pivot [y, z] in body axes; without it its gap is unmeasured",
            "mm",
            item=_COORDINATE,
            most=2,
        ),
        Key(
            "joint_mm",
            "list",
            "of an arm: outer joint [y, z] at the measured ride height",
            "mm",
            item=_COORDINATE,
            most=2,
        ),
    ),
)


def _rank(given: dict[str, Any]) -> dict[str, Any]:
    camber = given["camber_deg"] if given["camber_deg"] is not None else given["present"].camber_deg
    given = given | {"camber_deg": camber}
    seen = _readings_given(given)
    things = (things_given(given["obstacles"]) if given["obstacles"] else []) + seen.things
    if not things and not seen.inside:
        raise BadInput("no obstacles; accepted: readings, or obstacles with points", "readings")
    check_reach(given, things)
    missing = [name for name in RANGE if given[name] is None]
    margins = given["margins"]
    unknown = () if missing or all(thing.frame == "knuckle" for thing in things) else unknown_given(given)
    place = Place(
        present=given["present"],
        well=well_given(given, 0.0),
        things=tuple(things),
        spacer_mm=given["spacer_mm"],
        body_margin_mm=margins["body_mm"],
        knuckle_margin_mm=margins["knuckle_mm"],
        range_known=not missing,
        lip_mm=min(seen.lips, default=None),
        axle_load_kg=given["axle_load_kg"],
        axis_known=given["kpi_deg"] is not None and given["kingpin_inboard_mm"] is not None,
        axial=frozenset(seen.axial),
        loose=frozenset(seen.loose),
        inside=tuple(seen.inside),
        unknown=unknown,
    )
    pairs, apart = _pairs(given)
    found = rank(place, pairs, given["school"], given["limit"])
    shown = found[: given["limit"]]
    loose = [f"{name}: pivot_mm and joint_mm" for name in seen.loose]
    return {
        "ranked": [_row(number, one) for number, one in enumerate(shown, start=1)],
        "pairs": len(pairs),
        "not_paired": apart,
        "missing": [*missing, *loose, *sorted({name for one in shown for name in one.missing})],
    }


@dataclass
class _Seen:
    """Readings as obstacles."""

    things: list[Thing] = field(default_factory=list)
    inside: list[Inside] = field(default_factory=list)
    lips: list[float] = field(default_factory=list)
    axial: list[str] = field(default_factory=list)
    loose: list[str] = field(default_factory=list)


def _readings_given(given: dict[str, Any]) -> _Seen:
    """Obstacles from readings, placed and joined as the bench does it; what stands inside the rim apart."""
    seen = _Seen()
    names = _names(given["readings"] or [])
    plain: list[Reading] = []
    for place, one in enumerate(given["readings"] or []):
        station: Station = one["station"]
        where = f"readings.{place}"
        if one["gap_mm"] is None and station.place not in ("arch", "caliper", "joint"):
            raise BadInput("is missing; accepted: the reading in mm", f"{where}.gap_mm")
        if station.place in ("caliper", "joint"):
            if station.radius_mm is None and station.face_mm is None:
                raise BadInput("is missing; accepted: a radius in mm", f"{where}.station.radius_mm")
            seen.inside.append(
                Inside(names[place], station.radius_mm, station.face_mm if station.place == "caliper" else None)
            )
            continue
        reading = _reading_of(given, one, names[place])
        try:
            pairs = things_of([reading], _motion_of(given, one, where))
            obstacle = placed(reading)
        except BadInput as error:
            named = error.field.startswith(where)
            raise BadInput(error.message, error.field if named else f"{where}.{error.field}".rstrip(".")) from error
        if station.place == "arch":
            plain.append(reading)
            seen.lips.append(float(obstacle.points_mm[0, 1]))
        elif obstacle.frame == "knuckle":
            seen.things.append(Thing(names[place], "knuckle", obstacle.points_mm))
            seen.axial += [names[place]] if station.place == "damper" else []
        else:
            seen.things += [thing for _, thing in pairs]
            seen.loose += [names[place]] if station.place == "arm" and pairs[0][1].hinge is None else []
    seen.things += [thing for _, thing in things_of(plain, Motion())]
    return seen


def _names(rows: list[dict[str, Any]]) -> list[str]:
    """A name for every reading: its own, else its place; numbered where two are the same."""
    found: list[str] = []
    for row in rows:
        name = row["name"] or row["station"].place
        same = sum(other == name or other.startswith(f"{name} ") for other in found)
        found.append(f"{name} {same + 1}" if same else name)
    return found


def _reading_of(given: dict[str, Any], one: dict[str, Any], name: str) -> Reading:
    travel, gain = one["pose"]["travel_mm"], given["camber_gain_deg_per_mm"] or 0.0
    camber = given["present"].camber_deg + gain * travel
    pose = Pose(
        camber,
        one["pose"]["steer_deg"],
        travel,
        given["kpi_deg"] or 0.0,
        given["caster_deg"] or 0.0,
        given["kingpin_inboard_mm"] or 0.0,
    )
    present = replace(given["present"], camber_deg=camber)
    return Reading("FL", name, one["station"], one["gap_mm"], present, pose, 1.0, raised_mm=travel)


def _motion_of(given: dict[str, Any], one: dict[str, Any], where: str) -> Motion:
    """What moves the obstacle of a reading: an arm's hinge, where both of its ends are given."""
    if (one["pivot_mm"] is None) != (one["joint_mm"] is None):
        raise BadInput(
            "an arm needs both, [y, z] in mm", f"{where}.{'pivot_mm' if one['pivot_mm'] is None else 'joint_mm'}"
        )
    if one["pivot_mm"] is None:
        return Motion()
    if one["station"].place != "arm":
        raise BadInput("belongs to a reading of an arm only", f"{where}.pivot_mm")
    for key in ("pivot_mm", "joint_mm"):
        if len(one[key]) != 2:
            raise BadInput("an arm needs [y, z] in mm", f"{where}.{key}")
    return Motion(hinge=Hinge(tuple(one["pivot_mm"]), tuple(one["joint_mm"])))


def _pairs(given: dict[str, Any]) -> tuple[list[Pair], int]:
    """Every wheel with every tyre of its rim diameter; how many did not go together."""
    if len(given["wheels"]) * len(given["tyres"]) > 50 * MOST_PAIRS:
        raise BadInput(f"too many wheels and tyres; accepted: {MOST_PAIRS} pairs at most", "wheels")
    found, apart = [], 0
    for place, wheel in enumerate(given["wheels"]):
        if wheel["wheel"].offset_mm is None:
            raise BadInput("is missing; accepted: an offset, as +22 or ET22", f"wheels.{place}.wheel.offset_mm")
        for tyre in given["tyres"]:
            size, section = tyre["tyre"]
            if not same_rim(size.rim_diameter_in, wheel["wheel"].diameter_in):
                apart += 1
                continue
            name = ", ".join(part for part in (wheel["name"], tyre["name"]) if part)
            found.append(
                Pair(
                    wheel=wheel["wheel"],
                    tyre=size,
                    measured_section_mm=section,
                    mass_kg=_sum(wheel["mass_kg"], tyre["mass_kg"]),
                    price=_sum(wheel["price"], tyre["price"]),
                    name=name,
                    barrel_radius_mm=wheel["barrel_radius_mm"],
                    spoke_back_mm=wheel["spoke_back_mm"],
                )
            )
    return found, apart


def _sum(one: float | None, other: float | None) -> float | None:
    return None if one is None or other is None else one + other


def _row(number: int, one: Ranked) -> dict[str, Any]:
    return {
        "rank": number,
        "name": one.pair.name,
        "wheel": one.pair.wheel.size_text,
        "tyre": one.pair.tyre.size,
        "state": one.state,
        "gap_mm": one.gap_mm,
        "obstacle": one.obstacle,
        "margin_left_mm": one.margin_left_mm,
        "measure": one.measure,
        "reasons": list(one.reasons),
        "range_mm": None if one.range_mm is None else list(one.range_mm),
        "missing": list(one.missing),
    }


RANK = Calculation(
    "rank",
    "many wheels and tyres against one measured corner, ordered by a school",
    "geometry of the corner frame; the user's own measurements; schools: common practice",
    (
        Key("present", "object", "what is on the car", required=True, keys=FITTED_KEYS, read=fitted_of),
        Key("readings", "list", "readings that place obstacles", item=_READING, most=200),
        *(
            replace(key, required=False) if key.name == "obstacles" else _CAMBER if key.name == "camber_deg" else key
            for key in MOTION_KEYS
            if key.name != "grid"
        ),
        Key("wheels", "list", "wheels: wheel, mass_kg, price, name", item=_WHEEL_ROW, required=True, most=MOST_PAIRS),
        Key("tyres", "list", "tyres: tyre, mass_kg, price, name", item=_TYRE_ROW, required=True, most=MOST_PAIRS),
        Key(
            "school",
            "choice",
            "; ".join(f"{name}: {what}" for name, what in SCHOOLS.items()),
            required=True,
            choices=tuple(SCHOOLS),
        ),
        number_key("axle_load_kg", "load on the axle, for the load index", "kg", 50, 20000),
        Key("limit", "integer", "rows of the answer", "", 1, MOST_PAIRS, default=50),
    ),
    (
        Key(
            "ranked",
            "list",
            "rank, name, wheel, tyre, state, gap_mm, obstacle, margin_left_mm, measure, reasons, range_mm, missing",
        ),
        Key("pairs", "integer", "pairs judged"),
        Key("not_paired", "integer", "wheels and tyres whose rim diameters differ"),
        Key("missing", "list", "what would have to be measured for a judgement"),
    ),
    _rank,
)


def _stance(given: dict[str, Any]) -> dict[str, Any]:
    motion = Motion(
        kpi_deg=given["kpi_deg"], caster_deg=given["caster_deg"], kingpin_inboard_mm=given["kingpin_inboard_mm"]
    )
    found = stance(given["from"], given["to"], motion, given["other_from"], given["other_to"])
    ratio = found.ratio
    return {
        "scrub_radius_from_mm": found.scrub_before_mm,
        "scrub_radius_to_mm": found.scrub_after_mm,
        "trail_from_mm": found.trail_before_mm,
        "trail_to_mm": found.trail_after_mm,
        "track_change_mm": found.track_change_mm,
        "bearing_lever_change_mm": found.lever_change_mm,
        "revs_per_km_from": found.revs_before_per_km,
        "revs_per_km_to": found.revs_after_per_km,
        "odometer_change_pct": found.odometer_pct,
        "circumference_ratio": ratio.as_dict(),
    }


STANCE = Calculation(
    "stance",
    "scrub radius, trail, track, bearing lever, revolutions, front to rear circumference",
    "plane geometry (definitions as in Gillespie, Fundamentals of Vehicle Dynamics, from memory); ETRTO rolling circumference",
    (
        Key("from", "object", "what stood there", required=True, keys=FITTED_KEYS, read=fitted_of),
        Key("to", "object", "what would stand there", required=True, keys=FITTED_KEYS, read=fitted_of),
        Key("other_from", "object", "the other axle, before", keys=FITTED_KEYS, read=fitted_of),
        Key("other_to", "object", "the other axle, after", keys=FITTED_KEYS, read=fitted_of),
        number_key("kpi_deg", "kingpin inclination, top inboard positive", "deg", -30, 30),
        number_key("caster_deg", "top rearward positive", "deg", -30, 30),
        number_key("kingpin_inboard_mm", "mounting face to the steering axis at hub height", "mm", -300, 500),
    ),
    (
        number_key("scrub_radius_from_mm", "outboard of the axis is positive; null without kpi and kingpin"),
        number_key("scrub_radius_to_mm", "after"),
        number_key("trail_from_mm", "null without caster"),
        number_key("trail_to_mm", "after"),
        number_key("track_change_mm", "of the axle"),
        number_key("bearing_lever_change_mm", "outboard is positive"),
        number_key("revs_per_km_from", "before", "1/km"),
        number_key("revs_per_km_to", "after", "1/km"),
        number_key("odometer_change_pct", "shown against driven", "%"),
        Key("circumference_ratio", "object", "judgement of the ratio of both axles"),
    ),
    _stance,
)


def _shake(given: dict[str, Any]) -> dict[str, Any]:
    found = find_shake(
        given["low_kmh"],
        given["high_kmh"],
        given["diameter_mm"],
        given["felt"],
        given["when"],
        given["new_wheels"],
        given["tried"] or [],
    )
    return {
        "turns_per_second_low": found.low_hz,
        "turns_per_second_high": found.high_hz,
        "suspects": [{"cause": one.code, "name": one.name, "share": one.share} for one in found.suspects],
        "next_tests": [
            {"test": one.code, "what": one.what, "bits": one.bits, "hours": one.hours} for one in found.tests
        ],
    }


SHAKE = Calculation(
    "shake",
    "causes of a shake once a turn, ranked, and the next test that best separates them",
    "common practice; shares from memory",
    (
        number_key("low_kmh", "band of speed, from", "km/h", 5, 350, required=True),
        number_key("high_kmh", "to", "km/h", 5, 350, required=True),
        number_key("diameter_mm", "tyre diameter", "mm", 300, 1500, required=True),
        Key("felt", "choice", "where", required=True, choices=tuple(FELT)),
        Key("when", "choice", "how it comes", required=True, choices=tuple(WHEN)),
        Key("new_wheels", "boolean", "it came with other wheels", default=True),
        Key(
            "tried",
            "list",
            "done already, without a cure",
            item=Key("test", "choice", "a test", choices=tuple(code for code, *_ in TESTS), required=True),
        ),
    ),
    (
        number_key("turns_per_second_low", "of the wheel at the lower speed", "1/s"),
        number_key("turns_per_second_high", "at the higher speed", "1/s"),
        Key("suspects", "list", "cause, name, share; most likely first"),
        Key("next_tests", "list", "test, what, bits, hours; best first"),
    ),
    _shake,
)

CHOICE = {one.name: one for one in (RANK, STANCE, SHAKE)}
