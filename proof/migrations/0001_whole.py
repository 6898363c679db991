"""Every table of the room as it stands: what a new database takes instead of the steps that led here, which older ones still take."""

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = []

    operations = [
        migrations.CreateModel(
            name="Series",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("unit", models.CharField(blank=True, max_length=20)),
                (
                    "better",
                    models.CharField(
                        choices=[("less", "less is better"), ("more", "more is better"), ("neither", "neither is better")],
                        default="less",
                        max_length=8,
                    ),
                ),
                ("limit", models.FloatField(blank=True, null=True, verbose_name="limit")),
                ("how", models.CharField(blank=True, max_length=200, verbose_name="how it is done each time")),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="series", to="garage.car")),
            ],
            options={
                "verbose_name_plural": "series",
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("limit__isnull", True), models.Q(("limit__gte", -1000000000.0), ("limit__lte", 1000000000.0)), _connector="OR"
                        ),
                        name="series_limit_within",
                    ),
                    models.UniqueConstraint(fields=("car", "name"), name="one_series_a_name"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Run",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("value", models.FloatField()),
                ("ran_on", models.DateField(default=django.utils.timezone.localdate)),
                ("note", models.CharField(blank=True, max_length=120, verbose_name="conditions")),
                ("left_out_why", models.CharField(blank=True, max_length=120)),
                ("outfit", models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name="runs", to="garage.outfit")),
                ("series", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="runs", to="proof.series")),
            ],
            options={
                "ordering": ["ran_on", "id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("value__gte", -1000000000.0), ("value__lte", 1000000000.0)), name="run_range"
                    )
                ],
            },
        ),
    ]
