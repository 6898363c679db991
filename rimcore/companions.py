"""What goes along with more than one family, and what a lever of a build drags along: each said once.

Common practice throughout.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from rimcore.families import FAMILIES
from rimcore.parts.declared import Given, Need, Place
from rimcore.quantities.judgement import COMMON_PRACTICE


def _other(name: str, why: str, quantity: int = 1, needed: bool = True) -> Need:
    return Need("other", name, quantity, why, COMMON_PRACTICE, needed=needed)


def _oil(kind: str, name: str, why: str) -> Need:
    return Need("fluid", name, 1, why, COMMON_PRACTICE, {"kind": kind})


_COOLANT = Need("coolant", "Coolant", 1, "what is drained is caught and seldom goes back", COMMON_PRACTICE)
_CLAMPS = _other("Hose clamps", "old ones have bitten into their hoses", 4)
_SEALS = _other("Axle seals", "they are out, and weep when they go back", 2)
_ALIGNMENT = _other("Alignment", "height, camber and the rack's place change toe: set it after the car has settled")
_DAMPER_BOLTS = _other("Lower damper bolts, one-use", "stretched once, where the maker says so", 2)
_RODS = Need(
    "tie_rod", "Tie rods of the new length", 2, "a rack that moves asks for other rods", COMMON_PRACTICE, needed=False
)
_ROD_NUTS = _other("Rod end nuts, one-use", "self-locking once, or a new pin", 2)
_CLAMP_BOLT = _other("Shaft clamp bolt, one-use", "stretched once, where the maker says so")
_LINES = _other("Caps for open lines", "an open line drips and takes dirt", 2, needed=False)

#: family -> what it drags along besides what it says itself
COMPANIONS: Mapping[str, tuple[Need, ...]] = {
    "rotor": (
        Need(
            "brake_pads",
            "Brake pads for the new discs",
            1,
            "worn pads wear new discs to their own shape",
            COMMON_PRACTICE,
        ),
    ),
    "bush": (_other("Arm bolts, one-use", "stretched once, where the maker says so", 2), _ALIGNMENT),
    "roll_bar": (_other("Bar link nuts, one-use", "self-locking once", 2),),
    "bar_link": (_other("Bar link nuts, one-use", "self-locking once", 2),),
    "control_arm": (_other("Ball joint nuts, one-use", "self-locking once, or a new pin", 2),),
    "thermostat": (_COOLANT,),
    "coolant_hose": (_COOLANT, _CLAMPS),
    "radiator": (_CLAMPS,),
    "tail_tip": (Need("clamp", "Exhaust clamps", 1, "every slip joint has one", COMMON_PRACTICE, {"kind": "band"}),),
    "charge_cooler": (
        Need("coupler", "Coupler", 2, "each end has one", COMMON_PRACTICE),
        Need("clamp", "T-bolt clamps", 4, "there is boost", COMMON_PRACTICE, {"kind": "t-bolt"}),
    ),
    "axle_gears": (_SEALS,),
    "differential": (_SEALS,),
    "rack_bracket": (_RODS, _LINES),
    "shift_cable": (_other("Clips of the shift cable", "brittle, and they break coming off", 2, needed=False),),
}
#: lever -> what it drags along
OF_LEVER: Mapping[str, tuple[Need, ...]] = {
    "ride_drop_mm": (_ALIGNMENT, _other("Top nuts, one-use", "self-locking once", 2, needed=False)),
    "perch_up_mm": (_ALIGNMENT,),
    "lower_mount_mm": (_ALIGNMENT,),
    "collar_mm": (_ALIGNMENT,),
    "camber_deg": (
        _ALIGNMENT,
        _other("Camber bolts or plates", "where the car has nothing to turn", 2, needed=False),
    ),
    "lip_rolled_mm": (_other("Paint and seam sealer", "the bare edge rusts"),),
    "lock_limit_deg": (_other("Lock limiters", "one on each side, of the same thickness", 2),),
    "rack_limit_mm": (_other("Lock limiters", "one on each side, of the same thickness", 2),),
    "axle_ratio": (
        _oil("axle", "Axle oil", "and again after the first 800 km"),
        _SEALS,
        _other("Bearings, shims and crush sleeve for the axle", "pinion depth and preload are set anew"),
        _other("Crown wheel bolts, one-use", "stretched once, where the maker says so"),
    ),
    **dict.fromkeys(
        ("rack_forward_mm", "rack_up_mm"),
        (
            _ALIGNMENT,
            _oil("steering", "Steering fluid", "the circuit is opened"),
            _CLAMP_BOLT,
            _RODS,
            Need(
                "shaft",
                "Shaft extension",
                1,
                "a rack that goes forward pulls the shaft out of its joint",
                COMMON_PRACTICE,
                needed=False,
            ),
            _LINES,
        ),
    ),
    **dict.fromkeys(("rack_spacer_mm", "steer_arm_mm", "rod_end_mm", "rod_longer_mm"), (_ALIGNMENT, _ROD_NUTS)),
    "crossmember": (
        _ALIGNMENT,
        _other("Subframe bolts, one-use", "stretched once, where the maker says so", 4),
        _other("Subframe mounts", "while it is loose anyway", 4, needed=False),
    ),
    "even_weights": (_other("Corner weighing, pads lent or a workshop", "four pads on a level floor"),),
    "strip_out": (_other("Bags and labels", "one of each for every item that comes out"),),
}
#: what a step uses up that comes as a part, or is dragged along by one: it is bought there
AS_PARTS = frozenset(
    {
        "axle oil",
        "axle seals",
        "brake fluid",
        "coolant",
        "copper washers",
        "couplers",
        "crush sleeve",
        "drain plug washer",
        "exhaust gaskets",
        "hose clamps",
        "lock nuts",
        "paint and seam sealer",
        "pinion nut",
        "pinion seal",
        "plate",
        "seal of the shaft",
        "sealing washers",
        "sheet",
        "steering fluid",
        "T-bolt clamps",
        "thermostat gasket",
        "wide washers",
    }
)
#: families that drag nothing along, and why
ALONE: Mapping[str, str] = {
    "tyre": "it comes with its wheel",
    "ring": "it is what a wheel also needs",
    "spacer": "its nuts come with it; longer studs are its wheel's need",
    "stud": "nuts are the wheel's need",
    "nut": "it is what a wheel also needs",
    "bolt": "it is what a wheel also needs",
    "valve": "it comes with its core",
    "sensor": "it comes with its stem",
    "cap": "it is pushed in",
    "brake_fluid": "it is what the brakes also need",
    "helper": "it comes with its spring",
    "bump_stop": "it slips over the shaft",
    "u_bolt": "its nuts come with it",
    "coupler": "clamps are the pipe's need",
    "reducer": "clamps are the pipe's need",
    "air_filter": "its clamp comes with it",
    "hanger": "it is what an exhaust also needs",
    "clamp": "it is what a pipe also needs",
    "radiator_cap": "it is turned on",
    "coolant": "it is what a radiator also needs",
    "shifter_bush": "it is pressed in dry",
    "vent": "it is riveted or screwed with what comes with it",
    "insert": "it is what a panel also needs",
    "splitter_adjuster": "it comes with its bolts",
    "glass": "it goes into the seal that is there, or its maker says which",
    "trim": "its clips are bagged and go back",
    "ballast": "plate and bolts are consumables of its step",
    "other": "nobody knows what it is",
}


def needs_of(family: str, given: Given, place: Place) -> tuple[Need, ...]:
    """What a part drags along: what its family says of it, and what goes along with several families; each once.

    >>> [need.name for need in needs_of("thermostat", {}, None)]
    ['Gasket for the thermostat', 'Coolant']
    """
    own = () if FAMILIES[family].on_wheels and not place.wheels else FAMILIES[family].drags(given, place)
    return once((*own, *COMPANIONS.get(family, ())))


def once(needs: Iterable[Need]) -> tuple[Need, ...]:
    """Needs without those that are said twice."""
    found: dict[object, Need] = {}
    for need in needs:
        found.setdefault(need.key, need)
    return tuple(found.values())
