"""The geometry and corner weight benches, as declared, and what they judge."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np

from rimcore.quantities.declared import Bench, Lever
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, OWN_MEASUREMENT, InputUsed, Judgement, State, unmeasured
from rimcore.ride.curves import curves
from rimcore.ride.plumb import Banded, Read, words
from rimcore.ride.weights import Pads

GEOMETRY = Bench(
    "geometry",
    "Geometry",
    "camber, toe, caster and roll centre over travel, from hard points read with a plumb line",
    (),
    ("bump", "droop", "camber", "camber_bump", "toe_bump"),
    ("kinematics",),
)

EVEN_WEIGHTS = Lever(
    "even_weights",
    "Corner weights evened on pads",
    default=False,
    places=("",),
    help="after the height is set; the alignment is looked at again",
)
WEIGHTS = Bench(
    "weights",
    "Corner weights",
    "four pads, the cross weight, and which collar by how many turns",
    (EVEN_WEIGHTS,),
    ("corner_mass",),
    ("corner-weights", "centre-of-gravity"),
)

#: cross weight off its target [%]: within the first it is even, within the second nearly (common practice, from memory)
EVEN_PCT, NEARLY_PCT = 0.5, 1.0
#: what the pads may differ from the axle loads that were written for the car before somebody has to look [share]
AXLE_SHARE = 0.05


def cross_uncertainty_pct(pads: Pads, each_kg: float) -> float:
    """± of the cross weight from the ± of each pad, added as squares [%].

    >>> round(cross_uncertainty_pct(Pads(300, 300, 200, 200), 0.5), 3)
    0.05
    """
    share = pads.cross_pct / 100
    return 100 * each_kg * math.sqrt(2 * (1 - share) ** 2 + 2 * share**2) / pads.total_kg


def judge_cross(
    pads: Pads | None, each_kg: float = 0.5, target_pct: float = 50.0, inputs: Sequence[InputUsed] = ()
) -> Judgement:
    """Is the cross weight at its target? The pads' ± counts.

    >>> judge_cross(Pads(352, 338, 261, 289)).reason
    '48.3 % ± 0.04 % across front right and rear left; 50 % wanted'
    """
    code, name = "weights.cross", "Cross weight"
    if pads is None:
        return unmeasured(
            code, name, "the four corners are not weighed", ["corner_mass"], ["put all four wheels on pads"]
        )
    doubt = cross_uncertainty_pct(pads, each_kg)
    off = abs(pads.cross_pct - target_pct)
    state: State = "clear" if off + doubt <= EVEN_PCT else "hit" if off - doubt > NEARLY_PCT else "tight"
    return Judgement(
        code,
        name,
        state,
        f"{pads.cross_pct:.1f} % ± {doubt:.2f} % across front right and rear left; {target_pct:g} % wanted",
        f"{COMMON_PRACTICE}, from memory: within {EVEN_PCT:g} %",
        value=pads.cross_pct,
        unit="%",
        held_against=target_pct,
        margin=EVEN_PCT - off,
        uncertainty=doubt,
        formula=f"100 × ({pads.fr:g} + {pads.rl:g}) ÷ {pads.total_kg:g} = {pads.cross_pct:.2f} %",
        inputs=tuple(inputs),
        remedies=() if state == "clear" else ("turn the perches as the sheet says, and weigh again",),
    )


def odd_axle(pads: Pads, front_kg: float | None, rear_kg: float | None) -> str:
    """What of four pads does not agree with the axle loads of the car's data, in words; empty where it does.

    >>> odd_axle(Pads(300, 300, 200, 200), 700, 400)
    'the front pads add up to 600 kg, the car is written with 700 kg'
    """
    for name, sum_kg, wanted in (("front", pads.fl + pads.fr, front_kg), ("rear", pads.rl + pads.rr, rear_kg)):
        if wanted is not None and abs(sum_kg - wanted) > AXLE_SHARE * wanted:
            return f"the {name} pads add up to {sum_kg:g} kg, the car is written with {wanted:g} kg"
    return ""


#: how far the wheel moves for bump steer [mm], and the toe it may change by [deg] (common practice, from memory)
BUMP_STEER_OVER_MM, BUMP_STEER_DEG = 25.0, 0.15
#: how far a joint is tried up and down for the slope, and the farthest that is still proposed [mm]
TRIED_MM, MOST_CURE_MM = 3.0, 40.0


def unread(name: str, read: Read | None, corner: str) -> Judgement:
    """The judgement of a corner whose points are not all there."""
    what = f"{corner}: hard points not read"
    if read is not None and read.readings:
        what = f"{corner}: {len(read.missing)} point{'' if len(read.missing) == 1 else 's'} not read"
    missing = ["hard points"] if read is None else [words(read.layout, one) for one in read.missing]
    return unmeasured(f"geometry.{name}", NAMES[name], what, missing, ["read the hard points with a plumb line"])


NAMES = {"reach": "Links over the whole travel", "bump_steer": "Toe over bump"}


def judge_reach(
    found: Banded, droop_mm: float | None, bump_mm: float | None, where: str, inputs: Sequence[InputUsed] = ()
) -> Judgement:
    """Do the links reach from full droop to the bump stop?

    Parameters
    ----------
    found : curves whose travel spans droop and bump
    droop_mm, bump_mm : travel each way; None is not measured
    """
    code, name = "geometry.reach", NAMES["reach"]
    if droop_mm is None or bump_mm is None:
        what = "bump" if bump_mm is None else "droop"
        return unmeasured(
            code, name, f"{where}: the travel in {what} is not measured", [what], [f"measure the {what} left"]
        )
    travel = found.curves.travel_mm
    inside = (travel >= -droop_mm - 1e-9) & (travel <= bump_mm + 1e-9)
    lost = travel[inside & ~found.curves.reached]
    far = f"−{droop_mm:g} to +{bump_mm:g} mm"
    if len(lost):
        first = lost[np.argmin(np.abs(lost))]
        reason = f"{where}: past {first:+.0f} mm of travel the links go over centre or out of reach".replace("-", "−")
        return Judgement(
            code,
            name,
            "hit",
            reason,
            OWN_MEASUREMENT,
            value=float(abs(first)),
            unit="mm",
            inputs=tuple(inputs),
            where=where,
            remedies=("read the points again", "limit the travel"),
        )
    state: State = "tight" if found.lost else "clear"
    words_ = f"{where}: reached from {far}" + (f"; {found.lost} of the draws within ± are not" if found.lost else "")
    return Judgement(
        code, name, state, words_, OWN_MEASUREMENT, inputs=tuple(inputs), where=where, formula=f"links held over {far}"
    )


@lru_cache(maxsize=32)
def rod_for_no_bump_steer_mm(read: Read, at_mm: float) -> float | None:
    """How far the steered rod's inner joint would have to go up so that toe does not change over 25 mm of bump [mm].

    By the slope of the toe change for 3 mm up and down; None where the links don't reach, or the joint changes nothing.
    The rod gets the length that keeps toe as it stands.
    """
    ends = (at_mm, at_mm + BUMP_STEER_OVER_MM)

    def change(up_mm: float) -> float:
        moved = replace(read, rack_mm=(read.rack_mm[0], read.rack_mm[1] + up_mm, *read.rack_mm[2:]))
        toe = curves(moved.hard_points(), ends).toe_deg
        return float(toe[1] - toe[0])

    try:
        now, up, down = change(0.0), change(TRIED_MM), change(-TRIED_MM)
    except BadInput:
        return None
    slope = (up - down) / (2 * TRIED_MM)
    return -now / slope if np.isfinite([now, up, down]).all() and abs(slope) > 1e-6 else None


def change_over_bump(found: Banded, figure: str, at_mm: float) -> tuple[float, float] | None:
    """What 25 mm of bump from a height does to a figure, and the ± that the readings leave of it.

    None where it is not reached.

    Parameters
    ----------
    figure : ``camber_deg`` or ``toe_deg`` [deg]
    at_mm : the height, against the one at which the points were read [mm]
    """
    travel, ends = found.curves.travel_mm, (at_mm, at_mm + BUMP_STEER_OVER_MM)
    if ends[0] < travel[0] or ends[1] > travel[-1]:
        return None
    rows = [
        np.diff(np.interp(ends, travel, row))[0]
        for row in (getattr(found.curves, figure), found.low[figure], found.high[figure])
    ]
    if not np.isfinite(rows).all():
        return None
    return float(rows[0]), float(max(abs(rows[1] - rows[0]), abs(rows[2] - rows[0])))


#: what a corner is promised to do over 25 mm of bump: figure, and its name
OVER_BUMP = {
    "camber": ("camber_deg", "Camber change in 25 mm of bump"),
    "toe": ("toe_deg", "Toe change in 25 mm of bump, in is plus"),
}


def promised_over_bump(found: Banded, at_mm: float, where: str, inputs: Sequence[InputUsed] = ()) -> list[Judgement]:
    """What the links of a corner promise of camber and toe over bump; nothing where they don't reach."""
    said = []
    for code, (figure, name) in OVER_BUMP.items():
        changed = change_over_bump(found, figure, at_mm)
        if changed is not None:
            said.append(
                Judgement(
                    f"geometry.{code}_over_bump",
                    name,
                    "clear",
                    f"{where}: by its links",
                    OWN_MEASUREMENT,
                    value=round(changed[0], 4),
                    unit="°",
                    uncertainty=changed[1],
                    formula=f"{code} at {at_mm + BUMP_STEER_OVER_MM:+.0f} mm − {code} at {at_mm:+.0f} mm = {changed[0]:+.3f}°".replace(
                        "-", "−"
                    ),
                    inputs=tuple(inputs),
                    where=where,
                )
            )
    return said


def over_bump(
    raised: tuple[float, float], raised_mm: float, rest: tuple[float, float] = (0.0, 0.0)
) -> tuple[float, float]:
    """An angle read with the wheel raised less the one at rest, carried to 25 mm along a straight line.

    Parameters
    ----------
    raised, rest : the angle and its ± [deg]
    raised_mm : how far the wheel was raised, not 0 [mm]

    Returns
    -------
    the change over 25 mm and its ± [deg]

    Examples
    --------
    >>> over_bump((-2.0, 0.3), 50.0, (-1.0, 0.4))
    (-0.5, 0.25)
    """
    share = BUMP_STEER_OVER_MM / raised_mm
    return (raised[0] - rest[0]) * share, math.hypot(raised[1], rest[1]) * abs(share)


def judge_bump_steer_read(
    change_deg: float, raised_mm: float, doubt_deg: float, where: str, inputs: Sequence[InputUsed] = ()
) -> Judgement:
    """Toe over bump as a plate or a string read it with the wheel raised; carried to 25 mm along a straight line.

    >>> judge_bump_steer_read(0.1, 50.0, 0.05, "front left").state, judge_bump_steer_read(-0.4, 25.0, 0.05, "front left").state
    ('clear', 'hit')

    Raises
    ------
    BadInput : raised by nothing
    """
    if not raised_mm:
        raise BadInput("is 0; accepted: how far the wheel was raised", "travel_mm")
    change, doubt = (one * BUMP_STEER_OVER_MM / abs(raised_mm) for one in (change_deg, doubt_deg))
    over = abs(change)
    state: State = "hit" if over - doubt > BUMP_STEER_DEG else "tight" if over + doubt > BUMP_STEER_DEG else "clear"
    return Judgement(
        "geometry.bump_steer_read",
        "Toe over bump, as read",
        state,
        f"{where}: {change_deg:+.2f}° read over {raised_mm:g} mm; {BUMP_STEER_DEG:g}° over {BUMP_STEER_OVER_MM:g} mm is left alone".replace(
            "-", "−"
        ),
        f"{COMMON_PRACTICE}, from memory: {BUMP_STEER_DEG:g}° over {BUMP_STEER_OVER_MM:g} mm",
        value=over,
        unit="°",
        held_against=BUMP_STEER_DEG,
        margin=BUMP_STEER_DEG - over,
        uncertainty=doubt,
        formula=f"|{change_deg:+.2f}°| × {BUMP_STEER_OVER_MM:g} ÷ {abs(raised_mm):g} = {over:.2f}°".replace("-", "−"),
        inputs=tuple(inputs),
        where=where,
        remedies=() if state == "clear" else ("read the hard points: they say which joint to move",),
    )


def judge_bump_steer(
    found: Banded, read: Read, at_mm: float, where: str, inputs: Sequence[InputUsed] = ()
) -> Judgement:
    """Does toe stay as it is over 25 mm of bump from a height [mm against the measured one]?

    The band counts: it is clear only where both edges keep the limit.
    """
    code, name = "geometry.bump_steer", NAMES["bump_steer"]
    travel = found.curves.travel_mm
    ends = (at_mm, at_mm + BUMP_STEER_OVER_MM)
    if ends[0] < travel[0] or ends[1] > travel[-1]:
        return unmeasured(code, name, f"{where}: the curves do not reach that far", ["hard points"])
    changed = change_over_bump(found, "toe_deg", at_mm)
    if changed is None:
        return unmeasured(code, name, f"{where}: the links don't reach that far", ["hard points"])
    change, doubt = changed
    over = abs(change)
    state: State = "hit" if over - doubt > BUMP_STEER_DEG else "tight" if over + doubt > BUMP_STEER_DEG else "clear"
    way = "in" if change > 0 else "out"
    rod = None if state == "clear" else rod_for_no_bump_steer_mm(read, at_mm)
    cure = (
        ()
        if rod is None or abs(rod) > MOST_CURE_MM
        else (f"the rod's inner joint {abs(rod):.0f} mm {'higher' if rod > 0 else 'lower'}, its length to suit",)
    )
    return Judgement(
        code,
        name,
        state,
        f"{where}: toes {way} by {over:.2f}° ± {doubt:.2f}° over {BUMP_STEER_OVER_MM:g} mm of bump; {BUMP_STEER_DEG:g}° is left alone",
        f"{COMMON_PRACTICE}, from memory: {BUMP_STEER_DEG:g}° over {BUMP_STEER_OVER_MM:g} mm",
        value=over,
        unit="°",
        held_against=BUMP_STEER_DEG,
        margin=BUMP_STEER_DEG - over,
        uncertainty=doubt,
        formula=f"toe at {ends[1]:+.0f} mm − toe at {ends[0]:+.0f} mm = {change:+.2f}°".replace("-", "−"),
        inputs=tuple(inputs),
        where=where,
        remedies=() if state == "clear" else (*cure, "read the points again"),
    )
