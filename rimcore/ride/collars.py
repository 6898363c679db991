"""Collars that are wound unevenly: what each does to the height of all four corners and to what they carry."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, unmeasured
from rimcore.ride.weights import Array, Pads, Stance
from rimcore.tables.facts import G_M_PER_S2

#: the four corners in words, in the order of the pads
WHERE = ("front left", "front right", "rear left", "rear right")
#: what the heights of the build may differ from what its collars give [mm] (common practice, from memory)
CORNER_ROOM_MM = 3.0


@dataclass(frozen=True)
class Wound:
    """What collars do, front left, front right, rear left, rear right.

    The body over each wheel [mm, up], the load of each wheel [kg].
    """

    up_mm: Array
    more_kg: Array

    def pads(self, before: Pads) -> Pads:
        """Four pads afterwards.

        >>> Wound(np.zeros(4), np.array([5.0, -5.0, -5.0, 5.0])).pads(Pads(300, 300, 200, 200)).cross_pct
        49.0
        """
        return Pads(*(float(one) for one in before.loads + self.more_kg))


def wound(stance: Stance, collar_mm: Sequence[float]) -> Wound:
    """Heights and loads after each collar is wound up by so much [mm at the collar], minus is down.

    A rigid body on four springs and two bars settles where heave, pitch and roll are in balance:
    Pᵀ (K (δ − P q) + B P q) = 0 with δ the free movement at each wheel. Four collars are one more than the body has
    ways
    to move, so that what is left over is warp: it changes the loads and no height.

    Source: statics; Milliken & Milliken, Race Car Vehicle Dynamics, ch. 18, for the terms. Tyres are taken as rigid.

    Parameters
    ----------
    stance : loads, rates and places of the four corners
    collar_mm : (4,) FL, FR, RL, RR [mm]

    Examples
    --------
    Equal springs, one collar up by 8 mm: three quarters there, a quarter at its neighbours, lower across.

    >>> square = Stance(np.full(4, 30.0), (1500, 1500), 2600, np.full(4, 2.0))
    >>> found = wound(square, (8, 0, 0, 0))
    >>> found.up_mm.round(6).tolist()
    [6.0, 2.0, 2.0, -2.0]
    >>> found.more_kg.round(2).tolist()
    [6.12, -6.12, -6.12, 6.12]
    """
    free = np.asarray(collar_mm, dtype=float) / stance.motion_ratio
    stiff, plane = np.diag(stance.wheel_rate_n_per_mm), stance.plane
    body = np.linalg.solve(plane.T @ (stiff - stance.bars) @ plane, plane.T @ stiff @ free)
    up = plane @ body
    return Wound(up, (stiff @ (free - up) + stance.bars @ up) / G_M_PER_S2)


def judge_corner_heights(
    given_mm: Sequence[float] | None, set_mm: Sequence[float], missing: str, inputs: Sequence[InputUsed] = ()
) -> Judgement | None:
    """Do the collars give the corners the heights that the build reckons with? None where neither says anything.

    Parameters
    ----------
    given_mm : lowered more than its end by the collars, at each corner; None where it can't be told [mm]
    set_mm : what the build reckons with [mm]
    missing : what was not read, in words; empty where nothing is
    inputs : what was read, for the figure's formula

    Examples
    --------
    >>> judge_corner_heights((-6.0, -2.0, -2.0, 2.0), (0.0, 0.0, 0.0, 0.0), "").state
    'tight'
    """
    code, name = "ride.corners", "Heights that the collars give"
    if given_mm is None:
        return unmeasured(code, name, f"not known: {missing}", ["springs"], ["record springs and tracks"])
    if not any(given_mm) and not any(set_mm):
        return None
    apart = [one - other for one, other in zip(given_mm, set_mm, strict=True)]
    worst = max(range(4), key=lambda k: abs(apart[k]))
    same = abs(apart[worst]) <= CORNER_ROOM_MM
    said = f"{WHERE[worst]} {given_mm[worst]:+.1f} mm by its collar; the build reckons with {set_mm[worst]:+.1f} mm".replace(
        "-", "−"
    )
    return Judgement(
        code,
        name,
        "clear" if same else "tight",
        said,
        f"statics of four springs; {CORNER_ROOM_MM:g} mm is {COMMON_PRACTICE}, from memory",
        value=abs(apart[worst]),
        unit="mm",
        held_against=CORNER_ROOM_MM,
        margin=CORNER_ROOM_MM - abs(apart[worst]),
        formula=f"|{given_mm[worst]:+.1f} − ({set_mm[worst]:+.1f})| = {abs(apart[worst]):.1f} mm".replace("-", "−"),
        inputs=tuple(inputs),
        remedies=()
        if same
        else ("take the heights that the collars give into the build", "wind the collars otherwise"),
    )
