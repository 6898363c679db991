"""Candidates: wheels and tyres that could go on a car."""

from __future__ import annotations

import uuid

from django.db import models
from django.db.models import Q

from garage.models import Car
from rimcore.quantities.errors import CoreError
from rimcore.wheels.hub import parse_seat
from rimcore.wheels.outline import outline
from rimcore.wheels.traced import traced
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel as CoreWheel
from rimcore.wheels.wheel import same_rim
from shell.limits import limited


class Offered(models.Model):
    """What every candidate has: mass, price, lead time, where from."""

    name = models.CharField(max_length=60, blank=True)
    mass_kg = models.FloatField(null=True, blank=True)
    price_minor = models.PositiveIntegerField(null=True, blank=True)
    lead_days = models.PositiveSmallIntegerField(null=True, blank=True)
    supplier = models.CharField(max_length=80, blank=True)
    link = models.URLField(max_length=300, blank=True)
    note = models.CharField(max_length=200, blank=True)
    line = models.CharField(max_length=500, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        abstract = True

    @property
    def fault(self) -> str | None:
        """Why the core can't read this candidate; None where it can."""
        return None


class Wheel(Offered):
    """A wheel on the shortlist."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="wheels")
    diameter_in = models.FloatField()
    width_in = models.FloatField()
    offset_mm = models.FloatField()
    bolts = models.PositiveSmallIntegerField(null=True, blank=True)
    pcd_mm = models.FloatField(null=True, blank=True)
    bore_mm = models.FloatField(null=True, blank=True)
    seat = models.CharField(max_length=20, blank=True)
    pad_thickness_mm = models.FloatField(null=True, blank=True)
    load_kg = models.FloatField(null=True, blank=True)
    barrel_radius_mm = models.FloatField(null=True, blank=True)
    spoke_back_mm = models.FloatField(null=True, blank=True)
    pinned = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "wheel",
                bolts="bolts",
                pcd_mm="pcd_mm",
                bore_mm="bore_mm",
                pad_thickness_mm="pad_thickness_mm",
                load_kg="load_kg",
                barrel_radius_mm="barrel_radius_mm",
                spoke_back_mm="spoke_back_mm",
                mass_kg="mass_kg",
                price_minor="price_minor",
                lead_days="lead_days",
            ),
            models.CheckConstraint(name="wheel_diameter", condition=Q(diameter_in__gte=8, diameter_in__lte=30)),
            models.CheckConstraint(name="wheel_width", condition=Q(width_in__gte=3, width_in__lte=18)),
            models.CheckConstraint(name="wheel_offset", condition=Q(offset_mm__gte=-200, offset_mm__lte=200)),
            models.CheckConstraint(name="wheel_mass", condition=Q(mass_kg__isnull=True) | Q(mass_kg__gt=0)),
        ]

    def __str__(self) -> str:
        return f"{self.name} {self.size}".strip()

    @property
    def fault(self) -> str | None:
        """Why the core can't read this wheel; None where it can."""
        try:
            CoreWheel(self.diameter_in, self.width_in, self.offset_mm, self.bolts, self.pcd_mm, self.bore_mm)
            if self.seat:
                parse_seat(self.seat)
        except CoreError as error:
            return error.message
        return None

    @property
    def size(self) -> str:
        return f"{self.diameter_in:g}×{self.width_in:g} {self.offset_mm:+g}".replace("-", "−")


class Tyre(Offered):
    """A tyre on the shortlist."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="tyres")
    size = models.CharField(max_length=60)
    rim_diameter_in = models.FloatField()
    section_width_mm = models.FloatField()
    measured_section_mm = models.FloatField(null=True, blank=True)
    profile = models.JSONField("measured half section", null=True, blank=True)
    #: the rim on which it was measured; blank says that it holds for any
    profile_rim_in = models.FloatField("rim it was measured on", null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "tyre",
                measured_section_mm="section_mm",
                profile_rim_in="width_in",
                mass_kg="mass_kg",
                price_minor="price_minor",
                lead_days="lead_days",
            ),
            models.CheckConstraint(name="tyre_mass", condition=Q(mass_kg__isnull=True) | Q(mass_kg__gt=0)),
        ]

    def __str__(self) -> str:
        return f"{self.name} {self.size}".strip()

    @property
    def fault(self) -> str | None:
        """Why the core can't read this tyre; None where it can."""
        try:
            parsed = parse_tyre(self.size)
            if not same_rim(parsed.rim_diameter_in, self.rim_diameter_in):
                return f"its size says {parsed.rim_diameter_in:g} in, its row {self.rim_diameter_in:g} in"
            if self.profile:
                traced(
                    outline(CoreWheel(parsed.rim_diameter_in, parsed.measuring_rim_in), parsed),
                    tuple((float(a), float(r)) for a, r in self.profile),
                )
        except (CoreError, TypeError, ValueError) as error:
            return str(getattr(error, "message", "its outline can't be read"))
        return None


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
