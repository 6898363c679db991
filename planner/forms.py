"""Forms of the planner."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.car.parts import Part
from garage.fields import DATE
from garage.file import CarFile
from planner.models import Build, Choice
from rimcore.benches import LEVERS
from rimcore.parts.declared import Question
from rimcore.quantities.declared import PLACES, Lever
from rimcore.tables.facts import CORNERS as AT_CORNERS
from rimcore.work.ledger import PART_STATES
from shell.forms import MoneyField, QuantityField
from shell.merge import Merged

#: levers of a build's form with their places; those of a corner are set on their own bench
LISTED = [(lever, place) for lever in LEVERS.values() for place in lever.places if place not in AT_CORNERS]


class NamedForCar(forms.BaseForm):
    """A build's name, once a car, and its margins: a school's or one's own."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.file = file
        self.fields["tolerance"] = forms.ChoiceField(choices=list(file.tolerance_names.items()), label="Margins")

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"]
        itself = getattr(self, "instance", None)
        if self.file.car.builds.filter(name=name).exclude(pk=itself.pk if itself else None).exists():
            raise forms.ValidationError("There is a build of that name; choose another.")
        return name


def field_of(lever: Lever, place: str) -> str:
    """Name of a lever's field."""
    return f"{lever.code}_{place}" if place else lever.code


def lever_field(lever: Lever, place: str) -> forms.Field:
    """A lever's field, as declared; blank is untouched."""
    label = f"{PLACES[place]}, {lever.name[:1].lower()}{lever.name[1:]}" if place else lever.name
    if lever.kind == "flag":
        return forms.BooleanField(required=False, label=label, help_text=lever.help)
    if lever.kind == "choice":
        return forms.ChoiceField(choices=list(lever.choices.items()), required=False, label=label, help_text=lever.help)
    if not lever.quantity:
        return forms.FloatField(
            min_value=lever.span.low, max_value=lever.span.high, required=False, label=label, help_text=lever.help
        )
    return QuantityField(lever.quantity, *lever.span.span, required=False, label=label, help_text=lever.help)


class NewBuildForm(NamedForCar, forms.Form):
    """Name and school of a new build."""

    name = forms.CharField(max_length=60)


class BuildForm(Merged, NamedForCar, forms.ModelForm):
    """A build's own figures, and the levers of every bench as they are declared."""

    class Meta:
        model = Build
        fields = (
            "name",
            "tolerance",
            "hours_estimate",
            "follows",
            "begins_early",
            "tuning_on",
            "first_drive_on",
            "note",
        )
        help_texts = {"hours_estimate": "blank: worked out from what is done"}
        labels = {
            "hours_estimate": "Hours, own estimate",
            "tuning_on": "Tuned on",
            "first_drive_on": "First drive",
            "follows": "Comes after the build",
            "begins_early": "Begin before every part is there",
        }
        widgets = {"tuning_on": DATE, "first_drive_on": DATE}

    field_order = ("name", "tolerance", *(field_of(lever, place) for lever, place in LISTED))

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        build: Build = options["instance"]
        set_to = {field_of(lever, place): build.lever(lever.code, place) for lever, place in LISTED}
        self.base_fields = {
            **self.base_fields,
            **{field_of(lever, place): lever_field(lever, place) for lever, place in LISTED},
        }
        super().__init__(file, *args, initial=set_to, **options)
        follows: Any = self.fields["follows"]
        follows.queryset = file.car.builds.exclude(pk=build.pk)
        follows.empty_label = "no other build"

    def clean_follows(self) -> Build | None:
        found: Build | None = self.cleaned_data["follows"]
        at, seen = found, set()
        while at is not None and at.pk not in seen:
            if at.pk == self.instance.pk:
                raise forms.ValidationError("That build follows this one already; accepted: another one.")
            seen.add(at.pk)
            at = at.follows
        return found

    @property
    def levers(self) -> dict[tuple[str, str], Any]:
        """What every lever is to be, by code and place."""
        named = {field_of(lever, place): (lever.code, place) for lever, place in LISTED}
        return {
            named[name]: value if value != "" else None for name, value in self.cleaned_data.items() if name in named
        }

    @property
    def own(self) -> dict[str, Any]:
        """The build's own columns."""
        return {name: self.cleaned_data[name] for name in self.Meta.fields}

    def clean_hours_estimate(self) -> float | None:
        hours: float | None = self.cleaned_data["hours_estimate"]
        if hours is not None and not 0 <= hours <= 2000:
            raise forms.ValidationError("Out of range; accepted: 0 to 2000 hours.")
        return hours


class PutForm(forms.Form):
    """A part of the list on its way into a build: where, how many, and the questions of the counter."""

    position = forms.ChoiceField(label="Goes on")
    quantity = forms.IntegerField(min_value=1, max_value=200, label="How many, or how many sets")

    def __init__(self, builds: list[Build], part: Part, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.builds = builds
        self.fields = {"build": forms.ChoiceField(choices=[(build.pk, build.name) for build in builds]), **self.fields}
        can = part.declared.positions if part.declared is not None else tuple(Choice.POSITIONS)
        choices = [(code, Choice.POSITIONS[code]) for code in can]
        if part.declared is not None and not part.declared.usual_position:
            choices = [("", "choose"), *choices]
        position: Any = self.fields["position"]
        position.choices = choices
        self.asked = part.declared.asks if part.declared is not None else ()
        self.fields.update({f"ask_{ask.code}": question_field(ask) for ask in self.asked})

    @property
    def answers(self) -> dict[str, str]:
        """What was answered, by code; blank is left open."""
        return {
            ask.code: self.cleaned_data[f"ask_{ask.code}"]
            for ask in self.asked
            if self.cleaned_data.get(f"ask_{ask.code}")
        }

    @property
    def build(self) -> Build:
        return next(build for build in self.builds if str(build.pk) == self.cleaned_data["build"])


def question_field(ask: Question) -> forms.ChoiceField:
    """A question of the counter; it may be left open, and then stands open on the board."""
    choices = [("", "not asked yet"), *((choice, choice) for choice in ask.choices)]
    return forms.ChoiceField(choices=choices, required=False, label=ask.ask, help_text=ask.why)


class AnswerForm(forms.Form):
    """The questions of the counter of a part that is in a build."""

    def __init__(self, choice: Choice, *args: Any, **options: Any) -> None:
        declared = choice.part.declared
        self.asked = declared.asks if declared is not None else ()
        super().__init__(*args, initial=choice.answers, **options)
        self.fields.update({ask.code: question_field(ask) for ask in self.asked})


class StateForm(forms.Form):
    """What happened to a part, and when."""

    state = forms.ChoiceField(choices=list(PART_STATES.items()))
    on = forms.DateField(widget=DATE, initial=timezone.localdate, label="On")
    sold_minor = MoneyField(required=False, label="Sold for")
    fees_minor = MoneyField(required=False, label="Fees, postage, restocking", help_text="of selling or sending back")


class ChoiceForm(Merged, forms.ModelForm):
    """Quantity, position, price, lead time of a part in a build."""

    price_minor = MoneyField(required=False, label="Price of one", help_text="blank: as offered")

    class Meta:
        model = Choice
        fields = ("position", "quantity", "price_minor", "lead_days")

    def clean_quantity(self) -> int:
        quantity: int = self.cleaned_data["quantity"]
        if not 1 <= quantity <= 200:
            raise forms.ValidationError("Out of range; accepted: 1 to 200.")
        return quantity
