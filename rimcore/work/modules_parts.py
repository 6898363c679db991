"""Modules of steps for the parts of each family. Common practice throughout."""

from __future__ import annotations

from rimcore.braking.bench import BED_IN
from rimcore.tables.facts import CORNER_NAMES
from rimcore.work.modules_base import JobPlan, wheels_off, wheels_on
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_FLUID,
    CAUTION_PUBLIC,
    CAUTION_ROAD,
    CAUTION_TORQUE,
    Joint,
    StepPlan,
)


def wheels(job: JobPlan) -> list[StepPlan]:
    """New wheels or tyres: the bare rim is tried before anything is paid for."""
    fit_tools = ("bare rim", "card 3 mm thick", "torch")
    return [
        *wheels_off(job),
        StepPlan(
            "Mock-up",
            "trial",
            "Bare rim first: on by hand, flat on the hub, turned once",
            "Before paying for tyres: over the collar, flat on the face, card between caliper and barrel and between caliper and spokes all the way round.",
            "",
            fit_tools,
            gates=("off",),
            opens="mock-up",
        ),
        *wheels_on(job),
        StepPlan(
            "Settle",
            "do",
            "Weigh the old wheels with their tyres, label where each stood, store them lying down",
            "",
            "",
            ("scale",),
            gates=("settled",),
        ),
    ]


def rings(job: JobPlan) -> list[StepPlan]:
    return [
        StepPlan(
            "Fit",
            "do",
            f"{part.name}, {part.where}: on the collar by hand, flat all round",
            "A trace of anti-seize, none on the seats. A ring that has to be hammered is the wrong one.",
            consumables=("anti-seize paste",),
            gates=("off", "parts"),
            opens="fitted",
        )
        for part in job.of("ring")
    ]


def spacers(job: JobPlan) -> list[StepPlan]:
    """A slip-on spacer lies flat; a bolt-on one has nuts of its own that are tightened first."""
    steps = wheels_off(job)
    for part in job.of("spacer"):
        steps.append(
            StepPlan(
                "Fit",
                "do",
                f"{part.name}, {part.where}: flat on the clean face",
                "Rust under a spacer is runout at the rim.",
                CAUTION_ROAD,
                ("wire brush", "straight-edge"),
                gates=("off", "parts"),
                opens="spacers" if part.spec.get("kind") == "bolted" else "fitted",
            )
        )
        if part.spec.get("kind") == "bolted":
            steps += [
                StepPlan(
                    phase="Fit",
                    kind="torque",
                    title=f"{CORNER_NAMES[hub.corner].capitalize()}: the spacer's own nuts, crosswise",
                    detail="They are hidden under the wheel: torque them now, and again after 80 km.",
                    caution=CAUTION_TORQUE,
                    tools=("torque wrench",),
                    corner=hub.corner,
                    torque_nm=None,
                    stage="full",
                    lugs=hub.lugs,
                    gates=("off", "spacers"),
                    opens="fitted",
                    joint=Joint(
                        name="Spacer's own nuts",
                        count=hub.lugs,
                        torque_nm=None,
                        angle_deg=None,
                        thread=hub.thread,
                        grade="",
                        one_use=False,
                        crosswise=True,
                        source="the spacer's maker",
                    ),
                )
                for hub in job.hubs
                if hub.corner[:1] in part.ends
            ]
    return [*steps, *wheels_on(job)]


def studs(job: JobPlan) -> list[StepPlan]:
    steps = wheels_off(job)
    for part in job.of("stud"):
        steps += [
            StepPlan(
                "Remove",
                "do",
                f"Old studs out, {part.where}: one by one, the hub's flange borne",
                "Press or a drift with the flange held; mark the first hole.",
                CAUTION_BRAKE,
                ("stud press or drift",),
                gates=("off", "witness"),
                salvage=("one old stud, to compare the knurl",),
            ),
            StepPlan(
                "Fit",
                "do",
                f"{part.name}, {part.where}: drawn in until the head lies on the flange",
                "An open nut turned round, greased washers under it; never with the wheel as the press.",
                "",
                ("open nut and washers", "torque wrench"),
                consumables=("grease",),
                gates=("off", "parts"),
                opens="fitted",
            ),
        ]
    return [*steps, *wheels_on(job)]


def nuts(job: JobPlan) -> list[StepPlan]:
    return [
        StepPlan(
            "Before",
            "do",
            f"{part.name}: each run by hand over a whole thread, seat against the wheel's",
            "One that binds is the wrong pitch. No oil on the seats: it lies to the wrench.",
            tools=("thread gauge",),
            gates=("parts",),
            salvage=("the old nuts, with their key",),
        )
        for part in job.of("nut", "bolt")
    ]


def valves(job: JobPlan) -> list[StepPlan]:
    """Valves and sensors go into the rims before the tyres do."""
    steps = []
    for part in job.of("valve", "sensor"):
        steps.append(
            StepPlan(
                "Before",
                "do",
                f"{part.name}: into the rims before the tyres, hole measured",
                "Stem outward, core tight, sensor clear of the well.",
                tools=("caliper rule",),
                consumables=("valve cores", "tyre soap"),
                gates=("parts",),
            )
        )
        if part.spec.get("style") == "metal":
            steps.append(
                StepPlan(
                    phase="Before",
                    kind="torque",
                    title=f"{part.name}: the stems' nuts",
                    detail="A small wrench: the figure is a few N·m.",
                    caution="",
                    tools=("small torque wrench",),
                    corner="",
                    torque_nm=None,
                    stage="full",
                    lugs=part.quantity,
                    gates=("parts",),
                    joint=Joint("Valve stem nuts", part.quantity, source="the valve's maker"),
                )
            )
    return steps


def brakes(job: JobPlan) -> list[StepPlan]:
    """Calipers and rotors: cold, hung by a wire, tried with the wheel before the circuit is opened."""
    parts = job.of("caliper", "rotor", "brake_pads")
    if not parts:
        return []
    ends = tuple(dict.fromkeys(end for part in parts for end in part.ends))
    corners = [hub for hub in job.hubs if hub.corner[:1] in ends]
    calipers = any(part.family == "caliper" for part in parts)
    steps = [
        *wheels_off(job),
        StepPlan(
            "Before",
            "do",
            "Brakes cold; fluid level noted; cap loose",
            "",
            CAUTION_BRAKE,
            opens="cold",
            consumables=("brake cleaner", "rags"),
        ),
        StepPlan(
            "Remove",
            "do",
            "Caliper off, hung by a wire; rotor off",
            "Bracket bolts bagged by corner. Copper wire, never the hose.",
            CAUTION_BRAKE,
            ("hook of wire", "socket set"),
            gates=("off", "cold", "witness"),
            salvage=("bracket bolts, by corner", "pad springs and pins"),
            share="rotor off",
        ),
        StepPlan(
            "Mock-up",
            "trial",
            "New rotor and caliper on by hand, wheel over them, turned once",
            "Card between caliper and barrel, caliper and spokes; bleed screw at the top; rotor's vanes by its side.",
            "",
            ("card 3 mm thick", "torch"),
            gates=("off",),
            opens="mock-up",
        ),
        StepPlan(
            "Fit",
            "do",
            f"{', '.join(part.name for part in parts)}: on a clean hub, faces degreased",
            "Rust behind a rotor is a pulsing pedal.",
            CAUTION_BRAKE,
            ("wire brush", "dial gauge"),
            consumables=("brake cleaner", "brake grease"),
            gates=("off", "mock-up", "parts"),
            share="brakes on",
        ),
    ]
    steps += [
        StepPlan(
            phase="Fit",
            kind="torque",
            title=f"{CORNER_NAMES[hub.corner].capitalize()}: caliper bracket bolts",
            detail="Thread locker only where the maker had it.",
            caution=CAUTION_BRAKE,
            tools=("torque wrench", "socket set"),
            corner=hub.corner,
            torque_nm=None,
            stage="full",
            lugs=2,
            consumables=("thread locker",),
            gates=("mock-up",),
            opens="bolted" if calipers else "fitted",
            joint=Joint("Caliper bracket bolts", 2, source="the maker or the car's handbook"),
        )
        for hub in corners
    ]
    if calipers:
        steps += [
            StepPlan(
                "Fit",
                "do",
                "Hoses on with new copper washers; bleed, furthest corner first",
                "Keep the reservoir filled; tap the caliper; pedal firm at the end.",
                f"{CAUTION_BRAKE} {CAUTION_FLUID}",
                ("bleed bottle", "ring spanner"),
                consumables=("brake fluid", "copper washers"),
                helpers=1,
                gates=("bolted",),
                opens="fitted",
            ),
            StepPlan(
                "Check",
                "do",
                "Pedal held hard for a minute: no sinking, no damp at any joint",
                "",
                CAUTION_BRAKE,
                ("torch",),
                helpers=1,
            ),
        ]
    steps += [
        *wheels_on(job),
        StepPlan(
            "Settle",
            "do",
            "Bed the pads in as their maker says, else: " + " ".join(BED_IN[:3]),
            BED_IN[3],
            CAUTION_PUBLIC,
            gates=("settled",),
        ),
    ]
    return steps


def other(job: JobPlan) -> list[StepPlan]:
    return [
        StepPlan(
            "Fit",
            "do",
            f"{part.name}, {part.where}" if len(part.ends) == 1 else part.name,
            "As its maker says; note what was not as expected.",
            gates=("parts",),
        )
        for part in job.of("other", "cap")
    ]
