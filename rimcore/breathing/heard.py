"""What is judged of recordings: the level against one's own limit, and a drone."""

from __future__ import annotations

from dataclasses import replace

from rimcore.breathing.spectra import TONE_DB, Heard, drone
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: a tone that stands so far over its surroundings is a hit [dB]; closer to a limit than this is tight [dB] (common
#: practice)
DRONE_HIT_DB, NEAR_DB = 20.0, 2.0


def judge_level(heard: Heard | None, limit_db: float | None, inputs: tuple[InputUsed, ...] = ()) -> Judgement:
    """The A-weighted level against a limit of one's own; unmeasured where nothing calibrates the file.

    Source: A-weighted level as in IEC 61672-1:2013; the limit is the person's own.

    Parameters
    ----------
    heard : the recording; None where there is none
    limit_db : A-weighted; None where none is set [dB]
    inputs : what was read, for the figure's formula

    >>> judge_level(None, 95.0).state
    'unmeasured'
    """
    code, name = "sound.level", "Level against the limit"
    level = heard.absolute_a_db() if heard is not None else None
    if heard is None or level is None or limit_db is None:
        what = (
            "no recording"
            if heard is None
            else "no sound-meter reading to scale it by: no meter read beside it"
            if level is None
            else "no limit is said"
        )
        return unmeasured(
            code,
            name,
            what,
            ["sound"],
            ["read a meter at the same place and time", "record the limit of the place"],
        )
    margin = limit_db - level
    state: State = "hit" if margin < 0 else "tight" if margin < NEAR_DB or heard.faults else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{level:.1f} dB(A), {limit_db:g} allowed" + "".join(f"; {fault}" for fault in heard.faults),
        "the person's own limit; A-weighting by IEC 61672-1",
        value=level,
        unit="dB(A)",
        held_against=limit_db,
        margin=margin,
        inputs=inputs,
        remedies=() if state == "clear" else ("more silencer",),
    )


def as_it_stood(found: Judgement) -> Judgement:
    """Judged of a recording from before the change alone: what is clear there says nothing of the car with its change.

    >>> as_it_stood(Judgement("x", "X", "clear", "quiet", COMMON_PRACTICE)).state
    'unmeasured'
    """
    if found.state == "unmeasured":
        return found
    state: State = "unmeasured" if found.state == "clear" else found.state
    remedies = ("record it after the change, same recorder, same place", *found.remedies)
    return replace(found, state=state, reason=f"as first recorded before the change: {found.reason}", remedies=remedies)


def judge_drone(heard: Heard | None, before: Heard | None, inputs: tuple[InputUsed, ...] = ()) -> Judgement:
    """A tone of 40 to 200 Hz at cruise: ``tight`` from 10 dB over its surroundings, ``hit`` from 20.

    >>> judge_drone(None, None).state
    'unmeasured'
    """
    code, name = "sound.drone", "Drone at cruise"
    if heard is None:
        return unmeasured(
            code,
            name,
            "no recording of the car with its change",
            ["sound"],
            ["record a cruise, same recorder, same place"],
        )
    found, then = drone(heard), drone(before) if before is not None else None
    told = "".join(f"; {fault}" for fault in heard.faults)
    if found is None:
        return Judgement(
            code,
            name,
            "unmeasured" if heard.faults else "clear",
            f"no tone of 40 to 200 Hz stands {TONE_DB:g} dB over its surroundings{told}",
            COMMON_PRACTICE,
            inputs=inputs,
        )
    state: State = "hit" if found.over_db >= DRONE_HIT_DB else "tight"
    against = (
        f"; before {then.over_db:.0f} dB at {then.hz:.0f} Hz"
        if then is not None
        else "; before there was none"
        if before is not None
        else ""
    )
    return Judgement(
        code,
        name,
        state,
        f"{found.hz:.0f} Hz stands {found.over_db:.0f} dB over its surroundings{against}{told}",
        f"{COMMON_PRACTICE}: from {TONE_DB:g} dB it is heard as a tone",
        value=found.over_db,
        unit="dB",
        held_against=TONE_DB,
        margin=TONE_DB - found.over_db,
        before=then.over_db if then is not None else None,
        inputs=inputs,
        remedies=(
            "a quarter-wave side pipe of that frequency",
            "another silencer ahead of the axle",
            "another cruise speed or gear",
        ),
    )
