"""Offsets that go in, for the command line."""

from __future__ import annotations

from typing import Any

from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.well.calculations_motion import (
    GRID,
    MOTION_KEYS,
    PROFILE,
    RANGE,
    check_reach,
    outline_of,
    things_given,
    unknown_given,
    well_given,
)
from rimcore.well.judge.unknown import FOR_EVERY_AXIS
from rimcore.well.judge.window import offset_window
from rimcore.well.solid.wheel_plane import Thing
from rimcore.wheels.keys import TYRE_KEY, wheel_of
from rimcore.wheels.wheel import Wheel


def _window(given: dict[str, Any]) -> dict[str, Any]:
    low, high = _offset_range(given["offset_range_mm"])
    things = things_given(given["obstacles"])
    missing = [name for name in RANGE if given[name] is None]
    if missing:
        raise BadInput("is missing; a window needs the whole range of steer and travel", missing[0])
    check_reach(given, things)
    tyres = given["tyres"] if given["tyres"] is not None else [given["tyre"]]
    widths = given["widths_in"] or [given["wheel"].width_in]
    if given["profile_mm"] is not None:
        widths = widths[:1]
    rows = []
    for width in widths:
        for tyre in tyres:
            rows.append(_one_window(given, width, tyre, things, low, high))
    unknown = unknown_given(given)
    return {
        "windows": rows,
        "missing": list(unknown),
        "basis": FOR_EVERY_AXIS if unknown else "the user's own measurement",
    }


def _one_window(
    given: dict[str, Any], width: float, tyre: Any, things: list[Thing], low: float, high: float
) -> dict[str, Any]:
    wheel = Wheel(given["wheel"].diameter_in, width)
    shape = outline_of(given, wheel, tyre)
    grid, margins = given["grid"], given["margins"]
    found = offset_window(
        outline_mm=shape,
        well=well_given(given, 0.0),
        things=things,
        spacer_mm=given["spacer_mm"],
        low_mm=low,
        high_mm=high,
        body_margin_mm=margins["body_mm"],
        knuckle_margin_mm=margins["knuckle_mm"],
        steer_count=grid["steer"],
        travel_count=grid["travel"],
        unknown=unknown_given(given),
    )
    return {
        "width_in": width,
        "tyre": tyre[0].size if tyre else None,
        "no_contact": _ends(found.no_contact),
        "all_clear": _ends(found.all_clear),
        "low_end": {"limited_by": found.low_limited_by},
        "high_end": {"limited_by": found.high_limited_by},
        "best_offset_mm": found.best_offset_mm,
        "best_margin_mm": found.best_margin_mm,
    }


def _ends(pair: tuple[float, float] | None) -> dict[str, float] | None:
    return None if pair is None else {"from_mm": pair[0], "to_mm": pair[1]}


def _offset_range(given: list[float]) -> tuple[float, float]:
    if len(given) != 2 or not given[0] < given[1]:
        raise BadInput("must be two offsets, the lower one first; accepted: [0, 60]", "offset_range_mm")
    return given[0], given[1]


def _wheel_without_offset(given: Any) -> Wheel:
    wheel = wheel_of(given)
    return Wheel(wheel.diameter_in, wheel.width_in, None, wheel.bolts, wheel.pcd_mm, wheel.bore_mm)


_WINDOW_GRID = Key(GRID.name, GRID.kind, GRID.meaning, keys=GRID.keys, default={"steer": 31, "travel": 21})


WINDOW = Calculation(
    "window",
    "which offsets go in, by width and tyre, and what limits each end",
    "geometry of the corner frame; the user's own measurements",
    (
        Key("wheel", "any", "wheel without offset, as text or object", required=True, read=_wheel_without_offset),
        TYRE_KEY,
        PROFILE,
        *(_WINDOW_GRID if key is GRID else key for key in MOTION_KEYS),
        Key(
            "widths_in",
            "list",
            "widths to try",
            "in",
            item=number_key("width", "in", "in", 3, 18, required=True),
            most=20,
        ),
        Key(
            "tyres",
            "list",
            "tyres to try",
            item=Key("tyre", "any", "tyre as text or object", required=True, read=TYRE_KEY.read),
            most=20,
        ),
        Key(
            "offset_range_mm",
            "list",
            "lowest and highest offset",
            "mm",
            item=number_key("offset", "mm", "mm", -200, 200, required=True),
            required=True,
            most=2,
        ),
    ),
    (
        Key(
            "windows",
            "list",
            "per width and tyre: width_in, tyre, no_contact (not hit for every usual axis where one is absent), all_clear (for every usual axis) "
            "{from_mm, to_mm} or null, low_end, high_end, best_offset_mm, best_margin_mm",
        ),
        Key("missing", "list", "what of steering axis and camber gain is absent"),
        Key("basis", "text", "what the windows rest on"),
    ),
    _window,
)

WINDOWS = {WINDOW.name: WINDOW}
