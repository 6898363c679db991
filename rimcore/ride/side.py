"""The car from the side in drawing units.

Ground, wheels, body at the height of the build and as it was, springs at their lengths.
"""

from __future__ import annotations

from dataclasses import dataclass

#: size of the drawing, where the ground and the wheels are
WIDTH, HEIGHT, GROUND, FRONT_X, REAR_X = 690.0, 250.0, 206.0, 212.0, 484.0
#: changes of height are drawn so many times larger than the car, so that they are seen
MAGNIFIED = 3.0
#: a millimetre of a spring, width of a coil, and turns that are drawn
COIL_PER_MM, COIL_W, TURNS = 0.42, 30.0, 7


@dataclass(frozen=True)
class EndOf:
    """One end: radius of its tyre, wheel's middle to the arch lip as measured, what it is lowered, and its springs.

    Mm, None is not known.
    """

    radius_mm: float
    lip_mm: float | None = None
    drop_mm: float = 0.0
    free_mm: float | None = None
    loaded_mm: float | None = None
    frequency_hz: float | None = None


@dataclass(frozen=True)
class Wheel:
    """A wheel on the drawing with what is written beside it; ``lip`` is the height in hand."""

    x: float
    y: float
    r: float
    lip_y: float
    lip: float | None
    drop_mm: float
    frequency_hz: float | None

    @property
    def moved(self) -> str:
        """Which way it stands from the baseline, in a word."""
        return "lowered" if self.drop_mm > 0 else "lifted" if self.drop_mm < 0 else ""

    @property
    def moved_mm(self) -> float:
        """By how much, either way [mm]."""
        return abs(self.drop_mm)


@dataclass(frozen=True)
class CoilDrawn:
    """A spring as a zigzag: at rest or under the car."""

    path: str
    x: float
    foot: float
    length_mm: float
    at_rest: bool


@dataclass(frozen=True)
class Side:
    """Everything that is drawn."""

    wheels: tuple[Wheel, ...]
    body: str
    before: str
    coils: tuple[CoilDrawn, ...]


def coil_path(x: float, foot: float, length_mm: float) -> str:
    """Path of a coil that stands on ``foot``.

    >>> coil_path(10.0, 100.0, 100.0)[:23]
    'M-5.0 100.0H25.0L-5.0 1'
    """
    high, half = length_mm * COIL_PER_MM, COIL_W / 2
    turns = "".join(f"L{x + half if k % 2 else x - half:.1f} {foot - k * high / TURNS:.1f}" for k in range(TURNS + 1))
    return f"M{x - half:.1f} {foot:.1f}H{x + half:.1f}{turns}M{x - half:.1f} {foot - high:.1f}H{x + half:.1f}"


def side_view(wheelbase_mm: float, front: EndOf, rear: EndOf) -> Side:
    """The car from the left, front to the left.

    >>> found = side_view(2500.0, EndOf(310.0, 380.0, 20.0), EndOf(310.0))
    >>> found.wheels[0].lip, round(found.wheels[0].r, 1)
    (360.0, 33.7)
    """
    per_mm = (REAR_X - FRONT_X) / wheelbase_mm
    wheels, coils = [], []
    for x, end, spring_x in ((FRONT_X, front, 30.0), (REAR_X, rear, 604.0)):
        r = end.radius_mm * per_mm
        lip = None if end.lip_mm is None else end.lip_mm - end.drop_mm
        wheels.append(
            Wheel(
                x,
                GROUND - r,
                r,
                GROUND - r - (lip if lip is not None else end.radius_mm * 1.2) * per_mm,
                lip,
                end.drop_mm,
                end.frequency_hz,
            )
        )
        for place, (length, at_rest) in enumerate(((end.free_mm, True), (end.loaded_mm, False))):
            if length is not None:
                at = spring_x + 54.0 * place
                coils.append(CoilDrawn(coil_path(at, GROUND, length), at, GROUND, length, at_rest))
    drops = (front.drop_mm * per_mm * MAGNIFIED, rear.drop_mm * per_mm * MAGNIFIED)
    return Side(tuple(wheels), _body(per_mm, front, rear, drops), _body(per_mm, front, rear, (0.0, 0.0)), tuple(coils))


def _body(per_mm: float, front: EndOf, rear: EndOf, drops: tuple[float, float]) -> str:
    """Outline of a body over both wheels, each end lowered by so much in drawing units."""
    sill = GROUND - 0.62 * min(front.radius_mm, rear.radius_mm) * per_mm
    down = [sill + drop for drop in drops]
    tops = [y - 62.0 for y in down]
    f, r = FRONT_X, REAR_X
    arch_f, arch_r = front.radius_mm * per_mm * 1.22, rear.radius_mm * per_mm * 1.22
    return (
        f"M{f - 84:.1f} {down[0]:.1f}H{f - arch_f:.1f}A{arch_f:.1f} {arch_f:.1f} 0 0 1 {f + arch_f:.1f} {down[0]:.1f}L{r - arch_r:.1f} {down[1]:.1f}"
        f"A{arch_r:.1f} {arch_r:.1f} 0 0 1 {r + arch_r:.1f} {down[1]:.1f}H{r + 74:.1f}V{tops[1] + 8:.1f}L{r + 40:.1f} {tops[1] - 4:.1f}L{r - 18:.1f} {tops[1] - 44:.1f}"
        f"H{f + 112:.1f}L{f + 52:.1f} {tops[0] - 2:.1f}L{f - 76:.1f} {tops[0] + 14:.1f}Z"
    )
