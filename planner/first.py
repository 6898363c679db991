"""The first five minutes: three questions on one page, and a true judgement of the wheel well."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from garage.car.models import Car
from garage.car.services import add_car, set_present
from garage.file import open_file
from garage.readings.services import take_reading
from planner.first_form import FIRST_STATIONS, FirstForm
from planner.services import add_build, choose_pair
from rimcore.lines import of_pair
from rimcore.well.read.rule import WHERE
from rimcore.well.read.stations import STATIONS
from rimcore.wheels.pair import parse_pair
from shelf.services import add_line
from shell.pages import status_of
from shell.undo import remember


def start(request: HttpRequest) -> HttpResponse:
    """Three questions on one page; the answer is the bench at the corner that was read."""
    form = FirstForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        car = begin(request.user, form.cleaned_data, form.reading())
        return redirect("check", car.pk, form.cleaned_data["corner"])
    drawn = [(code, STATIONS[code], WHERE[code], f"garage/where/{WHERE[code].view}.html") for code in FIRST_STATIONS]
    return render(request, "planner/start.html", {"form": form, "drawn": drawn}, status=status_of(form))


def begin(user: Any, said: dict[str, Any], reading: dict[str, Any]) -> Car:
    """A car with what stands on it, its first reading, and a build with what is wanted; all of it or nothing.

    Parameters
    ----------
    said : nickname, drive, suspension of both ends, ``stands``, ``rear``, ``wanted`` and ``wanted_rear`` as lines,
        corner and station
    reading : where the rule went, what it read, the typing and the day
    """
    with remember(user, f"{said['nickname']} begun"):
        car = add_car(user, {"nickname": said["nickname"], "drive": said["drive"]})
        for end, line in (("F", said["stands"]), ("R", said["rear"] or said["stands"])):
            wheel, tyre = parse_pair(line)
            car.axles.filter(end=end).update(suspension=said["suspension_front" if end == "F" else "suspension_rear"])
            set_present(car, end, {"wheel": wheel.spec, "tyre": tyre.size})
        take_reading(open_file(user, car.pk), said["corner"], said["station"], reading)
        build = add_build(car, user, "First build", "daily")
        lines = (
            (("A", said["wanted"]),) if not said["wanted_rear"] else (("F", said["wanted"]), ("R", said["wanted_rear"]))
        )
        for position, line in lines:
            wanted = [add_line(car, user, one, "", line) for one in of_pair(*parse_pair(line))]
            choose_pair(build, user, wanted[0], wanted[1], position)  # type: ignore[arg-type]
    return car
