"""Repeated runs of any quantity, before and after."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car, Outfit
from shell.limits import limited


class Series(models.Model):
    """One quantity that is measured again and again, the same way each time."""

    BETTER = {"less": "less is better", "more": "more is better", "neither": "neither is better"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="series")
    name = models.CharField(max_length=80)
    unit = models.CharField(max_length=20, blank=True)
    better = models.CharField(max_length=8, choices=BETTER, default="less")
    limit = models.FloatField("limit", null=True, blank=True)
    how = models.CharField("how it is done each time", max_length=200, blank=True)

    class Meta:
        ordering = ["id"]
        verbose_name_plural = "series"
        constraints = [
            *limited("series", limit="value"),
            models.UniqueConstraint(fields=["car", "name"], name="one_series_a_name"),
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.unit}" if self.unit else self.name


class Run(models.Model):
    """One run. An outlier is kept and marked, never deleted by rule."""

    series = models.ForeignKey(Series, on_delete=models.CASCADE, related_name="runs")
    outfit = models.ForeignKey(Outfit, on_delete=models.RESTRICT, related_name="runs")
    value = models.FloatField()
    ran_on = models.DateField(default=timezone.localdate)
    note = models.CharField("conditions", max_length=120, blank=True)
    left_out_why = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["ran_on", "id"]
        constraints = [models.CheckConstraint(name="run_range", condition=Q(value__gte=-1e9, value__lte=1e9))]

    def __str__(self) -> str:
        return f"{self.series}: {self.value:g}"
