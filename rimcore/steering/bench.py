"""The steering bench, as declared: the rack moved, its limiters, and what is judged of it."""

from __future__ import annotations

from collections.abc import Sequence

from rimcore.quantities.declared import Bench, Lever
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, unmeasured
from rimcore.steering.rack import CENTRED_MM, centring

LEVERS = (
    Lever(
        "rack_forward_mm", "Rack moved forward", "length", "mm", "rack_move_mm", places=("",), help="backward is minus"
    ),
    Lever("rack_up_mm", "Rack moved up", "length", "mm", "rack_move_mm", places=("",), help="down is minus"),
    Lever(
        "rack_spacer_mm",
        "Spacers on the rack",
        "length",
        "mm",
        "rack_move_mm",
        places=("",),
        help="between rack and rod, each side; they side-load it until its seals leak",
    ),
    Lever(
        "steer_arm_mm", "Steering arms longer", "length", "mm", "rack_move_mm", places=("",), help="shorter is minus"
    ),
    Lever(
        "rod_end_mm", "Rod ends lower at the arm", "length", "mm", "rack_move_mm", places=("",), help="higher is minus"
    ),
    Lever(
        "rod_longer_mm",
        "Rods longer, each side",
        "length",
        "mm",
        "rod_longer_mm",
        places=("",),
        help="than keeps toe; shorter is minus",
    ),
    Lever(
        "rack_limit_mm",
        "Lock limiters, each side",
        "length",
        "mm",
        "rack_limit_mm",
        places=("",),
        help="thickness on either side of the rack",
    ),
)

#: levers that move the rack, the rods and the arms, in the order in which hard points take them
MOVES = ("rack_forward_mm", "rack_up_mm", "rack_spacer_mm", "steer_arm_mm", "rod_end_mm", "rod_longer_mm")

STEERING_BENCH = Bench(
    "steering",
    "Steering",
    "rack, rods and both wheels: how far they turn, how close to over centre, where it locks",
    LEVERS,
    (),
    ("steering", "rack-centre", "tie-rod"),
)

CODE, NAME = "steer.centre", "Rack centred"


def judge_centre(left_mm: float | None, right_mm: float | None, inputs: Sequence[InputUsed] = ()) -> Judgement:
    """Is the rack in its middle by the rods' stick-out?

    >>> judge_centre(20.0, 14.0).reason
    'the left rod sticks out 6 mm more: move the rack 3 mm to the right'
    """
    if left_mm is None or right_mm is None:
        return unmeasured(
            CODE, NAME, "stick-out of both rods is not measured", ["stick-out"], ["measure both rods out of the rack"]
        )
    found = centring(left_mm, right_mm)
    apart = abs(left_mm - right_mm)
    longer = "left" if left_mm > right_mm else "right"
    reason = (
        f"{apart:.1f} mm apart: centred"
        if found.centred
        else f"the {longer} rod sticks out {apart:g} mm more: move the rack {found.move_mm:g} mm to the {found.towards}"
    )
    return Judgement(
        CODE,
        NAME,
        "clear" if found.centred else "hit",
        reason,
        f"{COMMON_PRACTICE}: equal within {CENTRED_MM:g} mm before any toe is set",
        value=apart,
        unit="mm",
        held_against=CENTRED_MM,
        margin=CENTRED_MM - apart,
        formula=f"|{left_mm:g} − {right_mm:g}| ÷ 2 = {found.move_mm:g} mm",
        inputs=tuple(inputs),
        remedies=() if found.centred else (f"move the rack {found.move_mm:g} mm to the {found.towards}",),
    )
