"""Forms that keep what was typed and read quantities as people write them."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.models import User

from rimcore.quantities.errors import CoreError
from rimcore.quantities.units import accepted, parse_quantity, write_quantity
from rimcore.work.money import in_hundredths, in_whole


class QuantityField(forms.CharField):
    """A quantity typed as on paper; cleans to the core's unit (float) and keeps the typing.

    ``unit`` is the unit of a bare number.
    """

    def __init__(self, kind: str, unit: str, low: float | None = None, high: float | None = None, **options: Any) -> None:
        super().__init__(**options)
        self.kind, self.unit, self.low, self.high = kind, unit, low, high
        self.widget.attrs.setdefault("inputmode", "text")
        self.widget.attrs.setdefault("autocomplete", "off")

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        if not text:
            return None
        try:
            found = parse_quantity(text, self.kind, self.unit).value
        except CoreError as error:
            raise forms.ValidationError(error.message) from error
        if (self.low is not None and found < self.low) or (self.high is not None and found > self.high):
            raise forms.ValidationError(f"Out of range; accepted: {self._shown(self.low)} to {self._shown(self.high)}.")
        return found

    def prepare_value(self, value: Any) -> Any:
        if isinstance(value, (int, float)) and not isinstance(value, bool):
            return write_quantity(float(value), self.kind, self.unit, places=6)
        return value

    def has_changed(self, initial: Any, data: Any) -> bool:
        return bool(super().has_changed(self.prepare_value(initial), data))

    def _shown(self, value: float | None) -> str:
        return "any" if value is None else write_quantity(value, self.kind, self.unit, places=2)

    @property
    def examples(self) -> str:
        return accepted(self.kind)


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
