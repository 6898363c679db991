"""The journal of changes that can still be undone, forms that were sent, and where accounts were opened from."""

from django.conf import settings
from django.db import models


class Change(models.Model):
    """One change a person made: what every touched row was before it, newest operation last."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="changes")
    label = models.CharField(max_length=200)
    #: the car on whose pages it was made; None elsewhere
    car_number = models.PositiveBigIntegerField(null=True, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    operations = models.JSONField()

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.label


class Deed(models.Model):
    """What was done on the pages of a car, and by whom; it stays when it can't be undone any more."""

    car_number = models.PositiveBigIntegerField(db_index=True)
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="deeds"
    )
    label = models.CharField(max_length=200)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.label


class Slow(models.Model):
    """A page that took long, by its route; the newest are kept."""

    route = models.CharField(max_length=120)
    method = models.CharField(max_length=7)
    ms = models.PositiveIntegerField("time of the processor [ms]")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"{self.method} {self.route}: {self.ms} ms"


class Pressed(models.Model):
    """A form that was sent: who and its token, and where the answer led."""

    key = models.CharField(max_length=90, unique=True)
    at = models.DateTimeField(auto_now_add=True)
    answer = models.CharField(max_length=2000, blank=True)

    def __str__(self) -> str:
        return self.key


class Arrival(models.Model):
    """An account was opened from an address."""

    address = models.CharField(max_length=45, db_index=True)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    def __str__(self) -> str:
        return self.address


class Revision(models.Model):
    """How often anything of a car was written.

    Raised by the database itself (see ``shell.revision``) and never lowered.

    It outlives its car: one that comes back by undo goes on from there.
    """

    car = models.BigIntegerField(primary_key=True)
    number = models.BigIntegerField()

    def __str__(self) -> str:
        return f"{self.car}: {self.number}"


class Sent(models.Model):
    """Something typed without a connection that arrived: its own key, so that it acts once however often it is sent."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="sent")
    key = models.CharField(max_length=64)
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    status = models.PositiveSmallIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "key"], name="sent_once")]

    def __str__(self) -> str:
        return self.key


class Gathered(models.Model):
    """What was worked out of a car at a revision, for pages that need it of every car of a person."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="gathered")
    car = models.BigIntegerField()
    what = models.CharField(max_length=20)
    number = models.BigIntegerField("revision that it stands on")
    value = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "car", "what"], name="gathered_once")]

    def __str__(self) -> str:
        return f"{self.what} of {self.car}"
