"""Curves in the person's units: figures, limits of the sheet and the words beside them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rimcore.drawing.charts import Chart, chart
from rimcore.quantities.prose import Units, unit_in_units, value_in_units
from shell import units

Array = NDArray[np.float64]


def drawn_curve(
    name: str,
    unit: str,
    across_unit: str,
    across: Array,
    value: Array,
    before: Array | None = None,
    band: tuple[Array, Array] | None = None,
    here: float | None = None,
    further: Sequence[Array] = (),
    least_span: float = 0.1,
    **more: Any,
) -> Chart:
    """A curve of the core with both axes in the units of whoever asks.

    ``across_unit`` is named only where it is not plain.
    """
    asker = units.current()

    def said(row: Array) -> Array:
        return _in(row, unit, asker)

    span = abs(float(np.diff(said(np.array([0.0, least_span])))[0]))
    return chart(
        name=_named(name, across_unit, asker),
        unit=unit_in_units(unit, asker),
        across=_in(across, across_unit, asker),
        value=said(value),
        before=None if before is None else said(before),
        band=None if band is None else (said(band[0]), said(band[1])),
        here=None if here is None else float(_in(np.array([here]), across_unit, asker)[0]),
        further=tuple(said(one) for one in further),
        least_span=span,
        **more,
    )


def _named(name: str, across_unit: str, asker: Units) -> str:
    return f"{name}, over {unit_in_units(across_unit, asker)}" if across_unit else name


def _in(row: Array, unit: str, asker: Units) -> Array:
    return np.asarray(value_in_units(row, unit, asker)) if unit else row
