"""The ride bench: strokes of four corners at the height in hand, frequencies, and the dips that are driven again."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from bench.frame import switch
from bench.stood import judgements, stands
from garage import services
from garage.file import CarFile, open_file
from garage.forms import PastDayField, unit_of
from garage.inhand import in_hand
from garage.models import KnownDip
from rimcore.quantities.limits import LIMITS
from rimcore.ride.standing import BARS_H, BARS_W, bars, frequency_ratio
from rimcore.well.stations import CORNER_NAMES, CORNERS
from shell.forms import QuantityField
from shell.pages import page, status_of


class DipForm(forms.Form):
    """A known place, and what the cable tie showed there."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["name"] = forms.CharField(max_length=60, label="Place", help_text="farm lane by the bridge, at 40 km/h")
        self.fields["corner"] = forms.ChoiceField(choices=[(one, CORNER_NAMES[one].capitalize()) for one in CORNERS], label="Corner")
        self.fields["shaft_mm"] = QuantityField(
            "length",
            unit_of("length", file),
            *LIMITS["dip_mm"].span,
            label="Cable tie moved",
            help_text="along the shaft, from ride height; the damper is taken to move as the spring does",
        )
        self.fields["touched"] = forms.BooleanField(required=False, label="It touched")
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["driven_on"] = PastDayField()


def ride(request: HttpRequest, car_id: int) -> HttpResponse:
    """Bars, figures and judgements; a dip is kept with the height at which it was driven."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    form = DipForm(file, request.POST if request.method == "POST" else None, initial={"who": user.get_short_name() or user.username})
    if request.method == "POST" and form.is_valid():
        axle = file.on(file.current, form.cleaned_data["corner"][0])
        services.keep_dip(file.car, form.cleaned_data | {"ride_drop_mm": axle.ride_drop_mm if axle else 0.0})
        messages.success(request, f"{form.cleaned_data['name']} kept.")
        return redirect("ride", car_id)
    corners = stands(file)
    context = {
        "form": form, "bars": bars(corners), "width": BARS_W, "height": BARS_H, "corners": corners, "judged": judgements(file), "dips": file.extra["dips"],
        "in_hand": in_hand(file), "benches": switch(file), "here": "ride", "ratio": frequency_ratio(corners[0].sprung, corners[2].sprung),
    }  # fmt: skip
    return page(request, file, "check", "bench/ride.html", context, status_of(form))


@require_POST
def dip_remove(request: HttpRequest, car_id: int, dip_id: int) -> HttpResponse:
    """A drive that does not count; undo brings it back."""
    file = open_file(request.user, car_id)
    services.drop_dip(get_object_or_404(KnownDip, pk=dip_id, car=file.car), request.user)
    return redirect("ride", car_id)
