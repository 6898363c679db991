"""Jobs: sheets of steps, torque records, hours, snags, photos and what comes due after."""

from __future__ import annotations

import uuid

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.models import Car, Reading
from planner.models import Build
from rimcore.quantities.judgement import InputUsed, Judgement
from shell.limits import limited


class Job(models.Model):
    """One job sheet, made from a build."""

    STATES = {"open": "open", "under_way": "under way", "done": "done"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="jobs")
    build = models.ForeignKey(Build, on_delete=models.RESTRICT, related_name="jobs")
    title = models.CharField(max_length=120)
    state = models.CharField(max_length=10, choices=STATES, default="open")
    done_on = models.DateField(null=True, blank=True)
    done_km = models.PositiveIntegerField(null=True, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
        constraints = [
            *limited("job", done_km="odometer_km"),
        ]

    def __str__(self) -> str:
        return self.title


class Step(models.Model):
    """One step of a sheet."""

    KINDS = {"do": "do", "parts": "parts", "trial": "trial fit", "torque": "torque", "measure": "measure", "photo": "photo"}
    STATES = {"todo": "to do", "done": "done", "skipped": "skipped"}

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="steps")
    place = models.PositiveSmallIntegerField()
    phase = models.CharField(max_length=40)
    kind = models.CharField(max_length=10, choices=KINDS, default="do")
    title = models.CharField(max_length=160)
    detail = models.TextField(blank=True)
    caution = models.TextField(blank=True)
    tools = models.JSONField(default=list)
    corner = models.CharField(max_length=2, blank=True)
    stage = models.CharField(max_length=10, blank=True)
    torque_nm = models.FloatField(null=True, blank=True)
    lugs = models.PositiveSmallIntegerField(null=True, blank=True)
    state = models.CharField(max_length=8, choices=STATES, default="todo")
    skipped_why = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=300, blank=True)
    done_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["place"]
        constraints = [
            models.UniqueConstraint(fields=["job", "place"], name="one_step_a_place"),
            models.CheckConstraint(name="step_lugs", condition=Q(lugs__isnull=True) | Q(lugs__gte=3, lugs__lte=10)),
            models.CheckConstraint(name="skipped_has_reason", condition=~Q(state="skipped") | ~Q(skipped_why="")),
        ]

    def __str__(self) -> str:
        return self.title


class Promise(models.Model):
    """What a sheet promised: kept when it was made and again when its first step was done, and never changed afterwards."""

    WHEN = {"made": "when the sheet was made", "begun": "when its first step was done"}

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="promises")
    kept_when = models.CharField(max_length=5, choices=WHEN)
    made_on = models.DateField(default=timezone.localdate)
    build_name = models.CharField(max_length=60)
    revision = models.PositiveIntegerField()
    code = models.CharField(max_length=60)
    where = models.CharField(max_length=30, blank=True)
    state = models.CharField(max_length=10)
    value = models.FloatField()
    unit = models.CharField(max_length=8)
    uncertainty = models.FloatField(null=True, blank=True)
    margin = models.FloatField(null=True, blank=True)
    #: the reading that it rests on and will be held against, where it is one
    reading = models.ForeignKey(Reading, on_delete=models.SET_NULL, null=True, blank=True, related_name="promises")
    #: the whole judgement: reason, formula with numbers, inputs with their dates
    judged = models.JSONField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(name="promise_when", condition=Q(kept_when__in=["made", "begun"])),
            models.CheckConstraint(name="promise_state", condition=Q(state__in=["clear", "tight", "hit", "unmeasured"])),
        ]

    def __str__(self) -> str:
        return f"{self.code} {self.where}: {self.value:g} {self.unit}"

    @property
    def judgement(self) -> Judgement:
        """What was said then, with when it was said."""
        held = dict(self.judged)
        inputs = tuple(InputUsed(**one) for one in held.pop("inputs", []))
        pairs = {name: tuple(held[name]) for name in ("remedies", "missing", "pose", "along", "usual") if held.get(name) is not None}
        basis = f"{held['basis']}; promised {self.get_kept_when_display()}, {self.made_on:%-d %b %Y}, {self.build_name} rev {self.revision}"
        return Judgement(**(held | pairs | {"basis": basis}), inputs=inputs)


class Pull(models.Model):
    """One nut tightened: wanted and read [N·m]."""

    step = models.ForeignKey(Step, on_delete=models.CASCADE, related_name="pulls")
    lug = models.PositiveSmallIntegerField()
    wanted_nm = models.FloatField()
    read_nm = models.FloatField()
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["step", "lug"], name="one_pull_a_lug"),
            models.CheckConstraint(name="pull_range", condition=Q(read_nm__gt=0, read_nm__lte=1000)),
        ]

    def __str__(self) -> str:
        return f"lug {self.lug}: {self.read_nm:g} N·m"


class Spell(models.Model):
    """Hours clocked on a job; ``ended`` is empty while the clock runs."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="spells")
    began = models.DateTimeField(default=timezone.now)
    ended = models.DateTimeField(null=True, blank=True)
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["began"]
        constraints = [
            models.UniqueConstraint(fields=["job"], condition=Q(ended__isnull=True), name="one_running_clock"),
            models.CheckConstraint(name="spell_forward", condition=Q(ended__isnull=True) | Q(ended__gte=models.F("began"))),
        ]

    def __str__(self) -> str:
        return f"{self.job}: {self.hours:.2f} h"

    @property
    def hours(self) -> float:
        return ((self.ended or timezone.now()) - self.began).total_seconds() / 3600


class Snag(models.Model):
    """Something that went wrong, with what it cost and how it was cured."""

    KINDS = {
        "wrong_part": "wrong part", "does_not_fit": "does not fit", "stripped": "stripped or broken", "hidden_damage": "hidden damage",
        "missing_hardware": "missing hardware", "missing_tool": "tool missing", "weather": "weather", "other": "other",
    }  # fmt: skip

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="snags")
    step = models.ForeignKey(Step, on_delete=models.SET_NULL, null=True, blank=True, related_name="snags")
    kind = models.CharField(max_length=20, choices=KINDS, default="does_not_fit")
    what = models.CharField(max_length=300)
    cost_minor = models.PositiveIntegerField("money lost", default=0)
    hours = models.FloatField("hours lost", default=0)
    cure = models.CharField(max_length=300, blank=True)
    found_on = models.DateField(default=timezone.localdate)
    closed_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["-id"]
        constraints = [
            *limited("snag", cost_minor="cost_minor"),
            models.CheckConstraint(name="snag_hours", condition=Q(hours__gte=0, hours__lte=1000)),
            models.CheckConstraint(name="closed_snag_has_cure", condition=Q(closed_on__isnull=True) | ~Q(cure="")),
        ]

    def __str__(self) -> str:
        return self.what


def photo_path(photo: Photo, name: str) -> str:
    """A name of our own: nothing of the uploaded name is kept."""
    return f"photos/{photo.job.car_id}/{uuid.uuid4().hex}.jpg"


class Photo(models.Model):
    """A picture taken during a job, resized, without metadata."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    step = models.ForeignKey(Step, on_delete=models.SET_NULL, null=True, blank=True, related_name="photos")
    image = models.ImageField(upload_to=photo_path)
    caption = models.CharField(max_length=120, blank=True)
    taken_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.caption or str(self.image.name)


class FollowUp(models.Model):
    """Something to do again, due by odometer or by date."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="follow_ups")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, null=True, blank=True, related_name="follow_ups")
    what = models.CharField(max_length=160)
    after_km = models.PositiveIntegerField(null=True, blank=True)
    due_km = models.PositiveIntegerField(null=True, blank=True)
    due_on = models.DateField(null=True, blank=True)
    done_on = models.DateField(null=True, blank=True)
    done_km = models.PositiveIntegerField(null=True, blank=True)

    class Meta:
        ordering = ["due_km", "due_on", "id"]
        constraints = [
            *limited("follow_up", due_km="due_km", done_km="odometer_km"),
            models.CheckConstraint(name="follow_up_is_due", condition=Q(due_km__isnull=False) | Q(due_on__isnull=False)),
        ]

    def __str__(self) -> str:
        return self.what
