"""What a run of pipe comes to in parts to buy: pipe by the length, bends, boxes, and what holds them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from rimcore.breathing.bill import KERF_MM, MATERIALS, Piece, bill, said
from rimcore.wanted import Wanted

#: kind of run -> family of its pipes
PIPE_OF = {"intake": "intake_pipe", "exhaust": "mid_pipe"}
#: kind of a box -> its family
BOX_OF = {"silencer": "silencer", "filter": "air_filter", "meter": "meter_housing", "cooler": "charge_cooler"}
#: kind of run -> kind of its clamps
CLAMP_OF = {"intake": "worm", "exhaust": "band"}


def wanted_of(kind: str, pieces: Sequence[Piece], pipes: int = 1, old: Sequence[Piece] | None = None) -> list[Wanted]:
    """Parts of a run, what is used again left out.

    The mass of the run that comes off goes with the heaviest new piece, so that the sum is that of the change; where
    the old run was not weighed the heaviest piece's mass is not known. Source: common practice; lengths with the saw's
    share as in the bill of materials.

    Parameters
    ----------
    kind : ``intake`` or ``exhaust``
    pieces : of the run, in the order of the flow
    pipes : runs side by side, 1 or more
    old : the run that comes off; None where nobody noted it, empty where there was none

    Examples
    --------
    >>> from rimcore.breathing.typed import parse_run
    >>> found = wanted_of("exhaust", parse_run("pipe 60 x 1000, 2 clamps\\npipe 60 x 500\\nsilencer 3 kPa at 0.1 kg/s 400 °C, 5 kg"), old=())
    >>> [(one.family, one.quantity, one.name) for one in found]
    [('mid_pipe', 1, 'Exhaust pipe 60 mm, steel, 1506 mm with the saw'), ('silencer', 1, 'Silencer'), ('clamp', 2, 'Exhaust clamps')]
    """
    bought = [one for one in pieces if not one.reused and one.section.kind != "entry"]
    found = [*_straight(kind, bought, pipes), *_shaped(kind, bought, pipes, pieces)]
    return [*_less_the_old(found, pieces, pipes, old), *_held(kind, pieces, pipes)]


def _straight(kind: str, bought: Sequence[Piece], pipes: int) -> list[Wanted]:
    """Straight pipe of one bore, wall and material as one length to buy."""
    lengths: dict[tuple[float, float, str], list[Piece]] = {}
    for one in bought:
        if one.section.kind == "pipe" and one.section.diameter_mm is not None:
            lengths.setdefault((one.section.diameter_mm, one.wall_mm, one.material), []).append(one)
    found = []
    for (bore, wall, material), alike in lengths.items():
        long_mm = sum(one.section.length_mm for one in alike) + KERF_MM * len(alike)
        spec = {"bore_mm": bore, "length_mm": long_mm, "material": material, **_mass(alike)}
        name = f"{kind.capitalize()} pipe {bore:g} mm, {MATERIALS[material][0]}, {long_mm:g} mm with the saw"
        found.append(
            Wanted(f"pipe {bore:g} {wall:g} {material}", PIPE_OF[kind], name, pipes, spec, why="cut to the bill")
        )
    return found


def _shaped(kind: str, bought: Sequence[Piece], pipes: int, run: Sequence[Piece]) -> list[Wanted]:
    """Bends, reducers and boxes, those alike together."""
    alike: dict[str, list[Piece]] = {}
    for one in bought:
        if one.section.kind != "pipe":
            alike.setdefault(said(one), []).append(one)
    found = []
    for name, pieces in alike.items():
        one = pieces[0]
        shape = one.section.kind
        bore = one.section.diameter_mm or one.bore_mm or _beside(run, one)
        family = BOX_OF.get(shape) or ("reducer" if shape == "reducer" and kind == "intake" else PIPE_OF[kind])
        spec: dict[str, Any] = {**_mass([one])} | ({"bore_mm": bore} if bore is not None else {})
        if family == "reducer":
            spec["to_mm"] = one.section.to_mm
        if shape in ("silencer", "filter"):
            spec |= {"drop_kpa": one.section.drop_kpa, "at_kg_per_s": one.section.at_kg_per_s}
        words = name[:1].upper() + name[1:]
        found.append(Wanted(name[:60], family, words[:80], len(pieces) * pipes, spec, why="a piece of the run"))
    return found


def _beside(run: Sequence[Piece], one: Piece) -> float | None:
    """Bore of the nearest piece that has one: a box takes the pipes it sits between."""
    place = next(k for k, piece in enumerate(run) if piece is one)
    bores = [(abs(k - place), piece.section.diameter_mm) for k, piece in enumerate(run) if piece.section.diameter_mm]
    return min(bores)[1] if bores else None


def _mass(pieces: Sequence[Piece]) -> dict[str, float]:
    """Their mass together, where every one of them is known."""
    known = [one.mass_kg for one in pieces if one.mass_kg is not None]
    return {"mass_change_kg": round(sum(known), 3)} if len(known) == len(pieces) else {}


def _less_the_old(
    found: list[Wanted], pieces: Sequence[Piece], pipes: int, old: Sequence[Piece] | None
) -> list[Wanted]:
    """The heaviest new piece takes along what comes off."""
    if not found or old is not None and not old:
        return found
    off = None if old is None else bill(old)
    kept = [one.mass_kg for one in pieces if one.reused]
    known = off is not None and not off.unweighed and None not in kept
    heaviest = max(range(len(found)), key=lambda k: (found[k].mass_kg or 0.0, -k))
    one = found[heaviest]
    spec = {name: value for name, value in one.spec.items() if name != "mass_change_kg"}
    if known and off is not None and one.mass_kg is not None:
        gone = (off.mass_kg - sum(each for each in kept if each is not None)) * pipes / one.quantity
        spec["mass_change_kg"] = round(one.mass_kg - gone, 3)
        why = f"{one.mass_kg:g} kg, less {gone:.2f} kg of the run that comes off"
    else:
        why = "the run that comes off was not weighed: what this changes is not known"
    changed = Wanted(one.key, one.family, one.name, one.quantity, spec, one.price_minor, why)
    return [changed if k == heaviest else each for k, each in enumerate(found)]


def _held(kind: str, pieces: Sequence[Piece], pipes: int) -> list[Wanted]:
    """Clamps, couplers and hangers of the whole run: those of reused pieces are bought too."""
    bore = next((one.section.diameter_mm for one in pieces if one.section.diameter_mm), None)
    count = {name: sum(getattr(one, name) for one in pieces) * pipes for name in ("clamps", "couplers", "hangers")}
    rows: tuple[tuple[str, str, str, dict[str, Any]], ...] = (
        ("clamps", "clamp", f"{kind.capitalize()} clamps", {"kind": CLAMP_OF[kind], "bore_mm": bore}),
        ("couplers", "coupler", "Couplers", {"bore_mm": bore}),
        ("hangers", "hanger", "Exhaust hangers", {}),
    )
    return [
        Wanted(
            name,
            family,
            words,
            count[name],
            {code: v for code, v in spec.items() if v is not None},
            why="holds the run",
        )
        for name, family, words, spec in rows
        if count[name]
    ]
