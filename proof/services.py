"""What changes series and runs."""

from __future__ import annotations

from typing import Any

from garage.car.services import outfit_now
from garage.file import CarFile
from proof.models import Run, Series
from rimcore.proof.ready import Ready
from rimcore.quantities.prose import in_units, unit_in_units
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
    return found or add_series(file, user, {"name": ready.name, "better": ready.better, **said})


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
