"""The list of part families. A new family is an entry here, declared in ``rimcore/parts``."""

from __future__ import annotations

from rimcore.parts.aired import AIRED, LIGHTER
from rimcore.parts.barred import BAR_LINK, ROLL_BAR, SUBFRAME
from rimcore.parts.brakes import CALIPER, ROTOR
from rimcore.parts.cooling import COOLED
from rimcore.parts.damped import DAMPER
from rimcore.parts.declared import Family, Spec
from rimcore.parts.held import HELD
from rimcore.parts.hubware import BOLT, NUT, RING, SPACER, STUD
from rimcore.parts.hung import HOSE, PROPSHAFT
from rimcore.parts.leafed import LEAF_PACK, LIFT_BLOCK, U_BOLT
from rimcore.parts.linked import BALL_JOINT, BUSH, CONTROL_ARM
from rimcore.parts.piped import EXHAUSTED, PIPED
from rimcore.parts.rolling import TYRE, WHEEL
from rimcore.parts.small import CAP, OTHER, SENSOR, VALVE
from rimcore.parts.sprung import HELPER, SPRING
from rimcore.parts.steered import RACK_BRACKET, SHAFT, TIE_ROD
from rimcore.parts.stopped import BUMP_STOP, TOP_MOUNT
from rimcore.parts.turned import STOPPING, TURNED

__all__ = ["FAMILIES", "Family", "Spec"]

#: families that have a list of pairs; the others stand one by one
PAIRED = ("wheel", "tyre")

#: families of the chassis, whose old ones are written down before they come off
CHASSIS: dict[str, Family] = {
    family.key: family
    for family in (
        SPRING,
        HELPER,
        DAMPER,
        BUMP_STOP,
        TOP_MOUNT,
        CONTROL_ARM,
        BALL_JOINT,
        BUSH,
        ROLL_BAR,
        BAR_LINK,
        SUBFRAME,
        TIE_ROD,
        RACK_BRACKET,
        SHAFT,
        LEAF_PACK,
        LIFT_BLOCK,
        U_BOLT,
        PROPSHAFT,
        HOSE,
    )
}
#: families of engine, cooling, gears and pads, air and weight
RUNNING: dict[str, Family] = {
    family.key: family for family in (*STOPPING, *PIPED, *EXHAUSTED, *COOLED, *TURNED, *AIRED, *LIGHTER, *HELD)
}
FAMILIES: dict[str, Family] = {
    family.key: family
    for family in (
        WHEEL,
        TYRE,
        RING,
        SPACER,
        STUD,
        NUT,
        BOLT,
        VALVE,
        SENSOR,
        CAP,
        CALIPER,
        ROTOR,
        *STOPPING,
        *CHASSIS.values(),
        *PIPED,
        *EXHAUSTED,
        *COOLED,
        *TURNED,
        *AIRED,
        *LIGHTER,
        *HELD,
        OTHER,
    )
}
#: families as they stand together on the pages of Choose
GROUPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Wheels and hubs", ("ring", "spacer", "stud", "nut", "bolt", "valve", "sensor", "cap")),
    ("Brakes", ("caliper", "rotor", "brake_pads", "hose", "brake_lines", "brake_fluid")),
    ("Springs and dampers", ("spring", "helper", "damper", "bump_stop", "top_mount")),
    ("Arms and bars", ("control_arm", "ball_joint", "bush", "roll_bar", "bar_link", "subframe", "bearing")),
    ("Steering", ("tie_rod", "rack_bracket", "shaft", "steering_hose", "steering_pump")),
    ("Leaves and lift", ("leaf_pack", "lift_block", "u_bolt", "propshaft")),
    ("Intake", tuple(family.key for family in PIPED)),
    ("Exhaust", tuple(family.key for family in EXHAUSTED)),
    ("Cooling", tuple(family.key for family in COOLED)),
    ("Mounts, gears and shifter", ("mount", *(family.key for family in TURNED))),
    ("Oils and fluids", ("fluid",)),
    ("Aero", tuple(family.key for family in AIRED)),
    ("Weight out", tuple(family.key for family in LIGHTER)),
    ("Other", ("other",)),
)
