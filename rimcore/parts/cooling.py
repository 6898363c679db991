"""Radiators, fans, thermostats, caps, hoses and coolant, judged against the system as it stands."""

from __future__ import annotations

from rimcore.cooling.bench import judge_frost
from rimcore.cooling.exchanger import core_ratios
from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, core_size, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.parts.spaces import judge_core_space, judge_ports
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: a thermostat that opens so much later or earlier than the usual 87 °C is a plan of its own [K] (common practice)
USUAL_OPENS_C, ODD_K = 87.0, 8.0
_CORE = (
    Spec("width_mm", "core width", "core_mm", kind="length", unit="mm", words=("width",)),
    Spec("height_mm", "core height", "core_mm", kind="length", unit="mm", words=("height",)),
    Spec("depth_mm", "core depth", "core_depth_mm", kind="length", unit="mm", words=("depth",)),
)
SIDES = {"left": "left", "right": "right"}
SIZES = ("width_mm", "height_mm", "depth_mm")


def judge_core(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A core against the one that comes off."""
    run, code, name = place.stood.run, "part.radiator.core", "Core against the old one"
    new, old = [given.get(size) for size in SIZES], [run.get(size) for size in SIZES]
    if any(one is None for one in (*new, *old)):
        who = "the core's size is not said" if any(one is None for one in new) else "the old core is not measured"
        return (unmeasured(code, name, who, ["part.radiator"], ["width, height and depth of the finned core"]),)
    face, volume = core_ratios(
        [float(one) for one in old if one is not None], [float(one) for one in new if one is not None]
    )
    state: State = "hit" if volume < 0.9 else "tight" if volume < 1.0 else "clear"
    return (
        judged(
            code,
            name,
            state,
            f"{face:.2f} times its face, {volume:.2f} times its volume",
            "width × height × depth",
            value=volume,
            unit="",
            inputs=(InputUsed("old core", " × ".join(f"{one:g}" for one in old) + " mm", "the car's data"),),
            remedies=("a core as large as the old one",),
        ),
    )


def judge_pressure_cap(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A cap of more pressure than the system was made for finds its weakest hose."""
    old, code, name = place.stood.run.get("cap_kpa"), "part.cap.pressure", "Cap against the old one"
    if old is None:
        return (
            unmeasured(
                code, name, "the old cap's pressure is not known", ["part.radiator_cap"], ["read it off the cap"]
            ),
        )
    more = given["cap_kpa"] - old
    state: State = "tight" if more > 1.0 else "hit" if more < -20.0 else "clear"
    words = (
        "as the old one"
        if abs(more) <= 1
        else f"{more:+.0f} kPa: old hoses and an old core may not hold it"
        if more > 0
        else f"{more:+.0f} kPa: it boils sooner"
    )
    return (
        judged(
            code,
            name,
            state,
            words.replace("-", "−"),
            f"{given['cap_kpa']:g} − {old:g} = {more:g} kPa".replace("-", "−"),
            value=more,
            unit="kPa",
            inputs=(InputUsed("old cap", f"{old:g} kPa", "the car's data"),),
            remedies=("a cap of the old pressure",),
        ),
    )


def judge_thermostat(given: Given, place: Place) -> tuple[Judgement, ...]:
    """An engine that never warms wears; one that opens late boils sooner."""
    opens = given["opens_c"]
    odd = abs(opens - USUAL_OPENS_C) > ODD_K
    words = f"opens at {opens:g} °C" + (
        "" if not odd else ": the engine runs cold and wears" if opens < USUAL_OPENS_C else ": less is left to boiling"
    )
    return (
        judged(
            "part.thermostat.opens",
            "Thermostat",
            "tight" if odd else "clear",
            words,
            remedies=("one that opens at 82 to 92 °C",),
        ),
    )


def radiator_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Coolant, hoses, clamps and a cap (common practice)."""
    return (
        Need("coolant", "Coolant", 1, "the old one is caught and recycled", COMMON_PRACTICE),
        Need(
            "coolant_hose",
            "Hoses, top and bottom",
            1,
            "old ones are hard where they were clamped",
            COMMON_PRACTICE,
            needed=False,
        ),
        Need("radiator_cap", "Radiator cap", 1, "a tired seal boils it over", COMMON_PRACTICE, needed=False),
    )


RADIATOR = Family(
    "radiator",
    "radiator",
    "radiators",
    (
        *_CORE,
        Spec("rows", "rows", "core_rows", counted=True, words=("rows",)),
        Spec("top_port", "top port, from the front", choices=SIDES, words=("top port",)),
        Spec("lower_port", "lower port, from the front", choices=SIDES, words=("lower port", "bottom port")),
        Spec("shroud_mm", "fan and shroud that go on with it, deep", "core_depth_mm", kind="length", unit="mm"),
        MASS_CHANGE,
    ),
    words=("radiator", "radiators"),
    shapes=(
        core_size(),
        r"top\s+(?:port\s+)?(?P<top_port>left|right)",
        r"(?:lower|bottom)\s+(?:port\s+)?(?P<lower_port>left|right)",
        r"(?P<rows>\d)\s*rows?",
    ),
    example="radiator 660 x 325 x 36 mm 2 rows, 1.9 kg, 185, 2 weeks, supplier",
    judge=lambda given, place: (
        *judge_core(given, place),
        judge_core_space(given, place),
        judge_ports(given, place),
    ),
    drags=radiator_drags,
    asks=(
        Question(
            "brackets",
            "With or without air-conditioning brackets",
            ("with", "without", "not yet asked"),
            "the other one has nothing to bolt to",
        ),
        Question(
            "supports",
            "Trial-fitted: supports straight",
            ("yes", "bent and straightened", "not yet"),
            "old jacking bends them, and the core cracks",
        ),
    ),
    modules=("radiator",),
    dues=(Due("Coolant level, cold, and hoses", after_days=1), Due("Coolant level and clamps", after_km=200)),
    used_share=0.4,
    ends=("F",),
    per_end=lambda lugs: 1,
)
FAN = Family(
    "fan",
    "radiator fan",
    "radiator fans",
    (
        Spec("diameter_mm", "diameter", "core_mm", kind="length", unit="mm", words=("diameter",)),
        Spec("amps", "draws", "amps", unit="A", words=("amps", "draws")),
        MASS_CHANGE,
    ),
    words=("fan", "fans", "radiator fan", "electric fan"),
    shapes=(r"(?P<amps>\d{1,2}(?:[.,]\d)?)\s*A\b", length("diameter_mm", "needed")),
    example="fan 305 mm 9 A, 1.4 kg, 74, 1 week, supplier",
    drags=lambda given, place: (
        Need(
            "other",
            "Relay, fuse and wire for the fan",
            1,
            f"it draws {given['amps']:g} A" if given.get("amps") else "its current",
            COMMON_PRACTICE,
        ),
    ),
    asks=(
        Question(
            "way",
            "Pushes or pulls",
            ("pulls, behind the core", "pushes, ahead of it", "not yet asked"),
            "the wrong blade fights the wind",
        ),
    ),
    modules=("radiator",),
    used_share=0.4,
    ends=("F",),
    per_end=lambda lugs: 1,
)
THERMOSTAT = Family(
    "thermostat",
    "thermostat",
    "thermostats",
    (Spec("opens_c", "opens at", "opens_c", decides=True, unit="°C", words=("opens",)),),
    words=("thermostat", "thermostats"),
    shapes=(r"(?P<opens_c>\d{2,3}(?:[.,]\d)?)\s*(?:°\s*)?C\b",),
    example="thermostat 87 °C, 18, in stock, supplier",
    judge=judge_thermostat,
    drags=lambda given, place: (Need("other", "Gasket for the thermostat", 1, "it seals once", COMMON_PRACTICE),),
    asks=(
        Question(
            "jiggle",
            "Bleed hole or pin upward",
            ("yes", "it has none", "not yet looked at"),
            "air stays under one that is turned",
        ),
    ),
    modules=("radiator",),
    used_share=None,
    ends=("F",),
    per_end=lambda lugs: 1,
)
RADIATOR_CAP = Family(
    "radiator_cap",
    "radiator cap",
    "radiator caps",
    (Spec("cap_kpa", "opens at", "cap_kpa", decides=True, unit="kPa", words=("opens",)),),
    words=("radiator cap", "radiator caps"),
    shapes=(r"(?P<cap_kpa>\d{1,3}(?:[.,]\d+)?)\s*kPa",),
    example="radiator cap 110 kPa, 14, in stock, supplier",
    judge=judge_pressure_cap,
    modules=("radiator",),
    used_share=None,
    ends=("F",),
    asks=(Question("depth", "Depth of the neck measured", ("as the old one", "not yet"), "a short cap never seals"),),
    per_end=lambda lugs: 1,
)
COOLANT_HOSE = Family(
    "coolant_hose",
    "coolant hose",
    "coolant hoses",
    (
        Spec("inner_mm", "inside", "hose_inner_mm", kind="length", unit="mm", words=("inside",)),
        Spec("length_mm", "length", "hose_mm", kind="length", unit="mm", words=("long",)),
        PIECES,
    ),
    words=("coolant hose", "coolant hoses", "radiator hose", "radiator hoses"),
    shapes=(SET, r"long\s*" + length("length_mm"), r"inside\s*" + length("inner_mm")),
    example="coolant hoses inside 32 mm long 400 mm, set of 2, 38, 1 week, supplier",
    asks=(
        Question("bend", "Bend checked against the old hose", ("the same", "not yet"), "a kinked hose is a shut one"),
    ),
    modules=("radiator",),
    dues=(Due("Coolant hoses: clamps, weeping", after_km=200),),
    used_share=None,
    ends=("F",),
)
COOLANT = Family(
    "coolant",
    "coolant",
    "coolants",
    (
        Spec("litres", "quantity", "litres", unit="L", words=("litres",)),
        Spec("glycol_pct", "glycol", "glycol_pct", unit="%", words=("glycol",)),
    ),
    words=("coolant", "coolants", "antifreeze"),
    shapes=(r"(?P<litres>\d+(?:[.,]\d+)?)\s*(?:L|litres?)\b", r"(?P<glycol_pct>\d{1,2})\s*%"),
    example="coolant 5 L 50 %, 22, in stock, supplier",
    judge=lambda given, place: (judge_frost(given.get("glycol_pct"), place.stood.run.get("coldest_c")),),
    asks=(
        Question(
            "kind",
            "Kind of coolant read off the old one",
            ("the same", "flushed first", "not yet"),
            "two kinds in one system turn to gel",
        ),
    ),
    modules=("radiator",),
    used_share=None,
    ends=("F",),
    adds=True,
)

COOLED = (RADIATOR, FAN, THERMOSTAT, RADIATOR_CAP, COOLANT_HOSE, COOLANT)
