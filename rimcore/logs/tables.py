"""Tables that gauges, boxes and telephones write.

Delimiter, decimal comma, header and units recognised, nothing dropped in silence.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import islice

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]


#: most rows and characters that are read
MOST_ROWS, MOST_CHARACTERS = 400_000, 40_000_000


#: most columns, figures in all, characters of a line and of a column's name
MOST_COLUMNS, MOST_CELLS, MOST_LINE, MOST_NAME = 200, 4_000_000, 20_000, 120


#: rows that are turned into figures at once, and lines left out that are told
CHUNK, MOST_TOLD = 4000, 200


#: lines that show how a file is written
LOOKED_AT = 40


DELIMITERS = (";", "\t", ",", "|")


#: what a column can be, and the words by which files call it
WORDS = {
    "time": ("time", "t", "seconds", "sec", "elapsed"),
    "rpm": ("rpm", "engine speed", "revs", "engine rpm", "n"),
    "power": ("power", "wheel power", "engine power", "kw", "hp", "bhp", "whp", "ps"),
    "torque": ("torque", "nm", "n·m", "lb-ft", "engine torque"),
    "speed": ("speed", "vehicle speed", "road speed", "velocity", "km/h", "kmh", "mph", "v"),
    "top_hose": ("top hose", "upper hose", "top", "hose top"),
    "lower_hose": ("lower hose", "bottom hose", "lower", "bottom", "hose lower"),
    "coolant": ("coolant", "coolant temperature", "ect", "water temperature"),
    "intake_air": ("intake air", "intake temperature", "iat", "intake air temperature", "air temperature"),
    "air_mass": ("air mass", "maf", "weight air flow", "air flow"),
    "lambda": ("lambda", "afr", "air fuel ratio"),
    "pedal": ("pedal", "throttle"),
    "pressure": ("pressure", "map", "manifold pressure", "boost"),
    "level": ("level", "sound level", "dba", "db(a)", "db"),
    "heading": ("heading", "course", "bearing", "track"),
    "latitude": ("latitude", "lat", "gps latitude", "position latitude"),
    "longitude": ("longitude", "lon", "long", "lng", "gps longitude", "position longitude"),
}


#: units: how they are written, and what brings them to the core's own (factor, then offset)
UNITS: dict[str, dict[str, tuple[float, float]]] = {
    "time": {"s": (1.0, 0.0), "ms": (1e-3, 0.0), "min": (60.0, 0.0)},
    "rpm": {"rpm": (1.0, 0.0), "1/min": (1.0, 0.0), "rad/s": (9.549296585513721, 0.0)},
    "power": {"kw": (1.0, 0.0), "w": (1e-3, 0.0), "hp": (0.745699872, 0.0), "ps": (0.73549875, 0.0)},
    "torque": {"n·m": (1.0, 0.0), "lb-ft": (1.3558179483, 0.0)},
    "speed": {"km/h": (1.0, 0.0), "mph": (1.609344, 0.0), "m/s": (3.6, 0.0)},
    "pressure": {"kpa": (1.0, 0.0), "bar": (100.0, 0.0), "psi": (6.894757, 0.0), "mbar": (0.1, 0.0)},
    **dict.fromkeys(("top_hose", "lower_hose", "coolant", "intake_air"), {"°c": (1.0, 0.0), "°f": (5 / 9, -160 / 9)}),
    "air_mass": {"g/s": (1.0, 0.0), "kg/h": (1 / 3.6, 0.0)},
    "lambda": {"": (1.0, 0.0)},
    "pedal": {"%": (1.0, 0.0)},
    "level": {"db": (1.0, 0.0)},
    **dict.fromkeys(("heading", "latitude", "longitude"), {"°": (1.0, 0.0), "deg": (1.0, 0.0)}),
}


_SPELT = {
    "nm": "n·m",
    "newton metres": "n·m",
    "lbft": "lb-ft",
    "lb·ft": "lb-ft",
    "ft-lb": "lb-ft",
    "lbf·ft": "lb-ft",
    "ftlb": "lb-ft",
    "kmh": "km/h",
    "kph": "km/h",
    "c": "°c",
    "f": "°f",
    "degc": "°c",
    "degf": "°f",
    "deg c": "°c",
    "deg f": "°f",
    "sec": "s",
    "seconds": "s",
    "bhp": "hp",
    "whp": "hp",
    "cv": "ps",
    "min-1": "1/min",
    "dba": "db",
    "db(a)": "db",
    "dbx": "db",
    "1/s": "rpm",
}


@dataclass(frozen=True)
class Column:
    """A column of a file: what it is called, its unit as written, what it was taken for, and its values with NaN for
    gaps.
    """

    name: str
    unit: str
    quantity: str | None
    values: Array = field(repr=False)

    def taken(self, quantity: str, unit: str = "") -> Array:
        """Its values in the core's unit of a quantity.

        Raises
        ------
        BadInput : the unit is none of that quantity's
        """
        spelt = _unit(unit or self.unit) or next(iter(UNITS[quantity]))
        if spelt not in UNITS[quantity]:
            raise BadInput(
                f"“{unit or self.unit}” is no unit of {quantity.replace('_', ' ')}; accepted: {', '.join(one or 'none' for one in UNITS[quantity])}",
                "unit",
            )
        factor, offset = UNITS[quantity][spelt]
        return np.asarray(self.values * factor + offset)


@dataclass(frozen=True)
class Table:
    """A file as it was understood."""

    columns: tuple[Column, ...]
    delimiter: str
    decimal: str
    #: lines that hold no row, in words
    left_out: tuple[str, ...]

    @property
    def rows(self) -> int:
        """How many rows were read."""
        return len(self.columns[0].values) if self.columns else 0

    def found(self, quantity: str) -> Column | None:
        """The first column that was taken for a quantity."""
        return next((one for one in self.columns if one.quantity == quantity), None)


def table_of(columns: Sequence[tuple[str, str, str, Array]]) -> Table:
    """A table of columns that are known already: name, unit, quantity, values.

    Source: none; a container.

    Parameters
    ----------
    columns : each (name, unit, quantity, values (n,)), all of one length

    >>> table_of([("time", "s", "time", np.array([0.0, 1.0]))]).rows
    2
    """
    return Table(tuple(Column(name, unit, quantity, values) for name, unit, quantity, values in columns), ",", ".", ())


def read_table(text: str) -> Table:
    """A table of figures.

    Raises
    ------
    BadInput : it is empty, too long, or no line holds two figures

    Examples
    --------
    >>> found = read_table("Engine speed [1/min];Power [hp]\\n2000;40,5\\n2100;42,0\\n")
    >>> [(one.name, one.unit, one.quantity) for one in found.columns], found.decimal
    ([('Engine speed', '1/min', 'rpm'), ('Power', 'hp', 'power')], ',')
    >>> found.found("power").taken("power").round(2).tolist()
    [30.2, 31.32]
    """
    if len(text) > MOST_CHARACTERS:
        raise BadInput(f"is too long; accepted: {MOST_CHARACTERS // 1_000_000} million characters at most", "file")
    if "\0" in text:
        raise BadInput("is no text; accepted: a table of figures, as CSV", "file")
    looked = list(islice(_lines(text), LOOKED_AT))
    if not looked:
        raise BadInput("is empty; accepted: a table of figures with a header", "file")
    delimiter, decimal = _written(looked)
    return _Reader(delimiter, decimal).read(text)


def _lines(text: str) -> Iterator[str]:
    """Lines with something on them, counted and measured while they are read.

    Raises
    ------
    BadInput : a line that is too long, or too many of them
    """
    count = 0
    for line in io.StringIO(text.lstrip("\ufeff")):
        if len(line) > MOST_LINE:
            raise BadInput(f"has a line of {len(line)} characters; accepted: {MOST_LINE} at most", "file")
        if not line.strip():
            continue
        count += 1
        if count > MOST_ROWS + LOOKED_AT:
            raise BadInput(f"has more than {MOST_ROWS} rows; accepted: {MOST_ROWS} at most", "file")
        yield line


class _Reader:
    """Rows of a file, turned into figures as they come; only so much of it is held at a time."""

    def __init__(self, delimiter: str, decimal: str) -> None:
        self.delimiter, self.decimal = delimiter, decimal
        self.before: list[list[str]] = []
        self.chunk: list[list[str]] = []
        self.parts: list[list[Array]] = []
        self.left: list[str] = []
        self.not_told = self.rows = 0

    def read(self, text: str) -> Table:
        wide = 0
        for place, row in enumerate(csv.reader(_lines(text), delimiter=self.delimiter)):
            if len(row) > MOST_COLUMNS:
                raise BadInput(f"has {len(row)} columns in line {place + 1}; accepted: {MOST_COLUMNS} at most", "file")
            if not wide and sum(_is_figure(cell, self.decimal) for cell in row) >= max(2, (len(row) + 1) // 2):
                wide = len(row)
            if not wide:
                self._above(place, row)
            elif len(row) == wide:
                self._row(row)
            else:
                self._leave(f"line {place + 1}: {len(row)} cells where {wide} stand above")
        if not wide:
            raise BadInput("holds no row of figures; accepted: a table with at least two columns of figures", "file")
        self._turn()
        return self._table(wide)

    def _above(self, place: int, row: list[str]) -> None:
        self.before.append(row)
        if len(self.before) > 2:
            gone = self.before.pop(0)
            self._leave(f"line {place - 1}: {' '.join(gone)[:60]}")

    def _leave(self, words: str) -> None:
        if len(self.left) < MOST_TOLD:
            self.left.append(words)
        else:
            self.not_told += 1

    def _row(self, row: list[str]) -> None:
        self.rows += 1
        if self.rows * len(row) > MOST_CELLS:
            raise BadInput(f"holds more than {MOST_CELLS} figures; accepted: fewer columns or rows", "file")
        self.chunk.append(row)
        if len(self.chunk) == CHUNK:
            self._turn()

    def _turn(self) -> None:
        """The rows that wait become figures."""
        if self.chunk:
            self.parts.append([_figures(cells, self.decimal) for cells in zip(*self.chunk, strict=True)])
            self.chunk = []

    def _table(self, wide: int) -> Table:
        names, units = _header([[cell[:MOST_NAME] for cell in row] for row in self.before], wide)
        columns = []
        for k, (name, unit) in enumerate(zip(names, units, strict=True)):
            values = np.concatenate([part[k] for part in self.parts])
            columns.append(Column(name, unit, _quantity(name, unit), values))
        told = [*self.left, *([f"and {self.not_told} more"] if self.not_told else [])]
        return Table(_once(columns), self.delimiter, self.decimal, tuple(told))


def _once(columns: Sequence[Column]) -> tuple[Column, ...]:
    """A quantity is taken from the first column that is called so."""
    seen: set[str] = set()
    found = []
    for one in columns:
        again = one.quantity in seen
        found.append(Column(one.name, one.unit, None if again else one.quantity, one.values))
        if one.quantity:
            seen.add(one.quantity)
    return tuple(found)


def _written(lines: Sequence[str]) -> tuple[str, str]:
    """Delimiter and decimal sign of some lines."""
    for delimiter in (";", "\t", "|"):
        counts = [line.count(delimiter) for line in lines]
        if sum(count > 0 for count in counts) > len(lines) / 2:
            cells = [cell.strip() for line in lines for cell in line.split(delimiter)]
            commas = sum(bool(re.fullmatch(r"[-+]?\d+,\d+", cell)) for cell in cells)
            points = sum(bool(re.fullmatch(r"[-+]?\d+\.\d+", cell)) for cell in cells)
            return delimiter, "," if commas > points else "."
    return ",", "."


def _is_figure(cell: str, decimal: str) -> bool:
    return _figure(cell, decimal) is not None


def _figure(cell: str, decimal: str) -> float | None:
    text = cell.strip().replace("\u2212", "-")
    if decimal == ",":
        text = text.replace(",", ".")
    try:
        found = float(text)
    except ValueError:
        return _clock(text)
    return found if np.isfinite(found) else None


def _clock(text: str) -> float | None:
    """Seconds of 1:02:03.5 and the like.

    >>> _clock("1:02.5")
    62.5
    """
    if not re.fullmatch(r"\d{1,3}(:[0-5]?\d){1,2}([.,]\d+)?", text):
        return None
    found = 0.0
    for part in text.replace(",", ".").split(":"):
        found = 60.0 * found + float(part)
    return found


def _figures(cells: Sequence[str], decimal: str) -> Array:
    """A column as numbers, NaN where there is none."""
    try:
        if decimal == ".":
            return np.array(cells, dtype=float)
        return np.array([cell.replace(",", ".") for cell in cells], dtype=float)
    except ValueError:
        found = [_figure(cell, decimal) for cell in cells]
        return np.array([np.nan if one is None else one for one in found], dtype=float)


def _header(rows: Sequence[Sequence[str]], wide: int) -> tuple[list[str], list[str]]:
    """Names and units of the columns: of the last one or two lines above the figures that are as wide."""
    above = [row for row in rows[-2:] if len(row) == wide]
    if not above:
        return [f"column {k + 1}" for k in range(wide)], [""] * wide
    second = [_unit(cell.strip(" []()")) for cell in above[-1]]
    if (
        len(above) == 2
        and sum(one in _ALL_UNITS for one in second if one) >= sum(bool(one) for one in second) / 2
        and any(second)
    ):
        return [cell.strip() or f"column {k + 1}" for k, cell in enumerate(above[0])], [
            cell.strip(" []()") for cell in above[-1]
        ]
    names, units = [], []
    for k, cell in enumerate(above[-1]):
        name, unit = _apart(cell.strip())
        names.append(name or f"column {k + 1}")
        units.append(unit)
    return names, units


_ALL_UNITS = {unit for units in UNITS.values() for unit in units if unit}


def _apart(cell: str) -> tuple[str, str]:
    """A name and the unit behind it.

    >>> _apart("Power (kW)"), _apart("coolant, °C"), _apart("t_s"), _apart("rpm")
    (('Power', 'kW'), ('coolant', '°C'), ('t', 's'), ('rpm', ''))
    """
    for pattern in (r"(.+?)\s*[\[(]([^\])]*)[\])]\s*$", r"(.+?)\s*,\s*(\S+)$", r"(.+)_(\S+)$", r"(.+)\s+(\S+)$"):
        found = re.match(pattern, cell)
        if found and (pattern.startswith(r"(.+?)\s*[\[(]") or _unit(found[2]) in _ALL_UNITS):
            return found[1].strip(), found[2].strip()
    return cell, ""


def _unit(text: str) -> str:
    low = text.strip().lower()
    return _SPELT.get(low, low)


def _quantity(name: str, unit: str) -> str | None:
    """What a column is by its name, where its unit is one of that."""
    low = re.sub(r"[_\s]+", " ", name.strip().lower())
    exact = next((quantity for quantity, words in WORDS.items() if low in words), None)
    within = exact or next(
        (
            quantity
            for quantity, words in WORDS.items()
            for word in words
            if len(word) > 3 and re.search(rf"\b{re.escape(word)}\b", low)
        ),
        None,
    )
    if within is None:
        return None
    spelt = _unit(unit)
    return within if not spelt or spelt in UNITS[within] or within in ("lambda",) else None
