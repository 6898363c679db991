"""Forms of a part of any family, made from what its family declares; and of what suppliers say of it."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.car.parts import Part
from garage.car.spec_fields import spec_field
from garage.fields import DATE
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from shelf.models import Quote
from shell.forms import MoneyField, QuantityField
from shell.merge import Merged


class StarsField(forms.TypedChoiceField):
    """How much the owner likes a part; left out, it stays as it was."""

    def __init__(self, **options: Any) -> None:
        super().__init__(
            choices=[(k, str(k)) for k in range(6)],
            coerce=int,
            empty_value=None,
            required=False,
            label="Your stars",
            help_text="how much you like it; Find a build can go by it",
            **options,
        )


def stars_of(form: Any) -> int:
    """What was picked; as it was where nothing was."""
    picked: int | None = form.cleaned_data["stars"]
    return form.instance.stars if picked is None else picked


class AnyPartForm(Merged, forms.ModelForm):
    """What is known of a part: what every part has, and its specification."""

    name = forms.CharField(max_length=80)
    mass_kg = QuantityField("mass", *LIMITS["mass_kg"].span, required=False, label="Weight of one")
    price_minor = MoneyField(required=False, label="Price of one, or of a set")
    stars = StarsField()

    class Meta:
        model = Part
        fields = ("name", "mass_kg", "price_minor", "lead_days", "supplier", "link", "stars", "note")
        labels = {"lead_days": "Lead time, days"}

    def __init__(self, *args: Any, **options: Any) -> None:
        part: Part = options["instance"]
        declared = part.declared
        self.specs = [
            spec
            for spec in (declared.specs if declared else ())
            if not spec.column and not spec.aside and not spec.stands
        ]
        self.base_fields = {**self.base_fields, **{spec.code: spec_field(spec) for spec in self.specs}}
        super().__init__(*args, initial=part.whole, **options)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        declared = self.instance.declared
        if declared is not None and not self.errors:
            try:
                declared.whole({**self.instance.whole, **{spec.code: cleaned.get(spec.code) for spec in self.specs}})
            except CoreError as error:
                field = error.field if error.field in self.fields else None
                self.add_error(field, error.message[:1].upper() + error.message[1:] + ".")
        return cleaned

    def clean_stars(self) -> int:
        return stars_of(self)

    @property
    def said(self) -> dict[str, Any]:
        """The specification as typed."""
        return {spec.code: self.cleaned_data.get(spec.code) for spec in self.specs}

    @property
    def own(self) -> dict[str, Any]:
        """The part's own columns."""
        return {name: self.cleaned_data[name] for name in self.Meta.fields}


class QuoteForm(forms.ModelForm):
    """What a supplier said."""

    price_minor = MoneyField(required=False, label="Price of one, or of a set")

    class Meta:
        model = Quote
        fields = ("supplier", "price_minor", "lead_days", "answer", "asked_on", "good_days", "variant")
        widgets = {"asked_on": DATE}
        labels = {
            "lead_days": "Lead time, days",
            "variant": "What was offered instead",
            "good_days": "Stands for, days",
        }

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        answers = [(key, name) for key, name in Quote.ANSWERS.items() if key not in ("waiting", "silent")]
        self.fields["answer"] = forms.ChoiceField(choices=answers, label="Answer", initial="offered")

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if (
            cleaned.get("answer") == "offered"
            and cleaned.get("price_minor") is None
            and "price_minor" not in self.errors
        ):
            self.add_error("price_minor", "An offer has a price; accepted: 310 or 310.50.")
        if cleaned.get("answer") == "wrong_variant" and not cleaned.get("variant"):
            self.add_error("variant", "Say what was offered instead.")
        return cleaned
