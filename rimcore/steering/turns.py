"""How far to turn what: adjusters that were learnt by a turn, and the angles they are to bring."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import optimize

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Turned:
    """Turns of each adjuster, and what is left between target and angle after them, by ``FL.camber_deg``."""

    turns: Mapping[str, float]
    left_over: Mapping[str, float | None]


def effect_a_turn_deg(before_deg: float, now_deg: float, turns: float) -> float:
    """What a turn of an adjuster changes, from an angle before and after some turns [deg a turn].

    Source: a difference over its turns.

    Parameters
    ----------
    before_deg : angle before [deg]
    now_deg : angle after [deg]
    turns : done between, not 0

    Raises
    ------
    BadInput : no turn was done

    >>> effect_a_turn_deg(-0.2, 0.1, 0.5)
    0.6
    """
    if turns == 0:
        raise BadInput("a turn that is not done teaches nothing; accepted: not 0", "turns")
    return round((now_deg - before_deg) / turns, 9)


def effect_doubt_deg(before_deg: float, now_deg: float, turns: float) -> float:
    """± of what a turn changes, from the ± of the angle before and after [deg a turn].

    Source: the law of propagation of uncertainty, JCGM 100:2008, 5.1.2, for a difference of two readings.

    Parameters
    ----------
    before_deg : ± of the angle before, 0 or more [deg]
    now_deg : ± of the angle after [deg]
    turns : done between, not 0

    >>> round(effect_doubt_deg(0.1, 0.1, 0.5), 3)
    0.283
    """
    return math.hypot(before_deg, now_deg) / abs(turns)


def turns_left(back: float | None, on: float | None, done: float) -> tuple[float | None, float | None]:
    """Turns left the minus and the plus way after some were done; None is not known.

    Source: none; counting.

    Parameters
    ----------
    back : turns that are there the minus way, 0 or more; None is not known
    on : the plus way
    done : turns, signed

    >>> turns_left(3.0, 0.5, 0.5), turns_left(None, 4.0, -1.0)
    ((3.5, 0.0), (None, 5.0))
    """
    return (None if back is None else max(0.0, back + done)), (None if on is None else max(0.0, on - done))


def camber_reach(now_deg: float, adjusters: Sequence[tuple[float, float | None, float | None]]) -> float | None:
    """The most negative camber that a corner's adjusters reach; None where the travel of one is not known [deg].

    Source: a sum.

    Parameters
    ----------
    now_deg : camber as it stands [deg]
    adjusters : of each its effect [deg a turn], turns left the minus way and the plus way; None is not known

    >>> round(camber_reach(-1.2, [(0.4, 1.5, 2.0)]), 2), camber_reach(-1.2, [(0.4, None, 2.0)]), camber_reach(-1.2, [])
    (-1.8, None, None)
    """
    if not adjusters:
        return None
    reach = now_deg
    for effect, back, on in adjusters:
        turns = back if effect > 0 else on
        if turns is None:
            return None
        reach -= abs(effect) * turns
    return reach


#: more turns than this are doubted where nobody says how far an adjuster goes (common practice, from memory)
USUAL_TURNS = 8.0


def travel_said(turns: float, back: float | None, on: float | None) -> str:
    """What is to be said of so many turns: the end of the travel, or that the travel is not known.

    Source: none; words.

    Parameters
    ----------
    turns : asked for, signed
    back : turns left the minus way; None is not known
    on : the plus way

    >>> travel_said(2.0, 3.0, 2.0), travel_said(-18.0, None, 2.0), travel_said(1.0, None, None)
    ('the end of its travel', 'more than most have: say how many turns it has left', '')
    """
    end = on if turns > 0 else back
    if end is not None and abs(turns) >= end - 1e-9 and turns:
        return "the end of its travel"
    return "more than most have: say how many turns it has left" if end is None and abs(turns) > USUAL_TURNS else ""


def told_effects(effects: Mapping[str, float], doubts: Mapping[str, float]) -> dict[str, float]:
    """Of what a turn was seen to change, what is more than the ± of seeing it.

    The rest is noise, and nothing is set by it.

    Source: a difference within its ± says nothing (JCGM 100:2008).

    Parameters
    ----------
    effects : of a turn, by angle [deg a turn]
    doubts : their ±, by angle [deg a turn]

    >>> told_effects({"camber_deg": 0.4, "toe_deg": 0.01}, {"camber_deg": 0.14, "toe_deg": 0.07})
    {'camber_deg': 0.4}
    """
    return {angle: value for angle, value in effects.items() if abs(value) > doubts.get(angle, 0.0)}


#: share of the largest effect under which two ways to the same angles are told apart by their turns alone
_RIDGE = 1e-6


def _within(effects: Array, wanted: Array, low: Array, high: Array) -> Array:
    """Least squares with every turn inside its travel; the least turning where many serve."""
    size = len(low)
    ridge = _RIDGE * max(float(np.abs(effects).max()), 1e-12)
    rows, right = np.vstack([effects, ridge * np.eye(size)]), np.concatenate([wanted, np.zeros(size)])
    return np.asarray(optimize.lsq_linear(rows, right, (low, high), method="bvls", tol=1e-14).x)


def adjusted(
    angles: Mapping[str, float | None],
    targets: Mapping[str, float],
    adjusters: Sequence[tuple[str, Mapping[str, float]]],
    travel: Mapping[str, tuple[float | None, float | None]] | None = None,
) -> Turned:
    """Turns that bring angles to their targets: least squares, and the least movement where many serve.

    Parameters
    ----------
    angles : measured, by ``FL.camber_deg`` [deg]; None is not read, its target can't be pursued
    targets : wanted, by the same names [deg]
    adjusters : name and its effect on each angle [deg a turn]
    travel : by name, turns left the minus and the plus way; None is not known and holds nothing back

    Examples
    --------
    >>> adjusted({"FL.toe_deg": 0.3}, {"FL.toe_deg": 0.1}, [("rod", {"FL.toe_deg": 0.4})]).turns
    {'rod': -0.5}
    >>> adjusted({"FL.toe_deg": 0.3}, {"FL.toe_deg": 0.1}, [("rod", {"FL.toe_deg": 0.4})], {"rod": (0.25, 6.0)}).turns
    {'rod': -0.25}
    """
    pursued = [name for name in targets if angles.get(name) is not None]
    effects = np.array([[effect.get(name, 0.0) for _, effect in adjusters] for name in pursued]).reshape(
        len(pursued), len(adjusters)
    )
    wanted = np.array([targets[name] - (angles[name] or 0.0) for name in pursued])
    turns = np.linalg.lstsq(effects, wanted, rcond=None)[0] if effects.size else np.zeros(len(adjusters))
    left, right = (
        np.array(
            [math.inf if (one := (travel or {}).get(name, (None, None))[way]) is None else one for name, _ in adjusters]
        )
        for way in (0, 1)
    )
    if effects.size and ((turns < -left).any() or (turns > right).any()):
        # A bound of nought and nought leaves the solver no room.
        turns = np.clip(_within(effects, wanted, -left - 1e-12, right + 1e-12), -left, right)
    after = wanted - effects @ turns
    left_over: dict[str, float | None] = dict.fromkeys(targets)
    left_over.update(zip(pursued, (float(one) for one in after), strict=True))
    return Turned({name: _plain(turn) for (name, _), turn in zip(adjusters, turns, strict=True)}, left_over)


def _plain(value: float) -> float:
    return round(float(value), 12) + 0.0
