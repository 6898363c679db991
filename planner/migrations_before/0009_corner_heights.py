"""Levers of a corner: its collar, and how much lower it stands than its end."""

from typing import Any

from django.db import migrations, models
from django.db.models import Q

PLACES = {"": "", "F": "Front", "R": "Rear", "FL": "Front left", "FR": "Front right", "RL": "Rear left", "RR": "Rear right"}


def without_corners(apps: Any, schema_editor: Any) -> None:
    """On the way back: levers of a corner have no place any more."""
    apps.get_model("planner", "Lever").objects.filter(place__in=[place for place in PLACES if len(place) == 2]).delete()


class Migration(migrations.Migration):
    dependencies = [("planner", "0008_pipe_runs")]

    operations = [
        migrations.RemoveConstraint(model_name="lever", name="lever_place"),
        migrations.AlterField(
            model_name="lever", name="place", field=models.CharField(blank=True, choices=list(PLACES.items()), max_length=2)
        ),
        migrations.AddConstraint(
            model_name="lever", constraint=models.CheckConstraint(condition=Q(place__in=list(PLACES)), name="lever_place")
        ),
        migrations.RunPython(migrations.RunPython.noop, without_corners),
    ]
