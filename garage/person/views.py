"""A person's settings."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from garage.person import services
from garage.person.forms import CopySchoolForm, PreferencesForm, ToleranceForm
from garage.person.models import Preferences, ToleranceSet
from shell.pages import status_of


def settings_page(request: HttpRequest) -> HttpResponse:
    """Units, own tolerance sets, password."""
    user: Any = request.user
    preferences = Preferences.objects.filter(user=user).first() or Preferences(user=user)
    what = request.POST.get("what", "")
    units = PreferencesForm(request.POST if what == "units" else None, instance=preferences)
    copy = CopySchoolForm(request.user, request.POST if what == "copy" else None, prefix="copy")
    sets = [
        (one, ToleranceForm(request.POST if what == f"set-{one.pk}" else None, instance=one, prefix=f"set-{one.pk}"))
        for one in ToleranceSet.objects.filter(owner=user)
    ]
    if request.method == "POST" and _keep_setting(request, what, units, copy, sets, preferences):
        return redirect("settings")
    context = {"presets": Preferences.PRESETS, "units": units, "copy": copy, "sets": sets, "preferences": preferences}
    return render(request, "garage/settings.html", context, status=status_of(units, copy, *(form for _, form in sets)))


def _keep_setting(
    request: HttpRequest, what: str, units: Any, copy: Any, sets: list[Any], preferences: Preferences
) -> bool:
    if what.removeprefix("preset-") in Preferences.PRESETS:
        services.keep_preferences(
            preferences, dict(zip(Preferences.UNITS, Preferences.PRESETS[what.removeprefix("preset-")], strict=True))
        )
        return True
    if what == "units" and units.is_valid():
        services.keep_preferences(preferences, units.cleaned_data)
        return True
    if what == "copy" and copy.is_valid():
        services.copy_school(request.user, copy.cleaned_data["school"], copy.cleaned_data["name"])
        return True
    for one, form in sets:
        if what == f"set-{one.pk}" and form.is_valid():
            services.change_set(one, form.cleaned_data)
            return True
        if what == f"remove-{one.pk}":
            services.remove_set(one)
            return True
    return False
