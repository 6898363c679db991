"""Rows of a plan: whose hours, what of a build was said of its work, claims, what happened, what was said of the end."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone

from rimcore.planning.limits import LIMITS
from shell.files import NamedImage
from shell.limits import limited
from shell.narrow import ChangedColumns

KINDS = {
    "late": "a part comes later",
    "wrong": "a part came wrong",
    "broken": "something broke",
    "ill": "no hands: ill or away",
    "rain": "rain on days that were to be dry",
    "accident": "accident, or the build is put aside",
    "other": "something else",
}


class Week(ChangedColumns):
    """Hours by weekday, days away, extra evenings, helper, lift, rain. Dates are ISO texts."""

    week_hours = models.JSONField("hours of each weekday, Monday first", default=list)
    away = models.JSONField("days away", default=list, blank=True)
    extra = models.JSONField("hours of single days", default=dict, blank=True)
    helper_weekdays = models.JSONField(default=list, blank=True)
    helper_dates = models.JSONField(default=list, blank=True)
    lift_weekdays = models.JSONField(default=list, blank=True)
    lift_dates = models.JSONField(default=list, blank=True)
    wet_pct = models.FloatField("of the days are wet, %", default=0.0)
    #: supplier -> days on which nothing is sent
    closed = models.JSONField("suppliers closed", default=dict, blank=True)
    #: the car is wanted to drive on these: no work on it, and it is not to stand apart
    drive_weekdays = models.JSONField(default=list, blank=True)
    #: the plan counts with what one's own jobs took
    own_factor = models.BooleanField("count with my own jobs", default=True)

    class Meta:
        abstract = True

    @property
    def values(self) -> dict[str, Any]:
        """Everything that it says, for another week."""
        names = (
            "week_hours",
            "away",
            "extra",
            "helper_weekdays",
            "helper_dates",
            "lift_weekdays",
            "lift_dates",
            "wet_pct",
            "closed",
            "drive_weekdays",
            "own_factor",
        )
        return {name: getattr(self, name) for name in names}


class PersonWeek(Week):
    """A person's week, for every build that has none of its own."""

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="week")

    class Meta:
        constraints = [models.CheckConstraint(name="person_week_wet", condition=Q(wet_pct__gte=0, wet_pct__lte=100))]

    def __str__(self) -> str:
        return f"week of {self.owner}"


class BuildWeek(Week):
    """The week for one build."""

    build = models.OneToOneField("planner.Build", on_delete=models.CASCADE, related_name="week")

    class Meta:
        constraints = [models.CheckConstraint(name="build_week_wet", condition=Q(wet_pct__gte=0, wet_pct__lte=100))]

    def __str__(self) -> str:
        return f"week for {self.build}"


class PlanTask(ChangedColumns):
    """What was said of one piece of work: of a module by its key, or work of one's own that no sheet has."""

    build = models.ForeignKey("planner.Build", on_delete=models.CASCADE, related_name="tasks")
    #: ``m:springs`` of a module, ``own:3`` of one's own
    key = models.CharField(max_length=60)
    name = models.CharField(max_length=80, blank=True)
    low_h = models.FloatField("hours at the least", null=True, blank=True)
    likely_h = models.FloatField("hours, likely", null=True, blank=True)
    high_h = models.FloatField("hours at the most", null=True, blank=True)
    #: given to others: days, and who
    away_low = models.FloatField("days away at the least", null=True, blank=True)
    away_likely = models.FloatField("days away, likely", null=True, blank=True)
    away_high = models.FloatField("days away at the most", null=True, blank=True)
    by_whom = models.CharField("given to", max_length=80, blank=True)
    price_minor = models.PositiveIntegerField("price", null=True, blank=True)
    after = models.JSONField("comes after", default=list, blank=True)
    not_before = models.DateField("booked on, or not before", null=True, blank=True)
    helper = models.BooleanField("wants a helper", default=False)
    lift = models.BooleanField("wants a lift", default=False)
    dry = models.BooleanField("wants a dry day", default=False)
    wait_days = models.PositiveSmallIntegerField("days to wait after it", default=0)
    done_on = models.DateField("done on", null=True, blank=True)
    #: left for after the event
    dropped = models.BooleanField("left for after", default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited("plan_task", price_minor="price_minor"),
            models.UniqueConstraint(fields=["build", "key"], name="one_plan_task_a_key"),
            models.CheckConstraint(
                name="plan_task_hours",
                condition=Q(likely_h__isnull=True)
                | Q(low_h__gte=0, likely_h__gte=models.F("low_h"), high_h__gte=models.F("likely_h"))
                & Q(high_h__lte=LIMITS["task_hours"].high),
            ),
            models.CheckConstraint(
                name="plan_task_away",
                condition=Q(away_likely__isnull=True)
                | Q(away_low__gte=0, away_likely__gte=models.F("away_low"), away_high__gte=models.F("away_likely"))
                & Q(away_high__lte=LIMITS["plan_days"].high),
            ),
            models.CheckConstraint(name="plan_task_wait", condition=Q(wait_days__lte=LIMITS["plan_days"].high)),
        ]

    def __str__(self) -> str:
        return self.name or self.key

    @property
    def hours(self) -> tuple[float, float, float] | None:
        """Low, likely, high as they were said [h]; None where they were not."""
        return _three(self.low_h, self.likely_h, self.high_h)

    @property
    def away_days(self) -> tuple[float, float, float] | None:
        """The same of days with others."""
        return _three(self.away_low, self.away_likely, self.away_high)


def _three(low: float | None, likely: float | None, high: float | None) -> tuple[float, float, float] | None:
    if likely is None:
        return None
    return likely if low is None else low, likely, likely if high is None else high


class Said(models.Model):
    """What a plan said of its end on a day; never changed afterwards."""

    build = models.ForeignKey("planner.Build", on_delete=models.CASCADE, related_name="said")
    said_on = models.DateField(default=timezone.localdate)
    why = models.CharField(max_length=160, blank=True)
    ready_on = models.DateField(null=True, blank=True)
    p80_on = models.DateField(null=True, blank=True)
    chance_pct = models.FloatField(null=True, blank=True)
    event_on = models.DateField(null=True, blank=True)
    money_minor = models.BigIntegerField(null=True, blank=True)
    hours = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        verbose_name_plural = "said"
        constraints = [
            models.CheckConstraint(
                name="said_chance", condition=Q(chance_pct__isnull=True) | Q(chance_pct__gte=0, chance_pct__lte=100)
            )
        ]

    def __str__(self) -> str:
        return f"{self.build}, said on {self.said_on}: {self.ready_on}"


class Happening(models.Model):
    """Something happened: what was said before it and after it."""

    build = models.ForeignKey("planner.Build", on_delete=models.CASCADE, related_name="happenings")
    kind = models.CharField(max_length=8, choices=KINDS)
    happened_on = models.DateField(default=timezone.localdate)
    what = models.CharField(max_length=200)
    days = models.PositiveSmallIntegerField(null=True, blank=True)
    hours = models.FloatField(null=True, blank=True)
    money_minor = models.PositiveIntegerField(null=True, blank=True)
    choice = models.ForeignKey("planner.Choice", on_delete=models.SET_NULL, null=True, blank=True)
    before = models.OneToOneField(Said, on_delete=models.CASCADE, related_name="before_of")
    later = models.OneToOneField(Said, on_delete=models.CASCADE, null=True, blank=True, related_name="after_of")

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited("happening", money_minor="cost_minor"),
            models.CheckConstraint(name="happening_kind", condition=Q(kind__in=list(KINDS))),
            models.CheckConstraint(
                name="happening_hours", condition=Q(hours__isnull=True) | Q(hours__gte=0, hours__lte=1000)
            ),
        ]

    def __str__(self) -> str:
        return self.what

    @property
    def sides(self) -> tuple[Said, Said | None]:
        """What was said before it, and after."""
        return self.before, self.later


class Claim(ChangedColumns):
    """A part that failed or came wrong, and what became of it with who sold it."""

    choice = models.ForeignKey("planner.Choice", on_delete=models.CASCADE, related_name="claims")
    what = models.CharField("what was seen", max_length=300)
    seen_on = models.DateField("seen on", default=timezone.localdate)
    after_km = models.FloatField("distance since it went on", null=True, blank=True)
    #: what was said, a line each, with its day and by whom
    said = models.TextField("said by whom", max_length=4000, blank=True)
    due_on = models.DateField("due by", null=True, blank=True)
    due_what = models.CharField("what is due", max_length=120, blank=True)
    sent_on = models.DateField("sent back on", null=True, blank=True)
    label = models.CharField("label or number", max_length=60, blank=True)
    money_back_minor = models.PositiveIntegerField("money returned", default=0)
    closed_on = models.DateField("closed on", null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited("claim", money_back_minor="cost_minor"),
            models.CheckConstraint(
                name="claim_km", condition=Q(after_km__isnull=True) | Q(after_km__gte=0, after_km__lte=1_000_000)
            ),
        ]

    def __str__(self) -> str:
        return self.what


def picture_path(picture: ClaimPicture, name: str) -> str:
    """A name of our own: nothing of the uploaded name is kept."""
    return f"photos/{picture.claim.choice.build.car_id}/{uuid.uuid4().hex}.jpg"


class ClaimPicture(models.Model):
    """A picture of what was seen, resized, without metadata."""

    claim = models.ForeignKey(Claim, on_delete=models.CASCADE, related_name="pictures")
    image = NamedImage(upload_to=picture_path)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"picture of {self.claim}"


def receipt_path(picture: ReceiptPicture, name: str) -> str:
    """A name of our own: nothing of the uploaded name is kept."""
    return f"photos/{picture.choice.build.car_id}/{uuid.uuid4().hex}.jpg"


class ReceiptPicture(models.Model):
    """A picture of a receipt or invoice of a part, resized, without metadata."""

    choice = models.ForeignKey("planner.Choice", on_delete=models.CASCADE, related_name="receipts")
    image = NamedImage(upload_to=receipt_path)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"receipt of {self.choice}"
