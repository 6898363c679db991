"""Engine and gearbox mounts, wheel bearings, steering hoses and pumps, and oils: what holds, turns and flows.

Common practice throughout.
"""

from __future__ import annotations

from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Need, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, unmeasured

#: what an oil or a fluid is for
FLUIDS = ("engine", "gearbox", "axle", "steering")
#: sizes of a bearing that are the same within this are the same [mm] (common practice: its own tolerance is smaller)
SAME_MM = 0.05


def judge_mount(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A mount that lifts the engine takes room at the bonnet, one that lets it down at the sump.

    What an offer says of its height measures no gap: never clear.
    """
    code, name = "part.mount.room", "Room for the engine on its mounts"
    raised = given.get("raised_mm")
    if raised is None:
        return (
            unmeasured(
                code,
                name,
                "how much higher or lower the engine stands is not said",
                ["part.mount"],
                ["height of the mount against the old one, between its faces"],
            ),
        )
    where = "bonnet and shifter" if raised > 0 else "sump and steering" if raised else "bonnet and sump"
    said = f"{abs(raised):g} mm {'higher' if raised > 0 else 'lower'}" if raised else "said to stand as before"
    return (
        unmeasured(
            code,
            name,
            f"{said}: the gap at {where} is not read",
            ["engine.room"],
            ["tried in the air with clay or chalk before it is bolted"],
        ),
    )


def judge_bearing(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A bearing is the old one's sizes; where they are not read off the old one nobody knows."""
    old, code, name = place.stood.old.get("bearing", {}), "part.bearing", "Bearing against the old one"
    sizes = [(given.get(size), old.get(size)) for size in ("outer_mm", "inner_mm", "width_mm")]
    known = [(float(new), float(there)) for new, there in sizes if new is not None and there is not None]
    if len(known) < len(sizes):
        return (
            unmeasured(
                code,
                name,
                "outside, bore and width are not all read off old and new",
                ["part.bearing"],
                ["caliper over the old one, or its number"],
            ),
        )
    apart = max(abs(new - there) for new, there in known)
    said = ", ".join(f"{new:g} for {there:g}" for new, there in known)
    return (
        judged(
            code,
            name,
            "clear" if apart <= SAME_MM else "hit",
            f"{said} mm",
            "outside, bore and width are the same",
            value=apart,
            inputs=(InputUsed("old bearing", said, "the car's data"),),
            remedies=("one of the old one's sizes",),
        ),
    )


MOUNT = Family(
    "mount",
    "engine or gearbox mount",
    "engine and gearbox mounts",
    (
        Spec(
            "of",
            "of",
            choices={"engine": "engine", "gearbox": "gearbox"},
            words=("engine", "gearbox"),
        ),
        Spec("shore", "hardness", "shore", unit="Shore A", words=("shore",)),
        Spec("raised_mm", "engine stands higher by", "raised_mm", kind="length", unit="mm", words=("raised", "higher")),
        PIECES,
        MASS_CHANGE,
    ),
    words=("engine mount", "engine mounts", "gearbox mount", "gearbox mounts"),
    heads={"engine": "engine", "gearbox": "gearbox"},
    shapes=(SET, r"(?P<shore>\d{2})\s*(?:shore|A)\b", r"(?:raised|higher)\s*" + length("raised_mm")),
    example="engine mounts 75 shore raised 0 mm, set of 2, 140, 2 weeks, supplier",
    judge=judge_mount,
    drags=lambda given, place: (
        Need("other", "Mount bolts, new", 2, "old ones are stretched or rusted", COMMON_PRACTICE, needed=False),
        Need("other", "Earth strap", 1, "it crosses a mount and breaks with its age", COMMON_PRACTICE, needed=False),
    ),
    asks=(
        Question(
            "side",
            "Side and place read off the old one",
            ("left", "right", "gearbox", "all of them", "not yet"),
            "left and right look alike on a list",
        ),
    ),
    modules=("mounts",),
    dues=(Due("Mounts of engine and gearbox, re-torque", after_km=80),),
    ends=("F",),
)
BEARING = Family(
    "bearing",
    "wheel bearing",
    "wheel bearings",
    (
        Spec("outer_mm", "outside", "bush_mm", kind="length", unit="mm", words=("outside",)),
        Spec("inner_mm", "bore", "bush_mm", kind="length", unit="mm", words=("bore",)),
        Spec("width_mm", "width", "bush_mm", kind="length", unit="mm", words=("width",)),
        Spec(
            "style",
            "kind",
            choices={"cartridge": "cartridge", "taper": "taper rollers", "unit": "hub unit"},
            words=("cartridge", "taper rollers", "hub unit"),
        ),
        PIECES,
        MASS_CHANGE,
    ),
    words=("wheel bearing", "wheel bearings"),
    shapes=(
        SET,
        rf"(?:outside\s*){length('outer_mm')}",
        rf"(?:bore\s*){length('inner_mm')}",
        rf"(?:width\s*){length('width_mm')}",
    ),
    trade=True,
    example="wheel bearings cartridge outside 72 bore 39 width 37, set of 2, 88, 4 days, supplier",
    judge=judge_bearing,
    drags=lambda given, place: (
        Need("other", "Hub nut, new", 2, "staked once", COMMON_PRACTICE),
        Need("other", "Circlip of the bearing", 2, "it is bent coming out", COMMON_PRACTICE, needed=False),
    ),
    asks=(
        Question(
            "ring",
            "Sensor ring: in the bearing, on the shaft, or none",
            ("in the bearing", "on the shaft", "none"),
            "the wrong one leaves the lamp on",
        ),
    ),
    modules=("bearings",),
    dues=(
        Due("Wheel bearings: play and noise", after_km=80),
        Due("Wheel bearings: play and noise", after_track_days=2),
    ),
    per_end=lambda lugs: 2,
)


def _steering_fluid(why: str) -> Need:
    return Need("fluid", "Steering fluid", 1, why, COMMON_PRACTICE, {"kind": "steering"})


STEERING_HOSE = Family(
    "steering_hose",
    "steering hose",
    "steering hoses",
    (
        Spec(
            "side",
            "side",
            choices={"pressure": "pressure", "return": "return"},
            words=("pressure", "return"),
        ),
        Spec("length_mm", "length", "hose_mm", kind="length", unit="mm", words=("length",)),
        PIECES,
        MASS_CHANGE,
    ),
    words=("steering hose", "steering hoses"),
    shapes=(SET, length("length_mm", "needed")),
    example="steering hose pressure 640 mm, 74, 1 week, supplier",
    drags=lambda given, place: (
        _steering_fluid("the circuit is opened"),
        Need("other", "Sealing washers of the steering hose", 2, "crushed once", COMMON_PRACTICE),
    ),
    asks=(
        Question(
            "thread",
            "Thread and flare read off the old hose",
            ("the same", "not yet"),
            "two unions look alike and one weeps",
        ),
    ),
    modules=("steering lines",),
    dues=(Due("Steering hoses: damp, rub", after_days=1),),
    ends=("F",),
)
STEERING_PUMP = Family(
    "steering_pump",
    "steering pump",
    "steering pumps",
    (
        Spec(
            "drive",
            "drive",
            choices={"belt": "by belt", "electric": "electric"},
            words=("belt", "electric"),
        ),
        Spec("pressure_kpa", "relief pressure", "steering_kpa", kind="pressure", unit="kPa", words=("relief",)),
        MASS_CHANGE,
    ),
    words=("steering pump", "steering pumps"),
    shapes=(r"(?P<pressure_kpa>\d{3,5}(?:[.,]\d+)?)\s*kPa",),
    example="steering pump belt 8000 kPa, −0.5 kg, 210, 2 weeks, supplier",
    drags=lambda given, place: (
        _steering_fluid("the circuit is opened"),
        Need("other", "Sealing washers of the steering hose", 2, "crushed once", COMMON_PRACTICE),
        Need("other", "Belt of the steering pump", 1, "it is off anyway", COMMON_PRACTICE, needed=False),
    ),
    modules=("steering lines",),
    dues=(Due("Steering pump: level, noise, belt", after_km=80),),
    used_share=0.3,
    ends=("F",),
)
FLUID = Family(
    "fluid",
    "oil or fluid",
    "oils and fluids",
    (
        Spec(
            "kind",
            "for",
            choices=dict(zip(FLUIDS, FLUIDS, strict=True)),
            words=FLUIDS,
            required=True,
        ),
        Spec("litres", "quantity", "litres", unit="L", words=("litres",)),
    ),
    words=("oil", "oils", "steering fluid"),
    heads={"steering fluid": "steering"},
    shapes=(r"(?P<litres>\d+(?:[.,]\d+)?)\s*(?:L|litres?)\b",),
    example="oil axle 1.5 L, 32, in stock, supplier",
    drags=lambda given, place: (
        Need("other", "Drain plug washer", 1, "crushed once", COMMON_PRACTICE),
        *(
            (Need("other", "Oil filter", 1, "with the oil, not after it", COMMON_PRACTICE),)
            if given.get("kind") == "engine"
            else ()
        ),
    ),
    asks=(
        Question(
            "grade",
            "Class read in the handbook, not on the shelf",
            ("as the handbook says", "not yet"),
            "a synchroniser or a limited slip wants its own",
        ),
    ),
    modules=("fluids",),
    dues=(Due("Levels and leaks of oils that were changed", after_days=1),),
    ends=("F",),
    adds=True,
)

HELD = (MOUNT, BEARING, STEERING_HOSE, STEERING_PUMP, FLUID)
