"""Points clicked on a picture, as its text field holds them."""

from __future__ import annotations

import re

from django import forms

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
            raise forms.ValidationError(f"“{line[:40]}” is not a point; accepted: right and down in pixels, as “412 88”.")
        point = float(match[1]), float(match[2])
        if point[0] > size_px[0] or point[1] > size_px[1]:
            raise forms.ValidationError(f"“{line}” lies outside the picture of {size_px[0]} × {size_px[1]}.")
        found.append(point)
    return found
