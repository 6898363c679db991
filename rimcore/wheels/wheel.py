"""Wheels: reading a specification, and where their lips stand."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from rimcore.limits import LIMITS
from rimcore.quantities.errors import BadInput

MM_PER_IN = 25.4
#: both flanges together add an inch to the nominal (bead seat) width (common practice)
FLANGES_MM = 25.4

ACCEPTED = "18x9.5 +22 5x114.3 73.1, 18 x 9½ ET22 or 9.5Jx18 ET22 5/114.3"

#: field -> (lowest, highest, unit) accepted
FIELDS = ("diameter_in", "width_in", "offset_mm", "bolts", "pcd_mm", "bore_mm")


@dataclass(frozen=True)
class Wheel:
    """A wheel's numbers; what was not stated is None."""

    diameter_in: float
    width_in: float
    offset_mm: float | None = None
    bolts: int | None = None
    pcd_mm: float | None = None
    bore_mm: float | None = None

    def __post_init__(self) -> None:
        for field in FIELDS:
            value = getattr(self, field)
            if value is not None and not LIMITS[field].holds(value):
                label = field.rsplit("_", 1)[0].replace("_", " ")
                raise BadInput(f"{label} {value:g} is out of range; accepted: {LIMITS[field].accepted}", field)
        if self.width_in > self.diameter_in:
            raise BadInput("the width can't be more than the diameter; write 18x9.5 or 9.5Jx18", "width_in")

    @property
    def flange_width_mm(self) -> float:
        return self.width_in * MM_PER_IN + FLANGES_MM

    @property
    def backspacing_mm(self) -> float | None:
        return None if self.offset_mm is None else self.flange_width_mm / 2 + self.offset_mm

    @property
    def outer_lip_mm(self) -> float | None:
        return None if self.offset_mm is None else self.flange_width_mm / 2 - self.offset_mm

    @property
    def inner_lip_mm(self) -> float | None:
        return None if self.backspacing_mm is None else -self.backspacing_mm

    @property
    def size_text(self) -> str:
        """Diameter, width and offset as shown: 17×8½ would be 17×8.5 +30."""
        offset = "" if self.offset_mm is None else f" {self.offset_mm:+g}".replace("-", "−")
        return f"{self.diameter_in:g}×{self.width_in:g}{offset}"

    @property
    def spec(self) -> str:
        """The wheel written on one line, as :func:`parse_wheel` reads it."""
        parts = [f"{self.diameter_in:g}x{self.width_in:g}"]
        if self.offset_mm is not None:
            parts.append(f"{self.offset_mm:+g}")
        if self.bolts is not None and self.pcd_mm is not None:
            parts.append(f"{self.bolts}x{self.pcd_mm:g}")
        if self.bore_mm is not None:
            parts.append(f"{self.bore_mm:g}")
        return " ".join(parts)


def offset_from_backspacing_mm(width_in: float, backspacing_mm: float) -> float:
    """Offset of a wheel measured with a straight-edge across the inner lip [mm].

    Parameters
    ----------
    width_in : nominal width between the bead seats [in]
    backspacing_mm : straight-edge on the inner lip to the mounting face [mm]

    Examples
    --------
    >>> round(offset_from_backspacing_mm(9.5, 155.35), 2)
    22.0
    """
    return backspacing_mm - (width_in * MM_PER_IN + FLANGES_MM) / 2


_FRACTIONS = {"½": ".5", "¼": ".25", "¾": ".75", "⅛": ".125", "⅜": ".375", "⅝": ".625", "⅞": ".875"}
_NUM = r"\d+(?:\.\d+)?"
_OFFSET = re.compile(
    rf"(?:\b(?:ET|OFFSET|IS)\s*:?\s*(?P<et>[+-]?\s*{_NUM})|(?<![\dA-Z.])(?P<signed>[+-]\s*{_NUM}))(?:\s*MM)?(?![\d.X/*])"
)
_GLUED = re.compile(rf"(?P<head>{_NUM}J*\s*X\s*{_NUM}J*)\s*(?P<sign>[+-])(?=\d)")
_BORE = re.compile(rf"(?:\b(?:CB|BORE|DIA)\s*:?\s*|[ØΦ⌀]\s*)(?P<bore>{_NUM})(?:\s*MM)?")
_PAIR = re.compile(rf"(?<![\d.])(?P<a>{_NUM})\s*(?P<ja>J*)\s*(?P<by>[X/*-])\s*(?P<b>{_NUM})\s*(?P<jb>J*)(?![\d.])")
_DENOMINATORS = ("2", "4", "8", "16")
_FRACTION = re.compile(r"(?<![\d.])(?P<whole>\d+)(?:\s+|\s*-\s*)(?P<top>\d{1,2})/(?P<bottom>2|4|8|16)(?![\d.])")
_BARE = re.compile(rf"(?<![\d.])(?P<bare>{_NUM})(?:\s*MM)?(?![\d.])")


def same_rim(one_in: Any, other_in: Any) -> Any:
    """Does a tyre for one rim diameter [in] go on the other? Numbers or arrays; sizes are told apart to a hundredth.

    Source: none; a comparison of sizes.

    Parameters
    ----------
    one_in : rim diameter, a number or any shape [in]
    other_in : as ``one_in`` broadcasts [in]

    >>> same_rim(17.0, 17), same_rim(16.5, 16)
    (True, False)
    """
    return abs(one_in - other_in) < 0.01


@lru_cache(maxsize=2048)
def parse_wheel(text: str) -> Wheel:
    """Read a wheel specification, in any order and case.

    Parameters
    ----------
    text : diameter and width are needed; offset (``+22``, ``ET22``), bolt pattern (``5x114.3``) and
        centre bore (``73.1``) may be missing and stay None

    Raises
    ------
    BadInput : the words that could not be read, a value said twice, or one out of range

    Examples
    --------
    >>> parse_wheel("9.5Jx18 ET22 5/114.3").outer_lip_mm
    111.35
    """
    if not isinstance(text, str) or not text.strip():
        raise BadInput(f"no wheel was written; accepted: {ACCEPTED}", "spec")
    if len(text) > 120:
        raise BadInput(f"too long for a wheel; accepted: {ACCEPTED}", "spec")
    folded = _fold(text)
    rest, offset = _take_offset(folded, text)
    rest, bore = _take_bore(rest, text)
    rest, size, pattern = _take_pairs(rest, text)
    if offset is None:
        _refuse_lone_number(rest, folded, text)
    rest, bore = _take_bare(rest, bore, text)
    left = re.sub(r"\b(?:INCH|IN|MM|PCD|ALLOY|WHEEL|H2)\b|[\s,;@\"]+", " ", rest).strip()
    if left:
        raise BadInput(f"“{left.lower()}” in “{text.strip()}” can't be read; accepted: {ACCEPTED}", "spec")
    if size is None:
        raise BadInput(f"no diameter × width in “{text.strip()}”; accepted: {ACCEPTED}", "spec")
    bolts, pcd = pattern if pattern else (None, None)
    return Wheel(size[0], size[1], offset, bolts, pcd, bore)


def _fold(text: str) -> str:
    folded = text.strip().upper()
    for sign in "−–—":
        folded = folded.replace(sign, "-")
    folded = folded.replace("×", "X").replace("″", '"').replace("”", '"')
    for glyph, decimal in _FRACTIONS.items():
        folded = re.sub(rf"(\d)\s*{glyph}", rf"\g<1>{decimal}", folded)
    folded = re.sub(r"(\d),(\d)", r"\1.\2", folded)
    folded = _FRACTION.sub(_decimal, folded)
    folded = re.sub(rf'({_NUM})\s*(?:"|\bIN\b|INCH)', r"\1 ", folded)
    return _GLUED.sub(r"\g<head> \g<sign>", folded)


def _decimal(match: re.Match[str]) -> str:
    """A whole number with a fraction of an inch after it, as a decimal; one that is none stays and is refused later."""
    top, bottom = int(match["top"]), int(match["bottom"])
    return match.group(0) if top >= bottom else f"{int(match['whole']) + top / bottom:g}"


def _refuse_lone_number(rest: str, folded: str, text: str) -> None:
    """Without a stated offset a number right after the size may be an offset or a bore.

    >>> parse_wheel("18x9 5x114.3 73.1").bore_mm
    73.1
    """
    match = _BARE.search(rest)
    if match is None:
        return
    pattern = next(
        (pair for pair in _PAIR.finditer(folded) if pair.group(0) not in rest and _is_pattern(pair, True)), None
    )
    if pattern is None or folded.find(match["bare"], 0, pattern.start()) >= 0:
        raise BadInput(
            f"“{match['bare']}” in “{text.strip()}” may be an offset or a bore; write an offset as +22 or ET22, a bore as CB 73.1",
            "spec",
        )


def _take_offset(rest: str, text: str) -> tuple[str, float | None]:
    found = list(_OFFSET.finditer(rest))
    if len(found) > 1:
        raise BadInput(f"more than one offset in “{text.strip()}”; write one, as +22 or ET22", "spec")
    if not found:
        return rest, None
    match = found[0]
    number = (match["et"] or match["signed"]).replace(" ", "")
    return rest[: match.start()] + " " + rest[match.end() :], float(number)


def _take_bore(rest: str, text: str) -> tuple[str, float | None]:
    match = _BORE.search(rest)
    if match is None:
        return rest, None
    return rest[: match.start()] + " " + rest[match.end() :], float(match["bore"])


def _take_pairs(rest: str, text: str) -> tuple[str, tuple[float, float] | None, tuple[int, float] | None]:
    size: tuple[float, float] | None = None
    pattern: tuple[int, float] | None = None
    pairs = list(_PAIR.finditer(rest))
    large = [match for match in pairs if max(float(match["a"]), float(match["b"])) > 10]
    for match in pairs:
        first, second = float(match["a"]), float(match["b"])
        if _is_pattern(match, any(other is not match for other in large)):
            if pattern is not None:
                raise BadInput(f"more than one bolt pattern in “{text.strip()}”; write the one that counts", "spec")
            pattern = (int(first), second if second >= 20 else second * MM_PER_IN)
        elif match["by"] == "X" or match["by"] == "*":
            if size is not None:
                raise BadInput(f"more than one size in “{text.strip()}”; write one wheel", "spec")
            size = _diameter_and_width(first, second, bool(match["ja"]))
        else:
            continue
        rest = rest.replace(match.group(0), " ", 1)
    return rest, size, pattern


def _is_pattern(match: re.Match[str], have_size: bool) -> bool:
    first, second = float(match["a"]), float(match["b"])
    if match["ja"] or match["jb"] or first != int(first) or not 3 <= first <= 10:
        return False
    if match["by"] == "/" and first < second and match["b"] in _DENOMINATORS:
        # A fraction of an inch that stands where none can be read.
        return False
    return second >= 60 or (have_size and 3.5 <= second <= 12)


def _diameter_and_width(first: float, second: float, width_first: bool) -> tuple[float, float]:
    if width_first or second > first:
        return second, first
    return first, second


def _take_bare(rest: str, bore: float | None, text: str) -> tuple[str, float | None]:
    for match in list(_BARE.finditer(rest)):
        value = float(match["bare"])
        if value < 40 or bore is not None:
            raise BadInput(
                f"“{match['bare']}” in “{text.strip()}” is unclear; write the offset as +22 or ET22 and the bore as 73.1",
                "spec",
            )
        bore = value
        rest = rest.replace(match.group(0), " ", 1)
    return rest, bore
