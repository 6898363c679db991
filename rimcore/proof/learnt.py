"""What a person's own predictions taught: a ± that was too small is widened, one that leans is put right, and it is said."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from rimcore.proof.honesty import FEW, Honesty
from rimcore.proof.promised import kind_of
from rimcore.quantities.judgement import InputUsed, Judgement, state_of_gap

#: no ± is made wider than this many times: more says that something else is wrong (a convention of this program)
WIDEST = 5.0


@dataclass(frozen=True)
class Own:
    """Of one kind: how many predictions were held, by what the ± is widened, what is added to the figure."""

    n: int
    widen: float
    #: in the core's unit of the kind
    add: float
    #: the day up to which they were counted, ISO
    until: str
    #: of the cars that come with the program, until there are enough of one's own
    pooled: bool = False

    @property
    def words(self) -> str:
        """What was done, for the figure.

        >>> Own(9, 2.1, -1.5, "2027-05-01").words
        '± 2.1 times as wide, −1.5 added: your own 9 predictions of this kind'
        """
        done = [f"± {self.widen:.1f} times as wide"] if self.widen > 1.0 else []
        done += [f"{self.add:+.3g} added".replace("-", "−")] if self.add else []
        whose = (
            f"{self.n} predictions on the demo's cars, until you have {FEW}"
            if self.pooled
            else f"your own {self.n} predictions"
        )
        return f"{', '.join(done)}: {whose} of this kind"

    @property
    def teaches(self) -> bool:
        """Does it do anything to a figure?"""
        return self.widen > 1.0 or self.add != 0.0


def own_of(found: Honesty, until: str) -> Own | None:
    """What is taken from a kind's honesty; None where nothing is: too few, honest, or too careful (which is only told).

    Parameters
    ----------
    found : of one kind
    until : the day, ISO

    Source: ``honesty_of``; what is too careful stays.

    >>> own_of(Honesty(9, bias=0.1, verdict="too sure", widen_by=2.1), "2027-05-01")
    Own(n=9, widen=2.1, add=0.0, until='2027-05-01', pooled=False)
    >>> own_of(Honesty(9, verdict="honest"), "2027-05-01") is None
    True
    """
    widen = min(WIDEST, max(1.0, found.widen_by))
    add = found.bias or 0.0 if found.verdict == "leaning" else 0.0
    return Own(found.n, round(widen, 3), round(add, 4), until) if widen > 1.0 or add else None


def counted(found: Honesty, until: str) -> Own | None:
    """What a kind taught, also where that is nothing: with enough of one's own, other people's don't count any more.

    Parameters
    ----------
    found : of one kind
    until : the day, ISO

    Source: ``own_of``.

    >>> counted(Honesty(9, verdict="honest"), "2027-05-01").teaches, counted(Honesty(4), "2027-05-01")
    (False, None)
    """
    return own_of(found, until) or (Own(found.n, 1.0, 0.0, until) if found.n >= FEW else None)


def owns_with(owns: Mapping[str, Own], pooled: Mapping[str, Honesty], until: str = "") -> dict[str, Own]:
    """One's own by kind, and for the other kinds the ± that predictions on the demo's cars widened.

    How far those lean is a matter of those cars and is not taken over.

    Parameters
    ----------
    owns : one's own, by the code of the kind
    pooled : what was found on the demo's cars
    until : the day of those, ISO

    Source: none; a convention of this program.

    >>> owns_with({}, {"gap.": Honesty(11, verdict="too sure", widen_by=1.5)})["gap."].words
    "± 1.5 times as wide: 11 predictions on the demo's cars, until you have 5 of this kind"
    """
    others = {
        code: Own(one.n, round(min(WIDEST, one.widen_by), 3), 0.0, until, pooled=True)
        for code, one in pooled.items()
        if code not in owns and one.widen_by > 1.0
    }
    return {**others, **owns}


def honestly(judged: Judgement, owns: Mapping[str, Own]) -> Judgement:
    """A figure as one's own predictions of its kind taught: value, ±, margin and state; what is no such kind stays.

    Done once: what was taught already stays. A gap that nobody measured stays unmeasured. What was clear may turn tight by its wider ±, never the other way round
    by the ± alone.

    Parameters
    ----------
    owns : by the code of the kind

    Source: ``own_of``; states as ``state_of_gap``.

    >>> gap = Judgement("gap.damper", "Damper", "clear", "6 mm", "read", 6.0, "mm", 5.0, 1.0, uncertainty=0.5)
    >>> wide = honestly(gap, {"gap.": Own(9, 3.0, 0.0, "2027-05-01")})
    >>> wide.state, wide.uncertainty
    ('tight', 1.5)
    """
    try:
        kind = kind_of(judged.code)
    except LookupError:
        return judged
    own = owns.get(kind.code)
    if (
        own is None
        or not own.teaches
        or judged.taught is not None
        or judged.value is None
        or judged.uncertainty is None
    ):
        return judged
    value, doubt = judged.value + own.add, judged.uncertainty * own.widen
    margin = None if judged.margin is None else judged.margin + own.add
    state = judged.state
    if kind.code == "gap." and judged.held_against is not None and state != "unmeasured" and judged.usual is None:
        state = state_of_gap(value, judged.held_against, doubt)
    return replace(
        judged,
        value=value,
        reads=None if judged.reads is None else judged.reads + own.add,
        uncertainty=doubt,
        margin=margin,
        state=state,
        taught=(own.widen, own.add),
        reason=f"{judged.reason}; {own.words}",
        inputs=(*judged.inputs, InputUsed("what predictions of this kind taught", own.words, "Prove", own.until)),
    )


def as_worked_out(judged: Judgement) -> tuple[float | None, float | None]:
    """Value and ± before one's own predictions did anything to them: that is what the next ones are learnt from.

    Parameters
    ----------
    judged : as it was said

    Source: ``honestly``, turned round. Learning from what was widened would narrow it again.

    >>> gap = Judgement("gap.damper", "Damper", "clear", "6 mm", "read", value=6.0, uncertainty=0.5)
    >>> as_worked_out(honestly(gap, {"gap.": Own(9, 3.0, 1.0, "2027-05-01")}))
    (6.0, 0.5)
    """
    widen, add = judged.taught or (1.0, 0.0)
    value = None if judged.value is None else judged.value - add
    return value, None if judged.uncertainty is None else judged.uncertainty / widen
