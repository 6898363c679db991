"""Forms of the ride bench."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.file import CarFile
from planner.forms import field_of
from planner.models import Build
from rimcore.quantities.declared import PLACES
from rimcore.ride.standing import RIDE_BENCH
from shell.forms import QuantityField

#: levers of the ride bench's own form, end by end and corner by corner
COLLARS = tuple(
    (lever, place) for lever in RIDE_BENCH.levers if lever.code != "corner_drop_mm" for place in lever.places
)


class CollarForm(forms.Form):
    """Collars and lower mounts of the build: of both ends, and what a corner has more."""

    def __init__(self, file: CarFile, build: Build, *args: Any, **options: Any) -> None:
        initial = {field_of(lever, place): build.lever(lever.code, place) for lever, place in COLLARS}
        super().__init__(*args, initial=initial, **options)
        for lever, place in COLLARS:
            label = f"{lever.name}, {PLACES[place].lower()}"
            self.fields[field_of(lever, place)] = QuantityField(
                "length",
                *lever.span.span,
                required=False,
                label=label,
                help_text=lever.help if place in ("F", "FL") else "",
            )

    @property
    def levers(self) -> dict[tuple[str, str], float]:
        """What each is to be; blank is untouched."""
        return {(lever.code, place): self.cleaned_data[field_of(lever, place)] or 0.0 for lever, place in COLLARS}
