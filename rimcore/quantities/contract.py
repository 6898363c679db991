"""Declarations of a calculation's input and output: one place for validation and for ``--help``."""

from __future__ import annotations

import difflib
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from rimcore.limits import LIMITS
from rimcore.quantities.errors import BadInput, CoreError

#: largest magnitude of any number that is read
LARGEST = 1e9
#: deepest nesting of an input
DEEPEST = 100
#: longest text of a key that says no other length
LONGEST = 200
#: longest id
LONGEST_ID = 80


@dataclass(frozen=True)
class Key:
    """One key of an object.

    ``kind`` is ``number``, ``integer``, ``text``, ``boolean``, ``choice``, ``object``, ``list`` or
    ``any`` (``read`` decides). ``read`` turns a checked value into what the calculation wants.
    """

    name: str
    kind: str
    meaning: str
    unit: str = ""
    low: float | None = None
    high: float | None = None
    required: bool = False
    default: Any = None
    choices: tuple[str, ...] = ()
    keys: tuple[Key, ...] = ()
    item: Key | None = None
    most: int = 100_000
    longest: int = LONGEST
    read: Callable[[Any], Any] | None = None


def number_key(
    name: str, meaning: str, unit: str = "mm", low: float | None = None, high: float | None = None, **more: Any
) -> Key:
    """A number with its unit and range.

    Source: the command line's own contract.

    Parameters
    ----------
    name : of the key
    meaning : what it is, in words
    unit : of the number; empty without
    low : least that is accepted; None without
    high : most that is accepted; None without
    """
    return Key(name, "number", meaning, unit, low, high, **more)


def limited_key(name: str, meaning: str, limit: str = "", **more: Any) -> Key:
    """A number that holds to one of the set of limits, its own name's unless another is said.

    >>> limited_key("spacer_mm", "spacer between hub and wheel").high
    200
    """
    span = LIMITS[limit or name]
    return Key(name, "number", meaning, span.unit, *span.span, **more)


def id_key(name: str = "id", **more: Any) -> Key:
    """An id: a text of 1 to 80 characters.

    >>> check_value("fit", id_key(), "id")
    'fit'
    """

    def read(text: str) -> str:
        if not 1 <= len(text) <= LONGEST_ID:
            raise BadInput(f"accepted: a text of 1 to {LONGEST_ID} characters")
        return text

    return Key(name, "text", f"a text of 1 to {LONGEST_ID} characters", read=read, **more)


@dataclass(frozen=True)
class Calculation:
    """A named calculation: what goes in, what comes out, where it comes from."""

    name: str
    line: str
    source: str
    inputs: tuple[Key, ...]
    outputs: tuple[Key, ...]
    run: Callable[[dict[str, Any]], dict[str, Any]] = field(repr=False)

    def answer(self, given: Any) -> dict[str, Any]:
        """Validate, compute, and make sure that no figure in the answer is NaN or infinite.

        Raises
        ------
        BadInput : with the dotted path of the field
        """
        refuse_hostile(given)
        answer: dict[str, Any] = tidy(self.run(check_object(given, self.inputs, "")))
        return answer


def check_object(given: Any, keys: tuple[Key, ...], path: str) -> dict[str, Any]:
    """Check an object against its keys; every declared key is in the result.

    Source: the command line's own contract.

    Parameters
    ----------
    given : any JSON value
    keys : that the object may have
    path : dotted, of the object itself

    >>> check_object({"a_mm": 3}, (Key("a_mm", "number", "a"),), "")
    {'a_mm': 3.0}
    """
    if not isinstance(given, Mapping):
        raise BadInput(f"must be an object with the keys {_names(keys)}", path)
    known = {key.name: key for key in keys}
    for name in given:
        if name not in known:
            raise BadInput(
                f"unknown key{_suggestion(str(name), known)}; accepted: {_names(keys)}",
                _join(path, str(name)[:LONGEST]),
            )
    return {key.name: check_value(given.get(key.name), key, _join(path, key.name)) for key in keys}


def check_value(value: Any, key: Key, path: str) -> Any:
    """Check one value; null counts as absent.

    Source: the command line's own contract.

    Parameters
    ----------
    value : any JSON value
    key : what is accepted
    path : dotted, of the value

    >>> check_value(None, Key("spacer_mm", "number", "", default=0.0), "spacer_mm")
    0.0
    """
    if value is None:
        if key.required:
            raise BadInput(f"is missing; accepted: {_accepted(key)}", path)
        return key.default
    checked = _CHECKS[key.kind](value, key, path)
    if key.read is None:
        return checked
    try:
        return key.read(checked)
    except CoreError as error:
        if key.kind == "text":
            raise BadInput(error.message, path) from error
        raise error.under(path) from error


def refuse_hostile(given: Any) -> None:
    """Refuse what no calculation can use, anywhere in the input: NaN and infinity, broken Unicode, too deep a nesting.

    Walks without recursion, in time linear in the size of the input.

    Source: RFC 8259 (no NaN), and a bound on depth of this program.

    Parameters
    ----------
    given : any JSON value

    >>> refuse_hostile({"a": [1.0, "text"]})
    """
    waiting: list[tuple[Any, str, int]] = [(given, "", 0)]
    while waiting:
        value, path, depth = waiting.pop()
        if depth > DEEPEST:
            raise BadInput(f"nested too deeply; accepted: {DEEPEST} levels at most")
        if isinstance(value, float) and not math.isfinite(value):
            raise BadInput("must be a finite number", path)
        if isinstance(value, str) and not _is_unicode(value):
            raise BadInput("is not valid Unicode; accepted: text without lone surrogates", path)
        if isinstance(value, Mapping):
            for name, inner in value.items():
                if not _is_unicode(str(name)):
                    raise BadInput("a key is not valid Unicode; accepted: text without lone surrogates", path)
                waiting.append((inner, _join(path, str(name)), depth + 1))
        elif isinstance(value, list):
            waiting += [(inner, _join(path, str(place)), depth + 1) for place, inner in enumerate(value)]


def _is_unicode(text: str) -> bool:
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        return False
    return True


def tidy(value: Any) -> Any:
    """Numbers rounded to 9 places for printing; refuses what is not finite.

    Source: the command line's own contract.

    Parameters
    ----------
    value : any JSON value

    >>> tidy({"a": 0.1 + 0.2})
    {'a': 0.3}
    """
    if isinstance(value, bool) or value is None or isinstance(value, (int, str)):
        return value
    if isinstance(value, float):
        if not math.isfinite(value):
            raise BadInput("these numbers lead to a result that is not finite; check their size")
        return round(value, 9) + 0.0
    if isinstance(value, Mapping):
        return {name: tidy(inner) for name, inner in value.items()}
    return [tidy(inner) for inner in value]


def help_text(calculation: Calculation) -> str:
    """Input and output keys with units and meanings."""
    lines = [f"{calculation.name}: {calculation.line}", f"source: {calculation.source}", "", "input"]
    lines += _help_rows(calculation.inputs, 1)
    lines += ["", "output"] + _help_rows(calculation.outputs, 1)
    return "\n".join(lines)


def _help_rows(keys: tuple[Key, ...], depth: int) -> list[str]:
    rows = []
    for key in keys:
        unit = f" [{key.unit}]" if key.unit else ""
        note = " (required)" if key.required else ""
        if key.default is not None:
            note = f" (default {key.default})"
        limits = "" if key.low is None and key.high is None else f", {_range(key)}"
        choices = f", one of {' '.join(key.choices)}" if key.choices else ""
        rows.append(f"{'  ' * depth}{key.name}  {key.kind}{unit}{limits}{choices}{note}: {key.meaning}")
        inner = key.keys or (key.item.keys if key.item else ())
        rows += _help_rows(inner, depth + 1)
    return rows


def _number(value: Any, key: Key, path: str) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise BadInput(f"must be a number; accepted: {_accepted(key)}", path)
    low = key.low if key.low is not None else -LARGEST
    high = key.high if key.high is not None else LARGEST
    if not low <= value <= high:
        raise BadInput(
            f"{_short(value)} is out of range; accepted: {_range(key)}{' ' + key.unit if key.unit else ''}", path
        )
    return float(value)


def _integer(value: Any, key: Key, path: str) -> int:
    number = _number(value, key, path)
    if number != int(number):
        raise BadInput(f"must be a whole number; accepted: {_accepted(key)}", path)
    return int(number)


def _text(value: Any, key: Key, path: str) -> str:
    if not isinstance(value, str):
        raise BadInput(f"must be text; accepted: {_accepted(key)}", path)
    if len(value) > key.longest:
        raise BadInput(f"has {len(value)} characters; accepted: {key.longest} at most", path)
    return value


def _boolean(value: Any, key: Key, path: str) -> bool:
    if not isinstance(value, bool):
        raise BadInput("must be true or false", path)
    return value


def _choice(value: Any, key: Key, path: str) -> str:
    if not isinstance(value, str) or value not in key.choices:
        raise BadInput(f"must be one of {', '.join(key.choices)}", path)
    return value


def _object(value: Any, key: Key, path: str) -> dict[str, Any]:
    return check_object(value, key.keys, path)


def _list(value: Any, key: Key, path: str) -> list[Any]:
    if not isinstance(value, list) or key.item is None:
        raise BadInput(f"must be a list; accepted: {_accepted(key)}", path)
    if len(value) > key.most:
        raise BadInput(f"has {len(value)} items; accepted: {key.most} at most", path)
    return [check_value(item, key.item, _join(path, str(place))) for place, item in enumerate(value)]


def _any(value: Any, key: Key, path: str) -> Any:
    return value


_CHECKS: dict[str, Callable[[Any, Key, str], Any]] = {
    "number": _number,
    "integer": _integer,
    "text": _text,
    "boolean": _boolean,
    "choice": _choice,
    "object": _object,
    "list": _list,
    "any": _any,
}


def _accepted(key: Key) -> str:
    if key.kind in ("number", "integer"):
        whole = "a whole number" if key.kind == "integer" else "a number"
        return f"{whole} {_range(key)}{' ' + key.unit if key.unit else ''} ({key.meaning})".replace("  ", " ")
    if key.kind == "choice":
        return ", ".join(key.choices)
    return key.meaning


def _range(key: Key) -> str:
    low = key.low if key.low is not None else -LARGEST
    high = key.high if key.high is not None else LARGEST
    return f"{low:g} to {high:g}"


def _short(value: float) -> str:
    try:
        return f"{value:g}"
    except OverflowError:
        return "the number"


def _names(keys: tuple[Key, ...]) -> str:
    return ", ".join(key.name for key in keys)


def _suggestion(name: str, known: Mapping[str, Key]) -> str:
    close = difflib.get_close_matches(name, known, n=1) if len(name) <= 40 else []
    return f", did you mean {close[0]}" if close else ""


def _join(path: str, name: str) -> str:
    return f"{path}.{name}" if path else name
