"""Modules of steps for springs, dampers, arms and bars. Common practice throughout.

Longer than other files: it is one list of steps.
"""

from __future__ import annotations

from collections.abc import Sequence

from rimcore.work.modules_base import CornerHub, JobPlan, ends_text, wheels_off, wheels_on
from rimcore.work.steps import (
    CAUTION_BRAKE,
    CAUTION_JACK,
    CAUTION_PUBLIC,
    CAUTION_SPRING,
    LOCAL,
    Joint,
    StepPlan,
    tightened,
    work,
)

#: faults that are found when a corner is apart; each is a decision with a cost
FOUND = (
    "Weeping damper, play in a joint, gritty top bearing, stripped bolt, rust under a seat: each is a snag, with use, "
    "repair or replace and what each costs."
)
INSPECTED = f"Steering and suspension work needs a licensed inspection where that is required. {LOCAL}"
CAUTION_HEIGHT = (
    f"Ride height, headlamps and a towbar's height are regulated: check local law, inspection body and insurer. {LOCAL}"
)
SPRINGS = ("spring", "helper", "damper", "bump_stop", "top_mount")


def heights(job: JobPlan, when: str) -> StepPlan:
    """The four heights, before or after, read at once.

    >>> heights(JobPlan((CornerHub("FL", 5, None),)), "after").reads
    ('ride_height FL',)
    """
    reads = tuple(f"ride_height {hub.corner}" for hub in job.hubs)
    if when == "before":
        return work(
            "Before",
            "Ride height at every corner, wheel centre to lip",
            "The numbers that the new height is checked against.",
            kind="measure",
            tools=("tape",),
            reads=reads,
            share="heights before",
        )
    return work(
        "Settle",
        "Ride height at every corner again; even them out",
        "First drop-down is often too low: rubbing on a test dip.",
        kind="measure",
        caution=CAUTION_PUBLIC,
        tools=("tape",),
        gates=("settled",),
        reads=reads,
        share="heights after",
    )


def dip_test() -> list[StepPlan]:
    """The known dip, and the same one again after the height was changed; then what the height has moved."""
    return [
        work(
            "Settle",
            "Test dip, driven as always: cable tie on the damper's shaft",
            "The same place, the same speed. What it took is checked against every later height.",
            kind="dip",
            caution=f"{CAUTION_PUBLIC} {CAUTION_HEIGHT}",
            tools=("cable ties", "rule"),
            gates=("settled",),
            share="test dip",
        ),
        work(
            "Settle",
            "It touched or came close: raised, all corners alike, and the same dip again",
            "25 mm is a usual step up. Skip it where the dip was clear.",
            kind="dip",
            caution=CAUTION_PUBLIC,
            tools=("collar spanner", "cable ties"),
            gates=("settled",),
            share="same dip again",
        ),
        work(
            "Settle",
            "Headlamps set again; towbar height read",
            "A lower nose lights the road nearer.",
            caution=CAUTION_HEIGHT,
            gates=("settled",),
            share="headlamps",
        ),
    ]


def rack_centred() -> StepPlan:
    """The rack in its middle before a rod is counted or a toe is set: once.

    >>> rack_centred().reads
    ('rod_stick FL', 'rod_stick FR')
    """
    return work(
        "Before",
        "Rack centred: turns lock to lock counted, half of them back",
        "Or equal stick-out of both rods, to the same edge each side.",
        kind="measure",
        tools=("rule",),
        reads=("rod_stick FL", "rod_stick FR"),
        share="rack centred",
    )


def lock_and_bump() -> StepPlan:
    """Nothing touches at either lock, at ride height and raised: once, whatever asks for it.

    >>> lock_and_bump().phase
    'Check'
    """
    return work(
        "Check",
        "Full lock both ways, at ride height and at full bump: nothing touches, nothing goes over centre",
        "Wheel to arm, joint bolt to arm, rod to rail, arm to tyre and rim; boots not twisted.",
        caution=INSPECTED,
        tools=("jack",),
        share="lock and bump",
        helpers=1,
    )


def corner_bolts(job: JobPlan, ends: Sequence[str], name: str, title: str, one_use: bool = True) -> list[StepPlan]:
    """A torque step at every corner, the car standing at ride height."""
    return [
        tightened(
            "Tighten",
            f"{hub.name}: {title}",
            "Rubber bushes are tightened as they stand." + (" One-use bolts: new ones." if one_use else ""),
            Joint(name, None, one_use=one_use, source="the car's handbook"),
            tools=("torque wrench", "socket set"),
            corner=hub.corner,
            gates=("ground",),
            share=f"{name} {hub.corner}",
            does=("bush tight",),
        )
        for hub in job.at(ends)
    ]


def spring_out(hub: CornerHub) -> StepPlan:
    """Spring and damper out of a corner: once, whatever wants them out."""
    return work(
        "Remove",
        f"{hub.name}: spring and damper out",
        "Brake hose and sensor line off, link off; caliper hung by a wire if the strut carries it. Upright or axle "
        "supported; lower bolts, then the top nuts, never the centre nut of a loaded spring. A spring on an arm or an "
        f"axle: let down slowly until it is free. {FOUND}",
        caution=f"{CAUTION_SPRING} {CAUTION_BRAKE}",
        tools=("spring compressor", "socket set", "ball joint separator", "hook of wire"),
        corner=hub.corner,
        gates=("off", "witness"),
        salvage=("top mount and its nuts", "bump stop and boot", "spring seats", "old springs and dampers, by corner"),
        share=f"spring out {hub.corner}",
        opens="off springs",
        does=("hub", "spring freed"),
        helpers=1,
    )


def preload(job: JobPlan, ends: Sequence[str], phase: str) -> StepPlan:
    """Preload and length of every corner, both sides alike: once, before a strut goes in."""
    return work(
        phase,
        f"Preload on the bench, {ends_text(ends)}: collar wound, both sides alike, then locked",
        "Spring length loose and wound: 8 mm is usual, 170 becomes 162. Damper's length the same left and right.",
        kind="measure",
        caution=CAUTION_SPRING,
        tools=("collar spanners", "rule"),
        gates=("parts",) if phase == "Before" else ("off springs", "parts"),
        reads=tuple(f"preload {hub.corner}" for hub in job.at(ends)),
        share="preload",
        does=("preload",),
    )


def spring_in(hub: CornerHub) -> StepPlan:
    """Spring and damper back into a corner: once.

    >>> spring_in(CornerHub("RL", 5, None)).title
    'Rear left: spring and damper in, top nuts and lower bolts by hand'
    """
    return work(
        "Fit",
        f"{hub.name}: spring and damper in, top nuts and lower bolts by hand",
        "Spring ends in their seats; camber bolts to their marks; hose, sensor line and link back, the hose free at "
        "full lock and droop.",
        caution=CAUTION_SPRING,
        tools=("spring compressor", "socket set"),
        corner=hub.corner,
        gates=("off springs", "parts", "mock-up springs"),
        opens="fitted",
        helpers=1,
        share=f"spring in {hub.corner}",
        does=("hub", "spring in"),
    )


def springs(job: JobPlan) -> list[StepPlan]:
    """Springs, dampers, stops and top mounts.

    Preload set alike, out as one, moved over in a compressor, in by hand, tight at ride height, driven through the dip.
    """
    ends = job.ends(SPRINGS)
    steps = [*wheels_off(job), heights(job, "before")]
    if job.of("damper", "spring"):
        steps.append(preload(job, job.ends(("damper", "spring")), "Before" if job.of("damper") else "Mock-up"))
    if any(part.spec.get("electronic") == "yes" for part in job.of("damper")):
        steps.append(
            work(
                "Remove",
                "Dampers with a cable: unplugged; note whether a fault lamp lights",
                "Ignition off first.",
                gates=("off",),
                share="dampers unplugged",
            )
        )
    return [
        *steps,
        *(spring_out(hub) for hub in job.at(ends)),
        work(
            "Mock-up",
            f"{job.names(*SPRINGS)}: laid beside the old ones; what is used again moved over in a compressor",
            "Free lengths left against right, seats and pigtails compared; top mount, bump stop and boot; collars run "
            "freely. A spring that is shorter when free must still stay in its seats at full droop.",
            caution=CAUTION_SPRING,
            tools=("spring compressor", "rule", "caliper rule"),
            gates=("off springs", "parts"),
            opens="mock-up springs",
            share="springs compared",
        ),
        *(spring_in(hub) for hub in job.at(ends)),
        *wheels_on(job),
        *corner_bolts(job, ends, "Damper bolts", "damper to upright or arm, car at ride height"),
        *corner_bolts(job, ends, "Arm bolts", "arm bolts, car at ride height"),
        *corner_bolts(job, ends, "Top nuts", "top mount to body", one_use=False),
        seats_looked_at(),
        heights(job, "after"),
        *dip_test(),
    ]


def seats_looked_at() -> StepPlan:
    """Ends of the springs, and hoses at lock: once."""
    return work(
        "Check",
        "Every spring end in its seat, top and bottom; hoses and cables clear at both locks",
        caution=INSPECTED,
        tools=("torch",),
        share="seats looked at",
    )


def arms(job: JobPlan) -> list[StepPlan]:
    """Arms and bushes: the old one's length eye to eye, spring force off first, tight at ride height."""
    families = ("control_arm", "bush")
    ends = job.ends(families)
    names = job.names(*families)
    return [
        *wheels_off(job),
        work(
            "Before",
            "Camber, caster and toe read as they are",
            "Caster, tension, trailing and toe arms each move another angle: read it before.",
            kind="measure",
            tools=("angle gauge",),
            reads=tuple(f"{code} {hub.corner}" for code in ("camber", "caster", "toe") for hub in job.at(ends)),
            share="angles as they are",
        ),
        *(
            work(
                "Remove",
                f"{hub.name}: spring force off the arm, upright supported",
                "A jack under the arm, or the spring held by a compressor, until the bolts turn freely.",
                caution=f"{CAUTION_SPRING} {CAUTION_JACK}",
                tools=("trolley jack", "spring compressor"),
                corner=hub.corner,
                gates=("off", "witness"),
                share=f"spring force off {hub.corner}",
                does=("hub", "spring freed"),
            )
            for hub in job.at(ends)
        ),
        *(
            work(
                "Remove",
                f"{hub.name}: play of bushes and joint read, joint split, old arm out",
                f"The joint's nut stays on by two turns until it lets go. Never by the hose. {FOUND}",
                caution=f"{CAUTION_SPRING} {CAUTION_BRAKE}",
                tools=("ball joint separator", "socket set"),
                corner=hub.corner,
                gates=("off", "witness"),
                salvage=("arm bolts, by place", "cam washers, as they stood"),
                reads=(f"joint_play {hub.corner}",),
                share=f"arm out {hub.corner}",
                opens="off arms",
                does=("hub", "arm off"),
                helpers=1,
            )
            for hub in job.at(ends)
        ),
        work(
            "Mock-up",
            f"{names}: set to the old one's length, eye to eye; jam nuts marked",
            "Side by side on the bench, bolts through both. Write both lengths down.",
            kind="measure",
            tools=("rule", "two bolts"),
            gates=("off arms", "parts"),
            reads=tuple(f"arm_length {hub.corner}" for hub in job.at(ends)),
            share="eye to eye",
        ),
        work(
            "Mock-up",
            "Tried by hand at full bump and full droop, left and right apart",
            "Where a bolt or the damper leans into the frame: mark it; what the plate that goes back is thick plus 4 "
            "to 5 mm.",
            kind="trial",
            caution=f"Structural welds by a qualified welder. {LOCAL}",
            tools=("jack", "marker", "card"),
            gates=("off arms", "parts"),
            opens="mock-up arms",
            share="frame margin",
            helpers=1,
        ),
        *(
            work(
                "Fit",
                f"{hub.name}: arm in, bolts by hand",
                "Bushes stay loose until the car stands.",
                caution=INSPECTED,
                tools=("socket set",),
                corner=hub.corner,
                gates=("off arms", "mock-up arms"),
                opens="fitted",
                share=f"arm in {hub.corner}",
                does=("hub",),
            )
            for hub in job.at(ends)
        ),
        *joint_nuts(job, ends),
        *wheels_on(job),
        *corner_bolts(job, ends, "Arm bolts", "arm bolts, car at ride height"),
        lock_and_bump(),
    ]


def joint_nuts(job: JobPlan, ends: Sequence[str], gate: str = "off") -> list[StepPlan]:
    """Joints have no rubber: they are tightened before the wheel hides them."""
    return [
        tightened(
            "Fit",
            f"{hub.name}: ball joint nut, pinned or self-locking",
            "",
            Joint("Ball joint nuts", None, one_use=True, source="the car's handbook"),
            caution=INSPECTED,
            tools=("torque wrench", "socket set"),
            corner=hub.corner,
            gates=(gate,),
            share=f"Ball joint nuts {hub.corner}",
            does=("hub",),
        )
        for hub in job.at(ends)
    ]


def joints(job: JobPlan) -> list[StepPlan]:
    """Ball joints: play by two hands, spring force off, pressed or bolted, boots whole."""
    ends = job.ends(("ball_joint",))
    return [
        *wheels_off(job),
        *(
            work(
                "Remove",
                f"{hub.name}: play of the joint felt by two hands, spring force off, joint split",
                f"Nut on by two turns until the taper lets go; struck at the eye, not at the thread. {FOUND}",
                caution=f"{CAUTION_SPRING} {CAUTION_BRAKE}",
                tools=("ball joint separator", "trolley jack", "pry bar"),
                corner=hub.corner,
                gates=("off", "witness"),
                reads=(f"joint_play {hub.corner}",),
                share=f"joint split {hub.corner}",
                opens="off joints",
                does=("hub", "spring freed"),
            )
            for hub in job.at(ends)
        ),
        *(
            work(
                "Fit",
                f"{hub.name}: {job.names('ball_joint')} pressed or bolted in, square; circlip home, boot whole",
                "Pressed on its outer ring, never through the stud.",
                caution=INSPECTED,
                tools=("joint press", "circlip pliers"),
                corner=hub.corner,
                gates=("off joints", "parts"),
                opens="fitted",
                share=f"joint in {hub.corner}",
                does=("hub",),
            )
            for hub in job.at(ends)
        ),
        *joint_nuts(job, ends),
        *wheels_on(job),
        lock_and_bump(),
    ]


def bar(job: JobPlan) -> list[StepPlan]:
    """Anti-roll bar and links: both sides hanging or both standing, and level at ride height."""
    ends = job.ends(("roll_bar", "bar_link"))
    where = ends_text(ends)
    return [
        *wheels_off(job),
        work(
            "Remove",
            f"Bar and links off, {where}: both wheels hanging alike",
            "A bar under twist jumps when its link comes off.",
            caution=CAUTION_JACK,
            tools=("socket set",),
            gates=("off", "support"),
            salvage=("brackets and bushes",),
            share="bar off",
            opens="off bar",
            does=("hub",),
        ),
        work(
            "Fit",
            f"Bar on, bushes greased; links set so that its arms stand level at ride height, {where}",
            "Slack in both until the car stands.",
            tools=("rule",),
            gates=("off bar", "parts"),
            opens="fitted",
            consumables=("silicone grease",),
            share="bar on",
            does=("hub",),
        ),
        *wheels_on(job),
        *corner_bolts(job, ends, "Link nuts", "bar link nuts, car at ride height", one_use=False),
    ]
