"""What a comparison says, in words: real or scatter, worth it or not, and what was different besides the parts."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rimcore.proof.change import Asked, Change, change_of
from rimcore.proof.strip import step_of

#: runs a side from which figures that are all the same can show a change
ENOUGH = 3


@dataclass(frozen=True)
class Verdict:
    """A change with its sentence; ``shown`` is None where the runs can't tell."""

    change: Change
    sentence: str
    shown: bool | None


def verdict_of(asked: Asked, unit: str = "") -> Verdict:
    """Compare, and say it. Figures that are all the same show a change from three a side on.

    Parameters
    ----------
    asked : runs of both sides; its ``resolution`` is taken from the figures where it is not given

    Source: ``change_of``; the step of reading by JCGM 100:2008, F.2.2.1.

    >>> verdict_of(Asked((10.0, 10.2, 9.8), (9.0, 9.1, 8.9)), "s").sentence
    'proven: 95 % interval −1.42 to −0.58 s'
    >>> verdict_of(Asked((10.0, 10.0), (10.1, 10.1))).shown is None
    True
    """
    if asked.resolution is None and asked.design == "unpaired" and not asked.covariates:
        asked = replace(asked, resolution=step_of([*asked.before, *asked.after]))
    found = change_of(asked)
    fewest = min(len(asked.before), len(asked.after))
    still = all(len(set(side)) == 1 for side in (asked.before, asked.after))
    shown = None if still and fewest < ENOUGH else found.real
    return Verdict(found, _sentence(found, shown, fewest, unit), shown)


def _sentence(found: Change, shown: bool | None, fewest: int, unit: str) -> str:
    if shown is None or found.low is None or found.high is None:
        if fewest < 2:
            return "one run on a side shows nothing; repeat it at least three times"
        if found.warnings and found.change is None:
            return found.warnings[0]
        if found.df == 0.0:
            return "too few runs for what is to be told apart; take more of each"
        return (
            "all runs of a side read the same: that does not tell how well it repeats; take at least three a side, "
            "and read finer"
        )
    span = f"{figure(found.low)} to {figure(found.high)} {unit}".strip()
    if shown:
        return f"proven: 95 % interval {span}"
    runs = found.runs_for
    more = f"; about {runs} runs before and {runs} after would settle it" if runs else ""
    return f"not proven: runs vary more than the change, {span}{more}"


def figure(value: float) -> str:
    """A figure with as many places as it is worth.

    >>> figure(-1.4249), figure(312.4)
    ('−1.42', '312')
    """
    places = 0 if abs(value) >= 100 else 1 if abs(value) >= 10 else 2
    return f"{value:.{places}f}".replace("-", "−")


def tone_of(verdict: Verdict, better: str) -> str:
    """State of a change: ``clear`` real and better, ``tight`` real and worse, ``unmeasured`` not shown.

    Parameters
    ----------
    better : less, more, or neither

    >>> tone_of(verdict_of(Asked((10.0, 10.2, 9.8), (9.0, 9.1, 8.9))), "less")
    'clear'
    """
    change = verdict.change.change
    if not verdict.shown or change is None or better not in ("less", "more"):
        return "unmeasured"
    return "clear" if (change < 0) == (better == "less") else "tight"


#: what is said of a change against the smallest one worth having
WORTH = {
    "yes": "worth it: all of the interval is beyond the smallest change worth having",
    "no": "not worth it: all of the interval is short of the smallest change worth having",
    "open": "open: the interval reaches to both sides of the smallest change worth having",
}


def cost_of_one(cost: float | None, change: float | None) -> float | None:
    """Money for one unit of what was shown; None without a cost or a change.

    Parameters
    ----------
    cost : 0 or more
    change : in the unit of the series

    Source: none; a quotient.

    >>> cost_of_one(450.0, -1.5)
    300.0
    """
    return None if not cost or not change else cost / abs(change)
