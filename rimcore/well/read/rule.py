"""Where the rule goes: every station's own drawing, as numbers. The ink is the template's.

Drawing units; 300 wide, 230 high. ``section`` is seen from behind with the outboard side on the right, ``above`` from
above with the front at the top and the outboard side on the right, ``side`` from outboard with the front on the right.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

Line = tuple[float, float, float, float]


Label = tuple[float, float, str]


#: how the wheel stands while it is read
STRAIGHT, LOCK, RAISED, OFF, CAR = (
    "wheel on, straight",
    "wheel on, at full lock",
    "wheel on, raised",
    "wheel off",
    "car on its tyres",
)


HANGING = "wheel on, hanging free"


#: centre, half width and half length of the tyre seen from above, its turn at lock [deg], and how far it is raised
ABOVE_X, ABOVE_Y, HALF_WIDTH, HALF_LENGTH, TURN_DEG, RAISE = 150.0, 115.0, 38.0, 75.0, 24.0, 18.0


#: centre of the wheel seen from the side, radius of its tread and of the lip round it
SIDE_X, SIDE_Y, TREAD_R, LIP_R = 120.0, 132.0, 62.0, 86.0


@dataclass(frozen=True)
class Where:
    """One station's drawing: view, how the wheel stands, where the rule lies, and what else is drawn."""

    view: str
    stands: str
    rules: tuple[Line, ...]
    labels: tuple[Label, ...]
    #: what stands there besides the wheel, by name
    parts: tuple[str, ...] = ()
    #: thin lines that help to read it: axes, angles
    thin: tuple[Line, ...] = ()
    turned_deg: float = 0.0
    raised: float = 0.0
    #: second position of the wheel, drawn dashed
    ghost: bool = False

    @property
    def lift(self) -> float:
        """Shift of the wheel in the drawing; up is minus."""
        return -self.raised


def _edge(side: float, end: float, turned_deg: float) -> tuple[float, float]:
    """A corner of the tyre seen from above; side −1 is inboard, end −1 is the front.

    >>> _edge(-1, 1, 0.0)
    (112.0, 190.0)
    """
    turn = math.radians(turned_deg)
    x, y = side * HALF_WIDTH, end * HALF_LENGTH
    return (
        round(ABOVE_X + x * math.cos(turn) - y * math.sin(turn), 1),
        round(ABOVE_Y + x * math.sin(turn) + y * math.cos(turn), 1),
    )


def _at_lock(part: str, end: float) -> Where:
    """Rule along the axle from the inner sidewall near one edge to a rail or an arm; that edge stands inboard."""
    turned = -TURN_DEG if end < 0 else TURN_DEG
    x, y = _edge(-1, end, turned)
    return Where(
        "above",
        LOCK,
        ((66.0, y, x, y),),
        ((14.0, y - 8, "read"),),
        (f"{part}-{'front' if end < 0 else 'rear'}",),
        turned_deg=turned,
    )


def _liner(end: float, turned_deg: float) -> Where:
    """Rule from the edge of the tread straight forward or back to the liner."""
    x, y = _edge(0, end, turned_deg)
    wall = 12.0 if end < 0 else 218.0
    stands = LOCK if turned_deg else STRAIGHT
    return Where(
        "above", stands, ((x, y, x, wall),), ((x + 10, (y + wall) / 2 + 5, "read"),), ("liner",), turned_deg=turned_deg
    )


def _arch(clock: float) -> Where:
    """Lip at an hour of the clock: the place seen from the side, the two readings beside it in section."""
    angle = math.radians(30 * clock)
    inner, outer = ((SIDE_X + r * math.sin(angle), SIDE_Y - r * math.cos(angle)) for r in (TREAD_R, LIP_R))
    up = (round(inner[0], 1), round(inner[1], 1), round(outer[0], 1), round(outer[1], 1))
    return Where(
        "side",
        STRAIGHT,
        (up, (262.0, 96.0, 276.0, 96.0)),
        ((232.0, 60.0, "2 up"), (206.0, 214.0, "1 sideways")),
        ("lip", "inset"),
    )


_SECTION_AXIS: Line = (112.0, 30.0, 150.0, 196.0)


#: code of a station -> its drawing
WHERE: dict[str, Where] = {
    "damper": Where(
        "section",
        STRAIGHT,
        ((101, 70, 118, 70), (58, 70, 58, 119)),
        ((62, 64, "read"), (18, 98, "height")),
        ("damper",),
    ),
    "damper_bump": Where(
        "section",
        RAISED,
        ((100, 62, 118, 62), (58, 62, 58, 101), (262, 101, 262, 119)),
        ((62, 56, "read"), (18, 86, "height"), (226, 138, "raised")),
        ("damper", "jack"),
        raised=RAISE,
    ),
    "perch": Where("section", STRAIGHT, ((140, 40, 140, 27),), ((148, 38, "read"),), ("perch",)),
    **{f"arch_{clock}": _arch(clock) for clock in (9, 10, 11, 12, 1, 2, 3)},
    "rail_front_lock": _at_lock("rail", -1),
    "rail_rear_lock": _at_lock("rail", 1),
    "arm_front_lock": _at_lock("arm", -1),
    "arm_rear_lock": _at_lock("arm", 1),
    "rail_inside": Where("above", STRAIGHT, ((66, 90, 112, 90),), ((14, 82, "read"),), ("rail-front", "rail-rear")),
    "liner_front": _liner(-1, 0.0),
    "liner_rear": _liner(1, 0.0),
    "liner_front_lock": _liner(-1, TURN_DEG),
    "liner_rear_lock": _liner(1, TURN_DEG),
    "caliper_barrel": Where("inside", OFF, ((150, 115, 150, 184),), ((190, 150, "radius"),), ("caliper",)),
    "caliper_spoke": Where("inside", OFF, ((170, 166, 184, 166),), ((192, 172, "read"),), ("caliper",)),
    "caliper_inner": Where("inside", OFF, ((112, 198, 170, 198),), ((60, 204, "read"),), ("caliper",)),
    "joint": Where("inside", OFF, ((100, 115, 100, 172),), ((34, 150, "radius"),), ("joint",)),
    "ride_height": Where("section", CAR, ((232, 119, 232, 70),), ((240, 100, "read"),), ("lip",)),
    "bump": Where(
        "section",
        RAISED,
        ((250, 119, 250, 84),),
        ((256, 104, "to the"), (256, 122, "stop")),
        ("jack",),
        raised=RAISE,
        ghost=True,
    ),
    "droop": Where("section", HANGING, ((250, 119, 250, 156),), ((214, 174, "hanging"),), raised=-RAISE, ghost=True),
    "lock_out": Where(
        "above", LOCK, ((150, 30, 185, 38),), ((196, 34, "angle"),), (), ((150, 20, 150, 115),), turned_deg=TURN_DEG
    ),
    "lock_in": Where(
        "above", LOCK, ((150, 30, 115, 38),), ((72, 34, "angle"),), (), ((150, 20, 150, 115),), turned_deg=-TURN_DEG
    ),
    "lock_stop": Where("above", STRAIGHT, ((96, 115, 96, 62),), ((34, 92, "read"),), ("stop",)),
    "caster": Where(
        "side", STRAIGHT, ((120, 58, 104, 60),), ((60, 54, "angle"),), (), ((120, 50, 120, 200), (100, 50, 136, 200))
    ),
    "kpi": Where(
        "section", STRAIGHT, ((112, 30, 131, 30),), ((60, 26, "angle"),), (), (_SECTION_AXIS, (131, 20, 131, 200))
    ),
    "kingpin": Where("inside", OFF, ((128, 115, 170, 115),), ((60, 136, "read"),), ("joint",), ((112, 20, 140, 204),)),
    "camber": Where("section", STRAIGHT, ((200, 30, 206, 210),), ((212, 60, "angle"),), (), ((206, 30, 206, 210),)),
    "camber_out": Where(
        "above",
        LOCK,
        ((150, 30, 185, 38),),
        ((196, 34, "camber at"), (196, 52, "that angle")),
        (),
        ((150, 20, 150, 115),),
        turned_deg=TURN_DEG,
    ),
    "camber_in": Where(
        "above",
        LOCK,
        ((150, 30, 115, 38),),
        ((52, 34, "camber at"), (52, 52, "that angle")),
        (),
        ((150, 20, 150, 115),),
        turned_deg=-TURN_DEG,
    ),
    "toe": Where(
        "above",
        STRAIGHT,
        ((206, 60, 190, 60), (206, 170, 184, 170)),
        ((212, 64, "front edge"), (212, 174, "rear edge")),
        (),
        ((206, 24, 206, 206),),
    ),
    "camber_bump": Where(
        "section",
        RAISED,
        ((194, 14, 204, 190), (262, 101, 262, 119)),
        ((210, 40, "angle"), (226, 138, "raised")),
        ("jack",),
        ((204, 14, 204, 190),),
        raised=RAISE,
    ),
    "toe_bump": Where(
        "above",
        RAISED,
        ((206, 60, 190, 60), (206, 170, 184, 170)),
        ((212, 64, "front edge"), (212, 174, "rear edge"), (212, 119, "raised")),
        (),
        ((206, 24, 206, 206),),
        raised=RAISE,
    ),
    "camber_gain": Where(
        "section",
        RAISED,
        ((196, 40, 200, 196), (192, 22, 204, 178)),
        ((212, 60, "change of"), (212, 78, "angle")),
        (),
        (),
        raised=RAISE,
        ghost=True,
    ),
    "arm_pivot": Where(
        "section",
        STRAIGHT,
        ((48, 196, 154, 196), (34, 119, 34, 150)),
        ((64, 214, "1 inboard"), (4, 112, "2 height")),
        ("pivot",),
    ),
    "arm_joint": Where(
        "section",
        STRAIGHT,
        ((132, 206, 154, 206), (34, 119, 34, 168)),
        ((64, 214, "1 inboard"), (4, 112, "2 height")),
        ("arm-joint",),
    ),
    "corner_mass": Where("car", CAR, ((76, 176, 116, 176),), ((66, 204, "pad"),), ("pad",)),
    "car_mass": Where("car", CAR, ((50, 178, 250, 178),), ((126, 204, "scale"),), ("scale",)),
    **{
        f"exhaust_{name}": Where("car", CAR, ((150.0, y, 150.0, 158.0),), ((158.0, 150.0, "read"),), ("exhaust", part))
        for name, part, y in (("body", "floor", 150.0), ("shaft", "shaft", 150.0), ("heat", "tank", 148.0))
    },
    "core_space": Where(
        "car", CAR, ((44, 120, 44, 160), (40, 164, 66, 164)), ((4, 140, "2 up"), (40, 182, "1, 3")), ()
    ),
    "box_space": Where("car", CAR, ((84, 116, 110, 116),), ((66, 104, "1, 2, 3"),), ()),
    "seat_space": Where("car", CAR, ((170, 84, 170, 144),), ((176, 110, "1 roof, 2 door"),), ()),
    "seat_wheel": Where("car", CAR, ((150, 104, 150, 144),), ((96, 124, "wheel"),), ()),
    "bush_bore": Where("inside", OFF, ((104, 156, 120, 156),), ((44, 196, "1 bore, 2 bolt"),), ("joint",)),
    "sump_gap": Where("car", CAR, ((84, 146, 84, 158),), ((60, 178, "sump"),), ()),
    "bonnet_gap": Where("car", CAR, ((84, 96, 84, 106),), ((52, 84, "bonnet"),), ()),
    "tunnel_gap": Where("car", CAR, ((150, 142, 150, 150),), ((158, 136, "tunnel"),), ("shaft",)),
    "frame_gap": Where("inside", OFF, ((96, 150, 112, 150),), ((30, 140, "frame"),), ("joint",)),
    "preload": Where("section", OFF, ((64, 34, 64, 108),), ((14, 64, "1 loose"), (14, 82, "2 wound")), ("damper",)),
    "steer_plan": Where(
        "above",
        STRAIGHT,
        ((154, 120, 154, 200), (120, 150, 154, 150)),
        ((160, 214, "out"), (96, 144, "behind")),
        ("arm-rear",),
    ),
    "rod_stick": Where("above", STRAIGHT, ((66, 156, 112, 156),), ((10, 140, "stick-out"),), ("arm-rear",)),
    "bearing_play": Where(
        "section", HANGING, ((196, 20, 206, 20),), ((212, 26, "play"),), (), ((206, 14, 194, 210),), raised=-RAISE
    ),
    "joint_play": Where("inside", OFF, ((112, 150, 112, 168),), ((44, 196, "play"),), ("joint",)),
    "lip_height": Where("car", CAR, ((52, 171, 52, 152),), ((20, 142, "lip"),), ()),
    "backlash": Where("car", CAR, ((112, 142, 112, 150),), ((96, 130, "play"),), ("shaft",)),
    "arm_length": Where("section", OFF, ((48, 196, 154, 196),), ((64, 214, "eye to eye"),), ("arm-joint",)),
    "driveline": Where(
        "car",
        CAR,
        ((120, 146, 140, 146), (160, 148, 190, 150), (204, 150, 222, 150)),
        ((104, 138, "1"), (170, 138, "2"), (212, 138, "3")),
        ("shaft",),
    ),
    "shaft_engaged": Where("car", CAR, ((96, 120, 112, 112),), ((60, 106, "engaged"),), ()),
    "panel_heat": Where("car", CAR, ((150, 158, 150, 166),), ((158, 176, "gap"),), ("exhaust",)),
    "tow_ball": Where("car", CAR, ((262, 171, 262, 140),), ((236, 132, "ball"),), ()),
    "mixture": Where("car", CAR, ((150, 158, 150, 166),), ((158, 176, "probe"),), ("exhaust",)),
    "battery_voltage": Where("car", CAR, ((84, 100, 100, 100),), ((66, 88, "1 rest, 2 charge"),), ()),
    "throw": Where("car", CAR, ((140, 84, 160, 84),), ((124, 66, "throw"),), ()),
    "true_speed": Where("car", CAR, ((60, 60, 150, 60),), ((52, 50, "by the logger"),), ("logger",)),
}
