"""A stop as bars and as the car from its side, before beside now; the ink is the template's."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.braking.bench import Stopped
from rimcore.braking.stops import Braked, Stop, axle_torque_nm, front_load_pct, shares

WIDTH, HEIGHT, LEFT, LONG, ROW = 640.0, 236.0, 150.0, 400.0, 26.0


@dataclass(frozen=True)
class Bar:
    """One figure as two bars from the left: now solid, before dashed."""

    name: str
    y: float
    now: float
    before: float
    text: str


@dataclass(frozen=True)
class StopDrawing:
    """All bars; each kind of figure has a scale of its own."""

    width: float
    height: float
    left: float
    bars: tuple[Bar, ...]


def stop_drawing(now: Stopped, before: Stopped) -> StopDrawing:
    """Bars of two stops.

    >>> one = Stopped(600.0, 75.0, (3000.0, 1000.0), (80.0, None))
    >>> [bar.text for bar in stop_drawing(one, one).bars][:2]
    ['600 kJ', '75 %']
    """
    kinds = (
        ("Energy", (now.energy_kj,), (before.energy_kj,), "kJ"),
        ("Load", (now.front_pct, 100 - now.front_pct), (before.front_pct, 100 - before.front_pct), "%"),
        ("Torque", now.torque_nm, before.torque_nm, "N·m"),
        ("Discs warmer by", now.rise_k, before.rise_k, "K"),
    )
    bars, y = [], 14.0
    for name, figures, then, unit in kinds:
        most = max((one for one in (*figures, *then) if one is not None), default=1.0) or 1.0
        for end, one, other in zip(("", "") if len(figures) == 1 else ("front", "rear"), figures, then, strict=False):
            shown = "not known" if one is None else f"{one:.0f} {unit}"
            arrow = f"{other:.0f} → " if one is not None and other is not None and round(other) != round(one) else ""
            bars.append(
                Bar(
                    f"{name}, {end}" if end else name,
                    y,
                    round(LONG * (one or 0.0) / most, 1),
                    round(LONG * (other or 0.0) / most, 1),
                    arrow + shown,
                )
            )
            y += ROW
        y += 6
    return StopDrawing(WIDTH, y + 8, LEFT, tuple(bars))


#: the sheet of the car from its side: width, ground, and the longest arrow of a load
SIDE_WIDTH, SIDE_HEIGHT, GROUND, LONGEST = 640.0, 250.0, 196.0, 74.0


@dataclass(frozen=True)
class Arrow:
    """A load or a force at a wheel, of which end and when."""

    x: float
    now: float
    before: float
    text: str
    end: str


@dataclass(frozen=True)
class SideDrawing:
    """The car from its side, front to the left, to one scale: wheels, centre of gravity, loads, braking forces."""

    width: float
    height: float
    ground: float
    wheels: tuple[tuple[float, float], tuple[float, float]]
    cg: tuple[float, float]
    loads: tuple[Arrow, Arrow]
    forces: tuple[Arrow, Arrow]
    lifted: bool


def side_drawing(now: Braked, before: Braked, stop: Stop) -> SideDrawing:
    """Loads of both ends in the stop, and what each end brakes with where it brakes by its load.

    Parameters
    ----------
    now, before : with the build, and as it stands
    stop : from and to which speed, at which deceleration

    Source: as ``shares`` and ``axle_torque_nm``.

    >>> car = Braked(1500.0, 60.0, 500.0, 2500.0, (300.0, 300.0))
    >>> drawn = side_drawing(car, car, Stop(100.0, deceleration_g=1.0))
    >>> [one.text for one in drawn.loads], drawn.cg[0] - drawn.wheels[0][0]
    (['1200 kg', '300 kg'], 160.0)
    """
    scale = 400.0 / now.wheelbase_mm
    front, rear = 120.0, 520.0
    radii = [radius * scale for radius in now.radius_mm]
    shared = [[one.mass_kg * share for share in shares(one, stop.deceleration_g)] for one in (now, before)]
    braked = [
        [torque / radius * 1000.0 for torque, radius in zip(axle_torque_nm(one, stop), one.radius_mm, strict=True)]
        for one in (now, before)
    ]

    def arrows(pair: list[list[float]], unit: str) -> tuple[Arrow, Arrow]:
        most = max(max(pair[0]), max(pair[1])) or 1.0
        first, second = (
            Arrow(
                x,
                round(LONGEST * pair[0][k] / most, 1),
                round(LONGEST * pair[1][k] / most, 1),
                f"{pair[0][k]:.0f} {unit}",
                end,
            )
            for k, (x, end) in enumerate(((front, "front"), (rear, "rear")))
        )
        return first, second

    return SideDrawing(
        SIDE_WIDTH,
        SIDE_HEIGHT,
        GROUND,
        wheels=((front, round(radii[0], 1)), (rear, round(radii[1], 1))),
        cg=(
            round(front + 400.0 * (1 - now.front_pct / 100.0)),
            round(GROUND - now.cg_height_mm * scale),
        ),
        loads=arrows(shared, "kg"),
        forces=arrows(braked, "N"),
        lifted=front_load_pct(now, stop.deceleration_g) > 100.0,
    )
