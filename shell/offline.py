"""What was typed without a connection and is sent when it is back.

Each entry acts once, a clash is told and nothing is overwritten.
"""

from __future__ import annotations

import html
import re
from collections.abc import Callable
from datetime import timedelta

from django.conf import settings
from django.db import DataError, IntegrityError, transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import reverse
from django.utils import timezone

from shell.models import Sent
from shell.turn import turn_of

#: why the database takes something never
NOT_TAKEN = "something in it is too long, or holds a character that no text has"
KEY, FORCE = "X-Tally-Key", "X-Tally-Force"
#: keys are remembered for so long; a phone that comes back later has its entries looked at by hand
KEPT_FOR = timedelta(days=30)

_SAID = re.compile(r'<(span|p|div|strong)[^>]*(?:invalid-feedback|role="alert")[^>]*>(.*?)</\1>', re.DOTALL)


class Clash(Exception):
    """What was typed without a connection meets what came meanwhile; both are told."""

    def __init__(self, now: str) -> None:
        super().__init__(now)
        self.now = now


def is_late(request: HttpRequest) -> bool:
    """Was it typed without a connection, and has nobody said yet that it stands whatever came meanwhile?"""
    return bool(_key(request)) and request.headers.get(FORCE) != "1"


def _key(request: HttpRequest) -> str:
    """The entry's own key; empty where it has none."""
    key = request.headers.get(KEY, "")
    return key if 16 <= len(key) <= 64 else ""


class Late:
    """Entries that come late: once each, answered in short."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        key = _key(request)
        if request.method != "POST" or not key:
            return self.get_response(request)
        if not request.user.is_authenticated:
            return JsonResponse({"state": "signed_out"}, status=401)
        if request.headers.get("X-Tally-User", "") != str(request.user.pk):
            return JsonResponse({"state": "another"}, status=403)
        try:
            return self._once(request, key)
        except IntegrityError:
            return JsonResponse({"state": "kept"})

    def _once(self, request: HttpRequest, key: str) -> HttpResponse:
        """Kept together with its key, or neither."""
        if Sent.objects.filter(user=request.user, key=key).exists():
            return JsonResponse({"state": "kept"})
        with turn_of(request.user):
            Sent.objects.create(user=request.user, key=key)
            response = self.get_response(request)
            answer = _in_short(response)
            if answer.status_code != 200:
                transaction.set_rollback(True)
        return answer

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """A clash is answered with what stands now; the same made at the same moment is to be tried again."""
        if isinstance(exception, Clash):
            return JsonResponse({"state": "clash", "now": exception.now}, status=409)
        if not _key(request):
            return None
        if isinstance(exception, DataError):
            # However often it is sent, it is not taken.
            return JsonResponse({"state": "refused", "why": NOT_TAKEN}, status=422)
        return JsonResponse({"state": "later"}, status=503) if isinstance(exception, IntegrityError) else None


def _in_short(response: HttpResponse) -> HttpResponse:
    """What became of an entry: kept, refused with the words of its page, gone, or to be tried again."""
    if response.status_code in (401, 403, 409, 503) or isinstance(response, JsonResponse):
        return response
    if response.status_code == 302:
        signed_out = response.headers.get("Location", "").startswith(reverse(settings.LOGIN_URL))
        return JsonResponse({"state": "signed_out"}, status=401) if signed_out else JsonResponse({"state": "kept"})
    if response.status_code == 422:
        said = [
            html.unescape(re.sub(r"<[^>]+>", " ", found[1]))
            for found in _SAID.findall(response.content.decode(errors="replace"))
        ]
        words = " ".join(" ".join(said).split())
        return JsonResponse({"state": "refused", "why": words[:300] or "not accepted"}, status=422)
    if response.status_code == 404:
        return JsonResponse({"state": "refused", "why": "there is no such step or station any more"}, status=422)
    return JsonResponse({"state": "later"}, status=503)


def forget_sent() -> int:
    """Drop keys that nothing comes back for."""
    return Sent.objects.filter(at__lt=timezone.now() - KEPT_FOR).delete()[0]
