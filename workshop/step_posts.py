"""What is sent from a step of a sheet: one handler for each form and button."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect

from garage.file import CarFile
from gauges import wrench
from rimcore.quantities.errors import CoreError
from workshop import composing, queries, services
from workshop.models import Job, Step


@dataclass(frozen=True)
class Sent:
    """What was sent, from which step of which sheet, and the forms of the page."""

    request: HttpRequest
    file: CarFile
    job: Job
    step: Step
    bound: dict[str, Any]

    @property
    def user(self) -> Any:
        return self.request.user

    def here(self) -> HttpResponse:
        """The step again, where it stands now."""
        return redirect("step", self.file.car.pk, self.job.pk, self.step.place)

    def onward(self) -> HttpResponse:
        """The next open step of the sheet."""
        return redirect("job", self.file.car.pk, self.job.pk)

    def refused(self, error: CoreError) -> None:
        messages.error(self.request, _sentence(error))


#: answers what was sent; None shows the page again with its form's errors
Handler = Callable[[Sent], HttpResponse | None]


def act(sent: Sent, what: str) -> HttpResponse | None:
    """Do what a button or a form asks; None where its form does not hold.

    Raises
    ------
    Http404 : there is no such form or button
    """
    if what in BUTTONS:
        return BUTTONS[what](sent)
    form = sent.bound.get(what)
    if form is None or what not in FORMS:
        raise Http404
    return FORMS[what](sent, form.cleaned_data) if form.is_valid() else None


def _sentence(error: CoreError) -> str:
    return error.message[:1].upper() + error.message[1:] + "."


def _reopen(sent: Sent) -> HttpResponse:
    services.reopen_step(sent.step, sent.user)
    return sent.here()


def _start(sent: Sent) -> HttpResponse:
    services.start_clock(sent.job, sent.user)
    return sent.here()


def _stop(sent: Sent) -> HttpResponse:
    services.stop_clock(sent.job, sent.user)
    return sent.here()


def _move(down: bool) -> Handler:
    def moved(sent: Sent) -> HttpResponse:
        composing.move_step(sent.step, sent.user, down)
        sent.step.refresh_from_db(fields=["place"])
        return sent.here()

    return moved


def _drop(sent: Sent) -> HttpResponse:
    try:
        composing.drop_step(sent.step, sent.user)
    except CoreError as error:
        sent.refused(error)
        return sent.here()
    return sent.onward()


def _simulate(sent: Sent) -> HttpResponse:
    """One pull with the simulated wrench, at the next fastener."""
    view = queries.torque_view(sent.step) if sent.step.kind == "torque" else None
    if view is None or view.now is None:
        raise Http404
    click = services.pull_simulated(sent.step, sent.user, view.now)
    if click.overrun:
        messages.warning(sent.request, f"{wrench.NAME}: the hand ran on after the click, {click.shown_nm:g} N·m.")
    return _pulled(sent)


def _pulled(sent: Sent) -> HttpResponse:
    """Onward after the last nut."""
    sent.step.refresh_from_db(fields=["state"])
    return sent.onward() if sent.step.state == "done" else sent.here()


def _done(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    if sent.step.kind == "torque":
        # Only its nuts, each with what was read, finish a torque step.
        raise Http404
    services.finish_step(sent.step, sent.user, said["note"])
    return sent.onward()


def _reads(sent: Sent, said: dict[str, Any]) -> HttpResponse | None:
    """What was read at the step is kept, each of its corner, and the step is done."""
    if sent.step.state != "todo" or sent.bound["done"].shut:
        messages.error(sent.request, "Not kept: the steps before this one are still to do.")
        return None
    kept = services.read_at_step(sent.file, sent.step, sent.user, said["rows"])
    messages.success(sent.request, f"{len(kept)} reading{'' if len(kept) == 1 else 's'} saved.")
    return sent.onward()


def _skip(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    services.skip_step(sent.step, sent.user, said["why"])
    return sent.onward()


def _pull(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    step = sent.step
    if step.kind != "torque" or step.lugs is None or not 1 <= said["lug"] <= step.lugs:
        raise Http404
    services.pull_nut(step, sent.user, said["lug"], said["read"])
    return _pulled(sent)


def _hub(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    services.learn_hub(sent.file.axles[sent.step.corner[:1] or "F"], sent.user, said)
    messages.success(sent.request, "Kept in the hub's data.")
    return sent.here()


def _joint(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    if sent.step.kind != "torque" or sent.step.of_hub:
        raise Http404
    services.learn_joint(sent.step, sent.user, said)
    messages.success(sent.request, "Kept for this joint on this axle.")
    return sent.here()


def _step(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    """A step of one's own, behind this one."""
    added = composing.add_step(sent.job, sent.user, sent.step, said)
    return redirect("step", sent.file.car.pk, sent.job.pk, added.place)


def _dip(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    if sent.step.kind != "dip" or sent.step.state != "todo" or sent.bound["done"].shut:
        messages.error(sent.request, "Not kept: the steps before this one are still to do.")
        return sent.here()
    if services.drive_dip(sent.file, sent.step, sent.user, said):
        messages.success(
            sent.request, f"{sent.job.build.name}: the height at which it was driven is the build's from now on."
        )
    return sent.onward()


def _snag(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    services.log_snag(sent.job, sent.user, {**said, "step": sent.step})
    messages.success(sent.request, "Snag logged.")
    return sent.here()


def _photo(sent: Sent, said: dict[str, Any]) -> HttpResponse | None:
    try:
        services.keep_photo(sent.job, sent.step, said["image"].read(), said["caption"])
    except CoreError as error:
        sent.bound["photo"].add_error("image", _sentence(error))
        return None
    return sent.here()


def _finish(sent: Sent, said: dict[str, Any]) -> HttpResponse:
    """The sheet is closed at an odometer reading."""
    if sent.job.state == "done":
        messages.error(sent.request, "This sheet is closed already.")
        return sent.onward()
    try:
        services.finish_job(sent.file, sent.job, sent.user, said["odometer_km"])
    except CoreError:
        messages.error(sent.request, "This sheet was closed at the same moment, perhaps in another window.")
        return sent.onward()
    if sent.job.kind == "check":
        messages.success(sent.request, "Closed. The check is noted.")
        return redirect("fit", sent.file.car.pk)
    messages.success(
        sent.request,
        "Closed. What was fitted stands on the car; measure the gaps again to hold them against what was predicted.",
    )
    return redirect("prove", sent.file.car.pk)


#: buttons, and forms that were sent whole
BUTTONS: Mapping[str, Handler] = {
    "undo": _reopen,
    "start": _start,
    "stop": _stop,
    "simulate": _simulate,
    "up": _move(False),
    "down": _move(True),
    "drop": _drop,
}
FORMS: Mapping[str, Callable[[Sent, dict[str, Any]], HttpResponse | None]] = {
    "done": _done,
    "reads": _reads,
    "skip": _skip,
    "pull": _pull,
    "hub": _hub,
    "joint": _joint,
    "step": _step,
    "dip": _dip,
    "snag": _snag,
    "photo": _photo,
    "finish": _finish,
}
