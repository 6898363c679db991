"""Modules of steps for springs, dampers, arms and bars. Common practice throughout."""

from __future__ import annotations

from rimcore.tables.facts import CORNER_NAMES
from rimcore.work.modules_base import JobPlan, wheels_off, wheels_on
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_JACK,
    CAUTION_PUBLIC,
    CAUTION_SPRING,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
)

#: faults that are found when a corner is apart; each is a decision with a cost
FOUND = "Weeping damper, play in a joint, gritty top bearing, stripped bolt, rust under a seat: each is a snag, with use, repair or replace and what each costs."
INSPECTED = f"Steering and suspension work needs a licensed inspection where that is required. {LOCAL}"
CAUTION_HEIGHT = (
    f"Ride height, headlamps and a towbar's height are regulated: check local law, inspection body and insurer. {LOCAL}"
)
SPRINGS = ("spring", "helper", "damper", "bump_stop", "top_mount")


def heights(when: str) -> StepPlan:
    """The four heights, before or after."""
    if when == "before":
        return StepPlan(
            "Before",
            "measure",
            "Ride height at every corner, wheel centre to lip",
            "The numbers that the new height is held against.",
            share="heights before",
        )
    return StepPlan(
        "Settle",
        "measure",
        "Ride height at every corner again; even them out",
        "First drop-down is often too low: rubbing on a known dip.",
        CAUTION_PUBLIC,
        gates=("settled",),
        share="heights after",
    )


def dip_test() -> list[StepPlan]:
    """The known dip, and the same one again after the height was changed."""
    return [
        StepPlan(
            "Settle",
            "dip",
            "The known dip, driven as always: cable tie on the damper's shaft",
            "The same place, the same speed. What it took is held against every later height.",
            f"{CAUTION_PUBLIC} {CAUTION_HEIGHT}",
            ("cable ties", "rule"),
            gates=("settled",),
            share="known dip",
        ),
        StepPlan(
            "Settle",
            "dip",
            "It touched or came close: raised, all corners alike, and the same dip again",
            "25 mm is a usual step up. Skip it where the dip was clear.",
            CAUTION_PUBLIC,
            ("collar spanner", "cable ties"),
            gates=("settled",),
            share="same dip again",
        ),
    ]


def rack_centred() -> StepPlan:
    """The rack in its middle before a rod is counted or a toe is set: once."""
    return StepPlan(
        "Before",
        "measure",
        "Rack centred: turns lock to lock counted, half of them back",
        "Or equal stick-out of both rods, to the same edge each side.",
        share="rack centred",
    )


def lock_and_bump() -> StepPlan:
    """Nothing touches at either lock, at ride height and raised: once, whatever asks for it."""
    return StepPlan(
        "Check",
        "do",
        "Full lock both ways, at ride height and at full bump: nothing touches, nothing goes over centre",
        "Wheel to arm, joint bolt to arm, rod to rail, arm to tyre and rim; boots not twisted.",
        INSPECTED,
        ("jack",),
        share="lock and bump",
        helpers=1,
    )


def ends_of(job: JobPlan, *families: str) -> tuple[tuple[str, ...], str]:
    """Ends that some families' parts go on, and the same in words."""
    ends = tuple(end for end in ("F", "R") if any(end in part.ends for part in job.of(*families)))
    return ends, "front and rear" if len(ends) > 1 else "front" if ends == ("F",) else "rear"


def corner_bolts(job: JobPlan, ends: tuple[str, ...], name: str, title: str, one_use: bool = True) -> list[StepPlan]:
    """A torque step at every corner, the car standing at ride height."""
    return [
        tightened(
            "Check",
            f"{CORNER_NAMES[hub.corner].capitalize()}: {title}",
            "Rubber bushes are tightened as they stand. One-use bolts: new ones.",
            Joint(name, None, one_use=one_use, source="the car's handbook"),
            tools=("torque wrench", "socket set"),
            corner=hub.corner,
            share=f"{name} {hub.corner}",
        )
        for hub in job.hubs
        if hub.corner[:1] in ends
    ]


def springs_out(where: str) -> StepPlan:
    """Spring and damper out of a corner: once, whatever wants them out."""
    return StepPlan(
        "Remove",
        "do",
        f"Spring and damper out, {where}: clips, lines and links first",
        f"Mark the top mount's position; support the arm before the last bolt. {FOUND}",
        f"{CAUTION_SPRING} {CAUTION_BRAKE}",
        ("spring compressor", "socket set", "ball joint separator"),
        gates=("off", "witness"),
        salvage=("top mount and its nuts", "bump stop", "spring seats", "old springs and dampers, labelled by corner"),
        share="springs out",
        helpers=1,
    )


def springs_in(where: str) -> StepPlan:
    """Spring and damper back in, both sides alike: once."""
    return StepPlan(
        "Fit",
        "do",
        f"New height set the same on both sides, {where}; spring ends in their seats",
        "Preload and collar measured and locked before it goes in.",
        CAUTION_SPRING,
        ("spring compressor", "rule"),
        gates=("off", "parts"),
        opens="fitted",
        helpers=1,
        share="springs in",
    )


def springs(job: JobPlan) -> list[StepPlan]:
    """Springs, dampers, stops and top mounts.

    Compressed, seated, the same preload on both sides, settled, driven through the dip.
    """
    ends, where = ends_of(job, *SPRINGS)
    names = ", ".join(part.name for part in job.of(*SPRINGS))
    steps = [
        *wheels_off(job),
        heights("before"),
        StepPlan(
            "Before",
            "do",
            f"On the bench: {names} laid beside the old ones",
            "Free lengths measured, left against right; seats and pigtails compared; collars run freely over their thread.",
            "",
            ("rule", "caliper rule"),
            gates=("parts",),
        ),
        springs_out(where),
        StepPlan(
            "Fit",
            "do",
            f"Preload on the bench, {where}: collar wound until the spring is shorter by the maker's figure, then locked",
            "8 mm is usual: 170 becomes 162. Both sides the same, written down.",
            CAUTION_SPRING,
            ("collar spanners", "rule"),
            gates=("off", "parts"),
            share="preload",
        ),
        springs_in(where),
    ]
    if job.of("damper"):
        steps.append(
            StepPlan(
                "Remove",
                "do",
                "Dampers with a cable: unplugged; note whether a fault lamp lights",
                "Ignition off first.",
                gates=("off",),
                share="dampers unplugged",
            )
        )
    return [
        *steps,
        *corner_bolts(job, ends, "Damper bolts", "damper to upright or arm, car at ride height"),
        *corner_bolts(job, ends, "Arm bolts", "arm bolts, car at ride height"),
        *corner_bolts(job, ends, "Top nuts", "top mount and shaft nuts"),
        *wheels_on(job),
        StepPlan(
            "Check",
            "do",
            "Every spring end in its seat, top and bottom; hoses and cables clear at both locks",
            "",
            INSPECTED,
            ("torch",),
            share="seats looked at",
        ),
        heights("after"),
        StepPlan(
            "Settle",
            "do",
            "Headlamps set again; towbar height read",
            "A lower nose lights the road nearer.",
            CAUTION_HEIGHT,
            gates=("settled",),
            share="headlamps",
        ),
        *dip_test(),
    ]


def arms(job: JobPlan) -> list[StepPlan]:
    """Arms, bushes and joints: set to the old one's length eye to eye, tried at bump and droop, tightened at ride
    height.
    """
    families = ("control_arm", "ball_joint", "bush")
    ends, where = ends_of(job, *families)
    names = ", ".join(part.name for part in job.of(*families))
    return [
        *wheels_off(job),
        StepPlan(
            "Remove",
            "do",
            f"Old arms out, {where}: joints parted, springs held",
            f"Support the upright: never by the hose. {FOUND}",
            f"{CAUTION_SPRING} {CAUTION_BRAKE}",
            ("ball joint separator", "socket set"),
            gates=("off", "witness"),
            salvage=("arm bolts, by place", "cam washers, as they stood"),
            share="arms out",
            helpers=1,
        ),
        StepPlan(
            "Fit",
            "measure",
            f"{names}: set to the old one's length, eye to eye",
            "Side by side on the bench, bolts through both. Write both lengths down.",
            "",
            ("rule", "two bolts"),
            gates=("off", "parts"),
            share="eye to eye",
        ),
        StepPlan(
            "Mock-up",
            "trial",
            "Tried by hand at full bump and full droop, left and right apart",
            "Where a bolt or the damper leans into the frame: mark it; what the plate that goes back is thick plus 4 to 5 mm.",
            f"Structural welds by a qualified welder. {LOCAL}",
            ("jack", "marker", "card"),
            gates=("off",),
            opens="mock-up",
            share="frame margin",
            helpers=1,
        ),
        StepPlan(
            "Fit",
            "do",
            f"Arms in, {where}; bolts by hand",
            "",
            INSPECTED,
            ("socket set",),
            gates=("off", "mock-up"),
            opens="fitted",
            share="arms in",
        ),
        *corner_bolts(job, ends, "Arm bolts", "arm bolts, car at ride height"),
        *corner_bolts(job, ends, "Ball joint nuts", "ball joint nuts, pinned or self-locking"),
        *wheels_on(job),
        lock_and_bump(),
    ]


def bar(job: JobPlan) -> list[StepPlan]:
    """Anti-roll bar and links: both sides hanging or both standing, and level at ride height."""
    ends, where = ends_of(job, "roll_bar", "bar_link")
    return [
        *wheels_off(job),
        StepPlan(
            "Remove",
            "do",
            f"Bar and links off, {where}: both wheels hanging alike",
            "A bar under twist jumps when its link comes off.",
            CAUTION_JACK,
            ("socket set",),
            gates=("off", "support"),
            salvage=("brackets and bushes",),
            share="bar off",
        ),
        StepPlan(
            "Fit",
            "do",
            f"Bar on, bushes greased; links set so that its arms stand level at ride height, {where}",
            "Slack in both until the car stands.",
            "",
            ("rule",),
            gates=("off", "parts"),
            opens="fitted",
            consumables=("silicone grease",),
            share="bar on",
        ),
        *corner_bolts(job, ends, "Link nuts", "bar link nuts, car at ride height", one_use=False),
        *wheels_on(job),
    ]
