"""Bump stops and top mounts, judged on the damper and in the body."""

from __future__ import annotations

from rimcore.parts.against import OLD, like_old
from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.parts.sprung import HEIGHT_ROOM_MM
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.standing import LEAST_BUMP_MM


def judge_bump_stop(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A bump stop on this damper: where it is met first, and what is left until it is solid."""
    stood, damper = place.stood, place.there("damper")
    installed, closed = stood.was("damper", "installed_mm"), damper.get("compressed_mm")
    rows = (("first", "First contact with the stop"), ("solid", "Bump travel to the solid stop"))
    if installed is None or closed is None or stood.motion_ratio is None:
        lacks = [
            what
            for what, value in (
                ("the damper's length at ride height", installed),
                ("its compressed length", closed),
                ("motion ratio", stood.motion_ratio),
            )
            if value is None
        ]
        return (
            *(
                unmeasured(f"part.stop.{code}", name, f"not known: {', '.join(lacks)}", ["part.damper"], OLD)
                for code, name in rows
            ),
            _hole(given, place),
        )
    room = installed - stood.eaten_mm * stood.motion_ratio - closed
    first, solid = ((room - given[code]) / stood.motion_ratio for code in ("free_mm", "solid_mm"))
    least = LEAST_BUMP_MM.get(stood.use, LEAST_BUMP_MM["street"])
    states: tuple[State, State] = (
        "clear" if first > 0 else "tight",
        "hit" if solid <= 0 else "tight" if solid < least else "clear",
    )
    said = (
        f"met after {first:.0f} mm of bump" if first > 0 else f"the car stands on it, {-first:.0f} mm deep",
        f"{solid:.0f} mm, {least:g} wanted",
    )
    basis = ("geometry", f"{COMMON_PRACTICE}, from memory: {least:g} mm")
    against = (0.0, least)
    return (
        *(
            Judgement(
                f"part.stop.{code}",
                name,
                states[k],
                said[k],
                basis[k],
                value=value,
                unit="mm",
                held_against=against[k],
                margin=value - against[k],
                formula=f"(damper at ride height − compressed − stop) ÷ {stood.motion_ratio:g} = {value:.1f} mm",
                inputs=(
                    InputUsed("shaft free at ride height", f"{room:.1f} mm"),
                    InputUsed("stop", f"{given['free_mm']:g}, solid {given['solid_mm']:g} mm", "offer"),
                ),
                remedies=() if states[k] == "clear" else ("a shorter stop", "another height"),
            )
            for k, ((code, name), value) in enumerate(zip(rows, (first, solid), strict=True))
        ),
        _hole(given, place),
    )


def _hole(given: Given, place: Place) -> Judgement:
    return like_old("part.stop.hole", "Stop on the shaft", "bump_stop", given, place, [("hole_mm", "hole", 1.0)])


def _stop(given: Given) -> None:
    if given["solid_mm"] >= given["free_mm"]:
        raise BadInput(f"must be below the free length; accepted: less than {given['free_mm']:g} mm", "solid_mm")


BUMP_STOP = Family(
    "bump_stop",
    "bump stop",
    "bump stops",
    (
        Spec("free_mm", "length", "stop_mm", decides=True, kind="length", unit="mm", words=("long", "length")),
        Spec(
            "solid_mm",
            "length squeezed solid",
            "stop_mm",
            decides=True,
            kind="length",
            unit="mm",
            words=("solid", "squeezed"),
        ),
        Spec("hole_mm", "hole for the shaft", "chassis_bolt_mm", kind="length", unit="mm", words=("hole", "shaft")),
        PIECES,
        MASS_CHANGE,
    ),
    _stop,
    words=("bump stop", "bump stops"),
    shapes=(
        SET,
        r"(?:solid|squeezed)\s*" + length("solid_mm"),
        r"(?:hole|shaft)\s*" + length("hole_mm"),
        length("free_mm", "needed"),
    ),
    example="bump stops 45 mm solid 18 mm hole 14 mm, set of 2, 26, in stock, supplier",
    knows=("bump",),
    judge=judge_bump_stop,
    same_sides=("free_mm", "solid_mm"),
    modules=("springs",),
    used_share=None,
    per_end=lambda lugs: 2,
)


def judge_top_mount(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A top mount in this body: studs, height of its stack, and whether its range reaches the build's camber."""
    wanted = [("studs", "studs", 0.0), ("circle_mm", "stud circle", 0.5)]
    return (
        like_old("part.mount.studs", "Top mount in the body", "top_mount", given, place, wanted),
        _stack(given, place),
        *_camber(given, place),
    )


def mount_lowers_mm(place: Place, given: Given) -> float | None:
    """What a thinner stack between spring and body lowers the end by [mm]; None where either is not known."""
    new, old, ratio = given.get("stack_mm"), place.stood.was("top_mount", "stack_mm"), place.stood.motion_ratio
    return None if new is None or old is None or ratio is None else (old - new) / ratio


def _stack(given: Given, place: Place) -> Judgement:
    code, name = "part.mount.height", "Height with this top mount"
    lowers = mount_lowers_mm(place, given)
    if lowers is None:
        return unmeasured(code, name, "its stack or the old one's is not known", ["part.top_mount"], OLD)
    state: State = "clear" if abs(lowers) <= HEIGHT_ROOM_MM else "tight"
    said = (
        "as high as the old one"
        if abs(lowers) < 0.5
        else f"{abs(lowers):.0f} mm {'lower' if lowers > 0 else 'higher'} than the old one"
    )
    return judged(
        code,
        name,
        state,
        said,
        "(old stack − stack) ÷ motion ratio",
        "geometry",
        value=lowers,
        held_against=HEIGHT_ROOM_MM,
        inputs=(InputUsed("stack", f"{given['stack_mm']:g} mm", "offer"),),
        remedies=("reckon it into the collars", "a spacer"),
    )


def _camber(given: Given, place: Place) -> tuple[Judgement, ...]:
    """Does its range reach the camber of the build? Nothing where the build asks for none."""
    code, name = "part.mount.camber", "Camber with this top mount"
    reach, now = given.get("camber_deg"), place.stood.camber_deg
    wanted = place.candidate.fitted.camber_deg if place.wheels else 0.0
    if reach is None or now is None or not place.wheels:
        what = "its range of camber" if reach is None else "the camber as it stands"
        return (unmeasured(code, name, f"not known: {what}", ["camber"], ["ask the maker, read the camber"]),)
    change = wanted - now
    if abs(change) < 1e-9:
        return ()
    enough = abs(change) <= reach + 1e-9
    return (
        judged(
            code,
            name,
            "clear" if enough else "hit",
            f"the build wants {change:+.1f}°, it gives ±{reach:g}°".replace("-", "−"),
            f"{wanted:g} − ({now:g})".replace("-", "−"),
            "geometry",
            value=change,
            unit="°",
            held_against=reach,
            inputs=(InputUsed("range", f"±{reach:g}°", "offer"),),
            remedies=("other arms too", "less camber in the build"),
        ),
    )


TOP_MOUNT = Family(
    "top_mount",
    "top mount",
    "top mounts",
    (
        Spec("kind", "kind", choices={"rubber": "rubber", "pillow": "pillow ball"}, words=("rubber", "pillow ball")),
        Spec("stack_mm", "stack, spring seat to body", "stack_mm", kind="length", unit="mm", words=("stack",)),
        Spec("studs", "studs", "holes", counted=True, words=("studs",)),
        Spec("circle_mm", "stud circle", "bore_mm", kind="length", unit="mm", words=("circle",)),
        Spec("camber_deg", "range of camber, ±", "camber_range_deg", kind="angle", unit="°", words=("camber",)),
        PIECES,
        MASS_CHANGE,
    ),
    words=("top mount", "top mounts", "camber plate", "camber plates"),
    shapes=(
        SET,
        r"stack\s*" + length("stack_mm"),
        r"(?P<studs>\d)\s*studs",
        r"circle\s*" + length("circle_mm"),
        r"camber\s*(?:±|\+/-)?\s*(?P<camber_deg>\d(?:[.,]\d+)?)\s*(?:°|deg)?",
    ),
    example="top mounts pillow ball stack 28 mm 3 studs circle 96 mm camber ±2, 1.1 kg, 260, 3 weeks, supplier",
    knows=("camber",),
    judge=judge_top_mount,
    drags=lambda given, place: (
        Need("other", "Alignment", 1, "camber and caster move with it", COMMON_PRACTICE),
        Need("other", "Top nuts, one-use", 2, "self-locking nuts hold once", COMMON_PRACTICE),
    ),
    same_sides=("kind", "stack_mm"),
    asks=(
        Question(
            "side",
            "Left and right plates told apart",
            ("alike", "both ordered"),
            "slots slope: a left plate on the right takes caster away",
        ),
    ),
    modules=("springs", "alignment"),
    dues=(Due("Top mounts: play, and knocks at full lock", after_km=1000),),
    used_share=0.4,
    per_end=lambda lugs: 2,
)
