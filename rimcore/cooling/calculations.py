"""Cooling on the command line: boiling, a radiator, a bleed run."""

from __future__ import annotations

from typing import Any

from rimcore.cooling.bleed import judge_bleed
from rimcore.cooling.boiling import MARGIN_K, NORMAL_KPA, SOURCE, boils_c, judge_margin
from rimcore.cooling.exchanger import Radiator, core_ratios, exchanged
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput

HOSE_C, CORE_MM, MOST_ROWS = (-90.0, 500.0), (1.0, 5000.0), 100_000


def _cooling(given: dict[str, Any]) -> dict[str, Any]:
    boiling = boils_c(given["cap_kPa"], given["glycol_pct"], given["ambient_kPa"])
    found: dict[str, Any] = {
        "boiling_C": boiling,
        "margin": judge_margin(boiling, given["coolant_C"]).as_dict(),
        "ntu": None,
        "effectiveness": None,
        "heat_kW": None,
        "coolant_out_C": None,
        "face_ratio": None,
        "volume_ratio": None,
        "source": SOURCE,
    }
    radiator = given["radiator"]
    if radiator is not None:
        one = exchanged(
            Radiator(*(radiator[key.name] for key in _RADIATOR)),
            given["glycol_pct"],
        )
        found |= {
            "ntu": one.ntu,
            "effectiveness": one.effectiveness,
            "heat_kW": one.heat_kw,
            "coolant_out_C": one.coolant_out_c,
        }
    return found | _cores(given)


def _cores(given: dict[str, Any]) -> dict[str, Any]:
    names = ("from_core_mm", "to_core_mm")
    there = [name for name in names if given[name] is not None]
    if not there:
        return {}
    if len(there) == 1:
        raise BadInput(
            f"is missing; accepted: it is needed with {there[0]}", next(name for name in names if name not in there)
        )
    for name in names:
        if len(given[name]) != 3:
            raise BadInput("must be three lengths; accepted: width, height, depth", name)
    face, volume = core_ratios(given["from_core_mm"], given["to_core_mm"])
    return {"face_ratio": face, "volume_ratio": volume}


def _core_key(name: str, meaning: str) -> Key:
    return Key(name, "list", meaning, "mm", item=number_key("", "a length", "mm", *CORE_MM, required=True), most=3)


_RADIATOR = (
    number_key("ua_W_per_K", "conductance times area", "W/K", 0.001, 1e6, required=True),
    number_key("air_kg_per_s", "through the core", "kg/s", 1e-6, 1000.0, required=True),
    number_key("coolant_kg_per_s", "through the core", "kg/s", 1e-6, 1000.0, required=True),
    number_key("air_in_C", "air before the core", "°C", *HOSE_C, required=True),
    number_key("coolant_in_C", "coolant before the core", "°C", *HOSE_C, required=True),
)
COOLING = Calculation(
    "cooling",
    "boiling point under the cap and the margin to it; heat of a radiator; one core against another",
    f"{SOURCE}; crossflow, both unmixed, by ht (Kays & London); air 1,006 J/(kg·K), coolant 4,200 less 13 for each % glycol, from memory",
    (
        number_key("cap_kPa", "gauge pressure at which the cap opens", "kPa", 0.0, 1000.0, required=True),
        number_key("ambient_kPa", "absolute pressure at the place", "kPa", 1.0, 200.0, default=NORMAL_KPA),
        number_key("glycol_pct", "ethylene glycol by volume", "%", 0.0, 70.0, default=0.0),
        number_key("coolant_C", "at its hottest", "°C", *HOSE_C),
        Key("radiator", "object", "flows and temperatures of both streams", keys=_RADIATOR),
        _core_key("from_core_mm", "width, height, depth of the core before; with to_core_mm"),
        _core_key("to_core_mm", "width, height, depth of the core after"),
    ),
    (
        number_key("boiling_C", "of the coolant", "°C"),
        Key("margin", "object", f"judgement: hit below 0, tight below {MARGIN_K:g} K; unmeasured without coolant_C"),
        number_key("ntu", "transfer units; null without radiator", ""),
        number_key("effectiveness", "share of the heat that could go over", ""),
        number_key("heat_kW", "that goes over", "kW"),
        number_key("coolant_out_C", "coolant after the core", "°C"),
        number_key("face_ratio", "width × height after ÷ before; null without cores", ""),
        number_key("volume_ratio", "the same with depth", ""),
        Key("source", "text", "where the boiling points come from"),
    ),
    _cooling,
)


def _bleed(given: dict[str, Any]) -> dict[str, Any]:
    rows = given["log"]
    if not rows:
        raise BadInput("is empty; accepted: rows of time, top hose, lower hose", "log")
    last = None
    for place, row in enumerate(rows):
        if len(row) != 3:
            raise BadInput("must be three figures; accepted: time, top hose, lower hose", f"log.{place}")
        if row[0] is None:
            raise BadInput("is missing; accepted: a time in seconds", f"log.{place}.0")
        if last is not None and row[0] <= last:
            raise BadInput(f"{row[0]:g} s does not come after {last:g} s; accepted: times that rise", f"log.{place}.0")
        last = row[0]
    times, top, lower = ([row[column] for row in rows] for column in range(3))
    found = judge_bleed(times, top, lower, steady_s=given["steady_s"], boil_c=given["boil_C"])
    opened = None if found.opened is None else {"t_s": found.opened.t_s, "top_hose_C": found.opened.top_hose_c}
    return {"opened": opened, "settled": found.settled, "state": found.state, "reason": found.reason}


_ROW = Key(
    "",
    "list",
    "time, top hose, lower hose; a temperature may be null",
    required=True,
    most=3,
    item=number_key("", "a figure", "", -1e7, 1e7),
)
BLEED = Calculation(
    "bleed",
    "a bleed run by its two hoses: when the thermostat opened, when it is done",
    "common practice: lower hose cool means shut, steady means done; thresholds of rate, noise and burp are ours",
    (
        Key(
            "log",
            "list",
            "rows [t_s, top_hose_C, lower_hose_C], times rising",
            required=True,
            item=_ROW,
            most=MOST_ROWS,
        ),
        number_key("steady_s", "how long both hoses have to hold still", "s", 1.0, 86_400.0, default=120.0),
        number_key("boil_C", "where the coolant boils", "°C", *HOSE_C),
    ),
    (
        Key(
            "opened",
            "object",
            "when the lower hose began to follow; null where it did not",
            keys=(number_key("t_s", "time", "s"), number_key("top_hose_C", "top hose then", "°C")),
        ),
        Key("settled", "boolean", "both hoses within ±1.5 °C of their median over the last steady_s, after opening"),
        Key("state", "choice", "the judgement", choices=("clear", "tight", "hit", "unmeasured")),
        Key("reason", "text", "why"),
    ),
    _bleed,
)

COOLED = {one.name: one for one in (COOLING, BLEED)}
