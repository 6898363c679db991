"""The core's limits in the tables; rows of before are cleaned first."""

from typing import Any

from django.db import migrations, models

from garage.migrations_before._then import draw_in


def clean(apps: Any, editor: Any) -> None:
    """What lies outside the limits is drawn in."""
    draw_in(apps, "workshop", "Snag", cost_minor="cost_minor")
    draw_in(apps, "workshop", "FollowUp", due_km="due_km", done_km="odometer_km")
    draw_in(apps, "workshop", "Job", done_km="odometer_km")


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0004_limits"),
        ("planner", "0003_limits"),
        ("workshop", "0001_initial"),
    ]

    operations = [
        migrations.RunPython(clean, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="followup",
            constraint=models.CheckConstraint(
                condition=models.Q(("due_km__isnull", True), models.Q(("due_km__gte", 0), ("due_km__lte", 5010000)), _connector="OR"),
                name="follow_up_due_km_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="followup",
            constraint=models.CheckConstraint(
                condition=models.Q(("done_km__isnull", True), models.Q(("done_km__gte", 0), ("done_km__lte", 5000000)), _connector="OR"),
                name="follow_up_done_km_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="job",
            constraint=models.CheckConstraint(
                condition=models.Q(("done_km__isnull", True), models.Q(("done_km__gte", 0), ("done_km__lte", 5000000)), _connector="OR"),
                name="job_done_km_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="snag",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("cost_minor__isnull", True), models.Q(("cost_minor__gte", 0), ("cost_minor__lte", 1000000000)), _connector="OR"
                ),
                name="snag_cost_minor_within",
            ),
        ),
    ]
