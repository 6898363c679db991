"""A picture that is uploaded, and the points clicked on it, as their text field holds them."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from django import forms
from django.http import HttpRequest

from rimcore.quantities.errors import CoreError

Pixels = list[tuple[float, float]]


def pixels_of(text: str, size_px: tuple[int, int]) -> Pixels:
    """Points right and down in a picture, one a line.

    Raises
    ------
    ValidationError : a line that is no point, or one outside the picture; in words
    """
    found = []
    for line in filter(None, map(str.strip, text.splitlines())):
        match = re.fullmatch(r"(\d{1,5}(?:\.\d+)?)[\s,;]+(\d{1,5}(?:\.\d+)?)", line)
        if match is None:
            raise forms.ValidationError(
                f"“{line[:40]}” is not a point; accepted: right and down in pixels, as “412 88”."
            )
        point = float(match[1]), float(match[2])
        if point[0] > size_px[0] or point[1] > size_px[1]:
            raise forms.ValidationError(f"“{line}” lies outside the picture of {size_px[0]} × {size_px[1]}.")
        found.append(point)
    return found


class PictureForm(forms.Form):
    """The picture of a card."""

    image = forms.FileField(
        label="Picture of the card",
        widget=forms.ClearableFileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )


def uploaded(request: HttpRequest, keep: Callable[[bytes], Any]) -> tuple[PictureForm, bool]:
    """The form of a picture, and whether one was sent and kept; what ``keep`` refuses stands at its field."""
    sent = request.POST.get("what") == "picture"
    form = PictureForm(request.POST if sent else None, request.FILES if sent else None)
    if not form.is_valid():
        return form, False
    try:
        keep(form.cleaned_data["image"].read())
    except CoreError as error:
        form.add_error("image", error.message[:1].upper() + error.message[1:] + ".")
        return form, False
    return form, True


class PointsForm(forms.Form):
    """Points clicked along a card's edge, behind both ends of its control bar."""

    #: points of the bar and the edge together
    least, most = 5, 62
    #: what is to be clicked: first, second, then
    asks: tuple[str, str, str]

    points = forms.CharField(
        max_length=6000,
        label="Points, right and down in the picture",
        widget=forms.Textarea(attrs={"rows": 6, "spellcheck": "false", "data-points": ""}),
    )

    def __init__(self, size_px: tuple[int, int], points_px: Pixels, words: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.size_px = size_px
        self.fields["points"].help_text = words
        self.initial["points"] = "\n".join(f"{x:g} {y:g}" for x, y in points_px)

    def clean_points(self) -> Pixels:
        found = pixels_of(self.cleaned_data["points"], self.size_px)
        if not self.least <= len(found) <= self.most:
            raise forms.ValidationError(
                f"{len(found)} points; accepted: two for the bar and {self.least - 2} to {self.most - 2} along the edge."
            )
        return found
