"""What is found in a log of each kind, as it is kept; and the kept as core values again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from garage.file import CarFile
from garage.logs.load import kept_logs
from garage.logs.models import Log
from rimcore.aero.coastlogs import RoadLoad, coasts, in_unread_humidity, road_load
from rimcore.breathing.air import HALF_PCT, moist_air
from rimcore.breathing.power import correction, power_of_torque_kw, unread_humidity_pct
from rimcore.breathing.pulls import Run, runs_of, wheel_power_kw
from rimcore.breathing.spectra import Heard, hear
from rimcore.cooling.bleed import STEADY_S, hottest_at_end_c, judge_bleed
from rimcore.proof.positions import GAP_S, HAIR_S
from rimcore.proof.track import line_of, sheet_of
from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]


#: most rows of a temperature log that are kept for its drawing
MOST_POINTS = 900


#: what a log over time can hold, with its unit
READ_UNITS = {"coolant": "°C", "intake_air": "°C", "pressure": "kPa", "level": "dB(A)"}


@dataclass(frozen=True)
class Logged:
    """What is kept of a log, and one line about it."""

    kept: dict[str, Any]
    said: str


def _wanted(columns: Mapping[str, Array], *names: str) -> None:
    for name in names:
        if name not in columns:
            raise BadInput(f"no column is named {name.replace('_', ' ')}; accepted: say which column it is", name)


def pulls(columns: Mapping[str, Array], asked: Mapping[str, Any]) -> Logged:
    """Pulls on a brake, or on a road with time and speed."""
    _wanted(columns, "rpm")
    power, how = _power(columns, asked)
    factor, said = _factor(asked)
    window = float(asked.get("window_rpm") or 200.0)
    runs = runs_of(columns["rpm"], power * factor, window)
    kept = {
        "runs": [
            {
                "rpm": one.rpm.tolist(),
                "kw": [None if not np.isfinite(kw) else round(float(kw), 4) for kw in one.power_kw],
                "readings": one.readings,
            }
            for one in runs
        ],
        "how": how,
        "factor": round(factor, 5),
        "standard": said,
        "window_rpm": window,
    }
    return Logged(
        kept,
        f"{len(runs)} pull{'s' if len(runs) != 1 else ''}, each averaged over {window:g} rpm and read every 50; {how}; {said}",
    )


def _power(columns: Mapping[str, Array], asked: Mapping[str, Any]) -> tuple[Array, str]:
    if "power" in columns:
        return columns["power"], "power as written"
    if "torque" in columns:
        return power_of_torque_kw(columns["torque"], columns["rpm"]), "power from torque"
    _wanted(columns, "time", "speed")
    mass = asked.get("mass_kg")
    if not mass:
        raise BadInput("the weight in the run is not said; accepted: 100 to 10 000 kg", "mass_kg")
    return wheel_power_kw(
        columns["time"], columns["speed"], float(mass)
    ), "wheel power from weight and acceleration; air, rolling, slope and slip left out"


def _factor(asked: Mapping[str, Any]) -> tuple[float, str]:
    standard = asked.get("standard")
    if not standard:
        return 1.0, "not corrected"
    if asked.get("temperature_c") is None or asked.get("pressure_kpa") is None:
        raise BadInput("the day's air is not said; accepted: temperature and absolute pressure", "temperature_c")
    day, humidity = (asked["temperature_c"], asked["pressure_kpa"]), asked.get("humidity_pct")
    found = correction(standard, moist_air(*day, HALF_PCT if humidity is None else humidity))
    beyond = ", outside the range it is made for" if found.within_range is False else ""
    if humidity is None:
        beyond += f", ± {unread_humidity_pct(standard, *day):.1f} % because nobody noted the humidity"
    return found.factor, f"{standard}, × {found.factor:.4f}{beyond}"


def bled(columns: Mapping[str, Array], asked: Mapping[str, Any]) -> Logged:
    """A bleed run: both hoses over time."""
    _wanted(columns, "time", "top_hose", "lower_hose")
    time = _rising(columns["time"])
    top, lower = columns["top_hose"], columns["lower_hose"]
    read = {"coolant": columns["coolant"]} if "coolant" in columns else {}
    coolant = _gaps(read["coolant"]) if read else None
    # where it boils is the cap's of the day on which it is looked at (judge_run); here the hoses alone are judged
    found = judge_bleed(time.tolist(), _gaps(top), _gaps(lower), boil_c=np.inf, coolant_c=coolant)
    hot = np.concatenate([top, *read.values()])
    end_c = hottest_at_end_c(time, top, coolant, STEADY_S)
    kept = {
        **_thinned({"t": time, "top": top, "lower": lower, **read}),
        "state": found.state,
        "reason": found.reason,
        "settled": found.settled,
        "rows": len(time),
        "opened": None if found.opened is None else [found.opened.t_s, found.opened.top_hose_c],
        "most_c": float(np.nanmax(hot)) if np.isfinite(hot).any() else None,
        "end_c": end_c if np.isfinite(end_c) else None,
    }
    return Logged(kept, found.reason)


def warm(columns: Mapping[str, Array], asked: Mapping[str, Any]) -> Logged:
    """Temperatures, pressures and levels over time."""
    _wanted(columns, "time")
    named = {name: columns[name] for name in READ_UNITS if name in columns}
    if not named:
        raise BadInput(
            "no column is named coolant, intake air, pressure or level; accepted: say which column it is", "coolant"
        )
    time = _rising(columns["time"])
    hottest = {name: float(np.nanmax(row)) for name, row in named.items() if np.isfinite(row).any()}
    kept = {**_thinned({"t": time, **named}), "hottest": hottest, "rows": len(time)}
    return Logged(
        kept,
        ", ".join(f"{name.replace('_', ' ')} up to {value:.0f} {READ_UNITS[name]}" for name, value in hottest.items())
        or "no figure in it",
    )


def coasted(columns: Mapping[str, Array], asked: Mapping[str, Any]) -> Logged:
    """Runs of a coast-down and what they come to with the day's air."""
    _wanted(columns, "time", "speed")
    for name, words in (
        ("mass_kg", "the weight in the runs"),
        ("temperature_c", "the air that day"),
        ("pressure_kpa", "the pressure at the place"),
    ):
        if asked.get(name) is None:
            raise BadInput(f"{words} is not said; accepted: a figure", name)
    found = coasts(_rising(columns["time"]), columns["speed"], asked.get("ways") or "alternate", columns.get("heading"))
    day, humidity = (asked["temperature_c"], asked["pressure_kpa"]), asked.get("humidity_pct")
    density = moist_air(*day, HALF_PCT if humidity is None else humidity).density_kg_per_m3
    load, left = road_load(found.runs, float(asked["mass_kg"]), density)
    if humidity is None:
        load = in_unread_humidity(load, *day)
    kept = {
        "load": asdict(load),
        "density": round(density, 4),
        "left_out": list(found.left_out),
        "runs": [
            {"way": run.way, **_thinned({"t": run.t_s - run.t_s[0], "v": run.v_kmh, "left": rest})}
            for run, rest in zip(found.runs, left, strict=True)
        ],
    }
    out, back = load.runs
    return Logged(
        kept,
        f"{out} out and {back} back; CdA {load.cda_m2:.3f} ± {load.half_cda:.3f} m², rolling {load.a_n:.0f} ± {load.half_a:.0f} N",
    )


def ran(columns: Mapping[str, Array], asked: Mapping[str, Any]) -> Logged:
    """Positions over time: where the track lies on its sheet; laps are found once a gate is set."""
    _wanted(columns, "time", "latitude", "longitude")
    time, lat, lon, lost = positions(columns)
    sheet = sheet_of(lat, lon)
    gaps = int((np.diff(time) > GAP_S + HAIR_S).sum())
    kept = {"sheet": asdict(sheet), "line": line_of(sheet, lat, lon), "rows": len(time), "lost": lost, "gaps": gaps}
    told = f", {gaps} gap{'' if gaps == 1 else 's'} over {GAP_S:g} s" if gaps else ""
    return Logged(kept, f"{len(time)} positions over {time[-1] - time[0]:.0f} s{told}")


def positions(columns: Mapping[str, Array]) -> tuple[Array, Array, Array, int]:
    """Time, latitude and longitude of the rows that have all three, and how many have not.

    Raises
    ------
    BadInput : too few, out of range, or times that do not rise
    """
    time, lat, lon = columns["time"], columns["latitude"], columns["longitude"]
    known = np.isfinite(time) & np.isfinite(lat) & np.isfinite(lon)
    time, lat, lon = time[known], lat[known], lon[known]
    if len(time) < 5:
        raise BadInput("fewer than 5 rows have time and position; accepted: a track", "latitude")
    if np.abs(lat).max() > 89.0 or np.abs(lon).max() > 360.0:
        raise BadInput("a position is out of range; accepted: degrees, latitude −89 to 89", "latitude")
    return _rising(time), lat, lon, int((~known).sum())


def load_again(log: Log) -> RoadLoad:
    """What a kept coast-down came to, for the core."""
    said = log.found["load"]
    return RoadLoad(**{**said, "runs": tuple(said["runs"])})


def _rising(time: Array) -> Array:
    if not np.isfinite(time).all():
        raise BadInput("a row has no time; accepted: a time in every row", "time")
    back = np.flatnonzero(np.diff(time) <= 0)
    if len(back):
        raise BadInput(f"time runs back or stands still at row {int(back[0]) + 2}; accepted: times that rise", "time")
    if len(time) < 2:
        raise BadInput("one row; accepted: at least two", "time")
    return time


def _gaps(row: Array) -> list[float | None]:
    return [float(one) if np.isfinite(one) else None for one in row]


def _thinned(columns: Mapping[str, Array]) -> dict[str, Any]:
    """Every so many rows for the drawing; what was found was found in all of them."""
    step = max(1, -(-len(next(iter(columns.values()))) // MOST_POINTS))
    return {
        name: [round(one, 3) if one is not None else None for one in _gaps(row[::step])]
        for name, row in columns.items()
    }


def heard_of(file: BinaryIO) -> dict[str, Any]:
    """A recording as it is kept."""
    path = getattr(file, "temporary_file_path", None)
    found = hear(file, path() if path is not None else None)
    return {
        "seconds": round(found.seconds, 2),
        "rate_hz": found.rate_hz,
        "level_a_db": round(found.level_a_db, 3),
        "level_z_db": round(found.level_z_db, 3),
        "thirds_db": [round(one, 2) for one in found.thirds_db],
        "lines_hz": [round(float(one), 4) for one in found.lines_hz],
        "lines_db": [round(float(one), 2) for one in found.lines_db],
        "faults": list(found.faults),
    }


def heard_again(log: Log) -> Heard:
    """A kept recording, for the core, with its offset where a meter read beside it."""
    kept, meter = log.found, log.asked.get("meter_db")
    offset = log.asked.get("offset_db") if meter is None else float(meter) - kept["level_a_db"]
    return Heard(
        seconds=kept["seconds"],
        rate_hz=kept["rate_hz"],
        level_a_db=kept["level_a_db"],
        level_z_db=kept["level_z_db"],
        thirds_db=tuple(kept["thirds_db"]),
        lines_hz=np.array(kept["lines_hz"]),
        lines_db=np.array(kept["lines_db"]),
        faults=tuple(kept["faults"]),
        offset_db=offset,
    )


def runs_again(log: Log) -> list[Run]:
    """The pulls of a kept log, for the core."""
    found = []
    for one in log.found.get("runs", ()):
        power = np.array([np.nan if kw is None else kw for kw in one["kw"]], dtype=float)
        rpm = np.array(one["rpm"], dtype=float)
        good = np.isfinite(power)
        if good.sum() > 1:
            found.append(Run(rpm[good], power[good], one["readings"]))
    return found


def logs_of(file: CarFile, kind: str) -> list[Log]:
    """Kept logs of a kind, the newest first."""
    return [one for one in kept_logs(file) if one.kind == kind]
