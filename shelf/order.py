"""A shortlist in order: which pairs there are, and which come first. What a page shows of them is judged afterwards."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garage.car.assemble import core_wheel, points_of
from garage.car.parts import Tyre, Wheel
from garage.file import CarFile
from garage.inhand import in_hand
from garage.setting import InHand
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import ORDER
from rimcore.well.judge.fitment import off_the_gaps
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.rank.shortlist import margin_table, pair_margins_mm
from rimcore.well.read.measured import Axle, Candidate
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.traced import Points, on_rim
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel as CoreWheel
from rimcore.wheels.wheel import same_rim
from rimcore.work.together import latest_of_pairs, totals_of_pairs
from shelf.assemble import camber_in, candidate_of
from shelf.judging import ENDS

Array = NDArray[np.float64]

#: a quick margin may be off by this [mm]
ROUGH_MM = 6.0


@dataclass(frozen=True)
class Ordered:
    """Pairs in order: places in the lists of wheels and of tyres, and the quick margin of each [mm]."""

    wheels: tuple[int, ...]
    tyres: tuple[int, ...]
    margins_mm: tuple[float, ...]

    def __len__(self) -> int:
        return len(self.wheels)


def ordered(
    file: CarFile, wheels: Sequence[Wheel], tyres: Sequence[Tyre], end: str, order: str, least_margin_mm: float | None
) -> Ordered:
    """Every pair whose rim diameters agree, in the order asked for.

    Those surely under the least margin are left out.
    """
    fits = same_rim(
        np.array([w.diameter_in for w in wheels])[:, None], np.array([t.rim_diameter_in for t in tyres])[None, :]
    )
    if not fits.any():
        return Ordered((), (), ())
    margins = _margins(file, wheels, tyres, end)
    if least_margin_mm is not None:
        fits &= margins >= least_margin_mm - ROUGH_MM
    rows, columns = np.nonzero(fits)
    key = _KEYS.get(order.lstrip("-"), _by_margin)(file, wheels, tyres, end, margins)[rows, columns]
    unknown = np.isnan(key)
    key = np.where(unknown, 0.0, -key if order.startswith("-") else key)
    # Equal ones stand by margin, and then as they were listed.
    best = np.nan_to_num(-margins[rows, columns], nan=np.inf)
    places = np.lexsort((np.arange(len(rows)), best, key, unknown))
    return Ordered(
        tuple(rows[places].tolist()), tuple(columns[places].tolist()), tuple(margins[rows, columns][places].tolist())
    )


def _margins(file: CarFile, wheels: Sequence[Wheel], tyres: Sequence[Tyre], end: str) -> Array:
    """The lesser of both ends' quick margins, shape (wheels, tyres) [mm]; NaN where nothing is known."""
    found = np.full((len(wheels), len(tyres)), np.nan)
    cores = tuple(core_wheel(wheel) for wheel in wheels)
    rubber = tuple(_rubber(file, tyre) for tyre in tyres)
    for axle, plain, tolerances in _ends(file, wheels, tyres, end):
        found = np.fmin(found, _end_margins(axle, plain, tolerances, cores, rubber))
    return found


def _ends(
    file: CarFile, wheels: Sequence[Wheel], tyres: Sequence[Tyre], end: str
) -> list[tuple[Axle, Candidate, Tolerances]]:
    """Every wanted end with a candidate that carries what the build does there."""
    held: InHand = in_hand(file)
    found = []
    for one in ENDS[end]:
        axle = file.core_axle(one)
        if axle is not None:
            setting = held.end(one)
            plain = candidate_of(file, one, *_any_pair(wheels, tyres), setting, camber_in(file, one, setting))
            found.append((axle, plain, file.tolerances(held.tolerance)))
    return found


def _any_pair(wheels: Sequence[Wheel], tyres: Sequence[Tyre]) -> tuple[Wheel, Tyre]:
    return next(
        (wheel, tyre) for wheel in wheels for tyre in tyres if same_rim(wheel.diameter_in, tyre.rim_diameter_in)
    )


@dataclass(frozen=True)
class _Rubber:
    """What makes a listed tyre's outline on a rim.

    Size, measured section, traced points with their rim, growth by rim width.
    """

    size: str
    rim_in: float
    measured_section_mm: float | None
    profile: Points | None
    profile_rim_in: float | None
    grown: tuple[tuple[float, float, float], ...]

    def on(self, wheel: CoreWheel, spacer_mm: float, camber_deg: float) -> Fitted:
        tyre = parse_tyre(self.size)
        if self.profile is not None:
            shape, section = on_rim(self.profile, self.profile_rim_in, wheel.width_in)
            return Fitted(wheel, tyre, spacer_mm, camber_deg, section or self.measured_section_mm, shape)
        if self.measured_section_mm is not None:
            return Fitted(wheel, tyre, spacer_mm, camber_deg, self.measured_section_mm)
        grown = next(((mm, doubt) for width, mm, doubt in self.grown if width == wheel.width_in), (0.0, None))
        return Fitted(wheel, tyre, spacer_mm, camber_deg, grown_mm=grown[0], grown_doubt_mm=grown[1])


def _rubber(file: CarFile, tyre: Tyre) -> _Rubber:
    size = parse_tyre(tyre.size).size
    grown = tuple((width, *found) for (name, width), found in file.corrections.grown_mm.items() if name == size)
    return _Rubber(
        tyre.size, tyre.rim_diameter_in, tyre.measured_section_mm, points_of(tyre.profile), tyre.profile_rim_in, grown
    )


@lru_cache(maxsize=8)
def _end_margins(
    axle: Axle, plain: Candidate, tolerances: Tolerances, wheels: tuple[CoreWheel, ...], tyres: tuple[_Rubber, ...]
) -> Array:
    fitted = plain.fitted
    table = margin_table(axle, plain, tolerances)
    return pair_margins_mm(
        table,
        wheels,
        [tyre.rim_in for tyre in tyres],
        lambda wheel, k: tyres[k].on(wheel, fitted.spacer_mm, fitted.camber_deg),
    )


def _by_margin(file: CarFile, wheels: Sequence[Wheel], tyres: Sequence[Tyre], end: str, margins: Array) -> Array:
    return -margins


def _by_state(file: CarFile, wheels: Sequence[Wheel], tyres: Sequence[Tyre], end: str, margins: Array) -> Array:
    """Clear first: the worse of the quick margin and of hub, rim and loads."""
    found = np.where(
        np.isnan(margins), ORDER.index("unmeasured"), np.where(margins < 0, ORDER.index("tight"), ORDER.index("clear"))
    )
    held = in_hand(file)
    for one in ENDS[end]:
        axle = file.core_axle(one)
        if axle is None:
            continue
        setting = held.end(one)
        camber = camber_in(file, one, setting)
        by_wheel: dict[int, int] = {}
        by_width: dict[tuple[float, float, int], int] = {}
        for i, wheel in enumerate(wheels):
            for k, tyre in enumerate(tyres):
                width = wheel.diameter_in or 0.0, wheel.width_in or 0.0, k
                if (i in by_wheel and width in by_width) or not same_rim(wheel.diameter_in, tyre.rim_diameter_in):
                    continue
                try:
                    hub, rest = off_the_gaps(axle, candidate_of(file, one, wheel, tyre, setting, camber))
                except CoreError:
                    hub = rest = "hit"
                by_wheel.setdefault(i, ORDER.index(hub))
                by_width.setdefault(width, ORDER.index(rest))
        worst = np.array(
            [
                [
                    min(by_wheel.get(i, 9), by_width.get((wheel.diameter_in or 0.0, wheel.width_in or 0.0, k), 9))
                    for k in range(len(tyres))
                ]
                for i, wheel in enumerate(wheels)
            ]
        )
        found = np.minimum(found, worst)
    return -found.astype(float)


def _of_both(name: str, together: Callable[..., Array]) -> Callable[..., Array]:
    """What wheel and tyre come to together."""

    def key(file: CarFile, wheels: Sequence[Wheel], tyres: Sequence[Tyre], end: str, margins: Array) -> Array:
        return together([getattr(wheel, name) for wheel in wheels], [getattr(tyre, name) for tyre in tyres])

    return key


def _of_wheel(name: str) -> Callable[..., Array]:
    def key(file: CarFile, wheels: Sequence[Wheel], tyres: Sequence[Tyre], end: str, margins: Array) -> Array:
        return np.repeat(np.array([[float(getattr(wheel, name))] for wheel in wheels]), len(tyres), axis=1)

    return key


#: order of the table -> what it is sorted by, shape (wheels, tyres)
_KEYS: dict[str, Callable[..., Array]] = {
    "margin": _by_margin,
    "state": _by_state,
    "mass": _of_both("mass_kg", totals_of_pairs),
    "price": _of_both("price_minor", totals_of_pairs),
    "lead": _of_both("lead_days", latest_of_pairs),
    "width": _of_wheel("width_in"),
    "offset": _of_wheel("offset_mm"),
}
