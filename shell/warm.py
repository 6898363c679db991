"""Work that would else fall to the first visitor of a serving process."""

from __future__ import annotations

from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.template.loader import get_template


def our_templates() -> list[str]:
    """Names of the product's own templates."""
    rooms = [Path(app.path, "templates") for app in apps.get_app_configs() if Path(app.path).is_relative_to(settings.BASE_DIR)]
    return sorted(str(path.relative_to(room)) for room in rooms for path in room.rglob("*.html") if ".venv" not in path.parts)


def compile_templates() -> int:
    """Compile every template of the product once; the loader keeps them. Gives their number."""
    names = our_templates()
    for name in names:
        get_template(name)
    return len(names)
