"""Panels and slopes of a car with the build in hand, for the core, and what is judged of them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from shapely import Polygon

from garage.air.load import air_of
from garage.air.models import AirPanel, AirUnder
from garage.file import CarFile
from garage.inhand import in_hand, place_in_hand
from garage.kept import once
from planner.models import Build
from planner.wants import with_needs
from rimcore.aero.bench import Hung, Under, judge_slopes, lowered, slopes
from rimcore.aero.card import (
    Cut,
    Fixed,
    KeepOut,
    cut_plan,
    fixed,
    heights,
    hot_lines,
    keep_outs,
    outline_of,
    over_panel,
    panel_of,
    points,
    sheets,
    stations,
)
from rimcore.aero.panel import Hot, judge_heat
from rimcore.aero.splitter import Splitter, adjuster_n, dynamic_pressure_pa, judge_cover, load_n
from rimcore.parts.aired import KG_PER_M2, SHEETS
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured
from rimcore.wanted import Wanted
from rimcore.wants_of_panels import wanted_of as panel_wants

_ENDS = ("F", "R")


@dataclass(frozen=True)
class Panel:
    """A panel as it comes out of what was typed.

    Shape, mass, fasteners, ways to cut it, and its room to what is hot.
    """

    row: AirPanel
    shape: Polygon
    keep: tuple[KeepOut, ...]
    hot: tuple[Hot, ...]
    fixed: Fixed
    cuts: tuple[Cut, ...]

    @property
    def area_m2(self) -> float:
        """Its area [m²]."""
        return float(self.shape.area) / 1e6

    @property
    def mass_kg(self) -> float:
        """Of the sheet, without fasteners [kg]."""
        return self.area_m2 * self.row.kg_per_m2

    @property
    def others(self) -> tuple[tuple[str, float], ...]:
        """What it would weigh of other sheets [kg]: heavier material is said in kilograms."""
        return tuple((SHEETS[name], self.area_m2 * kg) for name, kg in KG_PER_M2.items() if name != self.row.sheet)

    @property
    def heat(self) -> tuple[Judgement, ...]:
        """Its room to everything hot."""
        used = (InputUsed(self.row.name, "card and heat as typed", "the air bench", f"{self.row.noted_on:%-d %b %Y}"),)
        return tuple(
            replace(judge_heat(self.shape, one), name=f"{self.row.name}: {one.name}", inputs=used) for one in self.hot
        )


def panel_as_typed(row: AirPanel) -> Panel:
    """A panel of its texts.

    Raises
    ------
    BadInput : a text that can't be read, or makes no panel
    """
    shape, keep, hot, held, cuts = _made(
        outline=row.outline,
        card=row.stations,
        holes=row.holes,
        heat=row.heat,
        existing=row.existing,
        on_sale=row.sheets,
        pitch_mm=row.pitch_mm,
        edge_mm=row.edge_mm,
    )
    return Panel(row, shape, keep, hot, held, cuts)


@lru_cache(maxsize=64)
def _made(
    outline: str, card: str, holes: str, heat: str, existing: str, on_sale: str, pitch_mm: float, edge_mm: float
) -> tuple[Polygon, tuple[KeepOut, ...], tuple[Hot, ...], Fixed, tuple[Cut, ...]]:
    read = stations(card) if card.strip() or not outline.strip() else ()
    typed = points(outline) if outline.strip() else outline_of(read)
    keep, hot = keep_outs(holes), tuple(over_panel(one, read) for one in hot_lines(heat))
    shape = panel_of(typed, keep)
    return (
        shape,
        keep,
        hot,
        fixed(shape, points(existing, "existing"), pitch_mm, edge_mm),
        cut_plan(shape, sheets(on_sale)),
    )


def panels(file: CarFile) -> list[AirPanel]:
    """Panels as they are kept."""
    found: list[AirPanel] = air_of(file).panels
    return found


def source_of(row: AirPanel) -> str:
    """Under which a panel's parts stand in a build."""
    return f"panel {row.pk}"


def wanted_of(file: CarFile, build: Build, row: AirPanel) -> list[Wanted]:
    """Parts of a panel, with what they can't be done without; empty while it can't be drawn."""
    try:
        made = panel_as_typed(row)
    except CoreError:
        return []
    parts = panel_wants(row.name, row.sheet, made.area_m2, made.mass_kg, made.fixed.count, made.cuts)
    return with_needs(file, build, source_of(row), parts)


def under_kept(file: CarFile) -> AirUnder | None:
    """What the car has under it, as it is kept."""
    found: AirUnder | None = air_of(file).under
    return found


def hung_of(file: CarFile, row: AirPanel) -> Hung | None:
    """A panel under the car at the height of the build in hand.

    None where its place or the heights of its card are not known.
    """
    try:
        card = stations(row.stations) if row.stations.strip() else ()
    except CoreError:
        return None
    read = heights(card, row.front_mm) if row.front_mm is not None else ()
    if len(read) < 2:
        return None
    said = InputUsed(
        row.name, "heights of its card, place of its front edge", "the air bench", f"{row.noted_on:%-d %b %Y}"
    )
    return Hung(row.name, read, (said,)).lowered(*lowered_since(file, row), file.car.wheelbase_mm)


def lowered_since(file: CarFile, row: AirPanel | AirUnder) -> tuple[float, float]:
    """How much lower the build in hand stands than the car did when that was read, front and rear [mm]."""
    held = in_hand(file)
    return held.end("F").ride_drop_mm - row.front_drop_mm, held.end("R").ride_drop_mm - row.rear_drop_mm


def dragged_of(file: CarFile, row: AirPanel) -> list[tuple[int, float, float, float]]:
    """Points of a panel's card whose height can be dragged.

    Which station, behind the front axle, height with the build, how far it lowered it [mm].
    """
    hung = hung_of(file, row)
    if hung is None or row.front_mm is None:
        return []
    read = [(k, one.height_mm) for k, one in enumerate(stations(row.stations)) if one.height_mm is not None]
    return [(k, x, up, was - up) for (k, was), (x, up) in zip(read, hung.points_mm, strict=True)]


def rows_with(file: CarFile, shown: AirPanel | None) -> list[AirPanel]:
    """Panels as they are kept, the one that is shown in the place of its own."""
    kept = panels(file)
    if shown is None:
        return kept
    rest = [shown if one.pk == shown.pk else one for one in kept]
    return rest if shown.pk is not None else [*kept, shown]


def under_of(file: CarFile, shown: AirPanel | None = None) -> Under:
    """The same at the height of the build in hand, with its tyres and its panels.

    One that is shown stands for its own.
    """
    hung = tuple(one for row in rows_with(file, shown) if (one := hung_of(file, row)) is not None)
    return replace(_bare_under(file), panels=hung)


def _bare_under(file: CarFile) -> Under:
    kept = under_kept(file)
    radii = [
        place.candidate.fitted.tyre.diameter_mm / 2
        if (place := place_in_hand(file, end)) is not None and place.wheels
        else None
        for end in _ENDS
    ]
    radius = None if radii[0] is None or radii[1] is None else (radii[0], radii[1])
    if kept is None:
        return Under(None, None, None, radius, file.car.wheelbase_mm)
    said = InputUsed("lip, belly, tail", "as typed", "the air bench", f"{kept.noted_on:%-d %b %Y}")
    read = Under(
        _point(kept.lip_ahead_mm, kept.lip_up_mm),
        _point(kept.tail_behind_mm, kept.tail_up_mm),
        _point(kept.belly_behind_mm, kept.belly_up_mm),
        radius,
        file.car.wheelbase_mm,
        (said,),
    )
    return lowered(read, *lowered_since(file, kept))


def _point(along: float | None, up: float | None) -> tuple[float, float] | None:
    return None if along is None or up is None else (along, up)


def bump_of(file: CarFile) -> tuple[float | None, float | None]:
    """Bump left to the stop at both ends at the height of the build, the lesser of both sides; None is not measured."""
    found = []
    for end in _ENDS:
        place = place_in_hand(file, end)
        found.append(place.stood.bump_mm if place is not None else None)
    return found[0], found[1]


def slopes_of(file: CarFile) -> tuple[tuple[str, float], ...]:
    """The person's own slopes; what can't be read any more counts for nothing."""
    kept = under_kept(file)
    try:
        return slopes(kept.slopes) if kept is not None else ()
    except CoreError:
        return ()


def slopes_judged(file: CarFile, shown: AirPanel | None = None) -> list[Judgement]:
    """The person's slopes with the build in hand; one panel as it is typed."""
    return judge_slopes(under_of(file, shown), slopes_of(file), bump_of(file))


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the air bench judges of the build in hand, once a page."""
    return _judged(file)


def _judged(file: CarFile) -> tuple[Judgement, ...]:
    found: list[Judgement] = []
    for row in panels(file):
        try:
            found += panel_as_typed(row).heat
        except CoreError as error:
            found.append(unmeasured("air.panel", row.name, error.message, ["air.panel"], ["read the card again"]))
    found += slopes_judged(file)
    kept = under_kept(file)
    if kept is not None and (kept.area_m2 is not None or kept.opening_mm is not None or kept.covered_mm is not None):
        said = InputUsed("opening, of it covered", "as typed", "the air bench", f"{kept.noted_on:%-d %b %Y}")
        found.append(judge_cover(kept.opening_mm, kept.covered_mm, (said,)))
    if not found:
        found.append(
            unmeasured(
                "air.ramp",
                "Slopes",
                "lip, belly, tail and slopes are not recorded",
                ["air.lip"],
                ["measure the lip, name your slopes"],
            )
        )
    return tuple(found)


def begun(file: CarFile) -> bool:
    """Has anybody drawn a panel or said what lies under the car?"""
    return bool(panels(file)) or under_kept(file) is not None


@dataclass(frozen=True)
class Pressed:
    """What air presses on the splitter at a speed."""

    pressure_pa: float
    load_n: float
    each_n: float
    adjuster_n: float | None


def pressed(kept: AirUnder | None) -> Pressed | None:
    """Load of the splitter; None before its area is said."""
    if kept is None or kept.area_m2 is None:
        return None
    levers = (
        None
        if kept.load_lever_mm is None or kept.adjuster_lever_mm is None
        else (kept.load_lever_mm, kept.adjuster_lever_mm)
    )
    one = Splitter(kept.area_m2, kept.cp, kept.fasteners, levers, kept.adjusters or None)
    load = load_n(one, kept.speed_kmh)
    return Pressed(dynamic_pressure_pa(kept.speed_kmh), load, load / one.fasteners, adjuster_n(one, load))
