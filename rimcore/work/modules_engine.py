"""Modules of steps for intake, exhaust, cooling, shifter and the tuning day. Common practice throughout.

Longer than other files: it is one list of steps.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from rimcore.work.modules_base import JobPlan, on_stands
from rimcore.work.steps import (
    CAUTION_FLUID,
    CAUTION_JACK,
    CAUTION_PUBLIC,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
    work,
)

CAUTION_HOT = "Hot pipes burn and the engine starts its fan by itself: cold before a hand goes near."
CAUTION_GAS = f"Exhaust gas poisons: never run the engine in a closed place. {LOCAL}"
CAUTION_SCALD = (
    "Hot coolant scalds: never open a cap or a bleed screw under pressure. Coolant is poison: catch it, away from "
    "animals and drains."
)
CAUTION_LEAN = "A larger airflow meter housing runs the engine lean until it is calibrated: the original one stays until the tuning day."
CAUTION_WELD = f"Welds by somebody who can: battery off, fuel away, fire watch. {LOCAL}"
INTAKE = ("intake_pipe", "air_filter", "meter_housing", "charge_cooler", "coupler", "reducer", "clamp")
EXHAUST = ("manifold", "catalyst", "mid_pipe", "silencer", "tail_tip", "hanger")

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


@apart("intake")
def intake(job: JobPlan) -> list[StepPlan]:
    """Intake pipe, filter, housing: the old run out, the new one dry, clamps, leak check, trims that settle."""
    names = job.names(*INTAKE) or "The run"
    larger = bool(job.of("meter_housing"))
    return [
        work(
            "Before",
            "Engine cold; battery lead off; bore of the original housing measured",
            caution=CAUTION_HOT,
            tools=("caliper rule", "spanner"),
            opens="cold",
            share="intake cold",
        ),
        work(
            "Remove",
            "Old intake out; openings and bare ends covered at once",
            "A nut in the throttle is an engine. Plugs off by their latch, not the wire.",
            tools=("screwdrivers", "socket set"),
            gates=("cold", "witness"),
            salvage=("meter and its screws", "brackets and grommets"),
            consumables=("clean rags or tape for the openings",),
            share="intake out",
            opens="off",
        ),
        work(
            "Mock-up",
            "New intake laid in dry: bonnet shut on a lump of clay, engine rocked",
            "Nothing touches; the pick-up stays above deep water; the filter away from hot air; drain at the lowest "
            "place.",
            kind="trial",
            tools=("modelling clay", "torch"),
            gates=("off", "parts"),
            opens="mock-up",
            share="intake tried",
            does=("tried:intake",),
            helpers=1,
        ),
        work(
            "Fit",
            f"{names}: cut to the marks, couplers square, every clamp behind its bead",
            "T-bolt clamps where there is boost; a bracket for the longer pipe."
            + (" The original housing stays in until the tuning day." if larger else ""),
            caution=CAUTION_LEAN if larger else "",
            tools=("socket 7 mm or 11 mm", "torque screwdriver"),
            gates=("mock-up",),
            opens="fitted",
            consumables=("couplers", "T-bolt clamps"),
            share="intake in",
            does=("cut:intake",),
        ),
        work(
            "Check",
            "Battery on; leak check: smoke, or soap at every joint with light pressure; then at idle",
            "Air that gets in behind the meter is air nobody counts.",
            caution=CAUTION_GAS,
            tools=("leak tester or spray bottle",),
            gates=("fitted",),
            share="leaks",
        ),
        work(
            "Settle",
            "Idle and fuel trims noted, again after a few drives",
            "Within ±10 % and steady; then a pull against the one before.",
            kind="measure",
            caution=CAUTION_PUBLIC,
            tools=("engine-data reader",),
            reads=("at pulls",),
            share="trims",
        ),
    ]


@apart("exhaust")
def exhaust(job: JobPlan) -> list[StepPlan]:
    """Cat-back or whole: long pieces mated on the floor, all loose, aligned, tightened front to back."""
    return [
        *on_stands(),
        work(
            "Before",
            "Exhaust cold; threads soaked the evening before",
            caution=CAUTION_HOT,
            consumables=("penetrating oil",),
            opens="cold",
            share="exhaust cold",
        ),
        work(
            "Remove",
            "Sensors unplugged; old exhaust off, rear first, hangers last",
            "Rods of the hangers greased first. A stud that shears is a snag: drill, or a new stud.",
            caution=f"{CAUTION_JACK} {CAUTION_HOT}",
            tools=("socket set", "hanger pliers", "sensor socket"),
            gates=("support", "cold", "witness"),
            salvage=("hangers that are whole", "flange bolts", "sensors"),
            consumables=("grease or soap for the hangers",),
            helpers=1,
            share="exhaust off",
            opens="off",
            does=("under car",),
        ),
        work(
            "Mock-up",
            f"{job.names(*EXHAUST) or 'Pieces'}: mated on the floor and marked",
            "How far each goes in, and how it is turned: chalk across the joint. Cut and welded only after this.",
            kind="trial",
            caution=CAUTION_WELD if job.of("mid_pipe") else "",
            tools=("chalk", "rule"),
            gates=("parts",),
            opens="mock-up",
            share="exhaust mated",
            does=("tried:exhaust",),
        ),
        work(
            "Fit",
            "All exhaust pieces up and loose: top flange bolt first, then every hanger",
            "Two-person job; nothing tight yet. New gaskets.",
            tools=("socket set",),
            gates=("off", "mock-up"),
            opens="loose",
            helpers=1,
            consumables=("exhaust gaskets", "anti-seize paste"),
            share="exhaust up",
            does=("under car", "cut:exhaust"),
        ),
        work(
            "Fit",
            "Tips level, room all along, slip joints in by 1/8 in at the least",
            "Body, shaft, tank and lines; engine rocked both ways by hand.",
            tools=("rule", "feeler"),
            gates=("loose",),
            opens="aligned",
            helpers=1,
            share="tips level",
            does=("under car",),
        ),
        tightened(
            "Fit",
            "Exhaust flanges and clamps, front to back",
            "The engine's end first.",
            Joint("Exhaust flanges and clamps", None, source="the maker of the exhaust"),
            caution=CAUTION_JACK,
            tools=("torque wrench", "socket set"),
            gates=("aligned",),
            opens="fitted",
            share="exhaust tight",
            does=("under car",),
        ),
        work(
            "Fit",
            "Exhaust gaps read: to the body, to the shaft, to what heat harms; sensors plugged in",
            "With the engine rocked; they are stations of Measure.",
            kind="measure",
            tools=("rule",),
            gates=("fitted",),
            reads=("exhaust_body", "exhaust_shaft", "exhaust_heat"),
            share="exhaust gaps",
            does=("under car",),
        ),
        work(
            "Check",
            "Cold start: listen and feel for leaks of the exhaust while it is still cold",
            "Then again warm, by ear alone.",
            caution=f"{CAUTION_GAS} {CAUTION_HOT}",
            tools=("a length of hose as a stethoscope",),
            gates=("fitted",),
            share="exhaust leaks",
        ),
        work(
            "Settle",
            "Exhaust joints again, cold, after the first heat",
            "Joints settle hot and come loose cold.",
            caution=f"{CAUTION_HOT} {CAUTION_JACK}",
            tools=("torque wrench",),
            share="exhaust again",
        ),
        work(
            "Settle",
            "Sound at idle, cruise and wide open, same recorder and place as before",
            "Local limits decide.",
            kind="measure",
            caution=CAUTION_PUBLIC,
            tools=("recorder",),
            reads=("at sound",),
            share="sound",
        ),
    ]


@apart("radiator")
def radiator(job: JobPlan) -> list[StepPlan]:
    """Drain, catch, trial-fit, mounts that carry, fill, bleed by the judge, again when cold."""
    core = bool(job.of("radiator"))
    steps = [
        work(
            "Before",
            "Engine cold; coolant's cap off only when the hose is soft",
            caution=CAUTION_SCALD,
            tools=("gloves",),
            opens="cold",
            share="coolant cold",
            does=("filler loose:coolant",),
        ),
        work(
            "Remove",
            "Coolant drained into a tray and covered",
            "Note how much came out: as much goes in.",
            caution=CAUTION_SCALD,
            tools=("tray", "jug with marks"),
            gates=("cold",),
            opens="drained",
            salvage=("coolant, if it is young and clean",),
            share="coolant out",
            does=("drain:coolant",),
        ),
    ]
    if core or job.of("fan"):
        steps += [
            work(
                "Remove",
                "Coolant hoses off; fan with its shroud and the old radiator out",
                "Cut a stuck hose lengthwise; a neck that cracks is a snag.",
                tools=("hose pick", "socket set"),
                gates=("drained", "witness"),
                salvage=("rubbers and brackets", "fan and its plug"),
                share="radiator out",
                opens="off",
            ),
            work(
                "Mock-up",
                "New core laid in: supports straight, the right brackets meet, fan clears, bonnet shuts",
                "Bent supports show old jacking: straighten them before the core is bolted. Air-conditioning brackets, "
                "or none? Made mounts: card first, tacked, tried, then welded off the car; nothing carries on the "
                "tanks.",
                kind="trial",
                caution=CAUTION_WELD,
                tools=("straight-edge", "card"),
                gates=("off", "parts"),
                opens="mock-up",
                share="radiator tried",
                does=("tried:radiator",),
            ),
            work(
                "Fit",
                f"{job.names('radiator', 'fan')}: on its rubbers, fan and shroud on; nothing carries on the tanks",
                tools=("socket set",),
                gates=("mock-up",),
                opens="fitted",
                share="radiator in",
                does=("cut:radiator",),
            ),
        ]
    return [
        *steps,
        work(
            "Fit",
            f"{job.names('coolant_hose', 'thermostat', 'radiator_cap') or 'Coolant hoses'}: behind the beads, every "
            "clamp new; a thermostat with its pin up",
            "A cap of the pressure the system was made for.",
            tools=("socket set",),
            gates=("drained", "parts"),
            opens="fitted",
            consumables=("hose clamps", "thermostat gasket"),
            share="coolant hoses",
        ),
        work(
            "Fit",
            "Coolant filled slowly, heater on hot, nose of the car up",
            "Mixed for the coldest night; plain water freezes. Quantity recorded.",
            caution=CAUTION_FLUID,
            tools=("funnel",),
            gates=("fitted",),
            opens="filled",
            consumables=("coolant",),
            share="coolant in",
            does=("fill:coolant",),
        ),
        work(
            "Check",
            "Coolant bled: both hoses watched until the page says steady",
            "Top hose hot, lower cool: still shut. It opens, bubbles rise, the level drops; fan cycles twice; steady "
            "is done.",
            kind="measure",
            caution=f"{CAUTION_SCALD} {CAUTION_GAS}",
            tools=("two hose thermocouples", "funnel"),
            gates=("filled",),
            helpers=1,
            reads=("at cooling",),
            share="bleed",
            does=("bleed:coolant",),
        ),
        work(
            "Settle",
            "Cold next morning: coolant's level, every clamp, the tray dry",
            caution=CAUTION_SCALD,
            tools=("torch",),
            share="coolant cold again",
        ),
    ]


@apart("shifter")
def shifter(job: JobPlan) -> list[StepPlan]:
    """Shifter, bushes, cables: what is salvaged, bush bore against its pin, all gears before the trim goes back."""
    steps = [
        work(
            "Before",
            "Gearbox in neutral, hand brake on",
            caution=CAUTION_JACK,
            tools=("wheel chocks",),
            share="gearbox in neutral",
        ),
        work(
            "Before",
            "Throw at the knob read, first to second",
            "From the middle of one gear to the middle of the next.",
            kind="measure",
            tools=("rule",),
            reads=("throw",),
            share="throw before",
        ),
        work(
            "Remove",
            "Knob, gaiter and trim off; old lever out",
            "Circlip, cap and spring go to the new one: bag them at once.",
            tools=("circlip pliers", "trim tool"),
            gates=("witness",),
            salvage=("circlip", "cap", "spring", "trim clips"),
            opens="off",
            share="lever out",
        ),
    ]
    bushes = job.of("shifter_bush")
    if any(part.spec.get("make") == "machined" for part in bushes):
        steps.append(
            work(
                "Before",
                "Shifter bush measured and ordered from the machinist",
                "Bore and outside to 0.05 mm; his weeks are the job's.",
                tools=("caliper",),
                gates=("parts",),
                share="bush ordered",
            )
        )
    if bushes:
        steps.append(
            work(
                "Mock-up",
                "Shifter bush: its bore against the pin before it is pressed",
                "It turns without play. One that is tight before pressing seizes after.",
                kind="trial",
                tools=("caliper",),
                gates=("off", "parts"),
                share="bush tried",
                opens="mock-up",
            )
        )
    return [
        *steps,
        work(
            "Fit",
            f"{job.names('shifter', 'shifter_bush', 'shift_cable')}: lever in with fresh grease, circlip home, spring "
            "seated",
            tools=("circlip pliers",),
            gates=("off", "mock-up", "parts"),
            opens="fitted",
            consumables=("grease",),
            share="lever in",
        ),
        work(
            "Check",
            "Row through all gears, engine off, then running with the clutch down",
            "Reverse too. A gear that does not go home is a snag before the trim is back.",
            caution=CAUTION_GAS,
            gates=("fitted",),
            opens="gears",
            share="gears rowed",
        ),
        work(
            "Settle",
            "Throw at the knob again, first to second",
            kind="measure",
            tools=("rule",),
            gates=("gears",),
            reads=("throw",),
            share="throw after",
        ),
        work("Settle", "Shifter's trim and gaiter back", gates=("gears",), share="trim back"),
    ]


@apart("tuning")
def tuning(job: JobPlan) -> list[StepPlan]:
    """The tuning day: housing swapped there, meter calibrated, then the first drive."""
    return [
        work(
            "Fit",
            "At the tuner's: the original housing out, the larger one in",
            CAUTION_LEAN,
            tools=("socket set",),
            gates=("parts", "fitted intake"),
            share="housing",
            opens="fitted",
        ),
        work(
            "Check",
            "Meter calibrated; lambda at idle, cruise and full load noted",
            f"Before the first drive. {LOCAL}",
            kind="measure",
            caution=CAUTION_GAS,
            tools=("engine-data reader", "lambda probe"),
            gates=("fitted",),
            reads=("mixture",),
            share="calibrated",
            opens="tuned",
        ),
        work(
            "Settle",
            "Pulls after, as before: same gear, same air recorded",
            kind="measure",
            caution=CAUTION_PUBLIC,
            tools=("engine-data reader",),
            gates=("tuned",),
            reads=("at pulls",),
            share="pulls",
        ),
    ]
