"""What was weighed of a car item by item, and the goals that its mass is held against."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car
from rimcore.mass.ledger import GUARDED, STATES, Weighed
from rimcore.work.removed import FATES, net_kg
from shell.limits import limited
from shell.narrow import ChangedColumns


class MassItem(ChangedColumns):
    """Something that was weighed, or could come out.

    With its box, what goes back in its place, what it takes, where it was and where it lies.
    """

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="mass_items")
    label = models.CharField(max_length=8, editable=False)
    name = models.CharField("what it is", max_length=80)
    state = models.CharField(max_length=7, choices=STATES, default="in")
    gross_kg = models.FloatField("with its box", null=True, blank=True)
    tare_kg = models.FloatField("the empty box", null=True, blank=True)
    doubt_kg = models.FloatField("± of the scale", default=0.05)
    scale = models.CharField("which scale", max_length=60, blank=True)
    weighed_on = models.DateField("when", default=timezone.localdate)
    who = models.CharField(max_length=60, blank=True)
    #: None is untimed; nought is an item that lifts out
    minutes = models.FloatField("minutes it takes", null=True, blank=True)
    cost_minor = models.PositiveIntegerField("money it costs", default=0)
    sold_minor = models.PositiveIntegerField("money it brought", default=0)
    back_name = models.CharField("goes back in its place", max_length=80, blank=True)
    back_kg = models.FloatField("weight of that", default=0)
    behind_mm = models.FloatField("behind the front axle", null=True, blank=True)
    right_mm = models.FloatField("right of the centre line", null=True, blank=True)
    up_mm = models.FloatField("above the ground", null=True, blank=True)
    reversible = models.BooleanField("can go back in", default=True)
    comfort = models.BooleanField("costs comfort or noise", default=False)
    guarded = models.CharField("specialist only", max_length=9, blank=True, choices={kind: kind for kind in GUARDED})
    #: why a guarded one is taken out all the same, typed by the person
    reason = models.CharField(max_length=200, blank=True)
    needs = models.JSONField(default=list, blank=True)
    not_with = models.JSONField(default=list, blank=True)
    fate = models.CharField("what became of it", max_length=4, choices=FATES, default="keep")
    kept_where = models.CharField("shelf and box", max_length=60, blank=True)
    out_on = models.DateField(null=True, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "mass_item",
                gross_kg="item_kg",
                tare_kg="item_kg",
                doubt_kg="item_doubt_kg",
                minutes="minutes",
                cost_minor="cost_minor",
                sold_minor="cost_minor",
                back_kg="item_kg",
                behind_mm="item_along_mm",
                right_mm="item_across_mm",
                up_mm="item_up_mm",
            ),
            models.UniqueConstraint(fields=["car", "name"], name="one_mass_item_a_name"),
            models.UniqueConstraint(fields=["car", "label"], name="one_mass_item_a_label"),
            models.CheckConstraint(name="mass_item_state", condition=Q(state__in=list(STATES))),
            models.CheckConstraint(
                name="mass_item_tare",
                condition=Q(tare_kg__isnull=True) | Q(gross_kg__isnull=True) | Q(tare_kg__lte=models.F("gross_kg")),
            ),
            models.CheckConstraint(name="mass_item_guarded", condition=Q(guarded="") | Q(state="in") | ~Q(reason="")),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def net_kg(self) -> float | None:
        """What lies in the box; None where gross or tare is not known."""
        return net_kg(self.gross_kg, self.tare_kg)

    @property
    def weighed(self) -> Weighed:
        """The item, for the core."""
        place = None if self.behind_mm is None or self.right_mm is None else (self.behind_mm, self.right_mm)
        return Weighed(
            label=self.label,
            name=self.name,
            kg=self.net_kg,
            state=self.state,
            back_kg=self.back_kg,
            back_name=self.back_name,
            doubt_kg=self.doubt_kg,
            minutes=self.minutes or 0.0,
            money_minor=self.cost_minor - self.sold_minor,
            reversible=self.reversible,
            comfort=self.comfort,
            guarded=self.guarded,
            place_mm=place,
            height_mm=self.up_mm,
            needs=tuple(self.needs),
            not_with=tuple(self.not_with),
            timed=self.minutes is not None,
        )


class MassGoal(ChangedColumns):
    """What a car is to weigh: the phase's goal, the class minimum, and what there is for it."""

    car = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="mass_goal")
    phase_kg = models.FloatField("net kilograms out in this phase", null=True, blank=True)
    minimum_kg = models.FloatField("class minimum", null=True, blank=True)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        constraints = [*limited("mass_goal", phase_kg="phase_kg", minimum_kg="minimum_kg")]

    def __str__(self) -> str:
        return f"goal of {self.car}"
