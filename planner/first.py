"""The first five minutes: three questions on one page, and a true judgement of the wheel well."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from garage.file import open_file
from garage.models import Car
from garage.services import add_car, set_present, take_reading
from planner.services import add_build, choose_pair
from rimcore.quantities.errors import CoreError
from rimcore.well.asked import PARAMS, check_values, check_where
from rimcore.well.stations import CORNER_NAMES, CORNERS, STATIONS, StationKind
from rimcore.well.where import WHERE
from rimcore.wheels.pair import ACCEPTED, parse_pair
from rimcore.wheels.paste import Offer
from shelf.services import add_offer
from shell.forms import CoreTextField, QuantityField
from shell.pages import status_of
from shell.undo import remember

#: where a wheel is tight most often; the rest of the plan is asked when it matters (common practice)
OFTEN = ("damper", "arch_12", "liner_front", "liner_rear")


class FirstForm(forms.Form):
    """What stands on the car, what is wanted, where it may be tight."""

    nickname = forms.CharField(max_length=60, initial="My car", label="The car")
    stands = CoreTextField(parse_pair, max_length=200, label="Wheel and tyre on it", help_text=ACCEPTED)
    rear = CoreTextField(parse_pair, max_length=200, required=False, label="At the rear, where it is other")
    wanted = CoreTextField(parse_pair, max_length=200, label="Wheel and tyre wanted", help_text="17x8 +40, 225/45R17")
    corner = forms.ChoiceField(choices=[(corner, CORNER_NAMES[corner]) for corner in CORNERS], label="Corner")
    station = forms.ChoiceField(
        choices=[(code, STATIONS[code].name) for code in OFTEN], initial="damper", widget=forms.RadioSelect, label="Station"
    )
    height_mm = QuantityField("length", "mm", *PARAMS["height_mm"].limit.span, required=False, label=PARAMS["height_mm"].label)
    value = QuantityField("length", "mm", label="Reading", help_text="at the lip: sideways from the sidewall")
    value2 = QuantityField("length", "mm", required=False, label="Up from the tread", help_text="at the lip only")

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
            cleaned["where"] = check_where(self.kind, {"height_mm": cleaned["height_mm"]} if "height_mm" in self.kind.params else {})
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


def start(request: HttpRequest) -> HttpResponse:
    """Three questions on one page; the answer is the bench at the corner that was read."""
    form = FirstForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        car = begin(request.user, form)
        return redirect("check", car.pk, form.cleaned_data["corner"])
    drawn = [(code, STATIONS[code], WHERE[code], f"garage/where/{WHERE[code].view}.html") for code in OFTEN]
    return render(request, "planner/start.html", {"form": form, "drawn": drawn}, status=status_of(form))


def begin(user: Any, form: FirstForm) -> Car:
    """A car with what stands on it, its first reading, and a build with what is wanted; all of it or nothing."""
    said = form.cleaned_data
    with remember(user, f"{said['nickname']} begun"):
        car = add_car(user, {"nickname": said["nickname"]})
        for end, line in (("F", said["stands"]), ("R", said["rear"] or said["stands"])):
            wheel, tyre = parse_pair(line)
            set_present(car, end, {"wheel": wheel.spec, "tyre": tyre.size})
        take_reading(open_file(user, car.pk), said["corner"], said["station"], form.reading())
        wheel, tyre = parse_pair(said["wanted"])
        wanted = [add_offer(car, user, offer, "", said["wanted"]) for offer in (Offer(wheel=wheel), Offer(tyre=tyre))]
        choose_pair(add_build(car, user, "First build", "daily"), user, wanted[0], wanted[1], "A")  # type: ignore[arg-type]
    return car
