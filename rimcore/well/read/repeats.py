"""How good is a rule in one's own hand: scatter of readings that were repeated at one place."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.special import stdtrit

from rimcore.quantities.judgement import InputUsed, Judgement, State, unmeasured

#: repeats beyond the first of each place that say enough (common practice)
ENOUGH = 5


#: times the stated ± beyond which a rule scatters more than is taken for it, and below which it is better (common
#: practice)
WORSE, BETTER = 1.25, 0.6


@dataclass(frozen=True)
class Scatter:
    """Pooled scatter of repeated readings.

    Places, degrees of freedom, standard deviation, and the ± of one reading (95 %).
    """

    places: int
    freedom: int
    deviation: float
    doubt: float


def scatter(sets: Sequence[Sequence[float]]) -> Scatter | None:
    """Scatter of readings from several places, each read more than once; None without a repeat.

    s² = Σ(nᵢ − 1)sᵢ² ÷ Σ(nᵢ − 1), ± = t(0.975, Σ(nᵢ − 1)) · s.

    Source: JCGM 100:2008 (GUM), pooled variance 4.2.4 and H.3.6 by analogy, coverage G.3.

    Parameters
    ----------
    sets : readings of one place each, in one unit

    >>> found = scatter([[10.0, 11.0], [20.0, 20.0, 23.0]])
    >>> found.places, found.freedom, round(found.deviation, 4)
    (2, 3, 1.472)
    """
    repeated = [each for each in sets if len(each) > 1]
    freedom = sum(len(each) - 1 for each in repeated)
    if freedom == 0:
        return None
    squares = 0.0
    for each in repeated:
        mean = sum(each) / len(each)
        squares += sum((value - mean) ** 2 for value in each)
    deviation = math.sqrt(squares / freedom)
    return Scatter(len(repeated), freedom, deviation, float(stdtrit(freedom, 0.975)) * deviation)


def judge_method(name: str, stated_mm: float, found: Scatter | None) -> Judgement:
    """A method in one's own hand against the ± that is taken for it.

    Source: repeatability, JCGM 200:2012, 2.21.

    Parameters
    ----------
    name : of the method
    stated_mm : ± that is taken for it, over 0 [mm]
    found : scatter of repeated readings; None where not done

    >>> judge_method("rule or tape", 1.0, scatter([[10.0, 10.5, 10.2, 10.1, 10.4, 10.3]])).state
    'clear'
    """
    code = "method"
    if found is None or found.freedom < ENOUGH:
        have = 0 if found is None else found.freedom
        reason = f"{have} repeat{'' if have == 1 else 's'}; {ENOUGH} say something"
        return unmeasured(code, name, reason, ["repeats"], ["read one place several times, parted by semicolons"])
    share = found.doubt / stated_mm
    state: State = "tight" if share > WORSE else "clear"
    words = (
        "scatters more than is taken for it"
        if share > WORSE
        else "better than is taken for it"
        if share < BETTER
        else "as good as is taken for it"
    )
    return Judgement(
        code,
        name,
        state,
        f"± {found.doubt:.2f} mm in your hand; {words}",
        "JCGM 100:2008 (GUM), your own repeats",
        value=found.doubt,
        unit="mm",
        held_against=stated_mm,
        margin=stated_mm - found.doubt,
        formula=f"t(0.975, {found.freedom}) × s = {found.doubt / found.deviation if found.deviation else 0:.2f} × {found.deviation:.3f} mm",
        inputs=(
            InputUsed("places", str(found.places), "your readings"),
            InputUsed("repeats", str(found.freedom), "your readings"),
        ),
        remedies=("use your own ± from now on",) if state != "clear" else (),
    )
