"""Modules of steps for intake, exhaust, radiator, shifter and the tuning day. Common practice throughout."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from rimcore.work.modules_base import JobPlan
from rimcore.work.steps import (
    CAUTION_FLUID,
    CAUTION_JACK,
    CAUTION_PUBLIC,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
)

CAUTION_HOT = "Hot pipes burn and the engine starts its fan by itself: cold before a hand goes near."
CAUTION_GAS = f"Exhaust gas poisons: never run the engine in a closed place. {LOCAL}"
CAUTION_SCALD = "Hot coolant scalds: never open a cap or a bleed screw under pressure. Coolant is poison: catch it, away from animals and drains."
CAUTION_LEAN = (
    "A larger meter housing runs the engine lean until it is calibrated: the original one stays until the tuning day."
)


#: gates that each of these jobs has for itself: a radiator does not wait for the exhaust
OWN_GATES = ("cold", "off", "mock-up", "fitted")
Module = Callable[[JobPlan], list[StepPlan]]


def apart(name: str) -> Callable[[Module], Module]:
    """A module whose gates are its own, so that several on one sheet do not wait for each other."""

    def own(gate: str) -> str:
        return f"{gate} {name}" if gate in OWN_GATES else gate

    def wrapped(module: Module) -> Module:
        def steps(job: JobPlan) -> list[StepPlan]:
            return [replace(step, gates=tuple(map(own, step.gates)), opens=own(step.opens)) for step in module(job)]

        steps.__doc__ = module.__doc__
        return steps

    return wrapped


def engine_before() -> list[StepPlan]:
    """What a job begins with that takes no wheel off."""
    return [
        StepPlan(
            "Before",
            "parts",
            "Lay out every part and compare it with the order",
            "Bores, ends and sides; a wrong part is a snag, not a surprise.",
            opens="parts",
        ),
        StepPlan(
            "Before",
            "photo",
            "Photograph the old run, every clamp and hanger",
            "And where each cable and hose lies.",
            opens="witness",
        ),
    ]


def engine_settle() -> list[StepPlan]:
    """What it ends with."""
    return [
        StepPlan("Settle", "do", "Count what was bagged back: no nut, clip or clamp is left over", share="count back"),
        StepPlan("Settle", "do", "Note the odometer: joints come due after 20 and 80 km", "Common practice."),
    ]


def up(job: JobPlan) -> list[StepPlan]:
    """Under the car without a wheel off: once, whatever needs it."""
    return [
        StepPlan(
            "Before",
            "do",
            "Firm level ground, hand brake on, in gear, wheels chocked",
            "",
            CAUTION_JACK,
            ("wheel chocks",),
            share="chocks",
        ),
        StepPlan(
            "Remove",
            "do",
            "Jack at the maker's point, set the stands, shake the car",
            "It must not move on the stands.",
            CAUTION_JACK,
            ("trolley jack", "two stands"),
            share="stands",
            opens="support",
        ),
    ]


@apart("intake")
def intake(job: JobPlan) -> list[StepPlan]:
    """Intake pipe, filter, housing: the old run out, the new one dry, clamps, leak check, trims that settle."""
    names = (
        ", ".join(
            part.name
            for part in job.of("intake_pipe", "air_filter", "meter_housing", "charge_cooler", "coupler", "reducer")
        )
        or "The run"
    )
    larger = bool(job.of("meter_housing"))
    return [
        StepPlan(
            "Before",
            "do",
            "Engine cold; battery lead off; bore of the original housing measured",
            "",
            CAUTION_HOT,
            ("caliper rule", "spanner"),
            opens="cold",
        ),
        StepPlan(
            "Remove",
            "do",
            "Old run out; openings covered at once",
            "A nut in the throttle is an engine. Plugs off by their latch, not the wire.",
            "",
            ("screwdrivers", "socket set"),
            gates=("cold", "witness"),
            salvage=("meter and its screws", "brackets and grommets"),
            consumables=("clean rags or tape for the openings",),
            share="intake out",
            opens="off",
        ),
        StepPlan(
            "Mock-up",
            "trial",
            "New run laid in dry: bonnet shut on a lump of clay, engine rocked",
            "Nothing touches; the pick-up stays above deep water; the filter away from hot air.",
            "",
            ("modelling clay", "torch"),
            gates=("off", "parts"),
            opens="mock-up",
            helpers=1,
        ),
        StepPlan(
            "Fit",
            "do",
            f"{names}: couplers square, every clamp behind its bead",
            "T-bolt clamps where there is boost; a bracket for the longer pipe.",
            "" if not larger else CAUTION_LEAN,
            ("socket 7 mm or 11 mm", "torque screwdriver"),
            gates=("mock-up",),
            opens="fitted",
            consumables=("couplers", "T-bolt clamps"),
        ),
        StepPlan(
            "Check",
            "do",
            "Leak check: smoke, or soap at every joint with light pressure; then at idle",
            "Air that gets in behind the meter is air nobody counts.",
            CAUTION_GAS,
            ("leak tester or spray bottle",),
            gates=("fitted",),
            share="leaks",
        ),
        StepPlan(
            "Settle",
            "measure",
            "Idle and fuel trims noted, again after a few drives",
            "Within ±10 % and steady; then a pull against the one before.",
            CAUTION_PUBLIC,
            ("engine-data reader",),
            share="trims",
        ),
    ]


@apart("exhaust")
def exhaust(job: JobPlan) -> list[StepPlan]:
    """Cat-back or whole: long pieces mated on the floor, all loose, aligned, tightened front to back."""
    return [
        *up(job),
        StepPlan(
            "Before",
            "do",
            "Exhaust cold; threads soaked the evening before",
            "",
            CAUTION_HOT,
            consumables=("penetrating oil",),
            opens="cold",
        ),
        StepPlan(
            "Remove",
            "do",
            "Old run off, rear first, hangers last",
            "A stud that shears is a snag: drill, or a new stud.",
            f"{CAUTION_JACK} {CAUTION_HOT}",
            ("socket set", "hanger pliers"),
            gates=("support", "cold", "witness"),
            salvage=("hangers that are whole", "flange bolts"),
            helpers=1,
            share="exhaust off",
            opens="off",
        ),
        StepPlan(
            "Mock-up",
            "trial",
            "Long mid and over-axle pieces mated on the floor and marked",
            "How far each goes in, and how it is turned: chalk across the joint.",
            "",
            ("chalk", "rule"),
            gates=("parts",),
            opens="mock-up",
        ),
        StepPlan(
            "Fit",
            "do",
            "Everything up and loose: top flange bolt first, then every hanger",
            "A second pair of hands; nothing tight yet.",
            "",
            ("socket set",),
            gates=("off", "mock-up"),
            opens="loose",
            helpers=1,
            consumables=("gaskets", "anti-seize"),
        ),
        StepPlan(
            "Fit",
            "do",
            "Tips aligned, room all along, slip joints in by 1/8 in at the least",
            "Body, shaft, tank and lines; engine rocked both ways by hand.",
            "",
            ("rule", "feeler"),
            gates=("loose",),
            opens="aligned",
            helpers=1,
        ),
        tightened(
            "Tighten",
            "Flanges and clamps, front to back",
            "The engine's end first.",
            Joint("Exhaust flanges and clamps", None, source="the maker of the exhaust"),
            tools=("torque wrench", "socket set"),
            gates=("aligned",),
            opens="fitted",
        ),
        StepPlan(
            "Check",
            "measure",
            "Gaps read: to the body, to the shaft, to what heat harms",
            "With the engine rocked; they are stations of Measure.",
            "",
            ("rule",),
            gates=("fitted",),
            share="exhaust gaps",
        ),
        StepPlan(
            "Check",
            "do",
            "Cold start: listen and feel for leaks while it is still cold",
            "Then again warm, by ear alone.",
            f"{CAUTION_GAS} {CAUTION_HOT}",
            ("a length of hose as a stethoscope",),
            gates=("fitted",),
        ),
        StepPlan(
            "Settle",
            "do",
            "Re-torque cold after the first heat",
            "Joints settle hot and come loose cold.",
            CAUTION_HOT,
            ("torque wrench",),
        ),
        StepPlan(
            "Settle",
            "measure",
            "Sound at idle, cruise and wide open, same recorder and place as before",
            "Local limits decide.",
            CAUTION_PUBLIC,
            ("recorder",),
            share="sound",
        ),
    ]


@apart("radiator")
def radiator(job: JobPlan) -> list[StepPlan]:
    """Drain, catch, trial-fit, fill, bleed by the judge, frost."""
    return [
        StepPlan(
            "Before",
            "do",
            "Engine cold; cap off only when the hose is soft",
            "",
            CAUTION_SCALD,
            ("gloves",),
            opens="cold",
        ),
        StepPlan(
            "Remove",
            "do",
            "Coolant drained into a tray and covered",
            "Note how much came out: as much goes in.",
            CAUTION_SCALD,
            ("tray", "jug with marks"),
            gates=("cold",),
            opens="drained",
            salvage=("coolant, if it is young and clean",),
            share="coolant out",
        ),
        StepPlan(
            "Remove",
            "do",
            "Hoses, fan and old radiator out",
            "Cut a stuck hose lengthwise; a neck that cracks is a snag.",
            "",
            ("hose pick", "socket set"),
            gates=("drained", "witness"),
            salvage=("rubbers and brackets", "fan and its plug"),
            share="radiator out",
            opens="off",
        ),
        StepPlan(
            "Mock-up",
            "trial",
            "New core laid in: supports straight, brackets meet, fan clears",
            "Bent supports show old jacking: straighten them before the core is bolted. Air-conditioning brackets, or none?",
            "",
            ("straight-edge",),
            gates=("off", "parts"),
            opens="mock-up",
        ),
        StepPlan(
            "Fit",
            "do",
            "Core on its rubbers, hoses behind their beads, thermostat with its pin up",
            "",
            "",
            ("socket set",),
            gates=("mock-up",),
            opens="fitted",
            consumables=("hose clamps", "thermostat gasket"),
        ),
        StepPlan(
            "Fit",
            "do",
            "Fill slowly, heater on hot, nose of the car up",
            "Mixed for the coldest night; plain water freezes.",
            CAUTION_FLUID,
            ("funnel",),
            gates=("fitted",),
            opens="filled",
            consumables=("coolant",),
        ),
        StepPlan(
            "Check",
            "measure",
            "Bleed: both hoses watched until the judge says steady",
            "Top hose hot, lower cool: still shut. It opens, bubbles rise, the level drops; fan cycles; steady is done.",
            f"{CAUTION_SCALD} {CAUTION_GAS}",
            ("two hose thermocouples", "funnel"),
            gates=("filled",),
            helpers=1,
            share="bleed",
        ),
        StepPlan("Settle", "do", "Cold next morning: level, every clamp, the tray dry", "", "", ("torch",)),
    ]


@apart("shifter")
def shifter(job: JobPlan) -> list[StepPlan]:
    """Shifter, bushes, cables: what is salvaged, all gears before the trim goes back."""
    steps = [
        StepPlan(
            "Before",
            "do",
            "Hand brake on, wheels chocked, gearbox in neutral",
            "",
            CAUTION_JACK,
            ("wheel chocks",),
            share="chocks",
        ),
        StepPlan(
            "Remove",
            "do",
            "Knob, gaiter and trim off; old lever out",
            "Circlip, cap and spring go to the new one: bag them at once.",
            "",
            ("circlip pliers", "trim tool"),
            gates=("witness",),
            salvage=("circlip", "cap", "spring", "trim clips"),
            opens="off",
        ),
    ]
    if any(part.spec.get("make") == "machined" for part in job.of("shifter_bush")):
        steps.append(
            StepPlan(
                "Before",
                "do",
                "Bush measured and ordered from the machinist",
                "Bore and outside to 0.05 mm; his weeks are the job's.",
                "",
                ("caliper",),
                gates=("parts",),
            )
        )
    return [
        *steps,
        StepPlan(
            "Fit",
            "do",
            "Lever in with fresh grease, circlip home, spring seated",
            "",
            "",
            ("circlip pliers",),
            gates=("off", "parts"),
            opens="fitted",
            consumables=("grease",),
        ),
        StepPlan(
            "Check",
            "do",
            "Row through all gears, engine off, then running with the clutch down",
            "Reverse too. A gear that does not go home is a snag before the trim is back.",
            CAUTION_GAS,
            gates=("fitted",),
            opens="gears",
        ),
        StepPlan("Settle", "do", "Trim and gaiter back", "", gates=("gears",), consumables=("trim clips",)),
    ]


@apart("tuning")
def tuning(job: JobPlan) -> list[StepPlan]:
    """The tuning day: housing swapped there, meter calibrated, then the first drive."""
    return [
        StepPlan(
            "Fit",
            "do",
            "At the tuner's: the original housing out, the larger one in",
            CAUTION_LEAN,
            "",
            ("socket set",),
            gates=("parts",),
            share="housing",
            opens="fitted",
        ),
        StepPlan(
            "Check",
            "measure",
            "Meter calibrated; lambda at idle, cruise and full load noted",
            f"Before the first drive. {LOCAL}",
            CAUTION_GAS,
            ("engine-data reader", "lambda probe"),
            gates=("fitted",),
            share="calibrated",
            opens="tuned",
        ),
        StepPlan(
            "Settle",
            "measure",
            "Pulls after, as before: same gear, same air written down",
            "",
            CAUTION_PUBLIC,
            ("engine-data reader",),
            gates=("tuned",),
            share="pulls",
        ),
    ]
