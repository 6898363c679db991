"""What other rooms say about a car's build. The garage asks through here and knows no builds itself."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol

from garage.chassis.ends import stood_of
from garage.file import CarFile
from garage.honest import taught
from garage.kept import once
from garage.setting import InHand, Racked
from rimcore.parts.declared import Place
from rimcore.quantities.judgement import Judgement, State, worst
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.judge import fitment
from rimcore.well.levers import Levers
from rimcore.well.read.stations import NextReading, measure_next


class Named(Protocol):
    """A build, as far as a list of buttons goes."""

    pk: int
    name: str


class BuildInHand(Protocol):
    """What the rooms above say of a car's build; the garage asks through this and knows no builds itself."""

    def setting(self, file: CarFile) -> InHand | None:
        """The build in hand; None where there is none."""
        ...

    def judgements(self, file: CarFile) -> Iterable[Judgement] | None:
        """Gaps and parts of the build in hand; None where there is none."""
        ...

    def place(self, file: CarFile, end: str) -> Place | None:
        """An end with what the build puts on it; None where there is no build."""
        ...

    def racked(self, file: CarFile) -> Racked | None:
        """How a car is judged with its rack moved forward and up [mm]; None before its links are read."""
        ...

    def beside(self, file: CarFile) -> Iterable[Judgement]:
        """What the benches judge beside gaps and parts."""
        ...

    def chooses(self, file: CarFile) -> bool:
        """Has any build a part?"""
        ...

    def builds(self, file: CarFile) -> Iterable[Named]:
        """Builds that a part can be put into."""
        ...

    def waiting(self, file: CarFile) -> Iterable[Iterable[Judgement]]:
        """What each candidate of the shortlist waits for."""
        ...


class NothingInHand:
    """No build, no benches: what the garage has by itself."""

    def setting(self, file: CarFile) -> InHand | None:
        return None

    def judgements(self, file: CarFile) -> Iterable[Judgement] | None:
        return None

    def place(self, file: CarFile, end: str) -> Place | None:
        return None

    def racked(self, file: CarFile) -> Racked | None:
        return None

    def beside(self, file: CarFile) -> Iterable[Judgement]:
        return ()

    def chooses(self, file: CarFile) -> bool:
        return False

    def builds(self, file: CarFile) -> Iterable[Named]:
        return ()

    def waiting(self, file: CarFile) -> Iterable[Iterable[Judgement]]:
        return ()


_given: list[BuildInHand] = [NothingInHand()]


def give(build: BuildInHand) -> None:
    """Say, once at the start, who knows the build in hand."""
    _given[:] = [build]


def racked_of(file: CarFile) -> Racked | None:
    """What is judged of rod and arm with the rack moved; None before the links are read."""
    return _given[0].racked(file)


def chooses(file: CarFile) -> bool:
    """Has any build of the car a part?"""
    return _given[0].chooses(file)


def builds_named(file: CarFile) -> list[Named]:
    """Builds of the car that a part can be put into."""
    return list(_given[0].builds(file))


@once
def beside(file: CarFile) -> list[Judgement]:
    """What the benches judge of the build in hand beside gaps and parts; once a page."""
    return taught(file, _given[0].beside(file))


def everything_in_hand(file: CarFile) -> list[Judgement]:
    """Gaps, parts, and what the benches judge beside them, of the build in hand."""
    return [*judgements_in_hand(file), *beside(file)]


def place_in_hand(file: CarFile, end: str) -> Place | None:
    """An end of the car with what the build in hand puts on it, else with what stands there.

    None before anything does.
    """
    found = _given[0].place(file, end)
    if found is not None:
        return found
    axle, standing = file.core_axle(end), file.standing(end)
    if axle is None or standing is None:
        return None
    return Place(axle, standing, axle.hub.bolts, stood=stood_of(file, end, in_hand(file), racked_of(file)))


def in_hand(file: CarFile) -> InHand:
    """The build in hand of a car, or a setting that changes nothing."""
    found = _given[0].setting(file)
    if found is not None:
        return found
    keeps = {}
    for end in ("F", "R"):
        axle = file.on(file.current, end)
        if axle is not None:
            keeps[end] = Levers(ride_drop_mm=axle.ride_drop_mm, corner_mm=axle.corner_mm)
    return InHand("no build", school_of(file), keeps)


@once
def judgements_in_hand(file: CarFile) -> list[Judgement]:
    """Judgements of the build in hand, else of what stands on the car; once a page."""
    return _judgements(file)


def _judgements(file: CarFile) -> list[Judgement]:
    found = _given[0].judgements(file)
    if found is not None:
        return list(found)
    return taught(file, (judgement for end in ("F", "R") for judgement in as_it_stands(file, end)))


def as_it_stands(file: CarFile, end: str) -> tuple[Judgement, ...]:
    """What stands at an end, judged with the margins of the car's use."""
    axle, candidate = file.core_axle(end), file.standing(end)
    if axle is None or candidate is None:
        return ()
    return fitment.judge(axle, candidate, file.tolerances(school_of(file))).judgements


def corner_states(file: CarFile) -> dict[str, State]:
    """State of every corner by its gaps in the build in hand."""
    found = judgements_in_hand(file)
    return {
        corner: worst(j.state for j in found if j.where == name and j.code.startswith("gap."))
        for corner, name in CORNER_NAMES.items()
        if corner
    }


def next_readings(file: CarFile) -> list[NextReading]:
    """Missing readings, ranked by what each would change in the build in hand and on the shortlist."""
    return measure_next(everything_in_hand(file), list(_given[0].waiting(file)))


def school_of(file: CarFile) -> str:
    """The school that fits the car's use."""
    return {"street": "daily", "climb": "track"}.get(file.car.use, file.car.use)
