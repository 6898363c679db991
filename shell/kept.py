"""What was read of a car and its pages, kept until something of it is written.

Asked again, they cost next to nothing.
"""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Callable
from contextvars import ContextVar
from dataclasses import dataclass, field
from typing import Any, TypeVar, cast

from cachetools import LRUCache
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone

from shell.context import FRESH
from shell.guided import KEY as GUIDE
from shell.once import CSRF_HOLDER, HOLDER, new_token
from shell.revision import numbers_of
from shell.undo import car_of, last_change

Answer = Callable[[HttpRequest], HttpResponse]
Thing = TypeVar("Thing")

#: most that a serving process keeps [bytes]
MOST_OF_PAGES, MOST_OF_THINGS = 48_000_000, 96_000_000


class Shelf:
    """Things by key, the least lately used first to go where together they weigh too much."""

    def __init__(self, most: int) -> None:
        self._kept: LRUCache[Any, tuple[int, Any]] = LRUCache(most, getsizeof=lambda entry: entry[0])
        self._lock = threading.Lock()

    def get(self, key: Any) -> Any:
        with self._lock:
            entry = self._kept.get(key)
        return None if entry is None else entry[1]

    def take(self, key: Any) -> Any:
        """What is kept, and it is this caller's alone until it is put back."""
        with self._lock:
            entry = self._kept.pop(key, None)
        return None if entry is None else entry[1]

    def put(self, key: Any, thing: Any, weight: int) -> None:
        """Kept where it fits at all."""
        with self._lock:
            if weight <= self._kept.maxsize:
                self._kept[key] = (weight, thing)

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()


pages, things = Shelf(MOST_OF_PAGES), Shelf(MOST_OF_THINGS)


@dataclass
class Reading:
    """One answer that only reads: the revisions it stands on, and what it has taken from the shelf."""

    user_id: int
    #: whoever reads: the owner, or a helper with units of their own
    asker_id: int
    taken: dict[Any, tuple[Any, Any, Callable[[Any], int]]] = field(default_factory=dict)
    #: it tells the moment, so that nothing of it is kept
    passing: bool = False
    _numbers: dict[int, int] | None = None

    @property
    def numbers(self) -> dict[int, int]:
        if self._numbers is None:
            self._numbers = numbers_of(self.user_id)
        return self._numbers

    def put_back(self) -> None:
        for key, (mark, thing, weigh) in self.taken.items():
            things.put(key, (mark, thing), weigh(thing))


_reading: ContextVar[Reading | None] = ContextVar("reading", default=None)


def of_the_car(car: int, user_id: int, read: Callable[[], Thing], weigh: Callable[[Any], int]) -> Thing:
    """What ``read`` reads of a car; within an answer that only reads, as it was kept at this revision and day.

    Two answers at once never hold the same: whoever comes second reads anew. ``weigh`` gives bytes.
    """
    here = _reading.get()
    if here is None or here.user_id != user_id or not settings.KEEP_READ:
        return read()
    key = (user_id, here.asker_id, car)
    if key in here.taken:
        return cast(Thing, here.taken[key][1])
    mark = (here.numbers.get(car), timezone.localdate())
    known = things.take(key)
    thing = known[1] if known is not None and known[0] == mark else read()
    if mark[0] is not None:
        here.taken[key] = (mark, thing, weigh)
    return thing


def of_now() -> None:
    """What is being answered tells the moment (a clock that runs).

    Neither its page nor what was worked out of it is kept.
    """
    here = _reading.get()
    if here is not None:
        here.passing = True


def forget() -> None:
    """Nothing is kept any more in this process."""
    pages.clear()
    things.clear()


class KeptPages:
    """A car's pages, and what was read of it, are kept by the revisions of its owner's cars (``shell.revision``).

    What tells the moment (``of_now``), sheets of work and pages with a message that is waiting are not kept, and
    nothing is kept over midnight.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.user.is_authenticated or request.method not in ("GET", "HEAD"):
            return _with_tokens(request, self.get_response(request))
        here = Reading(request.user.pk, (getattr(request, "helper", None) or request.user).pk)
        key = _key(request, here) if settings.KEEP_PAGES else None
        known = pages.get(key) if key else None
        if known is not None:
            return _with_tokens(request, HttpResponse(known))
        response = self._read(request, here)
        if key and not here.passing and _keepable(response):
            pages.put(key, response.content, len(response.content))
        return _with_tokens(request, response)

    def _read(self, request: HttpRequest, here: Reading) -> HttpResponse:
        """Answered by what is kept; what broke an answer is not put back."""
        token = _reading.set(here)
        try:
            response = self.get_response(request)
        finally:
            _reading.reset(token)
        if response.status_code < 500 and not response.streaming and not here.passing:
            here.put_back()
        return response


def _keepable(response: HttpResponse) -> bool:
    """A whole page with nothing said beside it."""
    html = response.headers.get("Content-Type", "").startswith("text/html")
    return (
        response.status_code == 200
        and not response.streaming
        and html
        and set(response.headers) <= {"Content-Type", "Vary", "Content-Length"}
    )


def _with_tokens(request: HttpRequest, response: HttpResponse) -> HttpResponse:
    """A new token for every form, and the session's own where Django's goes."""
    if response.streaming:
        return response
    if CSRF_HOLDER.encode() in response.content:
        response.content = response.content.replace(CSRF_HOLDER.encode(), get_token(request).encode())
    if HOLDER.encode() not in response.content:
        return response
    parts = response.content.split(HOLDER.encode())
    whole = [parts[0]]
    for part in parts[1:]:
        whole += [new_token().encode(), part]
    response.content = b"".join(whole)
    return response


def _key(request: HttpRequest, here: Reading) -> str | None:
    """Everything that the page depends on, whichever session asks; None where it is not kept."""
    waiting = "messages" in request.COOKIES or "_messages" in request.session or GUIDE in request.session
    car = car_of(request.path)
    if car is None or "/fit/" in request.path or waiting or car not in here.numbers:
        return None
    newest = last_change(request.user)
    undo = (newest.pk, timezone.now() - newest.made_at < FRESH) if newest is not None else None
    told = (
        request.user.pk,
        here.asker_id,
        request.user.username,
        sorted(here.numbers.items()),
        undo,
        timezone.localdate(),
        request.get_full_path(),
        request.headers.get("HX-Request"),
        request.headers.get("HX-Boosted"),
        request.COOKIES.get("theme"),
        request.is_secure(),
    )
    return hashlib.sha256(repr(told).encode()).hexdigest()
