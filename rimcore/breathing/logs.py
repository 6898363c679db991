"""Tables that gauges, boxes and telephones write: delimiter, decimal comma, header and units recognised, nothing dropped in silence."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]

#: most rows and characters that are read
MOST_ROWS, MOST_CHARACTERS = 400_000, 40_000_000
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
    "air_mass": ("air mass", "maf", "mass air flow", "air flow"),
    "lambda": ("lambda", "afr", "air fuel ratio"),
    "pedal": ("pedal", "throttle"),
    "pressure": ("pressure", "map", "manifold pressure", "boost"),
    "level": ("level", "sound level", "dba", "db(a)", "db"),
    "heading": ("heading", "course", "bearing", "track"),
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
    "heading": {"°": (1.0, 0.0), "deg": (1.0, 0.0)},
}
_SPELT = {
    "nm": "n·m", "newton metres": "n·m", "lbft": "lb-ft", "lb·ft": "lb-ft", "ft-lb": "lb-ft", "lbf·ft": "lb-ft", "ftlb": "lb-ft", "kmh": "km/h", "kph": "km/h", "c": "°c",
    "f": "°f", "degc": "°c", "degf": "°f", "deg c": "°c", "deg f": "°f", "sec": "s", "seconds": "s", "bhp": "hp", "whp": "hp", "cv": "ps", "min-1": "1/min", "dba": "db",
    "db(a)": "db", "dbx": "db", "1/s": "rpm",
}  # fmt: skip


@dataclass(frozen=True)
class Column:
    """A column of a file: what it is called, its unit as written, what it was taken for, and its values with NaN for gaps."""

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
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if not lines:
        raise BadInput("is empty; accepted: a table of figures with a header", "file")
    if "\0" in text:
        raise BadInput("is no text; accepted: a table of figures, as CSV", "file")
    delimiter, decimal = _written(lines[:LOOKED_AT])
    rows = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=delimiter))
    first = next(
        (place for place, row in enumerate(rows) if sum(_is_figure(cell, decimal) for cell in row) >= max(2, (len(row) + 1) // 2)), None
    )
    if first is None:
        raise BadInput("holds no row of figures; accepted: a table with at least two columns of figures", "file")
    if len(rows) - first > MOST_ROWS:
        raise BadInput(f"has {len(rows) - first} rows; accepted: {MOST_ROWS} at most", "file")
    wide = len(rows[first])
    body, left = [], [f"line {place + 1}: {' '.join(row)[:60]}" for place, row in enumerate(rows[:first]) if place < first - 2]
    for place, row in enumerate(rows[first:], first):
        if len(row) == wide:
            body.append(row)
        else:
            left.append(f"line {place + 1}: {len(row)} cells where {wide} stand above")
    names, units = _header(rows[:first], wide)
    columns = tuple(
        Column(name, unit, _quantity(name, unit), _figures([row[k] for row in body], decimal))
        for k, (name, unit) in enumerate(zip(names, units, strict=True))
    )
    return Table(_once(columns), delimiter, decimal, tuple(left))


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
    if len(above) == 2 and sum(one in _ALL_UNITS for one in second if one) >= sum(bool(one) for one in second) / 2 and any(second):
        return [cell.strip() or f"column {k + 1}" for k, cell in enumerate(above[0])], [cell.strip(" []()") for cell in above[-1]]
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
        (quantity for quantity, words in WORDS.items() for word in words if len(word) > 3 and re.search(rf"\b{re.escape(word)}\b", low)),
        None,
    )
    if within is None:
        return None
    spelt = _unit(unit)
    return within if not spelt or spelt in UNITS[within] or within in ("lambda",) else None
