"""Forms of planned runs."""

from __future__ import annotations

import math
from typing import Any

from django import forms

from proof.models import RunPlan, Series
from proof.planned.queries import scatter_of, sizing
from rimcore.proof.trial import CONDITIONS, LEAST, MOST
from shell.forms import MoneyField, QuantityField


class PlanForm(forms.ModelForm):
    """What is changed, how it is driven, what is worth having; runs a side come of it."""

    runs = forms.IntegerField(
        min_value=1,
        max_value=MOST,
        required=False,
        label="Runs a side",
        help_text=f"blank: as many as show it, {LEAST} at the least",
    )
    cost_minor = MoneyField(required=False, label="What the change costs", help_text="for money a unit")

    class Meta:
        model = RunPlan
        fields = ("what", "design", "useful", "scatter", "cost_minor", "blind")
        widgets = {"design": forms.RadioSelect}

    field_order = ("what", "design", "useful", "scatter", "runs", "cost_minor", "blind")

    def __init__(self, series: Series, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.series = series
        self.fields["what"].help_text = "such as: new dampers, or 2.2 against 2.5 bar"
        unit = f", {series.unit}" if series.unit else ""
        for name in ("useful", "scatter"):
            label = str(self.fields[name].label).capitalize() + unit
            field: Any = forms.FloatField(required=False, label=label)
            field.widget.attrs["inputmode"] = "decimal"
            self.fields[name] = field
        found = scatter_of(series)
        known = "no three runs of one state yet" if found is None else f"blank: {found:.3g}, of the runs so far"
        self.fields["scatter"].help_text = f"standard deviation of one run; {known}"
        self.fields["useful"].help_text = "less than this, you would not have bothered"
        self.fields[
            "blind"
        ].help_text = "a second person changes it and reads the cards; not for all before, then all after"
        design: Any = self.fields["design"]
        design.choices = [(code, words) for code, words in design.choices if code]
        self.order_fields(self.field_order)

    def clean_useful(self) -> float | None:
        return self._over_nothing("useful")

    def clean_scatter(self) -> float | None:
        return self._over_nothing("scatter")

    def _over_nothing(self, name: str) -> float | None:
        value: float | None = self.cleaned_data[name]
        if value is not None and not (math.isfinite(value) and 0 < value <= 1e9):
            raise forms.ValidationError("Out of range; accepted: a figure over 0.")
        return value

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if self.errors:
            return cleaned
        if cleaned.get("blind") and cleaned.get("design") == "after":
            self.add_error("blind", "All before, then all after can't be hidden; accepted: to and fro, or in pairs.")
        if cleaned.get("scatter") is None:
            cleaned["scatter"] = scatter_of(self.series)
        if cleaned.get("runs") is None:
            found = sizing(self.series, cleaned.get("useful"), cleaned.get("scatter"), cleaned["design"])
            if found.runs is None:
                self.add_error("runs", f"How many: {found.words}; or write a number.")
            cleaned["runs"] = found.runs
        return cleaned

    @property
    def kept(self) -> dict[str, Any]:
        """Columns of the plan."""
        return {name: self.cleaned_data[name] for name in self.Meta.fields}


class NextRunForm(forms.Form):
    """One run on the telephone: the figure, and what it was driven in."""

    value = forms.FloatField(label="Run")
    note = forms.CharField(max_length=120, required=False, label="Note")

    def __init__(self, plan: RunPlan, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        unit = f", {plan.series.unit}" if plan.series.unit else ""
        self.fields["value"].label = f"Run{unit}"
        self.fields["value"].widget.attrs |= {"inputmode": "decimal", "autocomplete": "off", "step": "any"}
        for one in CONDITIONS:
            field: Any
            if one.kind:
                field = QuantityField(one.kind, one.low, one.high, required=False, label=one.name)
            else:
                field = forms.FloatField(min_value=one.low, max_value=one.high, required=False, label=one.name)
            self.fields[one.code] = field
        self.fields["wind_kmh"].help_text = "from ahead plus"

    @property
    def beside(self) -> list[Any]:
        """Fields of what was noted beside the run."""
        return [self[one.code] for one in CONDITIONS]

    def clean_value(self) -> float:
        value: float = self.cleaned_data["value"]
        if not math.isfinite(value) or abs(value) > 1e9:
            raise forms.ValidationError("Out of range; accepted: a figure.")
        return value

    @property
    def run(self) -> dict[str, Any]:
        """As it is kept."""
        noted = {one.code: self.cleaned_data.get(one.code) for one in CONDITIONS}
        return {
            "value": self.cleaned_data["value"],
            "note": self.cleaned_data["note"],
            "conditions": {code: value for code, value in noted.items() if value is not None},
        }
