"""The shake finder: from speed, place and what was already tried to the cause most worth testing next."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from rimcore.quantities.errors import BadInput
from rimcore.wheels.stance import ROLLING


@dataclass(frozen=True)
class Cause:
    """A cause with how often it is the one, and how well it explains what is felt (0 to 1; common practice)."""

    code: str
    name: str
    order: float
    rises_from_low: float
    band: float
    in_wheel: float
    in_seat: float
    braking: float
    after_fitting: float


#: order of suspicion for a new shake: balance, ring, seat and torque, bent rim and runout, alignment, joints (common
#: practice);
#: the shares are our own reading of it, from memory
CAUSES: tuple[Cause, ...] = (
    Cause(
        code="balance",
        name="Balance",
        order=0.30,
        rises_from_low=0.15,
        band=0.90,
        in_wheel=0.8,
        in_seat=0.7,
        braking=0.2,
        after_fitting=0.8,
    ),
    Cause(
        code="ring",
        name="Centring ring: missing, loose or hollow plastic",
        order=0.20,
        rises_from_low=0.90,
        band=0.35,
        in_wheel=0.8,
        in_seat=0.7,
        braking=0.3,
        after_fitting=0.95,
    ),
    Cause(
        code="seat",
        name="Nut seat or torque",
        order=0.14,
        rises_from_low=0.85,
        band=0.40,
        in_wheel=0.8,
        in_seat=0.6,
        braking=0.3,
        after_fitting=0.95,
    ),
    Cause(
        code="runout",
        name="Bent rim or runout of rim or hub",
        order=0.13,
        rises_from_low=0.60,
        band=0.60,
        in_wheel=0.7,
        in_seat=0.7,
        braking=0.4,
        after_fitting=0.6,
    ),
    Cause(
        code="tyre",
        name="Tyre: flat spot, belt, not seated on its bead",
        order=0.10,
        rises_from_low=0.70,
        band=0.50,
        in_wheel=0.6,
        in_seat=0.8,
        braking=0.2,
        after_fitting=0.6,
    ),
    Cause(
        code="alignment",
        name="Alignment",
        order=0.06,
        rises_from_low=0.20,
        band=0.30,
        in_wheel=0.6,
        in_seat=0.2,
        braking=0.2,
        after_fitting=0.4,
    ),
    Cause(
        code="joints",
        name="Worn joint, bush or bearing",
        order=0.05,
        rises_from_low=0.30,
        band=0.50,
        in_wheel=0.7,
        in_seat=0.4,
        braking=0.6,
        after_fitting=0.2,
    ),
    Cause(
        code="disc",
        name="Brake disc: thickness or rust under the pad",
        order=0.02,
        rises_from_low=0.20,
        band=0.50,
        in_wheel=0.7,
        in_seat=0.4,
        braking=1.00,
        after_fitting=0.4,
    ),
)
CAUSE_NAMES = {cause.code: cause.name for cause in CAUSES}

#: what can be done, what it answers (chance that it shows the cause when it is the one), and its trouble [hours]
#: (common practice)
TESTS: tuple[tuple[str, str, dict[str, float], float], ...] = (
    (
        "torque",
        "Loosen, seat by hand on the raised wheel, tighten crosswise with a torque wrench",
        {"seat": 0.8, "ring": 0.2},
        0.5,
    ),
    ("ring_check", "Wheel off: measure bore and collar, look for a ring, try a solid one", {"ring": 0.95}, 0.6),
    (
        "swap",
        "Swap front wheels to the rear and drive the same stretch",
        {"balance": 0.7, "runout": 0.6, "tyre": 0.6, "ring": 0.3},
        0.8,
    ),
    (
        "spin",
        "Spin each wheel on the stand against a fixed pointer: rim sideways and upward",
        {"runout": 0.9, "tyre": 0.6},
        0.6,
    ),
    (
        "balance_check",
        "Have all four balanced, on the collar as they sit on the car",
        {"balance": 0.9, "runout": 0.3},
        1.0,
    ),
    ("lever", "Lever and push at 12–6 and 9–3 with the wheel raised", {"joints": 0.85}, 0.5),
    ("align", "Alignment sheet", {"alignment": 0.9}, 1.2),
    ("disc_check", "Disc thickness round the disc, runout with a dial gauge", {"disc": 0.9}, 0.7),
)
#: a cure that was done lowers its cause to this share
_DONE = {
    "balance_check": ("balance", 0.12),
    "ring_check": ("ring", 0.06),
    "torque": ("seat", 0.15),
    "spin": ("runout", 0.2),
    "align": ("alignment", 0.15),
    "lever": ("joints", 0.2),
    "disc_check": ("disc", 0.15),
    "swap": ("", 1.0),
}

FELT = {"wheel": "in the steering wheel", "seat": "in seat and floor", "both": "in both"}
WHEN = {"steady": "steady from low speed upward", "band": "in one band of speed", "braking": "only when braking"}


@dataclass(frozen=True)
class Suspect:
    """A cause with its share of suspicion, all shares together 1."""

    code: str
    name: str
    share: float


@dataclass(frozen=True)
class NextTest:
    """A test and how much it would tell: bits of doubt it takes away for an hour of work."""

    code: str
    what: str
    bits: float
    hours: float


@dataclass(frozen=True)
class ShakeAnswer:
    """Suspects, most likely first; the best next test; wheel turns per second over the band."""

    suspects: tuple[Suspect, ...]
    tests: tuple[NextTest, ...]
    low_hz: float
    high_hz: float


def turns_per_second(speed_kmh: float, diameter_mm: float) -> float:
    """Turns of a wheel per second at a speed.

    Source: rolling without slip.

    Parameters
    ----------
    speed_kmh : 0 or more [km/h]
    diameter_mm : of the tyre, over 0 [mm]

    >>> round(turns_per_second(100.0, 634.3), 2)
    14.36
    """
    if diameter_mm <= 0:
        raise BadInput("the tyre's diameter must be above 0 mm", "diameter_mm")
    return speed_kmh / 3.6 / (ROLLING * diameter_mm / 1000)


def find_shake(
    low_kmh: float,
    high_kmh: float,
    diameter_mm: float,
    felt: str,
    when: str,
    new_wheels: bool,
    tried: Sequence[str] = (),
    evidence: Mapping[str, float] | None = None,
) -> ShakeAnswer:
    """Rank the causes of a shake that comes once a turn, and say which test separates them best.

    Parameters
    ----------
    low_kmh, high_kmh : band of speed in which it is felt [km/h]
    diameter_mm : of the tyre, over 0 [mm]
    felt : ``wheel``, ``seat`` or ``both``
    when : ``steady``, ``band`` or ``braking``
    new_wheels : it came with other wheels
    tried : tests and cures already done (codes of ``TESTS``), without success
    evidence : what the car's own judgements say, cause -> factor (a bore larger than the hub without a ring raises
        ``ring``)

    Raises
    ------
    BadInput : an empty band, or a word that is not known

    Examples
    --------
    >>> find_shake(40, 140, 634.3, "wheel", "steady", True, ["balance_check"]).suspects[0].code
    'ring'
    """
    if not 5 <= low_kmh < high_kmh <= 350:
        raise BadInput("the band of speed runs from a lower to a higher speed; accepted: 5 to 350 km/h", "low_kmh")
    if felt not in FELT or when not in WHEN:
        raise BadInput(f"not known; accepted: {', '.join([*FELT, *WHEN])}", "felt")
    weights = {cause.code: _fits(cause, felt, when, new_wheels) for cause in CAUSES}
    for code in tried:
        cured, share = _DONE.get(code, ("", 1.0))
        if cured:
            weights[cured] *= share
    for code, factor in (evidence or {}).items():
        weights[code] *= factor
    total = sum(weights.values())
    suspects = sorted(
        (Suspect(code, CAUSE_NAMES[code], weight / total) for code, weight in weights.items()),
        key=lambda one: -one.share,
    )
    shares = {one.code: one.share for one in suspects}
    tests = [
        NextTest(code, what, _bits(shares, shows), hours) for code, what, shows, hours in TESTS if code not in tried
    ]
    tests.sort(key=lambda one: -one.bits / one.hours)
    low, high = (turns_per_second(speed, diameter_mm) for speed in (low_kmh, high_kmh))
    return ShakeAnswer(tuple(suspects), tuple(tests), low, high)


def _fits(cause: Cause, felt: str, when: str, new_wheels: bool) -> float:
    place = {"wheel": cause.in_wheel, "seat": cause.in_seat, "both": (cause.in_wheel + cause.in_seat) / 2}[felt]
    moment = {"steady": cause.rises_from_low, "band": cause.band, "braking": cause.braking}[when]
    return cause.order * place * moment * (cause.after_fitting if new_wheels else 1.0 - 0.6 * cause.after_fitting)


def _bits(shares: Mapping[str, float], shows: Mapping[str, float]) -> float:
    """Doubt that a yes-or-no test takes away (mutual information) [bit]."""
    yes = sum(share * shows.get(code, 0.05) for code, share in shares.items())
    before = _entropy(shares.values())
    given_yes = _entropy([share * shows.get(code, 0.05) / yes for code, share in shares.items()])
    given_no = _entropy([share * (1 - shows.get(code, 0.05)) / (1 - yes) for code, share in shares.items()])
    return before - yes * given_yes - (1 - yes) * given_no


def _entropy(shares: Iterable[float]) -> float:
    return -sum(share * math.log2(share) for share in shares if share > 0)
