"""What the finder is made of: steps of a lever, a frontier, what a set is cut by."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from rimcore.choosing.compose import Wish, compose

#: steps of a lever between nothing and the most that is allowed
STEPS = 3


def lever_steps(most: float | None, step: float, steps: int = STEPS) -> tuple[float, ...]:
    """Nothing, and up to so many steps towards the most, each a whole multiple of a step.

    Parameters
    ----------
    most : of the lever, in its unit; None or nothing: the lever stays
    step : natural step, over 0
    steps : 1 or more

    Source: none; a convention of this program.

    >>> lever_steps(30.0, 5.0), lever_steps(8.0, 5.0), lever_steps(-1.5, 0.5), lever_steps(None, 5.0)
    ((0.0, 10.0, 20.0, 30.0), (0.0, 5.0), (0.0, -0.5, -1.0, -1.5), (0.0,))
    """
    if not most:
        return (0.0,)
    sign = 1.0 if most > 0 else -1.0
    whole = int(abs(most) / step + 1e-9)
    found = {round(whole * k / steps) for k in range(1, steps + 1)} - {0}
    return (0.0, *(sign * step * k for k in sorted(found)))


def frontier(points: Sequence[tuple[float, float]]) -> tuple[int, ...]:
    """Places of the points that no other beats: least of the first, most of the second; by the first.

    Parameters
    ----------
    points : (cost, gain)

    Source: Pareto's order.

    >>> frontier([(3.0, 5.0), (1.0, 2.0), (2.0, 1.0), (4.0, 5.0)])
    (1, 0)
    """
    best, found = float("-inf"), []
    for k in sorted(range(len(points)), key=lambda one: (points[one][0], -points[one][1])):
        if points[k][1] > best:
            found.append(k)
            best = points[k][1]
    return tuple(found)


def new_hits(hits: Iterable[tuple[str, str]], before: Iterable[tuple[str, str]]) -> tuple[tuple[str, str], ...]:
    """Hits of a set that the car does not have as it is: what stands so already is no reason against a set.

    Parameters
    ----------
    hits, before : code and place of each

    Source: none; a difference.

    >>> new_hits([("a", ""), ("b", "front left")], [("a", "")])
    (('b', 'front left'),)
    """
    known = set(before)
    return tuple(one for one in hits if one not in known)


def worth_asking(figures: Sequence[Sequence[float]], spare: int) -> tuple[int, ...]:
    """Places of the options that can be in one of the best sets: fewer than so many others are as good in everything.

    Parameters
    ----------
    figures : of each option (n, m), less is better in every column
    spare : sets that are wanted and combinations that are shut out, together

    Source: none; an option that so many others are not worse than in anything can always be replaced by one of them.

    >>> worth_asking([(1.0, 1.0), (2.0, 2.0), (3.0, 0.5), (4.0, 4.0)], 2)
    (0, 1, 2)
    """
    rows = np.asarray(figures, dtype=float)
    if len(rows) <= spare:
        return tuple(range(len(rows)))
    order = np.lexsort(rows.T[::-1])
    kept: list[int] = []
    for k in order:
        held = rows[kept]
        if len(kept) == 0 or int((held <= rows[k]).all(axis=1).sum()) < spare:
            kept.append(int(k))
    return tuple(sorted(kept))


def wheels_against(
    wheel_kg: float | None, tyre_kg: float | None, old: Sequence[tuple[float | None, float | None]]
) -> float | None:
    """What two wheels with tyres an end weigh more than those of these ends; None where a weight is not known [kg].

    Parameters
    ----------
    wheel_kg, tyre_kg : of one new one [kg]
    old : wheel and tyre of each end that gets them [kg]

    Source: a sum.

    >>> wheels_against(8.0, 9.0, [(9.0, 9.5), (9.0, 9.5)]), wheels_against(None, 9.0, [(9.0, 9.5)])
    (-6.0, None)
    """
    flat = [one for end in old for one in end]
    if wheel_kg is None or tyre_kg is None or not old or None in flat:
        return None
    return round(sum(2.0 * (wheel_kg + tyre_kg - (wheel or 0.0) - (tyre or 0.0)) for wheel, tyre in old), 3)


#: what a spare may roll more or less a turn than the tyre that it stands in for, share (from memory; the car's own book
#: says whether it bears any)
SPARE_ROLLS = 0.03


def spare_beside(spare_mm: float | None, tyre_mm: float | None) -> str:
    """Why a spare does not stand in for a tyre, in words; nothing where it does.

    Parameters
    ----------
    spare_mm, tyre_mm : rolling circumference of each, over 0, None where the size is not known [mm]

    Source: 3 % is from memory; the car's own book decides.

    >>> spare_beside(2000.0, 1950.0), spare_beside(2000.0, 1900.0)
    ('', 'the spare rolls 5.3 % further a turn; 3 % is accepted')
    """
    if spare_mm is None or tyre_mm is None:
        return "the size of the spare or of the tyre can't be read"
    more = spare_mm / tyre_mm - 1.0
    if abs(more) <= SPARE_ROLLS:
        return ""
    way = "further" if more > 0 else "less"
    return f"the spare rolls {abs(100 * more):.1f} % {way} a turn; {100 * SPARE_ROLLS:.0f} % is accepted"


@dataclass(frozen=True)
class Least:
    """What a limit would have to be, and the set that is held by it."""

    value: float
    keys: tuple[str, ...]


def best_under(wish: Wish, name: str) -> Least | None:
    """The least that a limit would have to be for a set to hold, everything else as it was asked; None: never.

    Parameters
    ----------
    wish : as ``compose``
    name : one of its limits

    Source: the same programme with that figure as its goal.

    >>> from rimcore.choosing.compose import Option, Slot
    >>> wheels = Slot("wheels", (Option("a", money=900, kg=-4.0), Option("b", money=700, kg=-1.0)))
    >>> best_under(Wish((wheels,), limits={"money": 600, "kg": -3.0}), "money")
    Least(value=900.0, keys=('a',))
    """
    limits = {key: value for key, value in wish.limits.items() if key != name}
    found = compose(Wish(wish.slots, wish.not_together, wish.needs, limits, wish.least, goal=name)).sets
    if not found:
        return None
    return Least(float(found[0].figures[name]), tuple(key for _, key in found[0].chosen if key is not None))
