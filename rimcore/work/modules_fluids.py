"""Modules of steps for mounts, a whole subframe, bearings, steering lines and fluids. Common practice throughout.

Longer than other files: it is one list of steps.
"""

from __future__ import annotations

from rimcore.work.modules_base import JobPlan, ends_text, on_stands, wheels_off, wheels_on
from rimcore.work.modules_chassis import INSPECTED, corner_bolts, joint_nuts, lock_and_bump, rack_centred
from rimcore.work.modules_levers import (
    engine_carried,
    marks,
    shaft_parted,
    shaft_together,
    squared,
    steering_filled,
    steering_locked,
)
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_FLUID,
    CAUTION_JACK,
    CAUTION_SPRING,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
    work,
)

CAUTION_HANGING = "An engine that slips kills: carried on two points, nobody under it, never on the jack alone."


def subframe(job: JobPlan) -> list[StepPlan]:
    """Another subframe or crossmember.

    Marks, shaft, engine carried, springs freed, down slowly, old beside new, mounts tried in the air, up, squared,
    tight from the middle, everything back.
    """
    ends = job.ends(("subframe",))
    front = "F" in ends
    where = ends_text(ends)
    hubs = job.at(ends)
    return [
        *wheels_off(job),
        marks(job),
        *([rack_centred(), steering_locked(), shaft_parted(), engine_carried()] if front else []),
        *(
            work(
                "Remove",
                f"{hub.name}: spring force off, caliper hung by a wire",
                "The arm let down slowly on a jack until the spring is free.",
                caution=f"{CAUTION_SPRING} {CAUTION_BRAKE}",
                tools=("trolley jack", "spring compressor", "hook of wire"),
                corner=hub.corner,
                gates=("off", "witness"),
                share=f"spring force off {hub.corner}",
                does=("hub", "spring freed"),
            )
            for hub in hubs
        ),
        work(
            "Remove",
            f"Arms, links and rods parted from the subframe, {where}; rack with its lines tied up",
            "No hose carries anything. Earth straps and sensor lines off.",
            caution=f"{CAUTION_SPRING} {CAUTION_BRAKE}",
            tools=("ball joint separator", "socket set", "straps"),
            gates=("off", "witness"),
            salvage=("arm bolts, by place", "line clips"),
            share="subframe bare",
            does=("hub", "under car", "arm off"),
            helpers=1,
        ),
        work(
            "Remove",
            f"Subframe down slowly, {where}, two people; bolts counted into a bag by place",
            "Five hours out and two in is usual for a first one.",
            caution=CAUTION_JACK,
            tools=("trolley jack", "socket set"),
            gates=("support", "witness"),
            salvage=("subframe bolts, by place",),
            share="subframe down",
            opens="off subframe",
            does=("under car", "arm off", "mounts off"),
            helpers=2,
        ),
        work(
            "Mock-up",
            "Old subframe beside the new one: every hole",
            "What does not meet is told now, not under the car.",
            kind="trial",
            tools=("rule", "caliper"),
            gates=("off subframe", "parts"),
            opens="mock-up subframe",
            share="every hole",
        ),
        *(
            [
                work(
                    "Mock-up",
                    "Engine mounts tried in the air: gaps at sump and bonnet with clay or chalk",
                    kind="trial",
                    caution=CAUTION_HANGING,
                    tools=("modelling clay", "chalk"),
                    gates=("off subframe", "parts"),
                    opens="mock-up subframe",
                    share="mounts tried",
                    does=("under car",),
                )
            ]
            if front
            else []
        ),
        work(
            "Fit",
            f"Subframe up, {where}, two people; every bolt by hand, loose",
            caution=CAUTION_JACK,
            tools=("trolley jack", "3 mm pins"),
            gates=("mock-up subframe",),
            opens="bolted",
            share="subframe up",
            does=("under car",),
            helpers=2,
        ),
        *squared(job, "bolted"),
        work(
            "Fit",
            f"Arms, links, rods and rack back on, {where}; bolts of bushes by hand",
            caution=INSPECTED,
            tools=("socket set",),
            gates=("squared",),
            opens="fitted",
            share="subframe dressed",
            does=("hub", "under car"),
            helpers=1,
        ),
        *joint_nuts(job, ends, "squared"),
        *(shaft_together() if front else []),
        *wheels_on(job),
        *corner_bolts(job, ends, "Arm bolts", "arm bolts, car at ride height"),
        work(
            "Check",
            "Fluids of every line that was opened: filled, bled, no damp",
            caution=CAUTION_FLUID,
            tools=("torch",),
            share="subframe fluids",
        ),
        lock_and_bump(),
    ]


def mounts(job: JobPlan) -> list[StepPlan]:
    """Engine and gearbox mounts: carried first, one at a time, tried for gaps, tight with the engine settled."""
    names = job.names("mount") or "Mounts"
    return [
        *on_stands(),
        engine_carried(),
        work(
            "Remove",
            "Old engine or gearbox mounts off, one at a time; shims and earth straps by place",
            "Gaps at fan, shroud, tunnel and bonnet read before.",
            caution=CAUTION_HANGING,
            tools=("socket set", "rule"),
            gates=("support", "witness"),
            salvage=("mount bolts and shims, by place", "earth straps"),
            share="mounts out",
            opens="off mounts",
            does=("under car", "mounts off"),
            helpers=1,
        ),
        work(
            "Mock-up",
            f"{names}: tried in the air, gaps at sump, shroud and bonnet with clay or chalk",
            kind="trial",
            caution=CAUTION_HANGING,
            tools=("modelling clay", "chalk"),
            gates=("off mounts", "parts"),
            opens="mock-up mounts",
            share="mounts tried in the air",
            does=("under car",),
        ),
        work(
            "Fit",
            f"{names}: in, all bolts by hand, engine let down on them",
            "Rocked by hand so that the rubber sits untwisted.",
            caution=CAUTION_HANGING,
            tools=("socket set",),
            gates=("mock-up mounts",),
            opens="loose mounts",
            share="mounts in",
            does=("under car",),
            helpers=1,
        ),
        tightened(
            "Fit",
            "Engine and gearbox mounts",
            "With the engine's weight on them.",
            Joint("Engine and gearbox mounts", None, source="the car's handbook"),
            caution=CAUTION_JACK,
            tools=("torque wrench", "socket set"),
            gates=("loose mounts",),
            opens="fitted mounts",
            share="mounts tight",
            does=("under car",),
        ),
        work(
            "Check",
            "Engine rocked on its mounts: exhaust, shroud, shifter and hoses free; no knock at idle in gear",
            caution=f"Hot parts and a turning fan: hands out. {LOCAL}",
            tools=("torch",),
            gates=("fitted mounts",),
            share="engine rocked",
        ),
    ]


def bearings(job: JobPlan) -> list[StepPlan]:
    """Wheel bearings: play by two hands, noise by hand turning, preload as the maker says."""
    ends = job.ends(("bearing",))
    steps = wheels_off(job)
    for hub in job.at(ends):
        steps += [
            work(
                "Remove",
                f"{hub.name}: play felt by two hands, noise by hand turning; hub and bearing out",
                "Sensor and its ring first; caliper hung by a wire.",
                caution=CAUTION_BRAKE,
                tools=("puller", "press", "socket set"),
                corner=hub.corner,
                gates=("off", "witness"),
                salvage=("sensor", "dust cap"),
                reads=(f"bearing_play {hub.corner}",),
                share=f"bearing out {hub.corner}",
                opens="off bearings",
                does=("hub",),
            ),
            work(
                "Fit",
                f"{hub.name}: {job.names('bearing')} pressed in on its outer ring, hub on its inner ring",
                "Sensor's side to the sensor; a bearing pressed through its balls is a new one wasted.",
                tools=("press",),
                corner=hub.corner,
                gates=("off bearings", "parts"),
                opens="bolted bearings",
                consumables=("bearing grease",),
                share=f"bearing in {hub.corner}",
                does=("hub",),
            ),
            tightened(
                "Fit",
                f"{hub.name}: hub nut or bearing preload, as the maker says",
                "Taper rollers, one of many: 50 lbf·ft while turning, back half a turn, then finger tight. Cartridges: "
                "to the full figure. A new nut, staked or pinned.",
                Joint("Hub nut", 1, one_use=True, source="the car's handbook"),
                caution=INSPECTED,
                tools=("torque wrench", "socket set"),
                corner=hub.corner,
                lugs=1,
                gates=("bolted bearings",),
                opens="fitted",
                share=f"hub nut {hub.corner}",
                does=("hub",),
            ),
        ]
    return [*steps, *wheels_on(job)]


def steering_lines(job: JobPlan) -> list[StepPlan]:
    """Steering hoses and pump: filler side first, caught, new seals, filled, bled as that system wants."""
    names = job.names("steering_hose", "steering_pump") or "Steering hoses"
    return [
        *on_stands(),
        work(
            "Remove",
            "Steering fluid's filler open, then the return hose off; fluid caught",
            "Quantity and colour noted: burnt or full of glitter is a snag.",
            caution=CAUTION_FLUID,
            tools=("tray", "flare spanners", "caps"),
            gates=("support", "witness"),
            salvage=("hose brackets",),
            share="steering fluid out",
            opens="off steering",
            does=("under car", "drain:steering"),
        ),
        work(
            "Fit",
            f"{names}: new seals and washers, turned so that nothing rubs; brackets on",
            "Pressure side to its own figure; belt tension read where the pump moved.",
            caution=INSPECTED,
            tools=("flare spanners",),
            gates=("off steering", "parts"),
            opens="fitted steering",
            consumables=("sealing washers",),
            share="steering hoses in",
            does=("under car",),
        ),
        tightened(
            "Fit",
            "Steering hose unions",
            "",
            Joint("Steering hose unions", None, source="the car's handbook"),
            caution=INSPECTED,
            tools=("torque wrench", "flare spanners"),
            gates=("fitted steering",),
            share="steering unions",
            does=("under car",),
        ),
        *steering_filled(),
    ]


#: kind of fluid -> its name in a step, and what is looked at
FLUIDS = {
    "engine": ("Engine oil", "Filter with it; run, wait five minutes, level again."),
    "gearbox": ("Gearbox oil", "Level at the filler's edge, car level."),
    "axle": ("Axle oil", "Level at the filler's edge; a limited slip wants its additive."),
    "steering": ("Steering fluid", "Bled lock to lock, engine off first, then running."),
}


def fluids(job: JobPlan) -> list[StepPlan]:
    """Oils: filler side loosened before the drain, named with quantity and class, level after the first drive."""
    steps: list[StepPlan] = []
    for part in job.of("fluid"):
        kind = str(part.spec.get("kind") or "engine")
        name, look = FLUIDS.get(kind, FLUIDS["engine"])
        litres = part.spec.get("litres")
        said = f", {litres:g} L" if litres else ""
        steps += [
            *on_stands(),
            work(
                "Remove",
                f"{name}: filler plug or cap loosened first",
                "A filler that won't open after the drain ends the day.",
                caution=CAUTION_FLUID,
                tools=("plug key",),
                gates=("support",),
                share=f"{kind} filler",
                does=("under car", f"filler loose:{kind}"),
            ),
            work(
                "Remove",
                f"{name}: drained warm and caught; magnet and colour looked at",
                "Quantity noted. Chips are a snag.",
                caution=f"Hot oil burns. {CAUTION_FLUID}",
                tools=("plug key", "tray"),
                gates=("support",),
                share=f"{kind} oil out",
                does=("under car", f"drain:{kind}"),
            ),
            work(
                "Fit",
                f"{part.name}{said}: filled, drain plug with a new washer",
                f"Class as the maker names it. {look}",
                caution=CAUTION_FLUID,
                tools=("pump bottle", "torque wrench"),
                gates=("parts",),
                consumables=("drain plug washer",),
                share=f"{kind} oil in",
                does=("under car", f"fill:{kind}"),
            ),
            work(
                "Settle",
                f"{name}: level after the first drive, leaks looked for with a torch",
                tools=("torch",),
                share=f"{kind} level",
            ),
        ]
    return steps


def propshaft(job: JobPlan) -> list[StepPlan]:
    """A propshaft: marked, supported, out, joints and runout looked at, in as it was turned."""
    return [
        *on_stands(),
        work(
            "Before",
            "Angles of gearbox, propshaft and pinion read",
            "The angles that must cancel again afterwards.",
            kind="measure",
            tools=("angle gauge",),
            reads=("driveline",),
            share="angles before",
        ),
        work(
            "Remove",
            "Propshaft marked across both flanges, supported, unbolted",
            "A plug into the gearbox's tail: oil runs out. A centre bearing's shims by place.",
            caution=f"{CAUTION_JACK} {CAUTION_FLUID}",
            tools=("marker", "socket set", "strap", "tray"),
            gates=("support", "witness"),
            salvage=("shims of the centre bearing",),
            opens="off propshaft",
            share="propshaft out",
            does=("under car",),
            helpers=1,
        ),
        work(
            "Fit",
            f"{job.names('propshaft') or 'Propshaft'}: old beside new, joints free, yokes in line; up on its marks",
            "Slip joint greased and in by its mark at ride height.",
            tools=("rule", "grease gun"),
            gates=("off propshaft", "parts"),
            opens="loose propshaft",
            consumables=("grease",),
            share="propshaft in",
            does=("under car",),
            helpers=1,
        ),
        tightened(
            "Fit",
            "Propshaft bolts, crosswise",
            "New ones where the maker says so.",
            Joint("Propshaft bolts", None, one_use=True, crosswise=True, source="the car's handbook"),
            caution=CAUTION_JACK,
            tools=("torque wrench", "socket set"),
            gates=("loose propshaft",),
            share="propshaft tight",
            does=("under car",),
        ),
        work(
            "Settle",
            "Angles again, car on its tyres; a slow drive up through the speeds, felt for a shake",
            kind="measure",
            tools=("angle gauge",),
            reads=("driveline",),
            share="angles after",
        ),
    ]


def driveshafts(job: JobPlan) -> list[StepPlan]:
    """Driveshafts: hub nut cracked on the ground, oil caught, seal looked at, nut to its figure on the ground."""
    ends = job.ends(("driveshaft",))
    steps = [
        *wheels_off(job),
        work(
            "Remove",
            "What runs out with the shafts is caught; the filler loosened first",
            "Oil of gearbox or axle: quantity noted.",
            caution=CAUTION_FLUID,
            tools=("plug key", "tray"),
            gates=("support",),
            share="shaft oil",
            does=("under car", "filler loose:shaft", "drain:shaft"),
        ),
    ]
    for hub in job.at(ends):
        steps += [
            work(
                "Remove",
                f"{hub.name}: hub nut off, joint split, driveshaft out",
                "Never pulled apart by its shaft. Seal's lip looked at: weeping is a snag.",
                caution=f"{CAUTION_BRAKE} {INSPECTED}",
                tools=("pry bar", "ball joint separator", "socket set"),
                corner=hub.corner,
                gates=("off", "witness"),
                share=f"shaft out {hub.corner}",
                opens="off shafts",
                does=("hub", "under car"),
            ),
            work(
                "Fit",
                f"{hub.name}: {job.names('driveshaft')} by its side and length; in past the seal without touching it",
                "Pushed until the clip is felt; pulled by hand to see that it holds.",
                caution=INSPECTED,
                corner=hub.corner,
                gates=("off shafts", "parts"),
                opens="fitted",
                consumables=("seal of the shaft",),
                share=f"shaft in {hub.corner}",
                does=("hub", "under car"),
            ),
        ]
    return [
        *steps,
        work(
            "Fit",
            "What ran out with the shafts goes in again, level read at the filler",
            caution=CAUTION_FLUID,
            tools=("pump bottle",),
            gates=("fitted",),
            share="shaft oil in",
            does=("under car", "fill:shaft"),
        ),
        *wheels_on(job),
        *(
            tightened(
                "Tighten",
                f"{hub.name}: hub nut, car on its tyres",
                "A new nut, staked or pinned.",
                Joint("Hub nut", 1, one_use=True, source="the car's handbook"),
                caution=INSPECTED,
                tools=("torque wrench", "socket set"),
                corner=hub.corner,
                lugs=1,
                gates=("ground",),
                share=f"shaft nut {hub.corner}",
                does=("bush tight",),
            )
            for hub in job.at(ends)
        ),
        work(
            "Settle",
            "Driven slowly at either lock: no click from the shafts, no damp at their seals",
            share="shafts looked at",
        ),
    ]
