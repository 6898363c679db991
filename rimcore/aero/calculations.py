"""Air round the car, on the command line: coast-down, slopes, splitter, panel."""

from __future__ import annotations

from typing import Any

import numpy as np

from rimcore.aero.coastdown import ROTATING_PCT, TOLD_KMH, Run, fit, force_n
from rimcore.aero.ramp import angles, judged_ramps
from rimcore.aero.splitter import USUAL_CP, USUAL_DENSITY, Splitter, adjuster_n, dynamic_pressure_pa, load_n
from rimcore.breathing.calculations import AIR_KEYS, air_of
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import G_M_PER_S2

FAR_MM, HEIGHT_MM, RADIUS_MM, SPAN_MM = (0.001, 20_000.0), (0.0, 5000.0), (10.0, 5000.0), (100.0, 20_000.0)
MOST_SAMPLES, MOST_RUNS, LEAST_SAMPLES, LEAST_LOSS_KMH = 100_000, 200, 5, 10.0
ONE_WAY = "Only one direction: wind and slope are still in the figures."
ONE_PAIR = "One run a way: it can't show a wind that changed between them; drive two and more each way."
COORDINATE = (-100_000.0, 100_000.0)
MOST_POINTS = 10_000


def _coastdown(given: dict[str, Any]) -> dict[str, Any]:
    runs = _runs(given["runs"])
    density = air_of(given["air"]).density_kg_per_m3
    found = fit(runs, given["mass_kg"], given["rotating_pct"], given["linear"])
    area, half = 2.0 * found.c / density, found.half
    warnings = (
        [ONE_WAY]
        if found.one_way
        else [ONE_PAIR]
        if min(sum(run.way == way for run in runs) for way in (1, -1)) < 2
        else []
    )

    def about(value: float, name: str) -> list[float] | None:
        return [value - half[name], value + half[name]] if name in half else None

    return {
        "a_N": found.a,
        "b_N_per_mps": found.b,
        "c_N_per_mps2": found.c,
        "a_N_ci95": about(found.a, "a"),
        "b_N_per_mps_ci95": about(found.b, "b"),
        "c_N_per_mps2_ci95": about(found.c, "c"),
        "cda_m2": area,
        "cda_ci95": [2.0 * one / density for one in about(found.c, "c") or []] or None,
        "cd": None if given["frontal_m2"] is None else area / given["frontal_m2"],
        "rolling_coefficient": found.a / (given["mass_kg"] * G_M_PER_S2),
        "force_at_kmh": {f"{speed:g}": force_n(found, speed) for speed in TOLD_KMH},
        "wind_mps": None if found.one_way else found.wind_mps,
        "slope_pct": None if found.one_way else 100.0 * float(np.tan(np.arcsin(found.sine))),
        "one_way": found.one_way,
        "warnings": warnings,
    }


def _runs(rows: list[dict[str, Any]]) -> list[Run]:
    if not rows:
        raise BadInput("is empty; accepted: at least one run", "runs")
    if sum(len(row["t_s"]) for row in rows) > MOST_SAMPLES:
        raise BadInput(f"has more than {MOST_SAMPLES} samples in all; accepted: that many at most", "runs")
    return [_run(row, f"runs.{place}") for place, row in enumerate(rows)]


def _run(row: dict[str, Any], path: str) -> Run:
    time, speed = np.array(row["t_s"], dtype=float), np.array(row["v_kmh"], dtype=float)
    if len(time) < LEAST_SAMPLES:
        raise BadInput(f"has {len(time)} samples; accepted: {LEAST_SAMPLES} or more", f"{path}.t_s")
    if len(speed) != len(time):
        raise BadInput(f"has {len(speed)} speeds for {len(time)} times; accepted: as many", f"{path}.v_kmh")
    back = np.flatnonzero(np.diff(time) <= 0)
    if len(back):
        raise BadInput(
            "does not come after the one before; accepted: times that rise", f"{path}.t_s.{int(back[0]) + 1}"
        )
    if speed[0] - speed[-1] < LEAST_LOSS_KMH:
        raise BadInput(
            f"loses {speed[0] - speed[-1]:.1f} km/h from first to last; accepted: {LEAST_LOSS_KMH:g} or more",
            f"{path}.v_kmh",
        )
    return Run(1 if row["direction"] == "out" else -1, time, speed / 3.6)


def _pair(name: str, meaning: str, unit: str = "") -> Key:
    return Key(name, "list", meaning, unit, item=number_key("", "low, high", unit))


_SAMPLE = number_key("", "a figure", "", 0.0, 1e7, required=True)
COASTDOWN = Calculation(
    "coastdown",
    "rolling and drag from coast-downs, one steady wind and slope taken out where they go both ways",
    "the idea of ISO 10521-1 and SAE J1263; speeds fitted by the closed solution; intervals: the larger of residuals and scatter between runs (t)",
    (
        Key(
            "runs",
            "list",
            "coast-downs",
            required=True,
            most=MOST_RUNS,
            item=Key(
                "",
                "object",
                "one",
                required=True,
                keys=(
                    Key("direction", "choice", "which way", choices=("out", "back"), required=True),
                    Key("t_s", "list", "times, rising", "s", required=True, item=_SAMPLE, most=MOST_SAMPLES),
                    Key(
                        "v_kmh",
                        "list",
                        "speeds",
                        "km/h",
                        required=True,
                        item=number_key("", "a speed", "km/h", 0.0, 1000.0, required=True),
                        most=MOST_SAMPLES,
                    ),
                ),
            ),
        ),
        number_key("mass_kg", "of the car in the runs", "kg", 0.1, 100_000.0, required=True),
        number_key("rotating_pct", "what turns, as a share of the mass", "%", 0.0, 100.0, default=ROTATING_PCT),
        Key("air", "object", "as the calculation air takes it", required=True, keys=AIR_KEYS),
        number_key("frontal_m2", "frontal area, for cd", "m²", 0.01, 100.0),
        Key("linear", "boolean", "fit a term linear in speed too", default=False),
    ),
    (
        number_key("a_N", "rolling", "N"),
        _pair("a_N_ci95", "its 95 % interval", "N"),
        number_key("b_N_per_mps", "linear term; 0 unless linear", "N/(m/s)"),
        _pair("b_N_per_mps_ci95", "its interval; null unless linear", "N/(m/s)"),
        number_key("c_N_per_mps2", "drag", "N/(m/s)²"),
        _pair("c_N_per_mps2_ci95", "its interval", "N/(m/s)²"),
        number_key("cda_m2", "2 c ÷ density", "m²"),
        _pair("cda_ci95", "its interval", "m²"),
        number_key("cd", "null without frontal_m2", ""),
        number_key("rolling_coefficient", "a ÷ weight", ""),
        Key("force_at_kmh", "object", "force at 80 and 120 km/h, the day's air, still, level", "N"),
        number_key("wind_mps", "head wind on the way out; null one way", "m/s"),
        number_key("slope_pct", "climbing out; null one way", "%"),
        Key("one_way", "boolean", "all runs went one way"),
        Key("warnings", "list", "what is still in the figures"),
    ),
    _coastdown,
)


def _ramp(given: dict[str, Any]) -> dict[str, Any]:
    lip, tail, belly, radius = given["lip_mm"], given["tail_mm"], given["belly_mm"], given["radius_mm"]
    if belly is not None and belly["behind_front_axle"] >= given["wheelbase_mm"]:
        raise BadInput(
            f"is not between the axles; accepted: less than {given['wheelbase_mm']:g} mm", "belly_mm.behind_front_axle"
        )
    found = angles(
        (lip["ahead_of_axle"], lip["height"]),
        None if tail is None else (tail["behind_axle"], tail["height"]),
        None if belly is None else (belly["behind_front_axle"], belly["height"]),
        (radius["front"], radius["rear"]),
        given["wheelbase_mm"],
    )
    slopes = [(one["name"], one["deg"]) for one in given["ramps_deg"] or []]
    return {
        "approach_deg": found.approach_deg,
        "departure_deg": found.departure_deg,
        "breakover_deg": found.breakover_deg,
        "ramps": [judged.as_dict() | {"limited_by": by} for judged, by in judged_ramps(slopes, found)],
    }


def _point(name: str, meaning: str, along: str, required: bool = False) -> Key:
    keys = (
        number_key(along, "along the car", "mm", *FAR_MM, required=True),
        number_key("height", "above the ground", "mm", *HEIGHT_MM, required=True),
    )
    return Key(name, "object", meaning, required=required, keys=keys)


RAMP = Calculation(
    "ramp",
    "approach, departure and ramp-over, and slopes against the least of them",
    "plane geometry: the line through the point, tangent to the tyre; terms of ISO 612",
    (
        _point("lip_mm", "lowest point ahead of the front tyre", "ahead_of_axle", True),
        _point("tail_mm", "lowest point behind the rear tyre", "behind_axle"),
        _point("belly_mm", "lowest point between the axles", "behind_front_axle"),
        Key(
            "radius_mm",
            "object",
            "loaded radius of both tyres",
            required=True,
            keys=tuple(number_key(end, end, "mm", *RADIUS_MM, required=True) for end in ("front", "rear")),
        ),
        number_key("wheelbase_mm", "between the axles", "mm", *SPAN_MM, required=True),
        Key(
            "ramps_deg",
            "list",
            "slopes of one's own",
            most=200,
            item=Key(
                "",
                "object",
                "one",
                required=True,
                keys=(
                    Key("name", "text", "what it is", required=True),
                    number_key("deg", "its slope", "°", 0.0, 90.0, required=True),
                ),
            ),
        ),
    ),
    (
        number_key("approach_deg", "in front; 90 at the most", "°"),
        number_key("departure_deg", "behind; null without tail_mm", "°"),
        number_key("breakover_deg", "over a crest; null without belly_mm", "°"),
        Key("ramps", "list", "a judgement each, with limited_by: approach, departure or breakover"),
    ),
    _ramp,
)


def _splitter(given: dict[str, Any]) -> dict[str, Any]:
    levers = given["lever_mm"]
    one = Splitter(
        given["area_m2"],
        given["cp"],
        given["fasteners"],
        None if levers is None else (levers["load"], levers["adjuster"]),
        given["adjusters"],
    )
    load = load_n(one, given["speed_kmh"], given["density"])
    return {
        "dynamic_pressure_Pa": dynamic_pressure_pa(given["speed_kmh"], given["density"]),
        "load_N": load,
        "per_fastener_N": load / one.fasteners,
        "adjuster_N": adjuster_n(one, load),
    }


SPLITTER = Calculation(
    "splitter",
    "load of the air on a splitter, a fastener's share, and the adjusters'",
    "½ ρ v² × coefficient × area; coefficient 0.6 unless given (common practice); levers about the rear fixing line",
    (
        number_key("area_m2", "seen from above", "m²", 1e-4, 100.0, required=True),
        number_key("speed_kmh", "through the air", "km/h", 0.0, 1000.0, required=True),
        number_key("cp", "pressure coefficient, positive presses down", "", -3.0, 3.0, default=USUAL_CP),
        number_key("density", "of the air", "kg/m³", 0.01, 10.0, default=USUAL_DENSITY),
        Key("fasteners", "integer", "that carry the whole load", "", 1, 1000, required=True),
        Key(
            "lever_mm",
            "object",
            "from the rear fixing line",
            keys=(
                number_key("load", "to the middle of the area", "mm", 0.001, 10_000.0, required=True),
                number_key("adjuster", "to the adjusters", "mm", 0.001, 10_000.0, required=True),
            ),
        ),
        Key("adjusters", "integer", "that hold its front edge", "", 1, 100),
    ),
    (
        number_key("dynamic_pressure_Pa", "½ ρ v²", "Pa"),
        number_key("load_N", "down is plus", "N"),
        number_key("per_fastener_N", "load ÷ fasteners", "N"),
        number_key("adjuster_N", "each; null without lever_mm and adjusters", "N"),
    ),
    _splitter,
)


def _panel(given: dict[str, Any]) -> dict[str, Any]:
    from rimcore.aero.panel import Hot, fasteners, judge_heat, polygon_of, sheets_needed, turned_deg

    outlines = [given["outline_mm"], *(given["holes_mm"] or [])]
    if sum(len(one) for one in outlines) > MOST_POINTS:
        raise BadInput(f"has more than {MOST_POINTS} points in all; accepted: that many at most", "outline_mm")
    for place, outline in enumerate(outlines):
        _flat(outline, "outline_mm" if not place else f"holes_mm.{place - 1}")
    panel = polygon_of(given["outline_mm"], given["holes_mm"] or [])
    around = fasteners(panel, given["pitch_mm"], given["edge_mm"])
    sheet = given["sheet_mm"]
    if sheet is not None and len(sheet) != 2:
        raise BadInput("must be two lengths; accepted: width and length", "sheet_mm")
    turned = None if sheet is None else turned_deg(panel, (sheet[0], sheet[1]))
    found = [
        judge_heat(
            panel,
            Hot(
                one["name"],
                _line(one["line_mm"], f"heat.{k}.line_mm"),
                one["radius_mm"],
                one["keep_mm"],
                one["clear_mm"],
            ),
        )
        for k, one in enumerate(given["heat"] or [])
    ]
    square = panel.area / 1e6
    return {
        "area_m2": square,
        "mass_kg": square * given["kg_per_m2"],
        "perimeter_mm": float(panel.exterior.length),
        "fasteners": around,
        "fits_sheet": None if sheet is None else turned is not None,
        "turned_deg": turned,
        "heat": [one.as_dict() for one in found],
        "sheets_needed": None if sheet is None else sheets_needed(panel, (sheet[0], sheet[1])),
        "warnings": []
        if around is not None
        else [f"Nothing lies {given['edge_mm']:g} mm inside the edge: no fasteners are laid out."],
    }


def _flat(outline: list[list[float]], path: str) -> None:
    for place, point in enumerate(outline):
        if len(point) != 2:
            raise BadInput("must be two coordinates; accepted: x and y", f"{path}.{place}")


def _line(points: list[list[float]], path: str) -> list[list[float]]:
    if not points:
        raise BadInput("is empty; accepted: at least one point", path)
    _flat(points, path)
    return points


def _points(name: str, meaning: str, required: bool = True) -> Key:
    point = Key(
        "",
        "list",
        "x, y",
        "mm",
        required=True,
        most=3,
        item=number_key("", "a coordinate", "mm", *COORDINATE, required=True),
    )
    return Key(name, "list", meaning, "mm", required=required, item=point, most=MOST_POINTS)


PANEL = Calculation(
    "panel",
    "area, mass and fasteners of a flat panel, whether it goes on a sheet at any turn, and the heat near it",
    "plane geometry by Shapely; pitch and edge: common practice; heat is seen from above, height is not looked at unless an entry has clear_mm",
    (
        _points("outline_mm", "outer edge"),
        Key(
            "holes_mm", "list", "outlines inside it, apart from each other", "mm", item=_points("", "a hole"), most=1000
        ),
        number_key("kg_per_m2", "of the sheet", "kg/m²", 0.001, 1000.0, required=True),
        number_key("pitch_mm", "from fastener to fastener", "mm", 0.1, 10_000.0, default=150.0),
        number_key("edge_mm", "from the edge to the fasteners", "mm", 0.0, 10_000.0, default=15.0),
        Key(
            "sheet_mm",
            "list",
            "width and length of a sheet",
            "mm",
            item=number_key("", "a side", "mm", 0.1, 100_000.0, required=True),
            most=2,
        ),
        Key(
            "heat",
            "list",
            "hot things near it",
            most=200,
            item=Key(
                "",
                "object",
                "one",
                required=True,
                keys=(
                    Key("name", "text", "what it is", required=True),
                    _points("line_mm", "its centre line seen from above"),
                    number_key("radius_mm", "of it", "mm", 0.001, 10_000.0, required=True),
                    number_key("keep_mm", "wanted free", "mm", 0.0, 10_000.0, required=True),
                    number_key("clear_mm", "above or below the panel; joined as the hypotenuse", "mm", 0.0, 10_000.0),
                ),
            ),
        ),
    ),
    (
        number_key("area_m2", "outline less holes", "m²"),
        number_key("mass_kg", "of it", "kg"),
        number_key("perimeter_mm", "of the outer edge"),
        Key("fasteners", "integer", "along the inset outer edge; null where nothing is left of it"),
        Key("fits_sheet", "boolean", "at some turn; null without sheet_mm"),
        number_key(
            "turned_deg", "0 if it fits so, else 90, else the middle of the first range; null when none does", "°"
        ),
        Key("heat", "list", "judgements: hit at 0 or less, tight below keep_mm"),
        Key("sheets_needed", "integer", "1 when it fits; null without sheet_mm"),
        Key("warnings", "list", "where nothing is left for fasteners"),
    ),
    _panel,
)

AIRED = {one.name: one for one in (COASTDOWN, RAMP, SPLITTER, PANEL)}
