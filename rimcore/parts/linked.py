"""Control arms, ball joints and bushes."""

from __future__ import annotations

from rimcore.parts.against import like_old
from rimcore.parts.common import HANDS, judge_hand, judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length, two_lengths
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.parts.spaces import judge_bush_bore, judge_bush_pin
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, unmeasured
from rimcore.ride.heights import arm_camber_deg

#: an arm that can't be set may differ from the old one by [mm] (common practice, from memory)
ARM_ROOM_MM = 0.5
#: where an arm stands, in words
PLACES = {
    "lower": "lower",
    "upper": "upper",
    "caster": "caster arm",
    "tension": "tension rod",
    "radius": "radius arm",
    "trailing": "trailing",
    "toe": "toe link",
    "lateral": "lateral link",
    "panhard": "panhard rod",
}
#: which angle another length moves (common practice)
MOVES = {
    "caster": "caster, and the wheel forward or back in its arch",
    "tension": "caster, and the wheel forward or back in its arch",
    "radius": "caster, and the wheel forward or back in its arch",
    "trailing": "where the wheel stands along the car, and its toe",
    "toe": "toe",
    "lateral": "camber and toe",
    "panhard": "the axle to one side under the body",
}
ALIGNMENT = Need("other", "Alignment", 1, "another arm moves camber, caster and toe", COMMON_PRACTICE)
BOLTS = Need("other", "Arm bolts, one-use", 4, "stretched once, where the maker says so", COMMON_PRACTICE)
RIDE_HEIGHT = Due("Bush bolts: were they tightened at ride height", after_days=1)


def whole_arm(given: Given) -> None:
    least, most = given.get("shortest_mm"), given.get("longest_mm")
    if least is not None and most is not None and least > most:
        raise BadInput("the shortest length is above the longest", "shortest_mm")


def settable_mm(given: Given) -> tuple[float | None, float | None]:
    """Shortest and longest that a part can be set to [mm]; one that can't be set has its length for both.

    >>> settable_mm({"length_mm": 340.0}), settable_mm({"shortest_mm": 330.0, "longest_mm": 350.0})
    ((340.0, 340.0), (330.0, 350.0))
    """
    fixed = given.get("length_mm")
    least, most = given.get("shortest_mm"), given.get("longest_mm")
    return (fixed if least is None else least), (fixed if most is None else most)


def stands_back_mm(given: Given, old: Given) -> float | None:
    """How far an arm stands back from the line of the one it replaces, at the tyre [mm].

    None where neither shape nor distance is said.

    >>> stands_back_mm({"shape": "bent", "back_mm": 12.0}, {}), stands_back_mm({"shape": "straight"}, {"shape": "straight"})
    (12.0, 0.0)
    >>> stands_back_mm({"shape": "bent"}, {"shape": "straight"}) is None
    True
    """
    if given.get("back_mm") is not None:
        return float(given["back_mm"])
    same = (
        given.get("shape") is not None
        and given.get("shape") == old.get("shape")
        and given.get("place") == old.get("place", given.get("place"))
    )
    return 0.0 if same else None


def judge_arm(given: Given, place: Place) -> tuple[Judgement, ...]:
    """An arm against the one it replaces: eye to eye, what another length does to the camber, and its bushes' bolts."""
    found = [
        _eye_to_eye(given, place),
        like_old(
            "part.arm.bolts",
            "Arm's bolts",
            "control_arm",
            given,
            place,
            [("bolt_mm", "bolt", 0.1), ("eye_mm", "width of the eye", 0.5)],
        ),
    ]
    if given.get("hand") in ("left", "right"):
        found.append(judge_hand("part.arm.hand", "Arm's side", given, "look at the bend"))
    return tuple(found)


def _eye_to_eye(given: Given, place: Place) -> Judgement:
    """Set to the old one's length before it goes on (common practice); one that can't be set tilts the upright."""
    code, name = "part.arm.length", "Arm, eye to eye"
    old, stands = place.stood.was("control_arm", "length_mm"), place.stood.was("control_arm", "place")
    if stands is not None and given.get("place") not in (None, stands):
        reason = f"the old one recorded is the {PLACES.get(stands, stands)}, this one is the {PLACES[given['place']]}"
        return unmeasured(code, name, reason, ["part.control_arm"], ["record the arm that it replaces"])
    least, most = settable_mm(given)
    if old is None or least is None or most is None:
        return unmeasured(
            code,
            name,
            "its length or the old one's is not known",
            ["part.control_arm"],
            ["measure both from middle to middle of the eyes"],
        )
    inputs = (
        InputUsed("old arm", f"{old:g} mm", "recorded"),
        InputUsed("part", f"{least:g} to {most:g} mm" if most > least else f"{most:g} mm", "offer"),
    )
    if least - ARM_ROOM_MM <= old <= most + ARM_ROOM_MM:
        words = f"set it to the old one's {old:g} mm before it goes on" if most > least else f"both {old:g} mm"
        words += turn_moves(given, place)
        return judged(code, name, "clear", words, f"{least:g} ≤ {old:g} ≤ {most:g}", inputs=inputs, value=0.0)
    change = least - old if old < least else most - old
    apart = place.stood.joints_apart_mm
    which = given.get("place")
    said = f"{abs(change):g} mm {'longer' if change > 0 else 'shorter'} than the old one"
    if which in MOVES:
        said += f": moves {MOVES[which]}; read it before"
    if apart is not None and which in ("lower", "upper"):
        more = (change > 0) == (which == "lower")
        said += f": about {arm_camber_deg(change, apart):.1f}° {'more' if more else 'less'} negative camber"
    return judged(
        code,
        name,
        "tight",
        said,
        f"{most if change < 0 else least:g} − {old:g}; camber: arctan of it over the joints' distance",
        "geometry",
        value=change,
        held_against=ARM_ROOM_MM,
        inputs=inputs,
        remedies=("an arm of the old length", "reckon the camber into the build"),
    )


def turn_moves(given: Given, place: Place) -> str:
    """What a turn of an arm's adjuster moves, in words; empty where the line gives no turn.

    >>> from types import SimpleNamespace
    >>> here = SimpleNamespace(stood=SimpleNamespace(joints_apart_mm=240.0))
    >>> turn_moves({"turn_mm": 1.5, "place": "lower"}, here)
    '; a turn gives 1.5 mm, about 0.4° of camber'
    """
    turn, apart, which = given.get("turn_mm"), place.stood.joints_apart_mm, given.get("place")
    if turn is None:
        return ""
    if which in ("lower", "upper"):
        return f"; a turn gives {turn:g} mm" + (
            "" if apart is None else f", about {arm_camber_deg(turn, apart):.1f}° of camber"
        )
    return f"; a turn gives {turn:g} mm and moves {MOVES.get(str(which), 'its angle')}"


CONTROL_ARM = Family(
    "control_arm",
    "control arm",
    "control arms",
    (
        Spec(
            "place",
            "which",
            choices=PLACES,
            words=(
                "lower",
                "upper",
                "caster",
                "tension",
                "radius",
                "trailing",
                "toe link",
                "lateral link",
                "toe",
                "lateral",
                "panhard",
            ),
            required=True,
        ),
        Spec("length_mm", "eye to eye", "arm_mm", kind="length", unit="mm", words=("eye to eye", "length")),
        Spec("shortest_mm", "shortest it can be set", "arm_mm", kind="length", unit="mm", words=("shortest",)),
        Spec("longest_mm", "longest", "arm_mm", kind="length", unit="mm", words=("longest",)),
        Spec(
            "shape",
            "shape",
            choices={"straight": "straight", "bent": "bent, high clearance"},
            words=("straight", "bent", "high clearance"),
        ),
        Spec(
            "back_mm",
            "stands back from the old one, at the tyre",
            "arm_back_mm",
            kind="length",
            unit="mm",
            words=("back",),
        ),
        Spec(
            "bush",
            "bushes",
            choices={"rubber": "rubber", "poly": "polyurethane", "rod_end": "rod ends"},
            words=("rubber", "polyurethane", "poly", "rod ends"),
        ),
        Spec("bolt_mm", "bolt", "chassis_bolt_mm", kind="length", unit="mm", trade=True, words=("bolt",)),
        Spec("turn_mm", "length a turn of its adjuster gives", "arm_turn_mm", kind="length", unit="mm"),
        Spec("eye_mm", "width of the eye", "bush_mm", kind="length", unit="mm", words=("eye",)),
        Spec("hand", "side", choices=HANDS, words=("left and right", "pair", "left", "right", "either")),
        PIECES,
        MASS_CHANGE,
    ),
    whole_arm,
    words=("control arm", "control arms", "wishbone", "wishbones", "arms"),
    heads={
        f"{word} {noun}{end}": word
        for word, noun in (
            ("caster", "arm"),
            ("tension", "rod"),
            ("radius", "arm"),
            ("trailing", "arm"),
            ("lateral", "arm"),
            ("toe", "arm"),
            ("panhard", "rod"),
            ("panhard", "bar"),
        )
        for end in ("", "s")
    },
    shapes=(
        SET,
        two_lengths("shortest_mm", "longest_mm"),
        r"bolt\s*M?" + length("bolt_mm"),
        r"eye\s*" + length("eye_mm"),
        r"back\s*" + length("back_mm"),
        length("turn_mm", "needed") + r"\s*(?:a|per|each)\s*turn",
        length("length_mm", "needed"),
    ),
    example="arms lower 330-350 mm bent rod ends bolt M14 eye 48 mm pair, 2.4 kg, 420, 4 weeks, supplier",
    knows=("camber",),
    judge=judge_arm,
    drags=lambda given, place: (ALIGNMENT, BOLTS),
    same_sides=("length_mm", "shortest_mm", "longest_mm", "bush"),
    asks=(
        Question(
            "taper",
            "Taper of the joint's pin measured",
            ("as the old one", "other, reamed by a workshop"),
            "two tapers look alike and one wobbles",
        ),
        Question(
            "year",
            "Year and subframe told to the counter",
            ("yes", "not yet"),
            "arms of two build years differ by a bush",
        ),
    ),
    modules=("arms", "alignment"),
    dues=(
        RIDE_HEIGHT,
        Due("Arm bolts and joints, re-torque", after_km=80),
        Due("Rod ends: play", after_track_days=2, only={"bush": "rod_end"}),
    ),
    used_share=0.4,
    per_end=lambda lugs: 2,
)

BALL_JOINT = Family(
    "ball_joint",
    "ball joint",
    "ball joints",
    (
        Spec(
            "fixing",
            "fixing",
            choices={"pressed": "pressed in", "bolted": "bolted", "screwed": "screwed in"},
            words=("pressed in", "pressed", "bolted", "screwed in"),
        ),
        Spec("housing_mm", "housing", "bush_mm", kind="length", unit="mm", words=("housing",)),
        Spec(
            "taper_mm",
            "pin at the large end of its taper",
            "taper_mm",
            kind="length",
            unit="mm",
            words=("taper", "pin"),
        ),
        Spec(
            "raised_mm",
            "pin longer than the old one",
            "raised_mm",
            kind="length",
            unit="mm",
            words=("raised", "longer"),
        ),
        PIECES,
        MASS_CHANGE,
    ),
    words=("ball joint", "ball joints"),
    shapes=(
        SET,
        r"housing\s*" + length("housing_mm"),
        r"(?:taper|pin)\s*" + length("taper_mm"),
        r"(?:raised|longer)\s*" + length("raised_mm"),
    ),
    example="ball joints pressed in housing 42 mm taper 17.6 mm, set of 2, 54, in stock, supplier",
    judge=lambda given, place: (
        like_old(
            "part.joint.fits",
            "Ball joint in the arm",
            "ball_joint",
            given,
            place,
            [("fixing", "fixing", 0.0), ("housing_mm", "housing", 0.05), ("taper_mm", "taper", 0.1)],
        ),
        *_raised(given, place),
    ),
    drags=lambda given, place: (
        ALIGNMENT,
        Need("other", "Ball joint nuts, one-use", 2, "self-locking or pinned", COMMON_PRACTICE),
    ),
    same_sides=("fixing", "raised_mm"),
    asks=(
        Question("boot", "Boot and clip in the box", ("there", "ordered"), "a joint without its boot lasts a winter"),
    ),
    modules=("joints", "alignment"),
    dues=(Due("Ball joints: play, boots whole", after_km=1000),),
    used_share=None,
    per_end=lambda lugs: 2,
)


def _raised(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A longer pin lowers the arm's outer end: the rod has to follow it, or toe moves with travel."""
    raised = given.get("raised_mm")
    if not raised:
        return ()
    follows = place.other("tie_rod") is not None
    reason = f"the arm's outer end goes {abs(raised):g} mm {'down' if raised > 0 else 'up'}: " + (
        "the build has other rod ends; read bump steer again"
        if follows
        else "the rod stays where it is and toe moves with travel"
    )
    return (
        judged(
            "part.joint.rod",
            "Rod follows the joint",
            "tight",
            reason,
            "arm and rod near parallel",
            value=raised,
            remedies=("rod ends of the same height", "read the hard points again"),
        ),
    )


BUSH = Family(
    "bush",
    "bush",
    "bushes",
    (
        Spec("outer_mm", "outside", "bush_mm", kind="length", unit="mm", words=("outside", "outer", "od")),
        Spec("inner_mm", "bolt", "bush_mm", kind="length", unit="mm", words=("bolt", "inner", "id")),
        Spec("length_mm", "length", "bush_mm", kind="length", unit="mm", words=("long", "length")),
        Spec(
            "material",
            "material",
            choices={"rubber": "rubber", "poly": "polyurethane", "metal": "metal"},
            words=("rubber", "polyurethane", "poly", "metal"),
        ),
        PIECES,
        MASS_CHANGE,
    ),
    words=("bush", "bushes", "bushing", "bushings"),
    shapes=(
        SET,
        r"(?P<outer_mm>\d+(?:[.,]\d+)?)\s*[x×]\s*(?P<inner_mm>\d+(?:[.,]\d+)?)\s*[x×]\s*(?P<length_mm>\d+(?:[.,]\d+)?)(?:\s*mm)?",
    ),
    example="bushes 44 x 12 x 60 mm polyurethane, set of 4, 72, 1 week, supplier",
    judge=lambda given, place: (
        like_old(
            "part.bush.fits",
            "Bush in its eye",
            "bush",
            given,
            place,
            [("outer_mm", "outside", 0.1), ("inner_mm", "bolt", 0.1), ("length_mm", "length", 0.5)],
        ),
        judge_bush_bore(given, place),
        judge_bush_pin(given, place),
        *_hard(given),
    ),
    same_sides=("outer_mm", "inner_mm", "material"),
    asks=(
        Question(
            "way",
            "Void of the bush marked before it is pressed out",
            ("marked", "round, no way"),
            "a void bush turned a quarter is another bush",
        ),
    ),
    modules=("arms",),
    dues=(RIDE_HEIGHT,),
    used_share=None,
)


def _hard(given: Given) -> tuple[Judgement, ...]:
    if given.get("material") != "metal":
        return ()
    return (
        judged(
            "part.bush.noise",
            "Bush's hardness",
            "tight",
            "metal: every noise of the road comes in, and it wants grease or new liners",
            "taste and use",
            remedies=("polyurethane", "rubber"),
        ),
    )
