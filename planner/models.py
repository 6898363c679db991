"""Builds: named sets of choices for one car, compared with the baseline."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from garage.models import Car, Outfit
from rimcore.work.ledger import PART_STATES
from shelf.models import Tyre, Wheel
from shell.limits import limited


class Build(models.Model):
    """One plan for a car."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="builds")
    name = models.CharField(max_length=60)
    tolerance = models.CharField(max_length=20, default="daily")
    in_hand = models.BooleanField(default=False)
    spacer_front_mm = models.FloatField(default=0)
    spacer_rear_mm = models.FloatField(default=0)
    drop_front_mm = models.FloatField(default=0)
    drop_rear_mm = models.FloatField(default=0)
    camber_front_deg = models.FloatField(null=True, blank=True)
    camber_rear_deg = models.FloatField(null=True, blank=True)
    stroke_moves = models.BooleanField("lowering moves the damper's stroke", default=False)
    lock_limit_deg = models.FloatField("lock limiters", default=0)
    lip_rolled_front_mm = models.FloatField("front lip rolled", default=0)
    lip_rolled_rear_mm = models.FloatField("rear lip rolled", default=0)
    spacer_kind = models.CharField(max_length=6, choices={"slip": "slip-on", "bolted": "bolt-on, two-piece"}, default="slip")
    hours_estimate = models.FloatField(default=4)
    note = models.CharField(max_length=300, blank=True)
    revision = models.PositiveIntegerField(default=1)
    outfit = models.OneToOneField(Outfit, on_delete=models.SET_NULL, null=True, blank=True, related_name="build")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited("build", camber_front_deg="camber_deg", camber_rear_deg="camber_deg"),
            models.UniqueConstraint(fields=["car"], condition=Q(in_hand=True), name="one_build_in_hand"),
            models.UniqueConstraint(fields=["car", "name"], name="one_build_a_name"),
            models.CheckConstraint(
                name="build_spacers",
                condition=Q(spacer_front_mm__gte=0, spacer_front_mm__lte=200, spacer_rear_mm__gte=0, spacer_rear_mm__lte=200),
            ),
            models.CheckConstraint(
                name="build_drops",
                condition=Q(drop_front_mm__gte=-300, drop_front_mm__lte=300, drop_rear_mm__gte=-300, drop_rear_mm__lte=300),
            ),
            models.CheckConstraint(
                name="build_levers",
                condition=Q(
                    lock_limit_deg__gte=0,
                    lock_limit_deg__lte=30,
                    lip_rolled_front_mm__gte=0,
                    lip_rolled_front_mm__lte=30,
                    lip_rolled_rear_mm__gte=0,
                    lip_rolled_rear_mm__lte=30,
                ),
            ),
            models.CheckConstraint(name="build_hours", condition=Q(hours_estimate__gte=0, hours_estimate__lte=2000)),
        ]

    def __str__(self) -> str:
        return self.name


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
