"""What a person keeps for all cars: units, sign of money, own margins."""

from __future__ import annotations

from copy import copy

from django.conf import settings
from django.db import models

from rimcore.well.judge.tolerance import SCHOOL_NAMES
from shell.limits import limited
from shell.narrow import ChangedColumns


class Preferences(ChangedColumns):
    """Units per person and quantity."""

    LENGTH = {"mm": "millimetre", "in": "inch"}
    MASS = {"kg": "kilogram", "lb": "pound"}
    TORQUE = {"N·m": "newton metre", "lbf·ft": "pound-force foot"}
    PRESSURE = {"bar": "bar", "psi": "psi", "kPa": "kilopascal"}
    SPEED = {"km/h": "kilometres per hour", "mph": "miles per hour"}
    DISTANCE = {"km": "kilometre", "mi": "mile"}
    TEMPERATURE = {"°C": "degrees Celsius", "°F": "degrees Fahrenheit"}
    POWER = {"kW": "kilowatt", "hp": "horsepower, 550 ft·lbf/s", "PS": "metric horsepower, 75 kgf·m/s"}
    VOLUME = {"L": "litre", "US gal": "US gallon", "UK gal": "imperial gallon", "US qt": "US quart"}
    FUEL = {
        "L/100 km": "litres per 100 km",
        "mpg US": "miles per US gallon",
        "mpg UK": "miles per imperial gallon",
        "km/L": "kilometres per litre",
    }
    RATE = {
        "N/mm": "newton per millimetre",
        "kgf/mm": "kilogram-force per millimetre",
        "lbf/in": "pound-force per inch",
    }
    FORCE = {"N": "newton", "lbf": "pound-force", "kgf": "kilogram-force"}
    ANGLE = {"deg": "degrees", "min": "degrees and minutes; a bare number is minutes"}
    MONEY = {"code": "310 EUR", "sign": "€310"}

    #: what a preset says of every quantity
    PRESETS = {
        "metric": ("mm", "mm", "kg", "N·m", "bar", "km/h", "km", "°C", "kW", "L", "L/100 km", "N/mm", "N", "deg"),
        "imperial": (
            "in",
            "mm",
            "lb",
            "lbf·ft",
            "psi",
            "mph",
            "mi",
            "°F",
            "hp",
            "US gal",
            "mpg US",
            "lbf/in",
            "lbf",
            "deg",
        ),
        "mixed": ("mm", "mm", "lb", "lbf·ft", "psi", "mph", "mi", "°C", "hp", "L", "mpg UK", "lbf/in", "lbf", "deg"),
    }
    UNITS = (
        "length_unit",
        "offset_unit",
        "mass_unit",
        "torque_unit",
        "pressure_unit",
        "speed_unit",
        "distance_unit",
        "temperature_unit",
        "power_unit",
        "volume_unit",
        "fuel_unit",
        "rate_unit",
        "force_unit",
        "angle_unit",
    )

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preferences")
    length_unit = models.CharField("gaps and lengths", max_length=8, choices=LENGTH, default="mm")
    offset_unit = models.CharField("offset, bore and bolt circle", max_length=8, choices=LENGTH, default="mm")
    mass_unit = models.CharField("weight", max_length=8, choices=MASS, default="kg")
    torque_unit = models.CharField("torque", max_length=8, choices=TORQUE, default="N·m")
    pressure_unit = models.CharField("pressure", max_length=8, choices=PRESSURE, default="bar")
    speed_unit = models.CharField("speed", max_length=8, choices=SPEED, default="km/h")
    distance_unit = models.CharField("distance driven", max_length=8, choices=DISTANCE, default="km")
    temperature_unit = models.CharField("temperature", max_length=8, choices=TEMPERATURE, default="°C")
    power_unit = models.CharField("power", max_length=8, choices=POWER, default="kW")
    volume_unit = models.CharField("volume", max_length=8, choices=VOLUME, default="L")
    fuel_unit = models.CharField("fuel use", max_length=8, choices=FUEL, default="L/100 km")
    rate_unit = models.CharField("spring rate", max_length=8, choices=RATE, default="N/mm")
    force_unit = models.CharField("force", max_length=8, choices=FORCE, default="N")
    angle_unit = models.CharField("angle", max_length=8, choices=ANGLE, default="deg")
    money_sign = models.CharField("money", max_length=8, choices=MONEY, default="code")
    #: ± of a method [mm] from the person's own repeats, where it is used instead of the stated one
    own_doubts = models.JSONField(default=dict, blank=True, editable=False)
    #: kind of prediction -> what one's own taught: n, widen, add, until
    own_honesty = models.JSONField(default=dict, blank=True, editable=False)

    class Meta:
        verbose_name_plural = "preferences"

    def __str__(self) -> str:
        return f"units of {self.user}"

    def in_units_of(self, other: Preferences) -> Preferences:
        """What is one's own stays (± and what was taught), units and money's sign are those of whoever reads."""
        found = copy(self)
        for column in (*self.UNITS, "money_sign"):
            setattr(found, column, getattr(other, column))
        return found


class ToleranceSet(ChangedColumns):
    """A person's own copy of a school's margins [mm]."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="tolerance_sets")
    name = models.CharField(max_length=40)
    school = models.CharField("copied from", max_length=10, choices=SCHOOL_NAMES)
    damper_mm = models.FloatField("damper")
    perch_mm = models.FloatField("perch")
    arch_side_mm = models.FloatField("arch lip, sideways")
    arch_up_mm = models.FloatField("arch lip, upward")
    liner_mm = models.FloatField("liner")
    rail_mm = models.FloatField("rail and arms")
    caliper_mm = models.FloatField("caliper")
    joint_mm = models.FloatField("joints")
    growth_mm = models.FloatField("tread grows at speed", default=1.0)
    flex_mm = models.FloatField("sidewall and bushes lean", default=2.0)

    class Meta:
        ordering = ["name"]
        constraints = [
            *limited(
                "margins",
                damper_mm="margin_mm",
                perch_mm="margin_mm",
                arch_side_mm="margin_mm",
                arch_up_mm="margin_mm",
                liner_mm="margin_mm",
                rail_mm="margin_mm",
                caliper_mm="margin_mm",
                joint_mm="margin_mm",
                growth_mm="margin_mm",
                flex_mm="margin_mm",
            ),
            models.UniqueConstraint(fields=["owner", "name"], name="one_set_a_name"),
        ]

    def __str__(self) -> str:
        return self.name
