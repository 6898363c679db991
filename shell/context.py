"""What every page gets."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone

from shell.undo import last_change, offered

#: how long the undo stands over the page; after that it lies at the foot
FRESH = timedelta(minutes=1)


def page(request: HttpRequest) -> dict[str, Any]:
    """Demo flag, theme, and the change that can still be undone."""
    user = getattr(request, "user", None)
    if user is None or not user.is_authenticated:
        return {"is_demo": settings.DEMO, "theme": request.COOKIES.get("theme", "auto")}
    helper = getattr(request, "helper", None)
    hidden = getattr(request, "htmx", False) or helper is not None
    newest = None if hidden else offered(last_change(user), request.path)
    return {
        "person": helper or user,
        "helping": user if helper is not None else None,
        "is_demo": settings.DEMO,
        "theme": request.COOKIES.get("theme", "auto"),
        "undoable": newest,
        "undo_fresh": newest is not None and timezone.now() - newest.made_at < FRESH,
    }
