"""Modules of steps for the levers of a build. Common practice throughout."""

from __future__ import annotations

from rimcore.work.modules_base import JobPlan, wheels_off, wheels_on
from rimcore.work.modules_chassis import (
    INSPECTED,
    corner_bolts,
    dip_test,
    heights,
    lock_and_bump,
    rack_centred,
    springs_in,
    springs_out,
)
from rimcore.work.steps import (
    CAUTION_FLUID,
    CAUTION_JACK,
    CAUTION_ROAD,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
)

#: levers that set another height
HEIGHTS = ("ride_drop_mm", "perch_up_mm", "lower_mount_mm", "collar_mm")


def height(job: JobPlan) -> list[StepPlan]:
    """Another ride height: springs out and in, both sides alike."""
    moved = {end for code in HEIGHTS for end in job.levers.get(code, ())}
    ends = tuple(end for end in ("F", "R") if end in moved)
    where = "front and rear" if len(ends) > 1 else "front" if ends == ("F",) else "rear"
    return [
        *wheels_off(job),
        heights("before"),
        springs_out(where),
        springs_in(where),
        *corner_bolts(job, ends, "Damper bolts", "damper to upright or arm, car at ride height"),
        *corner_bolts(job, ends, "Arm bolts", "arm bolts, car at ride height"),
        *wheels_on(job),
        heights("after"),
        *dip_test(),
    ]


def alignment(job: JobPlan) -> list[StepPlan]:
    return [
        StepPlan(
            "Settle",
            "measure",
            "Alignment: camber, caster, toe, after the car has settled",
            "Height and camber change toe; toe comes last.",
            f"Steering work needs a licensed inspection where that is required. {LOCAL}",
            ("angle gauge", "strings or toe plates"),
            gates=("settled",),
            share="alignment",
            helpers=1,
        )
    ]


def lip(job: JobPlan) -> list[StepPlan]:
    return [
        *wheels_off(job),
        StepPlan(
            "Fit",
            "do",
            "Roll the lips, warm, in several passes; measure after each",
            "Cold paint cracks. Seal the edge at once.",
            CAUTION_ROAD,
            ("lip roller", "heat gun"),
            consumables=("paint and seam sealer",),
            gates=("off",),
            share="lips",
        ),
        *wheels_on(job),
    ]


def limiters(job: JobPlan) -> list[StepPlan]:
    return [
        *wheels_off(job),
        StepPlan(
            "Fit",
            "do",
            "Lock limiters on both sides of the rack, the same thickness",
            "Lock the steering wheel before the shaft is parted.",
            f"Steering work needs a licensed inspection where that is required. {LOCAL}",
            ("socket set",),
            gates=("off", "parts"),
            share="limiters",
        ),
        StepPlan(
            "Check", "do", "Turns lock to lock counted, both sides the same", "", "", (), share="turns", helpers=1
        ),
        *wheels_on(job),
    ]


def subframe_down(job: JobPlan) -> list[StepPlan]:
    """The front crossmember down on a jack, engine supported and everything marked: once, whatever needs it down."""
    return [
        StepPlan(
            "Before",
            "measure",
            "Four marks plumbed onto the floor; witness holes through crossmember and frame",
            "3 mm (1/8 in) holes, so that it can go back where it was.",
            "",
            ("plumb line", "3 mm drill"),
            share="crossmember marks",
            opens="witness",
        ),
        StepPlan(
            "Before",
            "do",
            "Engine supported from above, or under the sump over a plate",
            "Its mounts stand on the crossmember.",
            CAUTION_JACK,
            ("engine support bar",),
            gates=("support",),
            share="engine supported",
            helpers=1,
        ),
        StepPlan(
            "Remove",
            "do",
            "Crossmember down on a jack; bolts counted into a bag by place",
            "Lines, links and earth straps off first.",
            CAUTION_JACK,
            ("trolley jack", "socket set"),
            gates=("support", "witness"),
            share="subframe down",
            salvage=("crossmember bolts, by place",),
            helpers=1,
        ),
    ]


def subframe_up(job: JobPlan) -> list[StepPlan]:
    """The crossmember back up, square by its marks and tightened: once."""
    return [
        StepPlan(
            "Fit",
            "do",
            "Crossmember up on the jack, pins through the witness holes, bolts by hand",
            "",
            CAUTION_JACK,
            ("trolley jack", "3 mm pins"),
            gates=("bolted",),
            share="subframe up",
            helpers=1,
        ),
        StepPlan(
            "Fit",
            "measure",
            "Four marks again: sides within 1.6 mm (1/16 in), diagonals within 3.2 mm (1/8 in); nudge until they are",
            "",
            "",
            ("plumb line", "tape"),
            share="crossmember square",
        ),
        tightened(
            "Fit",
            "Crossmember bolts",
            "New ones where the maker says so.",
            Joint("Crossmember bolts", None, one_use=True, source="the car's handbook"),
            share="subframe bolts",
        ),
    ]


def crossmember(job: JobPlan) -> list[StepPlan]:
    """The front crossmember loosened and squared."""
    return [*wheels_off(job), *subframe_down(job), *subframe_up(job), *wheels_on(job)]


def rack(job: JobPlan) -> list[StepPlan]:
    """Another place for the rack.

    Centred, parted, moved, rods to length, bled, and nothing touches at lock and bump.
    """
    return [
        *wheels_off(job),
        rack_centred(),
        StepPlan(
            "Before", "do", "Mounts, shaft and rods marked against each other and photographed", "", opens="witness"
        ),
        StepPlan(
            "Before",
            "do",
            "Steering wheel locked straight ahead with a strap",
            "A wheel that turns with the shaft parted breaks the airbag's spiral.",
            INSPECTED,
            ("strap",),
            gates=("witness",),
            share="wheel locked",
        ),
        StepPlan(
            "Remove",
            "do",
            "Hoses off at the rack, plugged; shaft parted at the joint",
            "Lines drip: a tray under them.",
            f"{CAUTION_FLUID} {INSPECTED}",
            ("flare spanners", "tray", "plugs"),
            gates=("support", "witness"),
            salvage=("shaft clamp bolt", "hose brackets", "boot clips"),
            share="rack parted",
        ),
        *subframe_down(job),
        StepPlan(
            "Fit",
            "do",
            "Rack moved to its new mounts, bolted or welded",
            "Brackets of a kit bolt on; fabricated mounts are cut and welded.",
            f"Structural welds by a qualified welder: battery off, fuel away, fire watch. {INSPECTED}",
            ("square", "rule"),
            gates=("parts",),
            opens="bolted",
            helpers=1,
        ),
        tightened(
            "Fit",
            "Rack mounts",
            "",
            Joint("Rack mounts", None, source="the car's handbook or the kit's sheet"),
            tools=("torque wrench", "socket set"),
            gates=("bolted",),
        ),
        *subframe_up(job),
        StepPlan(
            "Fit",
            "measure",
            "Shaft in the joint: length engaged, angle of each joint",
            "One spline diameter at least; an extension adapter where it falls short.",
            INSPECTED,
            ("rule", "angle gauge"),
            gates=("bolted",),
        ),
        tightened(
            "Fit",
            "Shaft clamp bolt",
            "A new one where the maker says so.",
            Joint("Shaft clamp bolt", None, one_use=True, source="the car's handbook"),
            gates=("bolted",),
        ),
        StepPlan(
            "Fit",
            "do",
            "Rods cut or set to their new length; one and a half diameters of thread engaged",
            "Both sides counted in turns from the same mark.",
            INSPECTED,
            ("hacksaw", "file", "rule"),
            gates=("bolted",),
        ),
        StepPlan(
            "Fit",
            "do",
            "Hoses and their brackets; nothing rubs on the shaft or the tunnel",
            "",
            CAUTION_FLUID,
            consumables=("power steering fluid", "sealing washers"),
        ),
        StepPlan(
            "Check",
            "do",
            "Bled lock to lock, the engine off first, then running",
            "Level kept up; no foam.",
            f"Hot fluid scalds. {CAUTION_FLUID}",
            share="steering bled",
            helpers=1,
        ),
        lock_and_bump(),
        *wheels_on(job),
    ]


def axle_gears(job: JobPlan) -> list[StepPlan]:
    return [
        *wheels_off(job),
        StepPlan(
            "Remove",
            "do",
            "Filler plug loose first, then the drain plug; oil out warm",
            "A filler that won't open after the oil is out ends the day.",
            CAUTION_FLUID,
            ("plug key", "tray"),
            gates=("support",),
            salvage=("shims, in their order",),
            consumables=("axle oil", "sealant"),
            share="axle oil out",
        ),
        StepPlan(
            "Fit",
            "do",
            "Crown wheel and pinion as a matched pair; backlash and pattern read",
            "Front and rear alike on four-wheel drive.",
            f"Bearing preload decides whether it lives: a workshop that sets axles. {LOCAL}",
            ("dial gauge", "marking compound"),
            gates=("parts",),
            helpers=1,
        ),
        tightened(
            "Fit",
            "Crown wheel bolts, crosswise",
            "New bolts, thread locker as the maker had it.",
            Joint("Crown wheel bolts", None, one_use=True, crosswise=True, source="the maker"),
            consumables=("thread locker",),
        ),
        *wheels_on(job),
        StepPlan(
            "Check", "do", "Oil to the filler's edge, plugs tight, no damp after a short drive", "", CAUTION_FLUID
        ),
    ]
