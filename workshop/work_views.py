"""Around the job sheets: torque book, tools, removed parts and their labels, templates, the check before an event."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from garage.file import CarFile, open_file
from gauges import wrench
from planner.chosen import build_in_hand
from rimcore.quantities.errors import CoreError
from rimcore.work.removed import weighed_kg
from shell.codes import code_of
from shell.figures import unit_for
from shell.pages import page, status_of
from workshop import checks, composing, kit, ledger, queries, services
from workshop.forms import AskJointForm, RemovedForm, TemplateFileForm, TemplateNameForm
from workshop.models import Job, JobTemplate, Removed
from workshop.queries import work_of


def book(request: HttpRequest, car_id: int, job_id: int) -> HttpResponse:
    """The torque book: every threaded joint of a sheet, wanted and read."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Job.objects.select_related("build"), pk=job_id, car=file.car)
    rows = queries.torque_book(list(found.steps.prefetch_related("pulls")))
    pulls = services.pulls_of_wrench(file.car)
    share = wrench.calibrated(100.0, pulls, file.car.pk)
    drift = {"pulls": pulls, "share": share, "out": wrench.out_of_tolerance(share), "name": wrench.NAME}
    return page(request, file, "fit", "workshop/book.html", {"job": found, "rows": rows, "drift": drift})


def book_joint(request: HttpRequest, car_id: int, job_id: int, place: int) -> HttpResponse:
    """One joint of the book on its axle: its figures, changed here, and what was said of it before."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Job.objects.select_related("build"), pk=job_id, car=file.car)
    step = get_object_or_404(found.steps, place=place)
    if step.kind != "torque" or step.of_hub:
        return redirect("step", car_id, job_id, place)
    form = AskJointForm(
        step, unit_for("torque", file.preferences), request.POST if request.method == "POST" else None, prefix="joint"
    )
    if form.is_bound and form.is_valid():
        services.learn_joint(step, request.user, form.cleaned_data)
        return redirect("book", car_id, job_id)
    said = found.joint_figures.filter(end=step.corner[:1], name=step.joint.get("name", ""), stage=step.stage)
    context = {"job": found, "step": step, "form": form, "said": said}
    return page(request, file, "fit", "workshop/book_joint.html", context, status_of(form))


def tools(request: HttpRequest, car_id: int) -> HttpResponse:
    """One list of tools and consumables over all open sheets; what is missing is a snag before the jack is out."""
    file = open_file(request.user, car_id)
    rows = queries.kit_of(file)
    if request.method != "POST":
        return page(request, file, "fit", "workshop/tools.html", {"rows": rows})
    name, what = request.POST.get("name", ""), request.POST.get("what", "")
    if what == "have_all":
        kit.have_all(file, request.user)
    elif what in ("have", "missing") and any(row.name == name for row in rows):
        kit.note(file, request.user, name, what == "have")
    else:
        raise Http404
    return redirect("tools", car_id)


def removed(request: HttpRequest, car_id: int) -> HttpResponse:
    """The ledger of what came off, and a line for something more."""
    file = open_file(request.user, car_id)
    form = RemovedForm(request.POST if request.method == "POST" else None, instance=Removed(car=file.car))
    if request.method == "POST" and form.is_valid():
        ledger.log_removed(file.car, request.user, form.cleaned_data)
        return redirect("removed", car_id)
    rows: list[Removed] = work_of(file).removed
    total_kg, unweighed = weighed_kg([(row.fate, row.net_kg) for row in rows])
    context = {"form": form, "rows": rows, "total_kg": total_kg, "unweighed": unweighed}
    return page(request, file, "fit", "workshop/removed.html", context, status_of(form))


def removed_row(request: HttpRequest, car_id: int, label: str) -> HttpResponse:
    """One bag of the ledger; what its label leads to."""
    file = open_file(request.user, car_id)
    row = get_object_or_404(Removed, car=file.car, label=label)
    what = request.POST.get("what_to_do", "")
    form = RemovedForm(request.POST if what == "keep" else None, instance=row)
    if what == "keep" and form.is_valid():
        ledger.change_removed(row, request.user, form.cleaned_data)
        return redirect("removed", car_id)
    if what == "again":
        try:
            part = ledger.choose_again(row, request.user)
        except CoreError as error:
            messages.error(request, f"Not on the list: {error.message}.")
            return redirect("removed-row", car_id, label)
        messages.success(request, f"{part} is on the list again; it costs nothing and is there.")
        return redirect("choose", car_id)
    if what == "drop":
        ledger.drop_removed(row, request.user)
        return redirect("removed", car_id)
    context = {"form": form, "row": row, "code": _code(request, file, row)}
    return page(request, file, "fit", "workshop/removed_row.html", context, status_of(form))


def _code(request: HttpRequest, file: CarFile, row: Removed) -> str:
    """The label's code as a drawing: the address of its line in the ledger."""
    return code_of(request.build_absolute_uri(reverse("removed-row", args=[file.car.pk, row.label])))


def labels(request: HttpRequest, car_id: int) -> HttpResponse:
    """Labels of the bags, to print and cut."""
    file = open_file(request.user, car_id)
    rows = [(row, _code(request, file, row)) for row in work_of(file).removed if row.fate in ("keep", "sell", "back")]
    return page(request, file, "fit", "workshop/labels.html", {"rows": rows})


@require_POST
def template_keep(request: HttpRequest, car_id: int, job_id: int) -> HttpResponse:
    """Keep a sheet as a template of one's own."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Job, pk=job_id, car=file.car)
    form = TemplateNameForm(request.POST)
    if not form.is_valid():
        messages.error(request, "Not kept: a template has a name of up to 80 characters.")
        return redirect("job", car_id, job_id)
    kept = composing.keep_template(found, request.user, form.cleaned_data["name"])
    messages.success(request, f"Template “{kept.name}” is saved.")
    return redirect("templates", car_id)


def templates(request: HttpRequest, car_id: int) -> HttpResponse:
    """Templates of one's own: a sheet from one, out as JSON, in again."""
    file = open_file(request.user, car_id)
    form = (
        TemplateFileForm(request.POST or None, request.FILES or None)
        if request.method == "POST"
        else TemplateFileForm()
    )
    if request.method == "POST" and form.is_valid():
        try:
            kept = composing.read_template(request.user, form.text)
        except CoreError as error:
            form.add_error("file", f"{error.field}: {error.message}.")
        else:
            messages.success(request, f"Template “{kept.name}” is read.")
            return redirect("templates", car_id)
    context = {
        "form": form,
        "templates": list(JobTemplate.objects.filter(owner=request.user)),
        "build": build_in_hand(file),
    }
    return page(request, file, "fit", "workshop/templates.html", context, status_of(form))


def template_out(request: HttpRequest, car_id: int, template_id: int) -> HttpResponse:
    """A template as a JSON file, for its owner alone."""
    open_file(request.user, car_id)
    kept = get_object_or_404(JobTemplate, pk=template_id, owner=request.user)
    name = (
        "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in kept.name).strip("-")
        or "template"
    )
    answer = HttpResponse(kept.text, content_type="application/json; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}.json"'
    return answer


@require_POST
def template_do(request: HttpRequest, car_id: int, template_id: int, what: str) -> HttpResponse:
    """A sheet from a template; or the template goes."""
    file = open_file(request.user, car_id)
    kept = get_object_or_404(JobTemplate, pk=template_id, owner=request.user)
    if what == "remove":
        composing.remove_template(kept, request.user)
        return redirect("templates", car_id)
    build = build_in_hand(file)
    if what != "make":
        raise Http404
    if build is None:
        messages.error(request, "There is no current build to make a sheet for.")
        return redirect("plan", car_id)
    job = composing.make_from_template(file, build, request.user, kept)
    return redirect("job", car_id, job.pk)


@require_POST
def check_before(request: HttpRequest, car_id: int) -> HttpResponse:
    """The nut-and-bolt check of the day before the event, from the torque books of the car."""
    file = open_file(request.user, car_id)
    try:
        job = checks.make_check(file, request.user)
    except CoreError as error:
        messages.error(request, error.message[:1].upper() + error.message[1:] + ".")
        return redirect("fit", car_id)
    return redirect("job", car_id, job.pk)


@require_POST
def track_day(request: HttpRequest, car_id: int) -> HttpResponse:
    """A day on the track is noted."""
    file = open_file(request.user, car_id)
    services.add_track_day(file.car, request.user)
    messages.success(request, f"{file.car.track_days} track day{'' if file.car.track_days == 1 else 's'} on this car.")
    return redirect("fit", car_id)
