"""Valves, pressure sensors, centre caps, and whatever has no family of its own."""

from __future__ import annotations

from rimcore.parts.common import judged
from rimcore.parts.declared import SET, Due, Family, Given, Place, Question, Spec, length
from rimcore.parts.hubware import MASS_CHANGE, PIECES
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured

#: what has to be off or up before a part by name can be reached: choice -> words
REACH = {
    "nothing": "nothing comes off for it",
    "wheels": "the wheels come off",
    "stands": "the car goes up on stands",
    "bumper": "the bumper comes off",
    "interior": "trim or a seat comes out",
    "battery": "the battery comes off",
}
#: valve holes of car wheels [mm], as they are sold (common practice)
HOLES = {"11.3": "11.3 mm", "8.3": "8.3 mm"}
BANDS = {"315": "315 MHz", "433": "433 MHz"}


def judge_valve(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A valve needs the wheel's hole; which one that is stands on no list and is measured on the wheel."""
    said = HOLES.get(given.get("hole", ""))
    return (
        _agree(
            "part.valve",
            "Valve in its hole",
            said,
            place.answers.get("hole"),
            ("the valve's hole is not said", "the wheel's own is not measured"),
            "wheel.valve",
            "measure the hole in the rim with a caliper",
        ),
    )


def judge_sensor(given: Given, place: Place) -> tuple[Judgement, ...]:
    """A sensor speaks on the band of the car's receiver; the old sensor says which."""
    said, answer = BANDS.get(given.get("band", "")), place.answers.get("band")
    return (
        _agree(
            "part.sensor",
            "Sensor and receiver",
            said,
            answer if answer in BANDS.values() else None,
            ("the sensor's band is not said", "the car's own band is not known"),
            "car.band",
            "read it on an old sensor, or in the car's handbook",
        ),
    )


def _agree(
    code: str, name: str, said: str | None, read: str | None, unknown: tuple[str, str], missing: str, remedy: str
) -> Judgement:
    """What the offer says against what was read on the car.

    ``unknown`` has the words for either where nobody said it.
    """
    if said is None or read is None:
        words = [f"it is for {said}"] if said is not None else [unknown[0]]
        return unmeasured(code, name, "; ".join([*words, *([unknown[1]] if read is None else [])]), [missing], [remedy])
    return judged(
        code,
        name,
        "clear" if said == read else "hit",
        f"both {read}" if said == read else f"for {said}, the car has {read}",
        "both are the same",
        inputs=(InputUsed("part", said, "offer"), InputUsed("car", read, "answered at the counter")),
        remedies=(f"one for {read}",),
    )


VALVE = Family(
    "valve",
    "valve",
    "valves",
    (
        Spec(
            "style",
            "style",
            choices={"rubber": "snap-in rubber", "metal": "clamped metal"},
            words=("rubber", "snap-in", "metal", "clamped"),
        ),
        Spec("hole", "hole", choices=HOLES, words=("hole",)),
        Spec("length_mm", "length", "bolt_mm", kind="length", unit="mm", words=("long", "length")),
        PIECES,
    ),
    words=("valve", "valves"),
    shapes=(SET, r"hole\s*(?P<hole>11\.3|8\.3)(?:\s*mm)?"),
    trade=True,
    on_wheels=True,
    example="valves rubber hole 11.3, set of 4, 6, in stock, supplier",
    judge=judge_valve,
    asks=(Question("hole", "Hole of the rim, measured", ("11.3 mm", "8.3 mm"), "the other hole takes another valve"),),
    modules=("valves",),
    per_end=lambda lugs: 2,
)
SENSOR = Family(
    "sensor",
    "pressure sensor",
    "pressure sensors",
    (
        Spec("band", "band", choices=BANDS, words=("band",)),
        Spec(
            "style",
            "stem",
            choices={"rubber": "snap-in rubber", "metal": "clamped metal"},
            words=("rubber", "snap-in", "metal", "clamped"),
        ),
        PIECES,
        Spec("mass_change_kg", "weight against what it replaces", "mass_change_kg", kind="mass", unit="kg"),
    ),
    words=("pressure sensor", "pressure sensors", "sensor", "sensors"),
    shapes=(SET, r"(?P<band>315|433)(?:[.,]\d+)?\s*MHz"),
    on_wheels=True,
    example="sensors 433 MHz metal, set of 4, 118, 4 days, supplier",
    judge=judge_sensor,
    asks=(
        Question(
            "band", "Band read on the old sensor", ("315 MHz", "433 MHz", "not read"), "the other band is never heard"
        ),
    ),
    modules=("valves",),
    dues=(Due("Pressure sensors: does the lamp stay out", after_km=20),),
    used_share=0.3,
    per_end=lambda lugs: 2,
)
CAP = Family(
    "cap",
    "centre cap",
    "centre caps",
    (
        Spec("clip_mm", "clip diameter", "ring_mm", kind="length", unit="mm", words=("clip", "diameter")),
        PIECES,
        MASS_CHANGE,
    ),
    words=("centre cap", "centre caps", "center cap", "center caps", "cap", "caps"),
    shapes=(SET, length("clip_mm", "needed")),
    trade=True,
    on_wheels=True,
    example="caps 60 mm, set of 4, 24, 2 weeks, supplier",
    judge=lambda given, place: (
        unmeasured(
            "part.cap",
            "Cap in the wheel",
            "the recess in the wheel's face is not measured",
            ["wheel.cap"],
            ["measure the recess with a caliper"],
        ),
    ),
    per_end=lambda lugs: 2,
)
OTHER = Family(
    "other",
    "other part",
    "other parts",
    (
        MASS_CHANGE,
        Spec("hours", "hours to fit", "hours", kind="", unit="h", words=("hours",)),
        Spec("reach", "what comes off for it", choices=REACH, help="the sheet takes its steps from that"),
    ),
    words=("other", "part"),
    shapes=(r"(?P<hours>\d+(?:[.,]\d+)?)\s*(?:h|hours?)\b",),
    example="other lowering springs front, −0.4 kg, 118, 9 days, 3 h, supplier",
    asks=(
        Question(
            "reach",
            "What has to come off for it",
            tuple(REACH.values()),
            "the sheet takes its steps from that",
            at_the_car=True,
        ),
    ),
    modules=("other",),
    used_share=None,
)
