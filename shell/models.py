"""The journal of changes that can still be undone."""

from django.conf import settings
from django.db import models


class Change(models.Model):
    """One change a person made: what every touched row was before it, newest operation last."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="changes")
    label = models.CharField(max_length=200)
    made_at = models.DateTimeField(auto_now_add=True)
    operations = models.JSONField()

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.label
