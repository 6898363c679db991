"""Brake hoses and propshafts: what a lifted axle asks for."""

from __future__ import annotations

from rimcore.parts.against import OLD, like_old
from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.heights import longer_mm

#: droop without a taut hose wants this much slack [mm] (common practice, from memory)
HOSE_ROOM_MM = 20.0


def judge_hose(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A brake hose at full droop.

    The slack that was there, less what the wheel hangs lower, and what the hose is longer.
    """
    stood, code, name = place.stood, "part.hose.reach", "Hose at full droop"
    slack, old = stood.was("hose", "slack_mm"), stood.was("hose", "length_mm")
    more = None if old is None or given.get("length_mm") is None else given["length_mm"] - old
    if slack is None or more is None:
        return (
            unmeasured(
                code,
                name,
                "the slack at full droop, or the old hose's length, is not recorded",
                ["part.hose"],
                ["on stands at full droop, wheels to both locks: pull the slack out and measure it"],
            ),
        )
    lower = max(0.0, -stood.moves_mm)
    left = slack + more - lower
    state: State = "hit" if left < 0 else "tight" if left < HOSE_ROOM_MM else "clear"
    return (
        judged(
            code,
            name,
            state,
            f"{left:.0f} mm of slack; {HOSE_ROOM_MM:g} wanted",
            f"{slack:g} + {more:g} − {lower:g} = {left:g} mm",
            f"{COMMON_PRACTICE}, from memory",
            value=left,
            inputs=(
                InputUsed("slack at full droop", f"{slack:g} mm", "recorded"),
                InputUsed("lifted", f"{lower:g} mm", "the build"),
            ),
            remedies=("a longer hose", "a bracket that brings it down"),
        ),
    )


HOSE = Family(
    "hose",
    "brake hose",
    "brake hoses",
    (
        Spec("length_mm", "length", "hose_mm", kind="length", unit="mm", words=("length", "long")),
        Spec(
            "ends",
            "ends",
            choices={"banjo": "banjo", "female": "female", "male": "male"},
            words=("banjo", "female", "male"),
        ),
        Spec("slack_mm", "slack at full droop", "slack_mm", kind="length", unit="mm", words=("slack",), stands=True),
        PIECES,
        MASS_CHANGE,
    ),
    words=("brake hose", "brake hoses"),
    shapes=(SET, length("length_mm", "needed")),
    example="brake hoses 480 mm banjo, set of 2, 64, 1 week, supplier",
    judge=judge_hose,
    drags=lambda given, place: (
        Need("other", "Brake fluid", 1, "the circuit is opened", COMMON_PRACTICE),
        Need("other", "Copper washers for the hose", 4, "they seal once", COMMON_PRACTICE),
    ),
    same_sides=("length_mm", "ends"),
    asks=(
        Question(
            "thread",
            "Thread and flare of the pipe read",
            ("as the old one", "not yet"),
            "two threads look alike and one weeps",
        ),
    ),
    modules=("hoses",),
    dues=(Due("Brake hoses: damp, twist, rub at full lock and droop", after_days=1),),
    used_share=None,
)


def judge_propshaft(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A propshaft of the length that the build's height wants, between flanges like the old one's."""
    stood, code, name = place.stood, "part.propshaft.length", "Propshaft's length"
    fits = like_old(
        "part.propshaft.flange",
        "Propshaft's flanges",
        "propshaft",
        given,
        place,
        [("flange_mm", "bolt circle", 0.5), ("bolts", "bolts", 0.0)],
    )
    old, length_mm = stood.was("propshaft", "length_mm"), given.get("length_mm")
    if old is None or length_mm is None:
        return unmeasured(code, name, "its length or the old one's is not known", ["part.propshaft"], OLD), fits
    wanted = longer_mm(old, max(0.0, -stood.moves_mm))
    apart = length_mm - wanted
    state: State = "clear" if abs(apart) <= 10 else "tight" if abs(apart) <= 25 else "hit"
    return (
        judged(
            code,
            name,
            state,
            f"{length_mm:g} of {wanted:.0f} mm at the build's height",
            f"√({old:g}² + lift²) = {wanted:.1f} mm",
            f"geometry; 10 mm of its spline is {COMMON_PRACTICE}, from memory",
            value=apart,
            held_against=10.0,
            inputs=(
                InputUsed("old one", f"{old:g} mm", "recorded"),
                InputUsed("lowered from where it stands", f"{stood.moves_mm:g} mm", "the build"),
            ),
            remedies=(f"one of {wanted:.0f} mm",),
        ),
        fits,
    )


PROPSHAFT = Family(
    "propshaft",
    "propshaft",
    "propshafts",
    (
        Spec("length_mm", "length, joint to joint", "propshaft_mm", kind="length", unit="mm", words=("length", "long")),
        Spec("flange_mm", "bolt circle of its flange", "bore_mm", kind="length", unit="mm", words=("flange",)),
        Spec("bolts", "bolts of a flange", "holes", counted=True, words=("bolts",)),
        Spec("front_deg", "angle at the gearbox", "joint_deg", kind="angle", unit="°", words=("front",), stands=True),
        Spec("rear_deg", "angle at the pinion", "joint_deg", kind="angle", unit="°", words=("rear",), stands=True),
        MASS_CHANGE,
    ),
    words=("propshaft", "propshafts", "prop shaft", "prop shafts"),
    shapes=(r"flange\s*" + length("flange_mm"), r"(?P<bolts>\d)\s*bolts", length("length_mm", "needed")),
    example="propshaft 980 mm flange 96 mm 4 bolts, 0.8 kg, 240, 3 weeks, supplier",
    judge=judge_propshaft,
    drags=lambda given, place: (
        Need("other", "Propshaft bolts, one-use", 8, "stretched once, where the maker says so", COMMON_PRACTICE),
    ),
    asks=(
        Question(
            "phase",
            "Yokes in phase",
            ("yes", "not yet looked at"),
            "a shaft put together out of phase shakes at every speed",
        ),
    ),
    modules=("propshaft",),
    dues=(Due("Propshaft bolts, re-torque", after_km=80),),
    used_share=0.3,
    per_end=lambda lugs: 1,
)
