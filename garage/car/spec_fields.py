"""Form fields from what a family declares of its parts."""

from __future__ import annotations

from typing import Any

from django import forms

from rimcore.limits import LIMITS
from rimcore.parts.declared import Spec
from shell.forms import CoreTextField, QuantityField
from shell.limits import Within


def spec_field(spec: Spec, required: bool | None = None) -> forms.Field:
    """The field of one thing of a specification, as declared; ``required`` overrules what it says of that."""
    label = spec.name[:1].upper() + spec.name[1:]
    common: dict[str, Any] = {
        "required": spec.required if required is None else required,
        "label": label,
        "help_text": spec.help,
    }
    if spec.choices:
        return forms.ChoiceField(choices=[("", "not known"), *spec.choices.items()], **common)
    if spec.read is not None:
        return CoreTextField(spec.read, max_length=60, **common)
    if spec.kind:
        return QuantityField(spec.kind, *LIMITS[spec.limit].span, **common)
    field = forms.IntegerField if spec.counted else forms.FloatField
    return field(validators=[Within(spec.limit)], **common)
