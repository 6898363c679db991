"""Threads as people write them."""

from __future__ import annotations

import re
from dataclasses import dataclass

from rimcore.quantities.errors import BadInput
from rimcore.quantities.limits import LONGEST_TEXT


@dataclass(frozen=True)
class Thread:
    """A metric thread: nominal diameter and pitch [mm]."""

    diameter_mm: float
    pitch_mm: float

    def __str__(self) -> str:
        return f"M{self.diameter_mm:g}×{self.pitch_mm:g}"


_INCH_THREAD = re.compile(r"^(\d+)/(\d+)\s*(?:IN|\")?\s*[-X]?\s*(\d+)(?:\s*(?:UNF|UNC|TPI))?$")


_METRIC_THREAD = re.compile(r"^M\s*(\d+(?:\.\d+)?)\s*[X*-]\s*(\d+(?:\.\d+)?)$")


def same_thread(one: Thread, other: Thread) -> bool:
    """Do diameter and pitch agree? Another pitch of the same diameter strips.

    >>> same_thread(parse_thread("M14x1.5"), parse_thread("M14x2")), same_thread(parse_thread("1/2-20"), parse_thread("1/2-20"))
    (False, True)
    """
    return (round(one.diameter_mm, 2), round(one.pitch_mm, 3)) == (
        round(other.diameter_mm, 2),
        round(other.pitch_mm, 3),
    )


def parse_thread(text: str) -> Thread:
    """Read a thread: ``M14x1.5``, ``1/2-20``.

    >>> parse_thread("M12 x 1.5").pitch_mm
    1.5
    """
    accepted = "M12x1.5, M14x1.5 or 1/2-20"
    if len(str(text)) > LONGEST_TEXT:
        raise BadInput(f"too long for a thread; accepted: {accepted}", "thread")
    folded = " ".join(str(text).split()).upper().replace("×", "X").replace(",", ".")
    metric = _METRIC_THREAD.match(folded)
    if metric:
        thread = Thread(float(metric[1]), float(metric[2]))
    else:
        inch = _INCH_THREAD.match(folded)
        if inch is None or int(inch[2]) == 0 or int(inch[3]) == 0:
            raise BadInput(f"“{text}” is not a thread; accepted: {accepted}", "thread")
        thread = Thread(int(inch[1]) / int(inch[2]) * 25.4, 25.4 / int(inch[3]))
    if not (4 <= thread.diameter_mm <= 40 and 0.5 <= thread.pitch_mm <= 4 and thread.pitch_mm < thread.diameter_mm / 2):
        raise BadInput(f"“{text}” is not a wheel thread; accepted: {accepted}", "thread")
    return thread
