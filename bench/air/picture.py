"""A panel's outline from a photographed card: the picture, the clicked points, the outline they make."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse

from garage.air import services
from garage.air.models import AirPanel, PanelPicture
from garage.file import CarFile, open_file
from rimcore.aero.card import MOST_LINES, from_picture, keep_outs, panel_of
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from shell.forms import QuantityField
from shell.pages import page, status_of
from shell.pictures import serve
from shell.pixels import Pixels, PointsForm, uploaded

#: what places the outline on the car
PLACED = ("bar_mm", "ahead_mm", "right_mm", "from_below")


class ClickedForm(PointsForm):
    """Points along the card's edge, and the bar that scales and turns them."""

    most = MOST_LINES + 2
    asks = ("Click the front end of the control bar.", "Click its rear end.", "Click once around the edge.")

    from_below = forms.BooleanField(required=False, label="The side that looks at the road lies up")

    def __init__(self, file: CarFile, picture: PanelPicture, *args: Any, **options: Any) -> None:
        words = "the first two are the ends of the control bar, front end first; then once around the edge"
        super().__init__((picture.width_px, picture.height_px), picture.points_px, words, *args, **options)
        self.picture = picture
        for name, label, limit, words in (
            ("bar_mm", "Length of the control bar", "bar_mm", "as measured on the card"),
            ("ahead_mm", "Its front end behind the panel's front edge", "item_along_mm", "blank: 0"),
            ("right_mm", "and right of the centre line", "item_across_mm", "blank: 0"),
        ):
            self.fields[name] = QuantityField(
                "length", *LIMITS[limit].span, required=name == "bar_mm", label=label, help_text=words
            )
        self.initial.update({name: getattr(picture, name) for name in PLACED})
        self.order_fields(["bar_mm", "ahead_mm", "right_mm", "from_below", "points"])

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for name in ("ahead_mm", "right_mm"):
            cleaned[name] = cleaned.get(name) or 0.0
        if not self.errors:
            try:
                cleaned["outline"], _ = _traced(cleaned["points"], cleaned)
                panel_of(cleaned["outline"], keep_outs(self.picture.panel.holes))
            except CoreError as error:
                self.add_error("points", f"The outline {error.message}.")
        return cleaned


def _traced(pixels: Pixels, said: dict[str, Any]) -> tuple[list[tuple[float, float]], float]:
    """Outline and what one pixel is [mm]."""
    return from_picture(
        pixels[2:], (pixels[0], pixels[1]), said["bar_mm"], (said["ahead_mm"], said["right_mm"]), said["from_below"]
    )


def picture(request: HttpRequest, car_id: int, panel_id: int) -> HttpResponse:
    """Upload the card's picture, click its edge; the outline becomes the panel's."""
    file = open_file(request.user, car_id)
    panel = get_object_or_404(AirPanel, pk=panel_id, car=file.car)
    kept = PanelPicture.objects.filter(panel=panel).select_related("panel").first()
    upload, sent = uploaded(request, lambda raw: services.keep_picture(panel, request.user, raw))
    if sent:
        return redirect("air-picture", car_id, panel_id)
    form = ClickedForm(file, kept, request.POST if request.POST.get("what") == "points" else None) if kept else None
    if kept is not None and form is not None and form.is_valid():
        outline = "\n".join(f"{x:g} {y:g}" for x, y in form.cleaned_data["outline"])
        services.keep_clicked(kept, request.user, form.cleaned_data, outline)
        messages.success(request, f"{panel.name} is the traced outline now.")
        return redirect(reverse("air", args=[car_id]) + f"?panel={panel.pk}")
    context = {"panel": panel, "kept": kept, "picture": upload, "form": form, "pixel_mm": _pixel_mm(kept)}
    return page(
        request,
        file,
        "check",
        "bench/air/picture.html",
        context,
        status_of(*(one for one in (upload, form) if one is not None)),
    )


def _pixel_mm(kept: PanelPicture | None) -> float | None:
    """What one pixel is, once it was traced [mm]."""
    if kept is None or kept.traced_on is None:
        return None
    return _traced(kept.points_px, {name: getattr(kept, name) for name in PLACED})[1]


def card(request: HttpRequest, car_id: int, panel_id: int) -> FileResponse:
    """The picture, for its owner alone."""
    file = open_file(request.user, car_id)
    return serve(get_object_or_404(PanelPicture, panel_id=panel_id, panel__car=file.car).image)
