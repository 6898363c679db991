"""Three questions of the first five minutes, and the reading that answers the third."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.car.models import Axle, Car
from rimcore.quantities.errors import CoreError
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.declared import PARAMS, check_values, check_where
from rimcore.well.read.stations import STATIONS, StationKind
from rimcore.wheels.pair import ACCEPTED, parse_pair
from shell.forms import CoreTextField, QuantityField

#: where a wheel is tight most often; the rest of the plan is asked when it matters (common practice)
FIRST_STATIONS = ("damper", "arch_12", "liner_front", "liner_rear")


class FirstForm(forms.Form):
    """What stands on the car, what is wanted, where it may be tight."""

    nickname = forms.CharField(max_length=60, initial="My car", label="The car")
    stands = CoreTextField(parse_pair, max_length=200, label="Wheel and tyre on it", help_text=ACCEPTED)
    rear = CoreTextField(parse_pair, max_length=200, required=False, label="At the rear, where it is other")
    wanted = CoreTextField(parse_pair, max_length=200, label="Wheel and tyre wanted", help_text="17x8 +40, 225/45R17")
    wanted_rear = CoreTextField(
        parse_pair, max_length=200, required=False, label="At the rear, where another is wanted"
    )
    drive = forms.ChoiceField(choices=[("", "choose"), *Car.DRIVES.items()], label="Driven wheels")
    suspension_front = forms.ChoiceField(choices=[("", "choose"), *Axle.SUSPENSIONS.items()], label="Front suspension")
    suspension_rear = forms.ChoiceField(choices=[("", "choose"), *Axle.SUSPENSIONS.items()], label="Rear suspension")
    corner = forms.ChoiceField(choices=[(corner, CORNER_NAMES[corner]) for corner in CORNERS], label="Corner")
    station = forms.ChoiceField(
        choices=[(code, STATIONS[code].name) for code in FIRST_STATIONS],
        initial="damper",
        widget=forms.RadioSelect,
        label="Station",
    )
    height_mm = QuantityField(
        "length", *PARAMS["height_mm"].limit.span, required=False, label=PARAMS["height_mm"].label
    )
    value = QuantityField("length", label="Reading", help_text="at the lip: sideways from the sidewall")
    value2 = QuantityField("length", required=False, label="Up from the tread", help_text="at the lip only")

    @property
    def kind(self) -> StationKind:
        """The station that is chosen."""
        return STATIONS[self.cleaned_data["station"]]

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if self.errors:
            return cleaned
        given = [cleaned["value"], cleaned["value2"]][: len(self.kind.values)]
        if "height_mm" in self.kind.params and cleaned["height_mm"] is None:
            self.add_error("height_mm", "At which height did the rule lie? From the hub's centre upward.")
        elif None in given:
            self.add_error("value2", "The lip is read twice: sideways, then up from the tread.")
        else:
            self._check(cleaned, given)
        return cleaned

    def _check(self, cleaned: dict[str, Any], given: list[float]) -> None:
        try:
            cleaned["values"] = list(check_values(self.kind, given))
            cleaned["where"] = check_where(
                self.kind, {"height_mm": cleaned["height_mm"]} if "height_mm" in self.kind.params else {}
            )
        except CoreError as error:
            self.add_error("value" if error.field != "height_mm" else "height_mm", f"The reading {error.message}.")

    def reading(self) -> dict[str, Any]:
        """The reading as it is kept."""
        typed = [str(self.data.get(name, "")).strip() for name in ("value", "value2")][: len(self.kind.values)]
        return {
            "where": self.cleaned_data["where"],
            "values": self.cleaned_data["values"],
            "typed": " / ".join(typed),
            "taken_on": timezone.localdate(),
        }
