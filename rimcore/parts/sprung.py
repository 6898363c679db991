"""Springs and helpers, judged on the corner that they are to carry."""

from __future__ import annotations

from dataclasses import replace

from rimcore.parts.against import OLD
from rimcore.parts.common import judged
from rimcore.parts.declared import FIGURE, SET, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.heights import USUAL_HZ, lowered_mm, preload_between_seats_mm
from rimcore.ride.springs import Coil, Sprung, Stack
from rimcore.ride.standing import LEAST_BUMP_MM

#: height that parts give may differ from the build's by [mm], and a seat from a spring's bore (common practice, from
#: memory)
HEIGHT_ROOM_MM, SEAT_ROOM_MM = 3.0, 1.0
#: droop that a wheel should keep [mm] (common practice, from memory)
LEAST_DROOP_MM = 25.0
SPRING_RATE = rf"(?P<rate_n_per_mm>{FIGURE}\s*(?:N/mm|kgf?/mm|lbf?s?/in(?:ch)?|k)(?![\w/]))"


def _coil(given: Given) -> None:
    if None not in (given.get(code) for code in ("rate_n_per_mm", "free_length_mm", "block_length_mm")):
        Coil(given["rate_n_per_mm"], given["free_length_mm"], given["block_length_mm"])


def coil_of(given: Given) -> Coil | None:
    """A spring for the core; None where its lengths are not known.

    >>> coil_of({"rate_n_per_mm": 60.0, "free_length_mm": 200.0, "block_length_mm": 80.0}).stroke_mm
    120.0
    """
    rate, free, block = (given.get(code) for code in ("rate_n_per_mm", "free_length_mm", "block_length_mm"))
    return None if rate is None or free is None or block is None else Coil(rate, free, block)


def spring_of(place: Place) -> Given:
    """What is said of the spring at an end: the build's, else the one of its coilover, else the old one."""
    damper = place.other("damper") or {}
    own = {
        "rate_n_per_mm": damper.get("rate_n_per_mm"),
        "free_length_mm": damper.get("free_length_mm"),
        "block_length_mm": damper.get("block_length_mm"),
    }
    if place.other("spring") is not None:
        return place.other("spring") or {}
    return own if own["rate_n_per_mm"] is not None else place.stood.old.get("spring", {})


def stack_of(place: Place, spring: Given) -> Stack | None:
    """A spring with the build's helper, if it has one."""
    coil, helper = coil_of(spring), coil_of(place.other("helper") or {})
    return None if coil is None else Stack(coil, helper)


def sprung_of(place: Place, spring: Given) -> Sprung | str:
    """A spring on this corner, between the seats of the one that stands there.

    Else what is wrong or not known, in words.
    """
    stood, stack = place.stood, stack_of(place, spring)
    lacks = [
        *([] if stack is not None else ["the spring's free length and with the coils touching"]),
        *stood.unweighed,
    ]
    if stack is None or lacks or stood.corner_kg is None or stood.unsprung_kg is None or stood.motion_ratio is None:
        return f"not known: {', '.join(lacks)}"
    preload = seats_mm(place, spring)
    try:
        return Sprung(stack, stood.corner_kg, stood.unsprung_kg, stood.motion_ratio, max(0.0, preload or 0.0))
    except CoreError as error:
        return error.message


def seats_mm(place: Place, spring: Given) -> float | None:
    """Preload at full droop between the seats there are [mm], below zero lying loose.

    None where the old spring or its preload is not read.
    """
    stood, old = place.stood, place.stood.old.get("spring", {})
    if spring.get("free_length_mm") is None:
        return None
    room = place.there("damper").get("room_most_mm")
    if room is not None and place.other("damper") is not None:
        return float(spring["free_length_mm"] - room + stood.levers.perch_up_mm)
    if old.get("free_length_mm") is None or stood.preload_mm is None:
        return None
    return preload_between_seats_mm(
        spring["free_length_mm"], old["free_length_mm"], stood.preload_mm, stood.levers.perch_up_mm
    )


def judge_spring(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A spring on this corner: coil bind, frequency, height, seats at full droop, its bore on the damper's seat."""
    beside = replace(place, beside=(("spring", given), *(one for one in place.beside if one[0] != "spring")))
    found = sprung_of(beside, given)
    heavy = replace(beside, stood=replace(beside.stood, corner_kg=beside.stood.heavy_kg or beside.stood.corner_kg))
    return (
        _bind(found, sprung_of(heavy, given), beside),
        _frequency(found, beside),
        _height(given, beside),
        _loose(given, beside),
        _bore(given, beside, "part.spring.bore"),
    )


def _bind(found: Sprung | str, heavy: Sprung | str, place: Place) -> Judgement:
    """The lighter corner tops out first, the heavier one binds first."""
    code, name = "part.spring.bind", "Coil bind with these springs"
    if isinstance(found, str) or isinstance(heavy, str):
        words = found if isinstance(found, str) else str(heavy)
        return unmeasured(code, name, words, ["springs"], ["record the old springs, weigh the corner"])
    if found.topped_out:
        return judged(
            code,
            name,
            "tight",
            f"topped out: {found.preload_n:.0f} N of preload against {found.static_force_n:.0f} N of load",
            "load > preload",
            inputs=place.stood.inputs,
            remedies=("a shorter or softer spring", "collars down"),
        )
    bound = heavy.coil_bind(place.stood.bump_mm)
    return replace(bound, code=code, name=name, inputs=(*place.stood.inputs, *bound.inputs))


def _frequency(found: Sprung | str, place: Place) -> Judgement:
    code, name = "part.spring.frequency", "Frequency with these springs"
    if isinstance(found, str):
        return unmeasured(code, name, found, ["springs"], ["weigh the corner"])
    hertz = found.natural_frequency_hz
    if hertz is None:
        return unmeasured(code, name, "topped out: the body does not swing on them", ["preload"], ["less preload"])
    low, high = USUAL_HZ.get(place.stood.use, USUAL_HZ["street"])
    state: State = "clear" if low <= hertz <= high else "tight"
    side = "soft" if hertz < low else "hard"
    return Judgement(
        code,
        name,
        state,
        f"{hertz:.2f} Hz" + ("" if state == "clear" else f": {side} for the use, {low:g} to {high:g} Hz"),
        f"{COMMON_PRACTICE}, from memory: {low:g} to {high:g} Hz",
        value=hertz,
        unit="Hz",
        held_against=low if hertz < low else high,
        margin=min(hertz - low, high - hertz),
        formula=f"√({found.wheel_rate_n_per_mm:.1f} N/mm ÷ {found.sprung_kg:g} kg) ÷ 2π = {hertz:.2f} Hz",
        inputs=place.stood.inputs,
        remedies=() if state == "clear" else ("another rate",),
    )


def spring_lowers_mm(place: Place, spring: Given) -> float | None:
    """What a spring between the old one's seats lowers the end by [mm]; None where something is not known."""
    stood, new, old = place.stood, stack_of(place, spring), coil_of(place.stood.old.get("spring", {}))
    if new is None or old is None or stood.force_n is None or stood.motion_ratio is None:
        return None
    return lowered_mm(Stack(old), new, stood.force_n, stood.motion_ratio)


def _as_sold(given: Given, place: Place, code: str, name: str) -> Judgement:
    """Height as the shop says it: never clear before it is read, a hit where no bump would be left."""
    lowers, stood = given["lowers_mm"], place.stood
    said = f"the shop says {abs(lowers):g} mm {'lower' if lowers >= 0 else 'higher'}"
    bump = None if stood.bump_mm is None else stood.bump_mm + stood.eaten_mm - lowers
    if bump is not None and bump <= 0:
        return judged(
            code,
            name,
            "hit",
            f"{said}: no bump travel is left",
            f"bump now − lower = {stood.bump_mm + stood.eaten_mm:g} − {lowers:g} = {bump:.1f} mm",  # type: ignore[operator]
            value=lowers,
            inputs=stood.inputs,
            remedies=("springs that lower less", "a damper with a shorter body"),
        )
    left = "" if bump is None else f"; {bump:.0f} mm of bump travel would be left"
    return unmeasured(
        code, name, f"{said}{left}", ["springs"], ["ask for rate and lengths, or read the height after fitting"]
    )


def _height(given: Given, place: Place) -> Judgement:
    """What the springs do to the height; for one of the list with the bump that is left after it."""
    code, name, stood = "part.spring.height", "Height with these springs", place.stood
    lowers = spring_lowers_mm(place, given)
    if lowers is None and given.get("lowers_mm") is not None:
        return _as_sold(given, place, code, name)
    if lowers is None:
        lacks = [
            *stood.unweighed,
            *([] if coil_of(given) else ["its lengths"]),
            *([] if coil_of(stood.old.get("spring", {})) else ["the old spring"]),
        ]
        return unmeasured(
            code, name, f"not known: {', '.join(lacks)}", ["springs"], ["record the old springs, weigh the corner"]
        )
    said = f"{abs(lowers):.0f} mm {'lower' if lowers >= 0 else 'higher'} between the same seats"
    if stood.bump_mm is None:
        return unmeasured(
            code, name, f"{said}; the travel to the stop is not measured", ["bump"], ["measure the bump travel left"]
        )
    left = stood.bump_mm + stood.eaten_mm - lowers
    least = LEAST_BUMP_MM.get(stood.use, LEAST_BUMP_MM["street"])
    state: State = "hit" if left <= 0 else "tight" if left < least else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{said}: {left:.0f} mm of bump travel left, {least:g} wanted",
        f"{COMMON_PRACTICE}, from memory: {least:g} mm",
        value=lowers,
        unit="mm",
        margin=left - least,
        formula=f"bump as it stands − lowered = {stood.bump_mm + stood.eaten_mm:g} − ({lowers:.1f}) = {left:.1f} mm".replace(
            "-", "−"
        ),
        inputs=stood.inputs,
        remedies=() if state == "clear" else ("a longer or stiffer spring", "a damper with a shorter body"),
    )


def _loose(given: Given, place: Place) -> Judgement:
    """Does the spring stay in its seats at full droop, and can it be put in?"""
    code, name = "part.spring.seats", "Spring in its seats at full droop"
    preload = seats_mm(place, given)
    damper = place.there("damper")
    longest = damper.get("extended_mm")
    if longest is not None and given.get("free_length_mm") is not None and given["free_length_mm"] >= longest:
        return judged(
            code,
            name,
            "hit",
            f"{given['free_length_mm']:g} mm free, longer than the damper's {longest:g}",
            "free length < damper extended",
            "geometry",
            remedies=("a shorter spring",),
        )
    if (
        preload is None
        and place.stood.old.get("spring", {}).get("free_length_mm") is not None
        and given.get("free_length_mm") is not None
    ):
        words = (
            "how much the old spring is wound up at full droop is not read, so the room between its seats is not known"
        )
        return unmeasured(
            code,
            name,
            words,
            ["preload"],
            ["measure between the seats at full droop: what the spring is shorter there is its preload"],
        )
    if preload is None:
        return unmeasured(code, name, "the old spring's free length is not known", ["springs"], OLD)
    helper = coil_of(place.other("helper") or {})
    taken = helper.stroke_mm if helper is not None else 0.0
    if preload < 0:
        held = taken + preload
        state: State = "hit" if held < 0 else "clear"
        reason = f"{-preload:.0f} mm loose" + (f"; the helper takes up {taken:.0f}" if helper is not None else "")
        return judged(
            code,
            name,
            state,
            reason,
            "free length − gap between the seats",
            "geometry",
            value=preload,
            remedies=("a helper", "collars up", "a longer spring"),
        )
    rate = given.get("rate_n_per_mm") or 0.0
    return judged(
        code,
        name,
        "clear",
        f"{preload:.0f} mm of preload, {preload * rate:.0f} N" if preload else "just seated",
        "free length − gap between the seats",
        "geometry",
        value=preload,
        inputs=place.stood.inputs,
    )


def _bore(given: Given, place: Place, code: str) -> Judgement:
    """The coil's inside on the seat that it stands on."""
    name, seat = "Coil on its seat", place.there("damper").get("seat_mm")
    inner = given.get("inner_mm")
    if seat is None or inner is None:
        what = "the coil's inside" if inner is None else "the seat of damper or spring seat"
        return unmeasured(code, name, f"{what} is not known", ["part.damper"], ["measure both with a caliper"])
    apart = inner - seat
    state: State = "hit" if apart < -1e-9 else "tight" if apart > SEAT_ROOM_MM + 1e-9 else "clear"
    words = {
        "clear": f"{inner:g} on {seat:g} mm",
        "hit": f"{-apart:g} mm too small for the seat",
        "tight": f"{apart:g} mm of play on the seat",
    }
    return judged(
        code,
        name,
        state,
        words[state],
        f"{inner:g} − {seat:g}",
        f"{COMMON_PRACTICE}, from memory: {SEAT_ROOM_MM:g} mm",
        value=apart,
        held_against=SEAT_ROOM_MM,
        inputs=(InputUsed("coil", f"{inner:g} mm", "offer"), InputUsed("seat", f"{seat:g} mm")),
        remedies=("the coil of the seat's size", "an adapter seat"),
    )


def spring_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """An alignment, a compressor, one-use nuts; a helper where it lies loose."""
    needs = [
        Need("other", "Alignment", 1, "height changes camber and toe: after the car has settled", COMMON_PRACTICE),
        Need(
            "other",
            "Spring compressor",
            1,
            "a compressed spring stores lethal energy: the right tool, on loan",
            COMMON_PRACTICE,
        ),
        Need("other", "Top nuts, one-use", 2, "self-locking nuts hold once", COMMON_PRACTICE),
    ]
    preload = seats_mm(place, given)
    if preload is not None and preload < 0:
        spec = {"inner_mm": given["inner_mm"]} if given.get("inner_mm") else {}
        needs.append(
            Need(
                "helper",
                "Helper springs",
                2,
                f"the spring lies {-preload:.0f} mm loose at full droop",
                "geometry",
                spec,
            )
        )
    return tuple(needs)


_RATE = Spec(
    "rate_n_per_mm",
    "rate",
    "rate",
    kind="spring_rate",
    unit="N/mm",
    words=("rate",),
    help="60 N/mm, 10 kgf/mm, 350 lbf/in",
)
_FREE = Spec(
    "free_length_mm", "free length", "coil_mm", kind="length", unit="mm", words=("free", "at rest", "long", "length")
)
_BLOCK = Spec(
    "block_length_mm",
    "coil-bind length",
    "coil_mm",
    kind="length",
    unit="mm",
    words=("block", "solid", "bound"),
)
_INNER = Spec(
    "inner_mm", "inside of the coil", "seat_mm", kind="length", unit="mm", words=("inside", "inner", "id", "bore")
)
_LOWERS = Spec(
    "lowers_mm",
    "lowers by, as the shop says",
    "shop_height_mm",
    kind="length",
    unit="mm",
    words=("lower", "drop", "lowers"),
)
SETTLED = Due("Ride height at four corners: have the springs settled", after_km=300)

SPRING = Family(
    "spring",
    "spring",
    "springs",
    (_RATE, _FREE, _BLOCK, _INNER, _LOWERS, PIECES, MASS_CHANGE),
    _coil,
    words=("coil spring", "coil springs", "spring", "springs"),
    shapes=(
        SET,
        SPRING_RATE,
        r"free\s*" + length("free_length_mm"),
        r"(?:block|solid)\s*" + length("block_length_mm"),
        r"(?:inside|inner|id)\s*" + length("inner_mm"),
        r"(?:lower(?:s|ing|ed)?|drop(?:s|ped)?)\s*(?:by\s*|of\s*)?" + length("lowers_mm"),
        length("lowers_mm") + r"\s*(?:lower(?:ing|ed)?|drop|low)\b",
    ),
    example="springs 45 N/mm free 250 mm block 110 mm inside 65 mm, 1.6 kg, 140, 2 weeks, supplier",
    knows=("corner_mass", "bump", "droop"),
    judge=judge_spring,
    drags=spring_drags,
    same_sides=("rate_n_per_mm", "free_length_mm", "block_length_mm"),
    asks=(
        Question(
            "load",
            "Axle load class of the spring asked for",
            ("yes", "not yet"),
            "one catalogue line covers light and heavy axles: the height is then wrong",
        ),
        Question(
            "ends",
            "Ends: flat, or pigtail as the old ones",
            ("as the old ones", "flat, seats ordered"),
            "a pigtail end does not sit on a flat seat",
        ),
    ),
    modules=("springs", "alignment"),
    dues=(SETTLED,),
    used_share=0.4,
    per_end=lambda lugs: 2,
)


def judge_helper(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A helper in series: solid at ride height, and long enough to keep the spring in its seats."""
    spring = spring_of(place)
    here = replace(place, beside=(("helper", given), *(one for one in place.beside if one[0] != "helper")))
    found = sprung_of(here, spring)
    code, name = "part.helper.closed", "Helper at ride height"
    if isinstance(found, str):
        return unmeasured(code, name, found, ["springs"], ["record the springs, weigh the corner"]), _bore(
            given, here, "part.helper.bore"
        )
    closed = bool(found.helper_closed)
    reason = (
        "solid at ride height"
        if closed
        else f"still open: the corner stands on {found.wheel_rate_n_per_mm:.1f} N/mm at the wheel"
    )
    shut = judged(
        code,
        name,
        "clear" if closed else "tight",
        reason,
        f"load {found.static_force_n:.0f} N against {found.stack.closing_n:.0f} N that closes it",
        "springs in series",
        inputs=place.stood.inputs,
        remedies=("a softer or shorter helper",),
    )
    return shut, _loose(spring, here), _bore(given, here, "part.helper.bore")


HELPER = Family(
    "helper",
    "helper spring",
    "helper springs",
    (
        replace(_RATE, decides=True),
        replace(_FREE, decides=True),
        replace(_BLOCK, decides=True),
        _INNER,
        PIECES,
        MASS_CHANGE,
    ),
    _coil,
    words=("helper spring", "helper springs", "helper", "helpers", "tender spring", "tender springs"),
    shapes=(
        SET,
        SPRING_RATE,
        r"free\s*" + length("free_length_mm"),
        r"(?:block|solid)\s*" + length("block_length_mm"),
        r"(?:inside|inner|id)\s*" + length("inner_mm"),
    ),
    example="helpers 12 N/mm free 60 mm block 18 mm inside 65 mm, 0.4 kg, 48, 1 week, supplier",
    knows=("corner_mass",),
    judge=judge_helper,
    same_sides=("rate_n_per_mm", "free_length_mm"),
    asks=(
        Question(
            "ring",
            "Coupler ring with it",
            ("yes", "ordered"),
            "helper and spring can't stand on each other without one",
        ),
    ),
    modules=("springs",),
    used_share=0.3,
    adds=True,
    per_end=lambda lugs: 2,
)
