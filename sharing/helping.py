"""A helper on another's car: the pages are the owner's, what may be done there goes by the helper's role."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import Resolver404, resolve

from garage.car.models import Car
from garage.person.models import Preferences
from sharing.models import Helper
from shell.undo import car_of

Answer = Callable[[HttpRequest], HttpResponse]

#: rooms in which somebody who measures and ticks may write: readings and rubs, job sheets, runs and logs
WORKS = ("garage.readings", "garage.chassis", "garage.logs", "workshop", "proof", "bench.logs", "bench.well.trials")
#: what a helper who plans may write beside that
PLANS = (*WORKS, "garage.air", "garage.engine", "garage.mass", "shelf", "bench", "planner")
#: what is the owner's alone, read or written: taking the car along, sharing it
OWNERS = ("exchange", "sharing")
READS = ("GET", "HEAD", "OPTIONS")


class Helping:
    """Where an address of a car is nobody's to the person who asks, and they help with that car, it is answered as to
    its owner.

    The pages of one's own cars never get here. A copy that is only read takes nothing in.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if _is_closed(request):
            return render(request, "sharing/closed.html", status=403)
        response = self.get_response(request)
        if response.status_code != 404 or not request.user.is_authenticated:
            return response
        helper = _helper(request)
        if helper is None:
            return response
        if not may(helper.role, request.method or "", request.path_info):
            return render(request, "sharing/not_yours.html", {"helper": helper}, status=403)
        return self.get_response(_as_owner(request, helper))


def _is_closed(request: HttpRequest) -> bool:
    """Is something sent to a car that was handed over? Only taking it off the list is left."""
    car = car_of(request.path)
    if (
        request.method in READS
        or car is None
        or not request.user.is_authenticated
        or request.path == f"/car/{car}/remove/"
    ):
        return False
    return Car.objects.filter(pk=car, owner=request.user, closed_on__isnull=False).exists()


def _helper(request: HttpRequest) -> Helper | None:
    car = car_of(request.path)
    if car is None:
        return None
    return (
        Helper.objects.select_related("car__owner", "person__preferences").filter(car=car, person=request.user).first()
    )


def may(role: str, method: str, path: str) -> bool:
    """May somebody in a role ask this of an address?

    >>> may("looks", "GET", "/car/1/measure/"), may("looks", "POST", "/car/1/measure/FL/bump/")
    (True, False)
    >>> may("works", "POST", "/car/1/measure/FL/bump/"), may("works", "POST", "/car/1/plan/choose/")
    (True, False)
    >>> may("plans", "POST", "/car/1/plan/choose/"), may("plans", "GET", "/car/1/export/")
    (True, False)
    """
    try:
        view: Any = resolve(path).func
    except Resolver404:
        return False
    room = view.__module__
    if _within(room, OWNERS):
        return False
    return method in READS or (role != "looks" and _within(room, PLANS if role == "plans" else WORKS))


def _within(room: str, rooms: tuple[str, ...]) -> bool:
    return any(room == one or room.startswith(f"{one}.") for one in rooms)


def _as_owner(request: Any, helper: Helper) -> HttpRequest:
    """The same request as the owner's own; whoever sent it stays known, and reads in their own units."""
    person: Any = helper.person
    owner: Any = helper.car.owner
    owner.read_by = getattr(person, "preferences", None) or Preferences(user=person)
    request.helper, request.helps_as = person, helper.get_role_display()
    request.user = owner
    found: HttpRequest = request
    return found
