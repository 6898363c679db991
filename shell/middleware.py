"""What can go wrong around any page, in our own words: too large, pressed twice."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.db import DataError, IntegrityError, transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect, QueryDict
from django.shortcuts import render
from django.utils import timezone

from shell import offline as late
from shell.merge import SEEN
from shell.models import Pressed
from shell.turn import turn_of
from shell.undo import on_pages_of

Answer = Callable[[HttpRequest], HttpResponse]

#: how long a second press waits for the first one's answer, and how often it looks [s]
WAIT_S, LOOK_S = 15.0, 0.05
#: the same form with the same in it counts as pressed twice for so long
AGAIN_AFTER = timedelta(minutes=1)


class TooLarge:
    """A request larger than any page takes is told so before it is read."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        length = str(request.META.get("CONTENT_LENGTH") or "0")
        most = settings.MOST_OF_LOGS_BYTES if request.path.endswith(settings.TAKE_LOGS) else settings.MOST_REQUEST_BYTES
        if length.isdecimal() and int(length) > most:
            return render(request, "shell/413.html", {"theme": "auto"}, status=413)
        return self.get_response(request)


class WithoutNul:
    """The character nought, which nobody types and PostgreSQL keeps in no text, is left out of what is asked."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: Any) -> HttpResponse:
        if "%00" in request.META.get("QUERY_STRING", "") or "\0" in request.META.get("QUERY_STRING", ""):
            request.GET = _without_nul(request.GET)
        return self.get_response(request)


def _without_nul(fields: QueryDict) -> QueryDict:
    clean = fields.copy()
    for name in list(clean):
        clean.setlist(name, [value.replace("\0", "") for value in fields.getlist(name)])
    return clean


class Bodiless:
    """An answer to HEAD says how long the page is and carries none of it."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if request.method == "HEAD" and not response.streaming:
            response.headers.setdefault("Content-Length", str(len(response.content)))
            response.content = b""
        return response


class Private:
    """What a signed-in person sees stays in no cache but their own.

    Pages and exports are not stored, pictures are asked for again.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        user = getattr(request, "user", None)
        if user is not None and user.is_authenticated and "Cache-Control" not in response.headers:
            response.headers["Cache-Control"] = (
                "private, no-cache" if response.headers.get("ETag") else "private, no-store"
            )
        return response


class Once:
    """A form that is sent twice acts once: the second press gets the first one's answer.

    Every form carries a token of its own. The first press keeps it together with what was typed; where the form
    comes back with errors both are free again. The same form with something else typed is another matter, and
    so is the same once more after a minute. What was sent without a token acts as it always did.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        token = request.POST.get("once", "") if request.method == "POST" else ""
        user = getattr(request, "user", None)
        if not 16 <= len(token) <= 64 or user is None or not user.is_authenticated:
            return self.get_response(request)
        key = f"{user.pk}:{token}:{_typed(request)}"
        if not _first(key):
            return _answer_of_first(request, key)
        try:
            response = self.get_response(request)
        except BaseException:
            Pressed.objects.filter(key=key).delete()
            raise
        if isinstance(response, HttpResponseRedirect):
            Pressed.objects.filter(key=key).update(answer=response.url[:2000])
        else:
            Pressed.objects.filter(key=key).delete()
        return response


def _typed(request: HttpRequest) -> str:
    """Digest of where the form went and what was in it; files by name and size."""
    told = [request.path, *(f"{name}={value}" for name in sorted(request.POST) for value in request.POST.getlist(name))]
    told += [
        f"{name}={file.name},{file.size}" for name in sorted(request.FILES) for file in request.FILES.getlist(name)
    ]
    return hashlib.sha256("\0".join(told).encode("utf-8", "surrogatepass")).hexdigest()[:24]


def _first(key: str) -> bool:
    Pressed.objects.filter(key=key, at__lt=timezone.now() - AGAIN_AFTER).delete()
    try:
        with transaction.atomic():
            Pressed.objects.create(key=key)
    except IntegrityError:
        return False
    return True


def _answer_of_first(request: HttpRequest, key: str) -> HttpResponse:
    """Where the first press led; while it is under way, wait."""
    until = time.monotonic() + WAIT_S
    while time.monotonic() < until:
        known = Pressed.objects.filter(key=key).first()
        if known is None or known.answer:
            break
        time.sleep(LOOK_S)
    else:
        known = None
    if known is None or not known.answer:
        messages.error(
            request,
            "That was pressed twice, and the first press failed. Check whether it was saved, and press again if not.",
        )
        return HttpResponseRedirect(request.headers.get("referer") or "/")
    return HttpResponseRedirect(known.answer)


class OneAtATime:
    """A form that says what it showed is compared with what is kept, and kept, in one transaction that holds the
    writer's lock.

    Two windows that send at the same moment come one after the other: the second is compared with what the first kept.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method != "POST" or not any(name == SEEN or name.endswith(f"-{SEEN}") for name in request.POST):
            return self.get_response(request)
        with turn_of(getattr(request, "user", None)):
            response = self.get_response(request)
            if response.status_code >= 500 or getattr(request, "not_saved", False):
                transaction.set_rollback(True)
        return response


class OfTheCar:
    """What is changed on the pages of a car is undone on its pages, and not on another's."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with on_pages_of(request.path, getattr(request, "helper", None)):
            return self.get_response(request)


#: what is told of an error of the database, which then has kept nothing
NOT_SAVED = {
    IntegrityError: "Not saved: the same was entered or removed at the same moment, perhaps in another window. Look again, then repeat it.",
    DataError: f"Not saved: {late.NOT_TAKEN}. Look again, then repeat it.",
}


class Clashes:
    """Two people, or two windows, that made the same thing at the same moment: a message instead of a fault."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        words = next((said for kind, said in NOT_SAVED.items() if isinstance(exception, kind)), None)
        if words is None or request.method != "POST" or late.KEY in request.headers:
            return None
        messages.error(request, words)
        request.not_saved = True  # type: ignore[attr-defined]
        came_from: Any = request.headers.get("referer")
        return HttpResponseRedirect(came_from or "/")


def forget_presses() -> int:
    """Drop what no second press will ask for any more."""
    return Pressed.objects.filter(at__lt=timezone.now() - AGAIN_AFTER).delete()[0]
