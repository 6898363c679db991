"""What a link shows to somebody without an account: what was ticked, and nothing else."""

from __future__ import annotations

from typing import Any, TypeVar

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_safe

from garage.file import CarFile, open_unkept
from garage.person.models import Preferences
from planner.chosen import builds_of, choices_of
from planner.dates.models import ClaimPicture, ReceiptPicture
from planner.queries import sums
from proof.book.chapters import CHAPTERS, book_of
from sharing import services
from sharing.models import Link
from shell.pictures import serve
from shell.throttle import address_of
from workshop.models import Job, Photo

Answered = TypeVar("Answered", bound=HttpResponseBase)

#: kind of picture -> its table and the way to its car
PICTURES: dict[str, tuple[Any, str]] = {
    "photo": (Photo, "job__car"),
    "claim": (ClaimPicture, "claim__choice__build__car"),
    "receipt": (ReceiptPicture, "choice__build__car"),
}


@login_not_required
@require_safe
def shared(request: HttpRequest, token: str) -> HttpResponse:
    """The page behind a link."""
    found = _opened(request, token, counts=True)
    if isinstance(found, HttpResponse):
        return found
    file, link = found
    shown = {"book": _book, "build": _build, "job": _job}[link.what](file, link)
    context = {"file": file, "link": link, "units": list(Preferences.PRESETS), **shown}
    return _closed_in(render(request, f"sharing/{link.what}.html", context))


@login_not_required
@require_safe
def picture(request: HttpRequest, token: str, kind: str, picture_id: int) -> HttpResponseBase:
    """A picture of the book, where its chapter was ticked; receipts where prices were."""
    found = _opened(request, token, counts=False)
    if isinstance(found, HttpResponse):
        return found
    file, link = found
    if link.what != "book" or "photos" not in link.chapters or kind not in PICTURES:
        raise Http404
    if kind == "receipt" and not link.money:
        raise Http404
    model, car = PICTURES[kind]
    return _closed_in(serve(get_object_or_404(model, pk=picture_id, **{car: file.car}).image))


def _opened(request: HttpRequest, token: str, counts: bool) -> HttpResponse | tuple[CarFile, Link]:
    """The file behind a link in the reader's units, or the answer that there is none."""
    address = address_of(request)
    if services.too_often(address):
        return _closed_in(render(request, "sharing/too_often.html", status=429))
    link = Link.objects.select_related("car__owner").filter(token=token).first()
    if counts or link is None:
        services.note_opening(address, link)
    if link is None:
        raise Http404
    if not link.holds:
        return _closed_in(render(request, "sharing/ended.html", status=410))
    owner: Any = link.car.owner
    request.read_in = owner.read_by = _units(request, owner)  # type: ignore[attr-defined]
    return open_unkept(owner, link.car_id), link


def _units(request: HttpRequest, owner: Any) -> Preferences:
    """The reader's choice, else the owner's."""
    preset = Preferences.PRESETS.get(request.GET.get("units", ""))
    if preset is None:
        return getattr(owner, "preferences", None) or Preferences(user=owner)
    return Preferences(user=owner, **dict(zip(Preferences.UNITS, preset, strict=True)))


def _closed_in(response: Answered) -> Answered:
    """Found by nobody who was not given the address: no index, no trace in what is asked next, kept nowhere."""
    response.headers["X-Robots-Tag"] = "noindex, nofollow, noarchive"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Cache-Control"] = "private, no-store"
    return response


def _book(file: CarFile, link: Link) -> dict[str, Any]:
    chapters = tuple(code for code in CHAPTERS if code in link.chapters)
    return {"book": book_of(file, chapters, link.money)}


def _build(file: CarFile, link: Link) -> dict[str, Any]:
    build = next((one for one in builds_of(file) if one.pk == link.number), None)
    if build is None:
        raise Http404
    return {"build": build, "choices": choices_of(build), "sums": sums(file, build)}


def _job(file: CarFile, link: Link) -> dict[str, Any]:
    job = get_object_or_404(Job, pk=link.number, car=file.car)
    return {"job": job, "steps": list(job.steps.order_by("place")[:500])}
