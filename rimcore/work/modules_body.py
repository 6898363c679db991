"""Modules of steps for panels, splitters, a strip session, batteries, seats and ballast. Common practice throughout."""

from __future__ import annotations

from rimcore.work.modules_base import JobPlan
from rimcore.work.modules_engine import apart, up
from rimcore.work.steps import CAUTION_PUBLIC, LOCAL, Joint, StepPlan, tightened

CAUTION_EDGE = (
    "Cut sheet has edges like knives: gloves, eyes covered, edges rounded; nothing sharp stands out of the body."
)
CAUTION_BAG = f"Airbags, pretensioners and occupancy circuits can fire: battery off and waited for, no meter on their plugs, a qualified person. {LOCAL}"
CAUTION_BATTERY = "Minus off first and on last. A spanner across the poles burns; acid and its gas do too."
CAUTION_HEAVY = "A mass that comes loose in a crash kills: bolts through the floor with a plate, never straps alone."


@apart("panel")
def panel(job: JobPlan) -> list[StepPlan]:
    """Belly panel: card, transfer, cut, existing holes first, away from the silencer."""
    return [
        *up(job),
        StepPlan(
            "Before",
            "do",
            "Exhaust cold; what the panel passes is looked at",
            "Silencer, pipes, drain plugs, jacking points: each a keep-out on the drawing.",
            "",
            ("torch",),
            opens="cold",
        ),
        StepPlan(
            "Mock-up",
            "do",
            "Card cut and taped up; holes of the body pricked through",
            "Half-width and height at each station go into the air bench.",
            "",
            ("card", "knife", "tape measure"),
            gates=("support", "cold"),
            consumables=("card",),
            helpers=1,
            opens="card",
        ),
        StepPlan(
            "Mock-up",
            "trial",
            "Steering at both locks, suspension jacked: nothing meets the card",
            "",
            "",
            ("trolley jack",),
            gates=("card",),
            opens="mock-up",
        ),
        StepPlan(
            "Fit",
            "do",
            "Transferred to the sheet and cut; edges rounded",
            "The 1:1 tiles with their bar, or the card itself.",
            CAUTION_EDGE,
            ("jigsaw or knife", "file"),
            gates=("mock-up", "parts"),
            consumables=("sheet",),
            opens="cut",
        ),
        StepPlan(
            "Fit",
            "do",
            "Bolted through existing holes first, then the rest; wide washers on both sides",
            "Drain and jacking points stay free or get a hatch.",
            "",
            ("drill", "socket set"),
            gates=("cut",),
            consumables=("lock nuts",),
            opens="fitted",
            helpers=1,
        ),
        StepPlan(
            "Check",
            "measure",
            "Room to silencer and pipes read all along",
            "Plastic melts or burns there; what is tight gets cut back or a shield.",
            "",
            ("rule",),
            gates=("fitted",),
        ),
        StepPlan(
            "Settle",
            "do",
            "After the first warm drive: no smell, no flutter, every fastener",
            "",
            CAUTION_PUBLIC,
            ("torch",),
        ),
    ]


@apart("splitter")
def splitter(job: JobPlan) -> list[StepPlan]:
    """Splitter: located by existing holes, pulled forward within the slack, those tight, the rest drilled."""
    return [
        *up(job),
        StepPlan(
            "Before",
            "measure",
            "Lip height and how far it stands ahead of the axle, as it will be",
            "Drive, kerb and trailer are held against it on the air bench first.",
            "",
            ("rule", "straight-edge"),
            opens="ramp",
        ),
        StepPlan(
            "Mock-up",
            "do",
            "Located by the bumper's existing holes, pulled forward within their slack",
            "Level left and right from the floor.",
            "",
            ("socket set",),
            gates=("support", "parts", "ramp"),
            helpers=1,
            opens="mock-up",
        ),
        StepPlan(
            "Fit",
            "do",
            "Those tightened; the rest drilled through, 5/16 in or 8 mm",
            "Stop before what lies behind: look first.",
            CAUTION_EDGE,
            ("drill", "5/16 in bit"),
            gates=("mock-up",),
            opens="drilled",
        ),
        StepPlan(
            "Fit",
            "do",
            "Washers on both sides, lock nuts; threaded inserts by hand only",
            "A machine strips thin sheet.",
            "",
            ("socket set", "hand insert tool"),
            gates=("drilled",),
            consumables=("wide washers", "lock nuts"),
            opens="fitted",
        ),
        StepPlan(
            "Check",
            "do",
            "Cooler's opening free; wheels at full lock and bump clear of it",
            "",
            "",
            ("torch",),
            gates=("fitted",),
        ),
        StepPlan(
            "Settle",
            "do",
            "Slowly over the worst slope of the list, a helper at the lip",
            "",
            CAUTION_PUBLIC,
            (),
            helpers=1,
        ),
    ]


@apart("strip")
def strip(job: JobPlan) -> list[StepPlan]:
    """A strip session: one bag and one label an item, each weighed with its box; panels back in.

    The car on the scale again.
    """
    named = job.out or (("", "what the mass bench plans"),)
    return [
        StepPlan(
            "Before",
            "do",
            "Battery off, minus first; wait as long as the car's book says before a seat's plug is parted",
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
            consumables=("bags", "labels"),
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
            "Panels and what goes back, weighed too",
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
            "The ledger is held against it.",
            "",
            (),
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
            "The mass bench says which corner it helps.",
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
        StepPlan("Check", "measure", "Weighed again: whole car and corners", "", "", (), gates=("fitted",)),
    ]
