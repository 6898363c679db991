"""The driveline of a car with its build, for the core."""

from __future__ import annotations

from dataclasses import replace

from django.utils import timezone

from garage.car.models import Driveline
from garage.file import CarFile
from garage.inhand import in_hand
from garage.kept import once
from planner.chosen import build_in_hand, candidate
from rimcore.driveline.gearing import CRUISE_KMH, judge_cruise
from rimcore.driveline.gearing import Driveline as Line
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.wheels.fitted import Fitted


@once
def kept_of(file: CarFile) -> Driveline | None:
    """The ratios of a car, as they are kept; one query a page."""
    return Driveline.objects.filter(car=file.car).first()


def tyres(file: CarFile) -> tuple[Fitted | None, Fitted | None]:
    """What stands on the driven end now, and what the build in hand puts there."""
    end = file.driven_end
    standing, build = file.standing(end), build_in_hand(file)
    chosen = candidate(file, build, end) if build else None
    return (standing.fitted if standing else None), (chosen.fitted if chosen else standing.fitted if standing else None)


def axle_of_build(file: CarFile) -> float | None:
    """The axle ratio that the build in hand sets; None leaves it as it is."""
    build = build_in_hand(file)
    found = build.lever("axle_ratio") if build else None
    return float(found) if found is not None else None


def lines(file: CarFile) -> tuple[Line, Line] | None:
    """The driveline as it stands, and with the build in hand; None where ratios or tyres are not known."""
    kept = kept_of(file)
    stands, chosen = tyres(file)
    if kept is None or stands is None or chosen is None:
        return None
    before = Line(tuple(kept.gears), kept.axle_ratio, stands.tyre.rolling_circumference_mm, kept.transfer_ratio)
    ratio = axle_of_build(file) or kept.axle_ratio
    return before, replace(before, axle_ratio=ratio, circumference_mm=chosen.tyre.rolling_circumference_mm)


def inputs(file: CarFile, before: Line, now: Line) -> tuple[InputUsed, ...]:
    """What gearing is reckoned from: the axle, the tyre now and the tyre then, each with source and date."""
    kept = kept_of(file)
    stands, chosen = tyres(file)
    if kept is None or stands is None or chosen is None:
        return ()
    noted = f"{kept.noted_on:%-d %b %Y}"
    since = f"{file.current.since:%-d %b %Y}" if file.current else ""
    today, build = f"{timezone.localdate():%-d %b %Y}", in_hand(file).name
    axle = InputUsed("axle ratio", f"{kept.axle_ratio:g}", "the car's data", noted)
    if now.axle_ratio != before.axle_ratio:
        axle = InputUsed("axle ratio", f"{kept.axle_ratio:g} → {now.axle_ratio:g}", f"the car's data; {build}", noted)
    return (
        axle,
        InputUsed(
            "tyre now", f"{stands.tyre.size}, rolls {before.circumference_mm:.0f} mm", "what stands on the car", since
        ),
        InputUsed("tyre then", f"{chosen.tyre.size}, rolls {now.circumference_mm:.0f} mm", build, today),
    )


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the gearing bench judges of the build in hand."""
    found, kept = lines(file), kept_of(file)
    if found is None or kept is None:
        return (judge_cruise(None, None),)
    return (
        judge_cruise(
            found[1], float(kept.limit_rpm), kept.cruise_kmh or CRUISE_KMH, inputs(file, *found), kept.wanted_rpm
        ),
    )


def begun(file: CarFile) -> bool:
    """Are its ratios written down?"""
    return kept_of(file) is not None
