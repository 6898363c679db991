"""Where a rule went and what it read become what the station declares; the columns of before go."""

from __future__ import annotations

from typing import Any

from django.db import migrations, models
from django.db.models import Q

WHERE: dict[str, Any] = {"height_mm": None, "u_mm": None, "u": "", "steer_deg": 0.0, "travel_mm": 0.0}
MOST = 8000


def gather(apps: Any, schema_editor: Any) -> None:
    rows = list(apps.get_model("garage", "Reading").objects.all())
    for row in rows:
        row.where = {name: getattr(row, name) for name, empty in WHERE.items() if getattr(row, name) != empty}
        row.values = [row.value] if row.value2 is None else [row.value, row.value2]
    apps.get_model("garage", "Reading").objects.bulk_update(rows, ["where", "values"], batch_size=500)


def spread(apps: Any, schema_editor: Any) -> None:
    rows = list(apps.get_model("garage", "Reading").objects.all())
    for row in rows:
        for name, empty in WHERE.items():
            setattr(row, name, row.where.get(name, empty))
        row.value, row.value2 = row.values[0], row.values[1] if len(row.values) > 1 else None
    apps.get_model("garage", "Reading").objects.bulk_update(rows, [*WHERE, "value", "value2"], batch_size=500)


#: limits that were laid on the columns that go
LAID = ("value_within", "value2_within", "height_mm_within", "u_mm_within", "travel_mm_within", "steer")


class Migration(migrations.Migration):
    dependencies = [("garage", "0010_stations_are_declared")]

    operations = [
        migrations.AddField("reading", "where", models.JSONField(default=dict, blank=True)),
        migrations.AddField("reading", "values", models.JSONField(default=list)),
        # What is taken away comes back empty on the way back, and can be filled only then.
        migrations.AlterField("reading", "value", models.FloatField(default=0.0)),
        migrations.AlterField("reading", "u", models.CharField(max_length=6, blank=True, default="")),
        migrations.RunPython(gather, spread),
        *[migrations.RemoveConstraint("reading", f"reading_{name}") for name in LAID],
        *[migrations.RemoveField("reading", name) for name in (*WHERE, "value", "value2")],
        migrations.AddConstraint(
            "reading",
            models.CheckConstraint(name="reading_values_within", condition=Q(values__0__gte=-MOST, values__0__lte=MOST)),
        ),
    ]
