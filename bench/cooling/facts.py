"""The cooling system with the build in hand, for the core, and what is judged of it."""

from __future__ import annotations

from bench.logs.found import logs_of
from garage.engine.load import running_of
from garage.engine.models import Cooling
from garage.file import CarFile
from garage.kept import once
from planner.chosen import build_in_hand, choices_of
from planner.models import Choice
from rimcore.cooling.bench import judge_cap, judge_frost, judge_run
from rimcore.cooling.boiling import boils_c
from rimcore.cooling.exchanger import core_ratios
from rimcore.quantities.judgement import InputUsed, Judgement


def kept_of(file: CarFile) -> Cooling | None:
    """The cooling system as it is kept."""
    found: Cooling | None = running_of(file).cooling
    return found


def part_of(file: CarFile, family: str) -> Choice | None:
    """A part of a family in the build in hand."""
    build = build_in_hand(file)
    if build is None:
        return None
    return next((one for one in choices_of(build) if one.kind == family and one.part.fault is None), None)


def hottest_c(file: CarFile) -> tuple[float | None, InputUsed | None]:
    """The coolant at its hottest: of the newest temperature log, else as it was typed."""
    for log in logs_of(file, "temperature"):
        value = log.found.get("hottest", {}).get("coolant")
        if value is not None:
            return float(value), InputUsed(
                "coolant at its hottest", f"{value:.0f} °C", f"{log.name}, {log.source}", f"{log.taken_on:%-d %b %Y}"
            )
    kept = kept_of(file)
    if kept is None or kept.coolant_c is None:
        return None, None
    return kept.coolant_c, InputUsed(
        "coolant at its hottest", f"{kept.coolant_c:g} °C", "the car's data", f"{kept.noted_on:%-d %b %Y}"
    )


def cores(file: CarFile) -> tuple[float, float] | None:
    """Face and volume of the build's core over the old one; None where either is not known."""
    kept, chosen = kept_of(file), part_of(file, "radiator")
    if kept is None or chosen is None:
        return None
    before = [kept.width_mm, kept.height_mm, kept.depth_mm]
    after = [chosen.part.spec.get(name) for name in ("width_mm", "height_mm", "depth_mm")]
    if any(one is None for one in (*before, *after)):
        return None
    return core_ratios([float(one or 0) for one in before], [float(one or 0) for one in after])


def begun(file: CarFile) -> bool:
    """Has anybody said something of the cooling?"""
    return kept_of(file) is not None or bool(logs_of(file, "bleed")) or bool(logs_of(file, "temperature"))


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the cooling bench judges of the build in hand, once a page."""
    return tuple(_judge(file))


def _glycol(kept: Cooling, noted: str) -> InputUsed:
    """What is known of it; where nobody read it the margin is that of water, which boils first."""
    if kept.glycol_pct is None:
        return InputUsed("glycol", "not known: taken as water, which boils first", "the car's data")
    return InputUsed("glycol", f"{kept.glycol_pct:g} %", "the car's data", noted)


def cap_kpa(file: CarFile) -> float | None:
    """Where the cap opens: the build's, else the one there is."""
    kept, cap = kept_of(file), part_of(file, "radiator_cap")
    return cap.part.spec.get("cap_kpa") if cap is not None else kept.cap_kpa if kept else None


def boiling_c(file: CarFile) -> float | None:
    """Where the coolant boils under the cap; None where cap or mixture is not known."""
    kept, pressure = kept_of(file), cap_kpa(file)
    return boils_c(pressure, kept.glycol_pct or 0.0) if pressure is not None and kept else None


def _judge(file: CarFile) -> list[Judgement]:
    kept, cap = kept_of(file), part_of(file, "radiator_cap")
    hot, hot_used = hottest_c(file)
    noted = f"{kept.noted_on:%-d %b %Y}" if kept else ""
    pressure = cap_kpa(file)
    used = (
        [InputUsed("cap", f"{pressure:g} kPa", str(cap.part) if cap else "the car's data", "" if cap else noted)]
        if pressure is not None
        else []
    )
    if kept is not None:
        used.append(_glycol(kept, noted))
    inputs = (*used, *([hot_used] if hot_used else []))
    bled = next(iter(logs_of(file, "bleed")), None)
    run = (
        ()
        if bled is None
        else (
            InputUsed(
                bled.name, f"{bled.found.get('rows')} rows, {bled.source}", bled.who, f"{bled.taken_on:%-d %b %Y}"
            ),
        )
    )
    boils = boiling_c(file)
    return [
        judge_cap(pressure, (kept.glycol_pct if kept else None) or 0.0, hot, inputs),
        judge_frost(kept.glycol_pct if kept else None, kept.coldest_c if kept else None, tuple(used)),
        judge_run(
            bled.found.get("state") if bled else None,
            bled.found.get("reason", "") if bled else "",
            run,
            bled.found.get("most_c") if bled else None,
            boils,
            # a run kept before the end was noted apart: its most, so that nothing is clear for want of it
            bled.found.get("end_c", bled.found.get("most_c")) if bled else None,
        ),
    ]
