"""Leaf packs, lift blocks and U-bolts."""

from __future__ import annotations

from rimcore.fastening.threads import parse_thread
from rimcore.parts.against import OLD, like_old
from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import CLASSES, MASS_CHANGE, PIECES, THREAD
from rimcore.parts.sprung import SETTLED, SPRING_RATE
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.heights import USUAL_HZ, leaf_lowered_mm
from rimcore.ride.springs import frequency_hz

U_BOLTS = Need("u_bolt", "U-bolts", 4, "stretched once: new ones, and long enough", COMMON_PRACTICE)


def leaf_lowers_mm(place: Place, given: Given) -> float | None:
    """What a leaf pack lowers the end by against the one that stands there [mm]; None where something is not known."""
    stood = place.stood
    arch, rate, was_arch, was_rate = (
        given.get("arch_mm"),
        given.get("rate_n_per_mm"),
        stood.was("leaf_pack", "arch_mm"),
        stood.was("leaf_pack", "rate_n_per_mm"),
    )
    if stood.force_n is None or arch is None or rate is None or was_arch is None or was_rate is None:
        return None
    return leaf_lowered_mm(was_arch, was_rate, arch, rate, stood.force_n)


def judge_leaf_pack(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A leaf pack in these hangers: eyes, width, height and frequency."""
    wanted = [("length_mm", "eye to eye", 6.0), ("width_mm", "width", 0.8)]
    return (
        like_old("part.leaf.hangers", "Leaf pack in its hangers", "leaf_pack", given, place, wanted),
        _leaf_height(given, place),
        _leaf_frequency(given, place),
    )


def _leaf_height(given: Given, place: Place) -> Judgement:
    code, name, stood = "part.leaf.height", "Height with this pack", place.stood
    lowers = leaf_lowers_mm(place, given)
    if lowers is None and given.get("lifts_mm") is not None:
        return unmeasured(
            code,
            name,
            f"the shop says {given['lifts_mm']:g} mm higher",
            ["part.leaf_pack"],
            ["measure the unloaded arch and weigh the corner, or read the height after fitting"],
        )
    if lowers is None:
        lacks = [
            *stood.unweighed,
            *(["arch and rate of the pack"] if None in (given.get("arch_mm"), given.get("rate_n_per_mm")) else []),
            *(
                ["the old pack"]
                if None in (stood.was("leaf_pack", "arch_mm"), stood.was("leaf_pack", "rate_n_per_mm"))
                else []
            ),
        ]
        return unmeasured(
            code,
            name,
            f"not known: {', '.join(lacks)}",
            ["part.leaf_pack"],
            ["measure the unloaded arch, weigh the corner"],
        )
    apart = abs(lowers - stood.moves_mm)
    said = f"{abs(lowers):.0f} mm {'lower' if lowers > 0 else 'higher'}"
    state: State = "clear" if not place.chosen or apart <= 10 else "tight"
    reason = said + (
        f"; the build reckons with {_way(stood.moves_mm)}"
        if place.chosen and state == "tight"
        else "; the pack's own angle is kept under torque"
    )
    return judged(
        code,
        name,
        state,
        reason,
        f"old arch − F ÷ rate, less the same of the new; F {stood.force_n:.0f} N",
        "Hooke's law",
        value=lowers,
        inputs=stood.inputs,
        remedies=("take the height into the build",),
    )


def _way(drop_mm: float) -> str:
    """A height in words.

    >>> _way(-40.0)
    '40 mm higher'
    """
    return f"{abs(drop_mm):.0f} mm {'lower' if drop_mm > 0 else 'higher'}" if drop_mm else "the same height"


def _leaf_frequency(given: Given, place: Place) -> Judgement:
    code, name, stood = "part.leaf.frequency", "Frequency with this pack", place.stood
    rate = given.get("rate_n_per_mm")
    if rate is None or stood.corner_kg is None or stood.unsprung_kg is None:
        return unmeasured(
            code,
            name,
            "its rate, or what it carries, is not known",
            ["part.leaf_pack"],
            ["ask for the rate, weigh the corner"],
        )
    hertz = frequency_hz(rate, stood.corner_kg - stood.unsprung_kg)
    low, high = USUAL_HZ.get(stood.use, USUAL_HZ["street"])
    state: State = "clear" if low <= hertz <= high else "tight"
    return judged(
        code,
        name,
        state,
        f"{hertz:.2f} Hz; {low:g} to {high:g} for the use",
        f"√({rate:g} ÷ {stood.corner_kg - stood.unsprung_kg:g}) ÷ 2π",
        f"{COMMON_PRACTICE}, from memory",
        value=hertz,
        unit="Hz",
        inputs=stood.inputs,
        remedies=("another rate",),
    )


LEAF_PACK = Family(
    "leaf_pack",
    "leaf pack",
    "leaf packs",
    (
        Spec("rate_n_per_mm", "rate", "rate", kind="spring_rate", unit="N/mm", words=("rate",)),
        Spec("arch_mm", "arch, unloaded", "arch_mm", kind="length", unit="mm", words=("arch",)),
        Spec("length_mm", "eye to eye", "leaf_mm", kind="length", unit="mm", words=("eye to eye", "length")),
        Spec("width_mm", "width", "leaf_width_mm", kind="length", unit="mm", words=("wide", "width")),
        Spec("leaves", "leaves", "leaves", counted=True, words=("leaves",)),
        Spec(
            "stack_mm", "pack's thickness at the axle", "stack_mm", kind="length", unit="mm", words=("stack", "thick")
        ),
        Spec(
            "lifts_mm",
            "lifts by, as the shop says",
            "shop_height_mm",
            kind="length",
            unit="mm",
            words=("lift", "lifts", "higher"),
        ),
        PIECES,
        MASS_CHANGE,
    ),
    words=("leaf pack", "leaf packs", "leaf spring", "leaf springs"),
    shapes=(
        SPRING_RATE,
        r"arch\s*" + length("arch_mm"),
        r"(?P<leaves>\d{1,2})\s*leaves",
        r"(?:width|wide)\s*" + length("width_mm"),
        r"(?:stack|thick)\s*" + length("stack_mm"),
        r"lift(?:s|ed)?\s*(?:by\s*|of\s*)?" + length("lifts_mm"),
        length("lifts_mm") + r"\s*(?:lift|higher|over)\b",
        length("length_mm", "needed"),
    ),
    example="leaf pack 32 N/mm arch 190 mm 1180 mm width 60 mm 5 leaves stack 42 mm, 17 kg, 310, 5 weeks, supplier",
    knows=("corner_mass",),
    judge=judge_leaf_pack,
    drags=lambda given, place: (
        U_BOLTS,
        Need("other", "Shackle and hanger bushes", 6, "while the pack is out", COMMON_PRACTICE, needed=False),
    ),
    same_sides=("rate_n_per_mm", "arch_mm", "length_mm", "width_mm", "leaves"),
    asks=(
        Question(
            "side",
            "Left and right packs told apart",
            ("alike", "both ordered"),
            "a driver's side pack is often arched more",
        ),
    ),
    modules=("leaves",),
    dues=(
        SETTLED,
        Due("U-bolts, re-torque on the wheels", after_km=80),
        Due("U-bolts, re-torque on the wheels", after_km=800),
    ),
    used_share=0.4,
    per_end=lambda lugs: 2,
)


def judge_block(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A block under the pack: never under a steered axle, never on another block; width, and the build's height."""
    stood, found = place.stood, []
    if stood.end == "F":
        found.append(
            judged(
                "part.block.axle",
                "Block under this axle",
                "hit",
                "never between spring and a steered axle",
                "common practice; local law",
                remedies=("full-height leaves",),
            )
        )
    else:
        found.append(
            judged(
                "part.block.axle",
                "Block under this axle",
                "tight",
                "the axle winds up further under torque and braking: look at Lift",
                "statics",
                remedies=("full-height leaves", "a traction bar"),
            )
        )
    old = stood.was("lift_block", "height_mm")
    if old:
        found.append(
            judged(
                "part.block.stacked",
                "Blocks stacked",
                "hit",
                f"a block of {old:g} mm stands there already: blocks are not stacked",
                "common practice",
                inputs=(InputUsed("old block", f"{old:g} mm", "recorded"),),
                remedies=("one block", "full-height leaves"),
            )
        )
    width = stood.was("leaf_pack", "width_mm")
    code, name = "part.block.width", "Block under the pack"
    if width is None or given.get("width_mm") is None:
        found.append(unmeasured(code, name, "its width or the pack's is not known", ["part.leaf_pack"], OLD))
    else:
        apart = given["width_mm"] - width
        state: State = "clear" if abs(apart) <= 1.0 else "hit" if apart < 0 else "tight"
        found.append(
            judged(
                code,
                name,
                state,
                f"{given['width_mm']:g} under {width:g} mm",
                f"{given['width_mm']:g} − {width:g}",
                "geometry",
                value=apart,
                held_against=1.0,
                remedies=(f"one of {width:g} mm",),
            )
        )
    return tuple(found)


LIFT_BLOCK = Family(
    "lift_block",
    "lift block",
    "lift blocks",
    (
        Spec("height_mm", "height", "block_mm", kind="length", unit="mm", words=("high", "height")),
        Spec("taper_deg", "taper", "taper_deg", kind="angle", unit="°", words=("taper",)),
        Spec("width_mm", "width", "leaf_width_mm", kind="length", unit="mm", words=("wide", "width")),
        PIECES,
        MASS_CHANGE,
    ),
    words=("lift block", "lift blocks"),
    shapes=(
        SET,
        r"taper\s*(?P<taper_deg>[-−+]?\d(?:[.,]\d+)?)\s*(?:°|deg)?",
        r"(?:width|wide)\s*" + length("width_mm"),
        length("height_mm", "needed"),
    ),
    example="lift blocks 50 mm width 60 mm taper 2°, 1.4 kg, 78, 1 week, supplier",
    judge=judge_block,
    drags=lambda given, place: (
        U_BOLTS,
        Need("hose", "Longer brake hoses", 1, "the axle hangs lower at full droop", COMMON_PRACTICE, needed=False),
    ),
    same_sides=("height_mm", "taper_deg", "width_mm"),
    asks=(
        Question(
            "pin",
            "Pin and hole of the block measured",
            ("as the pack's", "not yet"),
            "a pin that does not seat lets the axle walk",
        ),
    ),
    modules=("leaves",),
    dues=(Due("U-bolts, re-torque on the wheels", after_km=80), Due("U-bolts, re-torque on the wheels", after_km=800)),
    used_share=0.3,
    adds=True,
    per_end=lambda lugs: 2,
)


def judge_u_bolt(given: Given, place: Place) -> tuple[Judgement, ...]:
    """U-bolts round this axle and pack: between the legs, and long enough with the build's block and pack."""
    stood = place.stood
    fits = like_old(
        "part.u_bolt.legs",
        "U-bolts round the axle",
        "u_bolt",
        given,
        place,
        [("inside_mm", "between the legs", 1.5), ("shape", "shape", 0.0)],
    )
    old = stood.was("u_bolt", "length_mm")
    code, name = "part.u_bolt.length", "U-bolts long enough"
    if old is None:
        return fits, unmeasured(code, name, "the old ones' length is not recorded", ["part.u_bolt"], OLD)
    if given.get("length_mm") is None:
        words = "the line does not give their length"
        return fits, unmeasured(code, name, words, ["part.u_bolt"], ["ask the shop, or measure the part"])
    block, was_block = (
        said.get("height_mm") or 0.0 for said in (place.there("lift_block"), stood.old.get("lift_block", {}))
    )
    pack, was_pack = place.there("leaf_pack").get("stack_mm"), stood.was("leaf_pack", "stack_mm")
    if place.other("leaf_pack") is not None and (pack is None or was_pack is None):
        return fits, unmeasured(
            code, name, "how thick the build's pack or the old one is at the axle is not known", ["part.leaf_pack"], OLD
        )
    thicker = (pack or 0.0) - (was_pack or 0.0)
    wanted = old + block - was_block + thicker
    short = wanted - given["length_mm"]
    state: State = "clear" if short <= 0 else "hit"
    return fits, judged(
        code,
        name,
        state,
        f"{given['length_mm']:g} of {wanted:g} mm" if short > 0 else f"{-short:g} mm to spare",
        f"{old:g} + block {block - was_block:g} + pack {thicker:g} = {wanted:g} mm",
        "geometry",
        value=short,
        inputs=(
            InputUsed("old ones", f"{old:g} mm", "recorded"),
            InputUsed("block of the build", f"{block:g} mm", "the build"),
        ),
        remedies=(f"U-bolts of {wanted:.0f} mm",),
    )


U_BOLT = Family(
    "u_bolt",
    "U-bolt set",
    "U-bolt sets",
    (
        Spec("thread", "thread", read=parse_thread, words=("thread",), help="M14x1.5, 1/2-20"),
        Spec("inside_mm", "between the legs", "leaf_width_mm", kind="length", unit="mm", words=("inside", "legs")),
        Spec(
            "length_mm",
            "leg, inside",
            "u_bolt_mm",
            kind="length",
            unit="mm",
            words=("leg", "length", "long"),
        ),
        Spec("shape", "shape", choices={"round": "round", "square": "square"}, words=("round", "square")),
        Spec("grade", "property class", choices=CLASSES, words=("class", "grade")),
        PIECES,
        MASS_CHANGE,
    ),
    words=("u-bolt", "u-bolts", "u bolt", "u bolts"),
    shapes=(
        THREAD,
        SET,
        r"(?:inside|legs)\s*" + length("inside_mm"),
        r"(?:class\s*|grade\s*)(?P<grade>8\.8|10\.9|12\.9)",
        r"(?:leg\s*)?" + length("length_mm", "needed"),
    ),
    example="u-bolts M12x1.5 inside 62 mm leg 210 mm round class 10.9, set of 4, 58, 1 week, supplier",
    judge=judge_u_bolt,
    same_sides=("thread", "length_mm"),
    modules=("leaves",),
    dues=(Due("U-bolts, re-torque on the wheels", after_km=80),),
    used_share=None,
    per_end=lambda lugs: 4,
)
