"""The command line of the core: ``calc``, ``calc NAME``, ``--help``, ``--many``."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Sequence
from typing import Any, TextIO

from rimcore.quantities.contract import DEEPEST, Calculation, help_text
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.registry import CALCULATIONS

BAD_INPUT = 2


def main(arguments: Sequence[str], stdin: TextIO, stdout: TextIO) -> int:
    """Run the command line; the exit status is 0, or 2 for bad input."""
    names = [word for word in arguments if not word.startswith("-")]
    flags = {word for word in arguments if word.startswith("-")}
    if not names:
        return _list(stdout)
    calculation = CALCULATIONS.get(names[0])
    unknown = flags - {"--help", "-h", "--many"}
    if calculation is None or len(names) > 1 or unknown:
        what = (
            f"no calculation “{names[0]}”"
            if calculation is None
            else f"unknown: {' '.join([*names[1:], *sorted(unknown)])}"
        )
        _print(stdout, _error(BadInput(f"{what}; accepted: {', '.join(CALCULATIONS)}, with --help or --many", "name")))
        return BAD_INPUT
    if flags & {"--help", "-h"}:
        stdout.write(help_text(calculation) + "\n")
        return 0
    return _many(calculation, stdin, stdout) if "--many" in flags else _one(calculation, stdin, stdout)


def answer(calculation: Calculation, text: str) -> tuple[dict[str, Any], bool]:
    """Answer one JSON text: the object to print, and whether it is an answer.

    >>> answer(CALCULATIONS["tyre"], "nonsense")[1]
    False
    """
    try:
        return calculation.answer(_load(text)), True
    except CoreError as error:
        return _error(error), False


def _load(text: str) -> Any:
    try:
        return json.loads(text, object_pairs_hook=_no_twice)
    except RecursionError as error:
        raise BadInput(f"nested too deeply; accepted: {DEEPEST} levels at most") from error
    except CoreError:
        raise
    except ValueError as error:
        raise BadInput(f"not JSON: {error}; accepted: one JSON object") from error


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in pairs:
        if name in found:
            raise BadInput("is given twice; accepted: once", ascii(name)[1:-1] if not name.isprintable() else name)
        found[name] = value
    return found


def _list(stdout: TextIO) -> int:
    width = max(len(name) for name in CALCULATIONS)
    for one in CALCULATIONS.values():
        stdout.write(f"{one.name:<{width}}  {one.line}; {one.source}\n")
    return 0


def _one(calculation: Calculation, stdin: TextIO, stdout: TextIO) -> int:
    try:
        text = stdin.read()
    except UnicodeDecodeError:
        _print(stdout, _error(BadInput("not UTF-8; accepted: one JSON object in UTF-8")))
        return BAD_INPUT
    found, good = answer(calculation, text)
    _print(stdout, found)
    return 0 if good else BAD_INPUT


def _many(calculation: Calculation, stdin: TextIO, stdout: TextIO) -> int:
    for line in getattr(stdin, "buffer", stdin):
        text = line.decode("utf-8", "replace") if isinstance(line, bytes) else line
        if text.strip():
            _print(stdout, answer(calculation, text)[0])
    return 0


def _error(error: CoreError) -> dict[str, Any]:
    return {"error": {"field": error.field, "message": error.message}}


def _print(stdout: TextIO, found: dict[str, Any]) -> None:
    stdout.write(json.dumps(found, ensure_ascii=False, allow_nan=False) + "\n")


if __name__ == "__main__":
    sys.stdin.reconfigure(encoding="utf-8")  # type: ignore[union-attr]
    # What a solver's own library says on the way goes to standard error: standard output holds answers alone.
    answers = os.fdopen(os.dup(1), "w", encoding="utf-8", closefd=True)
    os.dup2(2, 1)
    try:
        status = main(sys.argv[1:], sys.stdin, answers)
        answers.flush()
        sys.exit(status)
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)
