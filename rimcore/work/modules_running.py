"""Modules of steps for rods, leaves, hoses and corner weights. Common practice throughout."""

from __future__ import annotations

from rimcore.work.modules_base import CornerHub, JobPlan, wheels_off, wheels_on
from rimcore.work.modules_chassis import FOUND, heights, lock_and_bump, rack_centred
from rimcore.work.modules_levers import lock_nuts, rods_off, rods_on
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_FLUID,
    CAUTION_JACK,
    CAUTION_SPRING,
    Joint,
    StepPlan,
    tightened,
    work,
)


def rods(job: JobPlan) -> list[StepPlan]:
    """Tie rods and their ends: rack centred, counted off, counted on, locked after toe is set."""
    return [
        *wheels_off(job),
        rack_centred(),
        *rods_off(job),
        *rods_on(job),
        *wheels_on(job),
        lock_and_bump(),
        *lock_nuts(job),
    ]


def leaves(job: JobPlan) -> list[StepPlan]:
    """Leaf packs, blocks and U-bolts: one side at a time, the axle on a stand, U-bolts to the figure with the car
    down.
    """
    ends = job.ends(("leaf_pack", "lift_block", "u_bolt"))
    return [
        *wheels_off(job),
        heights(job, "before"),
        work(
            "Before",
            "Pinion, propshaft and gearbox angles",
            "The angles that must cancel again afterwards.",
            kind="measure",
            tools=("angle gauge",),
            reads=("driveline",),
            share="angles before",
        ),
        *(_leaf(hub) for hub in job.at(ends)),
        work(
            "Check",
            "Full droop: hoses, cables and breather have slack at both locks",
            "A taut hose is a snag.",
            caution=CAUTION_BRAKE,
            tools=("torch",),
            share="hoses at droop",
        ),
        *wheels_on(job),
        *(_u_bolts(hub, "Tighten") for hub in job.at(ends)),
        heights(job, "after"),
        work(
            "Settle",
            "Pinion, propshaft and gearbox angles again",
            "Equal and opposite within a degree, or a taper is wanted.",
            kind="measure",
            tools=("angle gauge",),
            gates=("settled",),
            reads=("driveline",),
            share="angles after",
        ),
        work(
            "Settle",
            "Towed with: the tow bar's height against the trailer's",
            "Higher at the back lifts the trailer's nose: another drop of the ball.",
            gates=("settled",),
            reads=("tow_ball",),
            share="tow bar",
        ),
    ]


def _leaf(hub: CornerHub) -> StepPlan:
    """One side from old to new, so that the other one holds the axle where it is."""
    return work(
        "Fit",
        f"{hub.name}: this side alone: axle on a stand, U-bolts off, pack or block changed, new U-bolts drawn evenly",
        "Hoses, cables and breather first; the axle rolls when the last one lets go. Centre pin in its hole, taper the "
        "right way; blocks are never stacked and never under a steered axle. Equal thread on both legs. "
        f"{FOUND}",
        caution=f"{CAUTION_JACK} {CAUTION_SPRING} {CAUTION_BRAKE}",
        tools=("trolley jack", "socket set", "drift"),
        corner=hub.corner,
        gates=("off", "support", "witness", "parts"),
        salvage=("spring plates", "centre pins"),
        opens="fitted",
        share=f"leaves in {hub.corner}",
        does=("hub",),
        helpers=1,
    )


def _u_bolts(hub: CornerHub, phase: str) -> StepPlan:
    return tightened(
        phase,
        f"{hub.name}: U-bolts, crosswise, evenly, car on its wheels",
        "New ones. And again after 80 and 800 km.",
        Joint("U-bolts", None, one_use=True, crosswise=True, source="the maker of leaves or U-bolts"),
        corner=hub.corner,
        gates=("ground",),
        share=f"u-bolts {hub.corner}",
        does=("bush tight",),
    )


def hoses(job: JobPlan) -> list[StepPlan]:
    """Brake hoses, lines and fluid: no twist, slack at full droop and both locks, bled before the car moves."""
    parts = ("hose", "brake_lines")
    ends = job.ends(parts)
    steps = [*wheels_off(job)]
    for hub in job.at(ends):
        steps += [
            work(
                "Remove",
                f"{hub.name}: old brake hose off, the pipe held with a second spanner",
                "Plug the pipe; the reservoir's cap stays on.",
                caution=f"{CAUTION_BRAKE} {CAUTION_FLUID}",
                tools=("flare spanners", "plugs"),
                corner=hub.corner,
                gates=("off",),
                share=f"hose off {hub.corner}",
                opens="off hoses",
                does=("hub",),
            ),
            work(
                "Fit",
                f"{hub.name}: new brake hose, untwisted, with new washers; slack at full droop and both locks",
                caution=f"{CAUTION_BRAKE} {CAUTION_FLUID}",
                tools=("flare spanners",),
                corner=hub.corner,
                gates=("off hoses", "parts"),
                opens="fitted hoses",
                consumables=("copper washers",),
                share=f"hose on {hub.corner}",
                does=("hub",),
            ),
        ]
    return [*steps, *brakes_bled(), *wheels_on(job)]


def brakes_bled() -> list[StepPlan]:
    """The brakes bled and held before a wheel goes on: once, whatever opened the circuit.

    >>> [step.does for step in brakes_bled()]
    [('hub', 'brakes bled'), ('brakes bled',)]
    """
    return [
        work(
            "Fit",
            "Brakes bled: farthest corner first unless the maker says otherwise; reservoir never empty",
            "Fluid of the class on the cap, from a sealed bottle; tap the caliper. Quantity recorded.",
            caution=f"{CAUTION_BRAKE} {CAUTION_FLUID}",
            tools=("bleed bottle", "ring spanner"),
            consumables=("brake fluid",),
            gates=("fitted hoses", "bolted brakes"),
            opens="fitted",
            share="brakes bled",
            does=("hub", "brakes bled"),
            helpers=1,
        ),
        work(
            "Fit",
            "Pedal held hard for a minute: no sinking, no damp at any joint; firm before the car moves",
            caution=CAUTION_BRAKE,
            tools=("torch",),
            gates=("fitted",),
            share="pedal held",
            does=("brakes bled",),
            helpers=1,
        ),
    ]


def weights(job: JobPlan) -> list[StepPlan]:
    """Corner weights evened by the collars, and the alignment looked at again."""
    corners = ("FL", "FR", "RL", "RR")
    return [
        work(
            "Settle",
            "Four pads level; tyre pressures set; bar links loose; driver or ballast aboard",
            "Level to a millimetre or two: tiles under the low ones.",
            tools=("four pads", "level"),
            gates=("settled",),
            share="pads level",
            helpers=1,
        ),
        work(
            "Settle",
            "Corners weighed; collars turned as the sheet says; weighed again until it is even",
            "Heights in sight: one turn at one corner moves all four.",
            kind="measure",
            caution=CAUTION_JACK,
            tools=("collar spanners",),
            gates=("settled",),
            reads=tuple(f"corner_mass {corner}" for corner in corners),
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
        work(
            "Settle",
            "Alignment looked at again",
            "Collars that were turned move camber and toe.",
            kind="measure",
            tools=("angle gauge", "strings or toe plates"),
            gates=("settled",),
            reads=tuple(f"{code} {corner}" for code in ("camber", "toe") for corner in corners),
            share="alignment again",
            does=("aligned again",),
        ),
    ]
