"""Builds: named sets of choices for one car, compared with the baseline."""

from __future__ import annotations

from typing import Any

from django.db import models
from django.db.models import Q

from garage.models import Car, Outfit
from rimcore.benches import LEVERS
from rimcore.quantities.declared import PLACES
from rimcore.quantities.errors import CoreError
from rimcore.work.ledger import PART_STATES
from shelf.models import Tyre, Wheel
from shell.limits import limited


class Build(models.Model):
    """One plan for a car."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="builds")
    name = models.CharField(max_length=60)
    tolerance = models.CharField(max_length=20, default="daily")
    in_hand = models.BooleanField(default=False)
    hours_estimate = models.FloatField(default=4)
    note = models.CharField(max_length=300, blank=True)
    revision = models.PositiveIntegerField(default=1)
    outfit = models.OneToOneField(Outfit, on_delete=models.SET_NULL, null=True, blank=True, related_name="build")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["car"], condition=Q(in_hand=True), name="one_build_in_hand"),
            models.UniqueConstraint(fields=["car", "name"], name="one_build_a_name"),
            models.CheckConstraint(name="build_hours", condition=Q(hours_estimate__gte=0, hours_estimate__lte=2000)),
        ]

    def __str__(self) -> str:
        return self.name

    def lever(self, code: str, place: str = "") -> float | bool | str | None:
        """What the build sets a lever to, else what the lever does untouched; reads the prefetched rows."""
        found = next((row for row in self.levers.all() if (row.code, row.place) == (code, place)), None)
        return found.value if found is not None else LEVERS[code].default


class Lever(models.Model):
    """Something a build does to the car, as a bench declares it. A lever without a row is untouched."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="levers")
    code = models.CharField(max_length=40)
    place = models.CharField(max_length=1, blank=True, choices=PLACES)
    number = models.FloatField(null=True, blank=True)
    text = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["code", "place"]
        constraints = [
            *limited("lever", number="lever"),
            models.UniqueConstraint(fields=["build", "code", "place"], name="one_lever_a_place"),
            models.CheckConstraint(name="lever_place", condition=Q(place__in=list(PLACES))),
        ]

    def __str__(self) -> str:
        return f"{self.code} {self.place}: {self.value}"

    @property
    def value(self) -> float | bool | str | None:
        """What it is set to; what its bench no longer takes is untouched."""
        declared = LEVERS.get(self.code)
        if declared is None:
            return None
        raw: Any = self.text if declared.kind == "choice" else self.number
        try:
            return declared.check(bool(raw) if declared.kind == "flag" else raw)
        except CoreError:
            return declared.default


class Choice(models.Model):
    """A part in a build: a shortlisted wheel or tyre, or another part by name."""

    POSITIONS = {"A": "front and rear", "F": "front", "R": "rear"}

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="choices")
    position = models.CharField(max_length=1, choices=POSITIONS, default="A")
    wheel = models.ForeignKey(Wheel, on_delete=models.RESTRICT, null=True, blank=True, related_name="choices")
    tyre = models.ForeignKey(Tyre, on_delete=models.RESTRICT, null=True, blank=True, related_name="choices")
    name = models.CharField("part", max_length=80, blank=True)
    quantity = models.PositiveSmallIntegerField(default=4)
    price_minor = models.PositiveIntegerField("price of one", null=True, blank=True)
    lead_days = models.PositiveSmallIntegerField("lead time, days", null=True, blank=True)
    supplier = models.CharField(max_length=80, blank=True)
    mass_change_kg = models.FloatField("mass each, against what it replaces", null=True, blank=True)
    ring_inner_mm = models.FloatField("ring, inner", null=True, blank=True)
    ring_outer_mm = models.FloatField("ring, outer", null=True, blank=True)
    state = models.CharField(max_length=14, choices=PART_STATES, default="shortlisted")
    ordered_on = models.DateField(null=True, blank=True)
    arrived_on = models.DateField(null=True, blank=True)
    sold_minor = models.PositiveIntegerField("sold for", default=0)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "choice",
                price_minor="price_minor",
                lead_days="lead_days",
                mass_change_kg="mass_change_kg",
                ring_inner_mm="ring_mm",
                ring_outer_mm="ring_mm",
                sold_minor="cost_minor",
            ),
            models.CheckConstraint(name="choice_quantity", condition=Q(quantity__gte=1, quantity__lte=200)),
            models.CheckConstraint(
                name="choice_is_one_thing",
                condition=(
                    Q(wheel__isnull=False, tyre__isnull=True)
                    | Q(wheel__isnull=True, tyre__isnull=False)
                    | (Q(wheel__isnull=True, tyre__isnull=True) & ~Q(name=""))
                ),
            ),
            models.CheckConstraint(name="choice_state", condition=Q(state__in=list(PART_STATES))),
        ]

    def __str__(self) -> str:
        return self.label

    @property
    def label(self) -> str:
        return str(self.wheel or self.tyre or self.name)

    @property
    def kind(self) -> str:
        return "wheel" if self.wheel_id else "tyre" if self.tyre_id else "part"

    @property
    def price(self) -> int | None:
        """Price of one [minor units]: as agreed, else as offered."""
        if self.price_minor is not None:
            return self.price_minor
        offered = self.wheel or self.tyre
        return offered.price_minor if offered else None

    @property
    def lead(self) -> int | None:
        if self.lead_days is not None:
            return self.lead_days
        offered = self.wheel or self.tyre
        return offered.lead_days if offered else None

    @property
    def seller(self) -> str:
        offered = self.wheel or self.tyre
        return self.supplier or (offered.supplier if offered else "")

    def stands_at(self, end: str) -> bool:
        return self.position in ("A", end)
