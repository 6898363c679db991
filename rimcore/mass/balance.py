"""What items taken out or put in do to the four corners and the centre of gravity."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.quantities.errors import BadInput


@dataclass(frozen=True)
class Item:
    """Mass added (+) or removed (−) [kg], behind the front axle, right of the centre line, above the ground [mm]."""

    name: str
    kg: float
    x_mm: float
    y_mm: float
    z_mm: float | None = None


@dataclass(frozen=True)
class Stands:
    """Pads of a car [kg, FL FR RL RR], wheelbase, tracks front and rear, height of its centre of gravity [mm]."""

    pads_kg: tuple[float, float, float, float]
    wheelbase_mm: float
    track_mm: tuple[float, float]
    cg_height_mm: float | None = None

    @property
    def total_kg(self) -> float:
        """Of all four."""
        return sum(self.pads_kg)


def shares(item: Item, stands: Stands) -> tuple[float, float, float, float]:
    """Share of an item's load at each corner: a rigid body on four equal springs; linear beyond axles and track.

    >>> shares(Item("in the middle", 1.0, 1250.0, 0.0), Stands((1, 1, 1, 1), 2500.0, (1500.0, 1500.0)))
    (0.25, 0.25, 0.25, 0.25)
    """
    along = item.x_mm / stands.wheelbase_mm
    front, rear = stands.track_mm
    apart = front * front + rear * rear
    f, r = (1 - along) / 2, along / 2
    lean_f, lean_r = item.y_mm * front / apart, item.y_mm * rear / apart
    return f - lean_f, f + lean_f, r - lean_r, r + lean_r


def after(stands: Stands, items: Sequence[Item]) -> Stands:
    """Pads with the items in or out; the height of the centre of gravity where every height is known.

    >>> after(Stands((300, 300, 200, 200), 2500.0, (1500.0, 1500.0), 500.0), [Item("battery", -20.0, 0.0, 0.0, 500.0)]).pads_kg
    (290.0, 290.0, 200.0, 200.0)
    """
    pads = list(stands.pads_kg)
    for item in items:
        for k, share in enumerate(shares(item, stands)):
            pads[k] += item.kg * share
    height = None
    if stands.cg_height_mm is not None and all(item.z_mm is not None for item in items):
        moment = stands.total_kg * stands.cg_height_mm + sum(item.kg * (item.z_mm or 0.0) for item in items)
        total = stands.total_kg + sum(item.kg for item in items)
        height = moment / total if total > 0 else None
    return Stands((pads[0], pads[1], pads[2], pads[3]), stands.wheelbase_mm, stands.track_mm, height)


def behind_front_mm(stands: Stands) -> float:
    """Centre of gravity behind the front axle [mm].

    >>> behind_front_mm(Stands((300, 300, 200, 200), 2500.0, (1500.0, 1500.0)))
    1000.0
    """
    return stands.wheelbase_mm * (stands.pads_kg[2] + stands.pads_kg[3]) / stands.total_kg


def right_of_centre_mm(stands: Stands) -> float:
    """Centre of gravity right of the centre line [mm].

    >>> right_of_centre_mm(Stands((290, 310, 200, 200), 2500.0, (1500.0, 1500.0)))
    15.0
    """
    fl, fr, rl, rr = stands.pads_kg
    return ((fr - fl) * stands.track_mm[0] + (rr - rl) * stands.track_mm[1]) / 2 / stands.total_kg


def ballast_mm(stands: Stands, kg: float) -> tuple[float, float]:
    """Where ballast brings the centre of gravity nearest to half the wheelbase and the centre line.

    Behind the front axle, right of the centre line [mm].

    Between the axles and between the wheels of the narrower end. Moments about both lines.

    Source: balance of moments (any statics).

    Parameters
    ----------
    stands : loads, wheelbase, tracks
    kg : of the ballast, over 0

    >>> ballast_mm(Stands((310, 290, 200, 200), 2500.0, (1500.0, 1500.0)), 100.0)
    (2500.0, 150.0)

    Raises
    ------
    BadInput : no ballast
    """
    if kg <= 0:
        raise BadInput("is 0 or less; accepted: ballast over 0 kg", "kg")
    half, total = stands.wheelbase_mm / 2, stands.total_kg
    along = half + total * (half - behind_front_mm(stands)) / kg
    across, reach = -total * right_of_centre_mm(stands) / kg, min(stands.track_mm) / 2
    return min(max(along, 0.0), stands.wheelbase_mm), min(max(across, -reach), reach)
