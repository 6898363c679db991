"""A subframe or crossmember squared by four marks: sides, diagonals, and which way to nudge it."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect

from bench.square.facts import LENGTHS, frame_of, judgements, newest_of, trials_of
from bench.square.forms import BesideForm, MarksForm
from garage.chassis import services
from garage.chassis.load import chassis_of
from garage.file import open_file
from rimcore.ride.framefit import judge_frame_fit
from rimcore.steering.drawing import marks_of
from shell.pages import page, status_of
from shell.people import called


def square(request: HttpRequest, car_id: int) -> HttpResponse:
    """The newest marks drawn and judged; the form starts from them, so that one nudge is one or two figures."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    newest = newest_of(file)
    initial: dict[str, Any] = {"who": called(user)}
    if newest is not None:
        initial |= {"what": newest.what, **{name: getattr(newest, name) for name in LENGTHS}}
    trial = request.POST.get("form") == "beside"
    beside = BesideForm(file, request.POST if trial else None, initial={"who": initial["who"]}, prefix="beside")
    if trial and beside.is_valid():
        services.keep_frame_trial(file.car, beside.cleaned_data)
        messages.success(request, "Trial saved.")
        return redirect("square", car_id)
    form = MarksForm(file, request.POST if request.method == "POST" and not trial else None, initial=initial)
    if form.is_bound and form.is_valid():
        services.keep_marks(file.car, form.cleaned_data)
        messages.success(request, "Marks saved.")
        return redirect("square", car_id)
    frame = frame_of(newest) if newest is not None else None
    context = {
        "form": form,
        "beside": beside,
        "trials": judge_frame_fit(trials_of(file)),
        "newest": newest,
        "frame": frame,
        "scene": marks_of(frame) if frame else None,
        "judged": [one for one in judgements(file) if one.code != "frame.room"],
        "history": [(one, frame_of(one)) for one in chassis_of(file).marks[1:]],
        "here": "square",
    }
    return page(request, file, "check", "bench/square/square.html", context, status_of(form, beside))
