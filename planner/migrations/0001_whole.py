"""Every table of the room as it stands: what a new database takes instead of the steps that led here, which older ones still take."""

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        ("garage", "0001_whole"),
    ]

    operations = [
        migrations.CreateModel(
            name="Build",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=60)),
                ("tolerance", models.CharField(default="daily", max_length=20)),
                ("in_hand", models.BooleanField(default=False)),
                ("hours_estimate", models.FloatField(blank=True, null=True, verbose_name="hours, own estimate")),
                ("note", models.CharField(blank=True, max_length=300)),
                ("revision", models.PositiveIntegerField(default=1)),
                ("tuning_on", models.DateField(blank=True, null=True, verbose_name="tuned on")),
                ("first_drive_on", models.DateField(blank=True, null=True, verbose_name="first drive")),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="builds", to="garage.car")),
                (
                    "outfit",
                    models.OneToOneField(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="build", to="garage.outfit"
                    ),
                ),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.UniqueConstraint(condition=models.Q(("in_hand", True)), fields=("car",), name="one_build_in_hand"),
                    models.UniqueConstraint(fields=("car", "name"), name="one_build_a_name"),
                    models.CheckConstraint(
                        condition=models.Q(("hours_estimate__gte", 0), ("hours_estimate__lte", 2000)), name="build_hours"
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Choice",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.CharField(choices=[("A", "front and rear"), ("F", "front"), ("R", "rear")], default="A", max_length=1)),
                ("quantity", models.PositiveSmallIntegerField(default=4)),
                ("price_minor", models.PositiveIntegerField(blank=True, null=True, verbose_name="price of one")),
                ("lead_days", models.PositiveSmallIntegerField(blank=True, null=True, verbose_name="lead time, days")),
                (
                    "state",
                    models.CharField(
                        choices=[
                            ("wanted", "wanted"),
                            ("have", "have it"),
                            ("shortlisted", "shortlisted"),
                            ("ordered", "ordered"),
                            ("arrived", "arrived"),
                            ("trial_fitted", "trial-fitted"),
                            ("fitted", "fitted"),
                            ("returned", "returned"),
                            ("sold", "sold"),
                        ],
                        default="shortlisted",
                        max_length=14,
                    ),
                ),
                ("ordered_on", models.DateField(blank=True, null=True)),
                ("arrived_on", models.DateField(blank=True, null=True)),
                ("sold_minor", models.PositiveIntegerField(default=0, verbose_name="sold for")),
                ("fees_minor", models.PositiveIntegerField(default=0, verbose_name="fees, postage, restocking")),
                ("answers", models.JSONField(blank=True, default=dict)),
                ("build", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="choices", to="planner.build")),
                ("part", models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name="choices", to="garage.part")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("price_minor__isnull", True),
                            models.Q(("price_minor__gte", 0), ("price_minor__lte", 1000000000)),
                            _connector="OR",
                        ),
                        name="choice_price_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("lead_days__isnull", True), models.Q(("lead_days__gte", 0), ("lead_days__lte", 1000)), _connector="OR"
                        ),
                        name="choice_lead_days_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("sold_minor__isnull", True), models.Q(("sold_minor__gte", 0), ("sold_minor__lte", 1000000000)), _connector="OR"
                        ),
                        name="choice_sold_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("fees_minor__isnull", True), models.Q(("fees_minor__gte", 0), ("fees_minor__lte", 1000000000)), _connector="OR"
                        ),
                        name="choice_fees_minor_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("quantity__gte", 1), ("quantity__lte", 200)), name="choice_quantity"),
                    models.CheckConstraint(
                        condition=models.Q(
                            (
                                "state__in",
                                ["wanted", "have", "shortlisted", "ordered", "arrived", "trial_fitted", "fitted", "returned", "sold"],
                            )
                        ),
                        name="choice_state",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Lever",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("code", models.CharField(max_length=40)),
                (
                    "place",
                    models.CharField(
                        blank=True,
                        choices=[
                            ("", ""),
                            ("F", "Front"),
                            ("R", "Rear"),
                            ("FL", "Front left"),
                            ("FR", "Front right"),
                            ("RL", "Rear left"),
                            ("RR", "Rear right"),
                        ],
                        max_length=2,
                    ),
                ),
                ("number", models.FloatField(blank=True, null=True)),
                ("text", models.CharField(blank=True, max_length=40)),
                ("build", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="levers", to="planner.build")),
            ],
            options={
                "ordering": ["code", "place"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("number__isnull", True), models.Q(("number__gte", -1000000.0), ("number__lte", 1000000.0)), _connector="OR"
                        ),
                        name="lever_number_within",
                    ),
                    models.UniqueConstraint(fields=("build", "code", "place"), name="one_lever_a_place"),
                    models.CheckConstraint(condition=models.Q(("place__in", ["", "F", "R", "FL", "FR", "RL", "RR"])), name="lever_place"),
                ],
            },
        ),
        migrations.CreateModel(
            name="PipeRun",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kind", models.CharField(choices=[("intake", "intake"), ("exhaust", "exhaust")], max_length=8)),
                ("lines", models.TextField()),
                ("pipes", models.PositiveSmallIntegerField(default=1)),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                (
                    "build",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.CASCADE, related_name="pipe_runs", to="planner.build"
                    ),
                ),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="pipe_runs", to="garage.car")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.UniqueConstraint(fields=("car", "build", "kind"), name="one_run_a_build"),
                    models.UniqueConstraint(
                        condition=models.Q(("build__isnull", True)), fields=("car", "kind"), name="one_run_as_it_stands"
                    ),
                    models.CheckConstraint(condition=models.Q(("kind__in", ["intake", "exhaust"])), name="run_kind"),
                    models.CheckConstraint(condition=models.Q(("pipes__gte", 1), ("pipes__lte", 4)), name="run_pipes"),
                ],
            },
        ),
    ]
