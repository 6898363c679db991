"""Remedies: the smallest changes that clear a build, over the levers a person has, and what each gives away."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import ORDER, Judgement
from rimcore.well.fitment import Axle, Candidate, Verdict, judge
from rimcore.well.motion import at_corner, bare, lock_text, swept
from rimcore.well.resting import known_at_rest
from rimcore.well.tolerance import Tolerances
from rimcore.well.wellmap import Left, gaps_by_offset
from rimcore.wheels import hub as hubs
from rimcore.wheels.swap import legal_r39
from rimcore.wheels.tyre import Tyre, parse_tyre, rim_fit
from rimcore.wheels.wheel import same_rim

Array = NDArray[np.float64]
Changes = tuple[tuple[str, float], ...]

#: combinations that are tried in earnest before the search gives up
MOST_TRIES = 80
#: combinations shown
MOST_TOGETHER = 2
#: how far the sum of single changes may be off for a combination [mm]; from trials on the demo's cars
SUM_ERROR_MM = 2.0
#: remedies shown
MOST_SHOWN = 6


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
    Lever("offset", (-1, 1, -2, 2, -3, 3, -4, 4, -5, 5, -6, 6, -8, 8, -10, 10, -12, 12, -15, 15, -18, 18, -22, 22, -26, 26, -30, 30), 8.0, 0.1, "other wheels"),
    Lever("width", (-0.5, 0.5, -1.0, -1.5), 8.2, 0.4, "other wheels"),
    Lever("tyre", (1, 2, 3, 4, 5, 6), 7.0, 0.3, "other tyres"),
    Lever("lip", (2, 4, 6, 8), 10.0, 0.8, "rolling the arch lip, with paint at risk"),
)  # fmt: skip


@dataclass(frozen=True)
class Remedy:
    """One way out.

    ``changes`` are by lever; ``clear`` says whether every margin is kept or only nothing touches;
    ``consequences`` are the other judgements that change, in words; ``effort`` ranks (see ``Lever``).
    """

    title: str
    changes: Changes
    candidate: Candidate
    clear: bool
    effort: float
    takes: str
    tightest: Judgement | None
    consequences: tuple[str, ...]
    #: margin that all other gaps together lose [mm]
    gives_away_mm: float = 0.0
    #: every gap is judged clear, its ± and its readings included
    sure: bool = False


def apply(candidate: Candidate, changes: Sequence[tuple[str, float]], tyres: Sequence[Tyre]) -> Candidate | None:
    """A candidate with levers moved; None where a lever does not reach.

    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> fitted = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
    >>> apply(Candidate(fitted), [("spacer", 5.0), ("offset", -2.0)], ()).fitted.centre_mm
    -33.0
    """
    fitted = candidate.fitted
    wheel = fitted.wheel
    for code, amount in changes:
        if code == "offset":
            wheel = replace(wheel, offset_mm=(wheel.offset_mm or 0.0) + amount)
        elif code == "width":
            wheel = replace(wheel, width_in=wheel.width_in + amount)
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
                fitted, tyre=tyres[int(amount) - 1], measured_section_mm=None, profile_mm=None, grown_mm=0.0, grown_doubt_mm=None
            )
        elif code == "raise":
            candidate = replace(candidate, ride_drop_mm=candidate.ride_drop_mm - amount)
        elif code == "lock":
            candidate = replace(candidate, lock_limit_deg=candidate.lock_limit_deg + amount)
        elif code == "lip":
            candidate = replace(candidate, lip_rolled_mm=candidate.lip_rolled_mm + amount)
    if not 3 <= wheel.width_in <= 18:
        return None
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
        sizes += [f"{width + w:g}/{aspect + a:g}R{tyre.rim_diameter_in:g}" for w, a in steps if width + w >= 145 and aspect + a >= 25]
    found: list[Tyre] = []
    for size in sizes:
        try:
            other = parse_tyre(size)
        except CoreError:
            continue
        same = same_rim(other.rim_diameter_in, tyre.rim_diameter_in)
        if same and all((o.section_width_mm, o.aspect_pct) != (other.section_width_mm, other.aspect_pct) for o in (*found, tyre)):
            found.append(other)
    return tuple(found[:6])


class _Trials:
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
            moving = [one for one in swept(here, motion, bare(self.candidate), at_corner(corner, beside)) if one.reading in known]
            takes += [one.sure_mm - one.low.gap_mm for one in moving]
            doubt += [one.uncertainty_mm for one in moving]
            still = known_at_rest(here, motion, self.candidate)
            takes += [0.0] * len(still)
            doubt += still
        return np.minimum(np.array(takes), 0.0), np.array(doubt)

    def gaps(self, changes: Changes) -> tuple[Array, Array] | None:
        """Gaps of every obstacle of both corners and what each wants [mm], in one order for all changes; None where forbidden."""
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
                at = gaps_by_offset(here, self.axle.motion(corner), changed, self.tolerances, False)
            except CoreError:
                return None
            rows += at(offset) if at is not None else []
        if len(rows) != len(self.doubt):
            return None
        return np.array([row.sure_mm for row in rows]) + self.takes, np.array([row.wanted_mm for row in rows])

    def shortfall(self, changes: Changes) -> tuple[float, float] | None:
        """Smallest gap and smallest gap less what it wants over both corners [mm]; None where forbidden or nothing is measured."""
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
        return all(_kept(j, self.sure) for j in found if j.code.startswith("gap.") and j.value is not None)

    def _engaged(self, candidate: Candidate) -> int:
        fit = hubs.hub_fit(self.axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.ring)
        return ORDER.index(fit.engagement.judgement.state)

    def _forbidden(self, candidate: Candidate) -> bool:
        """Thread, rim width, load and speedometer must not get worse than they are."""
        fitted, now = candidate.fitted, self.candidate.fitted
        if fitted.spacer_mm != now.spacer_mm and self._engaged(candidate) < self.engaged and self._engaged(candidate) == 0:
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


def _kept(judged: Judgement, sure: bool = False) -> bool:
    """Does a gap keep its margin for every usual axis, and with all of its ± where that is wanted?"""
    left = judged.sure_margin or 0.0
    return left - (judged.uncertainty or 0.0 if sure else 0.0) >= -1e-9


@lru_cache(maxsize=64)
def remedies(axle: Axle, candidate: Candidate, tolerances: Tolerances, listed: tuple[str, ...] = ()) -> tuple[Remedy, ...]:
    """Smallest changes that clear a candidate, cheapest first; empty when nothing is hit or tight.

    A gap that is tight only by its ± has remedies too: they keep the margin with all of it. Each lever is tried alone through all its amounts. For combinations of two and three, what each change
    does to every gap is added up, which a small change obeys to about ``SUM_ERROR_MM``; those that the
    sum lets through are tried in earnest, cheapest first. Every answer is judged whole before it is
    shown, and none that another judgement forbids is among them.

    Parameters
    ----------
    listed : tyre sizes on the person's shortlist
    """
    before = judge(axle, candidate, tolerances)
    tyres = neighbours(candidate.fitted.tyre, listed)
    trials = _Trials(axle, candidate, tolerances, tyres)
    start = trials.shortfall(())
    if start is None:
        return ()
    found: list[Changes] = []
    if start[1] < 0:
        for lever in LEVERS:
            found += _alone(lever, trials, start)
        found += _together(trials, start)
    trials.sure = True
    start = trials.shortfall(()) or start
    if start[1] < 0:
        for lever in LEVERS:
            found += _alone(lever, trials, start)
        if not found:
            found += _together(trials, start)
    answers = [_answer(axle, before, changes, trials) for changes in dict.fromkeys(found)]
    kept = sorted((one for one in answers if one is not None), key=_rank)
    return tuple(kept[:MOST_SHOWN])


def _rank(one: Remedy) -> tuple[bool, int, float]:
    """Those that keep every margin first; then by effort, and of the same effort by what each gives away."""
    return not one.clear, round(one.effort), one.gives_away_mm


def _alone(lever: Lever, trials: _Trials, start: tuple[float, float]) -> list[Changes]:
    """The smallest amount of one lever that stops every contact, and that which keeps every margin."""
    touching: Changes | None = None
    for amount in lever.amounts:
        changes = ((lever.code, amount),)
        got = trials.shortfall(changes)
        if got is None:
            continue
        if got[1] >= 0 and trials.keeps_margins(changes):
            return [changes] if touching is None else [touching, changes]
        if got[0] >= 0 and start[0] < 0 and touching is None:
            touching = changes
    return [touching] if touching is not None else []


def effort(changes: Sequence[tuple[str, float]]) -> float:
    """Effort of some changes together; wheels of another width and offset are bought once.

    >>> effort((("offset", -3.0), ("width", -0.5))) < effort((("offset", -3.0),)) + effort((("width", -0.5),))
    True
    """
    by_code = {lever.code: lever for lever in LEVERS}
    total = sum((list(by_code[code].amounts).index(amount) + 1) * by_code[code].effort_a_step for code, amount in changes)
    bases = {by_code[code].takes: by_code[code].base_effort for code, _ in changes}
    return total + sum(bases.values())


def _together(trials: _Trials, start: tuple[float, float]) -> list[Changes]:
    """The cheapest combinations that keep every margin, of different levers; failing that, one that stops every contact."""
    now = trials.gaps(())
    singles = [(lever.code, amount, got) for lever in LEVERS for amount in lever.amounts if (got := trials.gaps(((lever.code, amount),)))]
    if now is None:
        return []
    # What clears alone needs no company.
    known = [one for one in singles if len(one[2][0]) == len(now[0]) and (one[2][0] - one[2][1]).min() < 0]
    moved = np.array([got[0] - now[0] for _, _, got in known]).reshape(len(known), len(now[0]))
    found: dict[frozenset[str], Changes] = {}
    touching: Changes | None = None
    wanting = start[0] < 0 and all(got[0].min() < 0 for _, _, got in singles)
    for changes in _hopeful(known, moved, now, wanting)[:MOST_TRIES]:
        levers = frozenset(code for code, _ in changes)
        if any(one <= levers for one in found):
            continue
        left = trials.shortfall(changes)
        if left is not None and left[1] >= 0 and trials.keeps_margins(changes):
            found[levers] = changes
            if len(found) == MOST_TOGETHER:
                break
        elif left is not None and left[0] >= 0 and wanting and touching is None:
            touching = changes
    return [*found.values()] or ([touching] if touching is not None else [])


def _hopeful(known: list[tuple[str, float, tuple[Array, Array]]], moved: Array, now: tuple[Array, Array], touches: bool) -> list[Changes]:
    """Combinations that the sum of their single changes lets through, cheapest first; those that keep margins before those that only clear."""
    codes = np.array([lever for lever, _, _ in known])
    places = np.arange(len(known))
    pairs = np.array([(i, j) for i, j in itertools.combinations(places, 2) if codes[i] != codes[j]]).reshape(-1, 2)
    passed = _let_through(pairs, moved, now, touches)
    if not any(keeps for _, keeps in passed):
        chosen = places[[amount in _few(code) for code, amount, _ in known]]
        triples = [t for t in itertools.combinations(chosen, 3) if len({codes[k] for k in t}) == 3]
        passed += _let_through(np.array(triples).reshape(-1, 3), moved, now, touches)
    named = [(not keeps, tuple((known[k][0], known[k][1]) for k in row)) for row, keeps in passed]
    return [changes for _, changes in sorted(named, key=lambda one: (one[0], effort(one[1])))]


def _few(code: str) -> set[float]:
    """Amounts of a lever that stand for all in combinations of three."""
    amounts = next(lever.amounts for lever in LEVERS if lever.code == code)
    return set(amounts[1::3]) | {amounts[-1]}


def _let_through(rows: NDArray[np.intp], moved: Array, now: tuple[Array, Array], touches: bool) -> list[tuple[NDArray[np.intp], bool]]:
    """Rows of changes whose summed gaps may do, and whether they may keep every margin; shape of ``rows`` is (n, levers)."""
    if not len(rows):
        return []
    gaps = now[0] + moved[rows].sum(axis=1)
    keeps = (gaps - now[1]).min(axis=1) >= -SUM_ERROR_MM
    clears = gaps.min(axis=1) >= -SUM_ERROR_MM if touches else keeps
    return [(rows[k], bool(keeps[k])) for k in np.nonzero(keeps | clears)[0]]


def _answer(axle: Axle, before: Verdict, changes: Changes, trials: _Trials) -> Remedy | None:
    """Judge a remedy whole; None when it still touches, or makes another judgement worse."""
    changed = apply(trials.candidate, changes, trials.tyres)
    if changed is None:
        return None
    after = judge(axle, changed, trials.tolerances)
    gaps = [j for j in after.judgements if j.code.startswith("gap.") and j.value is not None]
    if any(j.state == "hit" for j in gaps):
        return None
    was = {(j.code, j.where): j for j in before.judgements}
    for judged in after.judgements:
        old = was.get((judged.code, judged.where))
        if (
            not judged.code.startswith("gap.")
            and old is not None
            and ORDER.index(judged.state) < ORDER.index(old.state)
            and judged.state == "hit"
        ):
            return None
    by_code = {lever.code: lever for lever in LEVERS}
    takes = " and ".join(dict.fromkeys(by_code[code].takes for code, _ in changes))
    clear = all(_kept(j) for j in gaps)
    return Remedy(
        _title(changes, trials),
        changes,
        changed,
        clear,
        effort(changes),
        takes,
        after.tightest,
        _consequences(before, after, changed, trials),
        _gives_away_mm(was, gaps),
        all(j.state == "clear" for j in gaps) and all(_kept(j, True) for j in gaps),
    )


def _gives_away_mm(was: dict[tuple[str, str], Judgement], gaps: Sequence[Judgement]) -> float:
    """Margin lost at gaps that had some to lose: from what they had, down to nothing at the least [mm]."""
    lost = 0.0
    for judged in gaps:
        old = was.get((judged.code, judged.where))
        if old is not None and old.margin is not None and judged.margin is not None:
            lost += max(0.0, max(old.margin, 0.0) - max(judged.margin, 0.0))
    return lost


def _title(changes: Sequence[tuple[str, float]], trials: _Trials) -> str:
    fitted = trials.candidate.fitted
    words = []
    for code, amount in changes:
        words.append(
            {
                "offset": f"offset {(fitted.wheel.offset_mm or 0.0) + amount:+g}".replace("-", "−"),
                "width": f"{fitted.wheel.width_in + amount:g} in wide",
                "spacer": f"{amount:g} mm spacer",
                "camber": f"camber {fitted.camber_deg + amount:.1f}°".replace("-", "−"),
                "tyre": trials.tyres[int(amount) - 1].size if code == "tyre" else "",
                "raise": f"{amount:g} mm higher",
                "lock": f"{amount:g}° less lock",
                "lip": f"lip rolled {amount:g} mm",
            }[code]
        )
    return ", ".join(words)


def _consequences(before: Verdict, after: Verdict, changed: Candidate, trials: _Trials) -> tuple[str, ...]:
    """What else moves: the tightest gaps, thread, track, speed."""
    was = {(j.code, j.where): j for j in before.judgements}
    moved = []
    for judged in after.judgements:
        old = was.get((judged.code, judged.where))
        if old is None or judged.value is None or old.value is None or abs(judged.value - old.value) < 0.05:
            continue
        if judged.code.startswith("gap."):
            moved.append(
                (judged.margin or 0.0, f"{judged.where}, {judged.name.lower()}: {old.value:.1f} → {judged.value:.1f} mm ({judged.state})")
            )
        else:
            moved.append((-99.0 if judged.state != "clear" else 50.0, f"{judged.name.lower()}: {judged.reason}"))
    said = [text for _, text in sorted(moved, key=lambda one: one[0])[:3]]
    centre = changed.fitted.centre_mm - trials.candidate.fitted.centre_mm
    if abs(centre) >= 0.5:
        said.append(f"track {2 * centre:+.0f} mm, scrub radius {centre:+.0f} mm, bearing lever {centre:+.0f} mm".replace("-", "−"))
    less = changed.lock_limit_deg - trials.candidate.lock_limit_deg
    if less > 0:
        said.append(lock_text(trials.axle.stop_motion, changed.lock_limit_deg))
    height = (changed.fitted.tyre.diameter_mm - trials.candidate.fitted.tyre.diameter_mm) / 2
    if abs(height) >= 0.5:
        said.append(
            f"{height:+.0f} mm under the car, speed {200 * height / trials.candidate.fitted.tyre.diameter_mm:+.1f} %".replace("-", "−")
        )
    return tuple(text.replace(" -", " −") for text in said)
