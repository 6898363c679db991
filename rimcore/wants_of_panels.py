"""What a panel comes to in parts to buy: its sheet, and what holds it."""

from __future__ import annotations

from collections.abc import Sequence

from rimcore.aero.card import Cut
from rimcore.wanted import Wanted


def wanted_of(
    name: str,
    sheet: str,
    area_m2: float,
    mass_kg: float,
    fasteners: int | None,
    cuts: Sequence[Cut] = (),
) -> list[Wanted]:
    """A panel of its sheet, and bolts, washers and nuts for its holes.

    The price is that of the cheapest way to cut it, where every sheet of that way has one. Source: common practice: a
    bolt with a wide washer on both sides and a lock nut for every hole.

    Parameters
    ----------
    name : of the panel
    sheet : what it is cut from, by its code
    area_m2 : over 0 [m²]
    mass_kg : of the sheet that stays on the car, over 0 [kg]
    fasteners : holes of it, existing and new; None where its edge leaves no room for them
    cuts : ways to cut it from what is on sale

    >>> found = wanted_of("Belly", "corrugated", 1.1, 0.9, 14)
    >>> [(one.family, one.quantity, one.mass_kg, one.price_minor) for one in found]
    [('panel', 1, 0.9, None), ('other', 14, 0.0, None)]
    """
    prices = [cut.price_minor for cut in cuts if cut.price_minor is not None]
    best = min((cut for cut in cuts if cut.price_minor is not None), key=lambda cut: cut.price_minor or 0, default=None)
    why = (
        f"cut from {best.count} sheets of {best.sheet.wide_mm:g} x {best.sheet.long_mm:g} mm"
        if best is not None
        else "cut from its sheet"
    )
    spec = {"sheet": sheet, "area_m2": round(area_m2, 3), "mass_change_kg": round(mass_kg, 2)}
    found = [Wanted("panel", "panel", name[:80], 1, spec, min(prices, default=None), why)]
    if fasteners:
        bolts = f"Bolts, wide washers and lock nuts for {name}"[:80]
        found.append(Wanted("fasteners", "other", bolts, fasteners, {"mass_change_kg": 0.0}, why="one for every hole"))
    return found
