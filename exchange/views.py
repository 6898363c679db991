"""Taking everything along, and leaving."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth import logout
from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from exchange import account


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
