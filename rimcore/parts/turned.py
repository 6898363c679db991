"""Axle gears, differentials, driveshafts, shifters; pads, lines and fluid."""

from __future__ import annotations

from rimcore.parts.common import HANDS, judge_hand, judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.quantities.judgement import COMMON_PRACTICE, Judgement, State, unmeasured

#: a fluid of this kind mixes with no other (common practice)
SILICONE = "5"
FLUIDS = {"3": "DOT 3", "4": "DOT 4", "5": "DOT 5, silicone", "5.1": "DOT 5.1"}
USES = {"street": "street", "fast": "fast road", "track": "track"}


def judge_gears(given: Given, place: Place) -> tuple[Judgement, ...]:
    """Crown wheel and pinion on this axle: the same at both ends where four wheels are driven."""
    drive, ratio = place.stood.run.get("drive"), given["ratio"]
    other = place.stood.run.get("other_axle")
    code, name = "part.gears.both", "Axle ratio, front and rear"
    if not drive:
        reason = "which wheels are driven is not said"
        return (unmeasured(code, name, reason, ["car.drive"], ["say it in the car's data"]),)
    if drive != "4":
        return (judged(code, name, "clear", f"{ratio:g}; one axle is driven", "as driven"),)
    if other is None:
        return (
            unmeasured(
                code,
                name,
                "four wheels are driven and the other axle's gears are not in the build",
                ["part.axle_gears"],
                ["gears of the same ratio for the other axle"],
            ),
        )
    same = abs(other - ratio) / ratio < 0.005
    reason = f"both {ratio:g}" if same else f"{ratio:g} here, {other:g} at the other axle: the transfer case winds up"
    return (
        judged(
            code,
            name,
            "clear" if same else "hit",
            reason,
            "the same ratio at both axles",
            remedies=(f"{ratio:g} at both axles",),
        ),
    )


def gear_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Bearings, seals, oil, and one-use bolts (common practice)."""
    needs = [
        Need(
            "other",
            "Bearings, shims and crush sleeve for the axle",
            1,
            "pinion depth and preload are set anew",
            COMMON_PRACTICE,
        ),
        Need("fluid", "Axle oil", 1, "and again after the first 800 km", COMMON_PRACTICE, {"kind": "axle"}),
        Need("other", "Crown wheel bolts, one-use", 1, "stretched once, where the maker says so", COMMON_PRACTICE),
        Need("other", "Speedometer corrected", 1, "it counts the propshaft's turns", COMMON_PRACTICE, needed=False),
    ]
    if place.stood.run.get("drive") == "4":
        needs.append(
            Need(
                "axle_gears",
                "Gears for the other axle",
                1,
                "front and rear turn alike",
                COMMON_PRACTICE,
                {"ratio": given["ratio"]},
            )
        )
    return tuple(needs)


def judge_pads(given: Given, place: Place) -> tuple[Judgement, ...]:
    """Pads of a use: those of the track do not bite cold on the road."""
    use = given.get("use")
    if use is None:
        return (
            unmeasured(
                "part.pads.use", "What the pads are for", "not given", ["part.pads"], ["ask for their range of heat"]
            ),
        )
    wanted = {"track": "track", "climb": "fast", "drift": "fast"}.get(place.stood.use, "street")
    order = list(USES)
    apart = order.index(use) - order.index(wanted)
    state: State = "clear" if apart == 0 else "tight"
    words = f"{USES[use]} pads" + (
        "" if not apart else ": they bite late when cold" if apart > 0 else ": they fade when hot"
    )
    return (
        judged(
            "part.pads.use",
            "What the pads are for",
            state,
            f"{words}; the car is used for {place.stood.use}",
            remedies=(f"pads for {USES[wanted]}",),
        ),
    )


def judge_fluid(given: Given, place: Place) -> tuple[Judgement, ...]:
    """Silicone fluid mixes with no other."""
    silicone = given["dot"] == SILICONE
    words = f"{FLUIDS[given['dot']]}" + (
        ": it mixes with no other; every seal and line is flushed or new"
        if silicone
        else ", mixes with what is glycol-based"
    )
    return (
        judged(
            "part.fluid.kind",
            "Kind of fluid",
            "tight" if silicone else "clear",
            words,
            basis="FMVSS 116 for the grades",
            remedies=("a glycol-based fluid",),
        ),
    )


AXLE_GEARS = Family(
    "axle_gears",
    "axle gear set",
    "axle gear sets",
    (
        Spec("ratio", "ratio", "ratio", required=True, words=("ratio",)),
        Spec("teeth", "teeth", read=str, words=("teeth",)),
        MASS_CHANGE,
    ),
    words=("axle gears", "axle gear set", "crown wheel and pinion", "gear set"),
    shapes=(r"(?P<teeth>\d{2}[:/]\d{1,2})\s*(?:teeth)?", r"(?P<ratio>\d[.,]\d{1,3})(?![\d.])"),
    example="axle gears 4.30 43/10 teeth, 260, 3 weeks, supplier",
    judge=judge_gears,
    drags=gear_drags,
    sets={"axle_ratio": "ratio"},
    asks=(
        Question(
            "end",
            "Front or rear, standard or reverse cut",
            ("asked", "not yet asked"),
            "a front axle may want the mirrored set",
        ),
        Question(
            "carrier",
            "Carrier it fits",
            ("the car's own", "another carrier", "not yet asked"),
            "ratios change carriers at a break",
        ),
    ),
    modules=("axle gears",),
    dues=(Due("Axle oil changed after running in", after_km=800),),
    used_share=0.4,
    per_end=lambda lugs: 1,
)
DIFFERENTIAL = Family(
    "differential",
    "differential",
    "differentials",
    (
        Spec(
            "kind",
            "kind",
            choices={"plate": "plate", "gear": "gear-type", "open": "open", "locker": "locker"},
            words=("plate", "gear-type", "open", "locker"),
        ),
        Spec("splines", "splines", "teeth", counted=True, words=("splines",)),
        MASS_CHANGE,
    ),
    words=("differential", "differentials", "limited-slip"),
    shapes=(r"(?P<splines>\d{2})\s*splines?",),
    example="differential plate 28 splines, 640, 5 weeks, supplier",
    drags=lambda given, place: gear_drags({"ratio": 1.0}, place)[:2],
    asks=(
        Question(
            "carrier", "Carrier and ratio range it takes", ("asked", "not yet asked"), "the crown wheel sits elsewhere"
        ),
    ),
    modules=("axle gears",),
    dues=(Due("Axle oil changed after running in", after_km=800),),
    used_share=0.5,
    per_end=lambda lugs: 1,
)
DRIVESHAFT = Family(
    "driveshaft",
    "driveshaft",
    "driveshafts",
    (
        Spec("length_mm", "length", "propshaft_mm", kind="length", unit="mm", words=("long",)),
        Spec("splines", "splines", "teeth", counted=True, words=("splines",)),
        Spec("hand", "side", choices=HANDS, words=tuple(HANDS)),
        MASS_CHANGE,
    ),
    words=("driveshaft", "driveshafts", "drive shaft"),
    shapes=(r"(?P<splines>\d{2})\s*splines?", length("length_mm", "needed")),
    example="driveshafts 640 mm 28 splines pair, 220, 2 weeks, supplier",
    judge=lambda given, place: (
        judge_hand("part.driveshaft.hand", "Side of the driveshaft", given, "left and right differ in length"),
    ),
    drags=lambda given, place: (
        Need("other", "Hub nut, one-use", 2, "staked once", COMMON_PRACTICE),
        Need("fluid", "Gearbox oil", 1, "it runs out with the shaft", COMMON_PRACTICE, {"kind": "gearbox"}),
    ),
    asks=(
        Question(
            "ring",
            "Ring for the wheel-speed sensor",
            ("there", "none on this car", "not yet looked at"),
            "without it the brakes' lamp stays on",
        ),
    ),
    modules=("driveshafts",),
    used_share=0.4,
)
SHIFTER = Family(
    "shifter",
    "shifter",
    "shifters",
    (
        Spec("throw_pct", "throw against the old one", "throw_pct", unit="%", words=("throw",)),
        Spec(
            "pivot",
            "pivot",
            choices={"solid": "solid", "ball": "ball", "bushed": "bushed"},
            words=("solid", "ball", "bushed"),
        ),
        MASS_CHANGE,
    ),
    words=("shifter", "shifters", "shift lever", "short shifter"),
    shapes=(r"(?:throw\s*)?(?P<throw_pct>\d{2,3})\s*%",),
    example="shifter solid throw 70 %, 0.4 kg, 95, 2 weeks, supplier",
    drags=lambda given, place: (
        Need("shifter_bush", "Bushes for the shifter", 1, "slop stays in an old bush", COMMON_PRACTICE),
    ),
    asks=(
        Question(
            "keep",
            "Circlip, cap and spring of the old one kept",
            ("yes", "new ones come with it", "not yet looked at"),
            "the new lever often comes without",
        ),
    ),
    modules=("shifter",),
    used_share=0.5,
    ends=("F",),
    per_end=lambda lugs: 1,
)
SHIFTER_BUSH = Family(
    "shifter_bush",
    "shifter bush",
    "shifter bushes",
    (
        Spec("outer_mm", "outside", "bush_mm", kind="length", unit="mm", words=("outside",)),
        Spec("inner_mm", "inside", "bush_mm", kind="length", unit="mm", words=("inside",)),
        Spec(
            "make", "make", choices={"bought": "bought", "machined": "machined to order"}, words=("bought", "machined")
        ),
        PIECES,
    ),
    words=("shifter bush", "shifter bushes"),
    shapes=(SET, r"outside\s*" + length("outer_mm"), r"inside\s*" + length("inner_mm")),
    example="shifter bushes outside 22 mm inside 12 mm machined, set of 2, 40, 3 weeks, supplier",
    modules=("shifter",),
    used_share=None,
    ends=("F",),
)
SHIFT_CABLE = Family(
    "shift_cable",
    "shift cable",
    "shift cables",
    (Spec("length_mm", "length", "cable_mm", kind="length", unit="mm", words=("long",)), PIECES),
    words=("shift cable", "shift cables"),
    shapes=(SET, length("length_mm", "needed")),
    example="shift cables 1150 mm, set of 2, 88, 2 weeks, supplier",
    asks=(Question("which", "Gate or selector", ("both", "asked", "not yet asked"), "the two differ in length"),),
    modules=("shifter",),
    used_share=0.3,
    ends=("F",),
)
BRAKE_PADS = Family(
    "brake_pads",
    "pad set",
    "pad sets",
    (Spec("use", "for", choices=USES, words=("street", "fast road", "track")), PIECES, MASS_CHANGE),
    words=("brake pads", "pads", "pad set"),
    shapes=(SET,),
    example="brake pads fast road, 68, 1 week, supplier",
    judge=judge_pads,
    drags=lambda given, place: (
        Need("other", "Pad pins, clips and grease", 1, "old clips rattle", COMMON_PRACTICE, needed=False),
    ),
    same_sides=("use",),
    asks=(
        Question(
            "shape",
            "Shape checked against the old pad",
            ("the same", "not yet"),
            "one caliper came with two pads over the years",
        ),
    ),
    modules=("brakes",),
    dues=(Due("Pads: thickness after bedding in", after_km=300), Due("Pads: thickness", after_track_days=1)),
    used_share=None,
    per_end=lambda lugs: 1,
)
BRAKE_LINES = Family(
    "brake_lines",
    "set of brake lines",
    "brake lines",
    (Spec("length_mm", "length", "cable_mm", kind="length", unit="mm", words=("long",)), PIECES, MASS_CHANGE),
    words=("brake line", "brake lines", "brake pipe", "brake pipes"),
    shapes=(SET, length("length_mm", "needed")),
    example="brake lines 1400 mm, set of 2, 34, 1 week, supplier",
    drags=lambda given, place: (Need("brake_fluid", "Brake fluid", 1, "the circuit is opened", COMMON_PRACTICE),),
    asks=(
        Question(
            "flare",
            "Flare and thread read off the old line",
            ("the same", "not yet"),
            "two flares look alike and one weeps",
        ),
    ),
    modules=("hoses",),
    dues=(Due("Brake lines: damp, rub", after_days=1),),
    used_share=None,
)
BRAKE_FLUID = Family(
    "brake_fluid",
    "brake fluid",
    "brake fluids",
    (
        Spec("dot", "grade", choices=FLUIDS, decides=True),
        Spec("litres", "quantity", "litres", unit="L", words=("litres",)),
        Spec("dry_c", "dry boiling point", "boil_c", unit="°C", words=("dry",)),
    ),
    words=("brake fluid", "brake fluids"),
    shapes=(
        r"DOT\s*(?P<dot>5\.1|[345])\b",
        r"(?P<litres>\d+(?:[.,]\d+)?)\s*(?:L|litres?)\b",
        r"dry\s*(?P<dry_c>\d{3})(?:\s*°?\s*C)?",
    ),
    example="brake fluid DOT 4 1 L dry 280, 14, in stock, supplier",
    judge=judge_fluid,
    modules=("hoses",),
    dues=(Due("Brake fluid changed", after_days=700), Due("Brake fluid changed", after_track_days=6)),
    used_share=None,
    ends=("F",),
    adds=True,
    per_end=lambda lugs: 1,
)

TURNED = (AXLE_GEARS, DIFFERENTIAL, DRIVESHAFT, SHIFTER, SHIFTER_BUSH, SHIFT_CABLE)
STOPPING = (BRAKE_PADS, BRAKE_LINES, BRAKE_FLUID)
