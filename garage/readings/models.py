"""What was measured: readings, how the car stood, stations passed over, trial fits, traces of rubs."""

from __future__ import annotations

from typing import Any

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car, Outfit
from rimcore.limits import LIMITS
from rimcore.tables.facts import CORNERS
from rimcore.well.read.declared import place_of
from rimcore.well.read.stations import METHOD_NAMES
from shell.limits import limited
from shell.narrow import ChangedColumns


class Condition(ChangedColumns):
    """How the car stood while it was measured."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="conditions")
    noted_on = models.DateField(default=timezone.localdate)
    fuel = models.CharField("fuel", max_length=40, blank=True, help_text="such as half a tank, 20 L")
    driver_aboard = models.BooleanField("driver aboard", default=False)
    front_kpa = models.FloatField("front tyre pressure", null=True, blank=True)
    rear_kpa = models.FloatField("rear tyre pressure", null=True, blank=True)
    air_c = models.FloatField("air temperature", null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-noted_on", "-id"]
        constraints = [*limited("condition", front_kpa="kpa", rear_kpa="kpa", air_c="air_c")]

    def __str__(self) -> str:
        parts = [self.fuel, "driver aboard" if self.driver_aboard else "empty", self.note]
        return f"{self.noted_on:%-d %b %Y}: " + ", ".join(part for part in parts if part)


class Reading(models.Model):
    """One reading, as typed and in the core's unit. Never overwritten: a newer one stands over it.

    Where the rule went and what it read are what the station declares (``rimcore.well.read.declared``); nothing else is
    kept.
    """

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="readings")
    outfit = models.ForeignKey(Outfit, on_delete=models.RESTRICT, related_name="readings")
    corner = models.CharField(max_length=2, blank=True, choices=[("", "whole car"), *((c, c) for c in CORNERS)])
    #: a station, as declared in the core; no list of them is kept in the database
    code = models.CharField(max_length=20)
    where = models.JSONField(default=dict, blank=True)
    values = models.JSONField(default=list)
    #: readings of one place that were typed together, of each value; empty where it was read once
    repeats = models.JSONField(default=list, blank=True)
    typed = models.CharField(max_length=130)
    method = models.CharField(max_length=10, choices=METHOD_NAMES, default="rule")
    uncertainty = models.FloatField()
    who = models.CharField(max_length=60, blank=True)
    taken_on = models.DateField(default=timezone.localdate)
    condition = models.ForeignKey(Condition, on_delete=models.SET_NULL, null=True, blank=True, related_name="readings")
    mirrored_from = models.ForeignKey("self", on_delete=models.CASCADE, null=True, blank=True, related_name="mirrors")
    struck_why = models.CharField(max_length=200, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-taken_on", "-id"]
        indexes = [models.Index(fields=["car", "corner", "code"])]
        constraints = [
            *limited("reading", uncertainty="uncertainty"),
            models.CheckConstraint(
                name="reading_values_within",
                condition=Q(values__0__gte=LIMITS["reading"].low, values__0__lte=LIMITS["reading"].high),
            ),
            models.CheckConstraint(name="reading_corner", condition=Q(corner__in=["", *CORNERS])),
            models.CheckConstraint(name="reading_uncertainty", condition=Q(uncertainty__gte=0)),
        ]

    def __str__(self) -> str:
        return f"{self.corner} {self.code} {self.typed}".strip()

    @property
    def key(self) -> tuple[Any, ...]:
        """What makes two readings the same station: a newer one stands over an older one."""
        return self.corner, self.code, place_of(self.where)

    @property
    def value(self) -> float:
        """What was read, the first of it."""
        return float(self.values[0])

    @property
    def value2(self) -> float | None:
        """The second, where two are read."""
        return float(self.values[1]) if len(self.values) > 1 else None

    @property
    def height_mm(self) -> float | None:
        height: float | None = self.where.get("height_mm")
        return height

    @property
    def u_mm(self) -> float | None:
        across: float | None = self.where.get("u_mm")
        return across

    @property
    def u(self) -> str:
        return str(self.where.get("u", ""))

    @property
    def steer_deg(self) -> float:
        return float(self.where.get("steer_deg", 0.0))

    @property
    def travel_mm(self) -> float:
        """How far the wheel was raised."""
        return float(self.where.get("travel_mm", 0.0))


class Skip(models.Model):
    """A station that was passed over on the walk, and why."""

    WHY = {"later": "not now", "reach": "can't reach", "tool": "no tool for it", "none": "nothing there on this car"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="skips")
    corner = models.CharField(max_length=2, blank=True)
    code = models.CharField(max_length=20)
    why = models.CharField(max_length=5, choices=WHY, default="later")
    note = models.CharField(max_length=120, blank=True)
    skipped_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["car", "corner", "code"], name="skip_once"),
            models.CheckConstraint(name="skip_corner", condition=Q(corner__in=["", *CORNERS])),
        ]

    def __str__(self) -> str:
        return f"{self.corner} {self.code}: {self.get_why_display()}".strip()


class Trial(models.Model):
    """A bare rim or a mounted wheel held on the car to see what it meets. A blank tyre is a bare rim."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="trials")
    corner = models.CharField(max_length=2, choices=[(c, c) for c in CORNERS])
    wheel = models.CharField(max_length=120)
    tyre = models.CharField(max_length=60, blank=True)
    measured_section_mm = models.FloatField(null=True, blank=True)
    spacer_mm = models.FloatField(default=0)
    camber_deg = models.FloatField(default=0)
    ride_drop_mm = models.FloatField(default=0)
    tried_on = models.DateField(default=timezone.localdate)
    who = models.CharField(max_length=60, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-tried_on", "-id"]
        constraints = [
            *limited(
                "trial",
                measured_section_mm="section_mm",
                spacer_mm="spacer_mm",
                camber_deg="camber_deg",
                ride_drop_mm="ride_drop_mm",
            ),
            models.CheckConstraint(name="trial_corner", condition=Q(corner__in=CORNERS)),
        ]

    def __str__(self) -> str:
        return f"{self.wheel}, {self.tyre or 'bare rim'}"


class Sighting(models.Model):
    """What was seen at one obstacle in a trial fit, with what was predicted before."""

    SEEN = {"touches": "touches", "paper": "paper slides through", "gap": "gap read with a rule"}

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="sightings")
    reading = models.ForeignKey(Reading, on_delete=models.CASCADE, related_name="sightings")
    seen = models.CharField(max_length=8, choices=SEEN)
    gap_mm = models.FloatField(null=True, blank=True)
    typed = models.CharField(max_length=60, blank=True)
    uncertainty_mm = models.FloatField()
    steer_deg = models.FloatField(default=0)
    travel_mm = models.FloatField(default=0)
    predicted_mm = models.FloatField(null=True, blank=True)
    predicted_uncertainty_mm = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "sighting",
                gap_mm="sighting_mm",
                uncertainty_mm="sighting_uncertainty_mm",
                steer_deg="steer_deg",
                travel_mm="travel_mm",
            ),
            models.CheckConstraint(name="sighting_gap", condition=~Q(seen="gap") | Q(gap_mm__isnull=False)),
            models.CheckConstraint(name="sighting_uncertainty", condition=Q(uncertainty_mm__gt=0)),
        ]

    def __str__(self) -> str:
        return f"{self.reading.code}: {self.get_seen_display()}"


class Rub(models.Model):
    """A trace of a rub: where and when it happened, in the pose it is thought to have happened."""

    WHEN = {
        "lock": "full lock, reversing",
        "dip": "the test dip",
        "corner": "fast corner",
        "load": "loaded",
        "other": "other",
    }

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="rubs")
    outfit = models.ForeignKey(Outfit, on_delete=models.CASCADE, related_name="rubs")
    corner = models.CharField(max_length=2, choices=[(c, c) for c in CORNERS])
    code = models.CharField("where", max_length=20)
    when = models.CharField(max_length=8, choices=WHEN)
    steer_deg = models.FloatField(default=0)
    travel_mm = models.FloatField(default=0)
    note = models.CharField(max_length=200, blank=True)
    seen_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["-seen_on", "-id"]
        constraints = [
            *limited("rub", steer_deg="steer_deg", travel_mm="rub_travel_mm"),
            models.CheckConstraint(name="rub_corner", condition=Q(corner__in=CORNERS)),
        ]

    def __str__(self) -> str:
        return f"{self.corner} {self.code}, {self.get_when_display()}"
