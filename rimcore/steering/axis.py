"""A steering axis read from the wheel itself: the scrub circle on the floor, the lower joint, a caster sweep."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from rimcore.quantities.errors import BadInput
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.stance import ground_mm

#: ± of an inclination that a sheet says [deg] (common practice: sheets allow about that much from car to car)
SHEET_DEG = 0.3


@dataclass(frozen=True)
class Found:
    """One value of the axis with its ± and how it came about: formula with the numbers put in."""

    station: str
    value: float
    uncertainty: float
    unit: str
    formula: str


def caster_from_sweep_deg(camber_out_deg: float, camber_in_deg: float, sweep_deg: float) -> float:
    """Caster from the camber at the same angle each way [deg]: (C out − C in) ÷ (2 sin θ).

    Parameters
    ----------
    camber_out_deg : with the wheel's front edge turned outboard, minus is top inboard [deg]
    camber_in_deg : with its front edge turned inboard by the same angle [deg]
    sweep_deg : each way, over 0 [deg]

    Raises
    ------
    BadInput : the angle is not between 0 and 90 degrees

    Source: small angles, as gauges that sweep the wheel show it (common practice); the example is one from
    practice, where the gauge showed 5.2.

    Examples
    --------
    >>> round(caster_from_sweep_deg(-0.1, -3.8, 20.0), 1)
    5.4
    """
    if not 0 < sweep_deg < 90:
        raise BadInput("the angle each way lies between 0 and 90 degrees; accepted: 20", "sweep_deg")
    return (camber_out_deg - camber_in_deg) / (2 * math.sin(math.radians(sweep_deg)))


def kpi_from_floor_deg(fitted: Fitted, scrub_mm: float, joint_inboard_mm: float, joint_below_mm: float) -> float:
    """Kingpin inclination through the lower joint and the scrub circle's middle [deg], top inboard positive.

    Parameters
    ----------
    fitted : what stands on the hub; its camber counts
    scrub_mm : radius of the scrub circle; plus where the tyre's middle stands outboard of the circle's middle [mm]
    joint_inboard_mm : from the mounting face inboard to the lower joint [mm]
    joint_below_mm : how far the joint lies below the hub's centre [mm]

    Raises
    ------
    BadInput : the joint lies on the floor or under it

    Source: plane geometry.

    Examples
    --------
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> round(kpi_from_floor_deg(Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17")), -7.4, 74.5, 120.0), 1)
    12.0
    """
    across, below = ground_mm(fitted)
    if below - joint_below_mm < 20.0:
        raise BadInput(
            f"the joint lies on the floor or under it; accepted: less than {below - 20:.0f} mm below the hub",
            "joint_below_mm",
        )
    return math.degrees(math.atan2(across + joint_inboard_mm - scrub_mm, below - joint_below_mm))


def kingpin_at_hub_mm(joint_inboard_mm: float, joint_below_mm: float, kpi_deg: float) -> float:
    """From the mounting face inboard to the axis at hub height [mm], through the lower joint at an inclination.

    Source: plane geometry.

    Parameters
    ----------
    joint_inboard_mm : of the lower joint from the mounting face [mm]
    joint_below_mm : of the lower joint under the hub's middle [mm]
    kpi_deg : kingpin inclination, −45 to 45 [deg]

    >>> round(kingpin_at_hub_mm(74.5, 120.0, 12.0), 1)
    100.0
    """
    return joint_inboard_mm + joint_below_mm * math.tan(math.radians(kpi_deg))


def spread(of: Callable[..., float], values: tuple[float, ...], doubts: tuple[float, ...]) -> float:
    """± of a result whose arguments each have their own ±, added as squares.

    Source: root of the sum of squares, JCGM 100:2008, 5.1.2, by differences.

    Parameters
    ----------
    of : the function
    values : its arguments (n,)
    doubts : their ± (n,), 0 or more

    >>> spread(lambda a, b: a + b, (1.0, 2.0), (3.0, 4.0))
    5.0
    """
    total = 0.0
    for place, doubt in enumerate(doubts):
        ends = [
            of(*(value + way * doubt if k == place else value for k, value in enumerate(values))) for way in (1, -1)
        ]
        total += ((ends[0] - ends[1]) / 2) ** 2
    return math.sqrt(total)


def axis_from_wheel(
    fitted: Fitted,
    scrub_mm: float | None,
    joint_mm: tuple[float, float] | None,
    kpi_deg: float | None,
    sweep: tuple[float, float, float] | None,
    rule_mm: float = 2.0,
    gauge_deg: float = 0.1,
) -> list[Found]:
    """What can be said of a steering axis from what was read at the wheel.

    Parameters
    ----------
    fitted : what stood on the car when it was read
    scrub_mm : radius of the scrub circle on the floor [mm]
    joint_mm : lower joint, inboard of the mounting face and below the hub's centre [mm]
    kpi_deg : inclination, where it is known from a sheet [deg]
    sweep : angle each way, camber with the front edge outboard, and inboard [deg]
    rule_mm, gauge_deg : ± of rule and gauge (common practice: a chalk line is good to 2 mm) [mm, deg]

    Examples
    --------
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
    >>> [(one.station, round(one.value, 1)) for one in axis_from_wheel(on_car, -7.4, (74.5, 120.0), None, (20.0, -0.1, -3.8))]
    [('kpi', 12.0), ('kingpin', 100.0), ('caster', 5.4)]
    """
    found: list[Found] = []
    across, below = ground_mm(fitted)
    if scrub_mm is not None and joint_mm is not None:
        found += _through_both(fitted, scrub_mm, joint_mm, rule_mm)
    elif kpi_deg is not None and joint_mm is not None:
        inboard, low = joint_mm
        kingpin = kingpin_at_hub_mm(inboard, low, kpi_deg)
        doubt = spread(kingpin_at_hub_mm, (inboard, low, kpi_deg), (rule_mm, rule_mm, SHEET_DEG))
        found.append(
            Found("kingpin", kingpin, doubt, "mm", f"{inboard:g} + {low:g} × tan {kpi_deg:.1f}° = {kingpin:.1f} mm")
        )
    elif kpi_deg is not None and scrub_mm is not None:

        def at_hub(scrub: float, kpi: float) -> float:
            return scrub - across + below * math.tan(math.radians(kpi))

        kingpin = at_hub(scrub_mm, kpi_deg)
        text = f"{scrub_mm:g} − ({across:.1f}) + {below:.1f} × tan {kpi_deg:.1f}° = {kingpin:.1f} mm"
        found.append(Found("kingpin", kingpin, spread(at_hub, (scrub_mm, kpi_deg), (rule_mm, SHEET_DEG)), "mm", text))
    if sweep is not None:
        angle, out, inn = sweep
        caster = caster_from_sweep_deg(out, inn, angle)
        doubt = spread(lambda o, i: caster_from_sweep_deg(o, i, angle), (out, inn), (gauge_deg, gauge_deg))
        found.append(
            Found("caster", caster, doubt, "deg", f"({out:g} − ({inn:g})) ÷ (2 × sin {angle:g}°) = {caster:.1f}°")
        )
    return found


def _through_both(fitted: Fitted, scrub_mm: float, joint_mm: tuple[float, float], rule_mm: float) -> list[Found]:
    """Inclination and distance from two points of the axis: the lower joint, and where it meets the floor."""
    across, below = ground_mm(fitted)
    inboard, low = joint_mm
    values, doubts = (scrub_mm, inboard, low), (rule_mm, rule_mm, rule_mm)

    def kpi(scrub: float, at: float, under: float) -> float:
        return kpi_from_floor_deg(fitted, scrub, at, under)

    def kingpin(scrub: float, at: float, under: float) -> float:
        return kingpin_at_hub_mm(at, under, kpi(scrub, at, under))

    angle, distance = kpi(*values), kingpin(*values)
    return [
        Found(
            "kpi",
            angle,
            spread(kpi, values, doubts),
            "deg",
            f"atan (({across:.1f} + {inboard:g} − ({scrub_mm:g})) ÷ ({below:.1f} − {low:g})) = {angle:.1f}°",
        ),
        Found(
            "kingpin",
            distance,
            spread(kingpin, values, doubts),
            "mm",
            f"{inboard:g} + {low:g} × tan {angle:.1f}° = {distance:.1f} mm",
        ),
    ]
