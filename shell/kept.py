"""Pages kept until the person changes something: read again, they cost next to nothing."""

from __future__ import annotations

import hashlib
from collections.abc import Callable

from django.conf import settings
from django.core.cache import caches
from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone

from shell.context import FRESH
from shell.models import Stamp
from shell.once import CSRF_HOLDER, HOLDER, new_token
from shell.undo import last_change

Answer = Callable[[HttpRequest], HttpResponse]


class KeptPages:
    """A car's pages are kept by person, address and what else shows on them; every POST of the person makes them old.

    All that a page shows of a garage is changed by its owner's own POSTs alone. Pages with a running clock
    or a message that is waiting are not kept, and none is kept over midnight.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.user.is_authenticated or not settings.KEEP_PAGES:
            return _with_tokens(request, self.get_response(request))
        if request.method not in ("GET", "HEAD"):
            try:
                return _with_tokens(request, self.get_response(request))
            finally:
                _touch(request.user.pk)
        key = _key(request)
        known = caches["pages"].get(key) if key else None
        if known is not None:
            return _with_tokens(request, HttpResponse(known))
        response = self.get_response(request)
        if key and _keepable(response):
            caches["pages"].set(key, response.content)
        return _with_tokens(request, response)


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


def _touch(user_id: int | None) -> None:
    """A new stamp for a person; nothing for one who has just left."""
    if user_id is None:
        return
    if not Stamp.objects.filter(user_id=user_id).update(number=F("number") + 1):
        Stamp.objects.get_or_create(user_id=user_id)


def _key(request: HttpRequest) -> str | None:
    """Everything that the page depends on, whichever session asks; None where it is not kept."""
    waiting = "messages" in request.COOKIES or "_messages" in request.session
    if not request.path.startswith("/car/") or "/fit/" in request.path or waiting:
        return None
    stamp = Stamp.objects.filter(user_id=request.user.pk).values_list("number", flat=True).first()
    newest = last_change(request.user)
    undo = (newest.pk, timezone.now() - newest.made_at < FRESH) if newest is not None else None
    told = (
        request.user.pk, request.user.username, stamp, undo, timezone.localdate(), request.get_full_path(), request.headers.get("HX-Request"),
        request.headers.get("HX-Boosted"), request.COOKIES.get("theme"), request.is_secure(),
    )  # fmt: skip
    return hashlib.sha256(repr(told).encode()).hexdigest()
