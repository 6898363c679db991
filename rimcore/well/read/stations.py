"""The measuring plan: every station, how it is read, and what it unlocks. Longer than other files: it is one list."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNERS

#: half-width of the interval a method is good for [mm] (common practice)
METHOD_UNCERTAINTY_MM = {"rule": 1.0, "caliper": 0.1, "feeler": 0.05, "string": 2.0, "card": 1.5, "eye": 5.0}


METHOD_NAMES = {
    "rule": "rule or tape",
    "caliper": "caliper",
    "feeler": "feeler gauge",
    "string": "string line",
    "card": "card template",
    "eye": "by eye",
    "scale": "scale",
    "gauge": "gauge",
    "logger": "position logger",
    "worked": "worked out from other readings",
    "stated": "the maker's figure",
}


#: largest value of a kind of quantity that a station takes, where it says no other
HIGHEST = {"length": 600.0, "angle": 30.0, "mass": 8000.0, "speed": 200.0, "voltage": 20.0, "mixture": 2.0}


#: largest ± of a kind of quantity: beyond it nothing was measured
MOST_UNCERTAIN = {"length": 50.0, "angle": 5.0, "mass": 200.0, "speed": 20.0, "voltage": 1.0, "mixture": 0.2}


@dataclass(frozen=True)
class StationKind:
    """One thing to measure.

    ``params`` names what says where the rule goes; ``values`` names what is read, in the order in
    which it is typed; ``kind`` is the kind of quantity (see ``rimcore.quantities.units``).
    """

    code: str
    name: str
    place: str
    how: str
    unlocks: str
    params: tuple[str, ...] = ()
    values: tuple[str, ...] = ("gap",)
    kind: str = "length"
    axles: tuple[str, ...] = ("F", "R")
    method: str = "rule"
    whole_car: bool = False
    #: the value may be below zero
    signed: bool = False
    #: part of the full judgement of a change of wheels
    judged: bool = True
    #: largest value accepted, where the kind's own limit does not serve
    highest: float | None = None
    #: smallest value accepted, where neither zero nor the negative of the largest serves
    lowest: float | None = None
    #: edge of the tyre the rule stood at: ``front``, ``rear``, or ``along`` for what runs along the car past both
    edge: str = ""
    #: hour on the clock face, for the arch
    clock: float | None = None
    #: it is read with the wheel off
    wheel_off: bool = False
    #: read at a step of a job sheet, and no part of the measuring plan
    of_a_job: bool = False

    @property
    def effort(self) -> int:
        """How much has to be done before the rule can go there.

        0 as it stands, 1 at lock or raised, 2 with the wheel off (common practice).
        """
        return 2 if self.wheel_off else 1 if {"steer_deg", "travel_mm"} & set(self.params) else 0

    @property
    def limits(self) -> tuple[float, float]:
        """Smallest and largest value accepted, in the unit of the kind; forms, imports and the core hold to them."""
        high = self.highest if self.highest is not None else HIGHEST[self.kind]
        return self.lowest if self.lowest is not None else -high if self.signed else 0.0, high

    def holds(self, value: float) -> bool:
        """Is a value one that can have been read there?

        >>> STATIONS["true_speed"].holds(0.0), STATIONS["damper"].holds(0.0)
        (False, True)
        """
        low, high = self.limits
        return low <= value <= high

    @property
    def uncertainty_limit(self) -> float:
        """Largest ± accepted, in the unit of the kind."""
        return MOST_UNCERTAIN[self.kind]


_ALL = (
    StationKind(
        "damper",
        "Damper",
        "damper",
        "Rule level along the axle, from the inner sidewall (or rim) to the damper or spring seat, at that height above the hub's centre.",
        "how far inboard a wheel may come",
        ("height_mm",),
    ),
    StationKind(
        "perch",
        "Spring seat above the tread",
        "perch",
        "Rule straight up from the tread to the spring seat or the top of the upright.",
        "how tall a tyre may be under the perch",
        ("u_mm",),
        judged=False,
    ),
    StationKind(
        "arch_10",
        "Arch lip at 10 o'clock",
        "arch",
        "Straight-edge down from the lip: first sideways from the outer sidewall (minus if the tyre stands out), then from the tread up to the lip.",
        "how far out a wheel may go behind the axle's middle",
        (),
        ("side", "up"),
        signed=True,
        lowest=-200,
        clock=10,
    ),
    StationKind(
        "arch_12",
        "Arch lip at 12 o'clock",
        "arch",
        "Straight-edge down from the lip: first sideways from the outer sidewall (minus if the tyre stands out), then from the tread up to the lip.",
        "how far out and how tall a wheel may go, how low the car",
        (),
        ("side", "up"),
        signed=True,
        lowest=-200,
        clock=12,
    ),
    StationKind(
        "arch_2",
        "Arch lip at 2 o'clock",
        "arch",
        "Straight-edge down from the lip: first sideways from the outer sidewall (minus if the tyre stands out), then from the tread up to the lip.",
        "how far out a wheel may go before the axle's middle",
        (),
        ("side", "up"),
        signed=True,
        lowest=-200,
        clock=2,
    ),
    StationKind(
        "arch_9",
        "Arch lip at 9 o'clock",
        "arch",
        "Straight-edge down from the lip: first sideways from the outer sidewall (minus if the tyre stands out), then from the tread up to the lip.",
        "the lip's run between the other clock positions",
        (),
        ("side", "up"),
        signed=True,
        lowest=-200,
        judged=False,
        clock=9,
    ),
    StationKind(
        "arch_11",
        "Arch lip at 11 o'clock",
        "arch",
        "Straight-edge down from the lip: first sideways from the outer sidewall (minus if the tyre stands out), then from the tread up to the lip.",
        "the lip's run between the other clock positions",
        (),
        ("side", "up"),
        signed=True,
        lowest=-200,
        judged=False,
        clock=11,
    ),
    StationKind(
        "arch_1",
        "Arch lip at 1 o'clock",
        "arch",
        "Straight-edge down from the lip: first sideways from the outer sidewall (minus if the tyre stands out), then from the tread up to the lip.",
        "the lip's run between the other clock positions",
        (),
        ("side", "up"),
        signed=True,
        lowest=-200,
        judged=False,
        clock=1,
    ),
    StationKind(
        "arch_3",
        "Arch lip at 3 o'clock",
        "arch",
        "Straight-edge down from the lip: first sideways from the outer sidewall (minus if the tyre stands out), then from the tread up to the lip.",
        "the lip's run between the other clock positions",
        (),
        ("side", "up"),
        signed=True,
        lowest=-200,
        judged=False,
        clock=3,
    ),
    StationKind(
        "damper_bump",
        "Damper, spring out",
        "damper",
        "Spring out, wheel raised by a jack. Rule level along the axle, from the inner sidewall to the damper's shaft or body, at that height above the hub's centre.",
        "how far inboard a wheel may come in bump, where the damper leans away or towards it",
        ("height_mm", "travel_mm"),
        judged=False,
    ),
    StationKind(
        "rail_front_lock",
        "Rail in front, at full lock",
        "rail",
        "Wheel at full lock. Rule along the axle from the inner sidewall, near its front edge, to the chassis rail, at that height above the hub's centre (minus below it).",
        "how wide and how far in a steered wheel may stand",
        ("height_mm", "steer_deg"),
        axles=("F",),
        judged=False,
        edge="front",
    ),
    StationKind(
        "rail_rear_lock",
        "Rail behind, at full lock",
        "rail",
        "Wheel at full lock. Rule along the axle from the inner sidewall, near its rear edge, to the chassis rail, at that height above the hub's centre (minus below it).",
        "how wide and how far in a steered wheel may stand",
        ("height_mm", "steer_deg"),
        axles=("F",),
        judged=False,
        edge="rear",
    ),
    StationKind(
        "arm_front_lock",
        "Arm or link in front, at full lock",
        "arm",
        "Wheel at full lock. Rule along the axle from the inner sidewall, near its front edge, to the arm or the sway-bar link, at that height (minus below the hub).",
        "how much lock a wheel leaves, with the arm's own travel",
        ("height_mm", "steer_deg"),
        axles=("F",),
        judged=False,
        edge="front",
    ),
    StationKind(
        "arm_rear_lock",
        "Arm or link behind, at full lock",
        "arm",
        "Wheel at full lock. Rule along the axle from the inner sidewall, near its rear edge, to the arm or the sway-bar link, at that height (minus below the hub).",
        "how much lock a wheel leaves, with the arm's own travel",
        ("height_mm", "steer_deg"),
        axles=("F",),
        judged=False,
        edge="rear",
    ),
    StationKind(
        "rail_inside",
        "Rail or body inboard",
        "rail",
        "Wheel straight. Rule along the axle from the inner sidewall to the rail or body, at that height; with the wheel raised say by how much.",
        "how far inboard a wheel may come over the whole travel",
        ("height_mm", "travel_mm"),
        judged=False,
        edge="along",
    ),
    StationKind(
        "liner_front",
        "Liner in front",
        "liner",
        "Wheel straight. Rule from the front of the tread straight forward to the liner, at hub height.",
        "how tall a tyre may be towards the bumper",
        ("u",),
        edge="front",
    ),
    StationKind(
        "liner_rear",
        "Liner behind",
        "liner",
        "Wheel straight. Rule from the back of the tread straight rearward to the liner, at hub height.",
        "how tall a tyre may be towards the sill",
        ("u",),
        edge="rear",
    ),
    StationKind(
        "liner_front_lock",
        "Liner in front, at full lock",
        "liner",
        "Wheel at full lock. Rule from the front edge of the tread straight away to the liner, at hub height.",
        "how wide and how far out a steered wheel may go",
        ("u", "steer_deg"),
        axles=("F",),
        edge="front",
    ),
    StationKind(
        "liner_rear_lock",
        "Liner behind, at full lock",
        "liner",
        "Wheel at full lock. Rule from the rear edge of the tread straight away to the liner, at hub height.",
        "how wide and how far out a steered wheel may go",
        ("u", "steer_deg"),
        axles=("F",),
        edge="rear",
    ),
    StationKind(
        "caliper_barrel",
        "Caliper to barrel",
        "caliper",
        "Wheel off. From the hub's centre to the furthest point of the caliper.",
        "whether the brake goes inside a rim, with the rim's barrel",
        (),
        ("radius",),
        method="caliper",
        highest=400,
        wheel_off=True,
    ),
    StationKind(
        "caliper_spoke",
        "Caliper to spoke",
        "caliper",
        "Wheel off. Straight-edge across the caliper's face: how far it stands out beyond the hub's mounting face (minus if behind it).",
        "whether the spokes clear the brake, with the wheel's template",
        (),
        ("face",),
        method="caliper",
        signed=True,
        lowest=-100,
        highest=300,
        wheel_off=True,
    ),
    StationKind(
        "joint",
        "Ball joint or tie-rod end to barrel",
        "joint",
        "Wheel off. From the hub's centre to the furthest point of the joint that stands inside the rim. It turns with the wheel, so that lock does not change it; the rod is read where arms and links are.",
        "how small a rim may be over the joint",
        (),
        ("radius",),
        method="rule",
        axles=("F",),
        highest=400,
        wheel_off=True,
    ),
    StationKind(
        "ride_height",
        "Ride height",
        "ride_height",
        "Car on its tyres, rolled and settled. From the wheel's centre straight up to the arch lip.",
        "what lowering did, and whether left and right agree",
        (),
        ("height",),
        judged=False,
        highest=1000,
    ),
    StationKind(
        "bump",
        "Bump to the stop",
        "bump",
        "Spring out, or a cable tie on the shaft after the test dip: how far the wheel's centre rises from ride height until the stop is met.",
        "every gap in bump, and what lowering leaves",
        (),
        ("travel",),
        judged=False,
        highest=400,
    ),
    StationKind(
        "droop",
        "Droop",
        "droop",
        "Car on stands, wheel hanging: how far the wheel's centre falls from ride height.",
        "every gap in droop",
        (),
        ("travel",),
        judged=False,
        highest=400,
    ),
    StationKind(
        "lock_out",
        "Lock, front edge outboard",
        "lock",
        "Wheel on a turn plate at full lock to this corner's own side: the angle from straight ahead.",
        "every gap while steering",
        (),
        ("angle",),
        kind="angle",
        axles=("F",),
        method="gauge",
        judged=False,
        highest=70,
    ),
    StationKind(
        "lock_in",
        "Lock, front edge inboard",
        "lock",
        "Wheel on a turn plate at full lock to the other side: the angle from straight ahead.",
        "every gap while steering",
        (),
        ("angle",),
        kind="angle",
        axles=("F",),
        method="gauge",
        judged=False,
        highest=70,
    ),
    StationKind(
        "caster",
        "Caster",
        "caster",
        "From the alignment sheet, or swept 20° each way with a camber gauge. Plus is the top rearward.",
        "how the wheel leans as it steers",
        (),
        ("angle",),
        kind="angle",
        axles=("F",),
        method="gauge",
        signed=True,
        judged=False,
    ),
    StationKind(
        "kpi",
        "Kingpin inclination",
        "kpi",
        "From the alignment sheet, or from the line through upper mount (or joint) and lower joint, seen from ahead. Plus is the top inboard.",
        "scrub radius, and how the wheel rises as it steers",
        (),
        ("angle",),
        kind="angle",
        axles=("F",),
        method="gauge",
        signed=True,
        judged=False,
    ),
    StationKind(
        "kingpin",
        "Mounting face to the steering axis",
        "kingpin",
        "Wheel off. String from the upper mount (or joint) to the lower joint; at hub height, rule from the mounting face inboard to the string.",
        "how far the wheel swings as it steers, and scrub radius",
        (),
        ("inboard",),
        axles=("F",),
        signed=True,
        judged=False,
        lowest=-300,
        highest=500,
        wheel_off=True,
    ),
    StationKind(
        "camber_bump",
        "Camber, wheel raised",
        "camber",
        "Spring out, wheel raised by a jack by a measured amount from ride height; gauge on the wheel. With the camber at ride height this gives the gain.",
        "how the tyre's top leans in as it rises",
        ("travel_mm",),
        ("camber",),
        kind="angle",
        method="gauge",
        signed=True,
        judged=False,
        highest=20,
    ),
    StationKind(
        "toe_bump",
        "Toe change, wheel raised",
        "toe",
        "Spring out, wheel raised by a jack by a measured amount from ride height, steering straight: how far toe has changed, by string or plate. In is plus.",
        "whether the car steers itself over bumps",
        ("travel_mm",),
        ("toe_change",),
        kind="angle",
        method="string",
        signed=True,
        judged=False,
        highest=10,
    ),
    StationKind(
        "camber_gain",
        "Camber change in 25 mm of bump",
        "camber",
        "Where it is known from a record or the maker: how far the camber changes as the wheel rises by 25 mm (minus: the top leans in). Camber measured at two heights counts before it.",
        "how the tyre's top leans in as it rises",
        (),
        ("camber",),
        kind="angle",
        method="gauge",
        signed=True,
        judged=False,
        highest=10,
    ),
    StationKind(
        "arm_pivot",
        "Lower arm, inner pivot",
        "hinge",
        "At ride height. From the mounting face inboard to the pivot's middle, then its height over the hub's centre (minus below).",
        "how the arm turns as the wheel rises",
        (),
        ("inboard", "above"),
        signed=True,
        judged=False,
        highest=900,
    ),
    StationKind(
        "arm_joint",
        "Lower arm, outer joint",
        "hinge",
        "At ride height. From the mounting face inboard to the joint's middle, then its height over the hub's centre (minus below).",
        "how the arm turns as the wheel rises",
        (),
        ("inboard", "above"),
        signed=True,
        judged=False,
        highest=900,
    ),
    StationKind(
        "lock_stop",
        "Steering axis to the lock stop",
        "lock",
        "From the steering axis to where the stop meets the upright.",
        "how thick a lock limiter has to be for a wanted angle",
        (),
        ("radius",),
        axles=("F",),
        judged=False,
        highest=300,
    ),
    StationKind(
        "caliper_inner",
        "Caliper, inner end",
        "caliper",
        "Wheel off. How far the caliper's inner end stands inboard of the hub's mounting face.",
        "the brake template's depth",
        (),
        ("inboard",),
        method="caliper",
        judged=False,
        highest=400,
        wheel_off=True,
    ),
    StationKind(
        "camber",
        "Camber",
        "camber",
        "Gauge on the wheel, straight ahead, car settled. Minus is top inboard.",
        "where the tyre's shoulder stands under the lip",
        (),
        ("camber",),
        kind="angle",
        method="gauge",
        signed=True,
        judged=False,
        highest=20,
    ),
    StationKind(
        "camber_out",
        "Camber, front edge outboard",
        "camber",
        "On turn plates, brakes held: the wheel swung with its front edge outboard, 20° is usual. Gauge on the wheel. With the other way it gives the caster.",
        "caster, and how the wheel leans in a corner",
        ("steer_deg",),
        ("camber",),
        kind="angle",
        method="gauge",
        axles=("F",),
        signed=True,
        judged=False,
        highest=20,
    ),
    StationKind(
        "camber_in",
        "Camber, front edge inboard",
        "camber",
        "On turn plates, brakes held: the wheel swung with its front edge inboard by the same angle. Gauge on the wheel.",
        "caster, and how the wheel leans in a corner",
        ("steer_deg",),
        ("camber",),
        kind="angle",
        method="gauge",
        axles=("F",),
        signed=True,
        judged=False,
        highest=20,
    ),
    StationKind(
        "steer_plan",
        "Steering from above, five lengths",
        "steer_plan",
        "Wheels straight, on a level floor. Plumb the lower ball joint, the rod's outer joint and its inner joint down and mark them; a line along the car's middle. Out is from the middle line; behind is towards the rear from the ball joint, ahead is minus.",
        "how close rod and arm come to one line at full lock, without hard points",
        (),
        ("ball_out", "outer_out", "outer_behind", "inner_out", "inner_behind"),
        axles=("F",),
        method="plumb",
        signed=True,
        judged=False,
        highest=1200.0,
    ),
    StationKind(
        "toe",
        "Toe of this wheel",
        "toe",
        "String along the car's centre line, rule to the rim's front and rear edge; or a toe plate. In is plus.",
        "which way the wheel points, and the thrust of the axle",
        (),
        ("toe",),
        kind="angle",
        method="string",
        signed=True,
        judged=False,
        highest=5,
    ),
    StationKind(
        "corner_mass",
        "Corner weight",
        "corner_mass",
        "Pad under the wheel, all four level. Write fuel and driver into the condition.",
        "load on each tyre and wheel",
        (),
        ("mass",),
        kind="mass",
        lowest=20.0,
        method="scale",
        judged=False,
    ),
    StationKind(
        "car_mass",
        "Whole car on a scale",
        "car_mass",
        "Public scale or four pads; write fuel and driver into the condition.",
        "what the change did to the weight",
        (),
        ("mass",),
        kind="mass",
        method="scale",
        whole_car=True,
        judged=False,
    ),
    StationKind(
        "true_speed",
        "True speed at an indicated 100 km/h",
        "true_speed",
        "Hold 100 km/h on the speedometer where that is allowed; a passenger reads the logger.",
        "whether the speedometer stays legal on another tyre",
        (),
        ("speed",),
        kind="speed",
        method="logger",
        whole_car=True,
        judged=False,
        lowest=50.0,
        highest=150.0,
    ),
    StationKind(
        "exhaust_body",
        "Exhaust to the body",
        "exhaust_body",
        "Engine rocked by its mounts both ways, cold; rule or feeler at the least gap between pipe and body along the whole run.",
        "whether the exhaust knocks",
        (),
        ("gap",),
        whole_car=True,
        judged=False,
        highest=200.0,
    ),
    StationKind(
        "exhaust_shaft",
        "Exhaust to the shaft",
        "exhaust_shaft",
        "Engine rocked both ways, cold; least gap to a turning shaft, its joints and their boots.",
        "whether the exhaust touches what turns",
        (),
        ("gap",),
        whole_car=True,
        judged=False,
        highest=200.0,
    ),
    StationKind(
        "exhaust_heat",
        "Exhaust to what heat harms",
        "exhaust_heat",
        "Least gap to tank, lines, wiring, boots, or a panel that melts; cold, engine rocked towards it.",
        "whether something there needs a shield",
        (),
        ("gap",),
        whole_car=True,
        judged=False,
        highest=300.0,
    ),
    StationKind(
        "core_space",
        "Space for a radiator",
        "core_space",
        "Radiator and fan out or looked past: between the rails, from the lower mount up to the slam panel, and from the condenser (or grille) to the fan or engine.",
        "whether another core goes in",
        (),
        (
            "between_rails",
            "space_up",
            "condenser_to_fan",
        ),
        judged=False,
        whole_car=True,
        highest=1500.0,
    ),
    StationKind(
        "box_space",
        "Space for an intake box",
        "box_space",
        "Where it is to stand: across, up with the bonnet shut on a lump of clay, and along the car; engine rocked both ways.",
        "whether an intake box goes in",
        (),
        (
            "space_width",
            "space_height",
            "space_depth",
        ),
        judged=False,
        whole_car=True,
        highest=1000.0,
    ),
    StationKind(
        "seat_space",
        "Space for a seat",
        "seat_space",
        "From the floor mount straight up to the roof or cage, and from the tunnel to the door card, at the height of the hips.",
        "whether another seat goes in with a helmet",
        (),
        (
            "mount_to_roof",
            "tunnel_to_door",
        ),
        judged=False,
        whole_car=True,
        highest=1500.0,
    ),
    StationKind(
        "seat_wheel",
        "Steering wheel over the seat's mount",
        "seat_wheel",
        "From the floor mount straight up to the lower edge of the steering wheel, wheel straight and at its lowest.",
        "whether legs go under the wheel in another seat",
        (),
        ("wheel_to_mount",),
        judged=False,
        whole_car=True,
        highest=900.0,
    ),
    StationKind(
        "bush_bore",
        "Bore of the bush, and its bolt",
        "bush_bore",
        "Bush out, bore clean: caliper across it twice at right angles; then across the bolt's shank where the bush sits.",
        "whether another bush presses in and holds its bolt",
        (),
        (
            "bore",
            "pin",
        ),
        judged=False,
        method="caliper",
        highest=150.0,
        wheel_off=True,
    ),
    StationKind(
        "sump_gap",
        "Sump to crossmember",
        "sump_gap",
        "Engine rocked both ways by its mounts, cold: the least gap from sump to crossmember or rack.",
        "whether the engine touches the frame",
        (),
        ("gap",),
        judged=False,
        whole_car=True,
        highest=200.0,
    ),
    StationKind(
        "bonnet_gap",
        "Engine to bonnet",
        "bonnet_gap",
        "Clay on the highest points, bonnet shut and opened again: its least thickness.",
        "whether the engine touches the bonnet",
        (),
        ("gap",),
        judged=False,
        whole_car=True,
        highest=200.0,
    ),
    StationKind(
        "tunnel_gap",
        "Propshaft to tunnel",
        "tunnel_gap",
        "Propshaft turned by hand, axle at ride height and at full droop: the least gap to the tunnel and to what runs in it.",
        "whether the shaft touches the tunnel",
        (),
        ("gap",),
        judged=False,
        whole_car=True,
        highest=200.0,
    ),
    StationKind(
        "frame_gap",
        "Arm and upright to the frame",
        "frame_gap",
        "Spring out, wheel through its whole travel and both locks: the least gap from arm and upright to the frame.",
        "whether arm or upright touches the frame",
        (),
        ("gap",),
        judged=False,
        highest=200.0,
        wheel_off=True,
    ),
    StationKind(
        "preload",
        "Preload of the spring",
        "preload",
        "Spring and damper on the bench at full droop: length of the coil loose, then with the collar wound up and locked.",
        "whether both sides are alike, and where the collar stood",
        (),
        ("loose", "wound"),
        judged=False,
        highest=600.0,
        wheel_off=True,
        of_a_job=True,
    ),
    StationKind(
        "rod_stick",
        "Stick-out of the tie rod",
        "rod_stick",
        "Rack centred. From the edge of the rack's housing or boot seat to the rod's inner joint, to the same edge each side.",
        "whether the rack is centred, and where the rod goes back to",
        (),
        ("stick",),
        axles=("F",),
        judged=False,
        highest=400.0,
        of_a_job=True,
    ),
    StationKind(
        "bearing_play",
        "Play of the wheel bearing",
        "bearing_play",
        "Wheel in the air, rocked by two hands at twelve and six o'clock: a dial gauge or rule at the rim.",
        "whether the bearing is worn, or its preload lost",
        (),
        ("play",),
        method="feeler",
        judged=False,
        highest=20.0,
        of_a_job=True,
    ),
    StationKind(
        "joint_play",
        "Play of a joint or bush",
        "joint_play",
        "Load off it, levered both ways with a bar: a dial gauge or feeler between its two halves.",
        "whether a joint or bush is worn",
        (),
        ("play",),
        method="feeler",
        judged=False,
        highest=20.0,
        wheel_off=True,
        of_a_job=True,
    ),
    StationKind(
        "lip_height",
        "Height of the splitter's lip",
        "lip_height",
        "Car on its tyres, level: from the ground straight up to the lip's lowest edge in the middle of the car.",
        "whether drive, kerb and trailer are cleared as the air bench said",
        (),
        ("up_from_ground",),
        whole_car=True,
        judged=False,
        highest=600.0,
        of_a_job=True,
    ),
    StationKind(
        "backlash",
        "Backlash of crown wheel and pinion",
        "backlash",
        "Pinion held. Dial gauge square on a tooth of the crown wheel, at four places round it; the least counts.",
        "whether the gears are set as their maker wants",
        (),
        ("play",),
        method="feeler",
        whole_car=True,
        judged=False,
        highest=5.0,
        of_a_job=True,
    ),
    StationKind(
        "arm_length",
        "Length of the arm, eye to eye",
        "arm_length",
        "Old arm and new side by side on the bench, a bolt through each eye: from the middle of one bolt to the middle of the other.",
        "whether the corner starts from where it stood",
        (),
        ("eye_to_eye",),
        judged=False,
        highest=1500.0,
        lowest=50.0,
        wheel_off=True,
        of_a_job=True,
    ),
    StationKind(
        "driveline",
        "Angles of gearbox, propshaft and pinion",
        "driveline",
        "Car on its wheels. Angle gauge along the car on the gearbox's flange, on the shaft and on the pinion's flange; nose down is plus.",
        "whether the joints cancel each other",
        (),
        ("gearbox_down", "shaft_down", "pinion_down"),
        kind="angle",
        method="gauge",
        whole_car=True,
        signed=True,
        judged=False,
        highest=30.0,
        of_a_job=True,
    ),
    StationKind(
        "shaft_engaged",
        "Steering shaft engaged in its joint",
        "shaft_engaged",
        "From the mark at the shaft's end to the joint's mouth, joint tight to the stop: what is inside holds.",
        "whether the joint holds the shaft",
        (),
        ("engaged",),
        whole_car=True,
        judged=False,
        highest=200.0,
        of_a_job=True,
    ),
    StationKind(
        "panel_heat",
        "Panel to what is hot",
        "panel_heat",
        "Along the whole panel, engine rocked, cold: the least gap to exhaust, catalyst and silencer.",
        "whether the panel melts or burns",
        (),
        ("gap",),
        whole_car=True,
        judged=False,
        highest=300.0,
        of_a_job=True,
    ),
    StationKind(
        "tow_ball",
        "Height of the tow bar",
        "tow_ball",
        "Car on its tyres, loaded as it tows: from the ground to the middle of the ball or pin.",
        "whether the trailer stands level",
        (),
        ("up_to_ball",),
        whole_car=True,
        judged=False,
        highest=900.0,
        lowest=100.0,
        of_a_job=True,
    ),
    StationKind(
        "mixture",
        "Mixture at idle, cruise and full load",
        "mixture",
        "Engine warm, lambda probe in the exhaust: at idle, at a steady cruise, and at full load on a closed road or a roller.",
        "whether the engine gets the fuel that its air wants",
        (),
        ("at_idle", "at_cruise", "at_full_load"),
        kind="mixture",
        method="gauge",
        whole_car=True,
        judged=False,
        lowest=0.5,
        of_a_job=True,
    ),
    StationKind(
        "battery_voltage",
        "Voltage of the battery",
        "battery_voltage",
        "Meter across the two poles: engine off for an hour or more, then at a fast idle with lights on.",
        "whether it is charged, and is charged",
        (),
        ("resting", "charging"),
        kind="voltage",
        method="gauge",
        whole_car=True,
        judged=False,
        lowest=5.0,
        of_a_job=True,
    ),
    StationKind(
        "throw",
        "Throw at the knob",
        "throw",
        "Engine off. Rule beside the knob: from the middle of first to the middle of second.",
        "how much shorter the shifter is",
        (),
        ("throw",),
        whole_car=True,
        judged=False,
        highest=400.0,
        of_a_job=True,
    ),
)


STATIONS: dict[str, StationKind] = {station.code: station for station in _ALL}


def stations_of(corner: str, of_jobs: bool = False) -> tuple[StationKind, ...]:
    """Stations of a corner ("" for the whole car) in the measuring plan; with ``of_jobs`` those of job sheets too.

    >>> "liner_front_lock" in [station.code for station in stations_of("RL")]
    False
    >>> "preload" in [station.code for station in stations_of("FL", True)]
    True
    """
    return tuple(
        station
        for station in _ALL
        if (of_jobs or not station.of_a_job)
        and (station.whole_car if not corner else not station.whole_car and corner[0] in station.axles)
    )


def judged_codes(corner: str) -> tuple[str, ...]:
    """Stations without which a corner is not fully judged.

    >>> judged_codes("RL")[0]
    'damper'
    """
    return tuple(station.code for station in stations_of(corner) if station.judged)


@dataclass(frozen=True)
class NextReading:
    """A reading nobody has taken, and what it would change.

    ``in_hand`` judgements of the build in hand wait for it, ``turns`` pairs of the shortlist would be known with it
    alone, ``waits`` pairs wait for it among others.
    """

    corner: str
    code: str
    in_hand: int
    turns: int = 0
    waits: int = 0

    @property
    def reason(self) -> str:
        """Why it stands where it does, in words.

        >>> NextReading("FL", "damper", 2, 3, 5).reason
        'needed for the current build; 3 pairs would be known with it; as it stands'
        """
        kind = STATIONS[self.code]
        said = ["needed for the current build"] if self.in_hand else []
        if self.turns:
            said.append(f"{self.turns} pair{'s' if self.turns > 1 else ''} would be known with it")
        elif self.waits:
            said.append(f"{self.waits} pair{'s wait' if self.waits > 1 else ' waits'} for it among others")
        effort = ("as it stands", "at lock or raised", "wheel off")[kind.effort]
        return "; ".join([*said, effort])


def measure_next(in_hand: Iterable[Judgement], pairs: Iterable[Iterable[Judgement]] = ()) -> list[NextReading]:
    """Missing readings ranked by what each would change.

    First what the judgement in hand waits for, then how many pairs of the shortlist would turn from unmeasured, then
    how many wait for it among others, then effort. ``missing`` of a judgement names ``FL.damper`` and so on; what a
    wheel's maker must say is left out.

    >>> from rimcore.quantities.judgement import unmeasured
    >>> one, two = unmeasured("g", "g", "", ["FL.damper"]), unmeasured("g", "g", "", ["FR.damper", "FR.joint"])
    >>> [(n.corner, n.code, n.in_hand, n.turns, n.waits) for n in measure_next([two], [[one], [one, two]])]
    [('FR', 'damper', 1, 0, 1), ('FR', 'joint', 1, 0, 1), ('FL', 'damper', 0, 1, 2)]
    """
    held = Counter(key for judgement in in_hand for key in _readings_of(judgement))
    turns: Counter[tuple[str, str]] = Counter()
    waits: Counter[tuple[str, str]] = Counter()
    for pair in pairs:
        wanted = {key for judgement in pair for key in _readings_of(judgement)}
        waits.update(wanted)
        if len(wanted) == 1:
            turns.update(wanted)
    order = {code: place for place, code in enumerate(STATIONS)}
    found = [
        NextReading(corner, code, held[corner, code], turns[corner, code], waits[corner, code])
        for corner, code in held | waits
    ]
    return sorted(
        found,
        key=lambda one: (
            not one.in_hand,
            -one.turns,
            -one.waits,
            STATIONS[one.code].effort,
            -one.in_hand,
            order[one.code],
            one.corner,
        ),
    )


def _readings_of(judgement: Judgement) -> list[tuple[str, str]]:
    """Readings a judgement waits for."""
    parts = [name.partition(".") for name in judgement.missing]
    return [(corner, code) for corner, _, code in parts if corner in CORNERS and code in STATIONS]
