"""What every page gets."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.http import HttpRequest

from shell.undo import last_change


def page(request: HttpRequest) -> dict[str, Any]:
    """Demo flag, theme, and the change that can still be undone."""
    user = getattr(request, "user", None)
    if user is None or not user.is_authenticated:
        return {"is_demo": settings.DEMO, "theme": request.COOKIES.get("theme", "auto")}
    return {
        "is_demo": settings.DEMO,
        "theme": request.COOKIES.get("theme", "auto"),
        "undoable": None if getattr(request, "htmx", False) else last_change(user),
    }
