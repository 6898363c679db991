"""Kits: one line with one price and one weight, and the pieces in it, each of its own family."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Kit:
    """What shops sell as one: how it is called, and the families of its pieces where the line names none."""

    key: str
    name: str
    #: how a line calls it
    called: re.Pattern[str]
    families: tuple[str, ...]


def _kit(key: str, name: str, called: str, *families: str) -> Kit:
    return Kit(key, name, re.compile(rf"\b(?:{called})\b", re.IGNORECASE), families)


#: what is usually in a box (common practice)
KITS: tuple[Kit, ...] = (
    _kit("coilover", "coilover kit", r"coilovers?\s+(?:kit|set|suspension\s+kit)", "damper", "spring", "top_mount"),
    _kit("lift", "lift kit", r"lift(?:ing)?\s+kit", "leaf_pack", "u_bolt", "damper"),
    _kit("cat_back", "cat-back", r"cat[-\s]?back(?:\s+(?:exhaust|system|kit))?", "mid_pipe", "silencer", "tail_tip"),
    _kit("brake", "big brake kit", r"(?:big\s+)?brake\s+kit", "caliper", "rotor", "brake_pads", "hose"),
    _kit("bush", "bush set", r"(?:polyurethane\s+|poly\s+)?bush(?:ing|es|ings)?\s+(?:kit|set)(?!\s+of)", "bush"),
    _kit("body", "body kit", r"body\s*kit", "splitter", "wing"),
)


def kit_of(text: str) -> tuple[Kit, str] | None:
    """The kit that a line is of, and the line without its word; None where it is none.

    >>> kit, rest = kit_of("Varnholt big brake kit: calipers face 31 mm + pads track")
    >>> kit.key, rest
    ('brake', 'Varnholt : calipers face 31 mm + pads track')
    >>> kit_of("brake pads track") is None
    True
    """
    for kit in KITS:
        hit = kit.called.search(text)
        if hit is not None:
            return kit, f"{text[: hit.start()].strip()} {text[hit.end() :].strip()}".strip()
    return None


def pieces_of(kit: Kit, rest: str, read: Callable[[str, str], Any]) -> tuple[str, tuple[Any, ...]]:
    """Name of a kit and its pieces: those behind a colon, parted by plus signs; else the usual ones.

    Parameters
    ----------
    kit : as declared
    rest : the line without price, weight and the kit's own word
    read : reads one piece as a line, and the family it is of where it names none

    >>> kit, rest = kit_of("Varnholt big brake kit: calipers + pads track")
    >>> pieces_of(kit, rest, lambda text, family: (text, family))
    ('Varnholt', (('calipers', ''), ('pads track', '')))
    """
    before, colon, after = rest.partition(":")
    name = " ".join(before.replace(",", " ").split())
    if colon:
        parts = [part.strip(" ,;") for part in re.split(r"\s+\+\s+|;", after) if part.strip(" ,;")]
        if parts:
            return name, tuple(read(part, "") for part in parts)
    first = read(name, kit.families[0])
    return "", (first, *(read("", family) for family in kit.families[1:]))


def told(pieces: Mapping[str, str] | list[str]) -> str:
    """What is in a kit, in words.

    >>> told(["Dampers", "Springs"])
    'in the kit: dampers, springs'
    """
    return f"in the kit: {', '.join(name.lower() for name in pieces)}"
