"""Panels, splitters, strakes, vents, wings and what holds them; seats, batteries, glass, trim and ballast."""

from __future__ import annotations

from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.parts.spaces import judge_seat_space, judge_seat_wheel
from rimcore.quantities.judgement import COMMON_PRACTICE, Judgement, State, unmeasured

#: sheet that panels are cut from, and what heat it stands [°C] (common practice, from memory)
SHEETS = {
    "corrugated": "corrugated plastic",
    "abs": "ABS",
    "plywood": "birch plywood",
    "aluminium": "aluminium",
    "glass": "glass fibre",
    "carbon": "carbon fibre",
}
STANDS_C = {"corrugated": 80.0, "abs": 85.0, "plywood": 150.0, "aluminium": 300.0, "glass": 120.0, "carbon": 120.0}
#: mass of a sheet as it is sold [kg/m²] (common practice, from memory): 4 mm corrugated, 3 mm ABS, 6 mm plywood, 1.5 mm
#: aluminium, 2 mm laminates
KG_PER_M2 = {"corrugated": 0.8, "abs": 3.2, "plywood": 4.1, "aluminium": 4.1, "glass": 3.4, "carbon": 3.0}
#: a seat fixing, and what holds ballast, are never smaller than this [mm] (common practice: M8 and M10, high tensile)
SEAT_BOLT_MM, BALLAST_BOLT_MM = 8.0, 10.0

_SHEET = Spec("sheet", "sheet", choices=SHEETS, words=tuple(SHEETS))
_AREA = Spec("area_m2", "area", "area_m2", unit="m²", words=("area",))
_A = r"(?P<area_m2>\d+(?:[.,]\d+)?)\s*m[²2]"
_SEEN_COLD = (Due("Panel and its fasteners looked at", after_km=80), Due("Panel fasteners", after_track_days=1))


def judge_sheet(given: Given, place: Place) -> tuple[Judgement, ...]:
    """What the sheet is, and what of the car that is noted as hot it has to keep from.

    ``run["hot"]`` is asked for the names of what is hot; where nothing is noted, nothing is told of it.
    """
    sheet = given.get("sheet")
    if sheet is None:
        return (
            unmeasured("part.panel.sheet", "Sheet", "not given what it is made of", ["part.panel"], ["ask what it is"]),
        )
    hot, near = STANDS_C[sheet], tuple(place.stood.run.get("hot", tuple)())
    if hot < 200 and not near:
        return ()
    state: State = "clear" if hot >= 200 else "tight"
    words = f"{SHEETS[sheet]} stands about {hot:.0f} °C" + (
        "" if state == "clear" else f": keep it from what is hot, {', '.join(near)}; it melts or burns"
    )
    return (
        judged(
            "part.panel.sheet",
            "Sheet and heat",
            state,
            words,
            basis=f"{COMMON_PRACTICE}, from memory",
            remedies=("the heat check of the air bench", "a shield with air behind it"),
        ),
    )


def judge_seat(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A seat is bolted to what stands a crash, and its belt goes with it."""
    bolt = given.get("bolt_mm")
    code, name = "part.seat.bolt", "Seat bolts"
    if bolt is None:
        return (
            unmeasured(
                code, name, "the size of its bolts is not known", ["part.seat"], ["measure one, read its class"]
            ),
        )
    small = bolt < SEAT_BOLT_MM
    words = f"M{bolt:g}" + (
        f": M{SEAT_BOLT_MM:g}, class 8.8 or better, is the least" if small else "; class 8.8 or better, four of them"
    )
    return (
        judged(
            code,
            name,
            "hit" if small else "clear",
            words,
            basis=f"{COMMON_PRACTICE}; local law and the class decide",
            remedies=("larger bolts, a plate under them",),
        ),
    )


def judge_battery(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A smaller battery starts the engine on a cold day only if its current does.

    One in the cabin is sealed or vented outside.
    """
    amps, kind = given.get("cold_a"), given.get("kind")
    code, name = "part.battery.cold", "Cold cranking"
    if amps is None:
        return (
            unmeasured(
                code,
                name,
                "its cold cranking current is not said",
                ["part.battery"],
                ["read it off the label (EN 50342-1)"],
            ),
        )
    if place.answers.get("cold") != "yes":
        return (
            unmeasured(
                code,
                name,
                f"{amps:g} A; not compared with the present battery",
                ["part.battery"],
                ["read the old one's label"],
            ),
        )
    words = f"{amps:g} A by EN 50342-1, no less than the old one's" + (
        "; lithium gives little below 0 °C and wants its own charger" if kind == "lithium" else ""
    )
    return (
        judged(
            code,
            name,
            "tight" if kind == "lithium" else "clear",
            words,
            basis="EN 50342-1",
            remedies=("try it on a cold morning",),
        ),
    )


def judge_ballast(given: Given, place: Place) -> tuple[Judgement, ...]:
    """Ballast is held by bolts through the floor and a plate, so that it can't come loose."""
    bolt, mass = given.get("bolt_mm"), given.get("mass_change_kg")
    code, name = "part.ballast.bolt", "What holds the ballast"
    if bolt is None or mass is None:
        what = "its weight" if mass is None else "the size of its bolts"
        return (unmeasured(code, name, f"{what} is not known", ["part.ballast"], ["weigh it, measure a bolt"]),)
    small = bolt < BALLAST_BOLT_MM
    return (
        judged(
            code,
            name,
            "hit" if small else "clear",
            f"{mass:g} kg on M{bolt:g}"
            + (
                f": M{BALLAST_BOLT_MM:g} through the floor and a plate is the least"
                if small
                else ", through the floor and a plate"
            ),
            basis=f"{COMMON_PRACTICE}; the class decides",
            remedies=("larger bolts and a plate",),
        ),
    )


def panel_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Existing holes first, washers both sides; a heat shield where it passes something hot (common practice)."""
    return (
        Need(
            "insert",
            "Bolts, wide washers and lock nuts for the panel",
            1,
            "existing holes first; washers on both sides",
            COMMON_PRACTICE,
        ),
        Need("other", "Card for the template", 1, "card first, sheet afterwards", COMMON_PRACTICE, needed=False),
    )


def seat_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Belts, occupancy, brackets (common practice; the law)."""
    return (
        Need("other", "Brackets or rails for the seat", 1, "to the floor's own points", COMMON_PRACTICE),
        Need(
            "other",
            "Seat bolts, class 8.8 or better",
            4,
            "the old ones are one-use where the maker says so",
            COMMON_PRACTICE,
        ),
        Need("other", "Occupancy circuit seen to by a qualified person", 1, "the airbags read it", COMMON_PRACTICE),
    )


PANEL = Family(
    "panel",
    "flat panel",
    "flat panels",
    (_SHEET, _AREA, MASS_CHANGE),
    words=("panel", "flat panel", "belly panel", "undertray", "diffuser"),
    shapes=(_A, r"\b(?P<sheet>corrugated|abs|plywood|aluminium|glass|carbon)\b"),
    example="belly panel corrugated 1.1 m², +1.2 kg, 28, in stock, supplier",
    judge=judge_sheet,
    drags=panel_drags,
    asks=(Question("silencer", "Gap to the silencer measured", ("yes", "not yet"), "it melts or burns there"),),
    modules=("panel",),
    dues=_SEEN_COLD,
    used_share=None,
    adds=True,
    per_end=lambda lugs: 1,
    once=True,
)
SPLITTER = Family(
    "splitter",
    "splitter",
    "splitters",
    (_SHEET, _AREA, Spec("thick_mm", "thickness", "sheet_mm", kind="length", unit="mm", words=("thick",)), MASS_CHANGE),
    words=("splitter", "splitters", "air dam"),
    shapes=(_A, r"\b(?P<sheet>corrugated|abs|plywood|aluminium|glass|carbon)\b", r"thick\s*" + length("thick_mm")),
    example="splitter plywood 0.32 m² thick 6 mm, +2.1 kg, 64, 1 week, supplier",
    judge=judge_sheet,
    drags=lambda given, place: (
        *panel_drags(given, place),
        Need(
            "splitter_adjuster",
            "Adjusters for the splitter",
            2,
            "a blade that is held at its rear only bends down",
            COMMON_PRACTICE,
            needed=False,
        ),
    ),
    asks=(
        Question(
            "ramp",
            "Trailer and drive checked against the ramp angles",
            ("yes", "not yet"),
            "it is lost on the first ramp",
        ),
        Question("cooler", "Opening of the cooler stays free", ("yes", "not yet"), "a covered cooler boils"),
    ),
    modules=("splitter",),
    dues=_SEEN_COLD,
    used_share=0.3,
    adds=True,
    ends=("F",),
    per_end=lambda lugs: 1,
)
STRAKE = Family(
    "strake",
    "strake",
    "strakes",
    (_SHEET, PIECES, MASS_CHANGE),
    words=("strake", "strakes"),
    shapes=(SET, r"\b(?P<sheet>corrugated|abs|plywood|aluminium|glass|carbon)\b"),
    example="strakes aluminium, set of 4, +0.6 kg, 32, in stock, supplier",
    judge=judge_sheet,
    drags=panel_drags,
    modules=("outside",),
    dues=_SEEN_COLD,
    used_share=None,
    adds=True,
)
VENT = Family(
    "vent",
    "vent",
    "vents",
    (Spec("area_m2", "open area", "area_m2", unit="m²", words=("open",)), PIECES, MASS_CHANGE),
    words=("vent", "vents", "louvre", "louvres"),
    shapes=(SET, _A),
    example="vents 0.02 m², set of 2, +0.4 kg, 46, 1 week, supplier",
    asks=(
        Question(
            "behind",
            "What lies behind the cut looked at",
            ("yes", "not yet"),
            "wires and crash parts lie behind bumpers",
        ),
    ),
    modules=("outside",),
    dues=_SEEN_COLD,
    used_share=None,
    adds=True,
)
WING = Family(
    "wing",
    "wing",
    "wings",
    (_SHEET, _AREA, MASS_CHANGE),
    words=("wing", "rear wing", "spoiler"),
    shapes=(_A, r"\b(?P<sheet>corrugated|abs|plywood|aluminium|glass|carbon)\b"),
    example="rear wing aluminium 0.28 m², +4.1 kg, 210, 3 weeks, supplier",
    judge=judge_sheet,
    drags=panel_drags,
    asks=(
        Question(
            "law",
            "Edge radius and reach checked against local law",
            ("yes", "not yet"),
            "sharp edges and reach are regulated",
        ),
    ),
    modules=("outside",),
    dues=_SEEN_COLD,
    used_share=0.4,
    adds=True,
    ends=("R",),
    per_end=lambda lugs: 1,
)
INSERT = Family(
    "insert",
    "fastener or insert",
    "fasteners and inserts",
    (Spec("bolt_mm", "size", "chassis_bolt_mm", kind="length", unit="mm", trade=True, words=("size",)), PIECES),
    words=("insert", "inserts", "rivet nut", "rivet nuts", "panel bolts"),
    shapes=(SET, r"\bM(?P<bolt_mm>\d{1,2})\b"),
    example="rivet nuts M6, set of 20, 9, in stock, supplier",
    asks=(Question("by", "Set by hand, not by machine", ("yes", "not yet"), "a machine strips thin sheet"),),
    modules=("panel",),
    used_share=None,
    adds=True,
)
ADJUSTER = Family(
    "splitter_adjuster",
    "splitter adjuster",
    "splitter adjusters",
    (
        Spec("shortest_mm", "shortest", "link_mm", kind="length", unit="mm", words=("shortest",)),
        Spec("longest_mm", "longest", "link_mm", kind="length", unit="mm", words=("longest",)),
        PIECES,
        MASS_CHANGE,
    ),
    words=("splitter adjuster", "splitter adjusters", "splitter rods"),
    shapes=(SET, r"(?P<shortest_mm>\d+(?:[.,]\d+)?)\s*[-–]\s*(?P<longest_mm>\d+(?:[.,]\d+)?)\s*mm"),
    example="splitter rods 180-240 mm, set of 2, +0.3 kg, 34, 1 week, supplier",
    modules=("splitter",),
    used_share=0.4,
    adds=True,
    ends=("F",),
)
SEAT = Family(
    "seat",
    "seat",
    "seats",
    (
        Spec("bolt_mm", "bolts", "chassis_bolt_mm", kind="length", unit="mm", trade=True, words=("bolts",)),
        Spec("hand", "side", choices={"left": "left", "right": "right"}, words=("left", "right")),
        Spec("shell_height_mm", "height of the shell", "shell_mm", kind="length", unit="mm", words=("high", "height")),
        Spec("front_height_mm", "front edge over its mount", "shell_front_mm", kind="length", unit="mm"),
        Spec("shell_width_mm", "width of the shell", "shell_mm", kind="length", unit="mm", words=("wide", "width")),
        MASS_CHANGE,
    ),
    words=("seat", "seats", "bucket", "bucket seat"),
    shapes=(r"\bM(?P<bolt_mm>\d{1,2})\b",),
    example="bucket seat left M8, −8.8 kg, 320, 2 weeks, supplier",
    judge=lambda given, place: (
        *judge_seat(given, place),
        judge_seat_space(given, place),
        judge_seat_wheel(given, place),
    ),
    drags=seat_drags,
    asks=(
        Question(
            "law",
            "Approved for the road where it is driven",
            ("yes", "not yet asked"),
            "a shell without papers ends at the inspection",
        ),
    ),
    modules=("seats",),
    dues=(Due("Seat bolts", after_km=80),),
    used_share=0.5,
    ends=("F",),
    per_end=lambda lugs: 1,
)
BATTERY = Family(
    "battery",
    "battery",
    "batteries",
    (
        Spec("cold_a", "cold cranking", "cold_a", unit="A", words=("cold",)),
        Spec(
            "kind",
            "kind",
            choices={"lead": "lead-acid", "agm": "sealed lead (AGM)", "lithium": "lithium"},
            words=("lead", "agm", "lithium"),
        ),
        MASS_CHANGE,
    ),
    words=("battery", "batteries"),
    shapes=(r"(?P<cold_a>\d{2,4})\s*A\b", r"\b(?P<kind>lead|agm|lithium)\b"),
    example="battery agm 340 A, −7.5 kg, 119, 1 week, supplier",
    judge=judge_battery,
    drags=lambda given, place: (
        Need("other", "Clamp and cover for the battery", 1, "a loose battery shorts on its bonnet", COMMON_PRACTICE),
    ),
    asks=(
        Question(
            "cold",
            "Cold current no less than the old one's",
            ("yes", "not yet looked at"),
            "a smaller one starts until the first frost",
        ),
        Question(
            "poles", "Poles on the side the leads reach", ("yes", "not yet looked at"), "left and right are sold alike"
        ),
    ),
    modules=("battery",),
    dues=(Due("Battery clamp and poles", after_km=500),),
    used_share=0.5,
    ends=("F", "R"),
    per_end=lambda lugs: 1,
    once=True,
)
GLASS = Family(
    "glass",
    "window for glass",
    "windows for glass",
    (Spec("thick_mm", "thickness", "sheet_mm", kind="length", unit="mm", words=("thick",)), MASS_CHANGE),
    words=("polycarbonate window", "window", "windows"),
    shapes=(r"thick\s*" + length("thick_mm"),),
    example="polycarbonate window thick 3 mm, −4.2 kg, 140, 3 weeks, supplier",
    asks=(
        Question(
            "law",
            "Allowed on the road where it is driven",
            ("yes", "not yet asked"),
            "marked glass is required in many places",
        ),
    ),
    modules=("strip",),
    used_share=0.3,
)
TRIM = Family(
    "trim",
    "trim panel",
    "trim panels",
    (MASS_CHANGE, PIECES),
    words=("trim panel", "trim panels", "door card", "door cards"),
    shapes=(SET,),
    example="door cards, set of 2, −2.6 kg, 45, 1 week, supplier",
    modules=("strip",),
    used_share=0.4,
)
BALLAST = Family(
    "ballast",
    "ballast",
    "ballast",
    (Spec("bolt_mm", "bolts", "chassis_bolt_mm", kind="length", unit="mm", trade=True, words=("bolts",)), MASS_CHANGE),
    words=("ballast", "ballast plate"),
    shapes=(r"\bM(?P<bolt_mm>\d{1,2})\b",),
    example="ballast plate M10, +12 kg, 30, in stock, supplier",
    judge=judge_ballast,
    asks=(Question("where", "Place allowed by the class", ("yes", "not yet asked"), "classes say where it may be"),),
    modules=("ballast",),
    dues=(Due("Ballast bolts", after_track_days=1),),
    used_share=None,
    adds=True,
    per_end=lambda lugs: 1,
    once=True,
)

AIRED = (PANEL, SPLITTER, STRAKE, VENT, WING, INSERT, ADJUSTER)
LIGHTER = (SEAT, BATTERY, GLASS, TRIM, BALLAST)
