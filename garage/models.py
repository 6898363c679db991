"""Cars, what stands on them, and what was measured."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.parts import Part
from rimcore.quantities.limits import LIMITS
from rimcore.ride.points import LAYOUTS
from rimcore.well.asked import place_of
from rimcore.well.stations import CORNERS, METHOD_NAMES
from rimcore.well.tolerance import SCHOOL_NAMES
from shell.limits import limited
from shell.narrow import ChangedColumns

ENDS = {"F": "front", "R": "rear"}


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
    RATE = {"N/mm": "newton per millimetre", "kgf/mm": "kilogram-force per millimetre", "lbf/in": "pound-force per inch"}
    FORCE = {"N": "newton", "lbf": "pound-force", "kgf": "kilogram-force"}
    ANGLE = {"deg": "degrees", "min": "degrees and minutes; a bare number is minutes"}
    MONEY = {"code": "310 EUR", "sign": "€310"}

    #: what a preset says of every quantity
    PRESETS = {
        "metric": ("mm", "mm", "kg", "N·m", "bar", "km/h", "km", "°C", "kW", "L", "L/100 km", "N/mm", "N", "deg"),
        "imperial": ("in", "mm", "lb", "lbf·ft", "psi", "mph", "mi", "°F", "hp", "US gal", "mpg US", "lbf/in", "lbf", "deg"),
        "mixed": ("mm", "mm", "lb", "lbf·ft", "psi", "mph", "mi", "°C", "hp", "L", "mpg UK", "lbf/in", "lbf", "deg"),
    }
    UNITS = (
        "length_unit", "offset_unit", "mass_unit", "torque_unit", "pressure_unit", "speed_unit", "distance_unit", "temperature_unit", "power_unit",
        "volume_unit", "fuel_unit", "rate_unit", "force_unit", "angle_unit",
    )  # fmt: skip

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preferences")
    length_unit = models.CharField("gaps and lengths", max_length=8, choices=LENGTH, default="mm")
    offset_unit = models.CharField("offset, bore and bolt circle", max_length=8, choices=LENGTH, default="mm")
    mass_unit = models.CharField("mass", max_length=8, choices=MASS, default="kg")
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

    class Meta:
        verbose_name_plural = "preferences"

    def __str__(self) -> str:
        return f"units of {self.user}"


class Car(ChangedColumns):
    """One car of one person."""

    USES = {"street": "street", "track": "track", "drift": "drift", "climb": "hill climb, autocross", "tow": "tow and load", "show": "show"}
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
            models.CheckConstraint(name="car_hours_per_week", condition=Q(hours_per_week__gte=0.5, hours_per_week__lte=120)),
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

    SUSPENSIONS = {"strut": "strut", "wishbone": "double wishbone", "multilink": "multi-link", "beam": "twist beam", "live": "live axle"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="axles")
    end = models.CharField(max_length=1, choices=ENDS)
    suspension = models.CharField(max_length=10, choices=SUSPENSIONS, default="", blank=True)
    bolts = models.PositiveSmallIntegerField("lugs", null=True, blank=True, validators=[MinValueValidator(3), MaxValueValidator(10)])
    pcd_mm = models.FloatField("bolt circle", null=True, blank=True)
    bore_mm = models.FloatField("hub collar", null=True, blank=True)
    thread = models.CharField(max_length=20, blank=True)
    stud_length_mm = models.FloatField("stud beyond the hub's face", null=True, blank=True)
    bolt_length_mm = models.FloatField("bolt under its seat", null=True, blank=True)
    seat = models.CharField("seat of nuts or bolts", max_length=20, blank=True)
    collar_mm = models.FloatField("height of the hub's collar", null=True, blank=True)
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
            models.CheckConstraint(name="stud_or_bolt", condition=Q(stud_length_mm__isnull=True) | Q(bolt_length_mm__isnull=True)),
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
            models.CheckConstraint(name="driveline_transfer", condition=Q(transfer_ratio__gte=0.01, transfer_ratio__lte=100)),
            models.CheckConstraint(name="driveline_limit", condition=Q(limit_rpm__gte=500, limit_rpm__lte=30_000)),
            models.CheckConstraint(
                name="driveline_wanted", condition=Q(wanted_rpm__isnull=True) | Q(wanted_rpm__gte=300, wanted_rpm__lte=30_000)
            ),
            models.CheckConstraint(
                name="driveline_cruise", condition=Q(cruise_kmh__isnull=True) | Q(cruise_kmh__gte=1, cruise_kmh__lte=400)
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
        constraints = [models.UniqueConstraint(fields=["car"], condition=Q(is_baseline=True), name="one_baseline_a_car")]

    def __str__(self) -> str:
        return self.name


class OutfitAxle(models.Model):
    """Wheel and tyre of one end in an outfit: parts as those of the list, but this end's own, so that nothing else changes them."""

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
            *limited("outfit", ride_drop_mm="ride_drop_mm", left_more_mm="corner_drop_mm", right_more_mm="corner_drop_mm"),
            models.UniqueConstraint(fields=["outfit", "end"], name="one_outfit_axle_an_end"),
            models.CheckConstraint(name="outfit_spacer", condition=Q(spacer_mm__gte=0, spacer_mm__lte=200)),
            models.CheckConstraint(name="outfit_camber", condition=Q(camber_deg__isnull=True) | Q(camber_deg__gte=-20, camber_deg__lte=20)),
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

    Where the rule went and what it read are what the station declares (``rimcore.well.asked``); nothing else is kept.
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
                name="reading_values_within", condition=Q(values__0__gte=LIMITS["reading"].low, values__0__lte=LIMITS["reading"].high)
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


class HardPoint(models.Model):
    """One point of a corner's links, read with a plumb line. Never overwritten: a newer one of the same name stands over it."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="hard_points")
    corner = models.CharField(max_length=2, choices=[(c, c) for c in CORNERS])
    layout = models.CharField(max_length=10, choices=[(key, one.name) for key, one in LAYOUTS.items()])
    #: a point of the layout, or the hub
    name = models.CharField(max_length=20)
    across_mm = models.FloatField()
    ahead_mm = models.FloatField()
    up_mm = models.FloatField()
    #: across is inboard of the mounting face, not from the car's centre line
    from_face = models.BooleanField(default=False)
    uncertainty_mm = models.FloatField()
    #: how far the end was lowered against the baseline when it was read
    ride_drop_mm = models.FloatField(default=0)
    #: taken over from the other side, not read here
    mirrored = models.BooleanField(default=False)
    who = models.CharField(max_length=60, blank=True)
    taken_on = models.DateField(default=timezone.localdate)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-taken_on", "-id"]
        indexes = [models.Index(fields=["car", "corner"])]
        constraints = [
            *limited(
                "hard_point",
                across_mm="point_mm",
                ahead_mm="point_mm",
                up_mm="point_up_mm",
                uncertainty_mm="uncertainty",
                ride_drop_mm="ride_drop_mm",
            ),
            models.CheckConstraint(name="hard_point_corner", condition=Q(corner__in=CORNERS)),
            models.CheckConstraint(name="hard_point_layout", condition=Q(layout__in=tuple(LAYOUTS))),
        ]

    def __str__(self) -> str:
        return f"{self.corner} {self.name}"


class Rack(ChangedColumns):
    """A car's steering rack, as it was read."""

    car = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="rack")
    travel_mm = models.FloatField("travel from the middle to either lock", null=True, blank=True)
    turns = models.FloatField("turns of the steering wheel, lock to lock", null=True, blank=True)
    left_stick_out_mm = models.FloatField("left rod out of the rack", null=True, blank=True)
    right_stick_out_mm = models.FloatField("right rod out of the rack", null=True, blank=True)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        constraints = [
            *limited("rack", travel_mm="rack_travel_mm", turns="turns", left_stick_out_mm="stick_out_mm", right_stick_out_mm="stick_out_mm")
        ]

    def __str__(self) -> str:
        return f"rack of {self.car}"


class Adjuster(models.Model):
    """Something that is turned to align a wheel, and what a turn of it was found to change."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="adjusters")
    name = models.CharField(max_length=60)
    corner = models.CharField(max_length=2, choices=[(c, c) for c in CORNERS])
    #: degrees a turn, by angle: camber_deg, caster_deg, toe_deg
    effects = models.JSONField(default=dict)
    #: ± of each, from the readings it was found from [deg a turn]
    doubts = models.JSONField(default=dict, blank=True)
    #: turns left, the minus and the plus way; None is not known
    turns_back = models.FloatField(null=True, blank=True)
    turns_on = models.FloatField(null=True, blank=True)
    turns = models.FloatField("turns it was found from", default=1)
    noted_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["corner", "name"]
        constraints = [
            models.UniqueConstraint(fields=["car", "corner", "name"], name="adjuster_once"),
            models.CheckConstraint(name="adjuster_corner", condition=Q(corner__in=CORNERS)),
        ]

    def __str__(self) -> str:
        return f"{self.corner} {self.name}"


class FrameMarks(models.Model):
    """Four marks of a subframe or crossmember on the floor: sides, ends and diagonals, as they were read."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="frame_marks")
    what = models.CharField("what is squared", max_length=60)
    left_mm = models.FloatField("left side")
    right_mm = models.FloatField("right side")
    front_mm = models.FloatField("front pair")
    rear_mm = models.FloatField("rear pair")
    left_to_right_mm = models.FloatField("front left to rear right")
    right_to_left_mm = models.FloatField("front right to rear left")
    who = models.CharField(max_length=60, blank=True)
    taken_on = models.DateField(default=timezone.localdate)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-taken_on", "-id"]
        constraints = [
            *limited(
                "frame", left_mm="frame_mm", right_mm="frame_mm", front_mm="frame_mm", rear_mm="frame_mm", left_to_right_mm="frame_mm",
                right_to_left_mm="frame_mm",
            )
        ]  # fmt: skip

    def __str__(self) -> str:
        return f"{self.what}, {self.taken_on:%-d %b %Y}"


class FrameTrial(models.Model):
    """A bolt or a damper beside the frame at one corner, tried at full bump and full droop."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="frame_trials")
    what = models.CharField("what leans in", max_length=60)
    corner = models.CharField(max_length=2, choices=[(c, c) for c in CORNERS])
    bump_mm = models.FloatField("gap at full bump", null=True, blank=True)
    droop_mm = models.FloatField("gap at full droop", null=True, blank=True)
    plate_mm = models.FloatField("plate that goes back", default=2)
    #: after the metal was taken away, before anything is welded
    again = models.BooleanField(default=False)
    who = models.CharField(max_length=60, blank=True)
    taken_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["-taken_on", "-id"]
        constraints = [
            *limited("frame_trial", bump_mm="frame_gap_mm", droop_mm="frame_gap_mm", plate_mm="plate_mm"),
            models.CheckConstraint(name="frame_trial_corner", condition=Q(corner__in=CORNERS)),
        ]

    def __str__(self) -> str:
        return f"{self.what}, {self.corner}"


class KnownDip(models.Model):
    """A place that is driven again after every change of height: how far the damper's shaft went in there at a corner."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="dips")
    name = models.CharField("place", max_length=60)
    corner = models.CharField(max_length=2, choices=[(c, c) for c in CORNERS])
    shaft_mm = models.FloatField("cable tie moved along the shaft")
    #: how far the end was lowered against the baseline when it was driven
    ride_drop_mm = models.FloatField(default=0)
    touched = models.BooleanField("it touched", default=False)
    who = models.CharField(max_length=60, blank=True)
    driven_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["-driven_on", "-id"]
        constraints = [
            *limited("dip", shaft_mm="dip_mm", ride_drop_mm="ride_drop_mm"),
            models.CheckConstraint(name="dip_corner", condition=Q(corner__in=CORNERS)),
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.corner}"


class Springs(ChangedColumns):
    """Springs of one end as they stand on the car, left and right alike."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="springs")
    end = models.CharField(max_length=1, choices=ENDS)
    rate_n_per_mm = models.FloatField("rate of one spring")
    free_length_mm = models.FloatField("length at rest", null=True, blank=True)
    block_length_mm = models.FloatField("length with every coil on the next", null=True, blank=True)
    preload_mm = models.FloatField("preload at full droop", null=True, blank=True)
    motion_ratio = models.FloatField("spring movement ÷ wheel movement", default=1)
    unsprung_kg = models.FloatField("of a corner, what moves with the wheel", null=True, blank=True)
    #: None where the perch can't be turned
    turn_mm = models.FloatField("perch a turn", null=True, blank=True)
    bar_n_per_mm = models.FloatField("anti-roll bar at the wheel", default=0)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        ordering = ["end"]
        constraints = [
            *limited(
                "springs", rate_n_per_mm="rate", free_length_mm="coil_mm", block_length_mm="coil_mm", preload_mm="preload_mm", motion_ratio="motion_ratio",
                unsprung_kg="unsprung_kg", turn_mm="turn_mm", bar_n_per_mm="bar",
            ),
            models.UniqueConstraint(fields=["car", "end"], name="one_springs_an_end"),
        ]  # fmt: skip

    def __str__(self) -> str:
        return f"{self.get_end_display()} springs, {self.rate_n_per_mm:g} N/mm"


class OldPart(models.Model):
    """A part of the chassis that stands on the car, as it was written down before it came off; newer ones stand over older."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="old_parts")
    end = models.CharField(max_length=1, choices=ENDS)
    family = models.CharField(max_length=20)
    spec = models.JSONField(default=dict)
    who = models.CharField(max_length=60, blank=True)
    noted_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["-noted_on", "-id"]

    def __str__(self) -> str:
        return f"{self.get_end_display()} {self.family}"


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
                "trial", measured_section_mm="section_mm", spacer_mm="spacer_mm", camber_deg="camber_deg", ride_drop_mm="ride_drop_mm"
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
                "sighting", gap_mm="sighting_mm", uncertainty_mm="sighting_uncertainty_mm", steer_deg="steer_deg", travel_mm="travel_mm"
            ),
            models.CheckConstraint(name="sighting_gap", condition=~Q(seen="gap") | Q(gap_mm__isnull=False)),
            models.CheckConstraint(name="sighting_uncertainty", condition=Q(uncertainty_mm__gt=0)),
        ]

    def __str__(self) -> str:
        return f"{self.reading.code}: {self.get_seen_display()}"


class Rub(models.Model):
    """A trace of a rub: where and when it happened, in the pose it is thought to have happened."""

    WHEN = {"lock": "full lock, reversing", "dip": "the known dip", "corner": "fast corner", "load": "loaded", "other": "other"}

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


import garage.aired  # noqa: E402
import garage.engine  # noqa: E402  its models hang on Car
import garage.massed  # noqa: E402, F401  so do these
