"""What changes a person's settings; one transaction each."""

from __future__ import annotations

from contextlib import nullcontext
from typing import Any

from garage.person.models import Preferences, ToleranceSet
from rimcore.well.judge.tolerance import MARGIN_FIELDS, SCHOOLS
from shell.undo import remember

#: no rule in a hand is said to be better than this [mm] (common practice)
LEAST_OWN_MM = 0.02


def own_doubt_mm(found_mm: float) -> float:
    """A ± from repeats as it is kept: to a hundredth, and never nothing."""
    return max(LEAST_OWN_MM, round(found_mm, 2))


def keep_own_doubt(preferences: Preferences, method: str, doubt_mm: float | None) -> None:
    """A person's own ± of a method; None goes back to the stated one."""
    with remember(preferences.user, "± of a method"):
        kept = {name: value for name, value in preferences.own_doubts.items() if name != method}
        preferences.own_doubts = kept if doubt_mm is None else kept | {method: doubt_mm}
        preferences.save(update_fields=["own_doubts"])


def keep_own_honesty(preferences: Preferences, found: dict[str, dict[str, Any]], asked: bool = True) -> None:
    """What a person's own predictions taught, by kind; nothing goes back to what is worked out.

    Where nobody asked for it, as when a sheet is closed, it is no change of its own: undo takes the closing back.
    """
    with remember(preferences.user, "what your own predictions taught") if asked else nullcontext():
        preferences.own_honesty = found
        preferences.save(update_fields=["own_honesty"])


def keep_preferences(preferences: Preferences, values: dict[str, Any]) -> None:
    """Units of a person."""
    with remember(preferences.user, "units saved"):
        for name, value in values.items():
            setattr(preferences, name, value)
        preferences.save()


def copy_school(owner: Any, school: str, name: str) -> ToleranceSet:
    """One's own editable copy of a school's margins."""
    margins = {field: getattr(SCHOOLS[school], field) for field in MARGIN_FIELDS}
    with remember(owner, f"tolerance set {name} made"):
        return ToleranceSet.objects.create(owner=owner, school=school, name=name, **margins)


def change_set(one: ToleranceSet, values: dict[str, Any]) -> None:
    """Change the margins of one's own set."""
    with remember(one.owner, f"tolerance set {one.name} changed"):
        for name, value in values.items():
            setattr(one, name, value)
        one.save()


def remove_set(one: ToleranceSet) -> None:
    """Remove one's own set."""
    with remember(one.owner, f"tolerance set {one.name} removed"):
        one.delete()
