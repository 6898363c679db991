"""The owner's page of who may see a car, and the answers of whoever it was offered to."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from garage.file import CarFile, open_file
from planner.chosen import builds_of
from rimcore.quantities.errors import BadInput
from sharing import services
from sharing.forms import HandOverForm, HelperForm, LinkForm
from sharing.models import HandOver, Helper, Link
from shell.models import Deed
from shell.pages import page, status_of
from workshop.queries import jobs_of

#: rows of the history on the page
MOST_DEEDS = 200


def share(request: HttpRequest, car_id: int) -> HttpResponse:
    """Links, helpers, handing over, and who did what."""
    file, what = open_file(request.user, car_id), request.POST.get("what-form", "")
    sent = request.POST if request.method == "POST" else None
    link = LinkForm(file, sent if what == "link" else None, prefix="link")
    helper = HelperForm(sent if what == "helper" else None, prefix="helper")
    over = HandOverForm(sent if what == "over" else None, prefix="over")
    form: Any = {"link": link, "helper": helper, "over": over}.get(what)
    if form is not None and form.is_valid() and _kept(file, what, form):
        messages.success(request, {"link": "The link is made.", "helper": "Saved.", "over": "Offered."}[what])
        return redirect("share", car_id)
    context = {
        "link_form": link,
        "helper_form": helper,
        "over_form": over,
        "links": [
            (one, request.build_absolute_uri(f"/shared/{one.token}/"), _named(file, one)) for one in _links(file)
        ],
        "helpers": list(Helper.objects.filter(car=file.car).select_related("person")),
        "offered": HandOver.objects.filter(car=file.car).select_related("to").first(),
        "deeds": list(Deed.objects.filter(car_number=car_id).select_related("person")[:MOST_DEEDS]),
        "today": timezone.localdate(),
    }
    return page(request, file, "prove", "sharing/share.html", context, status_of(link, helper, over))


def _links(file: CarFile) -> list[Link]:
    return list(Link.objects.filter(car=file.car)[:100])


def _named(file: CarFile, link: Link) -> str:
    """What a link shows, by its own name."""
    if link.what == "build":
        return next((one.name for one in builds_of(file) if one.pk == link.number), "a build that is gone")
    if link.what == "job":
        return next((one.title for one in jobs_of(file) if one.pk == link.number), "a sheet that is gone")
    return f"{len(link.chapters)} chapters"


def _kept(file: CarFile, what: str, form: Any) -> bool:
    """Kept, or the form says why not."""
    try:
        if what == "link":
            services.make_link(file.car, form.values())
        elif what == "helper":
            services.add_helper(file.car, form.cleaned_data["name"], form.cleaned_data["role"])
        else:
            services.offer(file.car, form.cleaned_data["name"], form.values())
    except BadInput as error:
        form.add_error(error.field, f"“{form.cleaned_data.get(error.field, '')}” {error.message}.")
        return False
    return True


@require_POST
def link_back(request: HttpRequest, car_id: int, link_id: int) -> HttpResponse:
    """Take a link back."""
    file = open_file(request.user, car_id)
    services.take_back(get_object_or_404(Link, pk=link_id, car=file.car))
    messages.success(request, "Taken back: the link leads to nothing any more.")
    return redirect("share", car_id)


@require_POST
def helper_gone(request: HttpRequest, car_id: int, helper_id: int) -> HttpResponse:
    """A helper helps no more."""
    file = open_file(request.user, car_id)
    get_object_or_404(Helper, pk=helper_id, car=file.car).delete()
    messages.success(request, "That person sees this car no more.")
    return redirect("share", car_id)


@require_POST
def offer_back(request: HttpRequest, car_id: int) -> HttpResponse:
    """Take an offer back; where there is none any more the page says how it stands."""
    file = open_file(request.user, car_id)
    HandOver.objects.filter(car=file.car).delete()
    messages.success(request, "The offer is taken back.")
    return redirect("share", car_id)


def others(request: HttpRequest) -> HttpResponse:
    """Cars that are offered to a person, and cars of others that they help with; nothing where there are none."""
    mine: Any = request.user
    offered = HandOver.objects.filter(to=mine, until__gte=timezone.localdate()).select_related("car__owner")
    helps = Helper.objects.filter(person=mine).select_related("car__owner")
    return render(request, "sharing/others.html", {"offered": list(offered[:50]), "helps": list(helps[:200])})


@require_POST
def leave_car(request: HttpRequest, helper_id: int) -> HttpResponse:
    """Stop helping with another's car."""
    get_object_or_404(Helper, pk=helper_id, person=request.user).delete()
    messages.success(request, "You don't help with that car any more.")
    return redirect("garage")


@require_POST
def answer(request: HttpRequest, offer_id: int) -> HttpResponse:
    """Take a car that was offered, or not."""
    mine: Any = request.user
    one = get_object_or_404(HandOver.objects.select_related("car__owner", "to"), pk=offer_id, to=mine)
    if request.POST.get("answer") != "take" or one.until < timezone.localdate():
        one.delete()
        messages.success(request, "Not taken: the car stays where it is.")
        return redirect("garage")
    try:
        came = services.accept(one)
    except BadInput as error:
        messages.error(request, f"Not taken: the car {error.message}.")
        return redirect("garage")
    messages.success(request, f"{came.nickname} is yours.")
    return redirect("measure", came.car_id)
