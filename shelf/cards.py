"""The photographed card of a tyre: its forms, and what keeps it."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.car.parts import Tyre
from garage.clicked import keep_picture_of
from garage.file import CarFile
from rimcore.quantities.errors import CoreError
from rimcore.wheels.outline import Outline, outline
from rimcore.wheels.traced import Points, from_card, traced
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel as CoreWheel
from shelf.models import Card
from shell.forms import QuantityField
from shell.pixels import Pixels, PointsForm
from shell.undo import remember


class TraceForm(PointsForm):
    """Points along the card's edge and what scales them."""

    least, most = 7, 120
    asks = (
        "Click the inner end of the control bar.",
        "Click its outer end.",
        "Click along the edge, from the inner rim edge over the tread to the outer one.",
    )

    def __init__(self, file: CarFile, card: Card, *args: Any, **options: Any) -> None:
        words = "the first two are the ends of the control bar, inner end first; then the edge from the inner rim edge over the tread to the outer one"
        super().__init__((card.width_px, card.height_px), card.points_px, words, *args, **options)
        self.card = card
        tyre = parse_tyre(card.tyre.size)
        self.fields["bar_mm"] = QuantityField(
            "length", 20, 700, label="Length of the control bar", help_text="as measured on the card"
        )
        self.fields["crown_mm"] = QuantityField(
            "length",
            150,
            700,
            label="Radius at the middle of the tread",
            help_text="half the diameter; roll the wheel once and divide by 6.28",
        )
        self.fields["rim_in"] = forms.FloatField(
            min_value=3, max_value=18, label="Width of the rim it stands on, in inches"
        )
        self.initial.update(
            {
                "bar_mm": card.bar_mm,
                "crown_mm": card.crown_mm or round(tyre.diameter_mm / 2, 1),
                "rim_in": card.tyre.profile_rim_in or tyre.measuring_rim_in,
            }
        )
        self.order_fields(["bar_mm", "crown_mm", "rim_in", "points"])

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if not self.errors:
            pixels: Pixels = cleaned["points"]
            try:
                cleaned["profile"] = from_card(
                    pixels[2:], (pixels[0], pixels[1]), cleaned["bar_mm"], cleaned["crown_mm"]
                )
                traced(built_in(self.card.tyre, cleaned["rim_in"]), cleaned["profile"])
            except CoreError as error:
                self.add_error("points", error.message[:1].upper() + error.message[1:] + ".")
        return cleaned


def built_in(tyre: Tyre, rim_in: float) -> Outline:
    """Outline that the size alone gives on a rim."""
    size = parse_tyre(tyre.size)
    return outline(CoreWheel(size.rim_diameter_in, rim_in), size)


def keep_card(tyre: Tyre, raw: bytes) -> Card:
    """Keep the picture of a card; points of an older picture go with it.

    Raises
    ------
    BadInput : no picture
    """
    return keep_picture_of(Card, tyre.car.owner, "picture of the card kept", raw, tyre=tyre)


def keep_trace(card: Card, user: Any, values: dict[str, Any]) -> None:
    """The traced outline becomes the tyre's."""
    profile: Points = values["profile"]
    with remember(user, "tyre outline traced"):
        card.points_px, card.bar_mm, card.crown_mm = values["points"], values["bar_mm"], values["crown_mm"]
        card.traced_on = timezone.localdate()
        card.save()
        card.tyre.profile, card.tyre.profile_rim_in = [list(point) for point in profile], values["rim_in"]
        card.tyre.save()
