"""Simulated streams: engine data, hoses while a system is bled, a sound meter's recording, pulls.

Each says that it is a simulation.

The same stream with the same seed is the same; a file of it is what a logger would write, so that it goes the way of
every other file.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.breathing.spectra import wav_of
from rimcore.tables.facts import G_M_PER_S2

Array = NDArray[np.float64]

#: names on the page
ENGINE, HOSES, RECORDER, BRAKE, POSITION = (
    "Engine-data stream (simulation)",
    "Hose thermocouples (simulation)",
    "Sound meter and recorder (simulation)",
    "Engine-data stream, pulls (simulation)",
    "Position logger (simulation)",
)


@dataclass(frozen=True)
class BleedRun:
    """A bleed run: when the thermostat opens [s], and when air burps through it.

    ``locked`` never lets the lower hose follow.
    """

    opens_s: float = 420.0
    burps_s: tuple[float, ...] = (250.0, 330.0)
    locked: bool = False
    long_s: float = 1200.0


#: air an engine takes for what arrives at the wheel: 300 g of petrol a kWh at 12.9 to 1, 13 % lost on the way (from
#: memory) [g/(kW·s)]
AIR_G_PER_KWS = 300.0 / 3600.0 * 12.9 / 0.87

RUNS = {"bleeds": BleedRun(), "locked": BleedRun(locked=True, burps_s=(300.0, 520.0, 700.0))}


def bleed_rows(
    run: BleedRun, seed: int, until_s: float | None = None, every_s: float = 2.0
) -> list[tuple[float, float | None, float | None, float | None]]:
    """Time [s], top hose, lower hose and coolant at the engine [°C] of a run up to a time.

    Warm-up, noise, steps of a tenth, drop-outs.

    >>> rows = bleed_rows(RUNS["bleeds"], 1, 10.0)
    >>> len(rows), rows[0][0], len(rows[0])
    (6, 0.0, 4)
    """
    draw = np.random.default_rng(seed)
    t = np.arange(0.0, run.long_s + every_s / 2, every_s)
    top = 18.0 + (88.0 - 18.0) * (1 - np.exp(-t / 150.0))
    lower = 18.0 + 0.7 * t / 60.0
    for burp in run.burps_s:
        lower = lower + 9.0 * np.exp(-0.5 * ((t - burp) / 5.0) ** 2)
    if not run.locked:
        after = np.clip(t - run.opens_s, 0.0, None)
        lower = lower + (87.0 - 18.0 - 0.7 * run.opens_s / 60.0) * (1 - np.exp(-after / 35.0)) - 0.7 * after / 60.0
        top = top - 6.0 * np.exp(-0.5 * ((t - run.opens_s - 15.0) / 18.0) ** 2)
    else:
        top = top + 14.0 * (1 - np.exp(-np.clip(t - 400.0, 0.0, None) / 200.0))
    coolant = top + 4.0 * (1 - np.exp(-t / 60.0))
    shown = np.round((np.stack([top, lower]) + draw.normal(0.0, 0.25, (2, len(t)))) * 10) / 10
    lost = draw.random(shown.shape) < 0.02
    inside = np.round(coolant + draw.normal(0.0, 0.25, len(t)))
    last = np.inf if until_s is None else until_s
    hoses = [
        [None if gone else float(one) for one, gone in zip(row, lost[k], strict=True)] for k, row in enumerate(shown)
    ]
    return [
        (float(when), hoses[0][row], hoses[1][row], float(inside[row])) for row, when in enumerate(t) if when <= last
    ]


def bleed_csv(run: BleedRun, seed: int) -> bytes:
    """The same as a logger writes it."""
    lines = ["time [s],top hose [°C],lower hose [°C],coolant [°C]"]
    lines += [",".join("" if one is None else f"{one:g}" for one in row) for row in bleed_rows(run, seed)]
    return "\n".join(lines).encode()


def power_kw(rpm: Array, peak_kw: float, peak_rpm: float) -> Array:
    """Power of an engine that breathes up to a peak, over engine speed."""
    share = rpm / peak_rpm
    return np.asarray(peak_kw * share * (1.0 + share - share**2))


def pulls_csv(peak_kw: float, peak_rpm: float, seed: int, runs: int = 3) -> bytes:
    """Some pulls one after another, as an engine-data box writes them; the day shifts each run a little."""
    draw = np.random.default_rng(seed)
    rows, clock = (
        ["time [s];engine speed [1/min];wheel power [kW];air mass [g/s];coolant [°C];intake air [°C];lambda;pedal [%]"],
        0.0,
    )
    for _ in range(runs):
        rpm = np.linspace(1800.0, 6600.0, 240)
        shift = draw.normal(0.0, 0.006)
        power = power_kw(rpm, peak_kw, peak_rpm) * (1 + shift) + draw.normal(0.0, 0.7, len(rpm))
        for speed, kw in zip(rpm + draw.normal(0, 8, len(rpm)), power, strict=True):
            rows.append(
                f"{clock:.2f};{speed:.0f};{kw:.2f};{AIR_G_PER_KWS * kw:.1f};{91 + draw.normal(0, 0.4):.1f};{27 + draw.normal(0, 0.3):.1f};{0.88 + draw.normal(0, 0.01):.3f};100"
            )
            clock += 0.05
        clock += 30.0
    return "\n".join(rows).replace(".", ",").encode()


def recording(rpm: float, cylinders: int, droning: bool, seed: int, seconds: float = 8.0, rate: int = 16_000) -> bytes:
    """A cabin at cruise: road noise and firing orders; with a drone at the first order."""
    draw = np.random.default_rng(seed)
    t = np.arange(int(seconds * rate)) / rate
    firing = rpm / 120.0 * cylinders
    noise = np.cumsum(draw.normal(0.0, 1.0, len(t)))
    noise = noise - np.convolve(noise, np.ones(400) / 400, "same")
    levels = {0.5: 0.001, 1.0: 0.05 if droning else 0.0012, 1.5: 0.001, 2.0: 0.012 if droning else 0.0012, 3.0: 0.001}
    wander = 2 * np.pi * np.cumsum(1 + 0.002 * np.sin(2 * np.pi * 0.3 * t)) / rate
    tones = sum(size * np.sin(times * firing * wander + k) for k, (times, size) in enumerate(levels.items()))
    return wav_of(0.02 * noise / noise.std() + tones, rate)


def coast_csv(cda_m2: float, mass_kg: float, seed: int, runs: int = 3) -> bytes:
    """Coast-downs both ways as a position logger writes them.

    Five readings a second, noise of 0.2 km/h, some lost, wind that differs a little.
    """
    draw = np.random.default_rng(seed)
    rows, clock, c = ["time [s];speed [km/h];heading [°];latitude;longitude"], 0.0, 1.2 * cda_m2 / 2
    for k in range(2 * runs):
        way = 1 if k % 2 == 0 else -1
        v, wind = 31.0, 1.4 + draw.normal(0.0, 0.25)
        for speed in (*np.linspace(12.0, 31.0, 60), *_coasting(v, way, c, mass_kg, wind)):
            if draw.random() > 0.015:
                heading = (72.0 if way > 0 else 252.0) + draw.normal(0.0, 1.5)
                rows.append(f"{clock:.1f};{speed * 3.6 + draw.normal(0.0, 0.2):.2f};{heading:.1f};;")
            clock += 0.2
        clock += 40.0
    return "\n".join(rows).encode()


def laps_csv(lap_s: float, seed: int, laps: int = 7) -> bytes:
    """Laps of a loop of 900 m as a position logger writes them, then a stop.

    Ten readings a second, noise of 0.4 m that wanders, some lost, one gap of three seconds; laps scatter by 0.5 s.
    """
    draw = np.random.default_rng(seed)
    rows, clock, drift = ["time [s];latitude;longitude;speed [km/h]"], 0.0, np.zeros(2)
    for lap in range(laps):
        own_s = lap_s + draw.normal(0.0, 0.5)
        count = round(own_s * 10)
        for k in range(count):
            turn = 2 * np.pi * (k / count + 0.06 * np.sin(2 * np.pi * k / count) ** 2)
            east, north = 170.0 * np.cos(turn) + 22.0 * np.cos(3 * turn), 105.0 * np.sin(turn)
            drift = 0.98 * drift + draw.normal(0.0, 0.08, 2)
            speed = 3.6 * 900.0 / own_s * (1.0 + 0.22 * np.cos(2 * turn))
            if draw.random() > 0.01 and not (lap == 4 and 200 <= k < 231):
                rows.append(_position(clock, east + drift[0], north + drift[1], speed))
            clock += own_s / count
    speed, east = 60.0, 192.0
    while speed > 0.0:
        rows.append(_position(clock, east, 0.0, speed))
        east, speed, clock = east + speed / 36.0, speed - 8.6 * 3.6 / 10, clock + 0.1
    rows += [_position(clock + k / 10, east, 0.0, 0.0) for k in range(10)]
    return "\n".join(rows).encode()


def _position(clock: float, east_m: float, north_m: float, speed_kmh: float) -> str:
    """A row: an invented place, degrees to a centimetre."""
    lat, lon = 50.2 + north_m / 111_195.0, 7.6 + east_m / (111_195.0 * float(np.cos(np.radians(50.2))))
    return f"{clock:.2f};{lat:.7f};{lon:.7f};{speed_kmh:.1f}"


def _coasting(v: float, way: int, c: float, mass_kg: float, wind: float) -> list[float]:
    """Speeds [m/s] every fifth of a second of a car that slows by itself: 175 N of rolling, a slope of 0.15 %."""
    found = []
    for _ in range(230):
        found.append(v)
        for _ in range(20):
            u = v + way * wind
            v -= 0.01 * (175.0 + c * u * abs(u) + way * mass_kg * G_M_PER_S2 * 0.0015) / (mass_kg * 1.04)
    return found
