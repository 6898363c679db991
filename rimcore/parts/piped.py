"""Intake and exhaust: pipes, couplers, filters, the meter's housing, manifolds, silencers, tips, hangers and clamps."""

from __future__ import annotations

from dataclasses import replace

from rimcore.breathing.bill import MATERIALS, OVERLAP_MM
from rimcore.breathing.meter import Housing, judge_meter
from rimcore.parts.common import HANDS, judge_hand, judged
from rimcore.parts.declared import (
    NUMBER,
    SET,
    Due,
    Family,
    Given,
    Need,
    Place,
    Question,
    Spec,
    core_size,
    length,
    two_lengths,
)
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.parts.spaces import judge_box_space
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: bores that differ by more do not slip over each other without a reducer [mm] (common practice)
SLIP_MM = 3.0
_NAMES = {code: name for code, (name, _) in MATERIALS.items()}
_BORE = Spec("bore_mm", "bore", "bore_of_pipe_mm", kind="length", unit="mm", words=("bore",))
_LENGTH = Spec("length_mm", "length", "pipe_mm", kind="length", unit="mm", words=("long", "length"))
_MATERIAL = Spec("material", "material", choices=_NAMES, words=tuple(_NAMES.values()))
#: of what is judged by it
_DECIDING_BORE = replace(_BORE, decides=True)
_B = r"(?:bore\s*)?" + length("bore_mm", "needed")
_MADE_OF = r"(?P<material>stainless|aluminium|titanium|silicone|plastic)\b(?:\s+steel)?"
_LEAKS = (Due("Intake joints: leak check, clamps", after_km=80),)
_HOT = (
    Due("Exhaust joints re-torqued cold after the first heat", after_km=20),
    Due("Exhaust hangers and joints looked at", after_km=800),
)
NOISE_LAW = "noise, emissions and exhaust parts are regulated: check local law, inspection body and insurer"


def judge_bore(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A pipe's bore against the engine's meter housing, where one is known."""
    code, name, meter = (
        "part.pipe.bore",
        "Bore against the airflow meter housing",
        place.stood.run.get("meter_mm"),
    )
    if meter is None:
        return (
            unmeasured(
                code, name, "the original housing's bore is not known", ["meter bore"], ["measure it with a caliper"]
            ),
        )
    apart = given["bore_mm"] - meter
    state: State = "clear" if abs(apart) <= SLIP_MM else "tight"
    reason = f"{given['bore_mm']:g} on {meter:g} mm" + (
        "" if state == "clear" else ": it takes a reducer at the housing, which stays the original"
    )
    return (
        judged(
            code,
            name,
            state,
            reason,
            f"{given['bore_mm']:g} − {meter:g} = {apart:+.1f} mm".replace("-", "−"),
            value=apart,
            held_against=SLIP_MM,
            inputs=(InputUsed("original housing", f"{meter:g} mm", "the car's data"),),
            remedies=(f"a reducer {given['bore_mm']:g} to {meter:g} mm",),
        ),
    )


def intake_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Couplers, clamps and a bracket; reducers where the housing stays."""
    bore, meter = given.get("bore_mm"), place.stood.run.get("meter_mm")
    needs = [
        Need("coupler", "Coupler", 2, "a pipe ends in a coupler at both ends", COMMON_PRACTICE, {"bore_mm": bore}),
        Need("clamp", "T-bolt clamps", 4, "worm-drive ones let go", COMMON_PRACTICE, {"kind": "t-bolt"}),
        Need("other", "Bracket for the longer pipe", 1, "it hangs on its couplers else", COMMON_PRACTICE, needed=False),
    ]
    if bore is not None and meter is not None and abs(bore - meter) > SLIP_MM:
        needs.append(
            Need(
                "reducer",
                "Reducer at the airflow meter housing",
                2,
                "the original housing is kept until it is tuned",
                COMMON_PRACTICE,
                {"bore_mm": bore, "to_mm": meter},
            )
        )
    return tuple(needs)


def judge_housing(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A housing on this engine: what the meter reads, and whether it is tuned before it is driven."""
    meter, tuned = place.stood.run.get("meter_mm"), bool(place.stood.run.get("tuned_first"))
    used = () if meter is None else (InputUsed("original housing", f"{meter:g} mm", "the car's data"),)
    return (judge_meter(None if meter is None else Housing(meter, given["bore_mm"]), tuned, used),)


def judge_clamp(given: Given, place: Place) -> tuple[Judgement, ...]:
    """Worm-drive clamps let go of a pipe that T-bolt ones hold (common practice)."""
    kind = given.get("kind")
    if kind is None:
        return (
            unmeasured(
                "part.clamp.kind",
                "Kind of clamp",
                "not given what it is",
                ["part.clamp"],
                ["ask: T-bolt, band or worm-drive"],
            ),
        )
    worm = kind == "worm"
    reason = "worm-drive: it lets go where a T-bolt one holds" if worm else CLAMPS[kind]
    return (
        judged("part.clamp.kind", "Kind of clamp", "tight" if worm else "clear", reason, remedies=("T-bolt clamps",)),
    )


def judge_overlap(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A clamped joint overlaps by an eighth of an inch at the least."""
    overlap = given.get("overlap_mm")
    code, name = "part.tip.overlap", "Overlap of the slip joint"
    if overlap is None:
        return (unmeasured(code, name, "not measured", ["part.tip"], ["push it home and measure"]),)
    state: State = "hit" if overlap < OVERLAP_MM - 1e-9 else "clear"
    return (
        judged(
            code,
            name,
            state,
            f"{overlap:g} mm; {OVERLAP_MM:.1f} at the least",
            "1/8 in",
            value=overlap,
            remedies=("a longer socket", "weld it"),
        ),
    )


def exhaust_drags(given: Given, place: Place) -> tuple[Need, ...]:
    """Gaskets, clamps and hangers (common practice)."""
    return (
        Need("other", "Gasket for the flange", 1, "it seals once", COMMON_PRACTICE),
        Need("clamp", "Exhaust clamps", 2, "every slip joint has one", COMMON_PRACTICE, {"kind": "band"}),
        Need(
            "hanger",
            "Hangers",
            2,
            "old rubber is torn; where it is whole it is used again",
            COMMON_PRACTICE,
            needed=False,
        ),
    )


CLAMPS = {"t-bolt": "T-bolt", "band": "band", "u": "U-bolt", "worm": "worm-drive", "vband": "V-band"}
INTAKE_PIPE = Family(
    "intake_pipe",
    "intake pipe",
    "intake pipes",
    (_DECIDING_BORE, _LENGTH, _MATERIAL, MASS_CHANGE),
    words=("intake pipe", "intake pipes", "intake tube", "cold-air pipe"),
    shapes=(
        _MADE_OF,
        r"(?P<bore_mm>" + NUMBER + r")(?:\s*mm)?\s*[x×]\s*" + length("length_mm"),
        _B,
    ),
    example="intake pipe 76 x 400 mm aluminium, 0.6 kg, 48, 1 week, supplier",
    judge=judge_bore,
    drags=intake_drags,
    asks=(
        Question(
            "sensor",
            "Boss for the air-temperature sensor",
            ("there", "none on this engine", "not yet looked at"),
            "without one the sensor hangs loose",
        ),
    ),
    modules=("intake",),
    dues=_LEAKS,
    used_share=0.4,
    ends=("F",),
    per_end=lambda lugs: 1,
)
COUPLER = Family(
    "coupler",
    "coupler",
    "couplers",
    (_BORE, _LENGTH, PIECES),
    words=("coupler", "couplers", "silicone coupler", "silicone couplers"),
    shapes=(SET, r"long\s*" + length("length_mm"), _B),
    example="couplers 76 mm long 70 mm, set of 2, 18, in stock, supplier",
    modules=("intake",),
    used_share=None,
    ends=("F",),
    adds=True,
)
REDUCER = Family(
    "reducer",
    "reducer",
    "reducers",
    (
        _BORE,
        Spec("to_mm", "to", "bore_of_pipe_mm", required=True, kind="length", unit="mm", words=("to",)),
        _LENGTH,
        PIECES,
    ),
    words=("reducer", "reducers"),
    shapes=(SET, two_lengths("bore_mm", "to_mm"), r"long\s*" + length("length_mm")),
    example="reducer 76 to 70 mm, 14, in stock, supplier",
    modules=("intake",),
    used_share=None,
    ends=("F",),
    adds=True,
)
AIR_FILTER = Family(
    "air_filter",
    "air filter",
    "air filters",
    (
        _BORE,
        Spec("drop_kpa", "loss", "drop_kpa", unit="kPa", words=("loss", "drop")),
        Spec("at_kg_per_s", "at a flow of", "flow_kg_per_s", unit="kg/s", words=("at",)),
        *(
            Spec(f"box_{side}_mm", f"box, {side}", "box_side_mm", kind="length", unit="mm")
            for side in ("width", "height", "depth")
        ),
        MASS_CHANGE,
    ),
    words=("air filter", "air filters", "cone filter"),
    shapes=(
        r"(?P<drop_kpa>\d+(?:[.,]\d+)?)\s*kPa\s*(?:at\s*(?P<at_kg_per_s>\d+(?:[.,]\d+)?)\s*kg/s)?",
        r"box\s*"
        rf"(?P<box_width_mm>{NUMBER})\s*[x×]\s*(?P<box_height_mm>{NUMBER})\s*[x×]\s*(?P<box_depth_mm>{NUMBER})(?:\s*mm)?",
        _B,
    ),
    example="air filter bore 76 mm 0.4 kPa at 0.1 kg/s, 0.5 kg, 44, in stock, supplier",
    judge=lambda given, place: (judge_box_space(given, place),),
    modules=("intake",),
    dues=(Due("Air filter: looked at, cleaned", after_km=10_000),),
    used_share=0.3,
    ends=("F",),
    per_end=lambda lugs: 1,
)
METER_HOUSING = Family(
    "meter_housing",
    "airflow meter housing",
    "air-meter housings",
    (_DECIDING_BORE, _LENGTH, MASS_CHANGE),
    words=("meter housing", "meter housings", "air-meter housing"),
    shapes=(
        r"(?P<bore_mm>" + NUMBER + r")(?:\s*mm)?\s*[x×]\s*" + length("length_mm"),
        _B,
    ),
    example="meter housing 89 mm, 0.3 kg, 62, 2 weeks, supplier",
    judge=judge_housing,
    drags=lambda given, place: (
        Need("other", "Tuning: the meter calibrated anew", 1, "it sees the speed, not the flow", COMMON_PRACTICE),
    ),
    asks=(
        Question(
            "insert",
            "Which sensor it takes",
            ("the car's own", "another", "not yet asked"),
            "two sensors look alike and read apart",
        ),
    ),
    modules=("intake", "tuning"),
    dues=_LEAKS,
    used_share=0.5,
    ends=("F",),
    per_end=lambda lugs: 1,
)
CHARGE_COOLER = Family(
    "charge_cooler",
    "charge cooler",
    "charge coolers",
    (
        Spec("width_mm", "width", "core_mm", kind="length", unit="mm", words=("width",)),
        Spec("height_mm", "height", "core_mm", kind="length", unit="mm", words=("height",)),
        Spec("depth_mm", "depth", "core_depth_mm", kind="length", unit="mm", words=("depth",)),
        Spec("bore_mm", "bore of its ends", "bore_of_pipe_mm", kind="length", unit="mm", words=("bore",)),
        MASS_CHANGE,
    ),
    words=("charge cooler", "charge coolers", "intercooler"),
    shapes=(
        core_size(),
        r"bore\s*" + length("bore_mm"),
    ),
    example="charge cooler 550 x 140 x 65 mm bore 57 mm, 4.8 kg, 210, 3 weeks, supplier",
    modules=("intake",),
    dues=_LEAKS,
    used_share=0.4,
    ends=("F",),
    per_end=lambda lugs: 1,
)
MANIFOLD = Family(
    "manifold",
    "exhaust manifold",
    "exhaust manifolds",
    (
        Spec("bore_mm", "bore of its outlet", "bore_of_pipe_mm", kind="length", unit="mm", words=("bore",)),
        _MATERIAL,
        Spec("hand", "side", choices=HANDS, words=tuple(HANDS)),
        MASS_CHANGE,
    ),
    words=("manifold", "manifolds", "exhaust manifold", "header"),
    shapes=(
        _MADE_OF,
        _B,
    ),
    example="manifold 51 mm stainless either, −2.1 kg, 310, 4 weeks, supplier",
    judge=lambda given, place: (
        judge_hand("part.manifold.hand", "Side of the manifold", given, "which bank it is for"),
    ),
    drags=exhaust_drags,
    asks=(
        Question(
            "year",
            "Year split of the cylinder head asked",
            ("the same", "not yet asked"),
            "studs and ports moved between years",
        ),
    ),
    modules=("exhaust",),
    dues=_HOT,
    used_share=0.5,
    ends=("F",),
    per_end=lambda lugs: 1,
)
CATALYST = Family(
    "catalyst",
    "catalyst",
    "catalysts",
    (_BORE, Spec("cells", "cells", "cells", counted=True, words=("cells",)), MASS_CHANGE),
    words=("catalyst", "catalysts", "catalytic converter"),
    shapes=(r"(?P<cells>\d{2,4})\s*cells?", _B),
    example="catalyst 63.5 mm 200 cells, −0.9 kg, 280, 3 weeks, supplier",
    judge=lambda given, place: (
        judged(
            "part.catalyst.law",
            "Catalyst and the law",
            "tight",
            f"what was approved with the car may not go; {NOISE_LAW}",
            basis="local law decides",
            remedies=("one approved for the car",),
        ),
    ),
    drags=exhaust_drags,
    asks=(
        Question(
            "probes",
            "Bosses for the probes",
            ("as many as the old one", "not yet asked"),
            "a probe without a boss sets a fault",
        ),
    ),
    modules=("exhaust",),
    dues=_HOT,
    used_share=0.4,
    per_end=lambda lugs: 1,
    once=True,
)
MID_PIPE = Family(
    "mid_pipe",
    "exhaust pipe",
    "exhaust pipes",
    (_BORE, _LENGTH, _MATERIAL, MASS_CHANGE),
    words=("exhaust pipe", "exhaust pipes", "mid-pipe", "mid pipe", "over-axle pipe", "downpipe"),
    shapes=(
        _MADE_OF,
        r"(?P<bore_mm>" + NUMBER + r")(?:\s*mm)?\s*[x×]\s*" + length("length_mm"),
        _B,
    ),
    example="mid-pipe 63.5 x 1200 mm stainless, 2.4 kg, 120, 2 weeks, supplier",
    drags=exhaust_drags,
    modules=("exhaust",),
    dues=_HOT,
    used_share=0.4,
    per_end=lambda lugs: 1,
    once=True,
)
SILENCER = Family(
    "silencer",
    "silencer",
    "silencers",
    (
        _BORE,
        _LENGTH,
        Spec("drop_kpa", "loss", "drop_kpa", unit="kPa", words=("loss", "drop")),
        Spec("at_kg_per_s", "at a flow of", "flow_kg_per_s", unit="kg/s"),
        MASS_CHANGE,
    ),
    words=("silencer", "silencers", "muffler", "resonator"),
    shapes=(
        r"(?P<drop_kpa>\d+(?:[.,]\d+)?)\s*kPa\s*(?:at\s*(?P<at_kg_per_s>\d+(?:[.,]\d+)?)\s*kg/s)?",
        r"(?P<bore_mm>" + NUMBER + r")(?:\s*mm)?\s*[x×]\s*" + length("length_mm"),
        _B,
    ),
    example="silencer 63.5 x 450 mm 3 kPa at 0.1 kg/s, −1.4 kg, 165, 2 weeks, supplier",
    judge=lambda given, place: (
        judged(
            "part.silencer.law",
            "Silencer and the law",
            "tight",
            NOISE_LAW,
            basis="local law decides",
            remedies=("one approved for the car",),
        ),
    ),
    drags=exhaust_drags,
    asks=(
        Question(
            "flow",
            "Which end the gas enters",
            ("either", "marked with an arrow", "not yet looked at"),
            "chambers are made for one way",
        ),
    ),
    modules=("exhaust",),
    dues=_HOT,
    used_share=0.4,
    per_end=lambda lugs: 1,
    once=True,
)
TAIL_TIP = Family(
    "tail_tip",
    "tail tip",
    "tail tips",
    (
        _BORE,
        Spec("overlap_mm", "overlap", "overlap_mm", kind="length", unit="mm", words=("overlap",)),
        PIECES,
        MASS_CHANGE,
    ),
    words=("tail tip", "tail tips", "exhaust tip"),
    shapes=(SET, r"overlap\s*" + length("overlap_mm"), _B),
    example="tail tips 63.5 mm overlap 30 mm, set of 2, 0.7 kg, 45, in stock, supplier",
    judge=judge_overlap,
    modules=("exhaust",),
    dues=_HOT,
    used_share=0.3,
    ends=("R",),
    adds=True,
)
HANGER = Family(
    "hanger",
    "exhaust hanger",
    "exhaust hangers",
    (Spec("hole_mm", "hole", "hole_mm", kind="length", unit="mm", words=("hole",)), PIECES),
    words=("hanger", "hangers", "exhaust hanger"),
    shapes=(SET, r"hole\s*" + length("hole_mm")),
    example="hangers hole 12 mm, set of 4, 16, in stock, supplier",
    modules=("exhaust",),
    used_share=None,
    adds=True,
)
CLAMP = Family(
    "clamp",
    "pipe clamp",
    "pipe clamps",
    (
        Spec("kind", "kind", choices=CLAMPS, words=("t-bolt", "band", "u-bolt", "worm-drive", "v-band")),
        Spec("bore_mm", "for pipe of", "bore_of_pipe_mm", kind="length", unit="mm", words=("bore",)),
        PIECES,
    ),
    words=("clamp", "clamps", "pipe clamp", "pipe clamps"),
    shapes=(SET, r"(?P<kind>t-bolt|worm|band)\b", _B),
    example="clamps t-bolt 76 mm, set of 4, 22, in stock, supplier",
    judge=judge_clamp,
    used_share=None,
    adds=True,
)

PIPED = (INTAKE_PIPE, COUPLER, REDUCER, AIR_FILTER, METER_HOUSING, CHARGE_COOLER)
EXHAUSTED = (MANIFOLD, CATALYST, MID_PIPE, SILENCER, TAIL_TIP, HANGER, CLAMP)
