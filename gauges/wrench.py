"""A simulated torque wrench with a read-out: it clicks, is overrun, and drifts from its calibration."""

from __future__ import annotations

import random
from dataclasses import dataclass

NAME = "Torque wrench (simulation)"
#: what a wrench may be off either way [share]: ISO 6789 allows 4 % above 10 N·m
ALLOWED = 0.04
#: scatter of a click [share of the setting], one standard deviation
CLICK_SCATTER = 0.012
#: share of pulls in which the hand runs on after the click, and by how much at most
OVERRUN, OVERRUN_MOST = 0.06, 0.30
#: drift of the spring for every hundred pulls [share of the setting], and read-out's step [N·m]
DRIFT_PER_100, STEP_NM = -0.02, 0.5


@dataclass(frozen=True)
class Click:
    """One pull: what the read-out shows and what really was turned [N·m], and whether the hand ran on."""

    shown_nm: float
    true_nm: float
    overrun: bool


def pull(set_nm: float, pulls_before: int, seed: int) -> Click:
    """One pull at a setting; the same pull of the same wrench is the same.

    The read-out knows nothing of its own drift: it shows the setting's scale, the bolt gets the drifted figure.

    >>> pull(110.0, 0, 1) == pull(110.0, 0, 1)
    True
    """
    draw = random.Random(seed * 1_000_003 + pulls_before)
    shown = set_nm * (1 + draw.gauss(0.0, CLICK_SCATTER))
    overrun = draw.random() < OVERRUN
    if overrun:
        shown *= 1 + draw.uniform(0.08, OVERRUN_MOST)
    true = shown * (1 + drift(pulls_before))
    return Click(round(shown / STEP_NM) * STEP_NM, round(true, 2), overrun)


def drift(pulls_before: int) -> float:
    """How far it has drifted after so many pulls [share].

    >>> drift(0), drift(250)
    (0.0, -0.05)
    """
    return DRIFT_PER_100 * pulls_before / 100 if pulls_before else 0.0


def calibrated(set_nm: float, pulls_before: int, seed: int, count: int = 5) -> float:
    """Mean of some pulls on a checking block, real over shown: below 1 the bolts get less than it says.

    >>> round(calibrated(100.0, 0, 3), 2), round(calibrated(100.0, 500, 3), 2)
    (1.0, 0.9)
    """
    clicks = [pull(set_nm, pulls_before, seed + 17 * k) for k in range(count)]
    return sum(click.true_nm / click.shown_nm for click in clicks) / len(clicks)


def out_of_tolerance(share: float) -> bool:
    """Has it to be calibrated, with what it turned on the block [real over shown]? By ISO 6789.

    >>> out_of_tolerance(0.96), out_of_tolerance(0.95), out_of_tolerance(1.05)
    (False, True, True)
    """
    return round(abs(share - 1), 9) > ALLOWED
