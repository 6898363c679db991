"""A run drawn to length, with its bore, velocity and loss under each piece; the ink is the template's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.breathing.bench import Flowed
from rimcore.breathing.bill import Piece

#: size of the drawing, what is left free at its ends, least and box width of a piece, and the largest bore as drawn
WIDTH, HEIGHT, FREE, LEAST, BOX, TALL = 900.0, 190.0, 18.0, 30.0, 62.0, 86.0
#: height of the centre line
MIDDLE = 78.0


@dataclass(frozen=True)
class Drawn:
    """One piece: its outline, where its words stand, and what they are."""

    number: int
    kind: str
    path: str
    x: float
    width: float
    bore: str
    fast: str
    loss: str
    #: share of the run's loss, as the height of a bar
    bar: float

    @property
    def centre(self) -> float:
        """Where its words stand."""
        return round(self.x + self.width / 2, 1)

    @property
    def wide(self) -> bool:
        """Is there room for its bore and speed?"""
        return self.width > 8.5 * max(len(self.bore), len(self.fast))

    @property
    def fits(self) -> bool:
        """Is there room for its loss?"""
        return self.width > 40.0


@dataclass(frozen=True)
class Mark:
    """What holds a piece, where it sits.

    A clamp as two bars, a coupler as a sleeve, a hanger as a hook over the pipe.
    """

    kind: str
    path: str
    said: str


@dataclass(frozen=True)
class RunDrawing:
    """The run from the flow's side: pieces, the run before dashed, and the dimension of the whole."""

    width: float
    height: float
    middle: float
    pieces: tuple[Drawn, ...]
    before: str
    total: str
    x0: float
    x1: float
    marks: tuple[Mark, ...] = ()


def run_drawing(flowed: Flowed, before: Sequence[Piece] | None = None) -> RunDrawing:
    """The drawing of a run that is flowed through.

    Examples
    --------
    >>> from rimcore.breathing.air import moist_air
    >>> from rimcore.breathing.bench import Breath, intake_flow
    >>> from rimcore.breathing.typed import parse_run
    >>> found = run_drawing(intake_flow(parse_run("entry 70\\npipe 70 x 400"), Breath(2.0, 6000.0, 100.0, moist_air(15.0, 101.325))))
    >>> [one.kind for one in found.pieces], found.total
    (['entry', 'pipe'], '0.25 kPa')
    """
    most = max((lost.loss_kpa for lost in flowed.lost), default=0.0) or 1.0
    scale = TALL / _widest([*flowed.pieces, *(before or ())])
    found, x = [], FREE
    marks: list[Mark] = []
    wide = _widths(flowed.pieces)
    for number, (piece, lost, across) in enumerate(zip(flowed.pieces, flowed.lost, wide, strict=True), 1):
        one = piece.section
        speed = f"{lost.velocity_m_per_s:.0f} m/s" if lost.velocity_m_per_s is not None else ""
        bore = (
            ""
            if one.diameter_mm is None
            else f"{one.diameter_mm:g}" + (f" to {one.to_mm:g}" if one.to_mm is not None else "")
        )
        found.append(
            Drawn(
                number=number,
                kind=one.kind,
                path=_outline(piece, x, across, scale),
                x=round(x, 1),
                width=round(across, 1),
                bore=bore,
                fast=speed,
                loss=f"{lost.loss_kpa:.2f}",
                bar=round(30 * lost.loss_kpa / most, 1),
            )
        )
        marks += [_mark(piece, name, at, x, across, scale) for name, at in piece.placed]
        x += across
    total = f"{flowed.total_kpa:.2f} kPa"
    return RunDrawing(
        width=WIDTH,
        height=HEIGHT,
        middle=MIDDLE,
        pieces=tuple(found),
        before=_dashed(before, scale),
        total=total,
        x0=FREE,
        x1=round(x, 1),
        marks=tuple(marks),
    )


def _mark(piece: Piece, name: str, at_mm: float, x: float, across: float, scale: float) -> Mark:
    """One of what holds a piece, on the sheet."""
    one = piece.section
    share = at_mm / one.along_mm if one.along_mm else 0.0
    bore, to = one.diameter_mm or 0.0, one.to_mm or one.diameter_mm or 0.0
    half, place = (bore + share * (to - bore)) * scale / 2, x + share * across
    top, low = MIDDLE - half, MIDDLE + half
    path = {
        "clamp": f"M{place - 2:.1f} {top - 4:.1f}V{low + 4:.1f}M{place + 2:.1f} {top - 4:.1f}V{low + 4:.1f}",
        "coupler": f"M{place - 7:.1f} {top - 3:.1f}h14v{2 * half + 6:.1f}h-14z",
        "hanger": f"M{place:.1f} {top:.1f}v-12m-4 0a4 4 0 1 1 8 0",
    }[name]
    return Mark(name, path, f"{name}, {at_mm:g} mm along the piece")


def _widest(pieces: Sequence[Piece]) -> float:
    return max((max(one.section.diameter_mm or 0.0, one.section.to_mm or 0.0) for one in pieces), default=0.0) or 100.0


def _widths(pieces: Sequence[Piece]) -> list[float]:
    """Widths on the sheet: to length, but none too narrow for its words."""
    fixed = [BOX if one.section.diameter_mm is None else LEAST for one in pieces]
    lengths = [one.section.along_mm for one in pieces]
    spare = max(0.0, WIDTH - 2 * FREE - sum(fixed))
    whole = sum(lengths)
    return [low + (spare * long / whole if whole else 0.0) for low, long in zip(fixed, lengths, strict=True)]


def _outline(piece: Piece, x: float, across: float, scale: float) -> str:
    """A piece's outline about the centre line."""
    one = piece.section
    if one.diameter_mm is None:
        return f"M{x + 4:.1f} {MIDDLE - 38}h{across - 8:.1f}v76h-{across - 8:.1f}z"
    first = one.diameter_mm * scale / 2
    last = (one.to_mm or one.diameter_mm) * scale / 2
    if one.kind == "entry":
        return f"M{x:.1f} {MIDDLE - first - 10:.1f}L{x + across:.1f} {MIDDLE - first:.1f}M{x:.1f} {MIDDLE + first + 10:.1f}L{x + across:.1f} {MIDDLE + first:.1f}"
    return f"M{x:.1f} {MIDDLE - first:.1f}L{x + across:.1f} {MIDDLE - last:.1f}V{MIDDLE + last:.1f}L{x:.1f} {MIDDLE + first:.1f}z"


def _dashed(before: Sequence[Piece] | None, scale: float) -> str:
    if not before:
        return ""
    parts, x = [], FREE
    for piece, across in zip(before, _widths(before), strict=True):
        parts.append(_outline(piece, x, across, scale))
        x += across
    return "".join(parts)
