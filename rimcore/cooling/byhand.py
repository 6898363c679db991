"""A bleed watched by hand: what somebody reads at the hoses, line by line, for the same judge as a logger's file."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.limits import LIMITS
from rimcore.quantities.errors import BadInput
from rimcore.quantities.units import parse_quantity

ACCEPTED = "3:30 78 41 88 fan level down"
#: readings of one run at most, and its longest [s]
MOST_ROWS, LONGEST_S, LONGEST_LINE = 400, 6 * 3600.0, 120
#: words at the filler neck, as they are typed
LEVELS = {"down": "falls", "falls": "falls", "drops": "falls", "holds": "holds", "steady": "holds", "filled": "filled"}
_CLOCK = re.compile(r"(\d{1,3}):([0-5]\d)")
_FIGURE = re.compile(r"[-−–]|[-−+]?\d+(?:[.,]\d+)?(?:\s*°?\s*[CF]\b)?|\?", re.IGNORECASE)


@dataclass(frozen=True, kw_only=True)
class Seen:
    """One reading: time since the engine was started [s], hoses and engine [°C], fan, level; None was not read."""

    t_s: float
    top_c: float | None = None
    lower_c: float | None = None
    coolant_c: float | None = None
    fan: bool | None = None
    level: str = ""

    @property
    def clock(self) -> str:
        """Time as a clock shows it.

        >>> Seen(t_s=210.0).clock
        '3:30'
        """
        return f"{int(self.t_s // 60)}:{int(self.t_s % 60):02d}"


def read_time(text: str) -> float:
    """Time since the start [s] from minutes as they are written.

    Parameters
    ----------
    text : ``3:30``, ``3.5`` or ``3.5 min``; 0 to 360 minutes

    Raises
    ------
    BadInput : not a time

    Source: common practice.

    >>> read_time("3:30"), read_time("3.5 min"), read_time("0")
    (210.0, 210.0, 0.0)
    """
    plain = text.strip().lower()
    clock = _CLOCK.fullmatch(plain)
    minutes = re.fullmatch(r"(\d{1,3}(?:[.,]\d{1,3})?)\s*(?:min(?:utes)?|m)?", plain)
    if clock:
        seconds = int(clock[1]) * 60.0 + int(clock[2])
    elif minutes:
        seconds = float(minutes[1].replace(",", ".")) * 60.0
    else:
        raise BadInput(f"“{text.strip()[:20]}” is no time; accepted: minutes as 3.5 or 3:30", "time")
    if seconds > LONGEST_S:
        raise BadInput(f"accepted: up to {LONGEST_S / 60:g} minutes", "time")
    return seconds


def read_line(line: str, unit: str = "°C") -> Seen:
    """One line: minute, top hose, lower hose, gauge, then words of fan and level; a dash was not read.

    Parameters
    ----------
    line : at most ``LONGEST_LINE`` characters
    unit : of a bare temperature

    Raises
    ------
    BadInput : no time, no temperature, or one that no hose has

    Source: common practice.

    >>> read_line("3:30 78 41 88 fan level down")
    Seen(t_s=210.0, top_c=78.0, lower_c=41.0, coolant_c=88.0, fan=True, level='falls')
    >>> read_line("4, 172, -", "°F").lower_c is None
    True
    """
    text = " ".join(re.sub(r"[,;](?=\s)|\t", " ", line).split())
    if len(text) > LONGEST_LINE:
        raise BadInput(f"a line is too long ({LONGEST_LINE} characters at most)", "lines")
    parts = text.split(" ", 1)
    if not parts[0]:
        raise BadInput(f"nothing was written; accepted: {ACCEPTED}", "lines")
    t_s = read_time(parts[0])
    rest = parts[1] if len(parts) > 1 else ""
    words = re.search(r"\b(?:fan|level|on|off)\b.*$", rest, re.IGNORECASE)
    figures = _FIGURE.findall(rest[: words.start()] if words else rest)[:4]
    if len(figures) > 3:
        raise BadInput("more than three temperatures; accepted: top hose, lower hose, gauge", "lines")
    hoses = [_temperature(one, unit) for one in figures] + [None] * (3 - len(figures))
    if all(one is None for one in hoses):
        raise BadInput(f"no temperature in “{text[:40]}”; accepted: {ACCEPTED}", "lines")
    said = words[0].lower() if words else ""
    return Seen(t_s=t_s, top_c=hoses[0], lower_c=hoses[1], coolant_c=hoses[2], fan=_fan(said), level=_level(said))


def _temperature(text: str, unit: str) -> float | None:
    if text in ("-", "−", "–", "?"):
        return None
    value = parse_quantity(text.replace("−", "-"), "temperature", unit).value
    limit = LIMITS["hose_c"]
    if not math.isfinite(value) or not limit.holds(value):
        raise BadInput(f"“{text}” is no temperature of a hose; accepted: {limit.accepted}", "lines")
    return value


def _fan(words: str) -> bool | None:
    if "fan" not in words:
        return None
    return re.search(r"fan\s+off", words) is None


def _level(words: str) -> str:
    return next((said for word, said in LEVELS.items() if word in words), "")


def in_order(rows: Sequence[Seen]) -> tuple[Seen, ...]:
    """Readings of one run by their time; of two of one time the later one counts.

    Parameters
    ----------
    rows : 1 to ``MOST_ROWS`` readings, in the order in which they were typed

    Raises
    ------
    BadInput : too many

    Source: common practice.

    >>> [one.top_c for one in in_order([Seen(t_s=60, top_c=40), Seen(t_s=0, top_c=20), Seen(t_s=60, top_c=45)])]
    [20, 45]
    """
    if len(rows) > MOST_ROWS:
        raise BadInput(f"accepted: up to {MOST_ROWS} readings of one run", "lines")
    return tuple(sorted({row.t_s: row for row in rows}.values(), key=lambda row: row.t_s))
