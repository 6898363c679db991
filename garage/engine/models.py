"""What is known of a car's engine, its cooling and its brakes."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car
from rimcore.braking.stops import HARD_G, HARD_KMH
from shell.limits import limited
from shell.narrow import ChangedColumns


class Engine(ChangedColumns):
    """The engine as it breathes; four-stroke unless said."""

    car = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="engine")
    displacement_l = models.FloatField("displacement, L")
    cylinders = models.PositiveSmallIntegerField(default=4)
    ve_pct = models.FloatField("filling at the limit, %", default=90)
    manifold_ratio = models.FloatField("manifold pressure over outside", default=1)
    #: bore of the air meter's housing that the engine is calibrated for
    meter_mm = models.FloatField("bore of the original airflow meter housing", null=True, blank=True)
    limit_rpm = models.FloatField("engine's limit", null=True, blank=True)
    cruise_rpm = models.FloatField("engine speed at cruise", null=True, blank=True)
    #: of the exhaust at the limit, at its two ends
    gas_in_c = models.FloatField("exhaust gas at the manifold, °C", default=750)
    gas_out_c = models.FloatField("exhaust gas at the tip, °C", default=350)
    #: own field: what the place or the organiser allows [dB(A)]
    sound_limit_db = models.FloatField("sound limit, dB(A)", null=True, blank=True)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        constraints = [
            *limited(
                "engine",
                displacement_l="displacement_l",
                ve_pct="ve_pct",
                manifold_ratio="manifold_ratio",
                meter_mm="bore_of_pipe_mm",
                limit_rpm="rpm",
                cruise_rpm="rpm",
                gas_in_c="gas_c",
                gas_out_c="gas_c",
                sound_limit_db="sound_db",
            ),
            models.CheckConstraint(name="engine_cylinders", condition=Q(cylinders__gte=1, cylinders__lte=16)),
        ]

    def __str__(self) -> str:
        return f"{self.displacement_l:g} L, {self.cylinders} cylinders"


SIDES = (("left", "left"), ("right", "right"))


#: what is said of a cooling system, in the order of its form
COOLING = (
    "cap_kpa",
    "glycol_pct",
    "coolant_c",
    "coldest_c",
    "width_mm",
    "height_mm",
    "depth_mm",
    "tilt_deg",
    "top_port",
    "lower_port",
)


class Cooling(ChangedColumns):
    """The cooling system as it stands."""

    car = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="cooling")
    cap_kpa = models.FloatField("cap opens at, kPa over outside")
    #: blank where nobody read it
    glycol_pct = models.FloatField("ethylene glycol, % by volume", null=True, blank=True)
    coolant_c = models.FloatField("coolant at its hottest, °C", null=True, blank=True)
    width_mm = models.FloatField("core width", null=True, blank=True)
    height_mm = models.FloatField("core height", null=True, blank=True)
    depth_mm = models.FloatField("core depth", null=True, blank=True)
    #: how far the core leans from upright; blank: upright
    tilt_deg = models.FloatField("core leans by, °", null=True, blank=True)
    top_port = models.CharField("top port, from the front", max_length=5, choices=SIDES, blank=True)
    lower_port = models.CharField("lower port, from the front", max_length=5, choices=SIDES, blank=True)
    coldest_c = models.FloatField("coldest night, °C", null=True, blank=True)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        constraints = [
            *limited(
                "cooling",
                cap_kpa="cap_kpa",
                glycol_pct="glycol_pct",
                coolant_c="coolant_c",
                width_mm="core_mm",
                height_mm="core_mm",
                depth_mm="core_depth_mm",
                tilt_deg="core_tilt_deg",
                coldest_c="coldest_c",
            )
        ]

    def __str__(self) -> str:
        return f"cooling of {self.car}"


class Brakes(ChangedColumns):
    """One rotor of each end, and the stop that is reckoned."""

    car = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="brakes")
    front_rotor_kg = models.FloatField("one front disc", null=True, blank=True)
    rear_rotor_kg = models.FloatField("one rear disc", null=True, blank=True)
    from_kmh = models.FloatField("stop from", default=HARD_KMH)
    deceleration_g = models.FloatField("deceleration, g", default=HARD_G)
    #: towed or carried in the hard case, beside the car as it was weighed
    load_kg = models.FloatField("trailer and load in the stop", default=0)
    #: it stops itself, and is no load of the car's brakes
    load_braked = models.BooleanField("the trailer has brakes of its own", default=False)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        constraints = [
            *limited(
                "brakes",
                front_rotor_kg="rotor_kg",
                rear_rotor_kg="rotor_kg",
                from_kmh="stop_kmh",
                deceleration_g="stop_g",
                load_kg="towed_kg",
            )
        ]

    def __str__(self) -> str:
        return f"brakes of {self.car}"
