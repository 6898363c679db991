"""Eighteen kinds of work, declared for the help: what each takes, where it is checked, and its steps from the sheets."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from rimcore.families import FAMILIES
from rimcore.quantities.errors import BadInput
from rimcore.work.jobsheet import CornerHub, JobPlan, PartOn, StepPlan, job_sheet, modules_of, tools_of

#: a car of five nuts a wheel, for the sheets that help shows
HUBS = tuple(CornerHub(corner, 5, None) for corner in ("FL", "FR", "RL", "RR"))
MODULES_OF = {key: family.modules for key, family in FAMILIES.items()}


@dataclass(frozen=True, kw_only=True)
class Work:
    """A kind of work as people name it.

    ``families`` and ``levers`` make its job sheet; ``benches`` are where it is checked; ``before`` is what is read
    first; ``choices`` are the ways to do it, each with what it costs; ``dangers`` defer to people who are licensed.
    """

    key: str
    name: str
    about: str
    families: tuple[str, ...] = ()
    levers: tuple[str, ...] = ()
    ends: tuple[str, ...] = ("F", "R")
    benches: tuple[str, ...] = ()
    before: tuple[str, ...] = ()
    choices: Mapping[str, str] = field(default_factory=dict)
    dangers: str = ""
    measured: str = ""

    @property
    def steps(self) -> tuple[StepPlan, ...]:
        """The job sheet of it, on a car with five nuts a wheel.

        >>> WORKS["wheels"].steps[0].phase
        'Before'
        """
        parts = tuple(
            PartOn(
                key,
                FAMILIES[key].plural.capitalize(),
                ends=tuple(end for end in self.ends if end in FAMILIES[key].ends),
            )
            for key in self.families
        )
        plan = JobPlan(
            tuple(hub for hub in HUBS if hub.corner[0] in self.ends), parts, dict.fromkeys(self.levers, self.ends)
        )
        return job_sheet(plan, modules_of(plan, MODULES_OF))

    @property
    def tools(self) -> tuple[str, ...]:
        """Every tool of its sheet, once."""
        return tuple(tools_of(self.steps))


_LAW = "Local codes and the inspection body decide; licensed people do what is safety work."
_ALL: tuple[Work, ...] = (
    Work(
        key="wheels",
        name="Wheels and tyres",
        about="Another width, offset or size, square or staggered, so that nothing touches at rest, at lock and in bump.",
        families=("wheel", "tyre", "nut"),
        benches=("well", "gearing"),
        before=("damper", "arch_12", "liner_front_lock", "bump", "camber"),
        choices={
            "a lower offset": "stands out: arch and scrub radius",
            "a spacer": "thread and hub spigot have to suit; local law",
            "rolling the lip": "a few millimetres, paint at risk",
            "more camber": "tucks the top in, wears the inside edge",
        },
        dangers=f"Nuts to the figure of the car on the ground, again after the first drives. {_LAW}",
        measured="gaps read again at the same stations, true speed",
    ),
    Work(
        key="rings",
        name="Centring rings and a shake",
        about="A shake once a turn: what it can be, in which order to test, and a ring that fits hub and wheel.",
        families=("ring",),
        benches=("well",),
        before=("damper",),
        choices={
            "solid metal": "stays centred, sticks with rust",
            "hollow plastic": "goes on by hand, lets the wheel shift",
        },
        dangers="A wheel that is loose on its seat comes off: check the nuts first.",
        measured="the shake on the same road at the same speed",
    ),
    Work(
        key="coilovers",
        name="Coilovers",
        about="Height and springs in one: stroke at the height wanted, preload, frequency, and what alignment it needs.",
        families=("damper", "spring"),
        levers=("ride_drop_mm",),
        benches=("ride", "well", "alignment"),
        before=("ride_height", "bump", "droop", "corner_mass"),
        choices={
            "lower by the collar": "takes bump travel on some, preload on others",
            "lower by the lower mount": "keeps the stroke, and the preload",
        },
        dangers=f"A compressed spring stores lethal energy: the right compressor, or a workshop. {_LAW}",
        measured="four ride heights, preload, the test dip",
    ),
    Work(
        key="springs",
        name="Springs on a rusty car",
        about="Other springs between the old seats, where every bolt has rusted: soak, heat, save, and what to order first.",
        families=("spring",),
        levers=("ride_drop_mm",),
        benches=("ride",),
        before=("ride_height", "bump"),
        choices={
            "new bolts and mounts at once": "dearer, saves a second time",
            "only what breaks": "the car may stand for days",
        },
        dangers="A compressed spring stores lethal energy. Heat sets fire to bushes, seals and undercoat.",
        measured="four ride heights, before and after it has settled",
    ),
    Work(
        key="caster",
        name="Caster and camber",
        about="Plates, arms or bolts that turn the angles to what the use wants, and which turn does what on this car.",
        families=("top_mount", "control_arm"),
        levers=("camber_deg",),
        ends=("F",),
        benches=("alignment", "geometry"),
        before=("camber", "caster", "toe"),
        choices={
            "camber plates": "fast to set, noisy",
            "eccentric bolts": "cheap, a little range",
            "arms": "range, cost, bushes",
        },
        dangers=f"An alignment by licensed people before hard driving. {_LAW}",
        measured="camber, caster and toe, read as before",
    ),
    Work(
        key="rack",
        name="Rack forward",
        about="Over centre with much lock: how far the rack has to go, rods, shaft, lines and bump steer with it.",
        families=("rack_bracket", "tie_rod"),
        levers=("rack_forward_mm",),
        ends=("F",),
        benches=("steering", "geometry"),
        before=("steer_plan", "toe_bump", "rod_stick"),
        choices={
            "bolt-in bracket": "can go back",
            "cut and welded mounts": "cheap, can't be undone",
            "limit the lock": "costs turning circle",
        },
        dangers=f"Steering is safety work: welded by a qualified welder, inspected before the road. {_LAW}",
        measured="stick-out, toe, both locks free of everything",
    ),
    Work(
        key="lock",
        name="Lock clearance with other arms",
        about="A tyre that touches the arm at full lock: arms with another bend, the lock stop, or a narrower set.",
        families=("control_arm",),
        ends=("F",),
        benches=("well", "steering"),
        before=("arm_front_lock", "arm_rear_lock", "lock_out"),
        choices={"an arm with a bend": "gap without losing lock", "a lock stop": "free, turning circle"},
        dangers=_LAW,
        measured="the gap at full lock, read again after fitting",
    ),
    Work(
        key="shifter",
        name="Shifter",
        about="A shorter throw: how much shorter, how much heavier, bushes and cables with it.",
        families=("shifter", "shifter_bush"),
        ends=("F",),
        benches=("gearing",),
        before=("throw",),
        choices={"a short lever": "heavier by the same ratio", "bushes only": "less slop, the same throw"},
        dangers="Chocks under the wheels while it is in neutral.",
        measured="throw at the knob, first to second",
    ),
    Work(
        key="crossmember",
        name="Crossmember or subframe",
        about="Out, another in, square by four marks; engine carried, steering parted, everything tried in the air first.",
        families=("subframe",),
        levers=("crossmember",),
        ends=("F",),
        benches=("square", "alignment"),
        choices={"used": "cheap, measure it for a knock", "new or tubular": "dearer, its own mounts"},
        dangers=f"The engine hangs on something else: two people, a proper beam. {_LAW}",
        measured="four sides and both diagonals, then the alignment",
    ),
    Work(
        key="lift",
        name="Lift, gears, brakes",
        about="Leaves or blocks, larger tyres, the axle ratio that gives the revs back, and brakes for the load.",
        families=("leaf_pack", "u_bolt", "axle_gears", "brake_pads"),
        levers=("axle_ratio",),
        ends=("R",),
        benches=("ride", "gearing", "brakes"),
        before=("ride_height", "driveline", "true_speed"),
        choices={"leaves": "ride and load", "blocks": "cheap, axle wind-up; never stacked, never in front"},
        dangers=f"Stability falls with height. U-bolts are used once. {_LAW}",
        measured="heights, angles of the driveline, revs at cruise, stopping",
    ),
    Work(
        key="intake",
        name="Intake",
        about="Bore, bends and filter as they run: velocity, loss, and whether the airflow meter still reads true.",
        families=("intake_pipe", "coupler", "air_filter"),
        ends=("F",),
        benches=("breathing",),
        choices={
            "keep the original meter housing": "no tuning",
            "a larger one": "has to be calibrated, by somebody who can",
        },
        dangers="Emissions law may forbid it. A loose clamp is an air leak: lean.",
        measured="pulls before and after in the same air, trims",
    ),
    Work(
        key="exhaust",
        name="Exhaust",
        about="Bore, silencers and joints, room round what heat harms, drone, and what the sound law says.",
        families=("mid_pipe", "silencer", "tail_tip", "hanger"),
        ends=("R",),
        benches=("breathing", "sound"),
        before=("exhaust_body", "exhaust_shaft", "exhaust_heat"),
        choices={"cat-back": "sound, little power", "whole": "power, law"},
        dangers=f"Never under a car on a jack alone; hot for an hour. Noise and emissions law. {_LAW}",
        measured="sound at idle, cruise and wide open, gaps with the engine rocked",
    ),
    Work(
        key="panel",
        name="Belly panel",
        about="A flat floor from a card's readings: sheet, fasteners, heat, and what it saves by the tank.",
        families=("panel", "insert"),
        ends=("F",),
        benches=("air",),
        before=("panel_heat",),
        choices={"corrugated plastic": "cheap, light, melts", "aluminium": "dear, stays"},
        dangers="Nothing that burns near the exhaust; nothing that can come loose.",
        measured="fuel by the tank, coast-down both ways",
    ),
    Work(
        key="splitter",
        name="Splitter",
        about="Lip height over kerb and trailer, tethers, brackets that carry it, and the slopes it gets over.",
        families=("splitter", "splitter_adjuster"),
        ends=("F",),
        benches=("air",),
        before=("lip_height", "bump"),
        choices={"plywood": "cheap, wears", "aluminium or glass": "light, cracks"},
        dangers="What comes off at speed hits somebody: tethers, and no sharp edge for people on foot.",
        measured="lip height, the worst slope driven over",
    ),
    Work(
        key="weight",
        name="Weight out",
        about="What comes out for most kilograms per hour and money, what must stay, and where the corners end up.",
        families=("seat", "battery"),
        levers=("strip_out",),
        benches=("mass", "weights"),
        before=("car_mass", "corner_mass"),
        choices={"bolted out": "goes back", "cut out": "does not"},
        dangers="Airbags and belts are for qualified people; battery off and waited for.",
        measured="the whole car and four pads, same fuel",
    ),
    Work(
        key="radiator",
        name="Radiator and bleed",
        about="Core, hoses, cap and thermostat, then the bleed until both hoses hold still.",
        families=("radiator", "coolant_hose", "coolant"),
        ends=("F",),
        benches=("cooling",),
        choices={"full-width core": "cools, blocks air to the rest", "the old size": "fits"},
        dangers="Hot coolant scalds; it is poison; a fan starts by itself.",
        measured="the bleed run, temperatures on a hot day",
    ),
    Work(
        key="radiator_mount",
        name="Radiator mount, made",
        about="A core of another size in the old place: brackets, rubber, room to fan, bonnet and condenser.",
        families=("radiator", "other"),
        ends=("F",),
        benches=("cooling",),
        choices={"rubber feet, brackets above": "shakes free of the body", "bolted hard": "cracks the tanks"},
        dangers="Sharp edges against hoses; welded by somebody who can.",
        measured="gaps cold, then after the first drive",
    ),
    Work(
        key="brakes",
        name="Brakes and pads",
        about="Heat in one stop, pads for the use, fluid, and calipers that clear the wheel.",
        families=("brake_pads", "rotor", "brake_fluid", "caliper"),
        benches=("brakes", "well"),
        before=("caliper_barrel", "caliper_spoke"),
        choices={"pads and fluid first": "cheap, most of the heat", "larger discs": "unsprung weight, wheel clearance"},
        dangers=f"Brakes are safety work: bled, bedded and tried slowly; inspected where you must. {_LAW}",
        measured="a series of stops from the same speed",
    ),
)

WORKS: dict[str, Work] = {work.key: work for work in _ALL}


def work_of(key: str) -> Work:
    """A kind of work by its key.

    Raises
    ------
    BadInput : there is none
    """
    if key not in WORKS:
        raise BadInput(f"no such kind of work; accepted: {', '.join(WORKS)}", "key")
    return WORKS[key]
