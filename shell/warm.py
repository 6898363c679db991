"""Work that would else fall to a visitor: done before a serving process answers, or between two answers."""

from __future__ import annotations

import ctypes
import gc
import os
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.signals import request_finished
from django.template.loader import get_template
from django.urls import get_resolver

from rimcore.planning.first import first_walk
from rimcore.quantities.units import convert
from rimcore.ride.first import first_way

#: answers between two full collections of what is not used any more
BETWEEN = 500


def our_templates() -> list[str]:
    """Names of the product's own templates."""
    ours = [Path(app.path) for app in apps.get_app_configs() if Path(app.path).is_relative_to(settings.BASE_DIR)]
    rooms = [room for app in ours if ".venv" not in app.parts for room in app.glob("**/templates") if room.is_dir()]
    return sorted(
        str(path.relative_to(room)) for room in rooms for path in room.rglob("*.html") if ".venv" not in path.parts
    )


def compile_templates() -> int:
    """Compile every template of the product once; the loader keeps them. Gives their number."""
    names = our_templates()
    for name in names:
        get_template(name)
    return len(names)


def warm() -> None:
    """Templates compiled, addresses and what answers them loaded, units read, the ways of plans and links loaded.

    What is loaded by now is left out of every later collection.
    """
    compile_templates()
    _ = get_resolver().url_patterns
    convert(25.4, "length", "in")
    first_walk()
    first_way()
    gc.collect()
    gc.freeze()
    # The judgements that are kept are many objects: walking them all takes as long as a page, so it is done between
    # answers.
    gc.set_threshold(700, 10, 1_000_000)


def tidy_up() -> None:
    """What is not used any more is collected, and what is free goes back to the system where its library can."""
    gc.collect()
    trim = getattr(_c_library(), "malloc_trim", None)
    if trim is not None:
        trim(0)


def now_mb() -> float:
    """Memory of this process as it is now; 0 where the system doesn't say [MB]."""
    try:
        pages = int(Path("/proc/self/statm").read_text().split()[1])
        return pages * os.sysconf("SC_PAGE_SIZE") / 1024**2
    except (OSError, ValueError, AttributeError):
        return 0.0


@cache
def _c_library() -> ctypes.CDLL | None:
    """The C library that this process runs on; None where there is none to ask."""
    try:
        return ctypes.CDLL(None)
    except (OSError, TypeError):
        return None


class Between:
    """Collects what is not used any more, every so many answers, once the answer is out."""

    def __init__(self, every: int = BETWEEN) -> None:
        self.every, self.count = every, 0
        #: what is done after it, of a process that serves
        self.afterwards: Callable[[], None] | None = None

    def answered(self, **_: Any) -> None:
        self.count += 1
        if self.count >= self.every:
            self.count = 0
            tidy_up()
            if self.afterwards is not None:
                self.afterwards()


#: of this process
between = Between()


def collect_between_answers() -> None:
    """From now on in this process."""
    request_finished.connect(between.answered, dispatch_uid="collect between answers")
