"""Modules of steps for the parts of each family. Common practice throughout.

Longer than other files: it is one list of steps.
"""

from __future__ import annotations

from rimcore.braking.bench import BED_IN
from rimcore.work.modules_base import JobPlan, PartOn, on_stands, wheels_off, wheels_on
from rimcore.work.modules_running import brakes_bled
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_FLUID,
    CAUTION_PUBLIC,
    CAUTION_ROAD,
    CAUTION_TORQUE,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
    work,
)


def wheels(job: JobPlan) -> list[StepPlan]:
    """New wheels or tyres: the bare rim is tried before anything is paid for."""
    return [
        *wheels_off(job),
        work(
            "Mock-up",
            "Bare rim first: on by hand, flat on the hub, turned once",
            "Before paying for tyres: over the collar, flat on the face, card between caliper and barrel and between "
            "caliper and spokes all the way round.",
            kind="trial",
            tools=("bare rim", "card 3 mm thick", "torch"),
            gates=("off",),
            opens="mock-up",
            share="bare rim",
        ),
        *wheels_on(job),
        work(
            "Settle",
            "Weigh the old wheels with their tyres, label where each stood, store them lying down",
            tools=("scale",),
            gates=("settled",),
            share="old wheels weighed",
        ),
    ]


def rings(job: JobPlan) -> list[StepPlan]:
    steps = wheels_off(job)
    for part in job.of("ring"):
        steps += [
            work(
                "Fit",
                f"{hub.name}: {part.name} on the collar by hand, flat all round",
                "A trace of anti-seize, none on the seats. A ring that has to be hammered is the wrong one.",
                corner=hub.corner,
                consumables=("anti-seize paste",),
                gates=("off", "parts"),
                opens="fitted",
                does=("hub",),
            )
            for hub in job.at(part.ends)
        ]
    return [*steps, *wheels_on(job)]


def spacers(job: JobPlan) -> list[StepPlan]:
    """A slip-on spacer lies flat; a bolt-on one has nuts of its own that are tightened first."""
    steps = wheels_off(job)
    for part in job.of("spacer"):
        bolted = part.spec.get("kind") == "bolted"
        for hub in job.at(part.ends):
            steps.append(
                work(
                    "Fit",
                    f"{hub.name}: {part.name} flat on the clean face",
                    "Rust under a spacer is runout at the rim.",
                    caution=CAUTION_ROAD,
                    tools=("wire brush", "straight-edge"),
                    corner=hub.corner,
                    gates=("off", "parts"),
                    opens=f"spacers {hub.corner}" if bolted else "fitted",
                    does=("hub",),
                )
            )
            if bolted:
                steps.append(
                    tightened(
                        "Fit",
                        f"{hub.name}: the spacer's own nuts, crosswise",
                        "They are hidden under the wheel: torque them now, and again after 80 km.",
                        Joint(
                            "Spacer's own nuts",
                            hub.lugs,
                            thread=hub.thread,
                            crosswise=True,
                            source="the spacer's maker",
                        ),
                        caution=CAUTION_TORQUE,
                        corner=hub.corner,
                        lugs=hub.lugs,
                        gates=("off", f"spacers {hub.corner}"),
                        opens="fitted",
                        does=("hub",),
                    )
                )
    return [*steps, *wheels_on(job)]


def studs(job: JobPlan) -> list[StepPlan]:
    steps = wheels_off(job)
    for part in job.of("stud"):
        for hub in job.at(part.ends):
            steps += [
                work(
                    "Remove",
                    f"{hub.name}: old studs out one by one, hub flange supported",
                    "Press or a drift with the flange held; mark the first hole.",
                    caution=CAUTION_BRAKE,
                    tools=("stud press or drift",),
                    corner=hub.corner,
                    gates=("off", "witness"),
                    salvage=("one old stud, to compare the knurl",),
                    opens=f"off studs {hub.corner}",
                    does=("hub",),
                ),
                work(
                    "Fit",
                    f"{hub.name}: {part.name} drawn in until the head lies on the flange",
                    "An open nut turned round, greased washers under it; never with the wheel as the press.",
                    tools=("open nut and washers", "torque wrench"),
                    corner=hub.corner,
                    consumables=("grease",),
                    gates=(f"off studs {hub.corner}", "parts"),
                    opens="fitted",
                    does=("hub",),
                ),
            ]
    return [*steps, *wheels_on(job)]


def nuts(job: JobPlan) -> list[StepPlan]:
    """Nuts or bolts of the wheels, each run by hand before the wheel hides the stud."""
    return [
        *wheels_off(job),
        *(
            work(
                "Before",
                f"{part.name}: each run by hand over a whole thread, seat against the wheel's",
                "One that binds is the wrong pitch. No oil on the seats: it lies to the wrench.",
                tools=("thread gauge",),
                gates=("parts",),
                salvage=("the old nuts, with their key",),
            )
            for part in job.of("nut", "bolt")
        ),
        *wheels_on(job),
    ]


def valves(job: JobPlan) -> list[StepPlan]:
    """Valves and sensors go into the rims before the tyres do."""
    steps = []
    for part in job.of("valve", "sensor"):
        steps.append(
            work(
                "Before",
                f"{part.name}: into the rims before the tyres, hole measured",
                "Stem outward, core tight, sensor clear of the well.",
                tools=("caliper rule",),
                consumables=("valve cores", "tyre soap"),
                gates=("parts",),
            )
        )
        if part.spec.get("style") == "metal":
            steps.append(
                tightened(
                    "Before",
                    f"{part.name}: the stems' nuts",
                    "A small wrench: the figure is a few N·m.",
                    Joint("Valve stem nuts", part.quantity, source="the valve's maker"),
                    caution="",
                    tools=("small torque wrench",),
                    lugs=part.quantity,
                    gates=("parts",),
                )
            )
    return steps


BRAKED = ("caliper", "rotor", "brake_pads")


def brakes(job: JobPlan) -> list[StepPlan]:
    """Calipers, rotors, pads: cold, hung by a wire, tried with the wheel before the circuit is opened."""
    parts = job.of(*BRAKED)
    if not parts:
        return []
    calipers = bool(job.of("caliper"))
    steps = [
        *wheels_off(job),
        work(
            "Before",
            "Brakes cold; fluid level noted; cap loose",
            caution=CAUTION_BRAKE,
            opens="cold",
            consumables=("brake cleaner", "rags"),
            share="brakes cold",
        ),
    ]
    for hub in job.at(job.ends(BRAKED)):
        steps += [
            work(
                "Remove",
                f"{hub.name}: caliper off and hung by a wire; pads and disc off",
                "Bracket bolts bagged by corner. Copper wire, never the hose.",
                caution=CAUTION_BRAKE,
                tools=("hook of wire", "socket set"),
                corner=hub.corner,
                gates=("off", "cold", "witness"),
                salvage=("bracket bolts, by corner", "pad springs and pins"),
                share=f"disc off {hub.corner}",
                opens="off brakes",
                does=("hub",),
            ),
            work(
                "Mock-up",
                f"{hub.name}: new disc and caliper on by hand, wheel over them, turned once",
                "Card between caliper and barrel, caliper and spokes; bleed screw at the top; disc's hat and vanes by "
                "its side.",
                kind="trial",
                tools=("card 3 mm thick", "torch"),
                corner=hub.corner,
                gates=("off brakes", "parts"),
                opens="mock-up brakes",
                share=f"brakes tried {hub.corner}",
                does=("hub",),
            ),
            work(
                "Fit",
                f"{hub.name}: {job.names(*BRAKED)} on a clean hub, faces degreased",
                "Rust behind a disc is a pulsing pedal: run-out read. Guide pins greased; pistons pushed back slowly, "
                "the reservoir watched.",
                caution=CAUTION_BRAKE,
                tools=("wire brush", "dial gauge", "piston press"),
                corner=hub.corner,
                consumables=("brake cleaner", "brake grease"),
                gates=("off brakes", "mock-up brakes", "parts"),
                share=f"brakes on {hub.corner}",
                opens="on brakes",
                does=("hub",),
            ),
            tightened(
                "Fit",
                f"{hub.name}: caliper bracket bolts",
                "Thread locker only where the maker had it.",
                Joint("Caliper bracket bolts", 2, source="the maker or the car's handbook"),
                caution=CAUTION_BRAKE,
                tools=("torque wrench", "socket set"),
                corner=hub.corner,
                lugs=2,
                consumables=("thread locker",),
                gates=("on brakes",),
                opens="bolted brakes" if calipers else "fitted",
                share=f"bracket bolts {hub.corner}",
                does=("hub",),
            ),
        ]
        if calipers:
            steps.append(
                work(
                    "Fit",
                    f"{hub.name}: brake hose on the new caliper with new copper washers",
                    caution=f"{CAUTION_BRAKE} {CAUTION_FLUID}",
                    tools=("flare spanners",),
                    corner=hub.corner,
                    consumables=("copper washers",),
                    gates=("on brakes",),
                    opens="bolted brakes",
                    share=f"caliper hose {hub.corner}",
                    does=("hub",),
                )
            )
    if calipers:
        steps += brakes_bled()
    return [
        *steps,
        *wheels_on(job),
        work(
            "Check",
            "Pedal pumped until it is firm, before the car moves",
            "The first strokes only bring the pads to the discs.",
            caution=CAUTION_BRAKE,
            share="pedal pumped",
            does=("brakes bled",),
        ),
        work(
            "Settle",
            "Bed the pads in as their maker says, else: " + " ".join(BED_IN[:3]),
            BED_IN[3],
            caution=CAUTION_PUBLIC,
            gates=("settled",),
            share="bedded in",
        ),
    ]


#: families without work of their own: they go on with what they belong to
ALONG = ("cap", "clamp")


def other(job: JobPlan) -> list[StepPlan]:
    """Parts by name: the steps that its place asks for, and its own."""
    steps: list[StepPlan] = []
    alone = all(part.family in ("other", *ALONG) for part in job.parts)
    for part in job.of("other", *(ALONG if alone else ())):
        reach = str(part.spec.get("reach") or "nothing")
        before, gate, does, after = _reached(job, part, reach)
        steps += before
        steps.append(
            work(
                "Fit",
                f"{part.name}, {part.where}" if len(part.ends) == 1 else part.name,
                "As its maker says; note what was not as expected.",
                gates=("parts", *gate),
                opens="fitted" if reach == "wheels" else "",
                does=does,
            )
        )
        steps += after
    return steps


def _reached(
    job: JobPlan, part: PartOn, reach: str
) -> tuple[list[StepPlan], tuple[str, ...], tuple[str, ...], list[StepPlan]]:
    """How a part by name is reached: steps before, gates, what its fitting does to the car, steps after."""
    if reach == "wheels" and job.hubs:
        return wheels_off(job), ("off",), ("hub",), wheels_on(job)
    if reach == "stands":
        return on_stands(), ("support",), ("under car",), []
    if reach == "bumper":
        return [bumper_off()], ("off bumper",), (), [bumper_on()]
    if reach == "interior":
        off = work(
            "Remove",
            f"Trim or seat out that is in the way of {part.name}",
            "Plugs of seats and bags only with the battery off and waited for.",
            caution=f"Airbags and pretensioners can fire: a qualified person. {LOCAL}",
            tools=("trim tool",),
            salvage=("trim clips",),
            opens="off interior",
            share=f"trim out {part.name}",
        )
        back = work("Check", f"Trim or seat back; lamps as before, after {part.name}", share=f"trim in {part.name}")
        return [off], ("off interior",), (), [back]
    if reach == "battery":
        off = work(
            "Before",
            "Battery off, minus first; codes and settings noted",
            caution="Minus off first and on last. A spanner across the poles burns.",
            tools=("spanner 10 mm",),
            opens="cold battery",
            share="battery off",
        )
        back = work("Check", "Battery on, minus last; lamps as before", tools=("spanner 10 mm",), share="battery on")
        return [off], ("cold battery",), (), [back]
    return [], (), (), []


def bumper_off() -> StepPlan:
    """The bumper off, or the screws that carry its lower edge: once.

    >>> bumper_off().opens
    'off bumper'
    """
    return work(
        "Remove",
        "Bumper off, or the screws that carry its lower edge",
        "Lamps' plugs and washer hose first; two people, a blanket on the floor.",
        tools=("screwdrivers", "trim tool"),
        salvage=("bumper screws and clips",),
        gates=("witness",),
        opens="off bumper",
        share="bumper off",
        helpers=1,
    )


def bumper_on() -> StepPlan:
    """The bumper back: once."""
    return work(
        "Check",
        "Bumper back on: even gaps, lamps and washers work",
        tools=("screwdrivers",),
        share="bumper on",
        helpers=1,
    )
