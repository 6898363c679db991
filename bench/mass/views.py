"""The mass bench: the ledger, the car from above with its kilograms, the best set with its frontier, the scale on the
phone, and labels.
"""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone

from bench.frame.gauges import Taken, simulated
from bench.mass.facts import BALLAST, balanced, ballast_of, car_now, judgements, wanted_of
from bench.mass.forms import ORDER, AskForm, GoalForm, ItemForm, ScaleForm, WeighForm
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from garage.mass import services
from garage.mass.ledger import goal_of, items_of, ledger_of, scales, weighed_of
from garage.mass.models import MassItem
from planner import services as planning
from planner.chosen import build_in_hand
from planner.lighter import address_of, lighter_of, take
from planner.wants import keep_up
from planner.wants_form import WantsForm, asked_of, want_it
from rimcore.mass.drawing import frontier_of, mass_line, plan
from rimcore.mass.ledger import ORDERS, STRIP_OUT, Best, best_set, ordered, totals
from rimcore.quantities.errors import CoreError
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from shell.codes import code_of
from shell.pages import page, status_of
from shell.people import called
from shell.undo import remember

#: rows of the ledger that a page shows unasked, the newest
SHOWN = 60


def mass(request: HttpRequest, car_id: int) -> HttpResponse:
    """Ledger, plan view, the line with goal and minimum, corners before and after, the best set."""
    file = open_file(request.user, car_id)
    what = request.POST.get("form", "") if request.method == "POST" else ""
    goal = GoalForm(file, request.POST if what == "goal" else None, initial=_goal(file))
    if what == "goal" and goal.is_valid():
        services.set_goal(file.car, goal.cleaned_data)
        _keep_up(request, car_id)
        messages.success(request, "Goal saved.")
        return redirect("mass", car_id)
    if what == "plan":
        return _planned(request, file)
    wants = _wants(request, file)
    if wants is not None and wants.is_bound and wants.is_valid():
        want_it(request, file, wants)
        return redirect("mass", car_id)
    weigh, shown = _weighing(request, file, what)
    if what == "weigh" and weigh.is_valid():
        services.weigh_car(file, weigh.cleaned_data, str(weigh["car_kg"].value()))
        crewed = weigh.cleaned_data["driver_aboard"]
        messages.success(
            request,
            "Saved. With somebody aboard the ledger is not checked against it."
            if crewed
            else "Kept; the ledger is checked against it.",
        )
        return redirect("mass", car_id)
    asked = {name: value for name, value in request.GET.items() if name in AskForm.base_fields or name == "goal"}
    ask = AskForm(file, asked) if asked else AskForm(file)
    best = _best(file, ask, bool(asked))
    if request.headers.get("HX-Request"):
        context = (
            {"file": file, "ask": ask, **_found(request, file, best)}
            if asked
            else {"file": file, **_ledger(request, file)}
        )
        return render(request, "bench/mass/best.html" if asked else "bench/mass/sheet.html", context)
    context = {
        "goal_form": goal,
        "weigh": weigh,
        "taken": shown,
        "ask": ask,
        "here": "mass",
        "wants": wants,
        **_ledger(request, file),
        **_found(request, file, best),
    }
    return page(
        request,
        file,
        "check",
        "bench/mass/mass.html",
        context,
        status_of(goal, weigh, *([ask] if asked else []), *([wants] if wants is not None else [])),
    )


def _keep_up(request: HttpRequest, car_id: int) -> None:
    """The build that has ballast has as much as the goal wants now."""
    file = open_file(request.user, car_id)
    build = build_in_hand(file)
    if build is not None:
        keep_up(file, build, request.user, BALLAST, wanted_of(file, build))


def _wants(request: HttpRequest, file: CarFile) -> WantsForm | None:
    """Ballast for the build in hand; None where none is wanted, or there is no build."""
    return asked_of(request, file, BALLAST, lambda build: wanted_of(file, build))


def _weighing(request: HttpRequest, file: CarFile, what: str) -> tuple[WeighForm, Taken | None]:
    """The form for the whole car, filled by the weighbridge where it was asked for.

    It shows the car as the ledger has it.
    """
    user: Any = request.user
    first: dict[str, Any] = {"who": called(user), "taken_on": timezone.localdate()}
    now = car_now(file)
    shown = simulated(request.GET.get("gauge", ""), {"car": now.kg}, file.car.pk) if now is not None else None
    if shown is not None:
        first |= {"car_kg": shown.initial().get("car"), "doubt_kg": shown.doubt, "who": shown.source}
    return WeighForm(file, request.POST if what == "weigh" else None, initial=first), shown


def _goal(file: CarFile) -> dict[str, Any]:
    kept = ledger_of(file).goal
    return {} if kept is None else {"phase_kg": kept.phase_kg, "minimum_kg": kept.minimum_kg}


def _best(file: CarFile, ask: AskForm, asked: bool) -> Best | None:
    if not asked or not ask.is_valid():
        return None
    return best_set((*weighed_of(file), *lighter_of(file)), ask.wanted, ask.cleaned_data["against"] or "money")


def _ledger(request: HttpRequest, file: CarFile) -> dict[str, Any]:
    """Rows, sums, the drawing and the corners."""
    items, car = weighed_of(file), file.car
    out, planned = totals(items), totals(items, ("planned",))
    corners = balanced(file)
    rows = items_of(file)
    by = request.GET.get("by", "label")
    by = by if by in ORDERS else "label"
    if by != "label":
        places = {one.label: place for place, one in enumerate(ordered(items, by))}
        rows = sorted(rows, key=lambda row: places[row.label])
    shown = rows if request.GET.get("all") else rows[:SHOWN] if by != "label" else rows[-SHOWN:]
    context: dict[str, Any] = {
        "items": shown,
        "hidden": len(rows) - len(shown),
        "here_url": reverse("mass", args=[file.car.pk]),
        "judged": judgements(file),
        "in_hand": in_hand(file),
        "out": out,
        "planned": planned,
        "corners": None,
        "missing": "",
        "by": by,
        "orders": ORDERS,
    }
    if car.wheelbase_mm and car.track_front_mm:
        context["squares"] = plan(items, car.wheelbase_mm, car.track_front_mm)
    now = car_now(file)
    if now is not None:
        context["line"] = mass_line(scales(file)[-1][1].kg, now.kg, planned, goal_of(file))
    if isinstance(corners, str):
        return context | {"missing": corners}
    before, then = corners.pads
    each = [
        {"corner": CORNER_NAMES[corner], "before": corners.before.pads_kg[k], "after": corners.after.pads_kg[k]}
        for k, corner in enumerate(CORNERS)
    ]
    return context | {
        "corners": each,
        "before": before,
        "then": then,
        "places": corners.places,
        "unplaced": corners.unplaced,
        "balance": corners,
        "ballast": ballast_of(file),
    }


def _found(request: HttpRequest, file: CarFile, best: Best | None) -> dict[str, Any]:
    if best is None:
        return {"best": None}
    car_id = file.car.pk
    chosen = [
        (one, address_of(car_id, one.label) if one.listed else reverse("mass-item", args=[car_id, one.label]))
        for one in best.chosen
    ]
    drawn = frontier_of(best.found.frontier or ())
    rest = request.GET.copy()
    rest.pop(best.against, None)
    rest["ask"] = "kg"
    dots = (
        [
            (x, y, kg, cost, f"?{rest.urlencode()}&{best.against}={max(cost, 0):.{PLACES[best.against]}f}")
            for x, y, kg, cost in drawn.dots
        ]
        if drawn
        else []
    )
    return {"best": best, "chosen": chosen, "frontier": drawn, "dots": dots}


#: decimals of a limit that a step of the curve becomes
PLACES = {"money": 2, "hours": 6}


def _planned(request: HttpRequest, file: CarFile) -> HttpResponse:
    """The set that was shown is planned.

    Items for the strip session of the build in hand, parts of the shortlist into it.
    """
    labels = request.POST.getlist("label")
    build = build_in_hand(file)
    if build is None:
        messages.error(request, "First make a build current: the strip session goes onto its sheet.")
        return redirect("mass", file.car.pk)
    with remember(request.user, "a best set is planned"):
        count = services.plan_items(file.car, request.user, labels)
        planning.change_build(build, request.user, {}, {(STRIP_OUT.code, ""): bool(count)})
        parts = take(file, build, request.user, labels)
    words = (
        [f"{count} item{'s' if count != 1 else ''} planned; {build.name} has a strip session."]
        if count or not parts
        else []
    )
    words += [f"{parts} part{'s' if parts != 1 else ''} of the shortlist put into {build.name}."] if parts else []
    messages.success(request, " ".join(words))
    return redirect("mass", file.car.pk)


def item(request: HttpRequest, car_id: int, label: str) -> HttpResponse:
    """One item: all of its figures, and the code of its label; ``new`` is one that is not in the ledger yet."""
    file = open_file(request.user, car_id)
    one = None if label == "new" else get_object_or_404(MassItem, car=file.car, label=label)
    if request.method == "POST" and request.POST.get("what") == "drop" and one is not None:
        services.drop_item(one, request.user)
        messages.success(request, f"{one.name} is off the ledger.")
        return redirect("mass", car_id)
    form = ItemForm(file, one, request.POST if request.method == "POST" else None, initial=_initial(request, one))
    if request.method == "POST" and form.is_valid():
        try:
            kept = services.keep_item(file.car, request.user, form.cleaned_data, one)
        except CoreError as error:
            form.add_error(
                error.field if error.field in form.fields else None, error.message[:1].upper() + error.message[1:] + "."
            )
        else:
            messages.success(request, f"{kept.name} kept, label {kept.label}.")
            return redirect("mass", car_id)
    code = (
        code_of(request.build_absolute_uri(reverse("mass-item", args=[car_id, one.label]))) if one is not None else ""
    )
    return page(
        request, file, "check", "bench/mass/item.html", {"form": form, "item": one, "code": code}, status_of(form)
    )


def _initial(request: HttpRequest, one: MassItem | None) -> dict[str, Any]:
    user: Any = request.user
    if one is None:
        return {
            "who": called(user),
            "state": "in",
            "fate": "keep",
            "weighed_on": timezone.localdate(),
            "tare_kg": 0.0,
            "doubt_kg": 0.05,
            "reversible": True,
        }
    return {name: getattr(one, name) for name in ORDER}


#: what the simulated kitchen scale has on it: a box of half a kilogram and something in it
ON_THE_SCALE_KG = (0.5, 6.4)


def scale(request: HttpRequest, car_id: int) -> HttpResponse:
    """Weigh one thing after another on the phone; the tare of the box stays for the next."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    last = request.session.get("tare_kg", 0.0)
    first: dict[str, Any] = {"tare_kg": last, "out": True}
    shown = None
    if request.GET.get("gauge"):
        shown = simulated("scale", {"scale": sum(ON_THE_SCALE_KG)}, len(items_of(file)) + file.car.pk)
        if shown is not None:
            first["gross_kg"] = next(iter(shown.initial().values()), None)
    form = ScaleForm(file, request.POST if request.method == "POST" else None, initial=first)
    if request.method == "POST" and form.is_valid():
        said = form.cleaned_data
        tare = last if said["tare_kg"] is None else said["tare_kg"]
        values = {
            "name": said["name"],
            "gross_kg": said["gross_kg"],
            "tare_kg": tare,
            "minutes": said["minutes"],
            "state": "out" if said["out"] else "in",
            "who": called(user),
            "doubt_kg": 0.05,
        }
        try:
            kept = services.keep_item(file.car, request.user, values)
        except CoreError as error:
            form.add_error(
                error.field if error.field in form.fields else None, error.message[:1].upper() + error.message[1:] + "."
            )
        else:
            request.session["tare_kg"] = tare
            messages.success(request, f"{kept.label}: {kept.name}, {kept.net_kg:.2f} kg.")
            return redirect("mass-scale", car_id)
    context = {
        "form": form,
        "recent": list(reversed(items_of(file)))[:6],
        "out": totals(weighed_of(file)),
        "taken": shown,
    }
    return page(request, file, "check", "bench/mass/scale.html", context, status_of(form))


def labels(request: HttpRequest, car_id: int) -> HttpResponse:
    """Labels of what is out, to print and cut."""
    file = open_file(request.user, car_id)
    rows = [
        (one, code_of(request.build_absolute_uri(reverse("mass-item", args=[car_id, one.label]))))
        for one in items_of(file)
        if one.state == "out" and one.fate in ("keep", "sell")
    ]
    return page(request, file, "check", "bench/mass/labels.html", {"rows": rows})
