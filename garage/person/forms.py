"""Forms of a person's settings: units, own margins."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.person.models import Preferences, ToleranceSet
from rimcore.limits import LIMITS
from rimcore.well.judge.tolerance import MARGIN_FIELDS, SCHOOL_NAMES
from shell.forms import QuantityField
from shell.merge import Merged


class PreferencesForm(Merged, forms.ModelForm):
    """Units."""

    class Meta:
        model = Preferences
        fields = (*Preferences.UNITS, "money_sign")

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for field in self.fields.values():
            field.required = False

    def clean(self) -> dict[str, Any]:
        """What was not sent stays as it is."""
        cleaned: dict[str, Any] = super().clean() or {}
        return {name: value or getattr(self.instance, name) for name, value in cleaned.items()}


class ToleranceForm(Merged, forms.ModelForm):
    """Margins of one's own set."""

    class Meta:
        model = ToleranceSet
        fields = ("name", *MARGIN_FIELDS)

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name in MARGIN_FIELDS:
            label = self.fields[name].label
            self.fields[name] = QuantityField("length", *LIMITS["margin_mm"].span, label=label)

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"]
        if ToleranceSet.objects.filter(owner=self.instance.owner, name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have a set of that name; choose another.")
        return name


class CopySchoolForm(forms.Form):
    """Copy a school's margins."""

    school = forms.ChoiceField(choices=list(SCHOOL_NAMES.items()), label="Copy of")
    name = forms.CharField(max_length=40)

    def __init__(self, owner: Any, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.owner = owner

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"]
        if ToleranceSet.objects.filter(owner=self.owner, name=name).exists():
            raise forms.ValidationError("You have a set of that name; choose another.")
        return name
