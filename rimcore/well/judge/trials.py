"""Trial changes of a build: what each lever does to a candidate, and the gaps that it leaves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import ORDER, Judgement
from rimcore.well.judge.bands import Left, gaps_by_offset
from rimcore.well.judge.fitment import judge
from rimcore.well.judge.in_motion import swept
from rimcore.well.judge.ranges import at_corner, bare
from rimcore.well.judge.rest_gaps import known_at_rest
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.read.measured import Axle, Candidate
from rimcore.wheels import hub as hubs
from rimcore.wheels.swap import legal_r39
from rimcore.wheels.tyre import Tyre, parse_tyre, rim_fit
from rimcore.wheels.wheel import same_rim

Array = NDArray[np.float64]


#: combinations that are tried in earnest before the search gives up
MOST_TRIES = 80


#: how far the sum of single changes may be off for a combination [mm]; from trials on the demo's cars
SUM_ERROR_MM = 2.0


@dataclass(frozen=True)
class Lever:
    """One thing that can be changed: its amounts in order, what a step costs (common practice), and what it takes.

    ``effort`` is on one scale for all levers: 1 is an hour with what is at hand, 4 buys a part, 8 buys
    wheels or tyres again, 10 is bodywork.
    """

    code: str
    amounts: tuple[float, ...]
    base_effort: float
    effort_a_step: float
    takes: str


LEVERS: tuple[Lever, ...] = (
    Lever("camber", (-0.3, -0.6, -0.9, -1.2, -1.5, -1.8), 1.0, 0.4, "an alignment"),
    Lever("raise", (3, 6, 9, 12, 15, 20, 25, 30), 1.5, 0.4, "turning the perches, or other springs; then an alignment"),
    Lever("lock", (1, 2, 3, 4, 5, 6, 8), 2.0, 0.5, "lock limiters, both sides"),
    Lever("spacer", (3, 5, 8, 10, 12, 15, 20, 25), 4.0, 0.3, "a pair of spacers"),
    Lever(
        "offset",
        (
            -1,
            1,
            -2,
            2,
            -3,
            3,
            -4,
            4,
            -5,
            5,
            -6,
            6,
            -8,
            8,
            -10,
            10,
            -12,
            12,
            -15,
            15,
            -18,
            18,
            -22,
            22,
            -26,
            26,
            -30,
            30,
        ),
        8.0,
        0.1,
        "other wheels",
    ),
    Lever("width", (-0.5, 0.5, -1.0, -1.5), 8.2, 0.4, "other wheels"),
    Lever("tyre", (1, 2, 3, 4, 5, 6), 7.0, 0.3, "other tyres"),
    Lever("lip", (2, 4, 6, 8), 10.0, 0.8, "rolling the arch lip, with paint at risk"),
)


def apply(candidate: Candidate, changes: Sequence[tuple[str, float]], tyres: Sequence[Tyre]) -> Candidate | None:
    """A candidate with levers moved; None where a lever does not reach, or no such wheel can be.

    Source: none; levers as they are declared.

    Parameters
    ----------
    candidate : wheel, tyre and levers
    changes : each (lever, amount)
    tyres : that can be had

    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> fitted = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
    >>> apply(Candidate(fitted), [("spacer", 5.0), ("offset", -2.0)], ()).fitted.centre_mm
    -33.0
    """
    fitted = candidate.fitted
    wheel = fitted.wheel
    for code, amount in changes:
        if code in ("offset", "width"):
            name = "offset_mm" if code == "offset" else "width_in"
            try:
                wheel = replace(wheel, **{name: (getattr(wheel, name) or 0.0) + amount})  # type: ignore[arg-type]
            except CoreError:
                return None
        elif code == "spacer":
            if fitted.spacer_mm:
                return None
            fitted = replace(fitted, spacer_mm=amount)
        elif code == "camber":
            fitted = replace(fitted, camber_deg=fitted.camber_deg + amount)
        elif code == "tyre":
            if amount > len(tyres):
                return None
            fitted = replace(
                fitted,
                tyre=tyres[int(amount) - 1],
                measured_section_mm=None,
                profile_mm=None,
                grown_mm=0.0,
                grown_doubt_mm=None,
            )
        elif code == "raise":
            candidate = candidate.moved(ride_drop_mm=candidate.levers.ride_drop_mm - amount)
        elif code == "lock":
            candidate = candidate.moved(lock_limit_deg=candidate.levers.lock_limit_deg + amount)
        elif code == "lip":
            candidate = candidate.moved(lip_rolled_mm=candidate.levers.lip_rolled_mm + amount)
    return replace(candidate, fitted=replace(fitted, wheel=wheel))


def neighbours(tyre: Tyre, listed: Sequence[str] = ()) -> tuple[Tyre, ...]:
    """Tyres to try instead, nearest first: those listed for the same rim, then a step narrower or lower.

    >>> [one.size for one in neighbours(parse_tyre("225/45R17"))]
    ['225/40R17', '215/45R17', '215/40R17', '205/45R17', '205/50R17']
    """
    sizes = [size for size in listed if size != tyre.size]
    width, aspect = tyre.section_width_mm, tyre.aspect_pct
    if not tyre.flotation:
        steps = ((0, -5), (-10, 0), (-10, -5), (-20, 0), (-20, 5))
        sizes += [
            f"{width + w:g}/{aspect + a:g}R{tyre.rim_diameter_in:g}"
            for w, a in steps
            if width + w >= 145 and aspect + a >= 25
        ]
    found: list[Tyre] = []
    for size in sizes:
        try:
            other = parse_tyre(size)
        except CoreError:
            continue
        same = same_rim(other.rim_diameter_in, tyre.rim_diameter_in)
        if same and all(
            (o.section_width_mm, o.aspect_pct) != (other.section_width_mm, other.aspect_pct) for o in (*found, tyre)
        ):
            found.append(other)
    return tuple(found[:6])


class Trials:
    """Quick answers for many candidates on one axle: gaps over the grid, and what other judgements forbid.

    ``sure`` asks for every margin with all of its ±, else the margins alone are wanted. The ± of the start
    serves all changes, and so does what an unmeasured steering axis may take; what is found is judged whole.
    """

    def __init__(self, axle: Axle, candidate: Candidate, tolerances: Tolerances, tyres: tuple[Tyre, ...]) -> None:
        self.axle, self.candidate, self.tolerances, self.tyres = axle, candidate, tolerances, tyres
        self.engaged = self._engaged(candidate)
        self.memory: dict[Changes, tuple[Array, Array] | None] = {}
        self.sure = False
        self.takes, self.doubt = self._doubts()

    def _doubts(self) -> tuple[Array, Array]:
        """What an unmeasured axis takes off each gap, and its ± [mm]; in the order of the gaps."""
        takes: list[float] = []
        doubt: list[float] = []
        beside = self.axle.beside(self.candidate.fitted)
        for corner in self.axle.corners:
            motion = self.axle.motion(corner)
            here = tuple(r for r in self.axle.readings if r.corner == corner)
            known = set(here)
            moving = [
                one
                for one in swept(here, motion, bare(self.candidate.at(corner)), at_corner(corner, beside))
                if one.reading in known
            ]
            takes += [one.sure_mm - one.low.gap_mm for one in moving]
            doubt += [one.uncertainty_mm for one in moving]
            still = known_at_rest(here, motion, self.candidate.at(corner))
            takes += [0.0] * len(still)
            doubt += still
        return np.minimum(np.array(takes), 0.0), np.array(doubt)

    def gaps(self, changes: Changes) -> tuple[Array, Array] | None:
        """Gaps of every obstacle of both corners and what each wants [mm], in one order for all changes.

        None where forbidden.
        """
        if changes not in self.memory:
            self.memory[changes] = self._gaps(changes)
        got = self.memory[changes]
        return None if got is None else (got[0], got[1] + self.doubt) if self.sure else got

    def _gaps(self, changes: Changes) -> tuple[Array, Array] | None:
        changed = apply(self.candidate, changes, self.tyres)
        if changed is None or self._forbidden(changed):
            return None
        rows: list[Left] = []
        offset = int(round(changed.fitted.wheel.offset_mm or 0.0))
        for corner in self.axle.corners:
            here = tuple(r for r in self.axle.readings if r.corner == corner)
            try:
                at = gaps_by_offset(here, self.axle.motion(corner), changed.at(corner), self.tolerances, False)
            except CoreError:
                return None
            rows += at(offset) if at is not None else []
        if len(rows) != len(self.doubt):
            return None
        return np.array([row.sure_mm for row in rows]) + self.takes, np.array([row.wanted_mm for row in rows])

    def shortfall(self, changes: Changes) -> tuple[float, float] | None:
        """Smallest gap and smallest gap less what it wants over both corners [mm].

        None where forbidden or nothing is measured.
        """
        got = self.gaps(changes)
        if got is None or not len(got[0]):
            return None
        return float(got[0].min()), float((got[0] - got[1]).min())

    def keeps_margins(self, changes: Changes) -> bool:
        """The same judged whole and over the continuous range: the grid may miss a little between its poses."""
        changed = apply(self.candidate, changes, self.tyres)
        if changed is None:
            return False
        found = judge(self.axle, changed, self.tolerances).judgements
        return all(kept(j, self.sure) for j in found if j.code.startswith("gap.") and j.value is not None)

    def _engaged(self, candidate: Candidate) -> int:
        fit = hubs.hub_fit(self.axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.levers.ring)
        return ORDER.index(fit.engagement.judgement.state)

    def _forbidden(self, candidate: Candidate) -> bool:
        """Thread, rim width, load and speedometer must not get worse than they are."""
        fitted, now = candidate.fitted, self.candidate.fitted
        if (
            fitted.spacer_mm != now.spacer_mm
            and self._engaged(candidate) < self.engaged
            and self._engaged(candidate) == 0
        ):
            return True
        if fitted.tyre == now.tyre and fitted.wheel.width_in == now.wheel.width_in:
            return False
        if rim_fit(fitted.tyre, fitted.wheel.width_in) == "outside":
            return True
        load, axle_kg = fitted.tyre.load_kg, self.axle.axle_load_kg
        if load is not None and axle_kg is not None and load < axle_kg / 2:
            return True
        old = self.axle.present.tyre.diameter_mm
        return not legal_r39(old, fitted.tyre.diameter_mm) and legal_r39(old, now.tyre.diameter_mm)


Changes = tuple[tuple[str, float], ...]


def kept(judged: Judgement, sure: bool = False) -> bool:
    """Does a gap keep its margin for every usual axis, and with all of its ± where that is wanted?"""
    left = judged.sure_margin or 0.0
    return left - (judged.uncertainty or 0.0 if sure else 0.0) >= -1e-9
