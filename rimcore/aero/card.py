"""A panel from a card's readings: stations along the car, holes, what is hot, existing holes, sheets.

Its fasteners and cut plan.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely import LineString, MultiPolygon, Point, Polygon

from rimcore.aero.panel import Hot, polygon_of, sheets_needed, turned_deg
from rimcore.quantities.errors import BadInput

#: most lines of each text
MOST_LINES = 60
#: coordinates that are taken [mm]
MOST_MM = 6000.0
#: sides of a circle that stands for a hole
SIDES = 24
_FIGURE = r"[-−+]?\d+(?:[.,]\d+)?"


@dataclass(frozen=True)
class Station:
    """One reading of the card: behind its front edge, half-width there, height above the ground where it was read [mm]."""

    along_mm: float
    half_mm: float
    height_mm: float | None = None


def _figures(line: str) -> list[float]:
    return [float(one.replace("−", "-").replace(",", ".")) for one in re.findall(_FIGURE, line)]


def _lines(text: str, field: str) -> list[tuple[int, str]]:
    found = [(number, line.strip()) for number, line in enumerate(text.splitlines(), 1) if line.strip()]
    if len(found) > MOST_LINES:
        raise BadInput(f"{len(found)} lines; accepted: {MOST_LINES} at most", field)
    return found


def _held(values: Sequence[float], number: int, field: str) -> None:
    if any(abs(one) > MOST_MM for one in values):
        raise BadInput(f"line {number} is out of range; accepted: up to {MOST_MM:g} mm", field)


def stations(text: str) -> tuple[Station, ...]:
    """Readings of the card, a line each: behind the front edge, half-width, and the height where it was read.

    Raises
    ------
    BadInput : a line that is none, fewer than two, not rising, or a half-width below 0

    Examples
    --------
    >>> [one.half_mm for one in stations("0 380 150\\n400 520\\n900 500 140")]
    [380.0, 520.0, 500.0]
    """
    found: list[Station] = []
    for number, line in _lines(text, "stations"):
        given = _figures(line)
        if len(given) not in (2, 3):
            raise BadInput(
                f"line {number} “{line[:30]}” is not understood; accepted: along, half-width and perhaps height in mm, as 400 520 145",
                "stations",
            )
        _held(given, number, "stations")
        if given[1] < 0 or (len(given) == 3 and given[2] < 0):
            raise BadInput(f"line {number} has a half-width or height below 0; accepted: 0 mm or more", "stations")
        if found and given[0] <= found[-1].along_mm:
            raise BadInput(
                f"line {number} lies no further back than the one before; accepted: stations from front to rear",
                "stations",
            )
        found.append(Station(*given))
    if len(found) < 2:
        raise BadInput("fewer than two stations; accepted: one at each end at the least", "stations")
    return tuple(found)


def outline_of(card: Sequence[Station]) -> list[tuple[float, float]]:
    """The panel's outline, left and right alike: along the car, and right of its centre line [mm].

    >>> outline_of(stations("0 300\\n500 400"))
    [(0.0, 300.0), (500.0, 400.0), (500.0, -400.0), (0.0, -300.0)]
    """
    right = [(one.along_mm, one.half_mm) for one in card]
    return right + [(x, -y) for x, y in reversed(right) if y > 0]


def heights(card: Sequence[Station], front_mm: float = 0.0) -> tuple[tuple[float, float], ...]:
    """Places and heights of the stations whose height was read [mm], the panel's front edge so far behind the front
    axle.

    Parameters
    ----------
    card : stations of a card, in its order
    front_mm : the panel's front edge behind the front axle; minus is ahead of it [mm]

    >>> heights(stations("0 300 150\\n400 380\\n900 350 140"), 500.0)
    ((500.0, 150.0), (1400.0, 140.0))
    """
    return tuple((front_mm + one.along_mm, one.height_mm) for one in card if one.height_mm is not None)


def over_panel(hot: Hot, card: Sequence[Station]) -> Hot:
    """Something hot whose height above the ground is known, held against the heights of the card.

    As it is where either is not.

    The least that lies between its middle and the panel along its line, straight between stations, nought where it
    crosses the panel; beyond the card
    as at its end.

    >>> pipe = hot_lines("pipe: 100 0, 500 0 r 30 up 260")[0]
    >>> over_panel(pipe, stations("0 300 150\\n400 380 170\\n900 350 140")).clear_mm, over_panel(pipe, stations("0 300\\n400 380")).clear_mm
    (90.0, None)
    """
    read = heights(card)
    if hot.up_mm is None or not read:
        return hot
    x, up = np.array(read).T
    ends = [float(point[0]) for point in hot.line_mm]
    along = np.array([min(ends), max(ends), *(one for one in x if min(ends) < one < max(ends))])
    apart = hot.up_mm - np.interp(along, x, up)
    crosses = apart.min() < 0 < apart.max()
    return replace(hot, clear_mm=0.0 if crosses else round(float(np.abs(apart).min()), 6))


def points(text: str, field: str = "outline") -> list[tuple[float, float]]:
    """An outline typed point by point, along and right of the centre line; or holes that are there, one a line.

    >>> points("0 0; 100 0\\n100, 50")
    [(0.0, 0.0), (100.0, 0.0), (100.0, 50.0)]
    """
    found = []
    for number, line in _lines(text.replace(";", "\n"), field):
        given = _figures(re.sub(r"(?<=\d),(?=\s)", " ", line))
        if len(given) != 2:
            raise BadInput(
                f"line {number} “{line[:30]}” is not understood; accepted: along and across in mm, as 400 -120", field
            )
        _held(given, number, field)
        found.append((given[0], given[1]))
    return found


def from_picture(
    pixels: Sequence[tuple[float, float]],
    bar: tuple[tuple[float, float], tuple[float, float]],
    bar_mm: float,
    front_mm: tuple[float, float] = (0.0, 0.0),
    from_below: bool = False,
) -> tuple[list[tuple[float, float]], float]:
    """Points clicked along a photographed card, as an outline, scaled and turned by its control bar.

    Parameters
    ----------
    pixels : clicked along the edge, (right, down)
    bar : both ends of the control bar, front end first; it lies along the car
    bar_mm : its length, above 0 [mm]
    front_mm : where its front end lies, along and right of the centre line [mm]
    from_below : the card lies with the side up that looks at the road

    Returns
    -------
    outline, along and right of the centre line [mm]; and what one pixel is [mm]

    Raises
    ------
    BadInput : both ends of the bar are the same, or nearly

    Examples
    --------
    >>> from_picture([(40, 10), (40, 110), (90, 110)], ((50, 10), (50, 110)), 500.0, (200.0, 0.0))
    ([(200.0, 50.0), (700.0, 50.0), (700.0, -200.0)], 5.0)
    """
    (x1, y1), (x2, y2) = bar
    length = math.hypot(x2 - x1, y2 - y1)
    if length < 10:
        raise BadInput(
            "has both ends of the control bar too near to each other; accepted: 10 pixels and more", "points"
        )
    scale = bar_mm / length
    along = np.array([x2 - x1, y2 - y1]) / length
    right = np.array([-along[1], along[0]]) * (-1.0 if from_below else 1.0)
    found = (np.array(pixels, dtype=float) - np.array([x1, y1])) @ np.column_stack([along, right]) * scale + np.array(
        front_mm
    )
    return [(round(float(x), 1) + 0.0, round(float(y), 1) + 0.0) for x, y in found], scale


@dataclass(frozen=True)
class KeepOut:
    """A round place that stays free: a drain plug, a jacking point."""

    name: str
    along_mm: float
    across_mm: float
    radius_mm: float

    @property
    def ring(self) -> list[tuple[float, float]]:
        """As an outline round it: no side of it comes nearer than the radius."""
        turns, out = np.arange(SIDES) * 2 * math.pi / SIDES, self.radius_mm / math.cos(math.pi / SIDES)
        return [(self.along_mm + out * math.cos(a), self.across_mm + out * math.sin(a)) for a in turns]


def keep_outs(text: str) -> tuple[KeepOut, ...]:
    """Round keep-outs, a line each: name, along, across, radius.

    >>> keep_outs("drain plug: 620 -80 r 45")[0].radius_mm
    45.0
    """
    found = []
    for number, line in _lines(text, "holes"):
        name, _, rest = line.rpartition(":")
        given = _figures(rest)
        if len(given) != 3 or given[2] <= 0:
            raise BadInput(
                f"line {number} “{line[:30]}” is not understood; accepted: name: along across r radius, as drain plug: 620 -80 r 45",
                "holes",
            )
        _held(given, number, "holes")
        found.append(KeepOut(name.strip() or f"hole {number}", *given))
    return tuple(found)


def hot_lines(text: str) -> tuple[Hot, ...]:
    """What is hot, a line each: name, points of its centre line, radius, room it wants, and how far it lies above the
    panel, or up from the ground.

    >>> one = hot_lines("silencer: 900 -200, 1500 -200 r 80 keep 60 above 50")[0]
    >>> one.name, one.line_mm, one.radius_mm, one.keep_mm, one.clear_mm
    ('silencer', [(900.0, -200.0), (1500.0, -200.0)], 80.0, 60.0, 50.0)
    """
    found = []
    for number, line in _lines(text, "heat"):
        m = re.fullmatch(
            rf"(?P<name>[^:]+):\s*(?P<line>[\d\s.,;−+-]+?)\s*r\s*(?P<r>{_FIGURE})\s*(?:keep\s*(?P<keep>{_FIGURE}))?\s*(?:(?P<how>above|up)\s*(?P<high>{_FIGURE}))?(?:\s*mm)?",
            line,
            re.IGNORECASE,
        )
        pairs = _figures(re.sub(r"(?<=\d),(?=\s)", " ", m["line"])) if m else []
        if m is None or len(pairs) < 2 or len(pairs) % 2:
            raise BadInput(
                f"line {number} “{line[:30]}” is not understood; accepted: silencer: 900 -200, 1500 -200 r 80 keep 60 above 50",
                "heat",
            )
        _held(pairs, number, "heat")
        r, keep, high = (None if m[name] is None else _figures(m[name])[0] for name in ("r", "keep", "high"))
        if r is None or r <= 0 or (keep is not None and keep < 0) or (high is not None and high < 0):
            raise BadInput(f"line {number}: a radius over 0, room and height of 0 or more are accepted", "heat")
        line_mm = [(pairs[k], pairs[k + 1]) for k in range(0, len(pairs), 2)]
        up = (m["how"] or "").lower() == "up"
        found.append(
            Hot(
                m["name"].strip(),
                line_mm,
                r,
                50.0 if keep is None else keep,
                None if up else high,
                high if up else None,
            )
        )
    return tuple(found)


@dataclass(frozen=True)
class Sheet:
    """A sheet as it is sold [mm], and its price in minor units; None is not known."""

    wide_mm: float
    long_mm: float
    price_minor: int | None = None


def sheets(text: str) -> tuple[Sheet, ...]:
    """Sheets one can buy, a line each: width × length, price.

    >>> sheets("1000 x 2000, 14.50")[0]
    Sheet(wide_mm=1000.0, long_mm=2000.0, price_minor=1450)
    """
    found = []
    for number, line in _lines(text, "sheets"):
        m = re.fullmatch(
            r"(\d+(?:[.,]\d+)?)\s*[x×]\s*(\d+(?:[.,]\d+)?)(?:\s*mm)?(?:\s*,\s*(\d+(?:[.,]\d{1,2})?))?",
            line,
            re.IGNORECASE,
        )
        if m is None:
            raise BadInput(f"line {number} “{line[:30]}” is not understood; accepted: 1000 x 2000, 14.50", "sheets")
        wide, long = float(m[1].replace(",", ".")), float(m[2].replace(",", "."))
        if not (50 <= wide <= MOST_MM and 50 <= long <= MOST_MM):
            raise BadInput(f"line {number} is out of range; accepted: sides of 50 to {MOST_MM:g} mm", "sheets")
        found.append(Sheet(wide, long, None if m[3] is None else round(100 * float(m[3].replace(",", ".")))))
    return tuple(found)


def panel_of(outline: Sequence[tuple[float, float]], holes: Sequence[KeepOut]) -> Polygon:
    """The panel with its keep-outs cut out; those that reach over its edge take a bite.

    Source: Boolean difference of polygons (OGC Simple Features 1.2.1).

    Parameters
    ----------
    outline : corners of the panel (n, 2), n ≥ 3 [mm]
    holes : keep-outs with their outlines [mm]

    >>> round(panel_of([(0, 0), (100, 0), (100, 100), (0, 100)], [KeepOut("plug", 50, 50, 10)]).area)
    9684
    """
    whole = polygon_of(outline)
    for one in holes:
        whole = whole.difference(Polygon(one.ring))
        if isinstance(whole, MultiPolygon) or whole.is_empty:
            raise BadInput(
                f"“{one.name}” cuts the panel apart; accepted: keep-outs that leave it in one piece", "holes"
            )
    return whole


@dataclass(frozen=True)
class Fixed:
    """Fasteners: existing holes that the panel covers, and new ones where those leave too long a stretch [mm]."""

    existing: tuple[tuple[float, float], ...]
    new: tuple[tuple[float, float], ...]

    @property
    def count(self) -> int:
        """All of them."""
        return len(self.existing) + len(self.new)


def fixed(panel: Polygon, existing: Sequence[tuple[float, float]], pitch_mm: float, edge_mm: float) -> Fixed:
    """Existing holes first; between those near the inset edge, new ones no further apart than the pitch (common
    practice).

    Parameters
    ----------
    panel : outline with its holes [mm]
    existing : holes the car has already (k, 2) [mm]
    pitch_mm : most between two fasteners, over 0 [mm]
    edge_mm : from a fastener's middle to the edge, over 0 [mm]

    >>> found = fixed(polygon_of([(0, 0), (600, 0), (600, 400), (0, 400)]), [(15, 15), (585, 385), (900, 0)], 150.0, 15.0)
    >>> len(found.existing), len(found.new)
    (2, 12)
    """
    inset = Polygon(panel.exterior).buffer(-edge_mm, quad_segs=64)
    parts = list(inset.geoms) if isinstance(inset, MultiPolygon) else [inset]
    there = tuple(one for one in existing if panel.contains(Point(one)))
    new: list[tuple[float, float]] = []
    for part in (one for one in parts if not one.is_empty):
        ring = LineString(part.exterior.coords)
        held = sorted(ring.project(Point(one)) for one in there if ring.distance(Point(one)) <= pitch_mm / 2)
        new += [at for at in _between(ring, held, pitch_mm) if panel.contains(Point(at))]
    return Fixed(there, tuple(new))


def _between(ring: LineString, held: Sequence[float], pitch_mm: float) -> list[tuple[float, float]]:
    """Places along a ring that leave no stretch longer than the pitch, between those that are held already."""
    starts = list(held) or [0.0]
    found = [] if held else [ring.interpolate(0.0)]
    for k, start in enumerate(starts):
        end = starts[k + 1] if k + 1 < len(starts) else starts[0] + ring.length
        count = math.ceil((end - start) / pitch_mm - 1e-9)
        found += [ring.interpolate((start + n * (end - start) / count) % ring.length) for n in range(1, count)]
    return [(round(at.x, 1), round(at.y, 1)) for at in found]


@dataclass(frozen=True)
class Cut:
    """A way to cut the panel: of which sheet, how many, turned by how much where it fits one, and what that costs."""

    sheet: Sheet
    count: int
    turned_deg: float | None
    price_minor: int | None


def cut_plan(panel: Polygon, on_sale: Sequence[Sheet]) -> tuple[Cut, ...]:
    """Every sheet, the fewest first, then the least money.

    >>> found = cut_plan(polygon_of([(0, 0), (1500, 0), (1500, 900), (0, 900)]), sheets("1000 x 2000, 20\\n800 x 1000, 8"))
    >>> [(one.count, one.price_minor) for one in found]
    [(1, 2000), (2, 1600)]
    """
    found = []
    for one in on_sale:
        size = (one.wide_mm, one.long_mm)
        count = sheets_needed(panel, size)
        found.append(
            Cut(one, count, turned_deg(panel, size), None if one.price_minor is None else one.price_minor * count)
        )
    return tuple(sorted(found, key=lambda cut: (cut.count, cut.price_minor is None, cut.price_minor or 0)))


#: ways to rid a bumper of the air it catches, and what each costs (common practice)
SCHOOLS = (
    (
        "Vents",
        "holes cut where the air is trapped behind the bumper",
        "cheap, no weight; a cut bumper stays cut, look for crash parts first",
    ),
    (
        "Flat panel",
        "a plate from bumper to axle or further",
        "card and an afternoon; heat, drains and jacking points are kept free",
    ),
    (
        "Diffuser with strakes",
        "a panel that rises behind the rear axle, with strakes along",
        "most work; needs height, does little below 80 km/h; the exhaust is in the way",
    ),
)
