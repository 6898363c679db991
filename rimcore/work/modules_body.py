"""Modules of steps for panels, splitters, a strip session, batteries, seats and ballast. Common practice throughout.

Longer than other files: it is one list of steps.
"""

from __future__ import annotations

from rimcore.work.modules_base import JobPlan, on_stands
from rimcore.work.modules_engine import apart
from rimcore.work.modules_parts import bumper_off, bumper_on
from rimcore.work.steps import CAUTION_PUBLIC, LOCAL, Joint, StepPlan, tightened, work

CAUTION_EDGE = (
    "Cut sheet has edges like knives: gloves, eyes covered, edges rounded; nothing sharp stands out of the body."
)
CAUTION_BAG = (
    "Airbags, pretensioners and occupancy circuits can fire: battery off and waited for, no meter on their plugs, a "
    f"qualified person. {LOCAL}"
)
CAUTION_BATTERY = "Minus off first and on last. A spanner across the poles burns; acid and its gas do too."
CAUTION_HEAVY = "A weight that comes loose in a crash kills: bolts through the floor with a plate, never straps alone."
CAUTION_AERO = f"A panel that comes off hits somebody: a second way to hold it. {LOCAL}"
PANELS = ("panel", "insert")
OUTSIDE = ("strake", "vent", "wing")


@apart("panel")
def panel(job: JobPlan) -> list[StepPlan]:
    """Belly panel and its like: card, transfer, cut, existing holes first, away from the silencer."""
    names = job.names(*PANELS) or "Panel"
    return [
        *on_stands(),
        work(
            "Before",
            "What the panel passes is cold and looked at",
            "Hot pipes, drain plugs, jacking points: each a keep-out on the drawing.",
            tools=("torch",),
            opens="cold",
            share="panel cold",
        ),
        work(
            "Mock-up",
            "Card cut and taped up; holes of the body pricked through",
            "Half-width and height at each station go into the air bench.",
            tools=("card", "knife", "tape measure"),
            gates=("support", "cold"),
            consumables=("card",),
            helpers=1,
            opens="card",
            share="card up",
            does=("under car",),
        ),
        work(
            "Mock-up",
            "Steering at both locks, suspension jacked: nothing meets the card",
            kind="trial",
            tools=("trolley jack",),
            gates=("card",),
            opens="mock-up",
            share="card tried",
            does=("under car", "tried:panel"),
        ),
        work(
            "Fit",
            f"{names}: transferred to the sheet and cut; edges rounded",
            "The 1:1 tiles with their bar, or the card itself.",
            caution=CAUTION_EDGE,
            tools=("jigsaw or knife", "file"),
            gates=("mock-up", "parts"),
            consumables=("sheet",),
            opens="cut",
            share="panel cut",
            does=("cut:panel",),
        ),
        work(
            "Fit",
            "Panel bolted through existing holes first, with slack; then the rest drilled, wide washers on both sides",
            "Drain and jacking points stay free or get a hatch.",
            caution=CAUTION_AERO,
            tools=("drill", "socket set"),
            gates=("cut",),
            consumables=("lock nuts", "wide washers"),
            opens="fitted",
            helpers=1,
            share="panel on",
            does=("under car",),
        ),
        work(
            "Fit",
            "Gap from the panel to what is hot read all along",
            "Plastic melts or burns there; what is tight gets cut back or a shield.",
            kind="measure",
            tools=("rule",),
            gates=("fitted",),
            reads=("panel_heat",),
            share="panel heat",
            does=("under car",),
        ),
        work(
            "Settle",
            "After the first warm drive: no smell, no flutter, every fastener of the panel",
            caution=CAUTION_PUBLIC,
            tools=("torch",),
            share="panel again",
        ),
    ]


@apart("outside")
def outside(job: JobPlan) -> list[StepPlan]:
    """Wing, vents and strakes: held in place, looked at from afar, drilled once, plates behind thin skin."""
    names = job.names(*OUTSIDE) or "What goes on"
    return [
        work(
            "Mock-up",
            f"{names}: held with tape, level and square to the centre line; looked at from afar",
            "What lies behind: lamps, wires, the lid's frame, the torsion bars. A lid that opens still opens.",
            kind="trial",
            tools=("tape", "level", "tape measure"),
            gates=("parts", "witness"),
            opens="mock-up",
            share="outside tried",
            does=("tried:outside",),
            helpers=1,
        ),
        work(
            "Fit",
            "Holes drilled once, small first, edges painted; plates behind thin skin",
            "A wing's feet stand on structure, not on the lid's skin alone.",
            caution=CAUTION_EDGE,
            tools=("drill", "file"),
            gates=("mock-up",),
            opens="drilled",
            consumables=("touch-up paint",),
            share="outside drilled",
            does=("cut:outside",),
        ),
        work(
            "Fit",
            "Bolted with wide washers and lock nuts, sealed; pulled by hand every way",
            caution=CAUTION_AERO,
            tools=("socket set",),
            gates=("drilled",),
            opens="fitted",
            consumables=("wide washers", "lock nuts", "sealant"),
            share="outside on",
        ),
        work(
            "Settle",
            "After the first drive: nothing moved, nothing flutters, no water inside",
            caution=CAUTION_PUBLIC,
            tools=("torch",),
            share="outside again",
        ),
    ]


@apart("splitter")
def splitter(job: JobPlan) -> list[StepPlan]:
    """Splitter: bumper off or its screws, existing holes first, pulled to the line, brackets to the chassis."""
    names = job.names("splitter", "splitter_adjuster") or "Splitter"
    return [
        *on_stands(),
        work(
            "Before",
            "Lip height and how far it stands ahead of the axle, as it will be",
            "Drive, kerb and trailer are checked against it on the air bench first.",
            kind="measure",
            tools=("rule", "straight-edge"),
            opens="ramp",
            reads=("lip_height",),
            share="lip before",
        ),
        bumper_off(),
        work(
            "Mock-up",
            f"{names}: located by the bumper's existing holes, pulled forward within their slack",
            "Level left and right from the floor; the cooler's opening stays free.",
            kind="trial",
            tools=("socket set", "level"),
            gates=("support", "parts", "ramp", "off bumper"),
            helpers=1,
            opens="mock-up",
            share="splitter tried",
            does=("under car", "tried:splitter"),
        ),
        work(
            "Fit",
            "Those holes tightened; the rest drilled through both, 5/16 in or 8 mm",
            "Stop before what lies behind: look first.",
            caution=CAUTION_EDGE,
            tools=("drill", "5/16 in bit"),
            gates=("mock-up",),
            opens="drilled",
            share="splitter drilled",
            does=("under car", "cut:splitter"),
        ),
        work(
            "Fit",
            "Washers on both sides, lock nuts; threaded inserts by hand only",
            "A machine strips thin sheet.",
            tools=("socket set", "hand insert tool"),
            gates=("drilled",),
            consumables=("wide washers", "lock nuts"),
            opens="bolted splitter",
            share="splitter bolted",
            does=("under car",),
        ),
        work(
            "Fit",
            "Brackets, rods and tethers of the splitter to the chassis, not the skin",
            "Stood on with one foot: it carries its load, and a tether holds it if a rod goes.",
            caution=CAUTION_AERO,
            tools=("socket set",),
            gates=("bolted splitter",),
            consumables=("tether",),
            opens="fitted",
            share="splitter tethers",
            does=("under car",),
        ),
        bumper_on(),
        work(
            "Check",
            "Cooler's opening free; wheels at full lock and bump clear of the splitter; jacking points reached; edges round",
            caution=CAUTION_EDGE,
            tools=("torch", "file"),
            gates=("fitted",),
            share="splitter looked at",
        ),
        work(
            "Settle",
            "Lip height read again, car on its tyres",
            kind="measure",
            tools=("rule",),
            reads=("lip_height",),
            share="lip after",
        ),
        work(
            "Settle",
            "Slowly over the worst slope of the list, a helper at the lip",
            caution=CAUTION_PUBLIC,
            helpers=1,
            share="worst slope",
        ),
    ]


@apart("strip")
def strip(job: JobPlan) -> list[StepPlan]:
    """A strip session: one bag and one label an item, each weighed with its box; panels back in.

    The car on the scale again.
    """
    named = job.out or (("", "what the weight bench plans"),)
    return [
        StepPlan(
            "Before",
            "do",
            "Battery off, minus first; wait as long as the car's book says before unplugging a seat",
            "",
            f"{CAUTION_BAG} {CAUTION_BATTERY}",
            ("spanner",),
            opens="cold",
        ),
        StepPlan(
            "Before",
            "do",
            "Bags, labels and the scale laid out; the scale zeroed with the empty box",
            "What folds or moves is heavy, foam is not.",
            "",
            ("bench scale", "label pen"),
            consumables=("bags and labels",),
            opens="bags",
        ),
        *(
            StepPlan(
                "Remove",
                "do",
                f"Out: {name}" + (f", label {label}" if label else ""),
                "Weighed with its box at once; clips and screws in its bag; minutes noted.",
                CAUTION_BAG,
                ("trim tool", "socket set"),
                gates=("cold", "bags"),
            )
            for label, name in named
        ),
        StepPlan(
            "Fit",
            "do",
            "Trim and what else goes back, weighed too",
            "A net figure without them flatters.",
            "",
            ("trim tool",),
            opens="fitted",
        ),
        StepPlan(
            "Check",
            "do",
            "Battery on: warning lamps as before, nothing loose, no sharp edge",
            "An airbag lamp that stays on is a snag for a qualified person.",
            CAUTION_BAG,
            ("spanner",),
            gates=("fitted",),
        ),
        StepPlan(
            "Settle",
            "measure",
            "The whole car on the same scale, the same fuel, nobody aboard",
            "The ledger is checked against it.",
            "",
            (),
            reads=("car_mass",),
        ),
    ]


@apart("battery")
def battery(job: JobPlan) -> list[StepPlan]:
    """Another battery: minus first, clamped, its poles covered."""
    return [
        StepPlan(
            "Before",
            "do",
            "Codes and settings noted; minus off, then plus",
            "",
            CAUTION_BATTERY,
            ("spanner 10 mm",),
            opens="cold",
        ),
        StepPlan(
            "Remove",
            "do",
            "Old battery out, weighed, kept upright",
            "It goes back to the dealer or is kept on charge.",
            CAUTION_BATTERY,
            ("socket set",),
            gates=("cold",),
            salvage=("clamp and its bolt",),
            opens="off",
        ),
        StepPlan(
            "Fit",
            "do",
            "New one clamped so that it does not move by hand; plus on, cover, then minus",
            "In the cabin: sealed, or vented outside.",
            CAUTION_BATTERY,
            ("socket set",),
            gates=("off", "parts"),
            opens="fitted",
        ),
        StepPlan(
            "Check",
            "measure",
            "Resting and charging voltage; it starts cold in the morning",
            "",
            "",
            ("multimeter",),
            gates=("fitted",),
            reads=("battery_voltage",),
        ),
    ]


@apart("seats")
def seats(job: JobPlan) -> list[StepPlan]:
    """Seats: battery off and waited for, occupancy and belts by a qualified person, bolts to their figure."""
    return [
        StepPlan(
            "Before",
            "do",
            "Battery off, minus first; wait as long as the car's book says",
            "",
            f"{CAUTION_BAG} {CAUTION_BATTERY}",
            ("spanner",),
            opens="cold",
        ),
        StepPlan(
            "Remove",
            "do",
            "Old seat out with its belt buckle looked at; plugs parted last, never measured",
            "",
            CAUTION_BAG,
            ("socket set",),
            gates=("cold", "witness"),
            salvage=("seat bolts where they may be used again", "plugs taped off"),
            helpers=1,
            opens="off",
        ),
        StepPlan(
            "Mock-up",
            "trial",
            "New seat and brackets laid in: pedals, wheel, belt lie as they should",
            "Helmet room where the class asks for it.",
            "",
            (),
            gates=("off", "parts"),
            opens="mock-up",
        ),
        tightened(
            "Tighten",
            "Seat bolts to the floor's own points",
            "Class 8.8 or better; one-use where the maker says so.",
            Joint("Seat bolts", None, one_use=True, source="the maker of car or seat"),
            tools=("torque wrench", "socket set"),
            gates=("mock-up",),
            opens="fitted",
        ),
        StepPlan(
            "Check",
            "do",
            "Pulled hard every way; lamps as before; inspection where it is required",
            "",
            f"{CAUTION_BAG} A licensed inspection where that is required.",
            (),
            gates=("fitted",),
        ),
    ]


@apart("ballast")
def ballast(job: JobPlan) -> list[StepPlan]:
    """Ballast: where the balance wants it and the class allows it, bolted through with a plate."""
    return [
        StepPlan(
            "Before",
            "do",
            "Place marked: allowed by the class, nothing below the floor",
            "The weight bench says which corner it helps.",
            "",
            ("torch", "label pen"),
            opens="cold",
        ),
        StepPlan(
            "Fit",
            "do",
            "Drilled; plate below, bolts of M10 or more, class 8.8",
            "",
            CAUTION_HEAVY,
            ("drill", "socket set"),
            gates=("cold", "parts"),
            consumables=("plate", "lock nuts"),
            opens="drilled",
        ),
        tightened(
            "Tighten",
            "Ballast bolts",
            "",
            Joint("Ballast bolts", None, source="bolt size and class"),
            tools=("torque wrench",),
            gates=("drilled",),
            opens="fitted",
        ),
        StepPlan(
            "Check",
            "measure",
            "Weighed again: whole car and corners",
            "",
            "",
            (),
            gates=("fitted",),
            reads=("car_mass", *(f"corner_mass {corner}" for corner in ("FL", "FR", "RL", "RR"))),
        ),
    ]
