"""Tags of a plan's pages."""

from __future__ import annotations

from typing import Any

from django import template
from django.urls import reverse

register = template.Library()


@register.simple_tag
def work_page(file: Any, task_id: str) -> str:
    """The page of a piece of work; a snag's cure leads to the plan of its own page."""
    build, _, key = task_id.partition(":")
    if not build.isdecimal() or key.startswith("fix"):
        return reverse("plan", args=[file.car.pk])
    return reverse("plan-task", args=[file.car.pk, int(build), key])
