"""Jobs: sheets of steps, torque records, hours, snags, photos and what comes due after."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car
from garage.car.parts import Part
from garage.readings.models import Reading
from planner.models import Build, Choice
from rimcore.planning.cures import KINDS as CURES
from rimcore.planning.cures import Cure
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.work.removed import FATES, Count, net_kg
from rimcore.work.steps import Joint, StepPlan
from shell.files import NamedImage
from shell.kept import of_now
from shell.limits import limited
from shell.narrow import ChangedColumns

#: name of the joint whose figures are those of the car's hub
HUB_JOINT = "Wheel nuts"


class Job(models.Model):
    """One job sheet, made from a build."""

    STATES = {"open": "open", "under_way": "under way", "done": "done"}
    KINDS = {"fit": "fit", "check": "nut-and-bolt check"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="jobs")
    build = models.ForeignKey(Build, on_delete=models.RESTRICT, related_name="jobs")
    title = models.CharField(max_length=120)
    state = models.CharField(max_length=10, choices=STATES, default="open")
    done_on = models.DateField(null=True, blank=True)
    done_km = models.PositiveIntegerField(null=True, blank=True)
    kind = models.CharField(max_length=5, choices=KINDS, default="fit")
    #: modules it was composed of; empty for one from a template
    modules = models.JSONField(default=list, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
        constraints = [
            *limited("job", done_km="odometer_km"),
            models.CheckConstraint(name="job_kind", condition=Q(kind__in=["fit", "check"])),
        ]

    def __str__(self) -> str:
        return self.title


class Step(models.Model):
    """One step of a sheet."""

    KINDS = {
        "do": "do",
        "parts": "parts",
        "trial": "trial fit",
        "torque": "torque",
        "measure": "measure",
        "photo": "photo",
        "dip": "test dip",
    }
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
    consumables = models.JSONField(default=list, blank=True)
    salvage = models.JSONField(default=list, blank=True)
    helpers = models.PositiveSmallIntegerField(default=0)
    #: what it waits for, and the gate that it opens
    gates = models.JSONField(default=list, blank=True)
    opens = models.CharField(max_length=40, blank=True)
    module = models.CharField(max_length=200, blank=True)
    #: what is read at it: a station's code, with the corner where it has one
    reads = models.JSONField(default=list, blank=True)
    #: the joint that is tightened: name, thread, class, angle, one use, crosswise, source, wrench and adapter
    joint = models.JSONField(default=dict, blank=True)
    #: added or changed by the person
    own = models.BooleanField(default=False)
    state = models.CharField(max_length=8, choices=STATES, default="todo")
    skipped_why = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=300, blank=True)
    done_at = models.DateTimeField(null=True, blank=True)

    #: pages on which what is measured at a step has its own fields, with their names
    PAGES = {
        "square": "Square: the four marks",
        "sound": "Sound: recordings and meter",
        "cooling": "Cooling: watch the bleed",
        "pulls": "Pulls and engine logs",
    }

    class Meta:
        ordering = ["place"]
        constraints = [
            models.UniqueConstraint(fields=["job", "place"], name="one_step_a_place"),
            models.CheckConstraint(name="step_lugs", condition=Q(lugs__isnull=True) | Q(lugs__gte=1, lugs__lte=100)),
            models.CheckConstraint(name="skipped_has_reason", condition=~Q(state="skipped") | ~Q(skipped_why="")),
        ]

    def __str__(self) -> str:
        return self.title

    @property
    def read_at(self) -> list[tuple[str, str]]:
        """Pages where what is measured at it is entered: (address, name)."""
        asked = [one.partition(" ")[2] for one in self.reads if one.startswith("at ")]
        return [(page, self.PAGES[page]) for page in asked if page in self.PAGES]

    @property
    def plan(self) -> StepPlan:
        """As the core takes it."""
        known = {name: value for name, value in self.joint.items() if name in Joint.__dataclass_fields__}
        joint = Joint(**({"name": self.title, "count": self.lugs} | known)) if self.kind == "torque" else None
        return StepPlan(
            phase=self.phase,
            kind=self.kind,
            title=self.title,
            detail=self.detail,
            caution=self.caution,
            tools=tuple(self.tools),
            corner=self.corner,
            torque_nm=self.torque_nm,
            stage=self.stage,
            lugs=self.lugs,
            consumables=tuple(self.consumables),
            salvage=tuple(self.salvage),
            helpers=self.helpers,
            gates=tuple(self.gates),
            opens=self.opens,
            share="",
            module=self.module,
            joint=joint,
            reads=tuple(self.reads),
        )

    @property
    def of_hub(self) -> bool:
        """Is it the wheel's own joint, which the hub's data speak of?"""
        return str(self.joint.get("name", HUB_JOINT)) == HUB_JOINT


class StepReading(models.Model):
    """A reading that was taken at a step: once the sheet is closed it is of what the sheet made stand there."""

    step = models.ForeignKey(Step, on_delete=models.CASCADE, related_name="taken")
    reading = models.OneToOneField(Reading, on_delete=models.CASCADE, related_name="at_step")

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.step}: {self.reading}"


class JointFigure(models.Model):
    """What was said of a joint of a sheet, on one axle, and when: never changed afterwards.

    The newest stands at its steps.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="joint_figures")
    #: F, R, or empty for a joint that has no axle
    end = models.CharField(max_length=1, blank=True)
    name = models.CharField(max_length=120)
    stage = models.CharField(max_length=10, blank=True)
    count = models.PositiveSmallIntegerField()
    torque_nm = models.FloatField()
    #: thread, class, turn, wrench and source, as they were said
    said = models.JSONField(default=dict, blank=True)
    said_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-id"]
        constraints = [
            models.CheckConstraint(
                name="joint_figure_range",
                condition=Q(torque_nm__gt=0, torque_nm__lte=2000, count__gte=1, count__lte=100),
            )
        ]

    def __str__(self) -> str:
        return f"{self.name} {self.end}: {self.torque_nm:g} N·m"


class Promise(models.Model):
    """What a sheet promised: kept when it was made and again when its first step was done, and never changed
    afterwards.
    """

    WHEN = {"made": "when the sheet was made", "begun": "when its first step was done"}

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="promises")
    kept_when = models.CharField(max_length=5, choices=WHEN)
    made_on = models.DateField(default=timezone.localdate)
    build_name = models.CharField(max_length=60)
    revision = models.PositiveIntegerField()
    code = models.CharField(max_length=60)
    #: a corner's two letters, with a spot's name behind them; blank for the whole car
    place = models.CharField(max_length=100, blank=True)
    #: the same in words, as it was said
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
            models.CheckConstraint(
                name="promise_state", condition=Q(state__in=["clear", "tight", "hit", "unmeasured"])
            ),
        ]

    def __str__(self) -> str:
        return f"{self.code} {self.where}: {self.value:g} {self.unit}"

    @property
    def judgement(self) -> Judgement:
        """What was said then, with when it was said."""
        held = dict(self.judged)
        inputs = tuple(InputUsed(**one) for one in held.pop("inputs", []))
        pairs = {
            name: tuple(held[name])
            for name in ("remedies", "missing", "pose", "along", "usual", "taught")
            if held.get(name) is not None
        }
        basis = f"{held['basis']}; predicted {self.get_kept_when_display()}, {self.made_on:%-d %b %Y}, {self.build_name} rev {self.revision}"
        return Judgement(**(held | pairs | {"basis": basis}), inputs=inputs)


class Pull(models.Model):
    """One nut tightened: wanted and read [N·m], typed or by the simulated wrench."""

    SOURCES = {"typed": "typed", "simulated": "simulation"}

    step = models.ForeignKey(Step, on_delete=models.CASCADE, related_name="pulls")
    lug = models.PositiveSmallIntegerField()
    wanted_nm = models.FloatField()
    read_nm = models.FloatField()
    at = models.DateTimeField(default=timezone.now)
    source = models.CharField(max_length=9, choices=SOURCES, default="typed")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["step", "lug"], name="one_pull_a_lug"),
            models.CheckConstraint(name="pull_source", condition=Q(source__in=["typed", "simulated"])),
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
            models.CheckConstraint(
                name="spell_forward", condition=Q(ended__isnull=True) | Q(ended__gte=models.F("began"))
            ),
        ]

    def __str__(self) -> str:
        return f"{self.job}: {self.hours:.2f} h"

    @property
    def hours(self) -> float:
        if self.ended is None:
            of_now()
        return ((self.ended or timezone.now()) - self.began).total_seconds() / 3600


class Snag(ChangedColumns):
    """Something that went wrong, with what it cost and how it was cured."""

    KINDS = {
        "wrong_part": "wrong part",
        "does_not_fit": "does not fit",
        "stripped": "stripped or broken",
        "hidden_damage": "hidden damage",
        "missing_hardware": "missing hardware",
        "missing_tool": "tool missing",
        "weather": "weather",
        "other": "other",
    }

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="snags")
    step = models.ForeignKey(Step, on_delete=models.SET_NULL, null=True, blank=True, related_name="snags")
    kind = models.CharField(max_length=20, choices=KINDS, default="does_not_fit")
    what = models.CharField(max_length=300)
    cost_minor = models.PositiveIntegerField("money lost", default=0)
    hours = models.FloatField("hours lost", default=0)
    cure = models.CharField(max_length=300, blank=True)
    found_on = models.DateField(default=timezone.localdate)
    closed_on = models.DateField(null=True, blank=True)
    #: ways out: use, repair, replace -> money in hundredths, hours, days, note
    options = models.JSONField(default=dict, blank=True)
    decision = models.CharField(max_length=7, choices={"": "not decided", **CURES}, blank=True)
    decided_on = models.DateField(null=True, blank=True)
    #: the part that cures it, in the build
    choice = models.ForeignKey(Choice, on_delete=models.SET_NULL, null=True, blank=True, related_name="cures")

    class Meta:
        ordering = ["-id"]
        constraints = [
            *limited("snag", cost_minor="cost_minor"),
            models.CheckConstraint(name="snag_decision", condition=Q(decision__in=["", "use", "repair", "replace"])),
            models.CheckConstraint(name="snag_hours", condition=Q(hours__gte=0, hours__lte=1000)),
            models.CheckConstraint(name="closed_snag_has_cure", condition=Q(closed_on__isnull=True) | ~Q(cure="")),
        ]

    def __str__(self) -> str:
        return self.what

    @property
    def ways(self) -> list[Cure]:
        """The ways out that were thought of, for the core."""
        return [self._way(kind, one) for kind in CURES if (one := self.options.get(kind)) is not None]

    def _way(self, kind: str, said: dict[str, Any]) -> Cure:
        """A way out: to use it as it is takes nothing where nothing is said, any other is not known there."""
        blank = 0 if kind == "use" else None
        since = self.decided_on if kind == self.decision else None
        money_minor, hours, days = (said.get(name, blank) for name in ("money_minor", "hours", "days"))
        return Cure(kind, money_minor, hours, days, str(said.get("note", "")), since)

    @property
    def chosen_cure(self) -> Cure | None:
        """What was decided."""
        return next((cure for cure in self.ways if cure.kind == self.decision), None)


def photo_path(photo: Photo, name: str) -> str:
    """A name of our own: nothing of the uploaded name is kept."""
    return f"photos/{photo.job.car_id}/{uuid.uuid4().hex}.jpg"


class Photo(models.Model):
    """A picture taken during a job, resized, without metadata."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    step = models.ForeignKey(Step, on_delete=models.SET_NULL, null=True, blank=True, related_name="photos")
    image = NamedImage(upload_to=photo_path)
    caption = models.CharField(max_length=120, blank=True)
    taken_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.caption or str(self.image.name)


class FollowUp(models.Model):
    """Something to do again, due by odometer, by date or by track days."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="follow_ups")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, null=True, blank=True, related_name="follow_ups")
    what = models.CharField(max_length=160)
    after_km = models.PositiveIntegerField(null=True, blank=True)
    #: track days of the car at which it is due
    due_track_days = models.PositiveIntegerField(null=True, blank=True)
    due_km = models.PositiveIntegerField(null=True, blank=True)
    due_on = models.DateField(null=True, blank=True)
    done_on = models.DateField(null=True, blank=True)
    done_km = models.PositiveIntegerField(null=True, blank=True)

    class Meta:
        ordering = ["due_km", "due_on", "id"]
        constraints = [
            *limited("follow_up", due_km="due_km", done_km="odometer_km"),
            models.CheckConstraint(
                name="follow_up_is_due",
                condition=Q(due_km__isnull=False) | Q(due_on__isnull=False) | Q(due_track_days__isnull=False),
            ),
        ]

    def __str__(self) -> str:
        return self.what


class Removed(ChangedColumns):
    """Something that was taken off: weighed with its box, counted, labelled, and what became of it."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="removed")
    job = models.ForeignKey(Job, on_delete=models.SET_NULL, null=True, blank=True, related_name="removed")
    step = models.ForeignKey(Step, on_delete=models.SET_NULL, null=True, blank=True, related_name="removed")
    #: the part itself, where it stood on the car as one
    part = models.ForeignKey(Part, on_delete=models.SET_NULL, null=True, blank=True, related_name="removals")
    label = models.CharField(max_length=8)
    what = models.CharField(max_length=120)
    where = models.CharField("from", max_length=40, blank=True)
    gross_kg = models.FloatField("weight with its box", null=True, blank=True)
    tare_kg = models.FloatField("weight of the empty box", null=True, blank=True)
    pieces_off = models.PositiveSmallIntegerField("pieces that came off", null=True, blank=True)
    pieces_back = models.PositiveSmallIntegerField("pieces that went back", null=True, blank=True)
    kept_where = models.CharField("lies", max_length=80, blank=True)
    fate = models.CharField(max_length=4, choices=FATES, default="keep")
    sold_minor = models.PositiveIntegerField("sold for", default=0)
    fees_minor = models.PositiveIntegerField("fees of selling", default=0)
    off_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["id"]
        verbose_name_plural = "removed"
        constraints = [
            *limited(
                "removed", gross_kg="boxed_kg", tare_kg="boxed_kg", sold_minor="cost_minor", fees_minor="cost_minor"
            ),
            models.UniqueConstraint(fields=["car", "label"], name="one_label_a_car"),
            models.CheckConstraint(name="removed_fate", condition=Q(fate__in=list(FATES))),
            models.CheckConstraint(
                name="removed_tare",
                condition=Q(gross_kg__isnull=True) | Q(tare_kg__isnull=True) | Q(tare_kg__lte=models.F("gross_kg")),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.label}: {self.what}"

    @property
    def net_kg(self) -> float | None:
        return net_kg(self.gross_kg, self.tare_kg)

    @property
    def count(self) -> Count:
        return Count(self.pieces_off, self.pieces_back)


class JobTemplate(models.Model):
    """A job sheet of a person's own, without the car it was made on."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="job_templates")
    name = models.CharField(max_length=80)
    #: as written and read by rimcore.work.template
    text = models.TextField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_template_a_name")]

    def __str__(self) -> str:
        return self.name


class Tool(models.Model):
    """A tool or consumable that a person has, or is missing."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="tools")
    name = models.CharField(max_length=120)
    have = models.BooleanField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_tool_a_name")]

    def __str__(self) -> str:
        return f"{self.name}: {'there' if self.have else 'missing'}"
