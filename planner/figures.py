"""How the sums of a build are known: formula with its numbers, every input with its source and date."""

from __future__ import annotations

from datetime import date

from garage.file import CarFile
from garage.mass.ledger import ledger_mass
from planner.changes import hours_of
from planner.chosen import choices_of
from planner.dates.facts import calendar_of, factor_of, learnt_of, week_of
from planner.done import done_of
from planner.models import Build, Choice
from planner.queries import Sums, coming_out, costly_of, cures_of, returned_of
from rimcore.drawing.planes import short
from rimcore.mass.ledger import STRIP_OUT
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement
from rimcore.work.ledger import SPENT_STATES
from rimcore.work.money import in_whole
from shell.figures import amount


def figures_of(file: CarFile, found: Sums) -> dict[str, Judgement]:
    """Every sum that Plan shows, by name; each can be clicked for how it is known."""
    return {
        **_masses(file, found),
        **_geometry(file, found),
        **_money(file, found),
        **_dates(file, found),
    }


def _figure(
    name: str, value: float | None, unit: str, formula: str, basis: str, inputs: list[InputUsed], reason: str = ""
) -> Judgement:
    return Judgement(
        "sum",
        name,
        "clear" if value is not None else "unmeasured",
        reason or "worked out from the build's parts",
        basis,
        value=value,
        unit=unit,
        formula=formula,
        inputs=tuple(inputs),
    )


def _day(value: date | None) -> str:
    return f"{value:%-d %b %Y}" if value is not None else ""


def _offer(choice: Choice, value: str) -> InputUsed:
    """What a part of the build says, from whom and since when."""
    made = choice.part.made_at.date()
    source = "as agreed" if choice.price_minor is not None else "offer"
    return InputUsed(
        f"{choice.quantity} × {choice.label}",
        value,
        ", ".join(filter(None, (source, choice.seller))),
        _day(choice.ordered_on or made),
    )


def _stood(file: CarFile, end: str) -> list[InputUsed]:
    """What stood on an end as the baseline."""
    base = file.on(file.baseline, end)
    if base is None or file.baseline is None:
        return []
    said = " + ".join("?" if kg is None else f"{kg:g}" for kg in (base.wheel_kg, base.tyre_kg))
    where = "front" if end == "F" else "rear"
    return [
        InputUsed(
            f"baseline, {where}: {base.wheel}, {base.tyre}", f"{said} kg", "as written", _day(file.baseline.since)
        )
    ]


def _masses(file: CarFile, found: Sums) -> dict[str, Judgement]:
    build = found.build
    parts = []
    for choice in choices_of(build):
        kg = choice.part.mass_kg if choice.kind in ("wheel", "tyre") else choice.mass_change_kg
        parts.append(_offer(choice, "weight not known" if kg is None else f"{kg:g} kg each"))
    inputs = [*parts, *_stood(file, "F"), *_stood(file, "R")]
    corner = {end: found.corner_kg.get(end) for end in ("F", "R")}
    terms = " + ".join(f"2 × {short(kg)}" for kg in corner.values() if kg is not None)
    off, _, _ = ledger_mass(file, bool(build.lever(STRIP_OUT.code)))
    if off.count:
        terms += f" − {short(off.net_kg)} of the weight ledger"
        inputs = [
            *inputs,
            InputUsed(
                "weight ledger", f"{off.count} items off, net {off.net_kg:.1f} kg", "each weighed with its box", ""
            ),
        ]
    total = found.mass.total_kg
    whole = _figure(
        "Weight, whole car",
        total,
        "kg",
        f"{terms or 'no mass known'} and other parts = {'?' if total is None else short(total)} kg",
        COMMON_PRACTICE,
        inputs,
        f"{found.mass.unknown} weight not known" if found.mass.unknown else "",
    )
    equivalent = _figure(
        "Equivalent weight",
        found.equivalent_kg,
        "kg",
        "2 × (front + rear), each the change of m + I/r²",
        next((s.inertia_basis for s in found.swaps.values() if s.inertia_basis), "a weight is not known"),
        inputs,
    )
    each = {
        f"corner_{end}": _figure(
            f"Weight of a corner, {'front' if end == 'F' else 'rear'}",
            kg,
            "kg",
            "wheel + tyre, new − baseline",
            COMMON_PRACTICE,
            [*parts, *_stood(file, end)],
        )
        for end, kg in corner.items()
    }
    return {"mass": whole, "equivalent": equivalent, **each}


def _geometry(file: CarFile, found: Sums) -> dict[str, Judgement]:
    figures = {}
    for end, name in (("F", "front"), ("R", "rear")):
        base, wanted, swap = file.on(file.baseline, end), found.ends.get(end), found.swaps.get(end)
        if base is None or wanted is None or swap is None or file.baseline is None:
            continue
        fitted = wanted.fitted
        inputs = [
            InputUsed(
                "baseline",
                f"{base.wheel}, {base.tyre}, {base.spacer_mm:g} mm spacer",
                "as written",
                _day(file.baseline.since),
            ),
            InputUsed(
                "build",
                f"{fitted.wheel.spec}, {fitted.tyre.size}, {fitted.spacer_mm:g} mm spacer",
                f"{found.build.name}, rev {found.build.revision}",
            ),
        ]
        offset = file.fitted(file.baseline, end)
        old = offset.centre_mm if offset is not None else 0.0
        figures[f"track_{end}"] = _figure(
            f"Track, {name}",
            swap.track_change_mm,
            "mm",
            f"2 × ({fitted.centre_mm:g} − ({old:g})): spacer − offset, then less now",
            "geometry",
            inputs,
        )
        if end == file.driven_end:
            figures["speed"] = _figure(
                f"True speed at an indicated 100 km/h, {name} tyres",
                swap.true_kmh_at_indicated_100,
                "km/h",
                "100 × new diameter ÷ old diameter",
                "UN R39; if it was exact before",
                inputs,
            )
    return figures


def _money(file: CarFile, found: Sums) -> dict[str, Judgement]:
    currency = file.car.currency
    lines = [
        _offer(
            choice,
            f"{amount(choice.price, currency)} each"
            + (", spent" if choice.state in SPENT_STATES else ", still to spend")
            if choice.price is not None
            else "no price",
        )
        for choice in choices_of(found.build)
    ]
    lost = done_of(file).lost.get(found.build.pk, 0)
    if lost:
        lines.append(InputUsed("snags, less what was sold", amount(lost, currency), "job sheets and removed parts"))
    lines += [
        InputUsed(
            f"fix: {cure.note}",
            "no price" if cure.money_minor is None else amount(cure.money_minor, currency),
            "decided",
        )
        for cure in cures_of(file, found.build)
        if cure.money_minor != 0
    ]
    lines += [
        InputUsed(
            f"{row}, {row.by_whom or 'by others'}",
            "no price" if row.price_minor is None else amount(row.price_minor, currency),
            "spent" if row.done_on else "still to spend",
        )
        for row in costly_of(file, found.build)
    ]
    returned = returned_of(file, found.build)
    if returned:
        lines.append(InputUsed("claims, money returned", f"−{amount(returned, currency)}", "orders"))
    if found.elsewhere_minor:
        lines.append(InputUsed("other builds", amount(found.elsewhere_minor, currency), "their parts and snags"))
    for item in coming_out(file, found.build):
        lines.append(InputUsed(f"weight ledger: {item.name}", amount(item.cost_minor, currency), "comes out"))
    if found.ledger_minor:
        said = amount(found.ledger_minor, currency)
        lines.append(InputUsed("weight ledger, out already, less what it brought", said, "the ledger"))
    sums = found.money
    formula = f"{amount(sums.spent_minor)} spent + {amount(sums.promised_minor)} still to spend = {amount(sums.total_minor, currency)}"
    whole = _figure("Money", in_whole(sums.total_minor), currency, formula, "prices of the build's parts", lines)
    left = sums.left_minor
    budget = [
        InputUsed(
            "budget", "not set" if sums.budget_minor is None else amount(sums.budget_minor, currency), "the car's data"
        )
    ]
    rest = _figure(
        "Left of the budget",
        None if left is None else in_whole(left),
        currency,
        f"{amount(sums.budget_minor)} − {amount(sums.total_minor)}",
        "prices of the build's parts",
        [*budget, *lines],
    )
    return {"money": whole, "left": rest}


def _own_factor(file: CarFile, build: Build) -> list[InputUsed]:
    """What one's own jobs took, where it is counted with."""
    found = learnt_of(file)
    if found is None or factor_of(file, build).median == 1.0:
        return []
    said = f"{found.median:.2f} × what is written, 80 % between {found.low_80:.2f} and {found.high_80:.2f}"
    return [InputUsed("your jobs take", said, f"{found.used} clocked")]


def _dates(file: CarFile, found: Sums) -> dict[str, Judgement]:
    build: Build = found.build
    dates = found.dates
    lines = [
        _offer(choice, "no lead time" if choice.lead is None else f"{choice.lead} days") for choice in choices_of(build)
    ]
    arrivals = [InputUsed(name, _day(on) or "not known", "arrival") for name, on in dates.arrivals]
    start = _figure(
        "The job can start",
        None,
        "",
        f"latest arrival: {_day(dates.earliest_start) or 'not known'}",
        COMMON_PRACTICE,
        [*lines, *arrivals],
    )
    work = [
        InputUsed(
            "hours",
            hours_of(file, build).said,
            "your own estimate"
            if build.hours_estimate is not None
            else f"{COMMON_PRACTICE}: usual minutes of each module",
        ),
        InputUsed(
            "hours a week",
            f"{sum(calendar_of(file, build).week_hours):g}",
            week_of(file, build)[1],
        ),
        *_own_factor(file, build),
        InputUsed("event", _day(file.car.event_on) or "none", file.car.event_name),
    ]
    done = _figure(
        "Done",
        None,
        "",
        "day by day: parts there, hours of each day, one pair of hands",
        COMMON_PRACTICE,
        [*work, *arrivals],
    )
    slack = _figure(
        "Days in hand", dates.days_in_hand, "days", "event − done − 1 test day", COMMON_PRACTICE, [*work, *arrivals]
    )
    return {"start": start, "done": done, "slack": slack}
