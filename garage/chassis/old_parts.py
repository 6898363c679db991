"""What stands on the chassis now, written down before it comes off: the parts that new ones are judged against."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from garage.chassis import services
from garage.chassis.ends import old_fault, old_of
from garage.chassis.forms import OldPartForm
from garage.chassis.load import chassis_of
from garage.chassis.models import OldPart
from garage.file import CarFile, open_file
from rimcore.families import CHASSIS, Family
from rimcore.tables.facts import ENDS
from shell.pages import page, status_of
from shell.people import called

#: families that only a live axle has
LEAF = ("leaf_pack", "lift_block", "u_bolt", "propshaft")


def families_at(file: CarFile, end: str) -> list[Family]:
    """Families that an end can have, by what the car's data say of its suspension."""
    axle = file.axles.get(end)
    leaf = axle is not None and axle.suspension == "live"
    return [family for key, family in CHASSIS.items() if end in family.ends and (leaf or key not in LEAF)]


def stands(request: HttpRequest, car_id: int) -> HttpResponse:
    """Both ends: what is written down, what is not."""
    file = open_file(request.user, car_id)
    rows = []
    for end, name in ENDS.items():
        if end not in file.axles:
            continue
        old = old_of(file, end)
        rows.append((end, name, [_row(file, family, end, old.get(family.key)) for family in families_at(file, end)]))
    return page(request, file, "measure", "garage/stands.html", {"ends": rows})


def _row(file: CarFile, family: Family, end: str, said: Any) -> dict[str, Any]:
    kept: OldPart | None = chassis_of(file).old.get((end, family.key))
    fault = old_fault(kept) if kept is not None else None
    return {"family": family, "said": family.said(said) if said else [], "kept": kept, "fault": fault}


def stands_part(request: HttpRequest, car_id: int, end: str, family: str) -> HttpResponse:
    """One part as it stands."""
    file = open_file(request.user, car_id)
    if end not in ENDS or family not in CHASSIS or end not in file.axles:
        raise Http404
    declared, kept = CHASSIS[family], chassis_of(file).old.get((end, family))
    user: Any = request.user
    initial = {**old_of(file, end).get(family, {}), "who": called(user)}
    form = OldPartForm(declared, request.POST if request.method == "POST" else None, initial=initial)
    if request.method == "POST" and form.is_valid():
        services.write_down(file.car, end, family, form.said, form.cleaned_data["who"], form.cleaned_data["noted_on"])
        messages.success(request, f"{declared.name.capitalize()}, {ENDS[end]}: recorded.")
        return redirect("stands", car_id)
    context = {"form": form, "family": declared, "end": end, "where": ENDS[end], "kept": kept}
    return page(request, file, "measure", "garage/stands_part.html", context, status_of(form))


@require_POST
def stands_remove(request: HttpRequest, car_id: int, end: str, family: str) -> HttpResponse:
    """What was written down of a part does not count; undo brings it back."""
    file = open_file(request.user, car_id)
    kept: OldPart | None = chassis_of(file).old.get((end, family))
    if kept is None:
        raise Http404
    services.drop_old(kept, request.user)
    return redirect("stands", car_id)
