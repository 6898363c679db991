"""What stands between hub and wheel: rings, spacers, studs, nuts, bolts.

Longer than other files: its families are read together.
"""

from __future__ import annotations

from rimcore.fastening.threads import parse_thread
from rimcore.parts.common import CLASS_ORDER, MATCH_MM, NUT_ORDER, judge_diameter, judge_thread, judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length, two_lengths
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.wheels.hub import (
    ENGAGEMENT_DIAMETERS,
    ENGAGEMENT_TIGHT_SHARE,
    CentringRing,
    Hub,
    judge_engagement,
    parse_seat,
)
from rimcore.wheels.spacers import KINDS, spacer_findings

#: bolt circles within this of each other are the same [mm]: the common ones lie further apart (common practice)
PATTERN_MATCH_MM = 0.5
CLASSES = {name: name for name in CLASS_ORDER}
NUT_CLASSES = {name: name for name in NUT_ORDER}
THREAD = r"(?P<thread>M\s*\d+(?:[.,]\d+)?\s*[x×*-]\s*\d+(?:[.,]\d+)?|\d+/\d+\s*(?:in|\")?\s*-\s*\d{2})"
_CLASS = r"(?:class\s*|grade\s*)?(?P<grade>8\.8|10\.9|12\.9)"
_SEAT = r"(?P<seat>(?:\d+\s*°?\s*)?(?:cone|conical|taper(?:ed)?|ball|spherical|flat|mag)(?:\s*(?:R\s*)?\d+\s*°?)?|R\s*1\d\s*(?:ball)?)"

MASS_CHANGE = Spec("mass_change_kg", "weight against what it replaces", "mass_change_kg", kind="mass", unit="kg")
PIECES = Spec("pieces", "pieces in the set", "quantity", counted=True, words=("pieces", "pcs", "count"))


def _thread(required: bool = True) -> Spec:
    return Spec("thread", "thread", read=parse_thread, required=required, words=("thread",), help="M12x1.5, 1/2-20")


def _ring(given: Given) -> None:
    if given["outer_mm"] <= given["inner_mm"]:
        raise BadInput("the outer diameter must be more than the inner", "outer_mm")
    CentringRing(given["inner_mm"], given["outer_mm"])


def judge_ring(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A ring on this hub and in this wheel; a hollow plastic one lets the wheel shift (common practice)."""
    found = [
        judge_diameter(
            "part.ring.hub",
            "Ring on the hub",
            given["inner_mm"],
            place.axle.hub.bore_mm,
            "hub bore",
            "hub.bore",
            "bore_mm" in place.axle.hub.off_wheel,
        ),
        _in_bore("part.ring.wheel", "Ring in the wheel", given["outer_mm"], place.candidate.mount.bore_mm),
    ]
    if given.get("build") == "hollow":
        found.append(
            judged(
                "part.ring.build",
                "Ring's build",
                "tight",
                "hollow plastic: goes on by hand and still lets the wheel shift",
                "solid metal or solid plastic holds",
                remedies=("a solid ring",),
            )
        )
    return tuple(found)


def _in_bore(code: str, name: str, outer_mm: float, bore_mm: float | None) -> Judgement:
    """A ring or a collar in the wheel's bore."""
    if bore_mm is None:
        return unmeasured(
            code, name, "the wheel's centre bore is not known", ["wheel.bore"], ["measure it with a caliper to 0.1 mm"]
        )
    apart = bore_mm - outer_mm
    state: State = "hit" if apart < -MATCH_MM - 1e-9 else "tight" if apart > MATCH_MM + 1e-9 else "clear"
    words = {
        "clear": f"both {bore_mm:g} mm",
        "hit": f"{-apart:.1f} mm too large for the bore",
        "tight": f"loose: {apart:.1f} mm in the bore",
    }
    return judged(
        code,
        name,
        state,
        words[state],
        f"{bore_mm:g} − {outer_mm:g} = {apart:.1f} mm",
        value=round(apart, 3),
        held_against=MATCH_MM,
        inputs=(InputUsed("part", f"{outer_mm:g} mm", "offer"), InputUsed("wheel bore", f"{bore_mm:g} mm")),
        remedies=(f"one of {bore_mm:g} mm",),
    )


RING = Family(
    "ring",
    "centring ring",
    "centring rings",
    (
        Spec(
            "inner_mm",
            "inner diameter",
            "ring_mm",
            required=True,
            kind="length",
            unit="mm",
            words=("inner", "hub", "id"),
        ),
        Spec(
            "outer_mm",
            "outer diameter",
            "ring_mm",
            required=True,
            kind="length",
            unit="mm",
            words=("outer", "wheel", "od"),
        ),
        Spec("build", "build", choices={"solid": "solid", "hollow": "hollow"}, words=("solid", "hollow")),
        Spec(
            "material",
            "material",
            choices={"aluminium": "aluminium", "steel": "steel", "plastic": "plastic"},
            words=("aluminium", "aluminum", "alloy", "steel", "plastic", "nylon"),
        ),
        PIECES,
        MASS_CHANGE,
    ),
    _ring,
    words=(
        "centring ring",
        "centring rings",
        "centering ring",
        "centering rings",
        "hub ring",
        "hub rings",
        "ring",
        "rings",
    ),
    shapes=(SET, two_lengths("inner_mm", "outer_mm")),
    trade=True,
    on_wheels=True,
    example="ring 63.4 → 72.6 solid aluminium, 6.00, 4 days, supplier",
    knows=("hub.bore",),
    judge=judge_ring,
    same_sides=("inner_mm", "outer_mm"),
    asks=(
        Question("measured", "Both diameters measured on the part", ("yes", "no"), "72.6 and 73.1 lie in one drawer"),
    ),
    modules=("rings",),
    used_share=0.3,
    adds=True,
    per_end=lambda lugs: 2,
)


def judge_spacer(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A spacer on this hub: bores of both sides, bolt circle, and whether the build reckons with its thickness."""
    hub, candidate = place.axle.hub, place.candidate
    found: list[Judgement] = []
    if given.get("hub_bore_mm") is not None:
        found.append(
            judge_diameter(
                "part.spacer.hub",
                "Spacer on the hub",
                given["hub_bore_mm"],
                hub.bore_mm,
                "hub bore",
                "hub.bore",
                "bore_mm" in hub.off_wheel,
            )
        )
    if given.get("wheel_bore_mm") is not None:
        found.append(
            _in_bore(
                "part.spacer.wheel", "Spacer's collar in the wheel", given["wheel_bore_mm"], candidate.mount.bore_mm
            )
        )
    found.append(_drilled(given, hub))
    if given.get("kind") == "bolted" and given.get("thread"):
        found.append(judge_thread("part.spacer.thread", "Spacer's own thread", given["thread"], place))
    if place.chosen:
        return (*found, *_reckoned(given, candidate.fitted.spacer_mm))
    kind = given.get("kind") or "slip"
    slipped = given["thickness_mm"] if kind == "slip" else 0.0
    found += spacer_findings(hub, given["thickness_mm"], kind, hub.collar_mm)
    return (*found, judge_engagement(hub, candidate.mount, slipped).judgement)


def _drilled(given: Given, hub: Hub) -> Judgement:
    """Holes of the spacer on the hub's: count and circle, each of which has to be known of both."""
    code, name = "part.spacer.pattern", "Spacer's bolt circle"
    bolts, pcd_mm = given.get("bolts"), given.get("pcd_mm")
    other_count = None not in (bolts, hub.bolts) and bolts != hub.bolts
    other_circle = pcd_mm is not None and hub.pcd_mm is not None and abs(pcd_mm - hub.pcd_mm) > PATTERN_MATCH_MM
    wrong = other_count or other_circle
    if not wrong and None in (bolts, pcd_mm, hub.bolts, hub.pcd_mm):
        whose, missing = ("hub's", "hub.pattern") if None in (hub.bolts, hub.pcd_mm) else ("spacer's", "part.spacer")
        return unmeasured(
            code, name, f"the {whose} lugs or circle are not known", [missing], ["count the lugs, measure their circle"]
        )
    own, its = (
        f"{count or '?'}×{'?' if circle is None else f'{circle:g}'}"
        for count, circle in ((bolts, pcd_mm), (hub.bolts, hub.pcd_mm))
    )
    return judged(
        code,
        name,
        "hit" if wrong else "clear",
        f"{own} on a hub of {its}",
        "the same pattern",
        "geometry",
        inputs=(hub.used("hub", its),),
        remedies=("a spacer drilled for this hub",),
    )


def _reckoned(given: Given, lever_mm: float) -> list[Judgement]:
    """The lever and the part say the same thickness, or the gaps speak of another spacer."""
    thickness = given["thickness_mm"]
    apart = abs(thickness - lever_mm)
    state: State = "clear" if apart < 0.05 else "tight"
    reason = (
        f"both {thickness:g} mm"
        if state == "clear"
        else f"the part is {thickness:g} mm, the build reckons with {lever_mm:g}"
    )
    return [
        judged(
            "part.spacer.lever",
            "Spacer in the build",
            state,
            reason,
            f"{thickness:g} − {lever_mm:g}",
            "the build's lever",
            remedies=(f"set the build's spacer to {thickness:g} mm",),
        )
    ]


def spacer_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """A slip-on spacer takes thread from the studs; a bolt-on one brings its own and wants nuts inside it."""
    lugs = 2 * (place.lugs or place.axle.hub.bolts or 0)
    if given.get("kind") == "bolted" and lugs:
        thread = place.axle.hub.thread
        spec = {"thread": str(thread).replace("×", "x")} if thread is not None else {}
        return (
            Need(
                "nut",
                "Nuts inside the spacer",
                lugs,
                "they hold the spacer to the hub",
                COMMON_PRACTICE,
                {**spec, "seat": "cone 60°"},
                False,
            ),
        )
    return ()


SPACER = Family(
    "spacer",
    "spacer",
    "spacers",
    (
        Spec(
            "thickness_mm",
            "thickness",
            "spacer_mm",
            required=True,
            kind="length",
            unit="mm",
            words=("thick", "thickness"),
        ),
        Spec("kind", "kind", choices=KINDS, words=("slip-on", "slip on", "bolt-on", "bolt on", "bolted", "two-piece")),
        Spec("hub_bore_mm", "bore on the hub", "bore_mm", kind="length", unit="mm", words=("hub bore", "hub")),
        Spec(
            "wheel_bore_mm", "collar for the wheel", "bore_mm", kind="length", unit="mm", words=("wheel bore", "collar")
        ),
        Spec("bolts", "lugs", "bolts", counted=True),
        Spec("pcd_mm", "bolt circle", "pcd_mm", kind="length", unit="mm"),
        _thread(False),
        PIECES,
        MASS_CHANGE,
    ),
    words=("wheel spacer", "wheel spacers", "spacer", "spacers"),
    shapes=(
        THREAD,
        SET,
        r"(?P<bolts>[3-9]|10)\s*[x×/]\s*(?P<pcd_mm>1\d\d(?:[.,]\d+)?|9\d(?:[.,]\d+)?)(?:\s*mm)?",
        two_lengths("hub_bore_mm", "wheel_bore_mm"),
        length("thickness_mm", "needed"),
    ),
    trade=True,
    on_wheels=True,
    example="spacer 15 mm slip-on 5x108 63.4 → 63.4, 0.9 kg, 34, 1 week, supplier",
    knows=("hub.bore", "hub.pattern", "hub.collar", "hub.stud"),
    judge=judge_spacer,
    drags=spacer_drags,
    sets={"spacer_mm": "thickness_mm", "spacer_kind": "kind"},
    same_sides=("thickness_mm", "kind"),
    asks=(Question("sold_as", "Sold as", ("a pair", "one piece"), "a price for one is taken for the pair"),),
    modules=("spacers",),
    dues=(Due("Spacer's own nuts, re-torque", after_km=80, only={"kind": "bolted"}),),
    used_share=0.4,
    adds=True,
    per_end=lambda lugs: 2,
)


def _class(order: tuple[str, ...], given: Given) -> list[Judgement]:
    """Below the common class of wheel studs a part is looked at twice: 10.9 for studs and bolts, 10 for their nuts."""
    said, wanted = given.get("grade"), order[1]
    if said is None:
        return [
            unmeasured(
                "part.class",
                "Property class",
                "not given its class",
                ["part.class"],
                ["it is stamped on the head or the end"],
            )
        ]
    weak = order.index(said) < order.index(wanted)
    reason = f"{said}: below the {wanted} that wheels commonly hang on" if weak else f"{said}"
    return [
        judged(
            "part.class",
            "Property class",
            "tight" if weak else "clear",
            reason,
            f"{said} against {wanted}",
            "ISO 898-1, ISO 898-2; the class wanted is common practice",
            inputs=(InputUsed("class", said, "offer"),),
            remedies=(f"class {wanted}, or what the car's maker states",),
        )
    ]


def _holds(given: Given, place: Place, name: str) -> Judgement:
    """Thread in the nut with this stud or bolt: length less pad and spacer, wanted 1.0 × diameter (common practice)."""
    code, mount, spacer = "part.engagement", place.candidate.mount, place.candidate.fitted.spacer_mm
    if mount.pad_thickness_mm is None:
        return unmeasured(
            code,
            name,
            "the wheel's pad thickness at the lugs is not known",
            ["wheel.pad"],
            ["measure it, or ask the maker"],
        )
    slipped = spacer if place.candidate.levers.spacer_kind != "bolted" else 0.0
    length = max(0.0, given["length_mm"] - mount.pad_thickness_mm - slipped)
    wanted = parse_thread(given["thread"]).diameter_mm * ENGAGEMENT_DIAMETERS
    state: State = (
        "hit"
        if length < wanted - 1e-9
        else "tight"
        if length <= wanted * (1 + ENGAGEMENT_TIGHT_SHARE) + 1e-9
        else "clear"
    )
    return Judgement(
        code,
        name,
        state,
        f"{length:g} mm of thread; {wanted:g} wanted",
        COMMON_PRACTICE + ": 1.0 × nominal diameter for steel",
        value=length,
        unit="mm",
        held_against=wanted,
        margin=length - wanted,
        formula=f"length − pad − spacer = {given['length_mm']:g} − {mount.pad_thickness_mm:g} − {slipped:g} = {length:g} mm",
        inputs=(
            InputUsed("length", f"{given['length_mm']:g} mm", "offer"),
            mount.used("pad thickness", f"{mount.pad_thickness_mm:g} mm"),
        ),
        remedies=() if state == "clear" else ("a longer one", "a thinner spacer"),
    )


def judge_stud(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A stud in this hub: thread, length beyond the face, class."""
    return (
        judge_thread("part.thread", "Stud's thread", given["thread"], place),
        _holds(given, place, "Thread in the nut, with these studs"),
        *_class(CLASS_ORDER, given),
    )


def _seated(given: Given, place: Place, name: str) -> Judgement:
    mount = place.candidate.mount
    if mount.seat is None:
        return unmeasured(
            "part.seat", name, "the wheel's seat is not known", ["wheel.seat"], ["look at the seat: cone, ball or flat"]
        )
    if not given.get("seat"):
        return unmeasured(
            "part.seat", name, "the line does not give its seat", ["part.seat"], ["ask the shop: cone, ball or flat"]
        )
    seat = parse_seat(given["seat"])
    sized = seat.size is not None and mount.seat.size is not None
    if seat.shape == mount.seat.shape and seat.shape != "flat" and not sized:
        return unmeasured(
            "part.seat", name, f"both {seat.shape}, but the size of one is not known", ["wheel.seat"], ["measure it"]
        )
    same = seat.shape == mount.seat.shape and (not sized or abs((seat.size or 0.0) - (mount.seat.size or 0.0)) <= 0.5)
    reason = f"both {mount.seat}" if same else f"{seat} in a {mount.seat} seat: it holds on a line and works loose"
    return judged(
        "part.seat",
        name,
        "clear" if same else "hit",
        reason,
        "same shape, same angle or radius",
        inputs=(InputUsed("part", str(seat), "offer"), mount.used("wheel", str(mount.seat))),
        remedies=(f"a {mount.seat} seat",),
    )


def judge_nut(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A nut on this hub and wheel: thread, seat, class."""
    return (
        judge_thread("part.thread", "Nut's thread", given["thread"], place),
        _seated(given, place, "Nut's seat"),
        *_class(NUT_ORDER, given),
    )


def judge_bolt(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A wheel bolt on this hub and wheel: thread, length under its seat, seat, class."""
    return (
        judge_thread("part.thread", "Bolt's thread", given["thread"], place),
        _holds(given, place, "Thread in the hub, with these bolts"),
        _seated(given, place, "Bolt's seat"),
        *_class(CLASS_ORDER, given),
    )


def _lugs_of_end(lugs: int | None) -> int | None:
    return 2 * lugs if lugs else None


_LENGTH = Spec("length_mm", "length", "bolt_mm", required=True, kind="length", unit="mm", words=("long", "length"))
_GRADE = Spec("grade", "property class", choices=CLASSES, words=("class", "grade"))
_SHAFT = length("length_mm", "needed") + r"(?:\s*(?:long|under\s+(?:the\s+)?(?:head|seat)))?"
_RETORQUE = (Due("Wheel studs and nuts, re-torque", after_km=80),)

STUD = Family(
    "stud",
    "stud set",
    "stud sets",
    (
        _thread(),
        _LENGTH,
        _GRADE,
        Spec("knurl_mm", "knurl", "knurl_mm", kind="length", unit="mm", words=("knurl",)),
        PIECES,
        MASS_CHANGE,
    ),
    words=("wheel stud", "wheel studs", "stud", "studs", "stud set"),
    shapes=(THREAD, SET, r"knurl\s*" + length("knurl_mm"), _CLASS, _SHAFT),
    trade=True,
    on_wheels=True,
    example="studs M12x1.5 45 mm 10.9 knurl 12.4, set of 20, 58, 1 week, supplier",
    knows=("hub.thread", "hub.pattern"),
    judge=judge_stud,
    same_sides=("thread", "length_mm", "grade"),
    asks=(
        Question(
            "knurl",
            "Knurl measured against the old stud",
            ("the same", "other"),
            "a stud with a thinner knurl turns in the hub",
        ),
    ),
    modules=("studs",),
    dues=_RETORQUE,
    used_share=None,
    per_end=_lugs_of_end,
)
NUT = Family(
    "nut",
    "nut set",
    "nut sets",
    (
        _thread(),
        Spec("seat", "seat", read=parse_seat, words=("seat",), help="cone 60, ball R13, flat"),
        Spec("grade", "property class", choices=NUT_CLASSES, words=("class", "grade")),
        Spec("key_mm", "wrench size", "key_mm", kind="length", unit="mm", trade=True, words=("hex", "key", "socket")),
        PIECES,
        MASS_CHANGE,
    ),
    words=("wheel nut", "wheel nuts", "lug nut", "lug nuts", "nut", "nuts", "nut set"),
    shapes=(
        THREAD,
        SET,
        r"(?:hex|key|socket)\s*(?P<key_mm>\d{2})(?:\s*mm)?",
        _SEAT,
        r"(?:class|grade)\s*(?P<grade>8|10|12)\b",
    ),
    trade=True,
    on_wheels=True,
    example="nuts M12x1.5 cone 60 class 10, set of 20, 39, in stock, supplier",
    knows=("hub.thread", "hub.pattern"),
    judge=judge_nut,
    same_sides=("thread", "seat"),
    asks=(Question("shank", "Shank", ("none", "with a shank"), "a shank needs a larger hole in the wheel"),),
    modules=("nuts",),
    dues=_RETORQUE,
    used_share=0.2,
    per_end=_lugs_of_end,
)
BOLT = Family(
    "bolt",
    "bolt set",
    "bolt sets",
    (
        _thread(),
        _LENGTH,
        Spec("seat", "seat", read=parse_seat, words=("seat",), help="cone 60, ball R13, flat"),
        _GRADE,
        Spec("key_mm", "wrench size", "key_mm", kind="length", unit="mm", trade=True, words=("hex", "key", "socket")),
        PIECES,
        MASS_CHANGE,
    ),
    words=("wheel bolt", "wheel bolts", "lug bolt", "lug bolts", "bolt", "bolts", "bolt set"),
    shapes=(THREAD, SET, r"(?:hex|key|socket)\s*(?P<key_mm>\d{2})(?:\s*mm)?", _SEAT, _CLASS, _SHAFT),
    trade=True,
    on_wheels=True,
    example="bolts M14x1.5 28 mm ball R13 10.9, set of 20, 64, 1 week, supplier",
    knows=("hub.thread", "hub.pattern"),
    judge=judge_bolt,
    same_sides=("thread", "length_mm", "seat"),
    asks=(Question("length", "Length counted", ("under the seat", "with the head"), "makers count it both ways"),),
    modules=("nuts",),
    dues=_RETORQUE,
    used_share=0.2,
    per_end=_lugs_of_end,
)
