"""One interface for every gauge, and the simulated ones behind it. The same gauge with the same seed shows the same."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from rimcore.logs.traces import Trace
from rimcore.tables.facts import CORNERS

Array = NDArray[np.float64]


class Gauge(Protocol):
    """What a page asks of a gauge, simulated or real.

    Its name, its channels, its step, and what it shows for a while.
    """

    @property
    def name(self) -> str: ...
    @property
    def channels(self) -> tuple[str, ...]: ...
    @property
    def unit(self) -> str: ...
    @property
    def step(self) -> float: ...
    def show(self, truth: Sequence[float], seed: int) -> Trace:
        """What it shows over some seconds while ``truth`` stands on it, one value a channel."""


@dataclass(frozen=True)
class Simulated:
    """A gauge that behaves like the real thing: noise, zero, drift, settling, read-out in steps, drop-outs.

    ``zero`` is how far it may be off where nobody zeroed it, ``noise`` one standard deviation, ``drift`` per minute,
    ``settle_s`` the time in which two thirds of a change are shown, ``dropped`` the share of readings that are lost.
    """

    name: str
    channels: tuple[str, ...]
    unit: str
    step: float
    noise: float
    zero: float = 0.0
    drift: float = 0.0
    settle_s: float = 0.4
    dropped: float = 0.0
    zeroed: bool = True
    seconds: float = 12.0
    per_s: float = 5.0
    #: until then nothing stands on it [s]
    empty_s: float = 2.0

    def show(self, truth: Sequence[float], seed: int) -> Trace:
        """What it shows; nothing stands on it at first.

        >>> pads = four_pads()
        >>> bool(abs(pads.show([284.0, 258.0, 252.0, 271.0], 1).values[-1, 0] - 284.0) < 2)
        True
        """
        draw = np.random.default_rng(seed)
        time = np.arange(round(self.seconds * self.per_s)) / self.per_s
        off = draw.uniform(-self.zero, self.zero, len(truth)) * (0.05 if self.zeroed else 1.0)
        loaded = np.clip(time - self.empty_s, 0.0, None)[:, None]
        rise = 1.0 - np.exp(-loaded / self.settle_s) * np.cos(2.2 * loaded / self.settle_s)
        shown = (
            np.asarray(truth, dtype=float)[None, :] * rise + off + draw.normal(0.0, self.noise, (len(time), len(truth)))
        )
        shown = shown + self.drift * time[:, None] / 60.0
        shown = np.round(shown / self.step) * self.step
        shown[draw.random(shown.shape) < self.dropped] = np.nan
        return Trace(self.channels, time, shown, self.unit)


def four_pads(zeroed: bool = True) -> Simulated:
    """Four scale pads: half-kilogram steps, three quarters of a second to settle, some kilograms off until they are
    zeroed.
    """
    return Simulated(
        name="Four pads (simulation)",
        channels=CORNERS,
        unit="kg",
        step=0.5,
        noise=0.25,
        zero=4.0,
        drift=0.2,
        settle_s=0.75,
        dropped=0.02,
        zeroed=zeroed,
    )


def angle_gauge(zeroed: bool = True) -> Simulated:
    """A digital angle gauge: ±0.1°, a tenth in its read-out, off by the slope of the floor until it is zeroed there."""
    return Simulated(
        name="Digital angle gauge (simulation)",
        channels=CORNERS,
        unit="°",
        step=0.1,
        noise=0.04,
        zero=0.6,
        drift=0.02,
        settle_s=0.3,
        dropped=0.03,
        zeroed=zeroed,
    )


def turn_plates() -> Simulated:
    """Two turn plates: a quarter of a degree, some play."""
    return Simulated(
        name="Turn plates (simulation)",
        channels=("FL", "FR"),
        unit="°",
        step=0.25,
        noise=0.1,
        zero=0.2,
        drift=0.0,
        settle_s=0.3,
        dropped=0.0,
    )


def turn_counter() -> Simulated:
    """A counter on the steering wheel: sixteenths of a turn, lock to lock."""
    return Simulated(
        name="Steering-wheel turn counter (simulation)",
        channels=("turns",),
        unit="turns",
        step=1 / 16,
        noise=0.01,
        zero=0.0,
        drift=0.0,
        settle_s=0.3,
        dropped=0.01,
    )


def string_rule() -> Simulated:
    """A rule held to strings along the car.

    Half a millimetre at the front and the rear edge of each rim, as their difference.
    """
    return Simulated(
        name="Strings and rule (simulation)",
        channels=CORNERS,
        unit="mm",
        step=0.5,
        noise=0.25,
        zero=0.0,
        drift=0.0,
        settle_s=0.2,
        dropped=0.0,
    )


def bench_scale(zeroed: bool = True) -> Simulated:
    """A kitchen scale: five grams in its read-out, some grams of drift, a box's worth off until it is zeroed."""
    return Simulated(
        name="Bench scale (simulation)",
        channels=("scale",),
        unit="kg",
        step=0.005,
        noise=0.003,
        zero=0.4,
        drift=0.01,
        settle_s=0.5,
        dropped=0.02,
        zeroed=zeroed,
    )


def weighbridge() -> Simulated:
    """A public weighbridge: half a kilogram where it is good, settling as the car rocks."""
    return Simulated(
        name="Weighbridge (simulation)",
        channels=("car",),
        unit="kg",
        step=0.5,
        noise=0.2,
        zero=1.0,
        drift=0.0,
        settle_s=1.5,
        dropped=0.01,
        seconds=24.0,
    )


GAUGES = {
    "pads": four_pads(),
    "pads_unzeroed": four_pads(False),
    "angle": angle_gauge(),
    "angle_unzeroed": angle_gauge(False),
    "plates": turn_plates(),
    "counter": turn_counter(),
    "strings": string_rule(),
    "scale": bench_scale(),
    "scale_unzeroed": bench_scale(False),
    "weighbridge": weighbridge(),
}
