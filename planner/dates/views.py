"""The plan's own pages: the ruler of days, a week, work, orders, what happened, claims, calendar file."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from garage.file import CarFile, open_file
from planner.chosen import build_in_hand, builds_of
from planner.dates import orders, services
from planner.dates.calendars import calendar_file
from planner.dates.damage import damage_of
from planner.dates.facts import planned_of, week_of
from planner.dates.forms import ClaimForm, HappenedForm, OrderForm, ReceiptForm, TaskForm, WeekForm
from planner.dates.models import Claim, ClaimPicture, ReceiptPicture
from planner.dates.reckoned import helps_of
from planner.dates.rows import rows_of
from planner.dates.shown import ruled
from planner.models import Build, Choice
from rimcore.planning.trials import read_trial
from rimcore.quantities.errors import BadInput
from shell.pages import page, status_of
from shell.pictures import serve


def _held(request: HttpRequest, car_id: int) -> tuple[CarFile, Build]:
    file = open_file(request.user, car_id)
    build = build_in_hand(file)
    if build is None:
        raise Http404("no current build")
    return file, build


def ruler(request: HttpRequest, car_id: int) -> HttpResponse:
    """The ruler alone, with a trial of the address; for htmx, and as a page of its own without it."""
    file, build = _held(request, car_id)
    if request.GET.get("as") == "csv":
        return orders.plan_csv(file, build)
    context = ruled(file, build, request.GET.get("try", ""))
    if request.headers.get("HX-Request"):
        return render(request, "planner/ruler.html", {"file": file, "held": build, **context})
    return page(request, file, "plan", "planner/ruler_page.html", {"held": build, **context})


def helps(request: HttpRequest, car_id: int) -> HttpResponse:
    """What would help most; fetched after the page."""
    file, build = _held(request, car_id)
    found = helps_of(planned_of(file, build))
    return render(request, "planner/helps.html", {"file": file, "held": build, "helps": found})


@require_POST
def keep_trial(request: HttpRequest, car_id: int) -> HttpResponse:
    """Take a trial into the plan."""
    file, build = _held(request, car_id)
    try:
        trial = read_trial(request.POST.get("try", ""), planned_of(file, build).plan)
        words = services.keep_trial(file, request.user, build, trial)
    except BadInput as error:
        messages.error(request, f"Not kept: {error.message}.")
    else:
        messages.success(request, f"Kept: {words}.")
    return redirect("plan", car_id)


@require_POST
def keep_said(request: HttpRequest, car_id: int) -> HttpResponse:
    """Keep today's date."""
    file, build = _held(request, car_id)
    services.keep_said(file, request.user, build)
    messages.success(request, "Today's date is kept.")
    return redirect("plan", car_id)


def week(request: HttpRequest, car_id: int, whose: str) -> HttpResponse:
    """The person's week, or that of the build in hand."""
    file, build = _held(request, car_id)
    of = build if whose == "build" else None
    if request.method == "POST" and request.POST.get("what") == "drop" and of is not None:
        services.drop_week(request.user, of)
        return redirect("plan", car_id)
    values = services.week_values(file, of)
    initial = {**values, **{f"day_{day}": hours for day, hours in enumerate(values["week_hours"])}}
    form = WeekForm(request.POST if request.method == "POST" else None, initial=initial)
    if request.method == "POST" and form.is_valid():
        services.keep_week(file, request.user, of, form.week)
        messages.success(request, "The week is kept.")
        return redirect("plan", car_id)
    context = {"form": form, "held": build, "whose": whose, "counts": week_of(file, build)[1], "of": of}
    return page(request, file, "plan", "planner/week.html", context, status_of(form))


def task(request: HttpRequest, car_id: int, build_id: int, key: str) -> HttpResponse:
    """What is known of one piece of work."""
    file = open_file(request.user, car_id)
    build = next((one for one in builds_of(file) if one.pk == build_id), None)
    if build is None:
        raise Http404
    found = planned_of(file, build)
    here = f"{build.pk}:{key}"
    row = rows_of(file).get(build.pk, {}).get(key)
    own = key.startswith("own:")
    if row is None and key != "own:" and here not in {one.id for one in found.plan.tasks}:
        raise Http404
    if request.method == "POST" and request.POST.get("what") == "remove":
        services.remove_task(build, request.user, key)
        return redirect("plan", car_id)
    others = [
        (one.id.partition(":")[2], found.names.get(one.id, one.id))
        for one in found.plan.tasks
        if one.id != here and one.id.startswith(f"{build.pk}:") and ":fix:" not in one.id
    ]
    form = TaskForm(others, own, request.POST if request.method == "POST" else None, instance=row)
    if request.method == "POST" and form.is_valid():
        try:
            services.keep_task(build, request.user, key, form.cleaned_data)
        except BadInput as error:
            form.add_error(error.field, f"It {error.message}.")
        else:
            messages.success(request, "Kept.")
            return redirect("plan", car_id)
    usual = next((one.hours for one in found.plan.tasks if one.id == here), None)
    context = {
        "form": form,
        "build": build,
        "name": found.names.get(here, "Other work"),
        "row": row,
        "usual": usual,
        "key": key,
    }
    return page(request, file, "plan", "planner/task.html", context, status_of(form))


def order(request: HttpRequest, car_id: int, choice_id: int) -> HttpResponse:
    """When a part is ordered, how long it takes, how many came."""
    file = open_file(request.user, car_id)
    choice = get_object_or_404(Choice.objects.select_related("part", "build"), pk=choice_id, build__car=file.car)
    build = next(one for one in builds_of(file) if one.pk == choice.build_id)
    found = planned_of(file, build)
    works = [
        (one.id.partition(":")[2], found.names.get(one.id, one.id))
        for one in found.plan.tasks
        if one.id.startswith(f"{build.pk}:") and ":fix:" not in one.id
    ]
    form = OrderForm(works, request.POST if request.method == "POST" else None, instance=choice)
    if request.method == "POST" and form.is_valid():
        try:
            services.change_order(choice, request.user, form.cleaned_data)
        except BadInput as error:
            form.add_error(error.field, f"It {error.message}.")
        else:
            messages.success(request, "Kept.")
            return redirect("orders", car_id)
    return page(
        request,
        file,
        "plan",
        "planner/order.html",
        {"form": form, "choice": choice, "receipt": ReceiptForm()},
        status_of(form),
    )


@require_POST
def receipt_add(request: HttpRequest, car_id: int, choice_id: int) -> HttpResponse:
    """A picture of a part's receipt, kept; what is no picture is told."""
    file = open_file(request.user, car_id)
    choice = get_object_or_404(Choice.objects.select_related("part", "build"), pk=choice_id, build__car=file.car)
    form = ReceiptForm(request.POST, request.FILES)
    if form.is_valid():
        try:
            services.keep_receipt(choice, request.user, form.cleaned_data["image"])
        except BadInput as error:
            form.add_error("image", f"It {error.message}.")
        else:
            messages.success(request, "The receipt is kept.")
            return redirect("order", car_id, choice_id)
    messages.error(request, " ".join(str(one) for one in form.errors["image"]))
    return redirect("order", car_id, choice_id)


def receipt(request: HttpRequest, car_id: int, picture_id: int) -> HttpResponseBase:
    """A receipt, for its owner alone; posted to, it is taken away."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(ReceiptPicture, pk=picture_id, choice__build__car=file.car)
    if request.method == "POST":
        services.drop_receipt(found, request.user)
        return redirect("order", car_id, found.choice_id)
    return serve(found.image)


def order_list(request: HttpRequest, car_id: int) -> HttpResponse:
    """Orders by supplier: last day, what to ask, one mail to copy."""
    file, build = _held(request, car_id)
    suppliers = orders.by_supplier(file, build)
    if request.GET.get("as") == "csv":
        return orders.as_csv(file, build, suppliers)
    return page(request, file, "plan", "planner/orders.html", {"held": build, "suppliers": suppliers})


def happened(request: HttpRequest, car_id: int) -> HttpResponse:
    """Something happened."""
    file, build = _held(request, car_id)
    if request.method == "POST" and request.POST.get("what_to_do") == "take_up":
        services.take_up(build, request.user)
        return redirect("plan", car_id)
    form = HappenedForm(build, request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        said = form.cleaned_data | {"choice": form.choices.get(form.cleaned_data["choice"])}
        try:
            row = services.happen(file, request.user, build, said)
        except BadInput as error:
            form.add_error("what", f"It {error.message}.")
        else:
            messages.success(request, f"Noted: {row.what}. Before and after stand side by side below.")
            return redirect("happened", car_id)
    rows = build.happenings.select_related("before", "later", "choice").order_by("-id")[:50]
    context = {
        "form": form,
        "held": build,
        "rows": rows,
        "damage": damage_of(file, build, request.GET.getlist("corner")),
    }
    return page(request, file, "plan", "planner/happened.html", context, status_of(form))


def claim(request: HttpRequest, car_id: int, choice_id: int, claim_id: int = 0) -> HttpResponse:
    """A part that failed or came wrong."""
    file = open_file(request.user, car_id)
    choice = get_object_or_404(Choice.objects.select_related("part", "build"), pk=choice_id, build__car=file.car)
    found = get_object_or_404(Claim, pk=claim_id, choice=choice) if claim_id else None
    sent = (request.POST, request.FILES) if request.method == "POST" else (None, None)
    form = ClaimForm(file, *sent, instance=found or Claim(choice=choice))
    if request.method == "POST" and form.is_valid():
        values = {name: value for name, value in form.cleaned_data.items() if name != "image"}
        try:
            services.keep_claim(choice, request.user, found, values, form.cleaned_data["image"])
        except BadInput as error:
            form.add_error("image", f"It {error.message}.")
        else:
            messages.success(request, "The claim is kept.")
            return redirect("orders", car_id)
    context = {"form": form, "choice": choice, "claim": found}
    return page(request, file, "plan", "planner/claim.html", context, status_of(form))


def claim_picture(request: HttpRequest, car_id: int, picture_id: int) -> HttpResponseBase:
    """A picture of a claim, for its owner alone; posted to, it is taken away."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(
        ClaimPicture.objects.select_related("claim__choice"), pk=picture_id, claim__choice__build__car=file.car
    )
    if request.method == "POST":
        services.drop_picture(found, request.user)
        return redirect("claim", car_id, found.claim.choice_id, found.claim_id)
    return serve(found.image)


def ics(request: HttpRequest, car_id: int) -> HttpResponse:
    """Work days, arrivals, last days to order, the event: for a calendar program."""
    file, build = _held(request, car_id)
    answer = HttpResponse(calendar_file(file, build), content_type="text/calendar; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="plan-{build.pk}.ics"'
    return answer
