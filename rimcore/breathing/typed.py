"""A run of pipe as people type it, a line a piece, and back again."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache, partial
from typing import Any

from rimcore.breathing.bill import MATERIALS, Piece
from rimcore.breathing.runs import BORED, BOXED, Section
from rimcore.quantities.errors import BadInput
from rimcore.quantities.units import convert, parse_quantity

#: most pieces of a run
MOST_PIECES = 60
KINDS = (*BORED, *BOXED)
ACCEPTED = {
    "pipe": "pipe 63.5 x 800",
    "bend": "bend 63.5 90° r 95, or bend 63.5 k 0.3",
    "reducer": "reducer 70 to 76 x 60",
    "entry": "entry 80, or entry 80 k 0.03",
    "filter": "filter 0.5 kPa at 0.1 kg/s",
    "meter": "meter 0.3 kPa at 0.1 kg/s bore 70",
    "cooler": "cooler 2 kPa at 0.1 kg/s",
    "silencer": "silencer 3 kPa at 0.1 kg/s 400 °C",
}
#: the same for who measures in inches
ACCEPTED_IN = ACCEPTED | {
    "pipe": "pipe 2.5 x 30",
    "bend": "bend 2.5 90° r 3.75, or bend 2.5 k 0.3",
    "reducer": "reducer 2.75 to 3 x 2.5",
    "entry": "entry 3, or entry 3 k 0.03",
    "filter": "filter 0.07 psi at 13 lb/min",
    "meter": "meter 0.04 psi at 13 lb/min bore 2.75",
    "cooler": "cooler 0.3 psi at 13 lb/min",
    "silencer": "silencer 0.4 psi at 13 lb/min 750 °F",
}
_N = r"(\d+(?:[.,]\d+)?)"
_LENGTH = _N + r"\s*(mm|cm|in|\")?"
#: what may stand behind a piece, after a comma
_EXTRAS: tuple[tuple[str, Callable[[Piece, re.Match[str], str], Piece]], ...] = (
    (
        rf"{_N}\s*(mm|in|\")?\s+wall|wall\s+{_N}\s*(mm|in|\")?",
        lambda one, m, bare: replace(one, wall_mm=_long(m[1] or m[3], m[2] or m[4], bare)),
    ),
    (rf"{_N}\s*(kg|lbs?|g|oz)", lambda one, m, _: replace(one, own_kg=parse_quantity(m[0], "mass").value)),
    (
        r"(?:(\d{1,2})\s*)?(clamp|coupler|hanger)s?(?:\s+at\s+((?:[\d.,]+\s*(?:mm|in)?\s*(?:and\s+)?)+))?",
        lambda one, m, bare: _held_by(one, m, bare),
    ),
    (r"re-?used|old one|kept", lambda one, _, __: replace(one, reused=True)),
    (r"[“\"](.{1,60})[”\"]", lambda one, m, _: replace(one, name=m[1].strip())),
)
#: what a bore, a length, a bend's turn, K, a drop and a flow may be
_SPANS = {
    "bore": (10.0, 400.0, "mm"),
    "length": (0.0, 10_000.0, "mm"),
    "angle": (1.0, 180.0, "°"),
    "radius": (5.0, 2000.0, "mm"),
    "k": (0.0, 50.0, ""),
    "drop": (0.0, 100.0, "kPa"),
    "flow": (0.001, 5.0, "kg/s"),
    "heat": (-40.0, 1200.0, "°C"),
    "wall": (0.3, 20.0, "mm"),
    "mass": (0.0, 200.0, "kg"),
}


def _figure(text: str) -> float:
    return float(text.replace(",", "."))


#: a unit of length in mm
_UNITS = {"mm": 1.0, "cm": 10.0, "in": 25.4, '"': 25.4}


#: a unit of mass flow in kg/s
_FLOW = {
    "kg/s": 1.0,
    "g/s": 0.001,
    "kg/h": 1.0 / 3600.0,
    "lb/min": 0.45359237 / 60.0,
    "lb/s": 0.45359237,
    "lb/h": 0.45359237 / 3600.0,
}
_FLOWS = "|".join(_FLOW)
#: a unit of pressure behind a drop
_DROP = r"(kpa|pa|hpa|mbar|bar|psi)"


def _long(value: str, unit: str | None, bare: str) -> float:
    """A length in mm; one without a unit is in ``bare``."""
    return _figure(value) * _UNITS[unit or bare]


def _held(name: str, value: float) -> float:
    low, high, unit = _SPANS[name]
    if not low <= value <= high:
        raise BadInput(
            f"{name} {value:g} {unit}".rstrip() + f" is out of range; accepted: {low:g} to {high:g} {unit}".rstrip(),
            "lines",
        )
    return value


def _pipe(text: str, bare: str) -> Section:
    m = _whole(rf"{_LENGTH}\s*[x×]\s*{_LENGTH}", text, "pipe")
    return Section("pipe", _held("bore", _long(m[1], m[2], bare)), _held("length", _long(m[3], m[4], bare)))


def _bend(text: str, bare: str) -> Section:
    by_k = re.fullmatch(rf"{_LENGTH}\s+k\s*{_N}", text)
    if by_k:
        return Section("bend", _held("bore", _long(by_k[1], by_k[2], bare)), k=_held("k", _figure(by_k[3])))
    m = _whole(rf"{_LENGTH}\s+{_N}\s*(?:°|deg)?\s*r\s*{_LENGTH}", text, "bend")
    return Section(
        "bend",
        _held("bore", _long(m[1], m[2], bare)),
        angle_deg=_held("angle", _figure(m[3])),
        radius_mm=_held("radius", _long(m[4], m[5], bare)),
    )


def _reducer(text: str, bare: str) -> Section:
    m = _whole(rf"{_LENGTH}\s*(?:to|→|->)\s*{_LENGTH}\s*[x×]\s*{_LENGTH}", text, "reducer")
    bore, to, long = (_long(m[k], m[k + 1], bare) for k in (1, 3, 5))
    if bore == to or long <= 0:
        raise BadInput(
            "a reducer is another bore at its other end, over a length; accepted: " + ACCEPTED["reducer"], "lines"
        )
    return Section("reducer", _held("bore", bore), _held("length", long), to_mm=_held("bore", to))


def _entry(text: str, bare: str) -> Section:
    m = _whole(rf"{_LENGTH}(?:\s+k\s*{_N})?", text, "entry")
    return Section(
        "entry", _held("bore", _long(m[1], m[2], bare)), k=None if m[3] is None else _held("k", _figure(m[3]))
    )


def _box(kind: str, text: str, bare: str) -> tuple[Section, float | None]:
    m = _whole(
        rf"{_N}\s*{_DROP}\s*(?:at|@)\s*{_N}\s*({_FLOWS})(?:\s*(?:at\s*)?{_N}\s*(?:°\s*)?([cf]))?(?:\s+bore\s*{_LENGTH})?",
        text,
        kind,
    )
    bore = None if m[7] is None else _held("bore", _long(m[7], m[8], bare))
    if kind == "silencer" and m[5] is None:
        raise BadInput("a silencer's loss holds at a temperature; accepted: " + ACCEPTED["silencer"], "lines")
    heat = None
    if m[5] is not None and kind == "silencer":
        heat = _held("heat", parse_quantity(f"{_figure(m[5]):.10g} °{m[6].upper()}", "temperature").value)
    drop = _held("drop", parse_quantity(f"{_figure(m[1]):.10g} {m[2]}", "pressure").value)
    return Section(kind, drop_kpa=drop, at_kg_per_s=_held("flow", _figure(m[3]) * _FLOW[m[4]]), at_c=heat), bore


def _whole(pattern: str, text: str, kind: str) -> re.Match[str]:
    found = re.fullmatch(pattern, text)
    if found is None:
        raise BadInput(f"“{kind} {text}” is not understood; accepted: {ACCEPTED[kind]}", "lines")
    return found


def _held_by(piece: Piece, found: re.Match[str], bare: str) -> Piece:
    """Clamps, couplers or hangers of a piece: how many, and where along it they sit."""
    name, places = found[2].lower(), _places(found[3], bare)
    count = int(found[1]) if found[1] else max(1, len(places))
    if len(places) > count:
        raise BadInput(
            f"{count} {name}{'s' if count > 1 else ''} at {len(places)} places; accepted: a place for each at most",
            "lines",
        )
    long = piece.section.along_mm
    for place in places:
        if not 0 <= place <= long:
            raise BadInput(
                f"{name} at {place:g} mm lies beyond the piece; accepted: 0 to {long:g} mm along it", "lines"
            )
    own = tuple((name, place) for place in sorted(places))
    counted: dict[str, Any] = {name + "s": count}
    return replace(piece, **counted, placed=(*(one for one in piece.placed if one[0] != name), *own))


def _places(text: str | None, bare: str) -> list[float]:
    return [_figure(one) * _UNITS[bare] for one in re.findall(r"\d+(?:[.,]\d+)?", text or "")]


_READ: dict[str, Callable[[str, str], Section]] = {"pipe": _pipe, "bend": _bend, "reducer": _reducer, "entry": _entry}


def parse_piece(line: str, bare: str = "mm") -> Piece:
    """One line as a piece; a length without a unit is in ``bare`` (mm or in), and so are the places of clamps and
    hangers.

    Raises
    ------
    BadInput : what is not understood, and what is accepted

    Examples
    --------
    >>> one = parse_piece("pipe 2.5 in x 800, stainless, 1.2 mm wall, 2 clamps, 1 hanger")
    >>> one.section.diameter_mm, one.material, one.wall_mm, one.clamps
    (63.5, 'stainless', 1.2, 2)
    """
    head, *extras = _split(line)
    kind, _, rest = head.strip().partition(" ")
    kind = kind.lower()
    if kind not in KINDS:
        raise BadInput(f"“{head.strip()[:40]}” begins with no piece; accepted: {', '.join(KINDS)}", "lines")
    rest = rest.strip().lower()
    if kind in _READ:
        piece = Piece(_READ[kind](rest, bare))
    else:
        section, bore = _box(kind, rest, bare)
        piece = Piece(section, bore_mm=bore)
    for extra in extras:
        piece = _extra(piece, extra.strip(), bare)
    _held("wall", piece.wall_mm)
    if piece.own_kg is not None:
        _held("mass", piece.own_kg)
    return piece


def _split(line: str) -> list[str]:
    """Parts of a line; a comma between figures is a decimal one, and none counts inside quotes.

    Places are parted by “and”.
    """
    return re.findall(r"(?:[“\"][^”\"]*[”\"]|(?<=\d),(?=\d)|[^,])+", line) or [line]


def _extra(piece: Piece, text: str, bare: str) -> Piece:
    material = next((code for code, (name, _) in MATERIALS.items() if text.lower() in (code, name)), None)
    if material:
        return replace(piece, material=material)
    for pattern, put in _EXTRAS:
        found = re.fullmatch(pattern, text, re.IGNORECASE)
        if found:
            return put(piece, found, bare)
    raise BadInput(
        f"“{text[:40]}” is not understood; accepted: {', '.join(name for name, _ in MATERIALS.values())}, 1.5 mm wall, 2.1 kg, 2 clamps, 1 coupler, 1 hanger, hangers at 200 and 900, re-used, a name in quotes",
        "lines",
    )


@lru_cache(maxsize=256)
def parse_run(text: str, bare: str = "mm") -> tuple[Piece, ...]:
    """Lines as a run, in the order of the flow; a length without a unit is in ``bare``.

    Raises
    ------
    BadInput : with the line's number

    Examples
    --------
    >>> [one.section.kind for one in parse_run("entry 80\\nfilter 0.4 kPa at 0.1 kg/s\\npipe 70 x 300")]
    ['entry', 'filter', 'pipe']
    """
    lines = [(number, line) for number, line in enumerate(text.splitlines(), 1) if line.strip()]
    if len(lines) > MOST_PIECES:
        raise BadInput(f"{len(lines)} pieces; accepted: {MOST_PIECES} at most", "lines")
    found = []
    for number, line in lines:
        try:
            found.append(parse_piece(line, bare))
        except BadInput as error:
            raise BadInput(f"line {number}: {error.message}", "lines") from error
    return tuple(found)


#: what a line says of drops, masses and heat where nobody wants it otherwise
CORES: Mapping[str, str] = {"pressure": "kPa", "mass": "kg", "temperature": "°C"}


def line_of(piece: Piece, bare: str = "mm", units: Mapping[str, str] = CORES) -> str:
    """A piece as it is typed, its lengths in ``bare``, the rest in ``units`` by kind.

    ``parse_piece`` reads it back alike.

    >>> line_of(parse_piece("reducer 70 to 76 x 60, silicone, 2 clamps"))
    'reducer 70 to 76 x 60, silicone, 2 clamps'
    >>> line_of(parse_piece("pipe 60 x 1350, hangers at 200 and 1100, clamp at 1340"))
    'pipe 60 x 1350, 1 clamp at 1340, 2 hangers at 200 and 1100'
    >>> line_of(parse_piece("pipe 2.5 x 30, hanger at 10", "in")), line_of(parse_piece("pipe 63.5 x 762"), "in")
    ('pipe 63.5 x 762, 1 hanger at 254', 'pipe 2.5 x 30')
    >>> line_of(parse_piece("silencer 3 kPa at 0.1 kg/s 400 °C, 5 kg"), "in", {"pressure": "psi", "mass": "lb", "temperature": "°F"})
    'silencer 0.435113 psi at 13.2277 lb/min 752 °F, 11.0231 lb'
    """
    one, _l = piece.section, partial(_length, bare=bare)
    body = {
        "pipe": lambda: f"pipe {_l(one.diameter_mm)} x {_l(one.length_mm)}",
        "bend": lambda: (
            f"bend {_l(one.diameter_mm)} "
            + (f"k {_g(one.k)}" if one.k is not None else f"{_g(one.angle_deg)}° r {_l(one.radius_mm)}")
        ),
        "reducer": lambda: f"reducer {_l(one.diameter_mm)} to {_l(one.to_mm)} x {_l(one.length_mm)}",
        "entry": lambda: f"entry {_l(one.diameter_mm)}" + (f" k {_g(one.k)}" if one.k is not None else ""),
    }.get(one.kind, lambda: _box_line(piece, bare, units))()
    extras = [
        *([] if piece.material == "steel" else [piece.material]),
        *([] if piece.wall_mm == 1.5 else [f"{_l(piece.wall_mm)} {bare} wall"]),
        *([] if piece.own_kg is None else [_in(piece.own_kg, "mass", units)]),
        *(_count(piece, name, bare) for name in ("clamp", "coupler", "hanger") if getattr(piece, name + "s")),
        *(["re-used"] if piece.reused else []),
        *([f"“{piece.name}”"] if piece.name else []),
    ]
    return ", ".join([body, *extras])


def _length(value_mm: float | None, bare: str) -> str:
    return "" if value_mm is None else _g(round(value_mm / _UNITS[bare], 6 if bare == "mm" else 4))


def _g(value: float | None) -> str:
    return f"{value:.10g}"


def _in(value: float | None, kind: str, units: Mapping[str, str]) -> str:
    """A figure with its unit, to six places that count."""
    unit = units[kind]
    shown = value or 0.0 if unit == CORES[kind] else convert(value or 0.0, kind, unit)
    return f"{_g(shown) if unit == CORES[kind] else f'{shown:.6g}'} {unit}"


def _box_line(piece: Piece, bare: str, units: Mapping[str, str]) -> str:
    one = piece.section
    heat = f" {_in(one.at_c, 'temperature', units)}" if one.at_c is not None else ""
    flow = (
        f"{_g(one.at_kg_per_s)} kg/s"
        if units["mass"] == "kg"
        else f"{(one.at_kg_per_s or 0.0) / _FLOW['lb/min']:.6g} lb/min"
    )
    bore = f" bore {_length(piece.bore_mm, bare)}" if piece.bore_mm is not None else ""
    return f"{one.kind} {_in(one.drop_kpa, 'pressure', units)} at {flow}{heat}{bore}"


def _count(piece: Piece, name: str, bare: str) -> str:
    count = getattr(piece, name + "s")
    places = " and ".join(_length(place, bare) for what, place in piece.placed if what == name)
    return f"{count} {name}{'s' if count != 1 else ''}" + (f" at {places}" if places else "")


def with_bore(pieces: Sequence[Piece], place: int, bore_mm: float) -> tuple[Piece, ...]:
    """The run with one piece at another bore.

    Reducers beside it keep meeting it, and are pipes where nothing is left to reduce.

    >>> found = with_bore(parse_run("pipe 60 x 100\\nreducer 60 to 70 x 50\\npipe 70 x 200"), 2, 76.0)
    >>> [line_of(one) for one in found]
    ['pipe 60 x 100', 'reducer 60 to 76 x 50', 'pipe 76 x 200']
    """
    found = list(pieces)
    one = found[place]
    if one.section.diameter_mm is None:
        return tuple(found)
    found[place] = replace(one, section=replace(one.section, diameter_mm=bore_mm))
    if place and found[place - 1].section.kind == "reducer":
        before = found[place - 1]
        found[place - 1] = _joined(replace(before, section=replace(before.section, to_mm=bore_mm)))
    if place + 1 < len(found) and found[place + 1].section.kind == "reducer":
        after = found[place + 1]
        found[place + 1] = _joined(replace(after, section=replace(after.section, diameter_mm=bore_mm)))
    return tuple(found)


def _joined(piece: Piece) -> Piece:
    """A reducer that has come to one bore is a pipe."""
    one = piece.section
    return (
        piece
        if one.diameter_mm != one.to_mm
        else replace(piece, section=Section("pipe", one.diameter_mm, one.length_mm))
    )


def steps_of(pieces: Sequence[Piece]) -> list[str]:
    """Where the bore jumps from one piece to the next without a reducer, in words; a box joins any two.

    >>> steps_of(parse_run("pipe 60 x 100\\npipe 70 x 200"))
    ['between line 1 and line 2 the bore goes from 60 to 70 mm without a reducer']
    """
    said, last = [], None
    for number, piece in enumerate(pieces, 1):
        one = piece.section
        if one.diameter_mm is None:
            last = None
            continue
        if last is not None and abs(last[1] - one.diameter_mm) > 0.5:
            said.append(
                f"between line {last[0]} and line {number} the bore goes from {last[1]:g} to {one.diameter_mm:g} mm without a reducer"
            )
        last = (number, one.to_mm or one.diameter_mm)
    return said
