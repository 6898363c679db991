"""What is open of the build in hand: each thing that is missing, what it would unlock, and where it is entered."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from django.urls import reverse

from garage.file import CarFile
from garage.inhand import everything_in_hand
from rimcore.families import CHASSIS
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.stations import STATIONS


@dataclass(frozen=True)
class Missing:
    """Something nobody has read or entered: its name, where at the car, its page, and how many results wait for it."""

    name: str
    where: str
    url: str
    count: int


@dataclass(frozen=True)
class Group:
    """What is missing for one kind of result; the group for which most waits comes first."""

    name: str
    rows: tuple[Missing, ...]

    @property
    def waits(self) -> int:
        return sum(row.count for row in self.rows)


#: first word of a judgement's code -> what it is of, and the page on which it is shown
GROUPS = {
    "gap": "Gaps in the wheel well",
    "hub": "Hub, studs and seats",
    "load": "Loads",
    "tyre": "Wheel and tyre",
    "wheel": "Wheel and tyre",
    "ride": "Ride and springs",
    "steer": "Steering",
    "geometry": "Geometry",
    "align": "Alignment",
    "weights": "Corner weights",
    "square": "Subframe",
    "frame": "Subframe",
    "gearing": "Gearing",
    "braking": "Brakes",
    "breathing": "Intake and exhaust",
    "sound": "Sound",
    "cooling": "Cooling",
    "air": "Aero",
    "mass": "Weight",
    "part": "Parts",
    "speed": "Speed",
    "lift": "Lift",
}
#: what is no station: first word of its name -> in words, and the page where it is entered
ENTERED = {
    "hub": ("hub", "car"),
    "wheel": ("wheel, as its maker says or as measured on it", "choose"),
    "car": ("the car's data", "car"),
    "bump": ("bump travel to the stop", "measure"),
    "exhaust": ("exhaust gap", "breathing"),
    "cap": ("pressure of the radiator cap", "cooling"),
    "glycol": ("glycol in the coolant", "cooling"),
    "sound": ("sound limit or a sound reading", "sound"),
    "air": ("lip, tail and belly", "air"),
    "bleed": ("a bleed run", "cooling"),
    "mass": ("weight, on a scale", "mass"),
    "engine": ("the engine", "breathing"),
    "run": ("the layout", "breathing"),
    "the": ("the car's data", "car"),
    "steering": ("steering axis", "measure"),
    "stick-out": ("stick-out of both rods", "steering"),
    "ratios": ("gear ratios", "gearing"),
    "repeats": ("repeated readings", "rules"),
    "bolt": ("how much longer the bolt gets", "fit"),
}


def open_groups(file: CarFile) -> list[Group]:
    """Everything missing, grouped by what it unlocks, most first."""
    counted: dict[str, Counter[str]] = {}
    for judgement in everything_in_hand(file):
        for name in judgement.missing:
            counted.setdefault(_group(judgement), Counter())[name] += 1
    groups = [Group(name, _rows(file, names)) for name, names in counted.items()]
    return sorted(groups, key=lambda one: -one.waits)


def _group(judgement: Judgement) -> str:
    return GROUPS.get(judgement.code.partition(".")[0], "Other results")


def _rows(file: CarFile, names: Counter[str]) -> tuple[Missing, ...]:
    found: dict[tuple[str, str], Missing] = {}
    for name, count in names.items():
        one = _missing(file, name, count)
        same = found.get((one.name, one.where))
        found[one.name, one.where] = Missing(one.name, one.where, one.url, count + (same.count if same else 0))
    return tuple(sorted(found.values(), key=lambda row: -row.count))


def _missing(file: CarFile, name: str, count: int) -> Missing:
    corner, _, code = name.partition(".")
    if corner in CORNERS and code in STATIONS:
        return Missing(
            STATIONS[code].name, CORNER_NAMES[corner], reverse("station", args=[file.car.pk, corner, code]), count
        )
    if name in STATIONS:
        place = "car" if STATIONS[name].whole_car else "FL"
        return Missing(STATIONS[name].name, "", reverse("station", args=[file.car.pk, place, name]), count)
    if name in _OTHER or _where(file, name):
        return Missing(_OTHER.get(name, name), "", _where(file, name) or reverse("car", args=[file.car.pk]), count)
    words = name.replace("_mm", "").replace("_kg", "").replace("_", " ").replace(".", " ")
    said, page = ENTERED.get(words.split(" ")[0], (words, "car"))
    plain = words if " " in words and page == "car" else said
    return Missing(plain, "", reverse(page, args=[file.car.pk]), count)


def _where(file: CarFile, name: str) -> str:
    """Where something that is no station is read or written down; blank where only the maker knows."""
    pages = {
        "springs": ("weights", []),
        "preload": ("weights", []),
        "motion ratio": ("weights", []),
        "hard points": ("points", ["FL"]),
        "rack travel": ("steering", []),
        "rack centred": ("steering", []),
        "marks": ("square", []),
        "the same dip": ("ride", []),
        "pads": ("weights", []),
    }
    if name.startswith("part.") and name.removeprefix("part.") in CHASSIS:
        return reverse("stands", args=[file.car.pk])
    address, rest = pages.get(name, ("", []))
    return reverse(address, args=[file.car.pk, *rest]) if address else ""


_OTHER = {
    **{f"part.{key}": f"the {family.name} that stands there" for key, family in CHASSIS.items()},
    "springs": "the springs that stand there",
    "preload": "how much the old spring is wound up at full droop",
    "motion ratio": "spring movement ÷ wheel movement",
    "hard points": "hard points of the links",
    "wheel.load": "load rating of the wheel",
    "tyre.load": "load index of the tyre",
    "wheel.seat": "nut seat of the wheel",
    "hub.seat": "seat of the nuts",
    "wheel.bore": "centre bore of the wheel",
    "hub.bore": "hub spigot",
    "wheel.pad": "pad thickness of the wheel",
    "hub.stud": "stud or bolt length",
    "hub.thread": "thread",
    "wheel.pattern": "bolt circle of the wheel",
    "hub.pattern": "bolt circle of the hub",
    "car.axle_load": "axle load",
    "car.drive": "which wheels are driven",
    "wheel.caliper_barrel": "barrel of the wheel over the caliper",
    "wheel.caliper_spoke": "spoke back of the wheel",
    "wheel.joint": "barrel of the wheel over the joint",
}
