"""Cars, and what stands on them."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.parts import Part
from rimcore.tables.facts import ENDS
from shell.limits import limited
from shell.narrow import ChangedColumns


class Car(ChangedColumns):
    """One car of one person."""

    USES = {
        "street": "street",
        "track": "track",
        "drift": "drift",
        "climb": "hill climb, autocross",
        "tow": "tow and load",
        "show": "show",
    }
    DRIVES = {"F": "front", "R": "rear", "4": "four-wheel"}
    CURRENCIES = {
        "EUR": "EUR",
        "GBP": "GBP",
        "USD": "USD",
        "CHF": "CHF",
        "SEK": "SEK",
        "NOK": "NOK",
        "PLN": "PLN",
        "AUD": "AUD",
        "CAD": "CAD",
        "DKK": "DKK",
        "CZK": "CZK",
        "HUF": "HUF",
        "JPY": "JPY",
        "NZD": "NZD",
    }

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="cars")
    nickname = models.CharField(max_length=60)
    description = models.CharField(max_length=200, blank=True)
    use = models.CharField(max_length=10, choices=USES, default="street")
    second_use = models.CharField(max_length=10, choices=USES, blank=True)
    #: alignment: the school that was picked, and targets of one's own by end and angle (F.camber_deg) [deg]
    alignment_school = models.CharField(max_length=10, blank=True, editable=False)
    alignment_targets = models.JSONField(default=dict, blank=True, editable=False)
    drive = models.CharField(max_length=1, choices=DRIVES, default="", blank=True)
    wheelbase_mm = models.FloatField(null=True, blank=True)
    track_front_mm = models.FloatField(null=True, blank=True)
    track_rear_mm = models.FloatField(null=True, blank=True)
    front_axle_kg = models.FloatField(null=True, blank=True)
    rear_axle_kg = models.FloatField(null=True, blank=True)
    #: of the centre of gravity above the ground, as the car stands
    cg_height_mm = models.FloatField(null=True, blank=True)
    #: days on a track since the car stands in this garage
    track_days = models.PositiveSmallIntegerField(default=0, editable=False)
    odometer_km = models.PositiveIntegerField(default=0)
    currency = models.CharField(max_length=3, choices=CURRENCIES, default="EUR")
    budget_minor = models.PositiveBigIntegerField(null=True, blank=True)
    event_name = models.CharField(max_length=80, blank=True)
    event_on = models.DateField(null=True, blank=True)
    hours_per_week = models.FloatField(default=8, validators=[MinValueValidator(0.5), MaxValueValidator(120)])
    #: goes with the car's file: by it the same car is known when it comes again
    uid = models.UUIDField(default=uuid.uuid4, editable=False, db_index=True)
    #: a copy that is only read: the day on which the car was handed over
    closed_on = models.DateField(null=True, blank=True, editable=False)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "car",
                wheelbase_mm="wheelbase_mm",
                track_front_mm="track_mm",
                track_rear_mm="track_mm",
                front_axle_kg="axle_kg",
                rear_axle_kg="axle_kg",
                cg_height_mm="cg_height_mm",
                odometer_km="odometer_km",
                budget_minor="cost_minor",
            ),
            models.CheckConstraint(
                name="car_hours_per_week", condition=Q(hours_per_week__gte=0.5, hours_per_week__lte=120)
            ),
            models.CheckConstraint(name="car_nickname", condition=~Q(nickname="")),
        ]

    def __str__(self) -> str:
        return self.nickname

    @property
    def mass_kg(self) -> float | None:
        if self.front_axle_kg is None or self.rear_axle_kg is None:
            return None
        return self.front_axle_kg + self.rear_axle_kg


class Axle(ChangedColumns):
    """Hub and suspension of one end of a car."""

    SUSPENSIONS = {
        "strut": "strut",
        "wishbone": "double wishbone",
        "multilink": "multi-link",
        "beam": "twist beam",
        "live": "live axle",
    }

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="axles")
    end = models.CharField(max_length=1, choices=ENDS)
    suspension = models.CharField(max_length=10, choices=SUSPENSIONS, default="", blank=True)
    bolts = models.PositiveSmallIntegerField(
        "lugs", null=True, blank=True, validators=[MinValueValidator(3), MaxValueValidator(10)]
    )
    pcd_mm = models.FloatField("bolt circle", null=True, blank=True)
    bore_mm = models.FloatField("hub spigot", null=True, blank=True)
    thread = models.CharField(max_length=20, blank=True)
    stud_length_mm = models.FloatField("stud beyond the hub's face", null=True, blank=True)
    bolt_length_mm = models.FloatField("bolt under its seat", null=True, blank=True)
    seat = models.CharField("seat of nuts or bolts", max_length=20, blank=True)
    collar_mm = models.FloatField("height of the hub spigot", null=True, blank=True)
    nut_torque_nm = models.FloatField("torque of the car's handbook", null=True, blank=True)
    #: names of what was typed with the wheel that stands there, and not read at the hub
    off_wheel = models.JSONField(default=list, blank=True, editable=False)
    #: day on which this was last written
    noted_on = models.DateField(null=True, blank=True, editable=False)

    class Meta:
        ordering = ["end"]
        constraints = [
            *limited(
                "axle",
                pcd_mm="pcd_mm",
                bore_mm="bore_mm",
                stud_length_mm="stud_mm",
                bolt_length_mm="stud_mm",
                collar_mm="collar_mm",
                nut_torque_nm="torque_nm",
            ),
            models.UniqueConstraint(fields=["car", "end"], name="one_axle_an_end"),
            models.CheckConstraint(name="axle_bolts", condition=Q(bolts__isnull=True) | Q(bolts__gte=3, bolts__lte=10)),
            models.CheckConstraint(
                name="stud_or_bolt", condition=Q(stud_length_mm__isnull=True) | Q(bolt_length_mm__isnull=True)
            ),
        ]

    def __str__(self) -> str:
        return f"{self.car}, {ENDS[self.end]}"


class Driveline(ChangedColumns):
    """Ratios from the engine to the driven wheels; the tyre is that of the outfit."""

    car = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="driveline")
    #: ratios of the gearbox, first gear first
    gears = models.JSONField(default=list)
    axle_ratio = models.FloatField()
    transfer_ratio = models.FloatField(default=1.0)
    limit_rpm = models.PositiveIntegerField("engine's limit")
    #: where the engine pulls best at cruise, with what it tows; None: nobody said
    wanted_rpm = models.PositiveIntegerField("wanted at cruise", null=True, blank=True)
    cruise_kmh = models.FloatField("cruise", null=True, blank=True)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        constraints = [
            models.CheckConstraint(name="driveline_axle", condition=Q(axle_ratio__gte=0.01, axle_ratio__lte=100)),
            models.CheckConstraint(
                name="driveline_transfer", condition=Q(transfer_ratio__gte=0.01, transfer_ratio__lte=100)
            ),
            models.CheckConstraint(name="driveline_limit", condition=Q(limit_rpm__gte=500, limit_rpm__lte=30_000)),
            models.CheckConstraint(
                name="driveline_wanted",
                condition=Q(wanted_rpm__isnull=True) | Q(wanted_rpm__gte=300, wanted_rpm__lte=30_000),
            ),
            models.CheckConstraint(
                name="driveline_cruise",
                condition=Q(cruise_kmh__isnull=True) | Q(cruise_kmh__gte=1, cruise_kmh__lte=400),
            ),
        ]

    def __str__(self) -> str:
        return f"{' '.join(f'{ratio:g}' for ratio in self.gears)}, axle {self.axle_ratio:g}"


class Outfit(models.Model):
    """What stands on the car from a date on: the baseline, and what each job made of it."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="outfits")
    name = models.CharField(max_length=80)
    is_baseline = models.BooleanField(default=False)
    since = models.DateField(default=timezone.localdate)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["since", "id"]
        constraints = [
            models.UniqueConstraint(fields=["car"], condition=Q(is_baseline=True), name="one_baseline_a_car")
        ]

    def __str__(self) -> str:
        return self.name


class OutfitAxle(models.Model):
    """Wheel and tyre of one end in an outfit.

    Parts as those of the list, but this end's own, so that nothing else changes them.
    """

    outfit = models.ForeignKey(Outfit, on_delete=models.CASCADE, related_name="axles")
    end = models.CharField(max_length=1, choices=ENDS)
    wheel_part = models.ForeignKey(Part, on_delete=models.RESTRICT, related_name="stands_as_wheel")
    tyre_part = models.ForeignKey(Part, on_delete=models.RESTRICT, related_name="stands_as_tyre")
    spacer_mm = models.FloatField("spacer", default=0)
    #: blank where nobody wrote it
    camber_deg = models.FloatField("camber", null=True, blank=True)
    ride_drop_mm = models.FloatField("lowered against the baseline", default=0)
    #: lowered more than the end, by its collar
    left_more_mm = models.FloatField(default=0)
    right_more_mm = models.FloatField(default=0)

    class Meta:
        ordering = ["end"]
        constraints = [
            *limited(
                "outfit", ride_drop_mm="ride_drop_mm", left_more_mm="corner_drop_mm", right_more_mm="corner_drop_mm"
            ),
            models.UniqueConstraint(fields=["outfit", "end"], name="one_outfit_axle_an_end"),
            models.CheckConstraint(name="outfit_spacer", condition=Q(spacer_mm__gte=0, spacer_mm__lte=200)),
            models.CheckConstraint(
                name="outfit_camber", condition=Q(camber_deg__isnull=True) | Q(camber_deg__gte=-20, camber_deg__lte=20)
            ),
        ]

    def __str__(self) -> str:
        return f"{self.wheel}, {self.tyre}"

    @property
    def corner_mm(self) -> tuple[float, float]:
        """Lowered more than the end: left, right [mm]."""
        return self.left_more_mm, self.right_more_mm

    def drop_at(self, corner: str) -> float:
        """How far a corner stands lower than in the baseline [mm]."""
        return self.ride_drop_mm + self.corner_mm[corner[1:2] == "R"]

    @property
    def wheel(self) -> str:
        """The wheel, as it was written."""
        return self.wheel_part.line or str(self.wheel_part)

    @property
    def tyre(self) -> str:
        """The tyre's size, as it was written."""
        return str(self.tyre_part.spec.get("size", self.tyre_part.name))

    @property
    def wheel_kg(self) -> float | None:
        return self.wheel_part.mass_kg

    @property
    def tyre_kg(self) -> float | None:
        return self.tyre_part.mass_kg

    def said(self, name: str) -> Any:
        """What is known of this end, by the name of the form's field; None is not known."""
        if name in ("wheel", "tyre", "wheel_kg", "tyre_kg", "spacer_mm", "camber_deg", "ride_drop_mm"):
            return getattr(self, name)
        return (self.tyre_part if name in ("measured_section_mm", "profile") else self.wheel_part).spec.get(name)
