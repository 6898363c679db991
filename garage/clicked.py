"""A photographed card with points clicked along its edge: what every one of them is, and what keeps its picture."""

from __future__ import annotations

from typing import Any, TypeVar

from django.core.files.base import ContentFile
from django.db import models

from shell.pictures import clean_picture
from shell.undo import remember


class ClickedCard(models.Model):
    """Size of the picture, the points, the bar that scales them, and when they became an outline.

    The picture itself stands in each model.
    """

    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    #: both ends of the control bar, then the edge; (right, down)
    points_px = models.JSONField(default=list, blank=True)
    bar_mm = models.FloatField(null=True, blank=True)
    traced_on = models.DateField(null=True, blank=True)

    class Meta:
        abstract = True


Kind = TypeVar("Kind", bound=ClickedCard)


def keep_picture_of(model: type[Kind], user: Any, words: str, raw: bytes, **of: Any) -> Kind:
    """The picture of a card, instead of an older one; that one's points go with it.

    Parameters
    ----------
    words : what undo calls it
    of : what the card belongs to, as the model names it

    Raises
    ------
    BadInput : no picture
    """
    image, (width, height) = clean_picture(raw)
    with remember(user, words):
        for old in model._default_manager.filter(**of):
            old.delete()
        kept = model(**of, width_px=width, height_px=height)
        kept.image.save("card.jpg", ContentFile(image), save=False)  # type: ignore[attr-defined]
        kept.save()
    return kept
