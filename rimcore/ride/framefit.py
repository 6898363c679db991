"""A bolt or a damper that leans towards the frame after other arms.

What has to come away before the plate goes back.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: room that is left beyond the plate that goes back [mm] (common practice: 4 to 5 mm)
ROOM_MM, LEAST_MM = 5.0, 4.0


@dataclass(frozen=True)
class Trial:
    """One trial at one corner: gaps at full bump and full droop [mm].

    Below zero it touches before the end of the stroke; None not tried.

    ``again`` says that it was tried after the metal was taken away, before anything was welded.
    """

    what: str
    where: str
    bump_mm: float | None
    droop_mm: float | None
    plate_mm: float
    again: bool = False
    inputs: tuple[InputUsed, ...] = ()

    @property
    def least_mm(self) -> float | None:
        """The smaller gap; None until both ends of the stroke were tried."""
        return None if self.bump_mm is None or self.droop_mm is None else min(self.bump_mm, self.droop_mm)

    @property
    def wanted_mm(self) -> float:
        """Room that is wanted of the bare metal: the plate that goes back and 5 mm.

        >>> Trial("toe bolt", "rear left", 3.0, 9.0, 2.0).wanted_mm
        7.0
        """
        return self.plate_mm + ROOM_MM

    @property
    def away_mm(self) -> float | None:
        """What has to come away [mm].

        >>> Trial("toe bolt", "rear left", 3.0, 9.0, 2.0).away_mm
        4.0
        """
        return None if self.least_mm is None else max(0.0, self.wanted_mm - self.least_mm)


def judge_trial(one: Trial) -> Judgement:
    """Room after the plate; never clear before it was tried again.

    >>> judge_trial(Trial("toe bolt", "rear left", 7.0, 9.0, 2.0, True)).state
    'clear'
    """
    code, name = "frame.room", f"{one.what}, {one.where}"
    least, away = one.least_mm, one.away_mm
    if least is None or away is None:
        return unmeasured(
            code,
            name,
            "tried at one end of the stroke only",
            ["frame"],
            ["jack it to full bump, let it hang to full droop"],
        )
    left = least - one.plate_mm
    state: State = "hit" if left < 0 else "tight" if left < LEAST_MM else "clear"
    reason = f"{left:.1f} mm left with the plate of {one.plate_mm:g}" + (
        f": {away:.1f} mm have to come away" if away else ""
    )
    if state == "clear" and not one.again:
        state, reason = "unmeasured", f"{reason}; tried once: try it again before anything is welded"
    return Judgement(
        code,
        name,
        state,
        reason,
        f"{COMMON_PRACTICE}: the plate that goes back and 4 to 5 mm",
        value=left,
        unit="mm",
        held_against=ROOM_MM,
        margin=left - ROOM_MM,
        where=one.where,
        formula=f"least of bump and droop − plate = {least:g} − {one.plate_mm:g} = {left:g} mm".replace("-", "−"),
        inputs=one.inputs,
        remedies=()
        if state == "clear"
        else (f"take {away:.1f} mm away here and try again",)
        if away
        else ("try it again",),
    )


def judge_frame_fit(trials: Sequence[Trial]) -> tuple[Judgement, ...]:
    """The newest trial of each thing at each corner; left and right stand for themselves."""
    newest: dict[tuple[str, str], Trial] = {}
    for one in trials:
        newest.setdefault((one.what.strip().lower(), one.where), one)
    return tuple(judge_trial(one) for one in newest.values())
