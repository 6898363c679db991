"""Who else may see a car: links to read by, helpers, and cars that are on their way to another garage."""

from __future__ import annotations

import secrets
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone

from garage.car.models import Car

#: letters of a link's token: 32 bytes from the system's own source
TOKEN_BYTES = 32
#: how long a car that was offered waits for an answer
OFFERED_FOR = timedelta(days=14)


def new_token() -> str:
    """What nobody guesses: 256 random bits, as letters that stand in an address."""
    return secrets.token_urlsafe(TOKEN_BYTES)


class Link(models.Model):
    """An address under which a part of a car's record is read without an account, until a day."""

    WHATS = {"book": "the build book", "build": "a build", "job": "a job sheet"}

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="links")
    token = models.CharField(max_length=60, unique=True, editable=False)
    what = models.CharField(max_length=5, choices=WHATS)
    #: the build or the sheet
    number = models.PositiveBigIntegerField(null=True, blank=True)
    chapters = models.JSONField(default=list, blank=True)
    money = models.BooleanField("prices", default=False)
    notes = models.BooleanField("what is written about the car", default=False)
    names = models.BooleanField("names of who read and worked", default=False)
    until = models.DateField()
    made_at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)
    opened = models.PositiveIntegerField(default=0)
    last_opened_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-id"]
        constraints = [
            models.CheckConstraint(name="link_what", condition=Q(what__in=["book", "build", "job"])),
            models.CheckConstraint(name="link_number", condition=Q(what="book") | Q(number__isnull=False)),
        ]

    def __str__(self) -> str:
        return f"{self.get_what_display()} of {self.car}, until {self.until}"

    def save(self, *args: Any, **options: Any) -> None:
        """A new link gets its token."""
        self.token = self.token or new_token()
        super().save(*args, **options)

    @property
    def holds(self) -> bool:
        """Does it still lead to anything?"""
        return self.taken_back_at is None and self.until >= timezone.localdate()


class Opening(models.Model):
    """A link was opened, or a wrong one tried, from an address; forgotten when its time is over."""

    address = models.CharField(max_length=45, db_index=True)
    right = models.BooleanField(default=True)
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.address


class Helper(models.Model):
    """Another account that may read or work on one car."""

    ROLES = {
        "looks": "looks: reads everything of the car",
        "works": "measures and ticks: readings, job sheets, runs",
        "plans": "plans: parts, builds, orders too",
    }

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="helpers")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="helps_with")
    role = models.CharField(max_length=5, choices=ROLES, default="looks")
    since = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["car", "person"], name="helper_once"),
            models.CheckConstraint(name="helper_role", condition=Q(role__in=["looks", "works", "plans"])),
        ]

    def __str__(self) -> str:
        return f"{self.person} {self.role} on {self.car}"


class HandOver(models.Model):
    """A car that is offered to another account and waits for its answer."""

    KEEPS = {"copy": "a copy to read, as it is on that day", "nothing": "nothing"}

    car: Any = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="hand_over")
    to = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="offered_cars")
    money = models.BooleanField("prices and receipts go with it", default=False)
    notes = models.BooleanField("notes go with it", default=True)
    keep = models.CharField("you keep", max_length=7, choices=KEEPS, default="copy")
    until = models.DateField(editable=False)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.CheckConstraint(name="hand_over_keep", condition=Q(keep__in=["copy", "nothing"]))]

    def __str__(self) -> str:
        return f"{self.car} to {self.to}"

    def save(self, *args: Any, **options: Any) -> None:
        """A new offer waits two weeks."""
        self.until = self.until or timezone.localdate() + OFFERED_FOR
        super().save(*args, **options)
