"""Modules of steps for rods, leaves, hoses and corner weights. Common practice throughout."""

from __future__ import annotations

from rimcore.work.modules_base import JobPlan, wheels_off, wheels_on
from rimcore.work.modules_chassis import FOUND, INSPECTED, corner_bolts, ends_of, heights, lock_and_bump, rack_centred
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_FLUID,
    CAUTION_JACK,
    CAUTION_SPRING,
    Joint,
    StepPlan,
    tightened,
)


def rods(job: JobPlan) -> list[StepPlan]:
    """Tie rods and their ends: rack centred, counted off, counted on."""
    return [
        *wheels_off(job),
        rack_centred(),
        StepPlan(
            "Remove",
            "do",
            "Rod ends parted; turns counted as each comes off",
            "Write the count and the length joint to joint.",
            INSPECTED,
            ("ball joint separator", "rule"),
            gates=("off", "witness"),
            salvage=("boots and clips",),
            share="rods off",
        ),
        StepPlan(
            "Fit",
            "do",
            "Rods to length; one and a half diameters of thread engaged",
            "Both sides counted in turns from the same mark.",
            INSPECTED,
            ("rule", "thread gauge"),
            gates=("off", "parts"),
            opens="fitted",
            consumables=("boot clips",),
        ),
        *corner_bolts(job, ("F",), "Rod end nuts", "rod end nuts, pinned or self-locking"),
        *corner_bolts(job, ("F",), "Rod lock nuts", "rod lock nuts", one_use=False),
        *wheels_on(job),
        lock_and_bump(),
    ]


def leaves(job: JobPlan) -> list[StepPlan]:
    """Leaf packs, blocks and U-bolts.

    The axle held, the pin in its hole, U-bolts drawn down evenly and again on the wheels.
    """
    _, where = ends_of(job, "leaf_pack", "lift_block", "u_bolt")
    torque = Joint("U-bolts", None, one_use=True, crosswise=True, source="the maker of leaves or U-bolts")
    return [
        *wheels_off(job),
        heights("before"),
        StepPlan(
            "Before",
            "measure",
            "Pinion, propshaft and gearbox angles",
            "The angles that must cancel again afterwards.",
            "",
            ("angle gauge",),
            share="angles before",
        ),
        StepPlan(
            "Remove",
            "do",
            f"Axle on a jack, U-bolts off, {where}",
            f"Hoses, cables and breather first; the axle rolls when the last one lets go. {FOUND}",
            f"{CAUTION_JACK} {CAUTION_SPRING} {CAUTION_BRAKE}",
            ("trolley jack", "socket set"),
            gates=("off", "support", "witness"),
            salvage=("spring plates", "centre pins"),
            share="axle free",
            helpers=1,
        ),
        StepPlan(
            "Fit",
            "do",
            f"Pack or block in, {where}: centre pin in its hole, taper the right way",
            "Blocks are never stacked and never under a steered axle.",
            CAUTION_JACK,
            ("drift",),
            gates=("off", "parts"),
            opens="bolted",
            share="leaves in",
            helpers=1,
        ),
        tightened(
            "Fit",
            "U-bolts, crosswise, evenly",
            "Equal thread on both legs.",
            torque,
            gates=("bolted",),
            opens="fitted",
            share="u-bolts",
        ),
        StepPlan(
            "Check",
            "do",
            "Full droop: hoses, cables and breather have slack at both locks",
            "A taut hose is a snag.",
            CAUTION_BRAKE,
            ("torch",),
            gates=("fitted",),
            share="hoses at droop",
        ),
        *wheels_on(job),
        heights("after"),
        StepPlan(
            "Settle",
            "measure",
            "Pinion, propshaft and gearbox angles again",
            "Equal and opposite within a degree, or a taper is wanted.",
            "",
            ("angle gauge",),
            gates=("settled",),
            share="angles after",
        ),
        tightened(
            "Settle",
            "U-bolts again, car on its wheels",
            "And again after 80 and 800 km.",
            torque,
            gates=("settled",),
            share="u-bolts again",
        ),
    ]


def hoses(job: JobPlan) -> list[StepPlan]:
    """Brake hoses: clamped or drained, no twist, bled, slack at full droop and both locks."""
    _, where = ends_of(job, "hose")
    return [
        *wheels_off(job),
        StepPlan(
            "Remove",
            "do",
            f"Old hoses off, {where}: pipe held with a second spanner",
            "Plug the pipe; the reservoir's cap stays on.",
            f"{CAUTION_BRAKE} {CAUTION_FLUID}",
            ("flare spanners", "plugs"),
            gates=("off",),
            share="hoses off",
        ),
        StepPlan(
            "Fit",
            "do",
            "New hoses, untwisted, with new washers; slack at full droop and both locks",
            "",
            f"{CAUTION_BRAKE} {CAUTION_FLUID}",
            ("flare spanners",),
            gates=("off", "parts"),
            opens="fitted",
            consumables=("brake fluid", "copper washers"),
            share="hoses on",
        ),
        StepPlan(
            "Check",
            "do",
            "Bled, furthest corner first; pedal held hard for a minute: no sinking, no damp",
            "",
            f"{CAUTION_BRAKE} {CAUTION_FLUID}",
            ("bleed bottle",),
            gates=("fitted",),
            share="brakes bled",
            helpers=1,
        ),
        *wheels_on(job),
    ]


def weights(job: JobPlan) -> list[StepPlan]:
    """Corner weights evened by the collars, and the alignment looked at again."""
    return [
        StepPlan(
            "Settle",
            "measure",
            "Four pads level; tyre pressures set; bar links loose; driver or ballast aboard",
            "Level to a millimetre or two: tiles under the low ones.",
            "",
            ("four pads", "level"),
            gates=("settled",),
            share="pads level",
            helpers=1,
        ),
        StepPlan(
            "Settle",
            "measure",
            "Corners weighed; collars turned as the sheet says; weighed again until it is even",
            "Heights in sight: one turn at one corner moves all four.",
            CAUTION_JACK,
            ("collar spanners",),
            gates=("settled",),
            share="pads even",
        ),
        tightened(
            "Settle",
            "Collars locked, links tightened",
            "",
            Joint("Collar locks and link nuts", None, source="the maker"),
            gates=("settled",),
            share="collars locked",
        ),
    ]
