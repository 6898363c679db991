"""Tie rods, rack brackets, and the shaft between column and rack."""

from __future__ import annotations

from dataclasses import replace

from rimcore.fastening.threads import parse_thread
from rimcore.parts.against import OLD, like_old
from rimcore.parts.common import HANDS, judge_same_thread, judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length, two_lengths
from rimcore.parts.hubware import MASS_CHANGE, PIECES, THREAD
from rimcore.parts.linked import ALIGNMENT, settable_mm, whole_arm
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, unmeasured
from rimcore.steering.rack import engagement, joint_angle

#: a rod's thread and a shaft's spline want so many diameters (common practice)
THREAD_TIMES, SPLINE_TIMES = 1.5, 1.0


def judge_tie_rod(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A rod on this rack and arm.

    Its thread, its taper, and whether it reaches with the rack where the build has it.
    """
    return (
        _rod_thread(given, place),
        like_old("part.rod.taper", "Rod's pin in the arm", "tie_rod", given, place, [("taper_mm", "taper", 0.1)]),
        _reach(given, place),
    )


def _rod_thread(given: Given, place: Place) -> Judgement:
    code, name, old = "part.rod.thread", "Rod's thread", place.stood.was("tie_rod", "thread")
    if old is None:
        return unmeasured(
            code, name, "the rack's thread is not recorded", ["part.tie_rod"], ["read it with a thread gauge"]
        )
    if not given.get("thread"):
        return unmeasured(code, name, "the line does not give its thread", ["part.tie_rod"], ["ask the shop"])
    try:
        one, other = parse_thread(given["thread"]), parse_thread(old)
    except CoreError as error:
        return unmeasured(code, name, error.message, ["part.tie_rod"], OLD)
    return judge_same_thread(code, name, one, other, InputUsed("old one", str(other), "recorded"))


def _reach(given: Given, place: Place) -> Judgement:
    """The length that points and rack want, against what the rod can be set to with a diameter and a half engaged."""
    code, name, stood = "part.rod.length", "Rod's length at the build's rack", place.stood
    least, most = settable_mm(given)
    if stood.rod_mm is None or least is None or most is None:
        what = "the hard points" if stood.rod_mm is None else "how short and how long it can be set"
        return unmeasured(
            code, name, f"not known: {what}", ["hard points"], ["read the hard points", "ask for both lengths"]
        )
    wanted = stood.rod_mm + (stood.rod_change_mm or 0.0)
    inputs = (
        InputUsed("rod now", f"{stood.rod_mm:.1f} mm", "hard points"),
        InputUsed("rack moved", f"{stood.levers.rack_mm[0]:g} forward, {stood.levers.rack_mm[1]:g} up", "the build"),
        *stood.inputs,
    )
    formula = f"{stood.rod_mm:.1f} + {stood.rod_change_mm or 0.0:.1f} = {wanted:.1f} mm".replace("+ -", "− ")
    if least - 0.5 <= wanted <= most + 0.5:
        return judged(
            code,
            name,
            "clear",
            f"set it to {wanted:.0f} mm",
            formula,
            "geometry; the ends are the maker's, with 1.5 diameters engaged",
            inputs=inputs,
            value=0.0,
        )
    apart = least - wanted if wanted < least else wanted - most
    reason = f"{apart:.0f} mm too {'long' if wanted < least else 'short'} for the {wanted:.0f} mm that are wanted"
    return judged(
        code,
        name,
        "hit",
        reason,
        formula,
        "geometry",
        value=apart,
        held_against=0.5,
        inputs=inputs,
        remedies=("another rod", "cut it, if the thread goes on far enough"),
    )


TIE_ROD = Family(
    "tie_rod",
    "tie rod or end",
    "tie rods and ends",
    (
        Spec("thread", "thread", read=parse_thread, words=("thread",), help="M14x1.5"),
        Spec("length_mm", "length, joint to joint", "arm_mm", kind="length", unit="mm", words=("length", "long")),
        Spec("shortest_mm", "shortest it can be set", "arm_mm", kind="length", unit="mm", words=("shortest",)),
        Spec(
            "longest_mm", "longest with 1.5 diameters engaged", "arm_mm", kind="length", unit="mm", words=("longest",)
        ),
        Spec(
            "taper_mm",
            "pin at the large end of its taper",
            "taper_mm",
            kind="length",
            unit="mm",
            words=("taper", "pin"),
        ),
        Spec("hand", "side", choices=HANDS, words=("left and right", "pair", "left", "right", "either")),
        PIECES,
        MASS_CHANGE,
    ),
    whole_arm,
    words=("tie rod", "tie rods", "tie rod end", "tie rod ends", "track rod", "track rods", "rod end", "rod ends"),
    shapes=(
        THREAD,
        SET,
        r"(?:taper|pin)\s*" + length("taper_mm"),
        two_lengths("shortest_mm", "longest_mm"),
        length("length_mm", "needed"),
    ),
    example="tie rods M14x1.5 300-340 mm taper 15.2 mm pair, 1.2 kg, 118, 1 week, supplier",
    knows=("toe",),
    judge=judge_tie_rod,
    drags=lambda given, place: (
        replace(ALIGNMENT, why="toe is set anew"),
        Need("other", "Rod end nuts, one-use", 2, "self-locking or pinned", COMMON_PRACTICE),
        Need("other", "Rack boot clips", 2, "the boot is opened", COMMON_PRACTICE, needed=False),
    ),
    same_sides=("thread", "shortest_mm", "longest_mm", "taper_mm"),
    asks=(
        Question(
            "thread",
            "Left- or right-hand thread read",
            ("right, both sides", "one of each"),
            "a left-hand end does not go on a right-hand rod",
        ),
    ),
    modules=("rods", "alignment"),
    dues=(Due("Rod lock nuts and pins, re-torque", after_km=80),),
    ends=("F",),
    used_share=0.2,
    per_end=lambda lugs: 2,
)

KINDS = {"bolted": "bolt-in bracket", "welded": "fabricated mounts, welded", "spacer": "offset spacer"}


def judge_bracket(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A rack's new place: over centre there, its school, and whether the build reckons with it."""
    forward, up = given.get("forward_mm") or 0.0, given.get("up_mm") or 0.0
    stood, found = place.stood, []
    if stood.racked is None:
        found.append(
            unmeasured(
                "part.rack.centre",
                "Over centre with this bracket",
                "the hard points are not read",
                ["hard points"],
                ["read the hard points"],
            )
        )
    else:
        found.append(replace(stood.racked(forward, up), code="part.rack.centre", name="Over centre with this bracket"))
    kind = given.get("kind")
    words = {
        "bolted": ("clear", "bolts on, comes off again; dearer, and the place is the maker's"),
        "welded": ("tight", "cut and welded: any place, cheap, for good; structural welds by a qualified welder"),
        "spacer": ("tight", "an offset spacer side-loads the rack until its seals leak"),
    }
    if kind in words:
        state, reason = words[kind]
        found.append(
            judged(
                "part.rack.school",
                "How the rack is moved",
                "clear" if state == "clear" else "tight",
                reason,
                "two schools",
                remedies=("a bolt-in bracket",),
            )
        )
    if place.chosen:
        apart = max(abs(forward - stood.levers.rack_mm[0]), abs(up - stood.levers.rack_mm[1]))
        reason = (
            "as the part"
            if apart < 0.05
            else f"the part moves it {forward:g} forward and {up:g} up, the build reckons with {stood.levers.rack_mm[0]:g} and {stood.levers.rack_mm[1]:g}"
        )
        found.append(
            judged(
                "part.rack.lever",
                "Rack in the build",
                "clear" if apart < 0.05 else "tight",
                reason,
                "part − lever",
                "the build's settings",
                value=apart,
                remedies=("set the build's rack as the part has it",),
            )
        )
    return tuple(found)


RACK_BRACKET = Family(
    "rack_bracket",
    "rack bracket or spacer",
    "rack brackets and spacers",
    (
        Spec(
            "kind",
            "kind",
            choices=KINDS,
            words=("bolt-in bracket", "fabricated mounts, welded", "offset spacer"),
        ),
        Spec("forward_mm", "moves the rack forward", "rack_move_mm", kind="length", unit="mm", words=("forward",)),
        Spec("up_mm", "moves it up", "rack_move_mm", kind="length", unit="mm", words=("up",)),
        MASS_CHANGE,
    ),
    words=("rack bracket", "rack brackets", "rack mount", "rack mounts", "rack spacer", "rack spacers"),
    shapes=(r"forward\s*" + length("forward_mm"), length("forward_mm") + r"\s*forward", r"up\s*" + length("up_mm")),
    example="rack bracket bolt-in bracket forward 26 mm up 4 mm, 1.1 kg, 240, 4 weeks, supplier",
    judge=judge_bracket,
    drags=lambda given, place: (
        replace(ALIGNMENT, why="rods and toe are set anew"),
        Need(
            "shaft",
            "Shaft extension",
            1,
            "a rack that goes forward pulls the shaft out of its joint",
            COMMON_PRACTICE,
            needed=False,
        ),
        Need("other", "Shaft clamp bolt, one-use", 1, "stretched once, where the maker says so", COMMON_PRACTICE),
        Need("fluid", "Steering fluid", 1, "the circuit is opened", COMMON_PRACTICE, {"kind": "steering"}),
        Need("other", "Hose brackets", 2, "the old ones are at the old place", COMMON_PRACTICE, needed=False),
    ),
    sets={"rack_forward_mm": "forward_mm", "rack_up_mm": "up_mm"},
    asks=(
        Question(
            "rack", "Which rack it is for", ("as on the car", "not yet asked"), "mounts of two racks differ by a bolt"
        ),
    ),
    modules=("rack", "alignment"),
    dues=(Due("Rack mounts and shaft clamp, re-torque", after_km=80),),
    ends=("F",),
    used_share=0.5,
    adds=True,
    per_end=lambda lugs: 1,
)


def judge_shaft(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A shaft or a joint between column and rack: spline, what stays engaged with the rack moved, angle."""
    stood = place.stood
    old = stood.was("shaft", "engaged_mm")
    left = None if old is None else old + (given.get("length_mm") or 0.0) - stood.levers.rack_mm[0]
    held = engagement(
        "part.shaft.engaged", "Shaft in its joint", left, given["spline_mm"], SPLINE_TIMES, "spline diameter"
    )
    if held.state == "unmeasured":
        held = replace(
            held,
            missing=("part.shaft",),
            reason="how far the shaft sits in its joint now is not recorded",
            remedies=tuple(OLD),
        )
    else:
        extra = given.get("length_mm") or 0.0
        held = replace(
            held,
            formula=f"{old:g} + {extra:g} − {stood.levers.rack_mm[0]:g} = {left:g} mm; {held.formula}",
            inputs=(
                InputUsed("engaged now", f"{old:g} mm", "recorded"),
                InputUsed("rack forward", f"{stood.levers.rack_mm[0]:g} mm", "the build"),
            ),
        )
    fits = like_old(
        "part.shaft.spline", "Spline", "shaft", given, place, [("spline_mm", "spline", 0.1), ("teeth", "teeth", 0.0)]
    )
    angle = stood.was("shaft", "angle_deg")
    if angle is None:
        bent = unmeasured(
            "part.shaft.angle",
            "Angle of the joint",
            "nobody has measured it",
            ["part.shaft"],
            ["angle gauge on both shafts"],
        )
    else:
        bent = replace(
            joint_angle([angle]),
            code="part.shaft.angle",
            name="Angle of the joint",
            inputs=(InputUsed("angle now", f"{angle:g}°", "recorded"),),
        )
    return held, fits, bent


SHAFT = Family(
    "shaft",
    "steering shaft or joint",
    "steering shafts and joints",
    (
        Spec("spline_mm", "spline", "spline_mm", decides=True, kind="length", unit="mm", words=("spline",)),
        Spec("teeth", "teeth", "teeth", counted=True, words=("teeth",)),
        Spec(
            "length_mm",
            "longer than the old one",
            "engaged_mm",
            kind="length",
            unit="mm",
            words=("extension", "longer"),
        ),
        Spec(
            "engaged_mm", "sits in the joint", "engaged_mm", kind="length", unit="mm", words=("engaged",), stands=True
        ),
        Spec(
            "angle_deg",
            "angle of the sharpest joint",
            "joint_deg",
            kind="angle",
            unit="°",
            words=("angle",),
            stands=True,
        ),
        MASS_CHANGE,
    ),
    words=("steering shaft", "steering shafts", "steering joint", "shaft extension", "universal joint"),
    shapes=(
        r"(?P<teeth>\d{2})\s*teeth",
        r"(?:extension|longer)\s*" + length("length_mm"),
        length("spline_mm", "needed"),
    ),
    example="steering shaft 17 mm 36 teeth extension 30 mm, 0.4 kg, 96, 2 weeks, supplier",
    judge=judge_shaft,
    drags=lambda given, place: (
        Need("other", "Shaft clamp bolt, one-use", 1, "stretched once, where the maker says so", COMMON_PRACTICE),
    ),
    asks=(
        Question(
            "flat",
            "Flat or groove for the clamp bolt",
            ("as the old one", "not yet looked at"),
            "a spline without it can slip out",
        ),
    ),
    modules=("rack",),
    dues=(Due("Shaft clamp bolts, re-torque", after_km=80),),
    ends=("F",),
    used_share=0.3,
    per_end=lambda lugs: 1,
)
