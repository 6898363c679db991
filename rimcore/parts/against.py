"""Judgements of a part against what comes off for it, shared by the families of the chassis."""

from __future__ import annotations

from collections.abc import Sequence

from rimcore.parts.common import judged
from rimcore.parts.declared import Given, Place
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured

#: what goes with "write it down" where the old part is not known
OLD = ["record the one fitted now"]


def like_old(
    code: str, name: str, family: str, given: Given, place: Place, wanted: Sequence[tuple[str, str, float]]
) -> Judgement:
    """Are some things of a part as they are of the one it replaces? Not said of either is unmeasured.

    Parameters
    ----------
    wanted : (code of the specification, name in words, what lengths may differ by [mm])

    >>> from rimcore.parts.stood import Stood
    >>> from types import SimpleNamespace
    >>> here = SimpleNamespace(stood=Stood(old={"bush": {"outer_mm": 44.0}}))
    >>> like_old("x", "Bush", "bush", {"outer_mm": 45.0}, here, [("outer_mm", "outside", 0.2)]).reason
    'outside 45, the old one 44'
    """
    odd: list[str] = []
    unsaid: list[str] = []
    same: list[str] = []
    inputs = []
    for spec, words, room_mm in wanted:
        new, old = given.get(spec), place.stood.was(family, spec)
        if new in (None, "") or old in (None, ""):
            unsaid.append(f"{words} of the {'part' if new in (None, '') else 'old one'}")
            continue
        inputs += [
            InputUsed(f"{words}, part", f"{new}", "offer"),
            InputUsed(f"{words}, old one", f"{old}", "recorded"),
        ]
        alike = abs(new - old) <= room_mm + 1e-9 if isinstance(new, (int, float)) else new == old
        (same if alike else odd).append(f"{words} {_plain(new)}" + ("" if alike else f", the old one {_plain(old)}"))
    if odd:
        return judged(
            code,
            name,
            "hit",
            "; ".join(odd),
            "as the one that comes off",
            "geometry",
            inputs=tuple(inputs),
            remedies=("one made for this car", "measure both again"),
        )
    if unsaid:
        return unmeasured(code, name, f"not known: {', '.join(unsaid)}", [f"part.{family}"], OLD)
    return judged(
        code,
        name,
        "clear",
        f"as the one that comes off: {', '.join(same)}",
        "as the one that comes off",
        "geometry",
        inputs=tuple(inputs),
    )


def _plain(value: object) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)
