"""A stop as bars: load, torque and heat of both ends, before beside now; the ink is the template's."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.braking.bench import Stopped

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
