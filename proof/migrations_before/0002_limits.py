"""The core's limits in the tables; rows of before are cleaned first."""

from typing import Any

from django.db import migrations, models

from garage.migrations_before._then import blank_out


def clean(apps: Any, editor: Any) -> None:
    """What lies outside the limits is emptied."""
    blank_out(apps, "proof", "Series", limit="value")


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0004_limits"),
        ("proof", "0001_initial"),
    ]

    operations = [
        migrations.RunPython(clean, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="series",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("limit__isnull", True), models.Q(("limit__gte", -1000000000.0), ("limit__lte", 1000000000.0)), _connector="OR"
                ),
                name="series_limit_within",
            ),
        ),
    ]
