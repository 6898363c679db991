"""Repeated runs of any quantity, before and after."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car, Outfit
from shell.limits import limited
from shell.narrow import ChangedColumns


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


class RunPlan(ChangedColumns):
    """Runs planned before they are driven: how many a side, in which order, what is worth having."""

    DESIGNS = {"swap": "to and fro, A B B A", "pairs": "in pairs", "after": "all before, then all after"}

    series = models.ForeignKey(Series, on_delete=models.CASCADE, related_name="plans")
    what = models.CharField("what is changed", max_length=120)
    design = models.CharField("how", max_length=5, choices=DESIGNS, default="after")
    #: sides in the order of the runs: A before, B after
    order = models.CharField(max_length=120)
    useful = models.FloatField("smallest change worth having", null=True, blank=True)
    scatter = models.FloatField("scatter of one run", null=True, blank=True)
    cost_minor = models.PositiveIntegerField("what the change costs", null=True, blank=True)
    #: the driver is not told which side it is
    blind = models.BooleanField("the driver does not know which", default=False)
    made_on = models.DateField(default=timezone.localdate)
    given_up_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited("run_plan", cost_minor="price_minor"),
            models.CheckConstraint(name="run_plan_design", condition=Q(design__in=["swap", "pairs", "after"])),
            models.CheckConstraint(
                name="run_plan_useful", condition=Q(useful__isnull=True) | Q(useful__gt=0, useful__lte=1e9)
            ),
            models.CheckConstraint(
                name="run_plan_scatter", condition=Q(scatter__isnull=True) | Q(scatter__gt=0, scatter__lte=1e9)
            ),
        ]

    def __str__(self) -> str:
        return f"{self.what}: {self.series.name}"


class Run(models.Model):
    """One run. An outlier is kept and marked, never deleted by rule."""

    series = models.ForeignKey(Series, on_delete=models.CASCADE, related_name="runs")
    outfit = models.ForeignKey(Outfit, on_delete=models.RESTRICT, related_name="runs")
    value = models.FloatField()
    ran_on = models.DateField(default=timezone.localdate)
    note = models.CharField("conditions", max_length=120, blank=True)
    left_out_why = models.CharField(max_length=120, blank=True)
    #: of planned runs: side and running number
    plan = models.ForeignKey(RunPlan, on_delete=models.SET_NULL, null=True, blank=True, related_name="runs")
    side = models.CharField(max_length=1, blank=True, choices={"A": "before", "B": "after"})
    number = models.PositiveSmallIntegerField(default=0)
    #: what was noted at it, by code, in the core's units
    conditions = models.JSONField(default=dict, blank=True)

    class Meta:
        ordering = ["ran_on", "id"]
        constraints = [
            models.CheckConstraint(name="run_range", condition=Q(value__gte=-1e9, value__lte=1e9)),
            models.CheckConstraint(name="run_side", condition=Q(side__in=["", "A", "B"])),
            models.UniqueConstraint(
                fields=["plan", "number"], condition=Q(plan__isnull=False), name="one_run_a_number"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.series}: {self.value:g}"
