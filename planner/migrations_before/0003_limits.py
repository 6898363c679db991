"""The core's limits in the tables; rows of before are cleaned first."""

from typing import Any

from django.db import migrations, models

from garage.migrations_before._then import blank_out, draw_in


def clean(apps: Any, editor: Any) -> None:
    """What lies outside the limits is emptied or drawn in."""
    blank_out(apps, "planner", "Build", camber_front_deg="camber_deg", camber_rear_deg="camber_deg")
    blank_out(
        apps, "planner", "Choice", price_minor="price_minor", lead_days="lead_days", mass_change_kg="mass_change_kg", ring_inner_mm="ring_mm",
        ring_outer_mm="ring_mm",
    )  # fmt: skip
    draw_in(apps, "planner", "Choice", sold_minor="cost_minor")


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0004_limits"),
        ("planner", "0002_motion"),
        ("shelf", "0004_limits"),
    ]

    operations = [
        migrations.RunPython(clean, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="build",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("camber_front_deg__isnull", True),
                    models.Q(("camber_front_deg__gte", -20), ("camber_front_deg__lte", 20)),
                    _connector="OR",
                ),
                name="build_camber_front_deg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="build",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("camber_rear_deg__isnull", True),
                    models.Q(("camber_rear_deg__gte", -20), ("camber_rear_deg__lte", 20)),
                    _connector="OR",
                ),
                name="build_camber_rear_deg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="choice",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("price_minor__isnull", True), models.Q(("price_minor__gte", 0), ("price_minor__lte", 1000000000)), _connector="OR"
                ),
                name="choice_price_minor_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="choice",
            constraint=models.CheckConstraint(
                condition=models.Q(("lead_days__isnull", True), models.Q(("lead_days__gte", 0), ("lead_days__lte", 1000)), _connector="OR"),
                name="choice_lead_days_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="choice",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("mass_change_kg__isnull", True), models.Q(("mass_change_kg__gte", -500), ("mass_change_kg__lte", 500)), _connector="OR"
                ),
                name="choice_mass_change_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="choice",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("ring_inner_mm__isnull", True), models.Q(("ring_inner_mm__gte", 20), ("ring_inner_mm__lte", 300)), _connector="OR"
                ),
                name="choice_ring_inner_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="choice",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("ring_outer_mm__isnull", True), models.Q(("ring_outer_mm__gte", 20), ("ring_outer_mm__lte", 300)), _connector="OR"
                ),
                name="choice_ring_outer_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="choice",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("sold_minor__isnull", True), models.Q(("sold_minor__gte", 0), ("sold_minor__lte", 1000000000)), _connector="OR"
                ),
                name="choice_sold_minor_within",
            ),
        ),
    ]
