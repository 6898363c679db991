"""Modules of steps for the levers of a build. Common practice throughout. Longer than other files: it is one list."""

from __future__ import annotations

from rimcore.work.modules_base import JobPlan, wheels_off, wheels_on
from rimcore.work.modules_chassis import (
    INSPECTED,
    corner_bolts,
    dip_test,
    heights,
    lock_and_bump,
    preload,
    rack_centred,
    seats_looked_at,
    spring_in,
    spring_out,
)
from rimcore.work.steps import (
    CAUTION_FLUID,
    CAUTION_JACK,
    CAUTION_ROAD,
    CAUTION_SPRING,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
    work,
)

#: levers that set another height
HEIGHTS = ("ride_drop_mm", "perch_up_mm", "lower_mount_mm", "collar_mm")
#: of these, those that are turned where the strut stands
IN_PLACE = ("perch_up_mm", "lower_mount_mm", "collar_mm")
STEERING = f"Steering work needs a licensed inspection where that is required. {LOCAL}"


def height(job: JobPlan) -> list[StepPlan]:
    """Another ride height: collars turned where they stand, or springs out and in, both sides alike."""
    ends = job.ends(levers=HEIGHTS)
    turned = job.ends(levers=IN_PLACE)
    out = tuple(end for end in ends if end not in turned)
    return [
        *wheels_off(job),
        heights(job, "before"),
        *(
            work(
                "Fit",
                f"{hub.name}: spring unloaded, collar or lower mount turned, both sides alike, then locked",
                "Damper at full droop, thread brushed and oiled; turns counted from the same mark.",
                caution=CAUTION_SPRING,
                tools=("collar spanners", "wire brush", "rule"),
                corner=hub.corner,
                gates=("off",),
                opens="fitted",
                reads=(f"preload {hub.corner}",),
                share=f"collar {hub.corner}",
                does=("hub",),
            )
            for hub in job.at(turned)
        ),
        *(spring_out(hub) for hub in job.at(out)),
        *([preload(job, out, "Mock-up")] if out else []),
        *(spring_in(hub) for hub in job.at(out)),
        *wheels_on(job),
        *corner_bolts(job, ends, "Damper bolts", "damper to upright or arm, car at ride height"),
        *corner_bolts(job, ends, "Arm bolts", "arm bolts, car at ride height"),
        seats_looked_at(),
        heights(job, "after"),
        *dip_test(),
    ]


def alignment(job: JobPlan) -> list[StepPlan]:
    return [
        work(
            "Settle",
            "Alignment: camber, caster, toe, after the car has settled",
            "Steering in its middle, wheel straight. Height and camber change toe; toe comes last.",
            kind="measure",
            caution=STEERING,
            tools=("angle gauge", "strings or toe plates"),
            gates=("settled",),
            reads=(
                *(f"{code} {corner}" for code in ("camber", "toe") for corner in ("FL", "FR", "RL", "RR")),
                "caster FL",
                "caster FR",
            ),
            share="alignment",
            does=("aligned",),
            helpers=1,
        )
    ]


def lip(job: JobPlan) -> list[StepPlan]:
    ends = job.ends(levers=("lip_rolled_mm",))
    return [
        *wheels_off(job),
        *(
            work(
                "Fit",
                f"{hub.name}: lip rolled, warm, in several passes; measured after each",
                "Cold paint cracks. Seal the edge at once.",
                caution=CAUTION_ROAD,
                tools=("lip roller", "heat gun"),
                corner=hub.corner,
                consumables=("paint and seam sealer",),
                gates=("off",),
                opens="fitted",
                share=f"lip {hub.corner}",
                does=("hub",),
            )
            for hub in job.at(ends)
        ),
        *wheels_on(job),
    ]


def limiters(job: JobPlan) -> list[StepPlan]:
    return [
        *wheels_off(job),
        work(
            "Fit",
            "Lock limiters on both sides of the rack, the same thickness",
            "Boots off and back; the rods stay as they are.",
            caution=STEERING,
            tools=("socket set",),
            gates=("off", "parts"),
            opens="fitted",
            share="limiters",
            does=("hub",),
        ),
        work("Check", "Turns lock to lock counted, both sides the same", share="turns", helpers=1, caution=STEERING),
        *wheels_on(job),
    ]


def marks(job: JobPlan) -> StepPlan:
    """Where the crossmember stands, so that it can go back there: once."""
    return work(
        "Before",
        "Four marks plumbed onto the floor; witness holes through crossmember and frame",
        "3 mm (1/8 in) holes, so that it can go back where it was.",
        kind="measure",
        tools=("plumb line", "3 mm drill"),
        reads=("at square",),
        share="crossmember marks",
        opens="witness",
    )


def engine_carried() -> StepPlan:
    """The engine hangs on something else before its mounts are touched: once.

    >>> engine_carried().does
    ('under car', 'engine carried')
    """
    return work(
        "Remove",
        "Engine carried from above, or on a beam across the wings",
        "Under the sump only over a plate that spreads the load. Its mounts stand on the crossmember.",
        caution=CAUTION_JACK,
        tools=("engine support bar",),
        gates=("support",),
        share="engine carried",
        does=("under car", "engine carried"),
        helpers=1,
    )


def squared(job: JobPlan, gate: str) -> list[StepPlan]:
    """The crossmember square by its marks and tight from the middle: once."""
    return [
        work(
            "Fit",
            "Four marks again: sides within 1.6 mm (1/16 in), diagonals within 3.2 mm (1/8 in); nudge until they are",
            "Bolts a turn loose, pins through the witness holes.",
            kind="measure",
            tools=("plumb line", "tape", "3 mm pins"),
            reads=("at square",),
            gates=(gate,),
            share="crossmember square",
            opens="squared",
            does=("under car",),
        ),
        tightened(
            "Fit",
            "Crossmember bolts, from the middle outward",
            "New ones where the maker says so.",
            Joint("Crossmember bolts", None, one_use=True, source="the car's handbook"),
            gates=("squared",),
            opens="fitted",
            share="subframe bolts",
            does=("under car",),
        ),
    ]


def crossmember(job: JobPlan) -> list[StepPlan]:
    """The front crossmember loosened where it hangs and squared."""
    return [
        *wheels_off(job),
        marks(job),
        engine_carried(),
        work(
            "Remove",
            "Crossmember bolts backed off two turns each; it does not come down",
            "Steering shaft watched: its joint slides, it does not part.",
            caution=f"{CAUTION_JACK} {STEERING}",
            tools=("trolley jack", "socket set"),
            gates=("support", "witness"),
            share="crossmember loose",
            opens="off crossmember",
            does=("under car", "mounts off"),
        ),
        *squared(job, "off crossmember"),
        *wheels_on(job),
    ]


def steering_locked() -> StepPlan:
    """The steering wheel held before the shaft is parted: once.

    >>> steering_locked().does
    ('steering locked',)
    """
    return work(
        "Remove",
        "Steering wheel locked straight ahead with a strap",
        "A wheel that turns with the shaft parted breaks the airbag's spiral.",
        caution=INSPECTED,
        tools=("strap",),
        share="wheel locked",
        does=("steering locked",),
    )


def shaft_parted() -> StepPlan:
    """The shaft marked and parted at its joint: once.

    >>> shaft_parted().salvage
    ('shaft clamp bolt',)
    """
    return work(
        "Remove",
        "Shaft marked across its joint and parted",
        "The clamp bolt comes right out: it sits in a groove.",
        caution=INSPECTED,
        tools=("marker", "socket set"),
        gates=("support", "witness"),
        salvage=("shaft clamp bolt",),
        share="shaft parted",
        does=("shaft parted",),
    )


def shaft_together() -> list[StepPlan]:
    """The shaft back in its joint, engaged and tight: once."""
    return [
        work(
            "Fit",
            "Shaft in the joint: length engaged, angle of each joint, free of the tunnel at both locks",
            "One spline diameter at least; an extension adapter where it falls short.",
            kind="measure",
            caution=INSPECTED,
            tools=("rule", "angle gauge"),
            gates=("bolted", "squared"),
            reads=("shaft_engaged",),
            share="shaft together",
            opens="fitted shaft",
            does=("under car",),
        ),
        tightened(
            "Fit",
            "Shaft clamp bolt",
            "A new one where the maker says so.",
            Joint("Shaft clamp bolt", None, one_use=True, source="the car's handbook"),
            gates=("fitted shaft",),
            opens="fitted",
            share="shaft clamp",
            does=("under car",),
        ),
    ]


def rods_off(job: JobPlan) -> list[StepPlan]:
    """Rods off the steering arms: once a corner."""
    return [
        work(
            "Remove",
            f"{hub.name}: rod end off the steering arm; turns and stick-out recorded",
            "The taper is struck at the eye, never at the thread.",
            caution=INSPECTED,
            tools=("ball joint separator", "rule"),
            corner=hub.corner,
            gates=("off", "witness"),
            salvage=("boots and clips",),
            reads=(f"rod_stick {hub.corner}",),
            share=f"rod off {hub.corner}",
            opens="off rods",
            does=("hub",),
        )
        for hub in job.at(("F",))
    ]


def rods_on(job: JobPlan) -> list[StepPlan]:
    """Rods to length and back on the arms: once a corner."""
    return [
        step
        for hub in job.at(("F",))
        for step in (
            work(
                "Fit",
                f"{hub.name}: rod cut or set to its length; one and a half diameters of thread engaged",
                "Both sides counted in turns from the same mark.",
                caution=INSPECTED,
                tools=("rule", "hacksaw", "file"),
                corner=hub.corner,
                gates=("off rods", "parts", "bolted"),
                opens="fitted",
                consumables=("boot clips",),
                reads=(f"rod_stick {hub.corner}",),
                share=f"rod on {hub.corner}",
                does=("hub",),
            ),
            tightened(
                "Fit",
                f"{hub.name}: rod end nut, pinned or self-locking",
                "",
                Joint("Rod end nuts", None, one_use=True, source="the car's handbook"),
                caution=INSPECTED,
                tools=("torque wrench", "socket set"),
                corner=hub.corner,
                gates=("fitted",),
                share=f"Rod end nuts {hub.corner}",
                does=("hub",),
            ),
        )
    ]


def rack(job: JobPlan) -> list[StepPlan]:
    """Another place for the rack: centred, parted, moved, rods to length, bled, free at lock and bump."""
    return [
        *wheels_off(job),
        rack_centred(),
        steering_locked(),
        *rods_off(job),
        work(
            "Remove",
            "Lines off at the rack, capped; fluid caught",
            "Filler open first. Lines drip: a tray under them.",
            caution=f"{CAUTION_FLUID} {INSPECTED}",
            tools=("flare spanners", "tray", "caps"),
            gates=("support", "witness"),
            salvage=("line brackets",),
            share="steering lines off",
            does=("under car", "drain:steering"),
        ),
        shaft_parted(),
        work(
            "Mock-up",
            "Rack held in its new place: shaft, tunnel, sump and rods at both locks",
            "What is cut or drilled is marked now, and cut only after this.",
            kind="trial",
            caution=INSPECTED,
            tools=("square", "rule", "marker"),
            gates=("off rods", "parts"),
            opens="mock-up rack",
            share="rack tried",
            does=("under car", "tried:rack"),
        ),
        work(
            "Fit",
            "Rack on its new brackets or mounts, by the build's method",
            "Brackets and spacers bolt on; made mounts are tacked, tried, then welded off the car.",
            caution=f"Structural welds by a qualified welder: battery off, fuel away, fire watch. {INSPECTED}",
            tools=("square", "rule"),
            gates=("parts", "mock-up rack"),
            opens="bolted",
            share="rack moved",
            does=("under car", "cut:rack"),
            helpers=1,
        ),
        tightened(
            "Fit",
            "Rack mounts",
            "",
            Joint("Rack mounts", None, source="the car's handbook or the kit's sheet"),
            caution=INSPECTED,
            tools=("torque wrench", "socket set"),
            gates=("bolted",),
            opens="fitted",
            share="rack mounts",
            does=("under car",),
        ),
        *shaft_together(),
        *rods_on(job),
        work(
            "Fit",
            "Lines and their brackets; nothing rubs on the shaft or the tunnel",
            caution=CAUTION_FLUID,
            tools=("flare spanners",),
            consumables=("sealing washers",),
            gates=("bolted",),
            opens="fitted",
            share="steering lines on",
            does=("under car",),
        ),
        *wheels_on(job),
        *steering_filled(),
        lock_and_bump(),
        *lock_nuts(job),
    ]


def lock_nuts(job: JobPlan) -> list[StepPlan]:
    """Lock nuts of the rods: last, after toe is set."""
    return [
        tightened(
            "Settle",
            f"{hub.name}: rod lock nut, after toe is set",
            "The rod end held square, so that it may swing both ways.",
            Joint("Rod lock nuts", None, source="the car's handbook"),
            caution=STEERING,
            tools=("torque wrench", "two spanners"),
            corner=hub.corner,
            gates=("settled",),
            share=f"Rod lock nuts {hub.corner}",
            does=("locked",),
        )
        for hub in job.at(("F",))
    ]


def steering_filled() -> list[StepPlan]:
    """Steering fluid in and bled as that system wants: once.

    >>> [step.phase for step in steering_filled()]
    ['Check', 'Check', 'Settle']
    """
    return [
        work(
            "Check",
            "Steering fluid filled to the mark: the class that the pump's maker names",
            "Quantity recorded; filler open, engine off.",
            caution=CAUTION_FLUID,
            tools=("funnel",),
            consumables=("steering fluid",),
            share="steering filled",
            does=("fill:steering",),
        ),
        work(
            "Check",
            "Bled lock to lock, the engine off first, then running",
            "Front tyres in the air again; level kept up; no foam.",
            caution=f"Hot fluid scalds. {CAUTION_FLUID}",
            share="steering bled",
            does=("bleed:steering",),
            helpers=1,
        ),
        work(
            "Settle",
            "Steering fluid's level after the first drive; leaks looked for with a torch",
            tools=("torch",),
            gates=("settled",),
            share="steering level",
        ),
    ]


def axle_gears(job: JobPlan) -> list[StepPlan]:
    """Crown wheel and pinion: filler first, shims in order, preload, backlash, pattern, oil, heat cycles."""
    return [
        *wheels_off(job),
        work(
            "Remove",
            "Axle's filler plug loosened",
            "A filler that won't open after the oil is out ends the day.",
            caution=CAUTION_FLUID,
            tools=("plug key",),
            gates=("support",),
            share="axle filler",
            does=("under car", "filler loose:axle"),
        ),
        work(
            "Remove",
            "Axle's drain plug out; oil caught warm",
            "Look at the magnet: chips are a snag.",
            caution=CAUTION_FLUID,
            tools=("plug key", "tray"),
            gates=("support",),
            share="axle oil out",
            does=("under car", "drain:axle"),
        ),
        work(
            "Remove",
            "Shafts, propshaft and carrier out; caps marked left and right",
            "Flange and pinion marked against each other; shims kept in their order.",
            caution=f"{CAUTION_JACK} A carrier is heavy: two hands under it.",
            tools=("socket set", "carrier spreader or bars", "marker"),
            gates=("off", "witness"),
            salvage=("shims, in their order", "bearing caps, by side"),
            share="carrier out",
            opens="off carrier",
            does=("hub", "under car"),
            helpers=1,
        ),
        work(
            "Fit",
            "Pinion in with its new crush sleeve: preload read by turning torque",
            "Wound up in small steps; one that went too far takes another sleeve.",
            caution=f"Bearing preload decides whether it lives: a workshop that sets axles. {LOCAL}",
            tools=("inch-pound wrench", "flange holder"),
            consumables=("crush sleeve", "pinion seal", "pinion nut"),
            gates=("off carrier", "parts"),
            opens="fitted pinion",
            share="pinion in",
            does=("under car",),
        ),
        work(
            "Fit",
            "Crown wheel and pinion as a matched pair; backlash and pattern read",
            "Front and rear alike on four-wheel drive. Marking compound on drive and coast sides.",
            kind="measure",
            caution=f"Bearing preload decides whether it lives: a workshop that sets axles. {LOCAL}",
            tools=("dial gauge", "marking compound"),
            gates=("fitted pinion", "parts"),
            opens="fitted gears",
            reads=("backlash",),
            share="backlash",
            does=("under car",),
            helpers=1,
        ),
        tightened(
            "Fit",
            "Crown wheel bolts, crosswise",
            "New bolts, thread locker as the maker had it.",
            Joint("Crown wheel bolts", None, one_use=True, crosswise=True, source="the maker"),
            consumables=("thread locker",),
            gates=("off carrier", "parts"),
            opens="fitted pinion",
            share="crown wheel bolts",
            does=("under car",),
        ),
        work(
            "Fit",
            "Cover on, shafts and propshaft back with new seals; oil to the filler's edge",
            "Class and quantity as the maker of the gears says; a limited slip wants its additive.",
            caution=CAUTION_FLUID,
            tools=("socket set", "pump bottle"),
            consumables=("axle oil", "sealant", "axle seals"),
            gates=("fitted gears",),
            opens="fitted",
            share="axle oil in",
            does=("hub", "under car", "fill:axle"),
        ),
        *wheels_on(job),
        work(
            "Settle",
            "Heat cycles: short drives with rests between; no damp, no whine, level again when cold",
            "15 to 20 minutes, then an hour's rest, three times; nothing towed.",
            tools=("torch",),
            gates=("settled",),
            share="axle heat cycles",
        ),
    ]
