"""Candidates in front of the core: every pair of wheel and tyre judged against a car."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from garage.car.assemble import corner_of
from garage.car.parts import Tyre, Wheel
from garage.file import CarFile
from garage.inhand import in_hand
from garage.setting import InHand
from rimcore.quantities.judgement import InputUsed, Judgement, State, worst
from rimcore.well.judge import drags as dragging
from rimcore.well.judge import fitment
from rimcore.well.read import measured as core
from rimcore.wheels.swap import Corner, Swap, swap
from rimcore.wheels.wheel import same_rim
from rimcore.work.money import in_whole
from rimcore.work.together import latest, total
from shelf.assemble import camber_in, candidate_of

#: ends of a car a pair is judged for
ENDS = {"all": ("F", "R"), "F": ("F",), "R": ("R",)}


@dataclass(frozen=True)
class Pair:
    """A wheel with a tyre, judged on one or both ends of a car."""

    wheel: Wheel
    tyre: Tyre
    judgements: tuple[Judgement, ...]
    drags: tuple[dragging.Drag, ...]
    changes: dict[str, Swap]

    @property
    def state(self) -> State:
        return worst(judgement.state for judgement in self.judgements)

    @property
    def tightest(self) -> Judgement | None:
        return fitment.Verdict(self.judgements).tightest

    @property
    def margin_mm(self) -> float | None:
        return self.tightest.margin if self.tightest else None

    @property
    def unmeasured(self) -> int:
        return sum(judgement.state == "unmeasured" for judgement in self.judgements)

    @property
    def known(self) -> list[Judgement]:
        """What is judged, worst first."""
        return [judgement for judgement in self.judgements if judgement.state != "unmeasured"]

    @property
    def waiting(self) -> dict[str, list[str]]:
        """What nobody measured or the maker has not said: name -> where, or why."""
        found: dict[str, list[str]] = {}
        for judgement in self.judgements:
            if judgement.state == "unmeasured":
                found.setdefault(judgement.name, []).append(judgement.where or judgement.reason)
        return found

    @property
    def mass_kg(self) -> float | None:
        return total([self.wheel.mass_kg, self.tyre.mass_kg])

    @property
    def price_minor(self) -> int | None:
        """One wheel and one tyre."""
        return total([self.wheel.price_minor, self.tyre.price_minor])

    def _figure(self, name: str, unit: str, value: float | None, formula: str, said: tuple[str, str]) -> Judgement:
        inputs = tuple(
            InputUsed(
                str(row), text, f"offer, {row.supplier}" if row.supplier else "as pasted", f"{row.made_at:%-d %b %Y}"
            )
            for row, text in zip((self.wheel, self.tyre), said, strict=True)
        )
        state: State = "unmeasured" if value is None else "clear"
        return Judgement(
            "sum",
            name,
            state,
            "what the list says of both",
            "the shortlist",
            value=value,
            unit=unit,
            formula=formula,
            inputs=inputs,
        )

    @property
    def mass_figure(self) -> Judgement:
        """How the mass of a corner is known."""
        each = tuple("not known" if row.mass_kg is None else f"{row.mass_kg:g} kg" for row in (self.wheel, self.tyre))
        return self._figure("Weight of a corner", "kg", self.mass_kg, " + ".join(each), (each[0], each[1]))

    @property
    def price_figure(self) -> Judgement:
        """How the price of a corner is known."""
        each = tuple(
            "not known" if row.price_minor is None else f"{in_whole(row.price_minor):.2f}"
            for row in (self.wheel, self.tyre)
        )
        value = None if self.price_minor is None else in_whole(self.price_minor)
        return self._figure("Price of a corner", "", value, " + ".join(each), (each[0], each[1]))

    @property
    def lead_figure(self) -> Judgement:
        """How the lead time is known: the longer of both."""
        each = tuple(
            "not known" if row.lead_days is None else f"{row.lead_days} days" for row in (self.wheel, self.tyre)
        )
        return self._figure(
            "Lead time", "days", self.lead_days, f"the longer of {each[0]} and {each[1]}", (each[0], each[1])
        )

    @property
    def lead_days(self) -> int | None:
        return latest([self.wheel.lead_days, self.tyre.lead_days])


def judge_pair(file: CarFile, wheel: Wheel, tyre: Tyre, held: InHand, end: str = "all") -> Pair:
    """Judge a pair on the wanted ends with the rest of the build."""
    found: dict[str, tuple[Judgement, ...]] = {}
    drags: dict[tuple[str, str], dragging.Drag] = {}
    changes: dict[str, Swap] = {}
    tolerances = file.tolerances(held.tolerance)
    for one in ENDS[end]:
        axle = file.core_axle(one)
        if axle is None:
            continue
        setting = held.end(one)
        candidate = candidate_of(file, one, wheel, tyre, setting, camber_in(file, one, setting))
        found[one] = fitment.judge(axle, candidate, tolerances).judgements
        drags |= {(drag.what, drag.detail): drag for drag in dragging.drags_along(axle, candidate)}
        changes[one] = _change(file, one, candidate, wheel, tyre)
    return Pair(wheel, tyre, fitment.both_ends(found), tuple(drags.values()), changes)


def pairs_waiting(file: CarFile, wheels: list[Wheel], tyres: list[Tyre]) -> Iterator[tuple[Judgement, ...]]:
    """Of every pair that goes together what is unmeasured for want of a reading; no gap is worked out."""
    held = in_hand(file)
    ends = [(end, axle, held.end(end)) for end in ENDS["all"] if (axle := file.core_axle(end)) is not None]
    for wheel in wheels:
        for tyre in tyres:
            if same_rim(wheel.diameter_in, tyre.rim_diameter_in):
                yield fitment.unread_at(
                    tuple(
                        (end, axle, candidate_of(file, end, wheel, tyre, setting, camber_in(file, end, setting)))
                        for end, axle, setting in ends
                    )
                )


def _change(file: CarFile, end: str, candidate: core.Candidate, wheel: Wheel, tyre: Tyre) -> Swap:
    present = file.on(file.current, end)
    if present is None:
        raise ValueError("an end that is checked has wheels on it")
    fitted = candidate.fitted
    new = Corner(fitted.wheel, fitted.tyre, fitted.spacer_mm, wheel.mass_kg, tyre.mass_kg, fitted.measured_section_mm)
    return swap(corner_of(present), new)


def all_pairs(file: CarFile, wheels: list[Wheel], tyres: list[Tyre], end: str = "all") -> list[Pair]:
    """Every pair whose rim diameters agree, worst judgement first inside each."""
    held = in_hand(file)
    return [
        judge_pair(file, wheel, tyre, held, end)
        for wheel in wheels
        for tyre in tyres
        if same_rim(wheel.diameter_in, tyre.rim_diameter_in)
    ]
