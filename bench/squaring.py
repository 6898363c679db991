"""A subframe or crossmember squared by four marks: sides, diagonals, and which way to nudge it."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect

from bench.frame import switch
from bench.squared import LENGTHS, ORDER, frame_of, judgements, newest_of, trials_of
from garage import services
from garage.file import CarFile, open_file
from garage.forms import PastDayField
from rimcore.quantities.errors import CoreError
from rimcore.quantities.limits import LIMITS
from rimcore.ride.framefit import judge_frame_fit
from rimcore.steering.drawing import marks_of
from rimcore.steering.setting import Frame
from rimcore.well.stations import CORNER_NAMES, CORNERS
from shell.forms import QuantityField
from shell.pages import page, status_of

#: field of the core -> length on the page
_FIELDS = {"front_left_to_rear_right_mm": "left_to_right_mm", "front_right_to_rear_left_mm": "right_to_left_mm"}


class MarksForm(forms.Form):
    """Six lengths between four plumb marks."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["what"] = forms.CharField(max_length=60, label="What is squared", help_text="front subframe, crossmember")
        for name, label in LENGTHS.items():
            self.fields[name] = QuantityField("length", *LIMITS["frame_mm"].span, label=label)
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = PastDayField()

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if all(cleaned.get(name) is not None for name in LENGTHS):
            try:
                Frame(*(cleaned[name] for name in ORDER))
            except CoreError as error:
                self.add_error(_FIELDS.get(error.field), f"These lengths can't close: {error.message}.")
        return cleaned


class BesideForm(forms.Form):
    """Something that leans towards the frame, tried at both ends of the stroke."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["what"] = forms.CharField(max_length=60, label="What leans in", help_text="toe link bolt, damper body")
        self.fields["corner"] = forms.ChoiceField(choices=[(one, CORNER_NAMES[one].capitalize()) for one in CORNERS], label="Corner")
        for name, label in (("bump_mm", "Gap at full bump"), ("droop_mm", "Gap at full droop")):
            text = "minus: it touches that much early"
            self.fields[name] = QuantityField("length", *LIMITS["frame_gap_mm"].span, required=False, label=label, help_text=text)
        self.fields["plate_mm"] = QuantityField("length", *LIMITS["plate_mm"].span, initial=2.0, label="Plate that goes back")
        self.fields["again"] = forms.BooleanField(required=False, label="Tried again after metal came away, nothing welded yet")
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = PastDayField()

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if not self.errors and cleaned.get("bump_mm") is None and cleaned.get("droop_mm") is None:
            raise forms.ValidationError("Nothing was tried; accepted: a gap at full bump, at full droop, or both.")
        return cleaned


def square(request: HttpRequest, car_id: int) -> HttpResponse:
    """The newest marks drawn and judged; the form starts from them, so that one nudge is one or two figures."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    newest = newest_of(file)
    initial: dict[str, Any] = {"who": user.get_short_name() or user.username}
    if newest is not None:
        initial |= {"what": newest.what, **{name: getattr(newest, name) for name in LENGTHS}}
    trial = request.POST.get("form") == "beside"
    beside = BesideForm(file, request.POST if trial else None, initial={"who": initial["who"]}, prefix="beside")
    if trial and beside.is_valid():
        services.keep_frame_trial(file.car, beside.cleaned_data)
        messages.success(request, "Trial kept.")
        return redirect("square", car_id)
    form = MarksForm(file, request.POST if request.method == "POST" and not trial else None, initial=initial)
    if form.is_bound and form.is_valid():
        services.keep_marks(file.car, form.cleaned_data)
        messages.success(request, "Marks kept.")
        return redirect("square", car_id)
    frame = frame_of(newest) if newest is not None else None
    context = {
        "form": form, "beside": beside, "trials": judge_frame_fit(trials_of(file)), "newest": newest, "frame": frame, "scene": marks_of(frame) if frame else None, "judged": [one for one in judgements(file) if one.code != "frame.room"],
        "history": [(one, frame_of(one)) for one in file.extra["marks"][1:]], "benches": switch(file), "here": "square",
    }  # fmt: skip
    return page(request, file, "check", "bench/square.html", context, status_of(form, beside))
