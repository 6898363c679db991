"""Runs of pipe on the command line: intake and exhaust."""

from __future__ import annotations

from typing import Any

from rimcore.breathing.air import Air, moist_air
from rimcore.breathing.calculations import BORE_MM, DAY_C, HUMIDITY
from rimcore.breathing.runs import (
    SMOOTH_MM,
    STEEL_MM,
    Gas,
    Lost,
    Section,
    air_kg_per_s,
    exhaust_gas,
    fast_sections,
    gas_of,
    losses,
    temperatures_c,
)
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput

PRESSURE_KPA, LONG_MM, MOST_SECTIONS = (20.0, 1000.0), (0.0, 20_000.0), 200


def _section_key(silencer: bool) -> Key:
    kinds = ("pipe", "bend", "reducer", "filter", "meter", "cooler", "entry", *(("silencer",) if silencer else ()))
    keys = (
        Key("kind", "choice", "what it is", choices=kinds, required=True),
        number_key("diameter_mm", "bore; pipe, bend, reducer, entry", "mm", *BORE_MM),
        number_key("length_mm", "pipe, reducer (over 0)", "mm", *LONG_MM),
        number_key("to_mm", "bore at a reducer's other end, another than diameter_mm", "mm", *BORE_MM),
        number_key("angle_deg", "bend, with radius_mm; not with k", "°", 0.001, 360.0),
        number_key("radius_mm", "bend, of the centre line", "mm", *BORE_MM),
        number_key("k", "bend or entry (0.5), loss coefficient", "", 0.0, 1000.0),
        number_key("drop_kPa", "filter, meter, cooler, silencer: loss at at_kg_per_s", "kPa", 0.0, 1000.0),
        number_key("at_kg_per_s", "flow at which drop_kPa was measured", "kg/s", 1e-6, 100.0),
        *(
            (number_key("at_C", "silencer: temperature at which drop_kPa was measured", "°C", -90.0, 1500.0),)
            if silencer
            else ()
        ),
    )
    return Key("", "object", "a section, in the order of the flow", keys=keys, required=True)


#: keys that a kind needs, and those it may have beside them
_NEEDS = {
    "pipe": (("diameter_mm", "length_mm"), ()),
    "bend": (("diameter_mm",), ("angle_deg", "radius_mm", "k")),
    "reducer": (("diameter_mm", "to_mm", "length_mm"), ()),
    "entry": (("diameter_mm",), ("k",)),
    **dict.fromkeys(("filter", "meter", "cooler"), (("drop_kPa", "at_kg_per_s"), ())),
    "silencer": (("drop_kPa", "at_kg_per_s", "at_C"), ()),
}


def sections_of(rows: list[dict[str, Any]]) -> list[Section]:
    """Sections for the core, each with the keys of its kind and no others.

    Raises
    ------
    BadInput : under ``sections.N``

    Examples
    --------
    >>> sections_of([{"kind": "pipe", "diameter_mm": 76.0, "length_mm": 300.0}])[0].along_mm
    300.0
    """
    if not rows:
        raise BadInput("is empty; accepted: at least one section", "sections")
    return [_section(row, f"sections.{place}") for place, row in enumerate(rows)]


def _section(row: dict[str, Any], path: str) -> Section:
    needs, may = _NEEDS[row["kind"]]
    for name, value in row.items():
        if name != "kind" and value is not None and name not in (*needs, *may):
            raise BadInput(
                f"does not belong to a {row['kind']}; accepted: {', '.join((*needs, *may))}", f"{path}.{name}"
            )
    for name in needs:
        if row.get(name) is None:
            raise BadInput(f"is missing; accepted: a {row['kind']} has {', '.join(needs)}", f"{path}.{name}")
    _whole(row, path)
    return Section(
        kind=row["kind"],
        diameter_mm=row.get("diameter_mm"),
        length_mm=row.get("length_mm") or 0.0,
        to_mm=row.get("to_mm"),
        angle_deg=row.get("angle_deg"),
        radius_mm=row.get("radius_mm"),
        k=row.get("k"),
        drop_kpa=row.get("drop_kPa") or 0.0,
        at_kg_per_s=row.get("at_kg_per_s") or 1.0,
        at_c=row.get("at_C"),
    )


def _whole(row: dict[str, Any], path: str) -> None:
    """A bend has K, or an angle and a radius; a reducer is another bore at its other end."""
    if row["kind"] == "bend":
        turned = [name for name in ("angle_deg", "radius_mm") if row.get(name) is not None]
        if row.get("k") is not None and turned:
            raise BadInput(f"{turned[0]} is given too; accepted: k, or angle_deg and radius_mm", f"{path}.{turned[0]}")
        if row.get("k") is None and len(turned) < 2:
            missing = "radius_mm" if turned == ["angle_deg"] else "angle_deg"
            raise BadInput("is missing; accepted: a bend has k, or angle_deg and radius_mm", f"{path}.{missing}")
    if row["kind"] == "reducer":
        if row["to_mm"] == row["diameter_mm"]:
            raise BadInput("is diameter_mm again; accepted: another bore", f"{path}.to_mm")
        if row["length_mm"] <= 0:
            raise BadInput("must be more than 0; accepted: the cone's length", f"{path}.length_mm")


_ENGINE = (
    number_key("displacement_L", "four-stroke", "L", 0.001, 100.0, required=True),
    number_key("rpm", "engine speed", "1/min", 1.0, 30_000.0, required=True),
    number_key("ve_pct", "filling (volumetric efficiency)", "%", 1.0, 200.0, default=100.0),
    number_key("manifold_ratio", "absolute pressure in the manifold ÷ outside", "", 0.01, 10.0, default=1.0),
    number_key("temperature_C", "of the air drawn in", "°C", *DAY_C, default=15.0),
    number_key("pressure_kPa", "absolute pressure at the place", "kPa", *PRESSURE_KPA, default=101.325),
    HUMIDITY,
)
_BASIS = "Losses of total pressure; moist air of the inlet throughout, its density not falling along the run."
_BOOSTED = " Manifold ratio over 1: these sections are ahead of the compressor, and the charge is taken as cooled to inlet temperature."


def _drawn(given: dict[str, Any]) -> tuple[Air, float]:
    air = moist_air(given["temperature_C"], given["pressure_kPa"], given["humidity_pct"])
    return air, air_kg_per_s(
        given["displacement_L"], given["rpm"], given["ve_pct"], given["manifold_ratio"], air.density_kg_per_m3
    )


def _rough(sections: list[Section], roughness_mm: float) -> None:
    least = min((one.small_mm for one in sections if one.small_mm is not None), default=None)
    if least is not None and roughness_mm >= least:
        raise BadInput(f"is no less than the smallest bore; accepted: below {least:g} mm", "roughness_mm")


def _intake(given: dict[str, Any]) -> dict[str, Any]:
    sections = sections_of(given["sections"])
    air, flow = _drawn(given)
    _rough(sections, given["roughness_mm"])
    found = losses(sections, flow, [gas_of(air)] * len(sections), given["roughness_mm"])
    return {
        "air_kg_per_s": flow,
        "litres_per_s": 1000.0 * flow / air.density_kg_per_m3,
        "density_gain_pct": _gain_pct(air, given["compare_temperature_C"]),
        "sections": [
            {
                "velocity_m_per_s": one.velocity_m_per_s,
                "reynolds": one.reynolds,
                "mach": one.mach,
                "loss_kPa": one.loss_kpa,
            }
            for one in found
        ],
        "total_kPa": sum(one.loss_kpa for one in found),
        "warnings": fast_sections(found),
        "basis": _BASIS + (_BOOSTED if given["manifold_ratio"] > 1 else ""),
    }


def _gain_pct(air: Air, other_c: float | None) -> float | None:
    """How much denser than at another temperature, pressure and vapour the same [%]."""
    if other_c is None:
        return None
    return 100.0 * (air.density_kg_per_m3 / Air(other_c, air.pressure_kpa, air.vapour_kpa).density_kg_per_m3 - 1.0)


def _sections_key(silencer: bool) -> Key:
    return Key(
        "sections",
        "list",
        "of the run, in the order of the flow",
        required=True,
        item=_section_key(silencer),
        most=MOST_SECTIONS,
    )


def _loss_keys(more: tuple[Key, ...]) -> Key:
    keys = (
        *more,
        number_key("velocity_m_per_s", "at diameter_mm; null without a bore", "m/s"),
        number_key("loss_kPa", "of total pressure", "kPa"),
    )
    return Key("sections", "list", "as given", item=Key("", "object", "one", keys=keys))


_MACH = number_key("mach", "at the smaller bore; null without one", "")
_WARNINGS = Key("warnings", "list", "sections over Mach 0.3")
_SOURCE = "Darcy–Weisbach, Colebrook–White from Re 2,040; bends and cones by Rennels (Pipe Flow, 2012) as in fluids; viscosity by Sutherland (ISO 2533)"
INTAKE = Calculation(
    "intake",
    "what a run of pipe takes from the air on its way in",
    _SOURCE,
    (
        *_ENGINE,
        _sections_key(False),
        number_key("roughness_mm", "of every bore", "mm", 0.0, 10.0, default=SMOOTH_MM),
        number_key("compare_temperature_C", "inlet air of the other way, for density_gain_pct", "°C", *DAY_C),
    ),
    (
        number_key("air_kg_per_s", "drawn in", "kg/s"),
        number_key("litres_per_s", "the same by volume", "L/s"),
        _loss_keys((number_key("reynolds", "at diameter_mm; null without a bore", ""), _MACH)),
        number_key("total_kPa", "of all sections", "kPa"),
        number_key("density_gain_pct", "against compare_temperature_C; null without", "%"),
        _WARNINGS,
        Key("basis", "text", "what the sums rest on"),
    ),
    _intake,
)


def _exhaust(given: dict[str, Any]) -> dict[str, Any]:
    sections = sections_of(given["sections"])
    _rough(sections, given["roughness_mm"])
    air, drawn = _drawn(given)
    gas = drawn * (1.0 + 1.0 / given["afr"])
    gases: list[Gas] = [
        exhaust_gas(hot, air.pressure_kpa) for hot in temperatures_c(sections, given["gas_in_C"], given["gas_out_C"])
    ]
    found: list[Lost] = losses(sections, gas / given["pipes"], gases, given["roughness_mm"])
    return {
        "gas_kg_per_s": gas,
        "total_kPa": sum(one.loss_kpa for one in found),
        "warnings": fast_sections(found),
        "sections": [
            {"gas_C": one.gas_c, "velocity_m_per_s": one.velocity_m_per_s, "mach": one.mach, "loss_kPa": one.loss_kpa}
            for one in found
        ],
        "basis": "Gas as air (R 287.05, γ 1.33), its density at pressure_kPa in every section: the run's own back pressure is neglected.",
    }


EXHAUST = Calculation(
    "exhaust",
    "what a run of pipe holds back on the way out",
    _SOURCE,
    (
        *_ENGINE,
        number_key("afr", "air to fuel by mass", "", 1.0, 100.0, default=12.8),
        number_key("gas_in_C", "gas at the first section's start", "°C", -90.0, 1500.0, required=True),
        number_key(
            "gas_out_C",
            "gas at the last section's end; straight in between along the centre line",
            "°C",
            -90.0,
            1500.0,
            required=True,
        ),
        Key(
            "pipes", "integer", "parallel runs; sections are those of one, each carries its share", "", 1, 12, default=1
        ),
        _sections_key(True),
        number_key("roughness_mm", "of every bore", "mm", 0.0, 10.0, default=STEEL_MM),
    ),
    (
        number_key("gas_kg_per_s", "air and fuel, all runs", "kg/s"),
        _loss_keys((number_key("gas_C", "in the middle of the section", "°C"), _MACH)),
        number_key("total_kPa", "of all sections of a run", "kPa"),
        _WARNINGS,
        Key("basis", "text", "what the sums rest on"),
    ),
    _exhaust,
)

RUN_OF_PIPE = {one.name: one for one in (INTAKE, EXHAUST)}
