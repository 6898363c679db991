"""Trial fits: what was seen with a rim or a wheel on the car corrects where the obstacles stand, once it is beyond
doubt.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import chdtrc, ndtri

from rimcore.well.judge.sightings import (
    GROSS_MM,
    Corrected,
    Group,
    Part,
    Seen,
    Where,
    floats_of,
    reading_name,
    sighting_name,
)
from rimcore.well.read.measured import Reading, TyreKey, held_to_tyre, placeable, placed, side_uncertainty_mm, tyre_key
from rimcore.wheels.outline import NOMINAL_SIDE_MM

Array = NDArray[np.float64]


#: how well it is known where along the obstacle the rule stood [mm] (common practice)
PLACE_MM = 8.0


#: farther than this from where it was read it would be another obstacle [mm] (common practice)
MOST_MOVED_MM = 20.0


#: readings that agree only this seldom by chance are in conflict: of the whole fit, and of the worst of its parts
CONFLICT_SHARE = 0.015


#: how many of its own ± a gross misreading has to stand out: found in 95 of 100 at the level above
STANDS_OUT = 2.6 + 1.645


#: steps of the fit before it gives up, and the share of chi-square that a step has to gain
MOST_STEPS, ENOUGH = 40, 1e-6


#: gaps that a fit works out at the most, and the steps that it has in any case: what contradicts itself never settles
MOST_GAPS, LEAST_STEPS = 1200, 10


def correct(readings: Sequence[Reading], seen: Sequence[Seen]) -> Corrected:
    """Re-estimate obstacles and tyre outlines by least squares from all readings, each weighed by its ±.

    Every obstacle that was seen may move in three directions, held by its own reading (± as read, along
    the gap) and loosely by its place (±8 mm along the obstacle); every tyre that was tried, and the one
    that the rule was held against, may be larger or smaller than its outline by the same amount all
    round, held by the carcass allowance. Sightings that share no obstacle and no tyre are fitted apart.

    Every part is tested: chi-square of the fit against its degrees of freedom, and each sighting, base
    reading and tyre by its standardised residual, which is the check of each against all the others.
    Where they contradict each other what is known grows by the root of chi-square over its degrees of
    freedom. A fit in which a gross misreading would not stand out is not settled.

    Source: linear least squares with prior information, externally studentised residuals; any text on
    adjustment of observations.

    Examples
    --------
    >>> from rimcore.well.solid.gap import Station
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.well.solid.gap import Station
    >>> from rimcore.well.read.measured import Reading
    >>> from rimcore.well.solid.pose import Pose
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> damper = Reading("FL", "damper", Station("damper", height_mm=262), 9.0, on_car, Pose(), 1.0)
    >>> touching = Seen(0, replace(on_car, wheel=parse_wheel("16x7 +49"), measured_section_mm=205), False, Pose(), 0.0, 0.5)
    >>> found = correct([damper], [touching])
    >>> round(found.readings[0].moved_mm[1], 1), found.groups[0].settled
    (4.2, False)
    """
    return _corrected(tuple(readings), tuple(seen))


@lru_cache(maxsize=256)
def _corrected(readings: tuple[Reading, ...], seen: tuple[Seen, ...]) -> Corrected:
    """A page asks for the same corrections at every change of a control; the answer is kept."""
    fixed, residuals = list(readings), [0.0] * len(seen)
    grown: dict[TyreKey, tuple[float, float]] = {}
    groups: list[Group] = []
    for members in _apart(readings, seen):
        fit = _Fit(readings, seen, members)
        group = fit.judged()
        groups.append(group)
        scale = max(1.0, group.chi2 / max(group.dof, 1)) if group.conflict else 1.0
        for place, moved in fit.moved(scale).items():
            fixed[place] = moved
        grown |= fit.grown(scale)
        for part in group.parts:
            if part.kind == "sighting":
                residuals[part.place] = part.t
    return Corrected(tuple(fixed), grown, tuple(residuals), tuple(groups))


def _apart(readings: Sequence[Reading], seen: Sequence[Seen]) -> list[list[int]]:
    """Sightings that hang together, group by group; those of a reading that can't be placed say nothing."""
    groups: list[tuple[set[object], list[int]]] = []
    for k, one in enumerate(seen):
        if not placeable(readings[one.reading]):
            continue
        held = tyre_key(readings[one.reading].present) if held_to_tyre(readings[one.reading]) else None
        tied: set[object] = {one.reading, *(key for key in (one.tyre_key, held) if key is not None)}
        members = [k]
        for other in [group for group in groups if group[0] & tied]:
            groups.remove(other)
            tied |= other[0]
            members = other[1] + members
        groups.append((tied, members))
    return [sorted(members) for _, members in groups]


class _Fit:
    """Least squares over one group: unknown are three shifts of every obstacle, then one growth of every tyre."""

    def __init__(self, readings: Sequence[Reading], seen: Sequence[Seen], members: Sequence[int]) -> None:
        self.readings, self.seen, self.members = readings, seen, list(members)
        self.places = sorted({seen[k].reading for k in members})
        self.base = {place: _Base.of(readings[place]) for place in self.places}
        keys = {seen[k].tyre_key for k in members} | {base.key for base in self.base.values()}
        self.keys = sorted(key for key in keys if key is not None)
        self.looks = [Where.of(readings[seen[k].reading], seen[k].fitted, seen[k].bare, seen[k].pose) for k in members]
        self.x = self._solve()
        self.left, self.slopes = self._rows(self.x)
        self.spread = np.linalg.inv(self.slopes.T @ self.slopes)

    def _solve(self) -> Array:
        """Gauss-Newton with damping; shifts and growths stay within ``MOST_MOVED_MM``."""
        x, damping = np.zeros(3 * len(self.places) + len(self.keys)), 1e-6
        left, slopes = self._rows(x)
        for _ in range(max(LEAST_STEPS, min(MOST_STEPS, MOST_GAPS // len(left)))):
            normal = slopes.T @ slopes
            step = np.linalg.solve(normal + damping * np.diag(np.diag(normal)), -slopes.T @ left)
            ahead = np.clip(x + step, -MOST_MOVED_MM, MOST_MOVED_MM)
            new_left, new_slopes = self._rows(ahead)
            if new_left @ new_left <= left @ left:
                gained = left @ left - new_left @ new_left
                done = float(np.abs(ahead - x).max()) < 1e-4 or gained <= ENOUGH * (left @ left)
                x, left, slopes, damping = ahead, new_left, new_slopes, max(damping / 5, 1e-9)
                if done:
                    break
            else:
                damping = max(damping * 10, 1e-3)
                if damping > 1e6:
                    break
        return x

    def _rows(self, x: Array) -> tuple[Array, Array]:
        """Residuals in their own ± and their slopes: sightings, base readings, places along the obstacle, tyres."""
        grown = {key: 3 * len(self.places) + n for n, key in enumerate(self.keys)}
        at = {place: slice(3 * n, 3 * n + 3) for n, place in enumerate(self.places)}
        left, slopes = [], []

        def add(value: float, sigma: float, place: int, slope: Array, key: TyreKey | None, growth: float) -> None:
            row = np.zeros(len(x))
            row[at[place]] = slope / sigma
            if key is not None:
                row[grown[key]] = growth / sigma
            left.append(value / sigma)
            slopes.append(row)

        for k, look in zip(self.members, self.looks, strict=True):
            one, key = self.seen[k], self.seen[k].tyre_key
            gap, slope, growth = look.gap(
                self.base[one.reading].point + x[at[one.reading]], x[grown[key]] if key is not None else 0.0
            )
            add(gap - one.gap_mm, one.sigma_mm, one.reading, slope, key, growth)
        for place in self.places:
            base = self.base[place]
            gap, slope, growth = base.where.gap(
                base.point + x[at[place]], x[grown[base.key]] if base.key is not None else 0.0
            )
            add(gap - base.start_mm, base.sigma_mm, place, slope, base.key, growth)
        prior = np.concatenate([np.full(3 * len(self.places), PLACE_MM), np.full(len(self.keys), NOMINAL_SIDE_MM)])
        return np.concatenate([np.array(left), x / prior]), np.vstack([*slopes, np.diag(1.0 / prior)])

    def judged(self) -> Group:
        """How well the parts agree, each against all the others."""
        leverage = np.einsum("ij,jk,ik->i", self.slopes, self.spread, self.slopes)
        own = np.sqrt(np.maximum(1.0 - leverage, 1e-6))
        t = self.left / own
        total, dof = float(self.left @ self.left), len(self.members)
        p = float(chdtrc(dof, total))
        parts = [
            Part("sighting", sighting_name(self.readings[self.seen[k].reading]), float(t[n]), k)
            for n, k in enumerate(self.members)
        ]
        first = len(self.members)
        for n, place in enumerate(self.places):
            parts.append(
                Part(
                    "reading", f"first reading of the {reading_name(self.readings[place])}", float(t[first + n]), place
                )
            )
        last = len(t) - len(self.keys)
        for n, key in enumerate(self.keys):
            grown = float(self.x[3 * len(self.places) + n])
            parts.append(
                Part(
                    "tyre",
                    f"{key[0]} is {abs(grown):.1f} mm {'larger' if grown > 0 else 'smaller'}",
                    float(t[last + n]),
                    key=key,
                )
            )
        limit = float(-ndtri(CONFLICT_SHARE / 2 / len(parts)))
        conflict = bool(p < CONFLICT_SHARE or max(abs(part.t) for part in parts) > limit)
        # What the others leave open of each sighting: a gross misreading has to stand out of it.
        checked = max(self.seen[k].sigma_mm / own[n] for n, k in enumerate(self.members))
        settled = bool(not conflict and GROSS_MM / checked >= STANDS_OUT)
        return Group(
            readings=tuple(self.places),
            sightings=tuple(self.members),
            keys=tuple(self.keys),
            chi2=total,
            dof=dof,
            p=p,
            parts=tuple(parts),
            conflict=conflict,
            settled=settled,
            checked_mm=float(checked),
        )

    def moved(self, scale: float) -> dict[int, Reading]:
        """The readings with their obstacles where the fit puts them, and how well that is known."""
        found = {}
        first = 3 * len(self.places)
        for n, place in enumerate(self.places):
            rows = slice(3 * n, 3 * n + 3)
            spread = self.spread[rows, rows] * scale
            slope = self.slopes[len(self.members) + n, rows] * self.base[place].sigma_mm
            known = math.sqrt(max(float(slope @ spread @ slope), 1e-4))
            ties = tuple((key, floats_of(self.spread[rows, first + m] * scale)) for m, key in enumerate(self.keys))
            x, y, z = floats_of(self.x[rows])
            found[place] = replace(
                self.readings[place],
                moved_mm=(x, y, z),
                uncertainty_mm=round(known, 3),
                spread_mm2=floats_of(spread.ravel()),
                tied_mm2=ties,
            )
        return found

    def grown(self, scale: float) -> dict[TyreKey, tuple[float, float]]:
        """How much larger every tyre is than its outline, with its ± [mm]."""
        first = 3 * len(self.places)
        each = np.sqrt(np.diag(self.spread)[first:] * scale)
        return {key: (round(float(self.x[first + n]), 3), round(float(each[n]), 3)) for n, key in enumerate(self.keys)}


@dataclass(frozen=True)
class _Base:
    """The reading that placed an obstacle: where, what the rule said, and the tyre it was held against."""

    point: Array
    where: Where
    start_mm: float
    key: TyreKey | None
    sigma_mm: float

    @classmethod
    def of(cls, reading: Reading) -> _Base:
        plain = replace(reading, moved_mm=(0.0, 0.0, 0.0))
        point, held = placed(plain).points_mm[0], held_to_tyre(reading)
        where = Where.of(plain, reading.present, False, reading.pose)
        key = tyre_key(reading.present) if held else None
        own = side_uncertainty_mm(reading.present) if held and key is None else 0.0
        return cls(point, where, where.gap(point, 0.0)[0], key, math.hypot(reading.uncertainty_mm, own))
