"""A car that is lifted on leaves.

Wind-up under torque, propshaft joints, hoses, track that no longer matches, stability.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.steering.rack import joint_angle, shaft_ratio
from rimcore.tables.facts import G_M_PER_S2

#: grip at which an axle winds up most, and the angle that is looked at twice [deg] (common practice, from memory)
GRIP, WIND_UP_DEG = 1.0, 8.0
#: speed of a propshaft may waver by [%] (common practice, from memory), and tracks may differ by [mm]
UNEVEN_PCT, TRACK_MM = 1.0, 20.0
#: static stability factor below which a car is called tippy (common practice, from memory; cars 1.3 to 1.5)
LEAST_STABLE = 1.1


def leaf_turn_nm_per_rad(rate_n_per_mm: float, length_mm: float) -> float:
    """Stiffness of a leaf pack against the axle's turning about itself [N·m/rad]: k l², l half of eye to eye.

    Both halves are cantilevers of half the rate from the axle's seat. Source: beam statics (any handbook of strength of
    materials).

    Parameters
    ----------
    rate_n_per_mm : of the pack at its middle, over 0 [mm]
    length_mm : eye to eye, over 0 [mm]

    >>> leaf_turn_nm_per_rad(27.0, 1120.0)
    8467.2
    """
    return rate_n_per_mm * (length_mm / 2) ** 2 / 1000.0


def wind_up_deg(
    axle_kg: float, radius_mm: float, seat_mm: float, rate_n_per_mm: float, length_mm: float, grip: float = GRIP
) -> float:
    """How far an axle turns on its two leaf packs when its tyres push or brake with all their grip [deg].

    Parameters
    ----------
    axle_kg : load on the axle [kg]
    radius_mm : loaded radius of its tyres [mm]
    seat_mm : middle of the pack above the axle's middle, block and all [mm]
    rate_n_per_mm : of one pack at its middle, over 0 [N/mm]
    length_mm : eye to eye, over 0 [mm]
    grip : push at the ground over the load, 0 or more

    The push at the ground has the lever radius + seat about the pack. Source: statics.

    >>> round(wind_up_deg(590.0, 330.0, 48.0, 27.0, 1120.0), 2), round(wind_up_deg(590.0, 330.0, 98.0, 27.0, 1120.0), 2)
    (7.4, 8.38)
    """
    moment_nm = grip * axle_kg * G_M_PER_S2 * (radius_mm + seat_mm) / 1000.0
    return math.degrees(moment_nm / (2 * leaf_turn_nm_per_rad(rate_n_per_mm, length_mm)))


def propshaft_turn_deg(lift_mm: float, length_mm: float) -> float:
    """How much steeper a propshaft stands when the gearbox rises over the axle [deg].

    Source: plane geometry.

    Parameters
    ----------
    lift_mm : of the gearbox's end over the axle's [mm]
    length_mm : between the joints, over ``lift_mm`` [mm]

    >>> round(propshaft_turn_deg(50.0, 950.0), 2)
    3.01
    """
    return math.degrees(math.atan2(lift_mm, length_mm))


def seat_mm(u_bolt_inside_mm: float, stack_mm: float, block_mm: float = 0.0) -> float:
    """Middle of a leaf pack above the axle's middle [mm]: half the tube, half the pack, and the block between.

    The tube is as thick as its U-bolts are wide inside.

    Source: plane geometry.

    Parameters
    ----------
    u_bolt_inside_mm : between the legs, over 0 [mm]
    stack_mm : height of the pack, over 0 [mm]
    block_mm : between axle and pack, 0 or more [mm]

    >>> seat_mm(62.0, 38.0, 50.0)
    100.0
    """
    return u_bolt_inside_mm / 2 + stack_mm / 2 + block_mm


def track_with_mm(track_mm: float, outboard_mm: float) -> float:
    """Track when both wheels' middles go outboard [mm].

    Source: plane geometry.

    Parameters
    ----------
    track_mm : over 0 [mm]
    outboard_mm : of each wheel's middle; minus is inboard [mm]

    >>> track_with_mm(1380.0, 12.5)
    1405.0
    """
    return track_mm + 2 * outboard_mm


def even_spacer_mm(wider_mm: float, narrower_mm: float) -> float:
    """Spacer on each side that brings a track up to the other one [mm].

    Source: plane geometry.

    Parameters
    ----------
    wider_mm : the wider track [mm]
    narrower_mm : the narrower one [mm]

    >>> even_spacer_mm(1405.0, 1365.0)
    20.0
    """
    return (wider_mm - narrower_mm) / 2


def stability(track_mm: float, cg_height_mm: float) -> float:
    """Static stability factor: half the track over the height of the centre of gravity.

    Source: NHTSA, New Car Assessment Program, static stability factor = T ÷ 2H.

    Parameters
    ----------
    track_mm : over 0 [mm]
    cg_height_mm : over the ground, over 0 [mm]

    >>> round(stability(1360.0, 560.0), 3)
    1.214
    """
    return track_mm / (2 * cg_height_mm)


@dataclass(frozen=True)
class Lifted:
    """A leaf-sprung end at the height of a build, and as it stood; lengths in mm, masses in kg; None is not known."""

    lift_mm: float
    axle_kg: float | None = None
    radius_mm: float | None = None
    rate_n_per_mm: float | None = None
    length_mm: float | None = None
    #: middle of the pack above the axle's middle, now and with the build
    seat_before_mm: float | None = None
    seat_mm: float | None = None
    block_mm: float = 0.0
    #: None where a block's taper is not said
    taper_deg: float | None = 0.0
    propshaft_mm: float | None = None
    #: joint angles as they stand: gearbox end, pinion end
    joints_deg: tuple[float, float] | None = None
    track_mm: float | None = None
    other_track_mm: float | None = None
    cg_height_mm: float | None = None
    inputs: tuple[InputUsed, ...] = ()


def judge_lift(one: Lifted) -> tuple[Judgement, ...]:
    """Wind-up, joints, tracks and stability of a lifted end."""
    return (_wound(one), *_joints(one), _tracks(one), _stable(one))


def _wound(one: Lifted) -> Judgement:
    code, name = "lift.wind_up", "Axle wind-up with all the grip"
    lacks = [
        what
        for what, value in (
            ("the axle's load", one.axle_kg),
            ("the pack's rate", one.rate_n_per_mm),
            ("the pack eye to eye", one.length_mm),
            ("U-bolts and pack's thickness", one.seat_mm),
            ("the tyre", one.radius_mm),
        )
        if value is None
    ]
    if (
        one.axle_kg is None
        or one.rate_n_per_mm is None
        or one.length_mm is None
        or one.seat_mm is None
        or one.radius_mm is None
    ):
        return unmeasured(
            code,
            name,
            f"not known: {', '.join(lacks)}",
            ["part.leaf_pack"],
            ["write the pack and the U-bolts down, weigh the axle"],
        )
    said = wind_up_deg(one.axle_kg, one.radius_mm, one.seat_mm, one.rate_n_per_mm, one.length_mm)
    before = (
        None
        if one.seat_before_mm is None
        else wind_up_deg(one.axle_kg, one.radius_mm, one.seat_before_mm, one.rate_n_per_mm, one.length_mm)
    )
    state: State = "tight" if said > WIND_UP_DEG else "clear"
    more = f"; the block makes {said - before:.1f}° of it" if before is not None and one.block_mm else ""
    return Judgement(
        code,
        name,
        state,
        f"{said:.1f}°{more}",
        f"statics; {WIND_UP_DEG:g}° is {COMMON_PRACTICE}, from memory",
        value=said,
        unit="°",
        held_against=WIND_UP_DEG,
        margin=WIND_UP_DEG - said,
        before=before,
        formula=f"{GRIP:g} × {one.axle_kg:g} kg × g × ({one.radius_mm:.0f} + {one.seat_mm:.0f}) mm ÷ 2 k l², k {one.rate_n_per_mm:g} N/mm, l {one.length_mm / 2:g} mm = {said:.1f}°",
        inputs=one.inputs,
        remedies=()
        if state == "clear"
        else ("full-height leaves instead of blocks", "a traction bar", "a stiffer pack"),
    )


def _joints(one: Lifted) -> tuple[Judgement, ...]:
    rows = (("lift.joint", "Propshaft joints"), ("lift.even", "Propshaft turns evenly"))
    if one.propshaft_mm is None or one.joints_deg is None:
        return tuple(
            unmeasured(
                code,
                name,
                "not known: the propshaft's length and its two joint angles",
                ["part.propshaft"],
                ["angle gauge on gearbox, shaft and pinion"],
            )
            for code, name in rows
        )
    if one.taper_deg is None:
        return tuple(
            unmeasured(
                code,
                name,
                "not known: the block's taper",
                ["part.lift_block"],
                ["ask for the taper; 0 is a flat block"],
            )
            for code, name in rows
        )
    steeper = propshaft_turn_deg(one.lift_mm, one.propshaft_mm)
    angles = [abs(one.joints_deg[0] + steeper), abs(one.joints_deg[1] + steeper - one.taper_deg)]
    inputs = (
        *one.inputs,
        InputUsed("joints as they stand", f"{one.joints_deg[0]:g}° and {one.joints_deg[1]:g}°", "recorded"),
        InputUsed("lifted", f"{one.lift_mm:g} mm", "the build"),
    )
    formula = (
        f"arctan({one.lift_mm:g} ÷ {one.propshaft_mm:g}) = {steeper:.1f}° steeper; {angles[0]:.1f}° and {angles[1]:.1f}°"
        + (f", taper {one.taper_deg:g}° taken off" if one.taper_deg else "")
    )
    bent = replace(
        joint_angle([round(angle, 2) for angle in angles]),
        code=rows[0][0],
        name=rows[0][1],
        formula=formula,
        inputs=inputs,
    )
    fast, slow = shaft_ratio(angles, [0.0, 0.0])
    uneven = 100 * (fast - slow)
    state: State = "clear" if uneven <= UNEVEN_PCT else "tight"
    even = Judgement(
        rows[1][0],
        rows[1][1],
        state,
        f"{uneven:.2f} % over a turn; joints of {angles[0]:.1f}° and {angles[1]:.1f}°",
        f"Cardan joints in phase, in one plane; {UNEVEN_PCT:g} % is {COMMON_PRACTICE}, from memory",
        value=uneven,
        unit="%",
        held_against=UNEVEN_PCT,
        margin=UNEVEN_PCT - uneven,
        formula=formula,
        inputs=inputs,
        remedies=()
        if state == "clear"
        else (
            f"a taper of {angles[1] - angles[0]:+.1f}° between pack and axle".replace("-", "−"),
            "full-height leaves",
        ),
    )
    return bent, even


def _tracks(one: Lifted) -> Judgement:
    code, name = "lift.track", "Tracks front and rear"
    if one.track_mm is None or one.other_track_mm is None:
        return unmeasured(code, name, "the tracks are not in the car's data", ["car.track"], ["measure both tracks"])
    apart = one.track_mm - one.other_track_mm
    state: State = "clear" if abs(apart) <= TRACK_MM else "tight"
    spacer = even_spacer_mm(max(one.track_mm, one.other_track_mm), min(one.track_mm, one.other_track_mm))
    where = "the other end" if apart > 0 else "this end"
    reason = f"{abs(apart):.0f} mm apart" + (
        "" if state == "clear" else f": spacers of {spacer:.0f} mm at {where} even them"
    )
    return Judgement(
        code,
        name,
        state,
        reason,
        f"{COMMON_PRACTICE}, from memory: {TRACK_MM:g} mm",
        value=apart,
        unit="mm",
        held_against=TRACK_MM,
        margin=TRACK_MM - abs(apart),
        formula=f"{one.track_mm:.0f} − {one.other_track_mm:.0f} = {apart:.0f} mm".replace("-", "−"),
        inputs=one.inputs,
        remedies=() if state == "clear" else (f"spacers of {spacer:.0f} mm",),
    )


def _stable(one: Lifted) -> Judgement:
    code, name = "lift.stable", "Static stability"
    if one.cg_height_mm is None or one.track_mm is None:
        what = "the height of the centre of gravity" if one.cg_height_mm is None else "the track"
        return unmeasured(code, name, f"not known: {what}", ["car.cg"], ["weigh one axle with the other raised"])
    now, before = stability(one.track_mm, one.cg_height_mm + one.lift_mm), stability(one.track_mm, one.cg_height_mm)
    state: State = "clear" if now >= LEAST_STABLE else "tight"
    return Judgement(
        code,
        name,
        state,
        f"{before:.2f} → {now:.2f}; {LEAST_STABLE:g} is where a car is called tippy",
        f"NHTSA static stability factor, T ÷ 2H; the limit is {COMMON_PRACTICE}, from memory",
        value=now,
        held_against=LEAST_STABLE,
        margin=now - LEAST_STABLE,
        before=before,
        formula=f"{one.track_mm:g} ÷ (2 × ({one.cg_height_mm:g} + {one.lift_mm:g})) = {now:.3f}",
        inputs=one.inputs,
        remedies=() if state == "clear" else ("a wider track", "less lift"),
    )


#: ways to another height side by side: what each is, what it buys and what it costs (common practice)
SCHOOLS: tuple[tuple[str, str, str], ...] = (
    (
        "Springs alone",
        "one height, the old dampers",
        "cheap and quiet; bump travel is lost, the dampers were made for other rates",
    ),
    (
        "Coilovers",
        "height and preload set apart, dampers to match",
        "dear; threads want cleaning, and somebody has to even the corners",
    ),
    (
        "Lift blocks",
        "the old pack on a block, back again in an hour",
        "cheap; the axle winds up further under torque and braking; never under a steered axle, never stacked",
    ),
    (
        "Full-height leaves",
        "a pack that is arched more keeps its own angles",
        "dearer and stiffer; the school for towing",
    ),
)
