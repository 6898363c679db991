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
            name="Card",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("width_px", models.PositiveIntegerField()),
                ("height_px", models.PositiveIntegerField()),
                ("points_px", models.JSONField(blank=True, default=list)),
                ("bar_mm", models.FloatField(blank=True, null=True)),
                ("traced_on", models.DateField(blank=True, null=True)),
                ("image", models.ImageField(upload_to="")),
                ("crown_mm", models.FloatField(blank=True, null=True)),
                ("tyre", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="card", to="garage.tyre")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("bar_mm__isnull", True), models.Q(("bar_mm__gte", 10), ("bar_mm__lte", 2000)), _connector="OR"),
                        name="card_bar_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("crown_mm__isnull", True), models.Q(("crown_mm__gte", 100), ("crown_mm__lte", 800)), _connector="OR"
                        ),
                        name="card_crown_mm_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Quote",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("supplier", models.CharField(max_length=80)),
                ("price_minor", models.PositiveIntegerField(blank=True, null=True, verbose_name="price of one")),
                ("lead_days", models.PositiveSmallIntegerField(blank=True, null=True, verbose_name="lead time, days")),
                ("asked_on", models.DateField(default=django.utils.timezone.localdate)),
                ("asked_by", models.CharField(blank=True, max_length=60)),
                ("good_days", models.PositiveSmallIntegerField(default=30, verbose_name="stands for, days")),
                (
                    "answer",
                    models.CharField(
                        choices=[
                            ("waiting", "waiting for the answer"),
                            ("offered", "offered"),
                            ("out_of_stock", "out of stock"),
                            ("wrong_variant", "another variant"),
                            ("silent", "no answer"),
                        ],
                        default="offered",
                        max_length=14,
                    ),
                ),
                ("variant", models.CharField(blank=True, max_length=80)),
                ("simulated", models.BooleanField(default=False)),
                ("answers_at", models.DateTimeField(blank=True, null=True)),
                ("taken", models.BooleanField(default=False)),
                ("part", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="quotes", to="garage.part")),
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
                        name="quote_price_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("lead_days__isnull", True), models.Q(("lead_days__gte", 0), ("lead_days__lte", 1000)), _connector="OR"
                        ),
                        name="quote_lead_days_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("good_days__isnull", True), models.Q(("good_days__gte", 0), ("good_days__lte", 1000)), _connector="OR"
                        ),
                        name="quote_good_days_within",
                    ),
                    models.UniqueConstraint(condition=models.Q(("taken", True)), fields=("part",), name="one_quote_taken"),
                    models.CheckConstraint(
                        condition=models.Q(("answer__in", ["waiting", "offered", "out_of_stock", "wrong_variant", "silent"])),
                        name="quote_answer",
                    ),
                ],
            },
        ),
    ]
