"""A wheel and its tyre on one line, as people write them."""

from __future__ import annotations

import re

from rimcore.quantities.errors import BadInput, CoreError
from rimcore.wheels.tyre import Tyre, parse_tyre
from rimcore.wheels.wheel import Wheel, parse_wheel, same_rim

ACCEPTED = "16x6.5 +50 5x108 63.4, 205/55R16 91V"
#: longest line, and most words of it
LONGEST, MOST_WORDS = 200, 16
_LINK = frozenset({"with", "and", "on", "+"})


def parse_pair(line: str) -> tuple[Wheel, Tyre]:
    """Read a wheel and a tyre from one line, in either order; the wheel needs its offset.

    Raises
    ------
    BadInput : no wheel with an offset and no tyre can be found, or the tyre does not go on the rim

    Examples
    --------
    >>> wheel, tyre = parse_pair("16x6.5 ET50 5x108 63.4 with 205/55R16 91V")
    >>> wheel.offset_mm, wheel.bore_mm, tyre.size
    (50.0, 63.4, '205/55R16 91V')
    """
    if len(line) > LONGEST:
        raise BadInput(f"the line is too long ({LONGEST} characters at most)", "line")
    words = [word for word in re.sub(r",(?=\s|$)|[;|]", " ", line).split() if word.lower() not in _LINK]
    if len(words) > MOST_WORDS:
        raise BadInput(f"more words than a wheel and a tyre have; accepted: {ACCEPTED}", "line")
    found = next((pair for pair in map(_read, _parted(words)) if pair is not None), None)
    if found is None:
        raise BadInput(f"no wheel and tyre in it; accepted: {ACCEPTED}", "line")
    wheel, tyre = found
    if wheel.offset_mm is None:
        raise BadInput(f"the wheel's offset is missing, as +50 or ET50; accepted: {ACCEPTED}", "line")
    if not same_rim(wheel.diameter_in, tyre.rim_diameter_in):
        raise BadInput(
            f"the tyre is for a rim of {tyre.rim_diameter_in:g} in, the wheel has {wheel.diameter_in:g}", "line"
        )
    return wheel, tyre


def _parted(words: list[str]) -> list[tuple[str, str]]:
    """Every way to part the words into wheel and tyre: the wheel first, then the tyre first."""
    cuts = [(" ".join(words[:k]), " ".join(words[k:])) for k in range(1, len(words))]
    return cuts + [(later, first) for first, later in cuts]


def _read(texts: tuple[str, str]) -> tuple[Wheel, Tyre] | None:
    try:
        return parse_wheel(texts[0]), parse_tyre(texts[1])
    except CoreError:
        return None
