"""Accounts, errors, undo, theme."""

from __future__ import annotations

import errno
import sys
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView
from django.core.exceptions import RequestDataTooBig
from django.db import IntegrityError, OperationalError, transaction
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from shell.forms import SignUpForm
from shell.throttle import note_account, too_many_accounts, too_many_wrong
from shell.undo import CannotUndo, undo

WORKER = Path(__file__).parent / "static" / "shell" / "worker.js"
BACKEND = "django.contrib.auth.backends.ModelBackend"
DEMO_USER = "demo"


@login_not_required
def sign_up(request: HttpRequest) -> HttpResponse:
    """Open an account and sign in."""
    if request.user.is_authenticated:
        return redirect("garage")
    if request.method == "POST" and too_many_accounts(request):
        return render(request, "registration/too_many.html", status=429)
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            with transaction.atomic():
                user = form.save()
        except IntegrityError:
            form.add_error("username", "That name is taken; choose another.")
        else:
            note_account(request)
            login(request, user, backend=BACKEND)
            return redirect("garage")
    return render(request, "registration/sign_up.html", {"form": form}, status=422 if form.errors else 200)


class SignIn(LoginView):
    """Signing in; an address that tries one password over many names has to wait."""

    template_name = "registration/sign_in.html"
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: Any, **options: Any) -> HttpResponse:
        if settings.AXES_ENABLED and too_many_wrong(request):
            return render(request, "registration/locked.html", status=429)
        return super().post(request, *args, **options)


class SignOut(LogoutView):
    """Signing out; the browser is told to keep nothing of the pages it has.

    What others have waiting in it is theirs: not cleared here.
    """

    def dispatch(self, request: HttpRequest, *args: Any, **options: Any) -> HttpResponse:
        answer = super().dispatch(request, *args, **options)
        answer.headers["Clear-Site-Data"] = '"cache"'
        return answer


@login_not_required
def worker(request: HttpRequest) -> HttpResponse:
    """The script that keeps pages of a job for a garage without a connection.

    It stands at the root, so that it may serve all of them.
    """
    answer = HttpResponse(WORKER.read_bytes(), content_type="text/javascript; charset=utf-8")
    answer.headers["Cache-Control"] = "no-cache"
    return answer


@login_not_required
def ping(request: HttpRequest) -> HttpResponse:
    """Is there a connection?"""
    answer = HttpResponse(status=204)
    answer.headers["Cache-Control"] = "no-store"
    return answer


@login_not_required
@require_POST
def demo_sign_in(request: HttpRequest) -> HttpResponse:
    """One click into the demo garage; exists only on the demo instance."""
    if not settings.DEMO:
        raise Http404
    user = get_user_model().objects.filter(username=DEMO_USER).first()
    if user is None:
        raise Http404
    login(request, user, backend=BACKEND)
    return redirect("garage")


@require_POST
def undo_change(request: HttpRequest, change_id: int) -> HttpResponse:
    """Take back the newest change."""
    try:
        messages.success(request, f"Undone: {undo(request.user, change_id)}.")
    except CannotUndo as error:
        messages.error(request, str(error))
    return HttpResponseRedirect(back(request))


@login_not_required
@require_POST
def set_theme(request: HttpRequest) -> HttpResponse:
    """Light, dark, or as the device says; kept in a cookie."""
    chosen = request.POST.get("theme", "auto")
    response = HttpResponseRedirect(back(request))
    if chosen in ("auto", "light", "dark"):
        response.set_cookie("theme", chosen, max_age=31536000, samesite="Lax")
    return response


def back(request: HttpRequest) -> str:
    """The page the person came from, if it is ours."""
    came_from = request.POST.get("next") or request.headers.get("referer", "")
    whole = came_from.startswith(("/", "http://", "https://"))
    if whole and url_has_allowed_host_and_scheme(came_from, {request.get_host()}, request.is_secure()):
        return came_from
    return "/"


@login_not_required
def bad_request(request: HttpRequest, exception: Any = None) -> HttpResponse:
    if isinstance(exception, RequestDataTooBig):
        return render(request, "shell/413.html", {"theme": "auto"}, status=413)
    return render(request, "shell/400.html", {"theme": "auto"}, status=400)


@login_not_required
def not_found(request: HttpRequest, exception: Any = None) -> HttpResponse:
    return render(request, "shell/404.html", status=404)


@login_not_required
def server_error(request: HttpRequest) -> HttpResponse:
    if is_full(sys.exc_info()[1]):
        return render(request, "shell/507.html", {"theme": "auto", "folder": settings.DATA_DIR}, status=507)
    return render(request, "shell/500.html", {"theme": "auto"}, status=500)


def is_full(error: BaseException | None) -> bool:
    """Does an error say that a disk is full?"""
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    return isinstance(error, OperationalError) and "disk is full" in str(error)


@login_not_required
def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return render(request, "shell/403.html", status=403)
