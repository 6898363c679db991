"""What a gauge showed over a while: is it steady, what does it read, what was wrong with it, in words."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]


#: the end of a trace that is read [s], and the least of it that has to be there
LAST_S, LEAST_S = 3.0, 1.0


#: share of dropped readings that is told
DROPPED = 0.1


#: most rows and characters of a file that is replayed
MOST_ROWS, MOST_CHARACTERS = 20_000, 1_000_000


@dataclass(frozen=True)
class Trace:
    """Readings of several channels over time; NaN where one dropped out.

    Attributes
    ----------
    names : of the channels
    time_s : (n,) rising
    values : (n, k)
    """

    names: tuple[str, ...]
    time_s: Array = field(repr=False)
    values: Array = field(repr=False)
    unit: str = ""

    def __post_init__(self) -> None:
        if self.values.shape != (len(self.time_s), len(self.names)):
            raise BadInput("every row has a time and one value a channel", "trace")
        if len(self.time_s) < 2 or (np.diff(self.time_s) <= 0).any():
            raise BadInput("times rise from row to row; accepted: at least two rows", "t_s")


@dataclass(frozen=True)
class Steady:
    """What one channel reads: value with its ±, and what was wrong, in words; no value where nothing can be read."""

    name: str
    value: float | None
    uncertainty: float | None
    faults: tuple[str, ...] = ()


def steady(trace: Trace, step: float, empty_until_s: float = 0.0) -> tuple[Steady, ...]:
    """Read each channel over the last three seconds.

    Parameters
    ----------
    trace : rising times [s] and what was read
    step : of the read-out, and so the least that it can tell
    empty_until_s : until then nothing stood on it or leaned against it: it has to show zero

    The ± is the larger of the step's half (JCGM 100:2008, F.2.2.1: step ÷ √12, taken twice) and twice the scatter of
    the
    mean; what drifts or drops out is told and widens it.

    Examples
    --------
    >>> still = Trace(("FL",), np.arange(20) / 5, np.full((20, 1), 284.0))
    >>> found = steady(still, 0.5)[0]
    >>> found.value, round(found.uncertainty, 2), found.faults
    (284.0, 0.29, ())
    """
    return tuple(_one(trace, k, step, empty_until_s) for k in range(len(trace.names)))


def _one(trace: Trace, k: int, step: float, empty_until_s: float) -> Steady:
    name, time, values = trace.names[k], trace.time_s, trace.values[:, k]
    last = time > time[-1] - LAST_S
    kept = last & np.isfinite(values)
    faults = []
    if empty_until_s > 0:
        before = values[(time <= empty_until_s) & np.isfinite(values)]
        off = float(np.median(before)) if len(before) else math.nan
        if not abs(off) <= 2 * step:
            faults.append(f"was not zeroed: it showed {off:+.2f} {trace.unit} with nothing on it".replace("-", "−"))
    lost = 1.0 - kept.sum() / max(1, last.sum())
    if lost > DROPPED:
        faults.append(f"dropped out in {100 * lost:.0f} % of the readings")
    if kept.sum() < 3 or time[kept][-1] - time[kept][0] < LEAST_S:
        return Steady(name, None, None, (*faults, "too little to read"))
    slope, middle = np.polyfit(time[kept] - time[kept].mean(), values[kept], 1)
    left = values[kept] - middle - slope * (time[kept] - time[kept].mean())
    scatter = float(left.std(ddof=1) if len(left) > 2 else 0.0)
    moved = abs(float(slope)) * float(time[kept][-1] - time[kept][0])
    if moved > max(2 * step, 3 * scatter / math.sqrt(len(left))):
        faults.append(f"has not settled: it moved {moved:.2f} {trace.unit} in the last {LAST_S:g} s")
    doubt = max(
        step / math.sqrt(3), 2 * scatter / math.sqrt(len(left)), moved if faults and "settled" in faults[-1] else 0.0
    )
    return Steady(name, round(float(middle) / step) * step, doubt, tuple(faults))


def read_trace(text: str, names: Sequence[str], unit: str = "") -> Trace:
    """A file that a gauge has written: a head ``t_s`` and the channels, then rows; a blank cell is a drop-out.

    Raises
    ------
    BadInput : with the row and what is accepted

    Examples
    --------
    >>> read_trace("t_s;FL;FR\\n0;284,0;258\\n0,5;284,5;\\n", ("FL", "FR")).values.tolist()
    [[284.0, 258.0], [284.5, nan]]
    """
    if len(text) > MOST_CHARACTERS:
        raise BadInput(f"the file is too long; accepted: up to {MOST_ROWS} rows", "file")
    lines = [line for line in text.replace("\ufeff", "").splitlines() if line.strip()]
    if not lines:
        raise BadInput(f"the file is empty; accepted: a head t_s, {', '.join(names)}, then rows", "file")
    between = next((mark for mark in (";", "\t", ",") if mark in lines[0]), ",")
    rows = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=between))
    head = [cell.strip() for cell in rows[0]]
    lacking = [name for name in ("t_s", *names) if name not in head]
    if lacking:
        raise BadInput(f"the head lacks {', '.join(lacking)}; accepted: t_s, {', '.join(names)}", "file")
    if len(rows) - 1 > MOST_ROWS:
        raise BadInput(f"{len(rows) - 1} rows; accepted: up to {MOST_ROWS}", "file")
    at = [head.index(name) for name in ("t_s", *names)]
    table = np.array([[_cell(row, column, number) for column in at] for number, row in enumerate(rows[1:], start=2)])
    if not len(table) or not np.isfinite(table[:, 0]).all():
        raise BadInput("every row has a time; accepted: seconds, rising", "file")
    return Trace(tuple(names), table[:, 0], table[:, 1:], unit)


def _cell(row: list[str], column: int, number: int) -> float:
    text = row[column].strip().replace("−", "-") if column < len(row) else ""
    if not text:
        return math.nan
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = math.inf
    if not abs(value) < 1e6:
        raise BadInput(
            f"row {number}: “{text[:20]}” is no figure; accepted: 284.5, or blank where it dropped out", "file"
        )
    return value
