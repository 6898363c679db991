"""Forms of the mass bench: item, goal, the whole car, the best set, the scale."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.fields import PastDayField
from garage.file import CarFile
from garage.mass.ledger import items_of
from garage.mass.models import MassItem
from rimcore.limits import LIMITS
from rimcore.mass.ledger import AGAINST, GUARDED, STATES, Wanted
from rimcore.work.removed import FATES
from shell.forms import MoneyField, QuantityField
from shell.merge import Merged

#: what a best set may be asked for
ASKED = {
    "kg": "the most kilograms",
    "money": "the least money for the goal",
    "hours": "the least hours for the goal",
    "items": "the fewest items for the goal",
}


class ItemForm(Merged, forms.Form):
    """An item of the ledger, whole."""

    name = forms.CharField(max_length=80, label="What it is")
    state = forms.ChoiceField(choices=list(STATES.items()), label="Where it is")
    scale = forms.CharField(max_length=60, required=False, label="Which scale")
    weighed_on = PastDayField(label="Weighed")
    who = forms.CharField(max_length=60, required=False, label="Who")
    minutes = forms.FloatField(
        min_value=0,
        max_value=LIMITS["minutes"].high,
        required=False,
        label="Minutes it takes",
        help_text="blank: not timed",
    )
    cost_minor = MoneyField(required=False, label="Money it costs", help_text="asked where something goes back in")
    back_name = forms.CharField(max_length=80, required=False, label="Goes back in its place")
    reversible = forms.BooleanField(required=False, initial=True, label="It can go back in")
    comfort = forms.BooleanField(required=False, label="It costs comfort or noise")
    guarded = forms.ChoiceField(
        choices=[("", "no"), *((kind, words) for kind, words in GUARDED.items())],
        required=False,
        label="Airbag, belt, occupancy circuit, law",
    )
    reason = forms.CharField(
        max_length=200,
        required=False,
        label="Why it comes out all the same, and who does it",
        help_text="asked of what is never casual work",
    )
    needs = forms.MultipleChoiceField(required=False, label="Comes out only with")
    not_with = forms.MultipleChoiceField(required=False, label="Does not go with")
    fate = forms.ChoiceField(choices=list(FATES.items()), label="What became of it")
    sold_minor = MoneyField(required=False, label="Sold for")
    kept_where = forms.CharField(max_length=60, required=False, label="Shelf and box")

    def __init__(self, file: CarFile, item: MassItem | None, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, label, limit, words in (
            ("gross_kg", "With its box", "item_kg", "blank: not weighed yet"),
            ("tare_kg", "The empty box", "item_kg", "0 where it lay bare on the scale"),
            ("doubt_kg", "± of the scale", "item_doubt_kg", ""),
            ("back_kg", "Weight of what goes back", "item_kg", ""),
        ):
            self.fields[name] = QuantityField("mass", *LIMITS[limit].span, required=False, label=label, help_text=words)
        for name, label, limit in (
            ("behind_mm", "Behind the front axle", "item_along_mm"),
            ("right_mm", "Right of the centre line", "item_across_mm"),
            ("up_mm", "Above the ground", "item_up_mm"),
        ):
            self.fields[name] = QuantityField("length", *LIMITS[limit].span, required=False, label=label)
        others = [(one.label, f"{one.label} {one.name}") for one in items_of(file) if item is None or one.pk != item.pk]
        for name in ("needs", "not_with"):
            self.fields[name].choices = others  # type: ignore[attr-defined]
        self.order_fields(ORDER)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("back_name") and cleaned.get("back_kg") is None and "back_kg" not in self.errors:
            self.add_error(
                "back_kg", "Say what it weighs: what goes back counts against what came out; accepted: 0 to 1000 kg."
            )
        if cleaned.get("back_name") and cleaned.get("cost_minor") is None and "cost_minor" not in self.errors:
            self.add_error("cost_minor", "Say what it costs: what goes back has a price; accepted: 0 or more.")
        for name, empty in (("cost_minor", 0), ("sold_minor", 0), ("back_kg", 0.0), ("doubt_kg", 0.05)):
            if name in cleaned and cleaned[name] is None:
                cleaned[name] = empty
        if cleaned.get("gross_kg") is not None and cleaned.get("tare_kg") is None and "tare_kg" not in self.errors:
            cleaned["tare_kg"] = 0.0
        return cleaned


ORDER = (
    "name",
    "state",
    "gross_kg",
    "tare_kg",
    "doubt_kg",
    "scale",
    "weighed_on",
    "who",
    "minutes",
    "cost_minor",
    "back_name",
    "back_kg",
    "behind_mm",
    "right_mm",
    "up_mm",
    "reversible",
    "comfort",
    "guarded",
    "reason",
    "needs",
    "not_with",
    "fate",
    "sold_minor",
    "kept_where",
)


class GoalForm(Merged, forms.Form):
    """What the car is to weigh."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["phase_kg"] = QuantityField(
            "mass", *LIMITS["phase_kg"].span, required=False, label="Out in this phase, net"
        )
        self.fields["minimum_kg"] = QuantityField(
            "mass", *LIMITS["minimum_kg"].span, required=False, label="Class minimum"
        )


class WeighForm(forms.Form):
    """The whole car on a scale; held against the ledger afterwards."""

    who = forms.CharField(max_length=60, required=False, label="Who")
    taken_on = PastDayField(label="Weighed")
    fuel = forms.CharField(max_length=40, required=False, label="Fuel", help_text="the same each time")
    driver_aboard = forms.BooleanField(
        required=False, label="Driver aboard", help_text="then it is kept, and not checked against the ledger"
    )

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["car_kg"] = QuantityField("mass", *LIMITS["minimum_kg"].span, label="The scale says")
        self.fields["doubt_kg"] = QuantityField(
            "mass", *LIMITS["item_doubt_kg"].span, required=False, label="± of the scale", help_text="blank: as usual"
        )
        self.order_fields(("car_kg", "doubt_kg", "taken_on", "who", "fuel", "driver_aboard"))


class AskForm(forms.Form):
    """What the best set is asked for; kept in the address."""

    ask = forms.ChoiceField(choices=list(ASKED.items()), required=False, initial="kg", label="Wanted")
    money = MoneyField(required=False, label="Money at most", help_text="blank: as much as it takes")
    hours = forms.FloatField(min_value=0, max_value=10_000, required=False, label="Hours at most")
    against = forms.ChoiceField(choices=list(AGAINST.items()), required=False, initial="money", label="Curve")
    reversible = forms.BooleanField(required=False, label="Only what can go back in")
    comfort = forms.BooleanField(required=False, label="Nothing that costs comfort or noise")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["goal"] = QuantityField("mass", 0.1, 2000, required=False, label="Goal, net")
        self.order_fields(("ask", "goal", "money", "hours", "against", "reversible", "comfort"))

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if (
            cleaned.get("ask") in ("money", "hours", "items")
            and cleaned.get("goal") is None
            and "goal" not in self.errors
        ):
            self.add_error("goal", "Say the kilograms that are wanted; accepted: 0.1 to 2000 kg.")
        return cleaned

    @property
    def wanted(self) -> Wanted:
        """What is asked, for the core."""
        said = self.cleaned_data
        ask = said.get("ask") or "kg"
        return Wanted(
            None if ask == "kg" else ask,
            said.get("goal"),
            said.get("money"),
            said.get("hours"),
            said["reversible"],
            said["comfort"],
        )


class ScaleForm(forms.Form):
    """What the scale shows, for a thumb: name, full, empty."""

    name = forms.CharField(max_length=80, label="What lies on it", widget=forms.TextInput(attrs={"autofocus": True}))
    out = forms.BooleanField(required=False, initial=True, label="It is out of the car")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["gross_kg"] = QuantityField("mass", *LIMITS["item_kg"].span, label="With its box")
        self.fields["tare_kg"] = QuantityField(
            "mass",
            *LIMITS["item_kg"].span,
            required=False,
            label="The empty box",
            help_text="blank: the same as before",
        )
        self.fields["minutes"] = forms.FloatField(
            min_value=0, max_value=LIMITS["minutes"].high, required=False, label="Minutes"
        )
        self.order_fields(("name", "gross_kg", "tare_kg", "minutes", "out"))
        for field in (self.fields[name] for name in ("name", "gross_kg", "tare_kg", "minutes")):
            field.widget.attrs["class"] = field.widget.attrs.get("class", "") + " big"
