"""Taking everything along, and leaving."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth import logout
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET

from exchange import account, cars, lists
from exchange.status import status
from garage.file import open_file
from proof.book.folder import as_csv
from rimcore.quantities.errors import BadInput
from shell.pages import page
from shell.workbooks import XLSX, as_workbook


class LeaveForm(forms.Form):
    """Asked twice: the name, and a tick."""

    name = forms.CharField(max_length=150, label="Type your sign-in name")
    sure = forms.BooleanField(label="Everything in this account goes, pictures too, and nobody can bring it back")

    def __init__(self, wanted: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.wanted = wanted

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"].strip()
        if name != self.wanted:
            raise forms.ValidationError(f"That is not the name of this account; it is {self.wanted}.")
        return name


@require_GET
def export(request: HttpRequest) -> FileResponse:
    """Everything of the account as one archive."""
    person: Any = request.user
    return FileResponse(
        account.export(person), as_attachment=True, filename=account.file_name(person), content_type="application/zip"
    )


@require_GET
def export_one(request: HttpRequest, car_id: int) -> FileResponse:
    """A car as one file."""
    file = open_file(request.user, car_id)
    name = f"car-{car_id}-{timezone.localdate()}.zip"
    return FileResponse(cars.export_car(file.car), as_attachment=True, filename=name, content_type="application/zip")


@require_GET
def lists_page(request: HttpRequest, car_id: int) -> HttpResponseBase:
    """Every list of a car: as a page of links, one as CSV, or all as one workbook."""
    file = open_file(request.user, car_id)
    found, what = lists.lists_of(file), request.GET.get("what", "")
    stem = f"car-{car_id}-{timezone.localdate()}"
    if request.GET.get("as") == "xlsx":
        return FileResponse(as_workbook(found), as_attachment=True, filename=f"{stem}.xlsx", content_type=XLSX)
    if what in lists.LISTS:
        text = as_csv(*found[what]) if what in found else ""
        named = {"Content-Disposition": f'attachment; filename="{stem}-{what}.csv"'}
        return HttpResponse(text, content_type="text/csv; charset=utf-8", headers=named)
    rows = [(code, name, len(found[code][1]) if code in found else 0) for code, name in lists.LISTS.items()]
    return page(request, file, "prove", "exchange/lists.html", {"rows": rows})


@require_GET
def status_page(request: HttpRequest) -> HttpResponse:
    """How the server is, for those who look after it; to everybody else there is no such page."""
    if not getattr(request.user, "is_staff", False):
        raise Http404
    return render(request, "exchange/status.html", {"sections": list(status().items())})


class ImportForm(forms.Form):
    """A car's file; first it is only said what would come."""

    file = forms.FileField(label="A car's file")
    again = forms.ChoiceField(
        choices=list(cars.AGAIN.items()), initial="stop", required=False, label="Where the same car is here already"
    )
    check = forms.BooleanField(required=False, initial=True, label="Only say what would come")

    def clean_file(self) -> Any:
        found = self.cleaned_data["file"]
        if (found.size or 0) > cars.MOST_SENT:
            raise forms.ValidationError(
                f"The file has {found.size / 1048576:.0f} MB; accepted: {cars.MOST_SENT / 1048576:.0f} MB at most."
            )
        return found


def import_one(request: HttpRequest) -> HttpResponse:
    """A car out of a file, as a new car of the account."""
    sent = (request.POST, request.FILES) if request.method == "POST" else ()
    form, came = ImportForm(*sent), None
    if request.method == "POST" and form.is_valid():
        person: Any = request.user
        try:
            said = form.cleaned_data
            came = cars.import_car(said["file"], person, said["check"], said["again"] or "stop")
        except BadInput as error:
            field = error.field if error.field in form.fields else "file"
            form.add_error(field, f"Not read: the file {error.message}. Choose the file again.")
        else:
            if came.car_id is not None:
                how = "came in as a new car" if came.merged is None else "has what was newer in the file"
                messages.success(request, f"{came.nickname} {how}.")
                return redirect("car", came.car_id)
    status = 422 if form.is_bound and not form.is_valid() else 200
    return render(request, "exchange/import.html", {"form": form, "came": came}, status=status)


def leave(request: HttpRequest) -> HttpResponse:
    """Remove the account; the archive is offered first."""
    person: Any = request.user
    if account.is_demo(person):
        messages.error(request, "The demo's account stays; start the demo with --fresh to load it anew.")
        return redirect("settings")
    form = LeaveForm(person.get_username(), request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        account.remove_account(person)
        logout(request)
        messages.success(request, "The account and everything in it are removed.")
        answer = redirect("sign-in")
        answer.headers["Clear-Site-Data"] = '"cache"'
        return answer
    context = {"form": form, "held": account.how_much(person)}
    return render(request, "exchange/leave.html", context, status=422 if form.is_bound else 200)
