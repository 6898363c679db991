"""What was read and learnt of the chassis: hard points, rack, adjusters, frame marks, dips, springs, old parts."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car
from rimcore.ride.points import LAYOUTS
from rimcore.tables.facts import CORNERS, ENDS
from shell.limits import limited
from shell.narrow import ChangedColumns


class HardPoint(models.Model):
    """One point of a corner's links, read with a plumb line.

    Never overwritten: a newer one of the same name stands over it.
    """

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
            *limited(
                "rack",
                travel_mm="rack_travel_mm",
                turns="turns",
                left_stick_out_mm="stick_out_mm",
                right_stick_out_mm="stick_out_mm",
            )
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
                "frame",
                left_mm="frame_mm",
                right_mm="frame_mm",
                front_mm="frame_mm",
                rear_mm="frame_mm",
                left_to_right_mm="frame_mm",
                right_to_left_mm="frame_mm",
            )
        ]

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
    """A place that is driven again after every change of height.

    How far the damper's shaft went in there at a corner.
    """

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
    free_length_mm = models.FloatField("free length", null=True, blank=True)
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
                "springs",
                rate_n_per_mm="rate",
                free_length_mm="coil_mm",
                block_length_mm="coil_mm",
                preload_mm="preload_mm",
                motion_ratio="motion_ratio",
                unsprung_kg="unsprung_kg",
                turn_mm="turn_mm",
                bar_n_per_mm="bar",
            ),
            models.UniqueConstraint(fields=["car", "end"], name="one_springs_an_end"),
        ]

    def __str__(self) -> str:
        return f"{self.get_end_display()} springs, {self.rate_n_per_mm:g} N/mm"


class OldPart(models.Model):
    """A part of the chassis that stands on the car, as it was written down before it came off.

    Newer ones stand over older.
    """

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
