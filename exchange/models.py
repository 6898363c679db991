"""By what rows of a car are known again when its file comes a second time."""

from __future__ import annotations

import uuid

from django.db import models


class Origin(models.Model):
    """The mark of a row that went out or came in with a car's file, and how the row was when it last came in."""

    #: the car in this database
    car_number = models.PositiveBigIntegerField(db_index=True)
    label = models.CharField(max_length=60)
    row = models.PositiveBigIntegerField()
    uid = models.UUIDField(default=uuid.uuid4)
    #: digest of the row as it last came in; blank where it only went out
    base = models.CharField(max_length=32, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["label", "row"], name="origin_once")]

    def __str__(self) -> str:
        return f"{self.label} {self.row}"
