"""Tracing a tyre from a photographed card: the picture, the clicked points, the outline they make."""

from __future__ import annotations

import re
from typing import Any

from django import forms
from django.contrib import messages
from django.core.files.base import ContentFile
from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone

from garage.assemble import points_of
from garage.file import CarFile, open_file
from garage.forms import unit_of
from garage.parts import Tyre
from rimcore.quantities.errors import CoreError
from rimcore.well.scene import outline_scene
from rimcore.wheels.outline import NOMINAL_SIDE_MM, Outline, outline
from rimcore.wheels.traced import TRACED_SIDE_MM, Points, from_card, traced
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel as CoreWheel
from shelf.models import Card
from shell.forms import QuantityField
from shell.pages import page, status_of
from shell.pictures import clean_picture, serve
from shell.undo import remember

#: points clicked on one card
LEAST, MOST = 7, 120

Pixels = list[tuple[float, float]]


class CardForm(forms.Form):
    """The picture."""

    image = forms.FileField(
        label="Picture of the card", widget=forms.ClearableFileInput(attrs={"accept": "image/jpeg,image/png,image/webp"})
    )


class TraceForm(forms.Form):
    """Points along the card's edge and what scales them."""

    points = forms.CharField(
        max_length=6000,
        label="Points, right and down in the picture",
        widget=forms.Textarea(attrs={"rows": 6, "spellcheck": "false", "data-points": ""}),
        help_text="the first two are the ends of the control bar, inner end first; then the edge from the inner rim edge over the tread to the outer one",
    )

    def __init__(self, file: CarFile, card: Card, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        unit = unit_of("length", file)
        self.card = card
        tyre = parse_tyre(card.tyre.size)
        self.fields["bar_mm"] = QuantityField(
            "length", unit, 20, 700, label="Length of the control bar", help_text="as measured on the card"
        )
        self.fields["crown_mm"] = QuantityField(
            "length",
            unit,
            150,
            700,
            label="Radius at the middle of the tread",
            help_text="half the diameter; roll the wheel once and divide by 6.28",
        )
        self.fields["rim_in"] = forms.FloatField(min_value=3, max_value=18, label="Width of the rim it stands on, in inches")
        self.initial.update({
            "points": "\n".join(f"{x:g} {y:g}" for x, y in card.points_px), "bar_mm": card.bar_mm,
            "crown_mm": card.crown_mm or round(tyre.diameter_mm / 2, 1), "rim_in": card.tyre.profile_rim_in or tyre.measuring_rim_in,
        })  # fmt: skip
        self.order_fields(["bar_mm", "crown_mm", "rim_in", "points"])

    def clean_points(self) -> Pixels:
        found = []
        for line in filter(None, map(str.strip, self.cleaned_data["points"].splitlines())):
            match = re.fullmatch(r"(\d{1,5}(?:\.\d+)?)[\s,;]+(\d{1,5}(?:\.\d+)?)", line)
            if match is None:
                raise forms.ValidationError(f"“{line[:40]}” is not a point; accepted: right and down in pixels, as “412 88”.")
            point = float(match[1]), float(match[2])
            if point[0] > self.card.width_px or point[1] > self.card.height_px:
                raise forms.ValidationError(f"“{line}” lies outside the picture of {self.card.width_px} × {self.card.height_px}.")
            found.append(point)
        if not LEAST <= len(found) <= MOST:
            raise forms.ValidationError(f"{len(found)} points; accepted: two for the bar and {LEAST - 2} to {MOST - 2} along the edge.")
        return found

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if not self.errors:
            pixels: Pixels = cleaned["points"]
            try:
                cleaned["profile"] = from_card(pixels[2:], (pixels[0], pixels[1]), cleaned["bar_mm"], cleaned["crown_mm"])
                traced(built_in(self.card.tyre, cleaned["rim_in"]), cleaned["profile"])
            except CoreError as error:
                self.add_error("points", error.message[:1].upper() + error.message[1:] + ".")
        return cleaned


def built_in(tyre: Tyre, rim_in: float) -> Outline:
    """Outline that the size alone gives on a rim."""
    size = parse_tyre(tyre.size)
    return outline(CoreWheel(size.rim_diameter_in, rim_in), size)


def trace(request: HttpRequest, car_id: int, tyre_id: int) -> HttpResponse:
    """Upload the card's picture, click its edge, see the outline beside the one from the size."""
    file = open_file(request.user, car_id)
    tyre = get_object_or_404(Tyre, pk=tyre_id, car=file.car)
    card = Card.objects.filter(tyre=tyre).select_related("tyre").first()
    what = request.POST.get("what", "")
    picture = CardForm(request.POST if what == "picture" else None, request.FILES if what == "picture" else None)
    form = TraceForm(file, card, request.POST if what == "points" else None) if card else None
    if what == "picture" and picture.is_valid():
        try:
            keep_card(tyre, picture.cleaned_data["image"].read())
        except CoreError as error:
            picture.add_error("image", error.message[:1].upper() + error.message[1:] + ".")
        else:
            return redirect("trace", car_id, tyre_id)
    if card is not None and form is not None and form.is_valid():
        keep_trace(card, request.user, form.cleaned_data)
        messages.success(request, "The traced outline is kept; every gap with this tyre is judged with it.")
        return redirect("trace", car_id, tyre_id)
    context = {"tyre": tyre, "nominal_mm": NOMINAL_SIDE_MM, "card": card, "picture": picture, "form": form, **_result(tyre)}
    return page(request, file, "choose", "shelf/trace.html", context, status_of(*(one for one in (picture, form) if one is not None)))


def _result(tyre: Tyre) -> dict[str, Any]:
    """Traced and built-in outline side by side, and where they differ most."""
    profile = points_of(tyre.profile)
    if profile is None:
        return {"scene": None}
    plain = built_in(tyre, tyre.profile_rim_in or parse_tyre(tyre.size).measuring_rim_in)
    try:
        found = traced(plain, profile)
    except CoreError as error:
        return {"scene": None, "problem": error.message}
    return {
        "scene": outline_scene(plain, found), "section": found.section_mm, "from_size": plain.section_mm, "crown": found.crown_mm,
        "inner": -min(across for across, _ in profile), "outer": max(across for across, _ in profile), "count": len(profile), "side": TRACED_SIDE_MM,
    }  # fmt: skip


def keep_card(tyre: Tyre, raw: bytes) -> Card:
    """Keep the picture of a card; points of an older picture go with it.

    Raises
    ------
    BadInput : no picture
    """
    picture, (width, height) = clean_picture(raw)
    with remember(tyre.car.owner, "picture of the card kept"):
        old = Card.objects.filter(tyre=tyre).first()
        if old is not None:
            old.delete()
        card = Card(tyre=tyre, width_px=width, height_px=height)
        card.image.save("card.jpg", ContentFile(picture), save=False)
        card.save()
    return card


def keep_trace(card: Card, user: Any, values: dict[str, Any]) -> None:
    """The traced outline becomes the tyre's."""
    profile: Points = values["profile"]
    with remember(user, "tyre outline traced"):
        card.points_px, card.bar_mm, card.crown_mm = values["points"], values["bar_mm"], values["crown_mm"]
        card.traced_on = timezone.localdate()
        card.save()
        card.tyre.profile, card.tyre.profile_rim_in = [list(point) for point in profile], values["rim_in"]
        card.tyre.save()


def card_picture(request: HttpRequest, car_id: int, tyre_id: int) -> FileResponse:
    """The picture of a card, for its owner alone."""
    file = open_file(request.user, car_id)
    card = get_object_or_404(Card, tyre_id=tyre_id, tyre__car=file.car)
    return serve(card.image)
