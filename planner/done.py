"""What was done of builds: hours clocked, money lost, cures decided.

The workshop says it; the planner knows no sheets itself.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from garage.file import CarFile
from rimcore.planning.cures import Cure
from rimcore.planning.factor import Past


@dataclass(frozen=True)
class Done:
    """By the number of the build.

    ``clocked_open`` counts sheets that are not finished; ``lost`` is in minor units, less what was sold.
    """

    clocked: Mapping[int, float] = field(default_factory=dict)
    clocked_open: Mapping[int, float] = field(default_factory=dict)
    lost: Mapping[int, int] = field(default_factory=dict)
    cures: Mapping[int, list[Cure]] = field(default_factory=dict)
    #: modules of open sheets that are done, with the day, by build
    modules: Mapping[int, Mapping[str, date]] = field(default_factory=dict)
    #: jobs that were clocked and closed, against what was written
    past: tuple[Past, ...] = ()
    #: title of each of them, in the same order
    jobs: tuple[str, ...] = ()
    #: what comes due after a job: number, what, day
    due: tuple[tuple[int, str, date], ...] = ()
    #: money lost on each snag so far [minor units], for what may still come
    snags: tuple[int, ...] = ()


_given: list[Callable[[CarFile], Done]] = [lambda file: Done()]
#: who opens a snag: (choice, what was seen, day) -> was one opened?
Opens = Callable[[Any, str, date], bool]
_opens: list[Opens] = [lambda choice, what, on: False]


def give(done: Callable[[CarFile], Done], opens: Opens) -> None:
    """Say, once at the start, who knows what was done, and who opens a snag."""
    _given[:] = [done]
    _opens[:] = [opens]


def open_snag(choice: Any, what: str, on: date) -> bool:
    """Open a snag for a part of a build on its newest sheet that is not finished; False where there is none."""
    return _opens[0](choice, what, on)


def done_of(file: CarFile) -> Done:
    """What was done of a car's builds."""
    return _given[0](file)
