"""Forms of logs: a file, its columns, a recording."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.files.uploadedfile import UploadedFile

from bench.logs.found import Logged, heard_of
from bench.logs.kinds import LOG_KINDS, TEXT_BYTES
from garage.fields import PastDayField
from garage.file import CarFile
from garage.logs.models import Log
from rimcore.aero.coastlogs import WAYS
from rimcore.breathing.power import STANDARDS
from rimcore.breathing.pulls import WINDOW_RPM
from rimcore.logs.tables import Table
from rimcore.quantities.errors import CoreError
from shell.forms import QuantityField


def _most_bytes(kind: str) -> int:
    """Of an upload; what is no kind may be as large as a text."""
    return LOG_KINDS[kind].most_bytes if kind in LOG_KINDS else TEXT_BYTES


class FileForm(forms.Form):
    """A file and what it is of."""

    kind = forms.ChoiceField(choices=[(kind.code, kind.name) for kind in LOG_KINDS.values()], widget=forms.HiddenInput)
    name = forms.CharField(max_length=60, label="What it is", help_text="such as third gear, old exhaust")
    when = forms.ChoiceField(choices=list(Log.WHEN.items()), label="Before or after the change")
    file = forms.FileField(label="The file")
    who = forms.CharField(max_length=60, required=False, label="Who")
    taken_on = PastDayField()

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        kind = str(self.data.get("kind") or self.initial.get("kind") or "")
        self.fields["file"].widget.attrs["data-most-bytes"] = _most_bytes(kind)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        found: UploadedFile | None = cleaned.get("file")
        most = _most_bytes(cleaned.get("kind", ""))
        if found is not None and (found.size or 0) > most:
            self.add_error(
                "file", f"The file has {(found.size or 0) / 1e6:.0f} MB; accepted: {most / 1048576:.0f} MB at most."
            )
        return cleaned


class ColumnsForm(forms.Form):
    """Which column is what, in which unit, and the day it was read on."""

    def __init__(self, log: Log, table: Table, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.log, self.table = log, table
        choices = [("", "not in this file")] + [(str(place), column.name) for place, column in enumerate(table.columns)]
        for quantity in LOG_KINDS[log.kind].quantities:
            taken = table.found(quantity)
            place = str(table.columns.index(taken)) if taken is not None else ""
            name = quantity.replace("_", " ").capitalize()
            self.fields[quantity] = forms.ChoiceField(choices=choices, required=False, initial=place, label=name)
            self.fields[f"{quantity}_unit"] = forms.CharField(
                required=False,
                max_length=12,
                initial=taken.unit if taken is not None else "",
                label=f"{name}, unit",
                help_text="blank: as is usual",
            )
        asks = {"air": self._day, "road": self._road}.get(LOG_KINDS[log.kind].asks)
        if asks is not None:
            asks(file)

    def _day(self, file: CarFile) -> None:
        self.fields["standard"] = forms.ChoiceField(
            choices=[("", "not corrected"), *((one, one) for one in STANDARDS)],
            required=False,
            label="Brought to the air of",
        )
        self.fields["temperature_c"] = QuantityField("temperature", -40, 60, required=False, label="Air that day")
        self.fields["pressure_kpa"] = QuantityField(
            "air_pressure",
            50,
            110,
            required=False,
            label="Pressure at the place",
            help_text="absolute, not brought to sea level",
        )
        self.fields["humidity_pct"] = forms.FloatField(
            min_value=0,
            max_value=100,
            required=False,
            label="Humidity, %",
            help_text="blank: not known, a ± of the correction",
        )
        self.fields["window_rpm"] = forms.FloatField(
            min_value=50, max_value=1000, initial=WINDOW_RPM, label="Averaged over, rpm"
        )
        self.fields["mass_kg"] = QuantityField(
            "mass",
            100,
            10_000,
            required=False,
            initial=file.car.mass_kg,
            label="Weight in the run",
            help_text="for wheel power from time and speed",
        )

    def _road(self, file: CarFile) -> None:
        headed = self.table.found("heading") is not None
        self.fields["ways"] = forms.ChoiceField(
            choices=list(WAYS.items()), initial="heading" if headed else "alternate", label="Runs are told apart"
        )
        self.fields["mass_kg"] = QuantityField(
            "mass",
            100,
            10_000,
            initial=file.car.mass_kg,
            label="Weight in the runs",
            help_text="with everybody aboard and the fuel of the day",
        )
        self.fields["temperature_c"] = QuantityField("temperature", -40, 60, label="Air that day")
        self.fields["pressure_kpa"] = QuantityField(
            "air_pressure", 50, 110, label="Pressure at the place", help_text="absolute, not brought to sea level"
        )
        self.fields["humidity_pct"] = forms.FloatField(
            min_value=0,
            max_value=100,
            required=False,
            label="Humidity, %",
            help_text="blank: not known, a ± of the density",
        )

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        self.found: Logged | None = None
        if self.errors:
            return cleaned
        try:
            columns = {
                quantity: self.table.columns[int(cleaned[quantity])].taken(
                    quantity, cleaned.get(f"{quantity}_unit") or ""
                )
                for quantity in LOG_KINDS[self.log.kind].quantities
                if cleaned.get(quantity)
            }
            find = LOG_KINDS[self.log.kind].found
            self.found = find(columns, cleaned) if find is not None else None
        except CoreError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return cleaned

    @property
    def asked(self) -> dict[str, Any]:
        """What is kept of how the file was read."""
        return {name: value for name, value in self.cleaned_data.items() if value not in ("", None)}


class HeardForm(forms.Form):
    """What brings a recording to sound pressure, and the engine's speed in it."""

    meter_db = forms.FloatField(
        min_value=30,
        max_value=140,
        required=False,
        label="A meter beside it read, dB(A)",
        help_text="same place, same time; blank: only compared",
    )
    tone = forms.FileField(
        required=False,
        label="A calibrator's tone, recorded with the same settings",
        help_text="WAV; beside a meter or instead of one",
    )
    tone_db = forms.FloatField(
        min_value=60, max_value=130, required=False, initial=94, label="The calibrator's level, dB"
    )
    rpm = forms.FloatField(
        min_value=300,
        max_value=20_000,
        required=False,
        label="Engine speed in it, rpm",
        help_text="marks the firing orders",
    )
    place = forms.CharField(
        max_length=60, required=False, label="Where the recorder was", help_text="the same place both times"
    )

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        tone: Any = cleaned.pop("tone", None)
        self.offset_db: float | None = None
        if tone is None or self.errors:
            return cleaned
        if (tone.size or 0) > TEXT_BYTES:
            self.add_error("tone", "The tone is over 20 MB; accepted: some seconds of it.")
            return cleaned
        try:
            self.offset_db = round((cleaned.get("tone_db") or 94.0) - heard_of(tone)["level_z_db"], 3)
        except CoreError as error:
            self.add_error("tone", f"The tone {error.message}.")
        return cleaned
