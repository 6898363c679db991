"""A page of a car, and what a refused form answers."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


def page(
    request: HttpRequest, file: Any, stage: str, template: str, context: dict[str, Any], status: int = 200
) -> HttpResponse:
    """A page of a car: board and spine come with it."""
    return render(request, template, {"file": file, "stage": stage, **context}, status=status)


def status_of(*bound: forms.BaseForm) -> int:
    """422 when a form was refused, so that what was typed is shown again as such."""
    return 422 if any(form.is_bound and form.errors for form in bound) else 200
