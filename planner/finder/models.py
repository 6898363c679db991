"""What was asked of the finder, and how far the search is."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from garage.car.models import Car


class Search(models.Model):
    """One search: it goes on in steps, can be left and come back to, and asked again when prices change."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="searches")
    #: as it was asked
    asked = models.JSONField(default=dict)
    #: options, what was judged, what is out and why, the sets found
    state = models.JSONField(default=dict)
    done = models.BooleanField(default=False)
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-id"]
        verbose_name_plural = "searches"

    def __str__(self) -> str:
        return f"search of {self.made_at:%Y-%m-%d %H:%M}"
