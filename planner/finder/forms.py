"""What is looked for, in one form; everything but the first question is optional."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django import forms
from django.utils import timezone

from garage.car.parts import Part
from garage.fields import DATE
from garage.file import CarFile
from garage.inhand import school_of
from planner.finder.options import families_of, may_come_out_kg, spares_of, to_go_kg
from rimcore.choosing.quick import OUT, PAIR, QUICK, quick_slots
from rimcore.families import FAMILIES
from shelf.queries import listed_of
from shell.forms import MoneyField, QuantityField

#: kinds of part that are looked for at once: more take too long to judge whole
MOST_SLOTS = 8
GOALS = {
    "money": "least money",
    "kg": "lightest",
    "lead_days": "soonest here",
    "score": "most room at the tightest gap",
    "width": "widest tyre",
    "stars": "most of your stars",
}


def _held(label: str, parts: Sequence[Part]) -> forms.TypedChoiceField:
    """One part of the list that every set is to have; blank: any."""
    choices = [("", "any"), *((str(one.pk), str(one)) for one in parts)]
    return forms.TypedChoiceField(choices=choices, coerce=int, empty_value=None, required=False, label=label)


class FindForm(forms.Form):
    """What may change, what is a must, what is best."""

    no_tight = forms.BooleanField(required=False, label="Nothing tight")
    no_open = forms.BooleanField(required=False, label="Nothing unmeasured")
    staggered = forms.BooleanField(required=False, label="Front and rear may differ")
    may_stay = forms.BooleanField(required=False, label="Each of it may also stay as it is")
    only_pinned = forms.BooleanField(required=False, label="Only what is pinned")
    no_drilling = forms.BooleanField(required=False, label="Nothing drilled into the body")
    no_papers = forms.BooleanField(required=False, label="Nothing that needs papers for the road")
    can_go_back = forms.BooleanField(required=False, label="What comes out can go back in")
    keep_comfort = forms.BooleanField(required=False, label="Nothing out that costs comfort or noise")
    keep_spare = forms.BooleanField(required=False, label="The spare still goes on")
    class_minimum = forms.BooleanField(required=False, label="Not under the class minimum")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.file = file
        choices = families_of(file)
        self.fields = {
            "change": forms.MultipleChoiceField(
                choices=list(choices.items()),
                widget=forms.CheckboxSelectMultiple,
                label="What is looked for",
                initial=[PAIR] if PAIR in choices else list(choices)[:1],
                error_messages={"required": "Nothing is chosen; accepted: one at the least."},
            ),
            "goal": forms.ChoiceField(choices=list(GOALS.items()), label="Best is"),
            "budget_minor": MoneyField(required=False, label="Budget"),
            "ready_on": forms.DateField(required=False, widget=DATE, label="Parts here by"),
            "chance_pct": forms.IntegerField(
                required=False, min_value=1, max_value=99, label="Ready for the event, % at least"
            ),
            "lighter_kg": QuantityField("mass", 0, 500, required=False, label="Lighter by at least"),
            "rim_low": forms.FloatField(required=False, min_value=8, max_value=30, label="Rim at least, in"),
            "rim_high": forms.FloatField(required=False, min_value=8, max_value=30, label="Rim at most, in"),
            "drop_mm": QuantityField("length", 0, 100, required=False, label="May be lowered by"),
            "spacer_mm": QuantityField("length", 0, 40, required=False, label="Spacers up to"),
            "camber_deg": QuantityField("angle", -6, 0, required=False, label="Camber to", help_text="such as −2°"),
            "school": forms.ChoiceField(
                choices=list(file.tolerance_names.items()), label="Margins", initial=school_of(file)
            ),
            "hold_wheel": _held("Hold this wheel", listed_of(file).wheels),
            "hold_tyre": _held("Hold this tyre", listed_of(file).tyres),
            "hold_part": _held("Hold this part", listed_of(file).parts),
            **self.fields,
        }

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        low, high = cleaned.get("rim_low"), cleaned.get("rim_high")
        if low is not None and high is not None and low > high:
            self.add_error("rim_high", "Out of order; accepted: not under the least.")
        if len(cleaned.get("change") or []) > MOST_SLOTS:
            self.add_error("change", f"{len(cleaned['change'])} at once; accepted: {MOST_SLOTS} at most.")
        wide = PAIR not in (cleaned.get("change") or [])
        if cleaned.get("goal") in ("score", "width") and wide and cleaned.get("change"):
            self.add_error("goal", "Room and width are of wheels and tyres: look for those too.")
        listed = listed_of(self.file)
        if cleaned.get("goal") == "stars" and not any(
            one.stars for one in (*listed.wheels, *listed.tyres, *listed.parts)
        ):
            self.add_error("goal", "Nothing on the list has stars yet: give some on a part's page.")
        if cleaned.get("may_stay") and cleaned.get("goal") in ("money", "lead_days") and not cleaned.get("lighter_kg"):
            self.add_error("may_stay", "Then changing nothing is best: say how much lighter, or another best.")
        self._known(cleaned)
        by = cleaned.get("ready_on")
        if by is not None and by < timezone.localdate():
            self.add_error("ready_on", "That day is over; accepted: today or later.")
        return cleaned

    def _known(self, cleaned: dict[str, Any]) -> None:
        """What a must needs to be known of the car is known."""
        if cleaned.get("keep_spare") and not spares_of(self.file):
            self.add_error("keep_spare", "No spare is noted: add it under Other sets of wheels, for: spare.")
        if cleaned.get("class_minimum") and may_come_out_kg(self.file) is None:
            self.add_error(
                "class_minimum", "The class minimum or the car’s own weight is not known: say them in Weight."
            )
        held = cleaned.get("hold_part")
        family = next((one.family for one in listed_of(self.file).parts if one.pk == held), "")
        if held and family not in (cleaned.get("change") or []):
            self.add_error("hold_part", f"Look for {FAMILIES[family].plural} too, or hold none.")

    @property
    def asked(self) -> dict[str, Any]:
        """As it is kept."""
        kept = dict(self.cleaned_data)
        by = kept["ready_on"]
        return kept | {"ready_on": by.isoformat() if by else None}


def quick_of(file: CarFile, code: str) -> dict[str, Any]:
    """First answers of a quick choice; nothing where it is none, or the list has nothing for it."""
    quick = QUICK.get(code)
    slots = quick_slots(code, families_of(file), MOST_SLOTS) if quick is not None else ()
    if quick is None or not slots:
        return {}
    first: dict[str, Any] = {"change": list(slots), "goal": quick.goal, "may_stay": quick.may_stay}
    if OUT in slots and to_go_kg(file):
        first["lighter_kg"] = to_go_kg(file)
    return first if quick.drop_mm is None else first | {"drop_mm": quick.drop_mm}
