"""Logs of a car, with what was found in them."""

from __future__ import annotations

import uuid

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car
from shell.files import NamedFile


def log_path(instance: Log, name: str) -> str:
    """A name of our own for an upload; nothing of the person's file name is kept in it."""
    ending = "wav" if instance.kind == "sound" else "csv"
    return f"logs/{uuid.uuid4().hex}.{ending}"


class Log(models.Model):
    """What a logger, a recorder or a simulation wrote.

    The file, how its columns were read, and what was found in it.
    """

    KINDS = {
        "pull": "pull",
        "bleed": "bleed run",
        "sound": "sound",
        "temperature": "temperatures and pressures",
        "coast": "coast-down",
        "run": "laps and sprints",
    }
    WHEN = {"before": "before", "after": "after"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="logs")
    kind = models.CharField(max_length=12, choices=KINDS)
    name = models.CharField(max_length=60)
    when = models.CharField("before or after the change", max_length=6, choices=WHEN, default="before")
    file = NamedFile(upload_to=log_path, blank=True)
    #: quantity -> [place of the column, unit], the day's air, the window, a meter's reading
    asked = models.JSONField(default=dict)
    #: what was found; empty while it is only looked at
    found = models.JSONField(default=dict)
    source = models.CharField(max_length=120, blank=True)
    who = models.CharField(max_length=60, blank=True)
    taken_on = models.DateField(default=timezone.localdate)
    #: looked at and not kept yet
    draft = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-taken_on", "-id"]
        constraints = [
            models.CheckConstraint(
                name="log_kind", condition=Q(kind__in=["pull", "bleed", "sound", "temperature", "coast", "run"])
            )
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.get_kind_display()}"
