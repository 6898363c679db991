"""Coast-downs found in a log.

Runs out and back from speeds over time, from a table or from positions of a GPX track.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from rimcore.aero.coastdown import ROTATING_PCT, Fitted, Run, fit, force_n
from rimcore.breathing.air import HALF_PCT, moist_air
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import G_M_PER_S2

Array = NDArray[np.float64]


#: a run loses at least this much [km/h] over so many samples; it ends where the speed has risen by this much, or a gap
#: is this long [s]
LEAST_LOST_KMH, LEAST_SAMPLES, RISEN_KMH, GAP_S = 10.0, 5, 3.0, 5.0


#: slower than this nothing is read; slowing harder than this is braking [m/s²] (common practice)
SLOWEST_KMH, BRAKED_MPS2 = 10.0, 1.5


#: how runs are told apart
WAYS = {"heading": "by their heading", "alternate": "one out, one back, and so on", "out": "all one way"}


@dataclass(frozen=True)
class Coasts:
    """Runs of a log, and what was left out, in words."""

    runs: tuple[Run, ...]
    left_out: tuple[str, ...]


def coasts(time_s: Array, speed_kmh: Array, ways: str, heading_deg: Array | None = None) -> Coasts:
    """Stretches over which the car slowed by itself.

    Source: how stretches are told apart is this program's own; both directions by SAE J1263.

    Parameters
    ----------
    time_s : rising (n,) [s]
    speed_kmh : (n,), 0 or more; NaN where lost [km/h]
    ways : how the runs follow each other: ``out``, ``alternate``, or told by the heading
    heading_deg : (n,), 0 to 360; None where no satellite was read [deg]

    Raises
    ------
    BadInput : no run in it, or the way of the runs can't be told

    Examples
    --------
    >>> t = np.arange(0.0, 80.0, 1.0)
    >>> speed = np.concatenate([np.linspace(100, 60, 40), np.linspace(100, 62, 40)])
    >>> found = coasts(t, speed, "alternate")
    >>> [(run.way, len(run.t_s)) for run in found.runs]
    [(1, 40), (-1, 40)]
    """
    good = np.isfinite(time_s) & np.isfinite(speed_kmh)
    t, v = time_s[good], speed_kmh[good]
    heads = None if heading_deg is None else heading_deg[good]
    if len(t) < LEAST_SAMPLES:
        raise BadInput("has too few rows with time and speed; accepted: some runs of 5 rows or more", "file")
    found: list[tuple[int, int]] = []
    left: list[str] = []
    for first, last in _falls(t, v):
        slowing = (v[first] - v[last]) / 3.6 / max(t[last] - t[first], 1e-9)
        if last - first + 1 < LEAST_SAMPLES or v[first] - v[last] < LEAST_LOST_KMH:
            continue
        if slowing > BRAKED_MPS2:
            left.append(f"from {t[first]:.0f} s: slowed by {slowing:.1f} m/s², as if braked")
            continue
        found.append((first, last))
    if not found:
        raise BadInput(
            f"holds no coast-down; accepted: runs that lose {LEAST_LOST_KMH:g} km/h or more without braking", "file"
        )
    told = _ways(found, ways, heads)
    runs = tuple(Run(way, t[a : b + 1], v[a : b + 1] / 3.6) for (a, b), way in zip(found, told, strict=True))
    return Coasts(runs, tuple(left))


def _falls(t: Array, v: Array) -> list[tuple[int, int]]:
    """First and last sample of every fall.

    From the top of the speed to where it rises again, has a gap, or is too slow.
    """
    found, top, low = [], 0, 0
    for k in range(1, len(v)):
        over = t[k] - t[k - 1] > GAP_S or v[k] > v[low] + RISEN_KMH or v[k] < SLOWEST_KMH
        if over:
            if low > top:
                found.append((top, low))
            top = low = k
        elif v[k] >= v[top]:
            top = low = k
        elif v[k] <= v[low]:
            low = k
    if low > top:
        found.append((top, low))
    return found


def _ways(runs: Sequence[tuple[int, int]], ways: str, heading_deg: Array | None) -> list[int]:
    if ways == "out":
        return [1] * len(runs)
    if ways == "alternate":
        return [1 if k % 2 == 0 else -1 for k in range(len(runs))]
    if heading_deg is None or not np.isfinite(heading_deg).any():
        raise BadInput("has no heading; accepted: say how the runs follow each other", "ways")
    east = [float(np.nanmean(np.sin(np.radians(heading_deg[a : b + 1])))) for a, b in runs]
    north = [float(np.nanmean(np.cos(np.radians(heading_deg[a : b + 1])))) for a, b in runs]
    return [1 if x * east[0] + y * north[0] >= 0 else -1 for x, y in zip(east, north, strict=True)]


@dataclass(frozen=True)
class RoadLoad:
    """What a set of runs comes to, with half widths of the 95 % intervals; wind and slope are None one way."""

    a_n: float
    c: float
    cda_m2: float
    rolling: float
    half_a: float
    half_c: float
    half_cda: float
    wind_mps: float | None
    slope_pct: float | None
    residual_kmh: float
    runs: tuple[int, int]

    def force_n(self, speed_kmh: float) -> float:
        """At a speed in still air on the level [N]."""
        return force_n(Fitted(self.a_n, 0.0, self.c, 0.0, 0.0, {}, ()), speed_kmh)


def road_load(
    runs: Sequence[Run], mass_kg: float, density_kg_per_m3: float, rotating_pct: float = ROTATING_PCT
) -> tuple[RoadLoad, tuple[Array, ...]]:
    """Rolling and drag of some runs, and what the fit leaves of each run's speeds, as read less as fitted [km/h].

    Parameters
    ----------
    runs : each with its way, times and speeds
    mass_kg : of the car with who is in it, over 0 [kg]
    density_kg_per_m3 : of the day's air
    rotating_pct : what the turning parts add, 0 or more [%]
    """
    found = fit(runs, mass_kg, rotating_pct)
    rest = np.concatenate(found.residuals_mps)
    to_area = 2.0 / density_kg_per_m3
    load = RoadLoad(
        a_n=found.a,
        c=found.c,
        cda_m2=to_area * found.c,
        rolling=found.a / (mass_kg * G_M_PER_S2),
        half_a=found.half["a"],
        half_c=found.half["c"],
        half_cda=to_area * found.half["c"],
        wind_mps=None if found.one_way else found.wind_mps,
        slope_pct=None if found.one_way else 100.0 * math.tan(math.asin(max(-1.0, min(1.0, found.sine)))),
        residual_kmh=3.6 * float(np.sqrt(np.mean(rest**2))),
        runs=(sum(run.way == 1 for run in runs), sum(run.way == -1 for run in runs)),
    )
    return load, tuple(3.6 * one for one in found.residuals_mps)


def in_unread_humidity(load: RoadLoad, temperature_c: float, pressure_kpa: float) -> RoadLoad:
    """The same where nobody noted the humidity.

    Half of what dry and wet air set apart joins the half width of the area (root of squares).

    Source: root of the sum of squares, JCGM 100:2008, 5.1.2.

    Parameters
    ----------
    load : road load that was fitted
    temperature_c : of the air, −90 to 100 [°C]
    pressure_kpa : absolute, over the vapour's [kPa]

    >>> load = RoadLoad(150.0, 0.4, 0.68, 0.012, 5.0, 0.02, 0.03, None, None, 0.1, (1, 1))
    >>> round(in_unread_humidity(load, 30.0, 100.0).half_cda, 4)
    0.0305
    """
    dry, half_wet, wet = (
        moist_air(temperature_c, pressure_kpa, one).density_kg_per_m3 for one in (0.0, HALF_PCT, 100.0)
    )
    spread = load.cda_m2 * abs(dry - wet) / (2.0 * half_wet)
    return replace(load, half_cda=math.hypot(load.half_cda, spread))


def on_one_clock(runs: Sequence[tuple[Sequence[float], Sequence[float | None]]]) -> tuple[Array, list[Array]]:
    """Runs over the times of the longest, for drawing side by side; NaN beyond a run's end and where a reading is lost.

    Source: linear interpolation.

    Parameters
    ----------
    runs : each (times (n,) [s], readings (n,), None where lost)

    >>> grid, rows = on_one_clock([([0, 1], [9, 8]), ([0, 1, 2], [9, None, 7])])
    >>> grid.tolist(), rows[0][:2].tolist(), bool(np.isnan(rows[0][2]))
    ([0.0, 1.0, 2.0], [9.0, 8.0], True)
    """
    longest = max(runs, key=lambda run: run[0][-1])
    grid = np.array(longest[0], dtype=float)
    rows = [np.array([np.nan if one is None else one for one in speed], dtype=float) for _, speed in runs]
    return grid, [
        np.asarray(np.interp(grid, np.array(t, dtype=float), row, np.nan, np.nan))
        for (t, _), row in zip(runs, rows, strict=True)
    ]


@dataclass(frozen=True)
class Shown:
    """After less before with its interval, and whether it is shown."""

    name: str
    unit: str
    before: float
    after: float
    change: float
    half: float
    places: int
    #: both states were read both ways, so that wind and slope are out of them
    both_ways: bool = True

    @property
    def real(self) -> bool:
        """Does the interval leave out nought? Never where wind and slope may have done it."""
        return self.both_ways and abs(self.change) > self.half

    @property
    def words(self) -> str:
        """In one sentence.

        >>> Shown("CdA", "m²", 0.70, 0.68, -0.02, 0.03, 3).words
        'CdA: −0.020 ± 0.030 m², not proven'
        >>> Shown("CdA", "m²", 0.70, 0.60, -0.10, 0.03, 3, False).words
        'CdA: −0.100 ± 0.030 m², not proven: read one way only, wind and slope are in it'
        """
        said = f"{self.name}: {self.change:+.{self.places}f} ± {self.half:.{self.places}f} {self.unit}".rstrip()
        why = "" if self.both_ways else ": read one way only, wind and slope are in it"
        return said.replace("-", "−") + (", proven" if self.real else f", not proven{why}")


def compared(before: RoadLoad, after: RoadLoad) -> tuple[Shown, ...]:
    """CdA and rolling, after less before; intervals add as squares. Runs of one way alone show nothing."""
    both_ways = before.wind_mps is not None and after.wind_mps is not None
    rows = (
        ("CdA", "m²", before.cda_m2, after.cda_m2, before.half_cda, after.half_cda, 3),
        ("Rolling", "N", before.a_n, after.a_n, before.half_a, after.half_a, 0),
    )
    return tuple(
        Shown(
            name=name,
            unit=unit,
            before=was,
            after=now,
            change=now - was,
            half=math.hypot(h1, h2),
            places=places,
            both_ways=both_ways,
        )
        for name, unit, was, now, h1, h2, places in rows
    )


def tanks_to_show(scatter_pct: float, claim_pct: float) -> int:
    """Tanks before, and as many after, that would show a claimed change of fuel at a scatter from tank to tank.

    95 %, with a power of 80 %.

    n = 2 (1.96 + 0.84)² (s ÷ δ)², rounded up, two at the least. Source: sample size of two means, e.g. Montgomery,
    Design and Analysis of Experiments, ch. 2 (normal approximation).

    Parameters
    ----------
    scatter_pct : standard deviation from tank to tank, over 0 [%]
    claim_pct : change to be shown, over 0 [%]

    >>> tanks_to_show(4.0, 3.0), tanks_to_show(4.0, 10.0)
    (28, 3)

    Raises
    ------
    BadInput : nothing is claimed
    """
    if claim_pct <= 0:
        raise BadInput("is 0; accepted: the change that is claimed, over 0 %", "claim_pct")
    return max(2, math.ceil(2.0 * (1.96 + 0.84) ** 2 * (scatter_pct / claim_pct) ** 2 - 1e-9))
