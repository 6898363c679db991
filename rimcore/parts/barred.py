"""Anti-roll bars with their links, and subframes."""

from __future__ import annotations

from dataclasses import replace

from rimcore.parts.against import OLD, like_old
from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length, two_lengths
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.parts.linked import ALIGNMENT, settable_mm, whole_arm
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.heights import bar_stiffness_ratio

#: how much stiffer a bar may be at one end alone (common practice, from memory)
BAR_ROOM = 1.5


def _bar(given: Given) -> None:
    wall = given.get("wall_mm")
    if wall is not None and 2 * wall >= given["outer_mm"]:
        raise BadInput(f"is half of the bar or more; accepted: less than {given['outer_mm'] / 2:g} mm", "wall_mm")


def _unsaid(given: Given, place: Place) -> list[str]:
    """What a comparison of two bars takes for granted because nobody said it.

    That both are solid, and their arms alike.
    """
    old = place.stood.old.get("roll_bar", {})
    hollow = [
        which
        for which, bar in (("the bar", given), ("the old one", old))
        if bar.get("wall_mm") is None and bar.get("make") != "solid"
    ]
    arms = (given.get("arm_mm") is None) or (old.get("arm_mm") is None)
    return [*(f"is {which} hollow" for which in hollow), *(["both arms"] if arms else [])]


def judge_bar(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A bar against the old one: how much stiffer, and does it lie in the old bushes."""
    old, wall = place.stood.was("roll_bar", "outer_mm"), place.stood.was("roll_bar", "wall_mm")
    code, name = "part.bar.stiffness", "Bar against the old one"
    if old is None:
        return (unmeasured(code, name, "the old bar is not recorded", ["part.roll_bar"], OLD),)
    ratio = bar_stiffness_ratio(given["outer_mm"], old, given.get("wall_mm"), wall)
    arm, old_arm = given.get("arm_mm"), place.stood.was("roll_bar", "arm_mm")
    if arm is not None and old_arm is not None:
        ratio *= (old_arm / arm) ** 2
    lacks = _unsaid(given, place)
    state: State = "tight" if not 1 / BAR_ROOM <= ratio <= BAR_ROOM else "unmeasured" if lacks else "clear"
    end = "front" if place.stood.end == "F" else "rear"
    words = f"{ratio:.2f} times as stiff in roll" + (
        f": at the {end} alone it moves the balance, look at both ends" if state == "tight" else ""
    )
    words += f"; not known: {', '.join(lacks)}" if lacks else ""
    inputs = (
        InputUsed("old bar", f"{old:g} mm", "recorded"),
        InputUsed("part", f"{given['outer_mm']:g} mm", "offer"),
    )
    found = judged(
        code,
        name,
        state,
        words,
        f"({given['outer_mm']:g} ÷ {old:g})⁴ less what is hollow, × (old arm ÷ arm)² = {ratio:.2f}",
        f"torsion of a round bar; {BAR_ROOM:g} times at one end is {COMMON_PRACTICE}, from memory",
        value=ratio,
        unit="×",
        held_against=BAR_ROOM,
        inputs=inputs,
        remedies=("a softer hole of its arm", "the other end too"),
    )
    lies = abs(given["outer_mm"] - old) <= 0.3
    bushes = judged(
        "part.bar.bushes",
        "Bar in its bushes",
        "clear" if lies else "tight",
        "the old bushes hold it" if lies else f"bushes for {given['outer_mm']:g} mm are wanted",
        f"{given['outer_mm']:g} − {old:g}",
        "geometry",
        value=given["outer_mm"] - old,
        held_against=0.3,
        inputs=inputs,
        remedies=("its own bushes",),
    )
    return found, bushes


ROLL_BAR = Family(
    "roll_bar",
    "anti-roll bar",
    "anti-roll bars",
    (
        Spec("outer_mm", "diameter", "roll_bar_mm", decides=True, kind="length", unit="mm", words=("diameter",)),
        Spec("make", "solid or hollow", choices={"solid": "solid", "hollow": "hollow"}, words=("solid", "hollow")),
        Spec("wall_mm", "wall, of a hollow one", "roll_bar_wall_mm", kind="length", unit="mm", words=("wall",)),
        Spec("arm_mm", "arm, bar to link", "arm_mm", kind="length", unit="mm", words=("arm",)),
        Spec("holes", "holes for the link", "holes", counted=True, words=("holes",)),
        MASS_CHANGE,
    ),
    _bar,
    words=("anti-roll bar", "anti-roll bars", "sway bar", "sway bars", "roll bar"),
    shapes=(
        r"wall\s*" + length("wall_mm"),
        r"arm\s*" + length("arm_mm"),
        r"(?P<holes>\d)\s*holes",
        length("outer_mm", "needed"),
    ),
    example="anti-roll bar 24 mm solid arm 220 mm 2 holes, 1.3 kg, 210, 3 weeks, supplier",
    judge=judge_bar,
    drags=lambda given, place: (
        Need(
            "other",
            f"Bar bushes {given['outer_mm']:g} mm" if given.get("outer_mm") else "Bar bushes of its diameter",
            2,
            "a thicker bar does not go into the old ones",
            COMMON_PRACTICE,
            needed=False,
        ),
    ),
    asks=(
        Question(
            "way",
            "Clearance to shafts and exhaust asked for",
            ("yes", "not yet"),
            "bars of one body differ by its drive",
        ),
    ),
    modules=("bar",),
    dues=(Due("Bar brackets and links, re-torque", after_km=80),),
    used_share=0.4,
    per_end=lambda lugs: 1,
)


def judge_bar_link(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A link that keeps the bar's arm where it was, at the height of the build; ends as the old one's."""
    old, drop = place.stood.was("bar_link", "length_mm"), place.stood.moves_mm
    least, most = settable_mm(given)
    code, name = "part.link.length", "Link at the build's height"
    way = given.get("way") or place.stood.was("bar_link", "way")
    ends = like_old(
        "part.link.ends", "Link's ends", "bar_link", given, place, [("ends", "ends", 0.0), ("bolt_mm", "thread", 0.1)]
    )
    if old is None or least is None or most is None or way is None:
        return unmeasured(
            code,
            name,
            "its length, the old one's, or which way it goes from the bar is not known",
            ["part.bar_link"],
            OLD,
        ), ends
    wanted = old + drop if way == "up" else old - drop
    inputs = (
        InputUsed("old link", f"{old:g} mm", "recorded"),
        InputUsed("lowered from where it stands", f"{drop:g} mm", "the build"),
        InputUsed("part", f"{least:g} to {most:g} mm", "offer"),
    )
    apart = least - wanted if wanted < least else most - wanted if wanted > most else 0.0
    state: State = "clear" if abs(apart) <= 10 else "tight"
    reason = (
        f"set it to {wanted:g} mm"
        if apart == 0 and most > least
        else f"{abs(apart):.0f} mm {'longer' if apart > 0 else 'shorter'} than the {wanted:g} mm that keep the bar's arm level"
    )
    return (
        judged(
            code,
            name,
            state,
            reason,
            f"old {'+' if way == 'up' else '−'} lowered = {wanted:g} mm",
            f"geometry, link taken upright; 10 mm is {COMMON_PRACTICE}, from memory",
            value=apart,
            held_against=10.0,
            inputs=inputs,
            remedies=(f"a link of {wanted:.0f} mm", "an adjustable one"),
        ),
        ends,
    )


BAR_LINK = Family(
    "bar_link",
    "bar link",
    "bar links",
    (
        Spec("length_mm", "length, joint to joint", "link_mm", kind="length", unit="mm", words=("length", "long")),
        Spec("shortest_mm", "shortest it can be set", "link_mm", kind="length", unit="mm", words=("shortest",)),
        Spec("longest_mm", "longest", "link_mm", kind="length", unit="mm", words=("longest",)),
        Spec(
            "way",
            "from the bar",
            choices={"up": "up to the strut", "down": "down to the arm"},
            words=("up to the strut", "down to the arm"),
        ),
        Spec(
            "ends",
            "ends",
            choices={"studs": "studs", "eyes": "eyes", "mixed": "stud and eye"},
            words=("stud and eye", "studs", "eyes"),
        ),
        Spec(
            "bolt_mm",
            "thread of the ends",
            "chassis_bolt_mm",
            kind="length",
            unit="mm",
            trade=True,
            words=("bolt", "thread"),
        ),
        PIECES,
        MASS_CHANGE,
    ),
    whole_arm,
    words=("bar link", "bar links", "drop link", "drop links", "sway bar link", "sway bar links"),
    shapes=(
        SET,
        two_lengths("shortest_mm", "longest_mm"),
        r"(?:bolt|M)\s*" + length("bolt_mm"),
        length("length_mm", "needed"),
    ),
    example="bar links 240-290 mm up to the strut studs bolt M10, set of 2, 84, 1 week, supplier",
    judge=judge_bar_link,
    same_sides=("length_mm", "shortest_mm", "longest_mm"),
    modules=("bar",),
    dues=(Due("Bar links: play", after_km=1000),),
    used_share=0.3,
    per_end=lambda lugs: 2,
)


def judge_subframe(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A subframe is looked at before it goes in: rust, cracks, threads; squareness is read on the car."""
    code, name = "part.subframe.seen", "Subframe, looked over"
    seen = place.answers.get("seen")
    if given.get("state") == "new":
        first = judged(code, name, "clear", "new", "common practice")
    elif seen == "sound":
        first = judged(
            code,
            name,
            "clear",
            "sound at mounts and welds",
            "looked at",
            inputs=(InputUsed("looked at", "sound", "answered at the counter"),),
        )
    elif seen == "to be repaired":
        first = judged(
            code,
            name,
            "tight",
            "to be repaired: structural welds by a qualified welder",
            "looked at",
            remedies=("another one", "a repair with its cost in the plan"),
        )
    else:
        first = unmeasured(
            code,
            name,
            "nobody has looked at its mounts and welds",
            ["part.subframe"],
            ["look for rust, cracks and stripped threads before it is paid for"],
        )
    return (
        first,
        like_old(
            "part.subframe.mounts",
            "Subframe on the body",
            "subframe",
            given,
            place,
            [("mounts", "mounts", 0.0), ("apart_mm", "front mounts apart", 1.6)],
        ),
    )


SUBFRAME = Family(
    "subframe",
    "subframe",
    "subframes",
    (
        Spec(
            "state",
            "state",
            choices={"new": "new", "used": "used", "repaired": "repaired"},
            words=("new", "used", "repaired"),
        ),
        Spec("mounts", "mounts", "holes", counted=True, words=("mounts",)),
        Spec("apart_mm", "front mounts apart", "frame_mm", kind="length", unit="mm", words=("apart",)),
        MASS_CHANGE,
    ),
    words=("subframe", "subframes", "crossmember", "crossmembers"),
    shapes=(r"(?P<mounts>\d)\s*mounts", r"apart\s*" + length("apart_mm"), length("apart_mm", "needed")),
    example="subframe used 4 mounts apart 760 mm, 21 kg, 180, 2 weeks, supplier",
    judge=judge_subframe,
    drags=lambda given, place: (
        replace(ALIGNMENT, why="everything hangs on it"),
        Need("other", "Subframe bolts, one-use", 4, "stretched once, where the maker says so", COMMON_PRACTICE),
        Need("other", "Subframe mounts", 4, "while it is down anyway", COMMON_PRACTICE, needed=False),
    ),
    asks=(
        Question(
            "seen",
            "Looked over: mounts, welds, threads",
            ("sound", "to be repaired", "not yet"),
            "rust under a seat is found with the car in the air",
        ),
        Question(
            "variant",
            "Gearbox and drive told to the counter",
            ("yes", "not yet"),
            "subframes of one body differ by both",
        ),
    ),
    modules=("subframe", "alignment"),
    dues=(Due("Subframe bolts, re-torque", after_km=80),),
    used_share=0.5,
    per_end=lambda lugs: 1,
)
