"""Forms that keep what was typed and read quantities as people write them."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from django import forms
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.models import User

from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.quantities.prose import lines_scaled
from rimcore.quantities.units import accepted, convert, parse_quantity, write_quantity
from rimcore.tables.units import UNIT_OF_KIND
from rimcore.work.money import in_hundredths, in_whole
from shell import units

#: no quantity of a car is so large in any unit; written out it would be too long to be read back
HUGE = 1e15


class QuantityField(forms.CharField):
    """A quantity typed as on paper; cleans to the core's unit (float) and keeps the typing.

    A bare number is read in the person's unit of the kind, which stands beside the label; limits are said in it too.
    """

    def __init__(self, kind: str, low: float | None = None, high: float | None = None, **options: Any) -> None:
        super().__init__(**options)
        self.kind, self.low, self.high = kind, low, high
        self.widget.attrs.setdefault("inputmode", "text")
        self.widget.attrs.setdefault("autocomplete", "off")

    @property
    def unit(self) -> str:
        """The unit of a bare number, for whoever asks now."""
        return units.unit(self.kind)

    @property
    def core_kind(self) -> str:
        return units.KEPT_AS.get(self.kind, self.kind)

    def get_bound_field(self, form: Any, field_name: str) -> forms.BoundField:
        bound = super().get_bound_field(form, field_name)
        said = "°" if self.unit == "deg" else "′" if self.unit == "min" else self.unit
        label = str(bound.label or "")
        if not label.endswith(f", {said}"):
            bound.label = f"{label}, {said}"
        return bound

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        if not text:
            return None
        try:
            found = parse_quantity(text, self.core_kind, self.unit).value
        except CoreError as error:
            raise forms.ValidationError(error.message) from error
        if (self.low is not None and found < self.low) or (self.high is not None and found > self.high):
            raise forms.ValidationError(f"Out of range; accepted: {self._shown(self.low)} to {self._shown(self.high)}.")
        return found

    def prepare_value(self, value: Any) -> Any:
        if isinstance(value, (int, float)) and not isinstance(value, bool):
            if self.kind == "fuel" and value <= 0:
                return ""
            return self._written(float(value))
        return value

    def _written(self, value: float) -> str:
        """The fewest places from which the value comes back; what is out of all reason with its power of ten."""
        if abs(value) >= HUGE:
            return f"{convert(value, self.core_kind, self.unit):g} {self.unit}"
        for places in range(7):
            text = write_quantity(value, self.core_kind, self.unit, places)
            if abs(parse_quantity(text, self.core_kind).value - value) <= 1e-4:
                break
        return text

    def has_changed(self, initial: Any, data: Any) -> bool:
        return bool(super().has_changed(self.prepare_value(initial), data))

    def _shown(self, value: float | None) -> str:
        if value is None or (self.kind == "fuel" and value <= 0):
            return "any"
        return write_quantity(value, self.core_kind, self.unit, places=2)

    @property
    def examples(self) -> str:
        return accepted(self.core_kind)


def in_field(kind: str, value: float) -> str:
    """A figure of the core as a field shows it to whoever asks: in their unit, with the unit behind it."""
    return str(QuantityField(kind).prepare_value(float(value)))


#: step of a nudge in each unit
NUDGE = {"mm": "1", "in": "0.04", "deg": "0.1", "min": "5"}


class NudgedField(QuantityField):
    """A quantity in a number field that the arrow keys nudge.

    The unit stands in the label, the figure alone in the field.

    What is no text is the core's own figure; text with another unit is read as that.
    """

    widget = forms.NumberInput

    def widget_attrs(self, widget: forms.Widget) -> dict[str, Any]:
        return {"step": "any"}

    def to_python(self, value: Any) -> Any:
        return super().to_python(self._text(value))

    def prepare_value(self, value: Any) -> Any:
        try:
            found = (
                parse_quantity(self._text(value), self.core_kind, self.unit).value if value not in (None, "") else None
            )
        except CoreError:
            return value
        return value if found is None else self._written(found).removesuffix(self.unit).strip()

    def _text(self, value: Any) -> Any:
        return self.in_core(value) if isinstance(value, (int, float)) and not isinstance(value, bool) else value

    def in_core(self, value: float) -> str:
        """A figure of the core as text that everybody's field reads the same."""
        core = UNIT_OF_KIND[self.core_kind]
        return f"{value:g}" if core == self.unit else f"{value:g} {core}"

    @property
    def nudge(self) -> str:
        return NUDGE.get(self.unit, "1")


class _Typed(str):
    """Text as it was sent, which is shown again as it is."""


class LengthLinesField(forms.CharField):
    """Lines of bare lengths: typed and shown in the person's unit, kept in millimetres."""

    widget = forms.Textarea

    @property
    def mm(self) -> float:
        """A person's unit in millimetres."""
        return parse_quantity("1", "length", units.unit("length")).value

    def get_bound_field(self, form: Any, field_name: str) -> forms.BoundField:
        bound = super().get_bound_field(form, field_name)
        bound.label = f"{bound.label}, {units.unit('length')}"
        if self.mm != 1.0:
            bound.help_text = lines_scaled(str(bound.help_text), 1 / self.mm, 1)
        return bound

    def bound_data(self, data: Any, initial: Any) -> Any:
        return _Typed(data) if isinstance(data, str) else data

    def prepare_value(self, value: Any) -> Any:
        if not value or isinstance(value, _Typed) or self.mm == 1.0:
            return value
        return lines_scaled(str(value), 1 / self.mm)

    def has_changed(self, initial: Any, data: Any) -> bool:
        return bool(super().has_changed(self.prepare_value(initial), data))

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        return text if self.mm == 1.0 or not text else lines_scaled(text, self.mm)


class OdometerField(QuantityField):
    """A distance driven, in whole kilometres."""

    def __init__(self, **options: Any) -> None:
        super().__init__("distance", *LIMITS["odometer_km"].span, **options)

    def to_python(self, value: Any) -> Any:
        found = super().to_python(value)
        return None if found is None else round(found)

    def _written(self, value: float) -> str:
        return write_quantity(value, self.kind, self.unit, 0 if self.unit == "km" else 1)


def rounded(kind: str, value: float) -> Callable[[], str]:
    """A round figure to begin with, in the unit of whoever asks: 110 km/h is 68 mph."""

    def text() -> str:
        unit = units.unit(kind)
        if unit == UNIT_OF_KIND[kind]:
            return f"{value:g} {unit}"
        return f"{float(f'{convert(value, kind, unit):.2g}'):g} {unit}"

    return text


class CoreTextField(forms.CharField):
    """Text that the core must be able to read (a wheel, a tyre, a thread, a seat)."""

    def __init__(self, read: Any, **options: Any) -> None:
        options.setdefault("max_length", 120)
        super().__init__(**options)
        self.read = read

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        if text:
            try:
                self.read(text)
            except CoreError as error:
                raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return text


class MoneyField(forms.CharField):
    """An amount in major units; cleans to minor units (int)."""

    def __init__(self, **options: Any) -> None:
        super().__init__(**options)
        self.widget.attrs.setdefault("inputmode", "decimal")

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        if not text:
            return None
        if len(text) > 20:
            raise forms.ValidationError("Write an amount such as 310 or 310.50.")
        plain = text.replace(" ", "").replace("\u00a0", "").replace(",", ".")
        if re.fullmatch(r"[\d.]*\.\d{3,}", plain):
            raise forms.ValidationError(
                "Write an amount such as 1310 or 310.50: two decimals at the most, nothing between thousands."
            )
        try:
            amount = in_hundredths(float(plain))
        except (ValueError, OverflowError) as error:
            raise forms.ValidationError("Write an amount such as 310 or 310.50.") from error
        if not 0 <= amount <= 10_000_000_00:
            raise forms.ValidationError("Write an amount from 0 to 10 000 000.")
        return amount

    def prepare_value(self, value: Any) -> Any:
        if isinstance(value, int):
            return f"{in_whole(value):.2f}".removesuffix(".00")
        return value


class SignUpForm(UserCreationForm):
    """A name and a password, nothing else."""

    class Meta:
        model = User
        fields = ("username",)
