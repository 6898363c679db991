"""What a bench declares of itself for the pages; each bench's ``declared.py`` holds one of these."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from garage.file import CarFile
from rimcore.quantities.declared import Bench
from rimcore.quantities.judgement import Judgement


@dataclass(frozen=True, kw_only=True)
class Face:
    """A bench on the pages: its name and figures, the address at which it opens, what begins it, what it judges."""

    bench: Bench
    address: str
    #: has anybody read or written down something of a car that this bench judges?
    begun: Callable[[CarFile], bool]
    #: what it judges of the build in hand
    judge: Callable[[CarFile], Iterable[Judgement]]
    #: these are the gaps and parts that a build is judged by itself
    of_build: bool = False
