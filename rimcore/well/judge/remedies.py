"""Remedies: the smallest changes that clear a build, over the levers a person has, and what each gives away."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.judgement import ORDER, Judgement
from rimcore.well.judge.fitment import Verdict, judge
from rimcore.well.judge.ranges import lock_text
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.trials import LEVERS, MOST_TRIES, SUM_ERROR_MM, Changes, Lever, Trials, apply, kept, neighbours
from rimcore.well.read.measured import Axle, Candidate

Array = NDArray[np.float64]


#: combinations shown
MOST_TOGETHER = 2


#: remedies shown
MOST_SHOWN = 6


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


@lru_cache(maxsize=24)
def remedies(
    axle: Axle, candidate: Candidate, tolerances: Tolerances, listed: tuple[str, ...] = ()
) -> tuple[Remedy, ...]:
    """Smallest changes that clear a candidate, cheapest first; empty when nothing is hit or tight.

    A gap that is tight only by its ± has remedies too: they keep the margin with all of it. Each lever is tried alone
    through all its amounts. For combinations of two and three, what each change
    does to every gap is added up, which a small change obeys to about ``SUM_ERROR_MM``; those that the
    sum lets through are tried in earnest, cheapest first. Every answer is judged whole before it is
    shown, and none that another judgement forbids is among them.

    Parameters
    ----------
    listed : tyre sizes on the person's shortlist
    """
    before = judge(axle, candidate, tolerances)
    tyres = neighbours(candidate.fitted.tyre, listed)
    trials = Trials(axle, candidate, tolerances, tyres)
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


def _alone(lever: Lever, trials: Trials, start: tuple[float, float]) -> list[Changes]:
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

    Source: effort of each lever is this program's own, from memory.

    Parameters
    ----------
    changes : each (lever, amount)

    >>> effort((("offset", -3.0), ("width", -0.5))) < effort((("offset", -3.0),)) + effort((("width", -0.5),))
    True
    """
    by_code = {lever.code: lever for lever in LEVERS}
    total = sum(
        (list(by_code[code].amounts).index(amount) + 1) * by_code[code].effort_a_step for code, amount in changes
    )
    bases = {by_code[code].takes: by_code[code].base_effort for code, _ in changes}
    return total + sum(bases.values())


def _together(trials: Trials, start: tuple[float, float]) -> list[Changes]:
    """The cheapest combinations that keep every margin, of different levers.

    Failing that, one that stops every contact.
    """
    now = trials.gaps(())
    singles = [
        (lever.code, amount, got)
        for lever in LEVERS
        for amount in lever.amounts
        if (got := trials.gaps(((lever.code, amount),)))
    ]
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


def _hopeful(
    known: list[tuple[str, float, tuple[Array, Array]]], moved: Array, now: tuple[Array, Array], touches: bool
) -> list[Changes]:
    """Combinations that the sum of their single changes lets through, cheapest first.

    Those that keep margins before those that only clear.
    """
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


def _let_through(
    rows: NDArray[np.intp], moved: Array, now: tuple[Array, Array], touches: bool
) -> list[tuple[NDArray[np.intp], bool]]:
    """Rows of changes whose summed gaps may do, and whether they may keep every margin.

    Shape of ``rows`` is (n, levers).
    """
    if not len(rows):
        return []
    gaps = now[0] + moved[rows].sum(axis=1)
    keeps = (gaps - now[1]).min(axis=1) >= -SUM_ERROR_MM
    clears = gaps.min(axis=1) >= -SUM_ERROR_MM if touches else keeps
    return [(rows[k], bool(keeps[k])) for k in np.nonzero(keeps | clears)[0]]


def _answer(axle: Axle, before: Verdict, changes: Changes, trials: Trials) -> Remedy | None:
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
    clear = all(kept(j) for j in gaps)
    return Remedy(
        title=_title(changes, trials),
        changes=changes,
        candidate=changed,
        clear=clear,
        effort=effort(changes),
        takes=takes,
        tightest=after.tightest,
        consequences=_consequences(before, after, changed, trials),
        gives_away_mm=_gives_away_mm(was, gaps),
        sure=all(j.state == "clear" for j in gaps) and all(kept(j, True) for j in gaps),
    )


def _gives_away_mm(was: dict[tuple[str, str], Judgement], gaps: Sequence[Judgement]) -> float:
    """Margin lost at gaps that had some to lose: from what they had, down to nothing at the least [mm]."""
    lost = 0.0
    for judged in gaps:
        old = was.get((judged.code, judged.where))
        if old is not None and old.margin is not None and judged.margin is not None:
            lost += max(0.0, max(old.margin, 0.0) - max(judged.margin, 0.0))
    return lost


def _title(changes: Sequence[tuple[str, float]], trials: Trials) -> str:
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


def _consequences(before: Verdict, after: Verdict, changed: Candidate, trials: Trials) -> tuple[str, ...]:
    """What else moves: the tightest gaps, thread, track, speed."""
    was = {(j.code, j.where): j for j in before.judgements}
    moved = []
    for judged in after.judgements:
        old = was.get((judged.code, judged.where))
        if old is None or judged.value is None or old.value is None or abs(judged.value - old.value) < 0.05:
            continue
        if judged.code.startswith("gap."):
            moved.append(
                (
                    judged.margin or 0.0,
                    f"{judged.where}, {judged.name.lower()}: {old.value:.1f} → {judged.value:.1f} mm ({judged.state})",
                )
            )
        else:
            moved.append((-99.0 if judged.state != "clear" else 50.0, f"{judged.name.lower()}: {judged.reason}"))
    said = [text for _, text in sorted(moved, key=lambda one: one[0])[:3]]
    centre = changed.fitted.centre_mm - trials.candidate.fitted.centre_mm
    if abs(centre) >= 0.5:
        said.append(
            f"track {2 * centre:+.0f} mm, scrub radius {centre:+.0f} mm, bearing lever {centre:+.0f} mm".replace(
                "-", "−"
            )
        )
    less = changed.levers.lock_limit_deg - trials.candidate.levers.lock_limit_deg
    if less > 0:
        said.append(lock_text(trials.axle.stop_motion, changed.levers.lock_limit_deg))
    height = (changed.fitted.tyre.diameter_mm - trials.candidate.fitted.tyre.diameter_mm) / 2
    if abs(height) >= 0.5:
        said.append(
            f"{height:+.0f} mm under the car, speed {200 * height / trials.candidate.fitted.tyre.diameter_mm:+.1f} %".replace(
                "-", "−"
            )
        )
    return tuple(text.replace(" -", " −") for text in said)
