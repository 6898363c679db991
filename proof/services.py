"""What changes series and runs."""

from __future__ import annotations

from typing import Any

from garage.car.services import outfit_now
from garage.file import CarFile
from proof.models import Run, Series
from rimcore.proof.ready import Ready
from rimcore.proof.tank import better_of, driven_km, used_l_per_100km
from rimcore.quantities.prose import in_units, unit_in_units
from rimcore.quantities.units import convert
from shell import units
from shell.undo import remember


def add_series(file: CarFile, user: Any, values: dict[str, Any]) -> Series:
    """A quantity to repeat."""
    with remember(user, f"series {values['name']} made"):
        return Series.objects.create(car=file.car, **values)


def ready_series(file: CarFile, user: Any, ready: Ready) -> Series:
    """A ready-made series; the one of that name where the car has it already."""
    found: Series | None = file.car.series.filter(name=ready.name).first()
    asker = units.current()
    said = {"unit": unit_in_units(ready.unit, asker), "how": in_units(ready.how, asker)}
    better = better_of(said["unit"]) if ready.key == "fuel" else ready.better
    return found or add_series(file, user, {"name": ready.name, "better": better, **said})


def add_tank(file: CarFile, series: Series, user: Any, said: dict[str, Any]) -> None:
    """Fuel used since the last full tank, in the series' unit; the trip meter corrected for the tyres on the car.

    Raises
    ------
    BadInput : volume or distance is out of range
    """
    outfit = said["outfit"] or outfit_now(file)
    tyre, recorded = (file.fitted(one, file.driven_end) for one in (outfit, file.baseline))
    sizes = (tyre.tyre.diameter_mm, recorded.tyre.diameter_mm) if tyre and recorded else (None, None)
    distance = driven_km(said["trip_km"], *sizes)
    value = convert(used_l_per_100km(said["volume_l"], distance), "fuel", series.unit)
    corrected = "" if sizes[0] == sizes[1] else ", corrected for the tyres"
    if not file.driven_end:
        corrected = ", tyres not corrected for: which wheels are driven is not said"
    note = in_units(f"{said['volume_l']:.1f} L, {distance:.0f} km{corrected}", units.current())
    note = f"{note} · {said['note']}" if said["note"] else note
    add_runs(file, series, user, [value], {"outfit": outfit, "ran_on": said["ran_on"], "note": note[:120]})


def add_runs(file: CarFile, series: Series, user: Any, figures: list[float], values: dict[str, Any]) -> None:
    """Runs on what stands on the car, or on the baseline when asked."""
    with remember(user, f"{len(figures)} run{'' if len(figures) == 1 else 's'} noted"):
        if values.get("outfit") is None:
            values = values | {"outfit": outfit_now(file)}
        for figure in figures:
            Run.objects.create(series=series, value=figure, **values)


def leave_out(run: Run, user: Any, why: str) -> None:
    """Mark an outlier, or take the mark off; the run is kept."""
    with remember(user, "run left out" if why else "run counted again"):
        run.left_out_why = why
        run.save(update_fields=["left_out_why"])
