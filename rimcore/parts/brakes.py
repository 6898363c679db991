"""Brake calipers and rotors: they are what a wheel has to go over."""

from __future__ import annotations

from rimcore.parts.common import HANDS, judge_hand, judged
from rimcore.parts.declared import Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: what tells the side of a caliper
BLEED_UP = "bleed screw up: that is its side"
#: room between a rotor or a caliper and the wheel [mm] (common practice)
ROTOR_ROOM_MM = 3.0


def _caliper(given: Given) -> None:
    if given.get("inner_mm") is not None and given["inner_mm"] < -given["face_mm"]:
        raise BadInput("the inner end must lie inboard of the face", "inner_mm")


def judge_caliper(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A caliper with the rotor of the build: does it stand for that rotor's hat.

    Barrel and spokes are the wheel well's.
    """
    found = []
    rotor = place.other("rotor")
    wanted = given.get("for_hat_mm")
    if wanted is None or rotor is None or rotor.get("hat_mm") is None:
        found.append(
            unmeasured(
                "part.caliper.hat",
                "Caliper and hat",
                "hat height of the disc, or the one the caliper is made for, is not known",
                ["part.hat"],
                ["ask for both hat heights, or measure them"],
            )
        )
    else:
        apart = rotor["hat_mm"] - wanted
        state: State = "clear" if abs(apart) <= 0.5 else "hit"
        side = "outboard" if apart > 0 else "inboard"
        reason = (
            f"both {wanted:g} mm"
            if state == "clear"
            else f"the disc stands {abs(apart):g} mm {side} of where the caliper wants it"
        )
        found.append(
            judged(
                "part.caliper.hat",
                "Caliper and hat",
                state,
                reason,
                f"{rotor['hat_mm']:g} − {wanted:g}",
                value=apart,
                held_against=0.5,
                inputs=(
                    InputUsed("disc's hat", f"{rotor['hat_mm']:g} mm", "offer"),
                    InputUsed("caliper for", f"{wanted:g} mm", "offer"),
                ),
                remedies=("the disc with the other hat", "another bracket"),
            )
        )
    if not place.chosen:
        found += _over_it(given, place)
    return (*found, judge_hand("part.caliper.hand", "Caliper's side", given, BLEED_UP))


def _over_it(given: Given, place: Place) -> list[Judgement]:
    """The build's wheel over a caliper of the list: to the barrel and to the spokes.

    In the build the wheel well judges them.
    """
    wheel = place.candidate
    rows = (
        (
            "part.caliper.barrel",
            "Caliper inside the barrel",
            wheel.barrel_radius_mm,
            given["radius_mm"],
            "wheel.caliper_barrel",
        ),
        (
            "part.caliper.spoke",
            "Caliper behind the spokes",
            wheel.spoke_back_mm,
            given["face_mm"] - wheel.fitted.spacer_mm,
            "wheel.caliper_spoke",
        ),
    )
    found = []
    for code, name, room, taken, missing in rows:
        if room is None:
            found.append(
                unmeasured(
                    code, name, "the wheel's maker has not said it", [missing], ["hold the brake template to the wheel"]
                )
            )
            continue
        inputs = (InputUsed("wheel", f"{room:g} mm", "maker"), InputUsed("caliper", f"{taken:g} mm", "offer"))
        found.append(
            _room(
                code,
                name,
                room,
                taken,
                f"{room:g} − {taken:g}",
                inputs,
                ("another wheel", "a spacer, if the thread allows it"),
            )
        )
    return found


def _room(
    code: str,
    name: str,
    room_mm: float,
    taken_mm: float,
    formula: str,
    inputs: tuple[InputUsed, ...],
    remedies: tuple[str, ...],
) -> Judgement:
    """Room that is left over a rotor or a caliper, held against what it wants."""
    gap_mm = room_mm - taken_mm
    state: State = "hit" if gap_mm < 0 else "tight" if gap_mm < ROTOR_ROOM_MM else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{gap_mm:.1f} mm of room; wants {ROTOR_ROOM_MM:g} mm",
        COMMON_PRACTICE,
        value=gap_mm,
        unit="mm",
        held_against=ROTOR_ROOM_MM,
        margin=gap_mm - ROTOR_ROOM_MM,
        formula=f"{formula} = {gap_mm:.1f} mm",
        inputs=inputs,
        remedies=() if state == "clear" else remedies,
    )


def caliper_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Pads, fluid and bedding in (common practice)."""
    return (
        Need("other", "Brake pads for the caliper", 1, "another caliper takes another pad", COMMON_PRACTICE),
        Need("other", "Brake fluid", 1, "the circuit is opened", COMMON_PRACTICE),
        Need("other", "Copper washers for the hose", 4, "they seal once", COMMON_PRACTICE),
    )


def judge_rotor(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A rotor inside the barrel; directional vanes are handed."""
    barrel = place.candidate.barrel_radius_mm
    radius = given["diameter_mm"] / 2
    code, name = "part.rotor.barrel", "Disc inside the barrel"
    found = []
    if barrel is None:
        found.append(
            unmeasured(
                code,
                name,
                "the wheel's barrel is not known",
                ["wheel.caliper_barrel"],
                ["hold the brake template to the wheel"],
            )
        )
    else:
        inputs = (
            InputUsed("barrel", f"{barrel:g} mm", "maker"),
            InputUsed("rotor", f"{given['diameter_mm']:g} mm", "offer"),
        )
        formula = f"barrel − diameter ÷ 2 = {barrel:g} − {radius:g}"
        found.append(_room(code, name, barrel, radius, formula, inputs, ("a larger rim", "a smaller disc")))
    return (*found, judge_hand("part.rotor.hand", "Disc's vanes", given, BLEED_UP))


CALIPER = Family(
    "caliper",
    "brake caliper",
    "brake calipers",
    (
        Spec(
            "radius_mm",
            "outer radius from the hub's centre",
            "brake_mm",
            decides=True,
            kind="length",
            unit="mm",
            words=("radius", "outer radius"),
        ),
        Spec(
            "face_mm",
            "face beyond the mounting face",
            "spoke_back_mm",
            decides=True,
            kind="length",
            unit="mm",
            words=("face",),
        ),
        Spec(
            "inner_mm",
            "inner end inboard of the mounting face",
            "spoke_back_mm",
            kind="length",
            unit="mm",
            words=("inner", "inner end"),
        ),
        Spec("for_hat_mm", "made for a hat of", "hat_mm", kind="length", unit="mm", words=("for hat", "hat")),
        Spec("hand", "side", choices=HANDS, words=("left and right", "pair", "left", "right", "either")),
        MASS_CHANGE,
    ),
    _caliper,
    words=("brake caliper", "brake calipers", "caliper", "calipers"),
    shapes=(
        r"radius\s*" + length("radius_mm"),
        r"face\s*" + length("face_mm"),
        r"inner(?:\s+end)?\s*" + length("inner_mm"),
        r"(?:for\s+)?hat\s*" + length("for_hat_mm"),
    ),
    on_wheels=True,
    example="calipers radius 165 mm face 31 mm inner 74 mm for hat 46 mm left and right, −1.2 kg, 540, 3 weeks, supplier",
    judge=judge_caliper,
    drags=caliper_drags,
    same_sides=("radius_mm", "face_mm", "for_hat_mm"),
    asks=(
        Question(
            "hand",
            "Side checked: bleed screw up when fitted",
            ("yes", "not yet"),
            "a caliper on the wrong side can't be bled",
        ),
        Question(
            "hat",
            "Hat height of the disc asked for",
            ("yes", "not yet"),
            "front and rear discs of one diameter differ in the hat",
        ),
    ),
    modules=("brakes",),
    dues=(
        Due("Brake pipes and bleed screws: look for damp", after_days=1),
        Due("Caliper bolts, re-torque", after_km=80),
    ),
    used_share=0.45,
    per_end=lambda lugs: 2,
)
ROTOR = Family(
    "rotor",
    "brake disc",
    "brake discs",
    (
        Spec("diameter_mm", "diameter", "rotor_mm", decides=True, kind="length", unit="mm", words=("diameter",)),
        Spec("thickness_mm", "thickness", "rotor_thick_mm", kind="length", unit="mm", words=("thick", "thickness")),
        Spec("hat_mm", "hat height", "hat_mm", kind="length", unit="mm", words=("hat", "hat height")),
        Spec("hand", "vanes", choices=HANDS, words=("left and right", "pair", "left", "right", "either")),
        MASS_CHANGE,
    ),
    words=("brake rotor", "brake rotors", "brake disc", "brake discs", "rotor", "rotors", "disc", "discs"),
    shapes=(
        r"hat(?:\s+height)?\s*" + length("hat_mm"),
        r"(?P<diameter_mm>\d{3}(?:[.,]\d+)?)\s*(?:mm)?\s*[x×]\s*(?P<thickness_mm>\d{1,2}(?:[.,]\d+)?)(?:\s*mm)?",
        length("diameter_mm", "needed"),
    ),
    trade=True,
    on_wheels=True,
    example="rotors 300x24 hat 46 either, 0.8 kg, 96, 1 week, supplier",
    judge=judge_rotor,
    same_sides=("diameter_mm", "thickness_mm", "hat_mm"),
    asks=(
        Question(
            "end", "Front or rear asked for", ("front", "rear"), "the hats of front and rear differ at one diameter"
        ),
        Question(
            "vanes",
            "Directional vanes",
            ("no", "yes, both sides ordered"),
            "directional discs are left and right parts",
        ),
    ),
    modules=("brakes",),
    dues=(
        Due("Disc screws and pads: bedded in, look at the pattern", after_km=300),
        Due("Discs: look for cracks, measure the thickness", after_track_days=2),
    ),
    used_share=0.3,
    per_end=lambda lugs: 2,
)
