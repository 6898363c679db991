"""What belongs to a part of the list: the card of a tyre, the quotes of suppliers."""

from __future__ import annotations

import uuid
from datetime import date

from django.db import models
from django.utils import timezone

from garage.car.models import Car
from garage.car.parts import Part, Tyre
from garage.clicked import ClickedCard
from rimcore.tables.facts import ENDS
from rimcore.work.quotes import GOOD_DAYS, good_until, stale
from rimcore.work.quotes import Quote as CoreQuote
from shell.files import NamedImage
from shell.limits import limited
from shell.narrow import ChangedColumns


def card_path(card: Card, name: str) -> str:
    """A name of our own: nothing of the uploaded name is kept."""
    return f"cards/{card.tyre.car_id}/{uuid.uuid4().hex}.jpg"


class Card(ClickedCard):
    """A photographed card cut to a tyre's section, with the points clicked along its edge from inside over the tread to
    outside.
    """

    tyre = models.OneToOneField(Tyre, on_delete=models.CASCADE, related_name="card")
    image = NamedImage(upload_to=card_path)
    crown_mm = models.FloatField(null=True, blank=True)

    class Meta:
        constraints = [*limited("card", bar_mm="bar_mm", crown_mm="crown_mm")]

    def __str__(self) -> str:
        return f"card of {self.tyre}"


class Quote(ChangedColumns):
    """What a supplier said of a part: price and lead time, when, to whom, and for how long it stands."""

    ANSWERS = {
        "waiting": "waiting for the answer",
        "offered": "offered",
        "out_of_stock": "out of stock",
        "wrong_variant": "another variant",
        "silent": "no answer",
    }

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="quotes")
    supplier = models.CharField(max_length=80)
    price_minor = models.PositiveIntegerField("price of one", null=True, blank=True)
    lead_days = models.PositiveSmallIntegerField("lead time, days", null=True, blank=True)
    asked_on = models.DateField(default=timezone.localdate)
    asked_by = models.CharField(max_length=60, blank=True)
    good_days = models.PositiveSmallIntegerField("stands for, days", default=GOOD_DAYS)
    answer = models.CharField(max_length=14, choices=ANSWERS, default="offered")
    #: what was offered instead
    variant = models.CharField(max_length=80, blank=True)
    simulated = models.BooleanField(default=False)
    #: when a simulated answer is there
    answers_at = models.DateTimeField(null=True, blank=True)
    #: the part's price and lead time are this quote's
    taken = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited("quote", price_minor="price_minor", lead_days="lead_days", good_days="lead_days"),
            models.UniqueConstraint(fields=["part"], condition=models.Q(taken=True), name="one_quote_taken"),
            models.CheckConstraint(
                name="quote_answer",
                condition=models.Q(answer__in=["waiting", "offered", "out_of_stock", "wrong_variant", "silent"]),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.supplier}: {self.get_answer_display()}"

    @property
    def core(self) -> CoreQuote:
        """For the core."""
        return CoreQuote(
            self.supplier, self.price_minor, self.lead_days, self.asked_on, self.good_days, self.answer == "offered"
        )

    @property
    def is_stale(self) -> bool:
        return stale(self.core, timezone.localdate())

    @property
    def until(self) -> date:
        return good_until(self.core)


class WheelSet(ChangedColumns):
    """Another set of wheels of a car: its wheels and tyres, how worn and how old they are, where it lies."""

    PURPOSES = {"summer": "summer", "winter": "winter", "track": "track", "spare": "spare", "other": "other"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="wheel_sets")
    name = models.CharField(max_length=40)
    purpose = models.CharField(max_length=8, choices=PURPOSES, default="winter")
    stored = models.CharField("where it is stored", max_length=80, blank=True)
    noted_on = models.DateField(default=timezone.localdate)

    class Meta:
        ordering = ["name", "id"]
        constraints = [models.UniqueConstraint(fields=["car", "name"], name="one_wheel_set_a_name")]

    def __str__(self) -> str:
        return self.name


class WheelSetAxle(ChangedColumns):
    """What of a set goes on one end: parts of its own, not on the shortlist."""

    wheel_set = models.ForeignKey(WheelSet, on_delete=models.CASCADE, related_name="axles")
    end = models.CharField(max_length=1, choices=ENDS)
    wheel_part = models.ForeignKey(Part, on_delete=models.RESTRICT, related_name="set_as_wheel")
    tyre_part = models.ForeignKey(Part, on_delete=models.RESTRICT, related_name="set_as_tyre")
    tread_mm = models.FloatField("least tread", null=True, blank=True)
    date_code = models.CharField("date code", max_length=8, blank=True)

    class Meta:
        ordering = ["end"]
        constraints = [
            *limited("set_axle", tread_mm="tread_mm"),
            models.UniqueConstraint(fields=["wheel_set", "end"], name="one_set_axle_an_end"),
        ]

    def __str__(self) -> str:
        return f"{self.wheel_part.line}, {self.tyre_part.spec.get('size', '')}"
