"""Builds: named sets of choices for one car, compared with the baseline."""

from __future__ import annotations

from typing import Any

from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from garage.car.models import Car, Outfit
from garage.car.parts import Part, Tyre, Wheel
from rimcore.benches import LEVERS
from rimcore.parts.declared import Question
from rimcore.quantities.declared import PLACES
from rimcore.quantities.errors import CoreError
from rimcore.work.ledger import PART_STATES
from shell.limits import limited
from shell.narrow import ChangedColumns

#: states in which a question of the counter still saves something
ASKED_STATES = ("wanted", "shortlisted", "ordered")


#: how what was dragged along stands in ``Choice.bench``
ALONG = "along/"


class Build(ChangedColumns):
    """One plan for a car."""

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="builds")
    name = models.CharField(max_length=60)
    tolerance = models.CharField(max_length=20, default="daily")
    in_hand = models.BooleanField(default=False)
    #: the person's own figure; None is worked out from the modules
    hours_estimate = models.FloatField("hours, own estimate", null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)
    revision = models.PositiveIntegerField(default=1)
    #: an engine that reads its air anew is tuned before it is driven
    tuning_on = models.DateField("tuned on", null=True, blank=True)
    first_drive_on = models.DateField("first drive", null=True, blank=True)
    #: follows another build of the car
    follows = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, blank=True, related_name="followed_by")
    #: work begins before every part is there
    begins_early = models.BooleanField("begin before every part is there", default=False)
    #: frozen as it stands
    put_aside_on = models.DateField(null=True, blank=True)
    put_aside_why = models.CharField(max_length=200, blank=True)
    outfit = models.OneToOneField(Outfit, on_delete=models.SET_NULL, null=True, blank=True, related_name="build")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["car"], condition=Q(in_hand=True), name="one_build_in_hand"),
            models.UniqueConstraint(fields=["car", "name"], name="one_build_a_name"),
            models.CheckConstraint(name="build_hours", condition=Q(hours_estimate__gte=0, hours_estimate__lte=2000)),
        ]

    def __str__(self) -> str:
        return self.name

    def revise(self) -> None:
        """Save what was changed under a new revision; two windows at once make two of them."""
        self.revision = F("revision") + 1
        self.save()
        self.refresh_from_db(fields=["revision"])

    @property
    def tuned_first(self) -> bool:
        """Is a tuning date set that does not come after the first drive, or the event where none is said?"""
        drive = self.first_drive_on or self.car.event_on
        return self.tuning_on is not None and (drive is None or self.tuning_on <= drive)

    def lever(self, code: str, place: str = "") -> float | bool | str | None:
        """What the build sets a lever to, else what the lever does untouched; reads the prefetched rows."""
        found = next((row for row in self.levers.all() if (row.code, row.place) == (code, place)), None)
        return found.value if found is not None else LEVERS[code].default


class Lever(models.Model):
    """Something a build does to the car, as a bench declares it. A lever without a row is untouched."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="levers")
    code = models.CharField(max_length=40)
    place = models.CharField(max_length=2, blank=True, choices=PLACES)
    number = models.FloatField(null=True, blank=True)
    text = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["code", "place"]
        constraints = [
            *limited("lever", number="lever"),
            models.UniqueConstraint(fields=["build", "code", "place"], name="one_lever_a_place"),
            models.CheckConstraint(name="lever_place", condition=Q(place__in=list(PLACES))),
        ]

    def __str__(self) -> str:
        return f"{self.code} {self.place}: {self.value}"

    @property
    def value(self) -> float | bool | str | None:
        """What it is set to; what its bench no longer takes is untouched."""
        declared = LEVERS.get(self.code)
        if declared is None:
            return None
        raw: Any = self.text if declared.kind == "choice" else self.number
        try:
            return declared.check(bool(raw) if declared.kind == "flag" else raw)
        except CoreError:
            return declared.default


class PipeRun(models.Model):
    """Intake or exhaust as it runs: as it stands on the car, or as a build has it; the lines are what was typed."""

    KINDS = {"intake": "intake", "exhaust": "exhaust"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="pipe_runs")
    build = models.ForeignKey(Build, on_delete=models.CASCADE, null=True, blank=True, related_name="pipe_runs")
    kind = models.CharField(max_length=8, choices=KINDS)
    lines = models.TextField()
    #: runs side by side; the lines are one of them
    pipes = models.PositiveSmallIntegerField(default=1)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["car", "build", "kind"], name="one_run_a_build"),
            models.UniqueConstraint(
                fields=["car", "kind"], condition=Q(build__isnull=True), name="one_run_as_it_stands"
            ),
            models.CheckConstraint(name="run_kind", condition=Q(kind__in=["intake", "exhaust"])),
            models.CheckConstraint(name="run_pipes", condition=Q(pipes__gte=1, pipes__lte=4)),
        ]

    def __str__(self) -> str:
        return f"{self.kind} of {self.build or 'the car as it stands'}"


class Choice(ChangedColumns):
    """A part in a build: which, where, how many, and what became of it."""

    POSITIONS = {"A": "front and rear", "F": "front", "R": "rear"}

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="choices")
    position = models.CharField(max_length=1, choices=POSITIONS, default="A")
    part = models.ForeignKey(Part, on_delete=models.RESTRICT, related_name="choices")
    quantity = models.PositiveSmallIntegerField(default=4)
    price_minor = models.PositiveIntegerField("price of one", null=True, blank=True)
    lead_days = models.PositiveSmallIntegerField("lead time, days", null=True, blank=True)
    #: the least and the most, where somebody said
    lead_low_days = models.PositiveSmallIntegerField("lead at the least, days", null=True, blank=True)
    lead_high_days = models.PositiveSmallIntegerField("lead at the most, days", null=True, blank=True)
    SUPPLY = {
        "": "not said",
        "stock": "in stock",
        "made": "made to order",
        "measured": "made to this car's measure",
        "back_ordered": "back-ordered",
        "discontinued": "no longer made",
        "used": "used",
    }
    supply = models.CharField("how it is sold", max_length=14, choices=SUPPLY, blank=True)
    #: the day on which it is to be ordered; the work after which it is ordered, and why
    order_on = models.DateField("to be ordered on", null=True, blank=True)
    order_after = models.CharField("ordered only after", max_length=60, blank=True)
    #: sent in one parcel, or sold as a set, with another part of the build
    comes_with = models.ForeignKey(
        "self", on_delete=models.SET_NULL, null=True, blank=True, related_name="parcel", verbose_name="comes with"
    )
    #: pieces that came; blank: all of them, where it arrived
    arrived_count = models.PositiveSmallIntegerField("pieces that came", null=True, blank=True)
    state = models.CharField(max_length=14, choices=PART_STATES, default="shortlisted")
    ordered_on = models.DateField(null=True, blank=True)
    arrived_on = models.DateField(null=True, blank=True)
    sold_minor = models.PositiveIntegerField("sold for", default=0)
    fees_minor = models.PositiveIntegerField("fees, postage, restocking", default=0)
    #: answers to the questions of the counter, by code
    answers = models.JSONField(default=dict, blank=True)
    #: what of a bench it is, as ``run exhaust/clamps``; blank where it was chosen
    bench = models.CharField(max_length=120, blank=True, editable=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "choice",
                price_minor="price_minor",
                lead_days="lead_days",
                sold_minor="cost_minor",
                fees_minor="cost_minor",
                lead_low_days="lead_days",
                lead_high_days="lead_days",
            ),
            models.CheckConstraint(name="choice_quantity", condition=Q(quantity__gte=1, quantity__lte=200)),
            models.CheckConstraint(name="choice_state", condition=Q(state__in=list(PART_STATES))),
        ]

    def __str__(self) -> str:
        return self.label

    @property
    def label(self) -> str:
        return str(self.part)

    @property
    def kind(self) -> str:
        """Family of the part."""
        return self.part.family

    @property
    def wheel(self) -> Wheel | None:
        return self.part if isinstance(self.part, Wheel) else None

    @property
    def tyre(self) -> Tyre | None:
        return self.part if isinstance(self.part, Tyre) else None

    @property
    def ring_mm(self) -> tuple[float, float] | None:
        """Inner and outer diameter of a centring ring."""
        return (
            (self.part.spec["inner_mm"], self.part.spec["outer_mm"])
            if self.kind == "ring" and self.part.fault is None
            else None
        )

    @property
    def mass_change_kg(self) -> float | None:
        """Mass of one against what it replaces; of what replaces nothing its own; of grams nought."""
        found: float | None = self.part.spec.get("mass_change_kg")
        declared = self.part.declared
        if found is None and self.part.mass_kg is None and declared is not None and (declared.grams or self._small):
            return 0.0
        return self.part.mass_kg if found is None and declared is not None and declared.adds else found

    @property
    def _small(self) -> bool:
        """Is it hardware or work that another part drags along: grams, and nobody weighs it?"""
        key = self.bench.partition("/")[2]
        return self.kind == "other" and (self.bench.startswith(ALONG) or key.startswith("need "))

    @property
    def along(self) -> bool:
        """Does it go on with another part, as a gasket does, and has no step of its own?"""
        return bool(self.bench) and self.kind == "other"

    @property
    def pieces(self) -> int:
        """How many of them there are, sets counted out."""
        return int(self.quantity * (self.part.spec.get("pieces") or 1))

    @property
    def open_questions(self) -> tuple[Question, ...]:
        """Questions that nobody has answered, neither here nor on the part."""
        declared = None if self.along else self.part.declared
        if declared is None or self.state not in ASKED_STATES:
            return ()
        return declared.open_questions(self.answers, self.part.spec)

    @property
    def counter_questions(self) -> tuple[Question, ...]:
        """Those of them that the seller answers: variants that are confused at the counter."""
        return tuple(ask for ask in self.open_questions if not ask.at_the_car)

    @property
    def price(self) -> int | None:
        """Price of one [minor units]: as agreed, else as offered."""
        return self.price_minor if self.price_minor is not None else self.part.price_minor

    @property
    def lead(self) -> int | None:
        return self.lead_days if self.lead_days is not None else self.part.lead_days

    @property
    def seller(self) -> str:
        return self.part.supplier

    def stands_at(self, end: str) -> bool:
        return self.position in ("A", end)

    @property
    def missing_pieces(self) -> int:
        """Of an order that came, how many pieces did not."""
        came = self.arrived_count
        return 0 if came is None or self.arrived_on is None else max(0, self.pieces - came)


from planner.dates.models import (  # noqa: E402, F401  the plan's own rows, known to the room by this module
    BuildWeek,
    Claim,
    Happening,
    PersonWeek,
    PlanTask,
    Said,
)
from planner.finder.models import Search  # noqa: E402, F401  the finder's own rows, known to the room by this module
