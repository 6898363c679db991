"""Dampers and coilovers, judged between this car's mounts and at the height of the build."""

from __future__ import annotations

from rimcore.parts.against import like_old
from rimcore.parts.common import HANDS, judge_hand, judged
from rimcore.parts.declared import FIGURE, LENGTH_UNIT, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE
from rimcore.parts.sprung import LEAST_DROOP_MM, SETTLED, SPRING_RATE, coil_of
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.heights import stroke_of
from rimcore.ride.springs import Coil
from rimcore.ride.standing import LEAST_BUMP_MM

TOPS = {"pin": "pin", "eye": "eye", "fork": "fork", "pillow": "pillow ball", "mount": "through the top mount"}
YES = {"yes": "yes", "no": "no"}


def _damper(given: Given) -> None:
    longest = given.get("extended_mm")
    if longest is not None and given.get("compressed_mm") is not None and given["compressed_mm"] >= longest:
        raise BadInput(
            f"must be below the extended length; accepted: less than {given['extended_mm']:g} mm", "compressed_mm"
        )
    least, most = given.get("room_least_mm"), given.get("room_most_mm")
    if least is not None and most is not None and least >= most:
        raise BadInput(
            "the collar is below its thread: its highest place leaves less room than its lowest", "room_least_mm"
        )
    if longest is not None and given.get("free_length_mm") is not None and given["free_length_mm"] >= longest:
        raise BadInput(
            f"the spring is longer than the damper; accepted: less than {given['extended_mm']:g} mm", "free_length_mm"
        )
    if (
        given.get("free_length_mm") is not None
        and given.get("block_length_mm") is not None
        and given.get("rate_n_per_mm") is not None
    ):
        Coil(given["rate_n_per_mm"], given["free_length_mm"], given["block_length_mm"])


def judge_damper(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A damper between this car's mounts: stroke at the build's height, collar and spring, ends, lamp, side."""
    wanted = [("top", "upper end", 0.0), ("bottom", "lower end", 0.0), ("bolt_mm", "lower bolt", 0.2)]
    return (
        *_stroke(given, place),
        _collar(given, place),
        like_old("part.damper.ends", "Damper's ends", "damper", given, place, wanted),
        _electronic(given, place),
        judge_hand("part.damper.hand", "Damper's side", given, "brackets for hose and link are on one side"),
    )


def _stroke(given: Given, place: Place) -> tuple[Judgement, ...]:
    """Bump and droop that it leaves at the wheel."""
    stood = place.stood
    installed = stood.was("damper", "installed_mm")
    rows = (
        ("bump", "Bump with this damper", LEAST_BUMP_MM.get(stood.use, LEAST_BUMP_MM["street"])),
        ("droop", "Droop with this damper", LEAST_DROOP_MM),
    )
    sold = given.get("extended_mm") is not None and given.get("compressed_mm") is not None
    if installed is None or stood.motion_ratio is None or not sold:
        what = (
            "its lengths at full extension and fully compressed, which the line does not give"
            if not sold
            else "the old damper's length at ride height"
            if installed is None
            else "motion ratio"
        )
        return tuple(
            unmeasured(
                f"part.damper.{code}",
                name,
                f"not known: {what}",
                ["part.damper"],
                ["measure it from mount to mount, car on its wheels"],
            )
            for code, name, _ in rows
        )
    stands = installed - stood.eaten_mm * stood.motion_ratio
    left = stroke_of(given["extended_mm"], given["compressed_mm"], stands, stood.motion_ratio)
    inputs = (
        InputUsed("old damper at ride height", f"{installed:g} mm", "recorded"),
        InputUsed("part", f"{given['extended_mm']:g} to {given['compressed_mm']:g} mm", "offer"),
    )
    found = []
    for (code, name, least), value, formula in zip(
        rows,
        (left.bump_mm, left.droop_mm),
        (
            f"({stands:g} − {given['compressed_mm']:g}) ÷ {stood.motion_ratio:g}",
            f"({given['extended_mm']:g} − {stands:g}) ÷ {stood.motion_ratio:g}",
        ),
        strict=True,
    ):
        state: State = "hit" if value <= 0 else "tight" if value < least else "clear"
        found.append(
            Judgement(
                f"part.damper.{code}",
                name,
                state,
                f"{value:.0f} mm at the wheel, {least:g} wanted",
                f"{COMMON_PRACTICE}, from memory: {least:g} mm; the damper is taken to move as the spring does",
                value=value,
                unit="mm",
                held_against=least,
                margin=value - least,
                formula=f"{formula} = {value:.1f} mm",
                inputs=inputs,
                remedies=() if state == "clear" else ("a damper made for this height", "another height"),
            )
        )
    return tuple(found)


def _collar(given: Given, place: Place) -> Judgement:
    """Does the collar's thread reach where the spring just sits at full droop?"""
    code, name = "part.damper.collar", "Collar and spring"
    least, most = given.get("room_least_mm"), given.get("room_most_mm")
    own = {"free_length_mm": given.get("free_length_mm")} if given.get("free_length_mm") is not None else {}
    spring = place.other("spring") or own or place.stood.old.get("spring", {})
    free = spring.get("free_length_mm")
    if least is None or most is None or free is None:
        what = "the spring's free length" if free is None else "the gap between its seats"
        return unmeasured(
            code,
            name,
            f"not known: {what}",
            ["part.damper"],
            ["measure it at full extension, collar at both ends of its thread"],
        )
    inputs = (
        InputUsed("gap between the seats", f"{least:g} to {most:g} mm", "offer"),
        InputUsed("spring at rest", f"{free:g} mm"),
    )
    if free > most:
        return judged(
            code,
            name,
            "tight",
            f"{free - most:.0f} mm of preload with the collar at its lowest",
            f"{free:g} − {most:g}",
            "geometry",
            value=free - most,
            held_against=0.0,
            inputs=inputs,
            remedies=("a shorter spring",),
        )
    if free < least:
        helper = coil_of(place.other("helper") or {})
        slack = least - free - (helper.stroke_mm if helper else 0.0)
        state: State = "hit" if slack > 0 else "clear"
        return judged(
            code,
            name,
            state,
            f"{least - free:.0f} mm loose with the collar at its highest"
            + (f"; the helper takes up {helper.stroke_mm:.0f}" if helper else ""),
            f"{least:g} − {free:g}",
            "geometry",
            value=least - free,
            inputs=inputs,
            remedies=("a helper", "a longer spring"),
        )
    return judged(
        code,
        name,
        "clear",
        f"just seated with the collar {most - free:.0f} mm above its lowest",
        f"{most:g} − {free:g}",
        "geometry",
        value=most - free,
        inputs=inputs,
    )


def _electronic(given: Given, place: Place) -> Judgement:
    code, name = "part.damper.lamp", "Electronic dampers"
    old = place.stood.was("damper", "electronic")
    if old is None:
        return unmeasured(
            code,
            name,
            "whether the old ones are electronic is not recorded",
            ["part.damper"],
            ["look for a cable at the damper"],
        )
    lost = old == "yes" and given.get("electronic") != "yes"
    reason = (
        "the old ones are electronic: unplugged, a fault lamp may light"
        if lost
        else "no cable to unplug"
        if old == "no"
        else "both electronic"
    )
    return judged(
        code,
        name,
        "tight" if lost else "clear",
        reason,
        "the same on both",
        inputs=(InputUsed("old one", str(old), "recorded"),),
        remedies=("a cancelling plug", "note whether the lamp lights"),
    )


def damper_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Alignment, one-use bolts, stops; a compressor, since springs come off."""
    needs = [
        Need("other", "Alignment", 1, "height changes camber and toe: after the car has settled", COMMON_PRACTICE),
        Need("other", "Top nuts, one-use", 2, "self-locking nuts hold once", COMMON_PRACTICE),
        Need("other", "Lower damper bolts, one-use", 2, "stretched once, where the maker says so", COMMON_PRACTICE),
    ]
    if place.other("bump_stop") is None:
        needs.append(
            Need(
                "bump_stop",
                "Bump stops",
                2,
                "a lowered car meets them first: new, and of the right length",
                COMMON_PRACTICE,
                needed=False,
            )
        )
    if place.stood.was("damper", "electronic") == "yes" and given.get("electronic") != "yes":
        needs.append(
            Need(
                "other",
                "Cancelling plugs",
                2,
                "the electronic dampers are unplugged: a fault lamp may light",
                COMMON_PRACTICE,
                needed=False,
            )
        )
    return tuple(needs)


#: a length in a line, with its unit or in the unit of the person
_ANY = rf"{FIGURE}(?:\s*{LENGTH_UNIT})?"
DAMPER = Family(
    "damper",
    "damper or coilover",
    "dampers and coilovers",
    (
        Spec(
            "extended_mm",
            "length extended, mount to mount",
            "damper_mm",
            kind="length",
            unit="mm",
            words=("extended", "open"),
        ),
        Spec(
            "compressed_mm",
            "length compressed",
            "damper_mm",
            kind="length",
            unit="mm",
            words=("compressed", "closed"),
        ),
        Spec(
            "installed_mm",
            "length at ride height",
            "damper_mm",
            kind="length",
            unit="mm",
            words=("installed",),
            stands=True,
        ),
        Spec("top", "upper end", choices=TOPS, words=("pin top", "eye top", "fork top", "pillow ball")),
        Spec(
            "bottom",
            "lower end",
            choices={
                "eye": "eye",
                "fork": "fork",
                "clevis": "clamped in the upright",
                "bolted": "bolted to the upright",
            },
            words=("eye bottom", "fork bottom", "clamped in the upright", "bolted to the upright"),
        ),
        Spec("bolt_mm", "lower bolt", "chassis_bolt_mm", kind="length", unit="mm", trade=True, words=("bolt",)),
        Spec("seat_mm", "seat of the coil", "seat_mm", kind="length", unit="mm", words=("seat",)),
        Spec(
            "room_least_mm",
            "gap between the seats, collar at its highest",
            "coil_mm",
            kind="length",
            unit="mm",
            words=("room from", "room least"),
        ),
        Spec(
            "room_most_mm",
            "gap between the seats, collar at its lowest",
            "coil_mm",
            kind="length",
            unit="mm",
            words=("room to", "room most"),
        ),
        Spec("rate_n_per_mm", "rate of its own spring", "rate", kind="spring_rate", unit="N/mm", words=("rate",)),
        Spec("free_length_mm", "its own spring at rest", "coil_mm", kind="length", unit="mm", words=("free",)),
        Spec(
            "block_length_mm", "its own spring, coils touching", "coil_mm", kind="length", unit="mm", words=("block",)
        ),
        Spec("electronic", "electronic", choices=YES, words=()),
        Spec("hand", "side", choices=HANDS, words=("left and right", "pair", "left", "right", "either")),
        MASS_CHANGE,
    ),
    _damper,
    words=(
        "damper",
        "dampers",
        "coilover",
        "coilovers",
        "shock absorber",
        "shock absorbers",
        "strut insert",
        "strut inserts",
    ),
    shapes=(
        SPRING_RATE,
        rf"room\s*(?P<room_least_mm>{_ANY})\s*(?:to|–|-|→)\s*(?P<room_most_mm>{_ANY})",
        rf"(?P<extended_mm>{_ANY})\s*(?:to|→|->|/)\s*(?P<compressed_mm>{_ANY})",
        r"bolt\s*M?" + length("bolt_mm"),
        r"seat\s*" + length("seat_mm"),
        r"free\s*" + length("free_length_mm"),
        r"block\s*" + length("block_length_mm"),
    ),
    example="coilovers 520 to 350 mm room 190-260 mm seat 65 mm bolt M12 pair, 4.6 kg, 890, 6 weeks, supplier",
    knows=("bump", "droop", "corner_mass"),
    judge=judge_damper,
    drags=damper_drags,
    same_sides=("extended_mm", "compressed_mm", "seat_mm", "rate_n_per_mm"),
    asks=(
        Question(
            "upright",
            "Clamp or bolt spacing of the upright measured",
            ("yes", "not yet"),
            "two uprights of one model year differ",
        ),
        Question(
            "link", "Bracket for the bar's link", ("there", "not wanted"), "a damper without it leaves the bar hanging"
        ),
    ),
    modules=("springs", "alignment"),
    dues=(
        SETTLED,
        Due("Damper bolts and top nuts, re-torque", after_km=80),
        Due("Dampers: look for oil, turn the adjusters", after_track_days=3),
    ),
    used_share=0.45,
    per_end=lambda lugs: 2,
)
