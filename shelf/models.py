"""Candidates: wheels and tyres that could go on a car."""

from __future__ import annotations

import uuid

from django.db import models

from garage.parts import Tyre
from shell.limits import limited


def card_path(card: Card, name: str) -> str:
    """A name of our own: nothing of the uploaded name is kept."""
    return f"cards/{card.tyre.car_id}/{uuid.uuid4().hex}.jpg"


class Card(models.Model):
    """A photographed card cut to a tyre's section, with the points clicked along its edge."""

    tyre = models.OneToOneField(Tyre, on_delete=models.CASCADE, related_name="card")
    image = models.ImageField(upload_to=card_path)
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    #: both ends of the control bar, then the edge from inside over the tread to outside; (right, down)
    points_px = models.JSONField(default=list, blank=True)
    bar_mm = models.FloatField(null=True, blank=True)
    crown_mm = models.FloatField(null=True, blank=True)
    traced_on = models.DateField(null=True, blank=True)

    class Meta:
        constraints = [*limited("card", bar_mm="bar_mm", crown_mm="crown_mm")]

    def __str__(self) -> str:
        return f"card of {self.tyre}"
