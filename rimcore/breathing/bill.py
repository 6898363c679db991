"""What a run is made of: length, volume, mass, and the list to cut and buy by."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

from rimcore.breathing.runs import BORED, Section

#: density of what pipes are made of [kg/m³] (handbook values, from memory)
MATERIALS = {
    "steel": ("steel", 7850.0),
    "stainless": ("stainless steel", 7900.0),
    "aluminium": ("aluminium", 2700.0),
    "plastic": ("plastic", 1150.0),
    "silicone": ("silicone", 1200.0),
    "titanium": ("titanium", 4500.0),
}
#: least that a clamped slip joint overlaps [mm]: an eighth of an inch (common practice)
OVERLAP_MM = 3.175
#: what a saw and the filing take of a cut [mm] (common practice)
KERF_MM = 3.0


@dataclass(frozen=True)
class Piece:
    """A section as it is made: wall and material, its own mass where it was weighed, and what holds it.

    ``reused`` pieces are of the old run and are not bought.
    """

    section: Section
    name: str = ""
    wall_mm: float = 1.5
    material: str = "steel"
    own_kg: float | None = None
    reused: bool = False
    clamps: int = 0
    couplers: int = 0
    hangers: int = 0
    #: where along the piece they sit, as far as it is known: what, and how far from its start [mm]
    placed: tuple[tuple[str, float], ...] = ()
    #: of a meter's housing
    bore_mm: float | None = None

    @property
    def volume_l(self) -> float:
        """Gas that it holds [L]; boxes are not counted.

        >>> round(Piece(Section("pipe", 100.0, 1000.0)).volume_l, 3)
        7.854
        """
        one = self.section
        if one.kind not in BORED or one.diameter_mm is None:
            return 0.0
        a, b = one.diameter_mm / 200.0, (one.to_mm or one.diameter_mm) / 200.0
        return math.pi * one.along_mm / 100.0 * (a * a + a * b + b * b) / 3.0

    @property
    def mass_kg(self) -> float | None:
        """Weighed, else of a thin wall along the centre line [kg]; None for a box or a bend by K that nobody weighed.

        >>> round(Piece(Section("pipe", 60.0, 1000.0), wall_mm=1.5).mass_kg, 2)
        2.28
        """
        if self.own_kg is not None:
            return self.own_kg
        one = self.section
        if one.kind == "entry":
            return 0.0
        if one.kind not in BORED or one.diameter_mm is None or (one.kind == "bend" and one.k is not None):
            return None
        middle = (one.diameter_mm + (one.to_mm or one.diameter_mm)) / 2.0 + self.wall_mm
        return MATERIALS[self.material][1] * math.pi * middle * self.wall_mm * one.along_mm * 1e-9


@dataclass(frozen=True)
class Bill:
    """Whole run: length along the centre line [mm], volume [L], mass [kg], what is bought and what is used again."""

    length_mm: float
    volume_l: float
    mass_kg: float
    #: pieces whose mass nobody knows
    unweighed: tuple[str, ...]
    rows: tuple[tuple[str, str], ...] = field(default=())
    reused: tuple[str, ...] = ()
    #: longest stretch without a hanger [mm]; None where it has none, or not every one has its place
    unhung_mm: float | None = None


def bill(pieces: Sequence[Piece]) -> Bill:
    """The list of a run.

    Examples
    --------
    >>> two = [Piece(Section("pipe", 60.0, 400.0), clamps=1), Piece(Section("pipe", 60.0, 250.0), clamps=1, reused=True)]
    >>> bill(two).rows
    (('pipe 60 mm, steel', 'cut 400 mm; 403 mm with the saw'), ('clamps', '2'))
    """
    rows = [*_pipes(pieces), *_shapes(pieces), *_held(pieces)]
    known = [one.mass_kg for one in pieces if one.mass_kg is not None]
    return Bill(
        sum(one.section.along_mm for one in pieces),
        sum(one.volume_l for one in pieces),
        sum(known),
        tuple(said(one) for one in pieces if one.mass_kg is None),
        tuple(rows),
        tuple(said(one) for one in pieces if one.reused),
        longest_unhung_mm(pieces),
    )


def said(piece: Piece) -> str:
    """A piece in words.

    >>> said(Piece(Section("bend", 60.0, angle_deg=45.0, radius_mm=90.0)))
    'bend 60 mm, 45°'
    """
    one = piece.section
    bore = f" {one.diameter_mm:g}" if one.diameter_mm is not None else ""
    to = f" to {one.to_mm:g}" if one.to_mm is not None else ""
    turn = f", {one.angle_deg:g}°" if one.angle_deg is not None else ""
    text = f"{one.kind}{bore}{to}{' mm' if bore else ''}{turn}"
    return f"{piece.name} ({text})" if piece.name else text


def _pipes(pieces: Sequence[Piece]) -> list[tuple[str, str]]:
    """Straight pipe by bore and material: every length to cut, and all of them with the saw's share."""
    cuts: dict[tuple[float, str], list[float]] = {}
    for one in pieces:
        if one.section.kind == "pipe" and not one.reused and one.section.diameter_mm is not None:
            cuts.setdefault((one.section.diameter_mm, one.material), []).append(one.section.length_mm)
    return [
        (
            f"pipe {bore:g} mm, {MATERIALS[material][0]}",
            f"cut {' + '.join(f'{one:g}' for one in found)} mm; {sum(found) + KERF_MM * len(found):g} mm with the saw",
        )
        for (bore, material), found in cuts.items()
    ]


def _shapes(pieces: Sequence[Piece]) -> list[tuple[str, str]]:
    found = Counter(said(one) for one in pieces if one.section.kind not in ("pipe", "entry") and not one.reused)
    return [(name, str(count)) for name, count in found.items()]


def _held(pieces: Sequence[Piece]) -> list[tuple[str, str]]:
    found = [(name, sum(getattr(one, name) for one in pieces)) for name in ("couplers", "clamps", "hangers")]
    along = held_along(pieces)
    return [
        (name, _where(count, [at for what, at in along if what == name.removesuffix("s")]))
        for name, count in found
        if count
    ]


def _where(count: int, places: Sequence[float]) -> str:
    """How many there are, and where along the run."""
    if not places:
        return str(count)
    at = ", ".join(f"{one:.0f}" for one in places)
    rest = count - len(places)
    return f"{count}, at {at} mm along the run" + (f"; {rest} not placed" if rest else "")


def held_along(pieces: Sequence[Piece]) -> list[tuple[str, float]]:
    """Clamps, couplers and hangers with their place along the run's centre line [mm], from its start, rising.

    >>> held_along([Piece(Section("pipe", 60.0, 400.0), clamps=1), Piece(Section("pipe", 60.0, 900.0), hangers=1, placed=(("hanger", 250.0),))])
    [('hanger', 650.0)]
    """
    found, start = [], 0.0
    for piece in pieces:
        found += [(name, start + at) for name, at in piece.placed]
        start += piece.section.along_mm
    return sorted(found, key=lambda one: one[1])


def longest_unhung_mm(pieces: Sequence[Piece]) -> float | None:
    """Longest stretch of a run without a hanger, its ends included [mm]; None where not every hanger has its place.

    >>> longest_unhung_mm([Piece(Section("pipe", 60.0, 2000.0), hangers=2, placed=(("hanger", 300.0), ("hanger", 1500.0)))])
    1200.0
    """
    hung = [at for name, at in held_along(pieces) if name == "hanger"]
    if not hung or len(hung) < sum(one.hangers for one in pieces):
        return None
    ends = [0.0, *hung, sum(one.section.along_mm for one in pieces)]
    return max(after - before for before, after in zip(ends, ends[1:], strict=False))
