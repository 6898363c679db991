"""Every table of the room as it stands: what a new database takes instead of the steps that led here, which older ones still take."""

import django.core.validators
import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        ("auth", "__first__"),
    ]

    operations = [
        migrations.CreateModel(
            name="Car",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("nickname", models.CharField(max_length=60)),
                ("description", models.CharField(blank=True, max_length=200)),
                (
                    "use",
                    models.CharField(
                        choices=[
                            ("street", "street"),
                            ("track", "track"),
                            ("drift", "drift"),
                            ("climb", "hill climb, autocross"),
                            ("tow", "tow and load"),
                            ("show", "show"),
                        ],
                        default="street",
                        max_length=10,
                    ),
                ),
                (
                    "second_use",
                    models.CharField(
                        blank=True,
                        choices=[
                            ("street", "street"),
                            ("track", "track"),
                            ("drift", "drift"),
                            ("climb", "hill climb, autocross"),
                            ("tow", "tow and load"),
                            ("show", "show"),
                        ],
                        max_length=10,
                    ),
                ),
                ("alignment_school", models.CharField(blank=True, editable=False, max_length=10)),
                ("alignment_targets", models.JSONField(blank=True, default=dict, editable=False)),
                (
                    "drive",
                    models.CharField(blank=True, choices=[("F", "front"), ("R", "rear"), ("4", "four-wheel")], default="", max_length=1),
                ),
                ("wheelbase_mm", models.FloatField(blank=True, null=True)),
                ("track_front_mm", models.FloatField(blank=True, null=True)),
                ("track_rear_mm", models.FloatField(blank=True, null=True)),
                ("front_axle_kg", models.FloatField(blank=True, null=True)),
                ("rear_axle_kg", models.FloatField(blank=True, null=True)),
                ("cg_height_mm", models.FloatField(blank=True, null=True)),
                ("track_days", models.PositiveSmallIntegerField(default=0, editable=False)),
                ("odometer_km", models.PositiveIntegerField(default=0)),
                (
                    "currency",
                    models.CharField(
                        choices=[
                            ("EUR", "EUR"),
                            ("GBP", "GBP"),
                            ("USD", "USD"),
                            ("CHF", "CHF"),
                            ("SEK", "SEK"),
                            ("NOK", "NOK"),
                            ("PLN", "PLN"),
                            ("AUD", "AUD"),
                            ("CAD", "CAD"),
                            ("DKK", "DKK"),
                            ("CZK", "CZK"),
                            ("HUF", "HUF"),
                            ("JPY", "JPY"),
                            ("NZD", "NZD"),
                        ],
                        default="EUR",
                        max_length=3,
                    ),
                ),
                ("budget_minor", models.PositiveBigIntegerField(blank=True, null=True)),
                ("event_name", models.CharField(blank=True, max_length=80)),
                ("event_on", models.DateField(blank=True, null=True)),
                (
                    "hours_per_week",
                    models.FloatField(
                        default=8, validators=[django.core.validators.MinValueValidator(0.5), django.core.validators.MaxValueValidator(120)]
                    ),
                ),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("owner", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="cars", to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("wheelbase_mm__isnull", True),
                            models.Q(("wheelbase_mm__gte", 1000), ("wheelbase_mm__lte", 6000)),
                            _connector="OR",
                        ),
                        name="car_wheelbase_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("track_front_mm__isnull", True),
                            models.Q(("track_front_mm__gte", 800), ("track_front_mm__lte", 2500)),
                            _connector="OR",
                        ),
                        name="car_track_front_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("track_rear_mm__isnull", True),
                            models.Q(("track_rear_mm__gte", 800), ("track_rear_mm__lte", 2500)),
                            _connector="OR",
                        ),
                        name="car_track_rear_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("front_axle_kg__isnull", True),
                            models.Q(("front_axle_kg__gte", 50), ("front_axle_kg__lte", 5000)),
                            _connector="OR",
                        ),
                        name="car_front_axle_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rear_axle_kg__isnull", True),
                            models.Q(("rear_axle_kg__gte", 50), ("rear_axle_kg__lte", 5000)),
                            _connector="OR",
                        ),
                        name="car_rear_axle_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("cg_height_mm__isnull", True),
                            models.Q(("cg_height_mm__gte", 100), ("cg_height_mm__lte", 2000)),
                            _connector="OR",
                        ),
                        name="car_cg_height_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("odometer_km__isnull", True), models.Q(("odometer_km__gte", 0), ("odometer_km__lte", 5000000)), _connector="OR"
                        ),
                        name="car_odometer_km_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("budget_minor__isnull", True),
                            models.Q(("budget_minor__gte", 0), ("budget_minor__lte", 1000000000)),
                            _connector="OR",
                        ),
                        name="car_budget_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("hours_per_week__gte", 0.5), ("hours_per_week__lte", 120)), name="car_hours_per_week"
                    ),
                    models.CheckConstraint(condition=models.Q(("nickname", ""), _negated=True), name="car_nickname"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Brakes",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("front_rotor_kg", models.FloatField(blank=True, null=True, verbose_name="one front rotor")),
                ("rear_rotor_kg", models.FloatField(blank=True, null=True, verbose_name="one rear rotor")),
                ("from_kmh", models.FloatField(default=120, verbose_name="stop from")),
                ("deceleration_g", models.FloatField(default=0.8, verbose_name="deceleration, g")),
                ("load_kg", models.FloatField(default=0, verbose_name="trailer and load in the stop")),
                ("load_braked", models.BooleanField(default=False, verbose_name="the trailer has brakes of its own")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="brakes", to="garage.car")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("front_rotor_kg__isnull", True),
                            models.Q(("front_rotor_kg__gte", 0.3), ("front_rotor_kg__lte", 60)),
                            _connector="OR",
                        ),
                        name="brakes_front_rotor_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rear_rotor_kg__isnull", True),
                            models.Q(("rear_rotor_kg__gte", 0.3), ("rear_rotor_kg__lte", 60)),
                            _connector="OR",
                        ),
                        name="brakes_rear_rotor_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("from_kmh__isnull", True), models.Q(("from_kmh__gte", 20), ("from_kmh__lte", 350)), _connector="OR"
                        ),
                        name="brakes_from_kmh_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("deceleration_g__isnull", True),
                            models.Q(("deceleration_g__gte", 0.1), ("deceleration_g__lte", 2.0)),
                            _connector="OR",
                        ),
                        name="brakes_deceleration_g_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("load_kg__isnull", True), models.Q(("load_kg__gte", 0), ("load_kg__lte", 5000)), _connector="OR"
                        ),
                        name="brakes_load_kg_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Axle",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("end", models.CharField(choices=[("F", "front"), ("R", "rear")], max_length=1)),
                (
                    "suspension",
                    models.CharField(
                        blank=True,
                        choices=[
                            ("strut", "strut"),
                            ("wishbone", "double wishbone"),
                            ("multilink", "multi-link"),
                            ("beam", "twist beam"),
                            ("live", "live axle"),
                        ],
                        default="",
                        max_length=10,
                    ),
                ),
                (
                    "bolts",
                    models.PositiveSmallIntegerField(
                        blank=True,
                        null=True,
                        validators=[django.core.validators.MinValueValidator(3), django.core.validators.MaxValueValidator(10)],
                        verbose_name="lugs",
                    ),
                ),
                ("pcd_mm", models.FloatField(blank=True, null=True, verbose_name="bolt circle")),
                ("bore_mm", models.FloatField(blank=True, null=True, verbose_name="hub collar")),
                ("thread", models.CharField(blank=True, max_length=20)),
                ("stud_length_mm", models.FloatField(blank=True, null=True, verbose_name="stud beyond the hub's face")),
                ("bolt_length_mm", models.FloatField(blank=True, null=True, verbose_name="bolt under its seat")),
                ("seat", models.CharField(blank=True, max_length=20, verbose_name="seat of nuts or bolts")),
                ("collar_mm", models.FloatField(blank=True, null=True, verbose_name="height of the hub's collar")),
                ("nut_torque_nm", models.FloatField(blank=True, null=True, verbose_name="torque of the car's handbook")),
                ("off_wheel", models.JSONField(blank=True, default=list, editable=False)),
                ("noted_on", models.DateField(blank=True, editable=False, null=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="axles", to="garage.car")),
            ],
            options={
                "ordering": ["end"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("pcd_mm__isnull", True), models.Q(("pcd_mm__gte", 80), ("pcd_mm__lte", 300)), _connector="OR"),
                        name="axle_pcd_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("bore_mm__isnull", True), models.Q(("bore_mm__gte", 30), ("bore_mm__lte", 250)), _connector="OR"
                        ),
                        name="axle_bore_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("stud_length_mm__isnull", True),
                            models.Q(("stud_length_mm__gte", 0), ("stud_length_mm__lte", 200)),
                            _connector="OR",
                        ),
                        name="axle_stud_length_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("bolt_length_mm__isnull", True),
                            models.Q(("bolt_length_mm__gte", 0), ("bolt_length_mm__lte", 200)),
                            _connector="OR",
                        ),
                        name="axle_bolt_length_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("collar_mm__isnull", True), models.Q(("collar_mm__gte", 0), ("collar_mm__lte", 60)), _connector="OR"
                        ),
                        name="axle_collar_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("nut_torque_nm__isnull", True),
                            models.Q(("nut_torque_nm__gte", 20), ("nut_torque_nm__lte", 500)),
                            _connector="OR",
                        ),
                        name="axle_nut_torque_nm_within",
                    ),
                    models.UniqueConstraint(fields=("car", "end"), name="one_axle_an_end"),
                    models.CheckConstraint(
                        condition=models.Q(("bolts__isnull", True), models.Q(("bolts__gte", 3), ("bolts__lte", 10)), _connector="OR"),
                        name="axle_bolts",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("stud_length_mm__isnull", True), ("bolt_length_mm__isnull", True), _connector="OR"),
                        name="stud_or_bolt",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="AirUnder",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("lip_ahead_mm", models.FloatField(blank=True, null=True, verbose_name="lip ahead of the front axle")),
                ("lip_up_mm", models.FloatField(blank=True, null=True, verbose_name="lip above the ground")),
                ("tail_behind_mm", models.FloatField(blank=True, null=True, verbose_name="tail behind the rear axle")),
                ("tail_up_mm", models.FloatField(blank=True, null=True, verbose_name="tail above the ground")),
                ("belly_behind_mm", models.FloatField(blank=True, null=True, verbose_name="belly behind the front axle")),
                ("belly_up_mm", models.FloatField(blank=True, null=True, verbose_name="belly above the ground")),
                ("front_drop_mm", models.FloatField(default=0)),
                ("rear_drop_mm", models.FloatField(default=0)),
                ("slopes", models.TextField(blank=True, max_length=1000, verbose_name="slopes it has to get over")),
                ("area_m2", models.FloatField(blank=True, null=True, verbose_name="area of the splitter, m²")),
                ("cp", models.FloatField(default=0.6, verbose_name="pressure coefficient")),
                ("speed_kmh", models.FloatField(default=160, verbose_name="speed")),
                ("fasteners", models.PositiveSmallIntegerField(default=6)),
                ("load_lever_mm", models.FloatField(blank=True, null=True, verbose_name="rear fixing line to the middle of the area")),
                ("adjuster_lever_mm", models.FloatField(blank=True, null=True, verbose_name="rear fixing line to the adjusters")),
                ("adjusters", models.PositiveSmallIntegerField(default=0)),
                ("opening_mm", models.FloatField(blank=True, null=True, verbose_name="height of the cooler's opening")),
                ("covered_mm", models.FloatField(blank=True, null=True, verbose_name="of it covered")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="air_under", to="garage.car")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("lip_ahead_mm__isnull", True), models.Q(("lip_ahead_mm__gte", 1), ("lip_ahead_mm__lte", 6000)), _connector="OR"
                        ),
                        name="air_under_lip_ahead_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("lip_up_mm__isnull", True), models.Q(("lip_up_mm__gte", 0), ("lip_up_mm__lte", 1500)), _connector="OR"
                        ),
                        name="air_under_lip_up_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("tail_behind_mm__isnull", True),
                            models.Q(("tail_behind_mm__gte", 1), ("tail_behind_mm__lte", 6000)),
                            _connector="OR",
                        ),
                        name="air_under_tail_behind_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("tail_up_mm__isnull", True), models.Q(("tail_up_mm__gte", 0), ("tail_up_mm__lte", 1500)), _connector="OR"
                        ),
                        name="air_under_tail_up_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("belly_behind_mm__isnull", True),
                            models.Q(("belly_behind_mm__gte", 1), ("belly_behind_mm__lte", 6000)),
                            _connector="OR",
                        ),
                        name="air_under_belly_behind_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("belly_up_mm__isnull", True), models.Q(("belly_up_mm__gte", 0), ("belly_up_mm__lte", 1500)), _connector="OR"
                        ),
                        name="air_under_belly_up_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("area_m2__isnull", True), models.Q(("area_m2__gte", 0.001), ("area_m2__lte", 20)), _connector="OR"
                        ),
                        name="air_under_area_m2_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("cp__isnull", True), models.Q(("cp__gte", -3), ("cp__lte", 3)), _connector="OR"),
                        name="air_under_cp_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("speed_kmh__isnull", True), models.Q(("speed_kmh__gte", 10), ("speed_kmh__lte", 400)), _connector="OR"
                        ),
                        name="air_under_speed_kmh_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("fasteners__isnull", True), models.Q(("fasteners__gte", 1), ("fasteners__lte", 200)), _connector="OR"
                        ),
                        name="air_under_fasteners_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("load_lever_mm__isnull", True),
                            models.Q(("load_lever_mm__gte", 1), ("load_lever_mm__lte", 6000)),
                            _connector="OR",
                        ),
                        name="air_under_load_lever_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("adjuster_lever_mm__isnull", True),
                            models.Q(("adjuster_lever_mm__gte", 1), ("adjuster_lever_mm__lte", 6000)),
                            _connector="OR",
                        ),
                        name="air_under_adjuster_lever_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("adjusters__isnull", True), models.Q(("adjusters__gte", 0), ("adjusters__lte", 20)), _connector="OR"
                        ),
                        name="air_under_adjusters_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("opening_mm__isnull", True), models.Q(("opening_mm__gte", 1), ("opening_mm__lte", 6000)), _connector="OR"
                        ),
                        name="air_under_opening_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("covered_mm__isnull", True), models.Q(("covered_mm__gte", 0), ("covered_mm__lte", 1500)), _connector="OR"
                        ),
                        name="air_under_covered_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("front_drop_mm__isnull", True),
                            models.Q(("front_drop_mm__gte", -300), ("front_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="air_under_front_drop_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rear_drop_mm__isnull", True),
                            models.Q(("rear_drop_mm__gte", -300), ("rear_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="air_under_rear_drop_mm_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="AirPanel",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=60)),
                ("stations", models.TextField(blank=True, max_length=4000, verbose_name="card, a station a line")),
                ("outline", models.TextField(blank=True, max_length=4000, verbose_name="outline, point by point")),
                ("holes", models.TextField(blank=True, max_length=4000, verbose_name="keep-outs")),
                ("existing", models.TextField(blank=True, max_length=4000, verbose_name="existing holes")),
                ("heat", models.TextField(blank=True, max_length=4000, verbose_name="what is hot")),
                (
                    "sheet",
                    models.CharField(
                        choices=[
                            ("corrugated", "corrugated plastic"),
                            ("abs", "ABS"),
                            ("plywood", "birch plywood"),
                            ("aluminium", "aluminium"),
                            ("glass", "glass fibre"),
                            ("carbon", "carbon fibre"),
                        ],
                        default="corrugated",
                        max_length=12,
                    ),
                ),
                ("kg_per_m2", models.FloatField(default=0.8, verbose_name="mass of the sheet, kg/m²")),
                ("pitch_mm", models.FloatField(default=150, verbose_name="from fastener to fastener")),
                ("edge_mm", models.FloatField(default=15, verbose_name="from the edge to them")),
                ("sheets", models.TextField(blank=True, max_length=1000, verbose_name="sheets on sale")),
                ("front_mm", models.FloatField(blank=True, null=True, verbose_name="front edge behind the front axle")),
                ("front_drop_mm", models.FloatField(default=0)),
                ("rear_drop_mm", models.FloatField(default=0)),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="air_panels", to="garage.car")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("kg_per_m2__isnull", True), models.Q(("kg_per_m2__gte", 0.05), ("kg_per_m2__lte", 60)), _connector="OR"
                        ),
                        name="air_panel_kg_per_m2_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("pitch_mm__isnull", True), models.Q(("pitch_mm__gte", 20), ("pitch_mm__lte", 1000)), _connector="OR"
                        ),
                        name="air_panel_pitch_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("edge_mm__isnull", True), models.Q(("edge_mm__gte", 3), ("edge_mm__lte", 100)), _connector="OR"
                        ),
                        name="air_panel_edge_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("front_mm__isnull", True), models.Q(("front_mm__gte", -2000), ("front_mm__lte", 8000)), _connector="OR"
                        ),
                        name="air_panel_front_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("front_drop_mm__isnull", True),
                            models.Q(("front_drop_mm__gte", -300), ("front_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="air_panel_front_drop_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rear_drop_mm__isnull", True),
                            models.Q(("rear_drop_mm__gte", -300), ("rear_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="air_panel_rear_drop_mm_within",
                    ),
                    models.UniqueConstraint(fields=("car", "name"), name="one_air_panel_a_name"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Adjuster",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=60)),
                ("corner", models.CharField(choices=[("FL", "FL"), ("FR", "FR"), ("RL", "RL"), ("RR", "RR")], max_length=2)),
                ("effects", models.JSONField(default=dict)),
                ("doubts", models.JSONField(blank=True, default=dict)),
                ("turns_back", models.FloatField(blank=True, null=True)),
                ("turns_on", models.FloatField(blank=True, null=True)),
                ("turns", models.FloatField(default=1, verbose_name="turns it was found from")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="adjusters", to="garage.car")),
            ],
            options={
                "ordering": ["corner", "name"],
                "constraints": [
                    models.UniqueConstraint(fields=("car", "corner", "name"), name="adjuster_once"),
                    models.CheckConstraint(condition=models.Q(("corner__in", ("FL", "FR", "RL", "RR"))), name="adjuster_corner"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Condition",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate)),
                ("fuel", models.CharField(blank=True, help_text="such as half a tank, 20 L", max_length=40, verbose_name="fuel")),
                ("driver_aboard", models.BooleanField(default=False, verbose_name="driver aboard")),
                ("front_kpa", models.FloatField(blank=True, null=True, verbose_name="front tyre pressure")),
                ("rear_kpa", models.FloatField(blank=True, null=True, verbose_name="rear tyre pressure")),
                ("air_c", models.FloatField(blank=True, null=True, verbose_name="air temperature")),
                ("note", models.CharField(blank=True, max_length=200)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="conditions", to="garage.car")),
            ],
            options={
                "ordering": ["-noted_on", "-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("front_kpa__isnull", True), models.Q(("front_kpa__gte", 50), ("front_kpa__lte", 600)), _connector="OR"
                        ),
                        name="condition_front_kpa_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rear_kpa__isnull", True), models.Q(("rear_kpa__gte", 50), ("rear_kpa__lte", 600)), _connector="OR"
                        ),
                        name="condition_rear_kpa_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("air_c__isnull", True), models.Q(("air_c__gte", -40), ("air_c__lte", 60)), _connector="OR"),
                        name="condition_air_c_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Cooling",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("cap_kpa", models.FloatField(verbose_name="cap opens at, kPa over outside")),
                ("glycol_pct", models.FloatField(default=50, verbose_name="ethylene glycol, % by volume")),
                ("coolant_c", models.FloatField(blank=True, null=True, verbose_name="coolant at its hottest, °C")),
                ("width_mm", models.FloatField(blank=True, null=True, verbose_name="core width")),
                ("height_mm", models.FloatField(blank=True, null=True, verbose_name="core height")),
                ("depth_mm", models.FloatField(blank=True, null=True, verbose_name="core depth")),
                ("coldest_c", models.FloatField(blank=True, null=True, verbose_name="coldest night, °C")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="cooling", to="garage.car")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("cap_kpa__isnull", True), models.Q(("cap_kpa__gte", 0), ("cap_kpa__lte", 300)), _connector="OR"
                        ),
                        name="cooling_cap_kpa_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("glycol_pct__isnull", True), models.Q(("glycol_pct__gte", 0), ("glycol_pct__lte", 70)), _connector="OR"
                        ),
                        name="cooling_glycol_pct_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("coolant_c__isnull", True), models.Q(("coolant_c__gte", 20), ("coolant_c__lte", 160)), _connector="OR"
                        ),
                        name="cooling_coolant_c_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("width_mm__isnull", True), models.Q(("width_mm__gte", 50), ("width_mm__lte", 1500)), _connector="OR"
                        ),
                        name="cooling_width_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("height_mm__isnull", True), models.Q(("height_mm__gte", 50), ("height_mm__lte", 1500)), _connector="OR"
                        ),
                        name="cooling_height_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("depth_mm__isnull", True), models.Q(("depth_mm__gte", 5), ("depth_mm__lte", 300)), _connector="OR"
                        ),
                        name="cooling_depth_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("coldest_c__isnull", True), models.Q(("coldest_c__gte", -70), ("coldest_c__lte", 30)), _connector="OR"
                        ),
                        name="cooling_coldest_c_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Driveline",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("gears", models.JSONField(default=list)),
                ("axle_ratio", models.FloatField()),
                ("transfer_ratio", models.FloatField(default=1.0)),
                ("limit_rpm", models.PositiveIntegerField(verbose_name="engine's limit")),
                ("wanted_rpm", models.PositiveIntegerField(blank=True, null=True, verbose_name="wanted at cruise")),
                ("cruise_kmh", models.FloatField(blank=True, null=True, verbose_name="cruise")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="driveline", to="garage.car")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(condition=models.Q(("axle_ratio__gte", 0.01), ("axle_ratio__lte", 100)), name="driveline_axle"),
                    models.CheckConstraint(
                        condition=models.Q(("transfer_ratio__gte", 0.01), ("transfer_ratio__lte", 100)), name="driveline_transfer"
                    ),
                    models.CheckConstraint(condition=models.Q(("limit_rpm__gte", 500), ("limit_rpm__lte", 30000)), name="driveline_limit"),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("wanted_rpm__isnull", True), models.Q(("wanted_rpm__gte", 300), ("wanted_rpm__lte", 30000)), _connector="OR"
                        ),
                        name="driveline_wanted",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("cruise_kmh__isnull", True), models.Q(("cruise_kmh__gte", 1), ("cruise_kmh__lte", 400)), _connector="OR"
                        ),
                        name="driveline_cruise",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Engine",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("displacement_l", models.FloatField(verbose_name="displacement, L")),
                ("cylinders", models.PositiveSmallIntegerField(default=4)),
                ("ve_pct", models.FloatField(default=90, verbose_name="filling at the limit, %")),
                ("manifold_ratio", models.FloatField(default=1, verbose_name="manifold pressure over outside")),
                ("meter_mm", models.FloatField(blank=True, null=True, verbose_name="bore of the original meter housing")),
                ("cruise_rpm", models.FloatField(blank=True, null=True, verbose_name="engine speed at cruise")),
                ("gas_in_c", models.FloatField(default=750, verbose_name="exhaust gas at the manifold, °C")),
                ("gas_out_c", models.FloatField(default=350, verbose_name="exhaust gas at the tip, °C")),
                ("sound_limit_db", models.FloatField(blank=True, null=True, verbose_name="sound limit, dB(A)")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="engine", to="garage.car")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("displacement_l__isnull", True),
                            models.Q(("displacement_l__gte", 0.05), ("displacement_l__lte", 20)),
                            _connector="OR",
                        ),
                        name="engine_displacement_l_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("ve_pct__isnull", True), models.Q(("ve_pct__gte", 20), ("ve_pct__lte", 200)), _connector="OR"),
                        name="engine_ve_pct_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("manifold_ratio__isnull", True),
                            models.Q(("manifold_ratio__gte", 0.2), ("manifold_ratio__lte", 5)),
                            _connector="OR",
                        ),
                        name="engine_manifold_ratio_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("meter_mm__isnull", True), models.Q(("meter_mm__gte", 10), ("meter_mm__lte", 400)), _connector="OR"
                        ),
                        name="engine_meter_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("cruise_rpm__isnull", True), models.Q(("cruise_rpm__gte", 200), ("cruise_rpm__lte", 20000)), _connector="OR"
                        ),
                        name="engine_cruise_rpm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("gas_in_c__isnull", True), models.Q(("gas_in_c__gte", -40), ("gas_in_c__lte", 1200)), _connector="OR"
                        ),
                        name="engine_gas_in_c_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("gas_out_c__isnull", True), models.Q(("gas_out_c__gte", -40), ("gas_out_c__lte", 1200)), _connector="OR"
                        ),
                        name="engine_gas_out_c_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("sound_limit_db__isnull", True),
                            models.Q(("sound_limit_db__gte", 40), ("sound_limit_db__lte", 140)),
                            _connector="OR",
                        ),
                        name="engine_sound_limit_db_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("cylinders__gte", 1), ("cylinders__lte", 16)), name="engine_cylinders"),
                ],
            },
        ),
        migrations.CreateModel(
            name="FrameMarks",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("what", models.CharField(max_length=60, verbose_name="what is squared")),
                ("left_mm", models.FloatField(verbose_name="left side")),
                ("right_mm", models.FloatField(verbose_name="right side")),
                ("front_mm", models.FloatField(verbose_name="front pair")),
                ("rear_mm", models.FloatField(verbose_name="rear pair")),
                ("left_to_right_mm", models.FloatField(verbose_name="front left to rear right")),
                ("right_to_left_mm", models.FloatField(verbose_name="front right to rear left")),
                ("who", models.CharField(blank=True, max_length=60)),
                ("taken_on", models.DateField(default=django.utils.timezone.localdate)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="frame_marks", to="garage.car")),
            ],
            options={
                "ordering": ["-taken_on", "-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("left_mm__isnull", True), models.Q(("left_mm__gte", 50), ("left_mm__lte", 6000)), _connector="OR"
                        ),
                        name="frame_left_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("right_mm__isnull", True), models.Q(("right_mm__gte", 50), ("right_mm__lte", 6000)), _connector="OR"
                        ),
                        name="frame_right_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("front_mm__isnull", True), models.Q(("front_mm__gte", 50), ("front_mm__lte", 6000)), _connector="OR"
                        ),
                        name="frame_front_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rear_mm__isnull", True), models.Q(("rear_mm__gte", 50), ("rear_mm__lte", 6000)), _connector="OR"
                        ),
                        name="frame_rear_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("left_to_right_mm__isnull", True),
                            models.Q(("left_to_right_mm__gte", 50), ("left_to_right_mm__lte", 6000)),
                            _connector="OR",
                        ),
                        name="frame_left_to_right_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("right_to_left_mm__isnull", True),
                            models.Q(("right_to_left_mm__gte", 50), ("right_to_left_mm__lte", 6000)),
                            _connector="OR",
                        ),
                        name="frame_right_to_left_mm_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="FrameTrial",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("what", models.CharField(max_length=60, verbose_name="what leans in")),
                ("corner", models.CharField(choices=[("FL", "FL"), ("FR", "FR"), ("RL", "RL"), ("RR", "RR")], max_length=2)),
                ("bump_mm", models.FloatField(blank=True, null=True, verbose_name="gap at full bump")),
                ("droop_mm", models.FloatField(blank=True, null=True, verbose_name="gap at full droop")),
                ("plate_mm", models.FloatField(default=2, verbose_name="plate that goes back")),
                ("again", models.BooleanField(default=False)),
                ("who", models.CharField(blank=True, max_length=60)),
                ("taken_on", models.DateField(default=django.utils.timezone.localdate)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="frame_trials", to="garage.car")),
            ],
            options={
                "ordering": ["-taken_on", "-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("bump_mm__isnull", True), models.Q(("bump_mm__gte", -100), ("bump_mm__lte", 300)), _connector="OR"
                        ),
                        name="frame_trial_bump_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("droop_mm__isnull", True), models.Q(("droop_mm__gte", -100), ("droop_mm__lte", 300)), _connector="OR"
                        ),
                        name="frame_trial_droop_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("plate_mm__isnull", True), models.Q(("plate_mm__gte", 0), ("plate_mm__lte", 20)), _connector="OR"
                        ),
                        name="frame_trial_plate_mm_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("corner__in", ("FL", "FR", "RL", "RR"))), name="frame_trial_corner"),
                ],
            },
        ),
        migrations.CreateModel(
            name="HardPoint",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("corner", models.CharField(choices=[("FL", "FL"), ("FR", "FR"), ("RL", "RL"), ("RR", "RR")], max_length=2)),
                (
                    "layout",
                    models.CharField(
                        choices=[("wishbone", "Double wishbone"), ("strut", "Strut"), ("five_link", "Five links")], max_length=10
                    ),
                ),
                ("name", models.CharField(max_length=20)),
                ("across_mm", models.FloatField()),
                ("ahead_mm", models.FloatField()),
                ("up_mm", models.FloatField()),
                ("from_face", models.BooleanField(default=False)),
                ("uncertainty_mm", models.FloatField()),
                ("ride_drop_mm", models.FloatField(default=0)),
                ("mirrored", models.BooleanField(default=False)),
                ("who", models.CharField(blank=True, max_length=60)),
                ("taken_on", models.DateField(default=django.utils.timezone.localdate)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="hard_points", to="garage.car")),
            ],
            options={
                "ordering": ["-taken_on", "-id"],
                "indexes": [models.Index(fields=["car", "corner"], name="garage_hard_car_id_950dcf_idx")],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("across_mm__isnull", True), models.Q(("across_mm__gte", -2500), ("across_mm__lte", 2500)), _connector="OR"
                        ),
                        name="hard_point_across_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("ahead_mm__isnull", True), models.Q(("ahead_mm__gte", -2500), ("ahead_mm__lte", 2500)), _connector="OR"
                        ),
                        name="hard_point_ahead_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("up_mm__isnull", True), models.Q(("up_mm__gte", 0), ("up_mm__lte", 2500)), _connector="OR"),
                        name="hard_point_up_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("uncertainty_mm__isnull", True),
                            models.Q(("uncertainty_mm__gte", 0), ("uncertainty_mm__lte", 200)),
                            _connector="OR",
                        ),
                        name="hard_point_uncertainty_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("ride_drop_mm__isnull", True),
                            models.Q(("ride_drop_mm__gte", -300), ("ride_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="hard_point_ride_drop_mm_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("corner__in", ("FL", "FR", "RL", "RR"))), name="hard_point_corner"),
                    models.CheckConstraint(
                        condition=models.Q(("layout__in", ("wishbone", "strut", "five_link"))), name="hard_point_layout"
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="KnownDip",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=60, verbose_name="place")),
                ("corner", models.CharField(choices=[("FL", "FL"), ("FR", "FR"), ("RL", "RL"), ("RR", "RR")], max_length=2)),
                ("shaft_mm", models.FloatField(verbose_name="cable tie moved along the shaft")),
                ("ride_drop_mm", models.FloatField(default=0)),
                ("touched", models.BooleanField(default=False, verbose_name="it touched")),
                ("who", models.CharField(blank=True, max_length=60)),
                ("driven_on", models.DateField(default=django.utils.timezone.localdate)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="dips", to="garage.car")),
            ],
            options={
                "ordering": ["-driven_on", "-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("shaft_mm__isnull", True), models.Q(("shaft_mm__gte", 1), ("shaft_mm__lte", 300)), _connector="OR"
                        ),
                        name="dip_shaft_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("ride_drop_mm__isnull", True),
                            models.Q(("ride_drop_mm__gte", -300), ("ride_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="dip_ride_drop_mm_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("corner__in", ("FL", "FR", "RL", "RR"))), name="dip_corner"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Log",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("pull", "pull"),
                            ("bleed", "bleed run"),
                            ("sound", "sound"),
                            ("temperature", "temperatures and pressures"),
                            ("coast", "coast-down"),
                        ],
                        max_length=12,
                    ),
                ),
                ("name", models.CharField(max_length=60)),
                (
                    "when",
                    models.CharField(
                        choices=[("before", "before"), ("after", "after")],
                        default="before",
                        max_length=6,
                        verbose_name="before or after the change",
                    ),
                ),
                ("file", models.FileField(blank=True, upload_to="")),
                ("asked", models.JSONField(default=dict)),
                ("found", models.JSONField(default=dict)),
                ("source", models.CharField(blank=True, max_length=120)),
                ("who", models.CharField(blank=True, max_length=60)),
                ("taken_on", models.DateField(default=django.utils.timezone.localdate)),
                ("draft", models.BooleanField(default=False)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="logs", to="garage.car")),
            ],
            options={
                "ordering": ["-taken_on", "-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("kind__in", ["pull", "bleed", "sound", "temperature", "coast"])), name="log_kind"
                    )
                ],
            },
        ),
        migrations.CreateModel(
            name="MassGoal",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("phase_kg", models.FloatField(blank=True, null=True, verbose_name="net kilograms out in this phase")),
                ("minimum_kg", models.FloatField(blank=True, null=True, verbose_name="class minimum")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="mass_goal", to="garage.car")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("phase_kg__isnull", True), models.Q(("phase_kg__gte", 0.1), ("phase_kg__lte", 2000)), _connector="OR"
                        ),
                        name="mass_goal_phase_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("minimum_kg__isnull", True), models.Q(("minimum_kg__gte", 100), ("minimum_kg__lte", 10000)), _connector="OR"
                        ),
                        name="mass_goal_minimum_kg_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="MassItem",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("label", models.CharField(editable=False, max_length=8)),
                ("name", models.CharField(max_length=80, verbose_name="what it is")),
                (
                    "state",
                    models.CharField(choices=[("in", "in the car"), ("planned", "planned"), ("out", "out")], default="in", max_length=7),
                ),
                ("gross_kg", models.FloatField(blank=True, null=True, verbose_name="with its box")),
                ("tare_kg", models.FloatField(blank=True, null=True, verbose_name="the empty box")),
                ("doubt_kg", models.FloatField(default=0.05, verbose_name="± of the scale")),
                ("scale", models.CharField(blank=True, max_length=60, verbose_name="which scale")),
                ("weighed_on", models.DateField(default=django.utils.timezone.localdate, verbose_name="when")),
                ("who", models.CharField(blank=True, max_length=60)),
                ("minutes", models.FloatField(blank=True, null=True, verbose_name="minutes it takes")),
                ("cost_minor", models.PositiveIntegerField(default=0, verbose_name="money it costs")),
                ("sold_minor", models.PositiveIntegerField(default=0, verbose_name="money it brought")),
                ("back_name", models.CharField(blank=True, max_length=80, verbose_name="goes back in its place")),
                ("back_kg", models.FloatField(default=0, verbose_name="mass of that")),
                ("behind_mm", models.FloatField(blank=True, null=True, verbose_name="behind the front axle")),
                ("right_mm", models.FloatField(blank=True, null=True, verbose_name="right of the centre line")),
                ("up_mm", models.FloatField(blank=True, null=True, verbose_name="above the ground")),
                ("reversible", models.BooleanField(default=True, verbose_name="can go back in")),
                ("comfort", models.BooleanField(default=False, verbose_name="costs comfort or noise")),
                (
                    "guarded",
                    models.CharField(
                        blank=True,
                        choices=[("airbag", "airbag"), ("belt", "belt"), ("occupancy", "occupancy"), ("law", "law")],
                        max_length=9,
                        verbose_name="never casually",
                    ),
                ),
                ("reason", models.CharField(blank=True, max_length=200)),
                ("needs", models.JSONField(blank=True, default=list)),
                ("not_with", models.JSONField(blank=True, default=list)),
                (
                    "fate",
                    models.CharField(
                        choices=[("keep", "kept"), ("sell", "to sell"), ("sold", "sold"), ("bin", "binned"), ("back", "back on the car")],
                        default="keep",
                        max_length=4,
                        verbose_name="what became of it",
                    ),
                ),
                ("kept_where", models.CharField(blank=True, max_length=60, verbose_name="shelf and box")),
                ("out_on", models.DateField(blank=True, null=True)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="mass_items", to="garage.car")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("gross_kg__isnull", True), models.Q(("gross_kg__gte", 0), ("gross_kg__lte", 1000)), _connector="OR"
                        ),
                        name="mass_item_gross_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("tare_kg__isnull", True), models.Q(("tare_kg__gte", 0), ("tare_kg__lte", 1000)), _connector="OR"
                        ),
                        name="mass_item_tare_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("doubt_kg__isnull", True), models.Q(("doubt_kg__gte", 0), ("doubt_kg__lte", 50)), _connector="OR"
                        ),
                        name="mass_item_doubt_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("minutes__isnull", True), models.Q(("minutes__gte", 0), ("minutes__lte", 100000)), _connector="OR"
                        ),
                        name="mass_item_minutes_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("cost_minor__isnull", True), models.Q(("cost_minor__gte", 0), ("cost_minor__lte", 1000000000)), _connector="OR"
                        ),
                        name="mass_item_cost_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("sold_minor__isnull", True), models.Q(("sold_minor__gte", 0), ("sold_minor__lte", 1000000000)), _connector="OR"
                        ),
                        name="mass_item_sold_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("back_kg__isnull", True), models.Q(("back_kg__gte", 0), ("back_kg__lte", 1000)), _connector="OR"
                        ),
                        name="mass_item_back_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("behind_mm__isnull", True), models.Q(("behind_mm__gte", -2000), ("behind_mm__lte", 8000)), _connector="OR"
                        ),
                        name="mass_item_behind_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("right_mm__isnull", True), models.Q(("right_mm__gte", -1500), ("right_mm__lte", 1500)), _connector="OR"
                        ),
                        name="mass_item_right_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("up_mm__isnull", True), models.Q(("up_mm__gte", 0), ("up_mm__lte", 3000)), _connector="OR"),
                        name="mass_item_up_mm_within",
                    ),
                    models.UniqueConstraint(fields=("car", "name"), name="one_mass_item_a_name"),
                    models.UniqueConstraint(fields=("car", "label"), name="one_mass_item_a_label"),
                    models.CheckConstraint(condition=models.Q(("state__in", ["in", "planned", "out"])), name="mass_item_state"),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("tare_kg__isnull", True), ("gross_kg__isnull", True), ("tare_kg__lte", models.F("gross_kg")), _connector="OR"
                        ),
                        name="mass_item_tare",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("guarded", ""), ("state", "in"), models.Q(("reason", ""), _negated=True), _connector="OR"),
                        name="mass_item_guarded",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="OldPart",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("end", models.CharField(choices=[("F", "front"), ("R", "rear")], max_length=1)),
                ("family", models.CharField(max_length=20)),
                ("spec", models.JSONField(default=dict)),
                ("who", models.CharField(blank=True, max_length=60)),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="old_parts", to="garage.car")),
            ],
            options={
                "ordering": ["-noted_on", "-id"],
            },
        ),
        migrations.CreateModel(
            name="Outfit",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("is_baseline", models.BooleanField(default=False)),
                ("since", models.DateField(default=django.utils.timezone.localdate)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="outfits", to="garage.car")),
            ],
            options={
                "ordering": ["since", "id"],
                "constraints": [
                    models.UniqueConstraint(condition=models.Q(("is_baseline", True)), fields=("car",), name="one_baseline_a_car")
                ],
            },
        ),
        migrations.CreateModel(
            name="PanelPicture",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("width_px", models.PositiveIntegerField()),
                ("height_px", models.PositiveIntegerField()),
                ("points_px", models.JSONField(blank=True, default=list)),
                ("bar_mm", models.FloatField(blank=True, null=True)),
                ("traced_on", models.DateField(blank=True, null=True)),
                ("image", models.ImageField(upload_to="")),
                ("ahead_mm", models.FloatField(default=0)),
                ("right_mm", models.FloatField(default=0)),
                ("from_below", models.BooleanField(default=False)),
                ("panel", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="picture", to="garage.airpanel")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("bar_mm__isnull", True), models.Q(("bar_mm__gte", 10), ("bar_mm__lte", 2000)), _connector="OR"),
                        name="panel_picture_bar_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("ahead_mm__isnull", True), models.Q(("ahead_mm__gte", -2000), ("ahead_mm__lte", 8000)), _connector="OR"
                        ),
                        name="panel_picture_ahead_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("right_mm__isnull", True), models.Q(("right_mm__gte", -1500), ("right_mm__lte", 1500)), _connector="OR"
                        ),
                        name="panel_picture_right_mm_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Part",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("family", models.CharField(max_length=20)),
                ("name", models.CharField(blank=True, max_length=80)),
                ("mass_kg", models.FloatField(blank=True, null=True)),
                ("price_minor", models.PositiveIntegerField(blank=True, null=True)),
                ("lead_days", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("supplier", models.CharField(blank=True, max_length=80)),
                ("link", models.URLField(blank=True, max_length=300)),
                ("note", models.CharField(blank=True, max_length=200)),
                ("line", models.CharField(blank=True, max_length=500)),
                ("pinned", models.BooleanField(default=False)),
                ("listed", models.BooleanField(default=True)),
                ("diameter_in", models.FloatField(blank=True, null=True)),
                ("width_in", models.FloatField(blank=True, null=True)),
                ("offset_mm", models.FloatField(blank=True, null=True)),
                ("section_width_mm", models.FloatField(blank=True, null=True)),
                ("spec", models.JSONField(default=dict)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="parts", to="garage.car")),
            ],
            options={
                "ordering": ["id"],
                "indexes": [models.Index(fields=["car", "family"], name="garage_part_car_id_8abcb7_idx")],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("mass_kg__isnull", True), models.Q(("mass_kg__gte", 0.001), ("mass_kg__lte", 200)), _connector="OR"
                        ),
                        name="part_mass_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("price_minor__isnull", True),
                            models.Q(("price_minor__gte", 0), ("price_minor__lte", 1000000000)),
                            _connector="OR",
                        ),
                        name="part_price_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("lead_days__isnull", True), models.Q(("lead_days__gte", 0), ("lead_days__lte", 1000)), _connector="OR"
                        ),
                        name="part_lead_days_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("diameter_in__isnull", True), models.Q(("diameter_in__gte", 8), ("diameter_in__lte", 30)), _connector="OR"
                        ),
                        name="part_diameter_in_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("width_in__isnull", True), models.Q(("width_in__gte", 3), ("width_in__lte", 18)), _connector="OR"
                        ),
                        name="part_width_in_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("offset_mm__isnull", True), models.Q(("offset_mm__gte", -200), ("offset_mm__lte", 200)), _connector="OR"
                        ),
                        name="part_offset_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("section_width_mm__isnull", True),
                            models.Q(("section_width_mm__gte", 80), ("section_width_mm__lte", 600)),
                            _connector="OR",
                        ),
                        name="part_section_width_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(("family", "wheel"), _negated=True),
                            models.Q(("diameter_in__isnull", False), ("offset_mm__isnull", False), ("width_in__isnull", False)),
                            _connector="OR",
                        ),
                        name="part_wheel",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("family__in", ("wheel", "tyre")), models.Q(("name", ""), _negated=True), _connector="OR"),
                        name="part_named",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(models.Q(("family", "tyre"), _negated=True), ("diameter_in__isnull", False), _connector="OR"),
                        name="part_tyre",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="OutfitAxle",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("end", models.CharField(choices=[("F", "front"), ("R", "rear")], max_length=1)),
                ("spacer_mm", models.FloatField(default=0, verbose_name="spacer")),
                ("camber_deg", models.FloatField(blank=True, null=True, verbose_name="camber")),
                ("ride_drop_mm", models.FloatField(default=0, verbose_name="lowered against the baseline")),
                ("left_more_mm", models.FloatField(default=0)),
                ("right_more_mm", models.FloatField(default=0)),
                ("outfit", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="axles", to="garage.outfit")),
                (
                    "tyre_part",
                    models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name="stands_as_tyre", to="garage.part"),
                ),
                (
                    "wheel_part",
                    models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name="stands_as_wheel", to="garage.part"),
                ),
            ],
            options={
                "ordering": ["end"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("ride_drop_mm__isnull", True),
                            models.Q(("ride_drop_mm__gte", -300), ("ride_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="outfit_ride_drop_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("left_more_mm__isnull", True), models.Q(("left_more_mm__gte", -60), ("left_more_mm__lte", 60)), _connector="OR"
                        ),
                        name="outfit_left_more_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("right_more_mm__isnull", True),
                            models.Q(("right_more_mm__gte", -60), ("right_more_mm__lte", 60)),
                            _connector="OR",
                        ),
                        name="outfit_right_more_mm_within",
                    ),
                    models.UniqueConstraint(fields=("outfit", "end"), name="one_outfit_axle_an_end"),
                    models.CheckConstraint(condition=models.Q(("spacer_mm__gte", 0), ("spacer_mm__lte", 200)), name="outfit_spacer"),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("camber_deg__isnull", True), models.Q(("camber_deg__gte", -20), ("camber_deg__lte", 20)), _connector="OR"
                        ),
                        name="outfit_camber",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Tyre",
            fields=[],
            options={
                "proxy": True,
                "indexes": [],
                "constraints": [],
            },
            bases=("garage.part",),
        ),
        migrations.CreateModel(
            name="Wheel",
            fields=[],
            options={
                "proxy": True,
                "indexes": [],
                "constraints": [],
            },
            bases=("garage.part",),
        ),
        migrations.CreateModel(
            name="Preferences",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "length_unit",
                    models.CharField(
                        choices=[("mm", "millimetre"), ("in", "inch")], default="mm", max_length=8, verbose_name="gaps and lengths"
                    ),
                ),
                (
                    "offset_unit",
                    models.CharField(
                        choices=[("mm", "millimetre"), ("in", "inch")],
                        default="mm",
                        max_length=8,
                        verbose_name="offset, bore and bolt circle",
                    ),
                ),
                (
                    "mass_unit",
                    models.CharField(choices=[("kg", "kilogram"), ("lb", "pound")], default="kg", max_length=8, verbose_name="mass"),
                ),
                (
                    "torque_unit",
                    models.CharField(
                        choices=[("N·m", "newton metre"), ("lbf·ft", "pound-force foot")],
                        default="N·m",
                        max_length=8,
                        verbose_name="torque",
                    ),
                ),
                (
                    "pressure_unit",
                    models.CharField(
                        choices=[("bar", "bar"), ("psi", "psi"), ("kPa", "kilopascal")],
                        default="bar",
                        max_length=8,
                        verbose_name="pressure",
                    ),
                ),
                (
                    "speed_unit",
                    models.CharField(
                        choices=[("km/h", "kilometres per hour"), ("mph", "miles per hour")],
                        default="km/h",
                        max_length=8,
                        verbose_name="speed",
                    ),
                ),
                (
                    "distance_unit",
                    models.CharField(
                        choices=[("km", "kilometre"), ("mi", "mile")], default="km", max_length=8, verbose_name="distance driven"
                    ),
                ),
                (
                    "temperature_unit",
                    models.CharField(
                        choices=[("°C", "degrees Celsius"), ("°F", "degrees Fahrenheit")],
                        default="°C",
                        max_length=8,
                        verbose_name="temperature",
                    ),
                ),
                (
                    "power_unit",
                    models.CharField(
                        choices=[("kW", "kilowatt"), ("hp", "horsepower, 550 ft·lbf/s"), ("PS", "metric horsepower, 75 kgf·m/s")],
                        default="kW",
                        max_length=8,
                        verbose_name="power",
                    ),
                ),
                (
                    "volume_unit",
                    models.CharField(
                        choices=[("L", "litre"), ("US gal", "US gallon"), ("UK gal", "imperial gallon"), ("US qt", "US quart")],
                        default="L",
                        max_length=8,
                        verbose_name="volume",
                    ),
                ),
                (
                    "fuel_unit",
                    models.CharField(
                        choices=[
                            ("L/100 km", "litres per 100 km"),
                            ("mpg US", "miles per US gallon"),
                            ("mpg UK", "miles per imperial gallon"),
                            ("km/L", "kilometres per litre"),
                        ],
                        default="L/100 km",
                        max_length=8,
                        verbose_name="fuel use",
                    ),
                ),
                (
                    "rate_unit",
                    models.CharField(
                        choices=[
                            ("N/mm", "newton per millimetre"),
                            ("kgf/mm", "kilogram-force per millimetre"),
                            ("lbf/in", "pound-force per inch"),
                        ],
                        default="N/mm",
                        max_length=8,
                        verbose_name="spring rate",
                    ),
                ),
                (
                    "force_unit",
                    models.CharField(
                        choices=[("N", "newton"), ("lbf", "pound-force"), ("kgf", "kilogram-force")],
                        default="N",
                        max_length=8,
                        verbose_name="force",
                    ),
                ),
                (
                    "angle_unit",
                    models.CharField(
                        choices=[("deg", "degrees"), ("min", "degrees and minutes; a bare number is minutes")],
                        default="deg",
                        max_length=8,
                        verbose_name="angle",
                    ),
                ),
                (
                    "money_sign",
                    models.CharField(choices=[("code", "310 EUR"), ("sign", "€310")], default="code", max_length=8, verbose_name="money"),
                ),
                ("own_doubts", models.JSONField(blank=True, default=dict, editable=False)),
                (
                    "user",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="preferences", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "verbose_name_plural": "preferences",
            },
        ),
        migrations.CreateModel(
            name="Rack",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("travel_mm", models.FloatField(blank=True, null=True, verbose_name="travel from the middle to either lock")),
                ("turns", models.FloatField(blank=True, null=True, verbose_name="turns of the steering wheel, lock to lock")),
                ("left_stick_out_mm", models.FloatField(blank=True, null=True, verbose_name="left rod out of the rack")),
                ("right_stick_out_mm", models.FloatField(blank=True, null=True, verbose_name="right rod out of the rack")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="rack", to="garage.car")),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("travel_mm__isnull", True), models.Q(("travel_mm__gte", 1), ("travel_mm__lte", 150)), _connector="OR"
                        ),
                        name="rack_travel_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("turns__isnull", True), models.Q(("turns__gte", 0.1), ("turns__lte", 20)), _connector="OR"),
                        name="rack_turns_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("left_stick_out_mm__isnull", True),
                            models.Q(("left_stick_out_mm__gte", 0), ("left_stick_out_mm__lte", 1000)),
                            _connector="OR",
                        ),
                        name="rack_left_stick_out_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("right_stick_out_mm__isnull", True),
                            models.Q(("right_stick_out_mm__gte", 0), ("right_stick_out_mm__lte", 1000)),
                            _connector="OR",
                        ),
                        name="rack_right_stick_out_mm_within",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Reading",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "corner",
                    models.CharField(
                        blank=True, choices=[("", "whole car"), ("FL", "FL"), ("FR", "FR"), ("RL", "RL"), ("RR", "RR")], max_length=2
                    ),
                ),
                ("code", models.CharField(max_length=20)),
                ("where", models.JSONField(blank=True, default=dict)),
                ("values", models.JSONField(default=list)),
                ("repeats", models.JSONField(blank=True, default=list)),
                ("typed", models.CharField(max_length=130)),
                (
                    "method",
                    models.CharField(
                        choices=[
                            ("rule", "rule or tape"),
                            ("caliper", "caliper"),
                            ("feeler", "feeler gauge"),
                            ("string", "string line"),
                            ("card", "card template"),
                            ("eye", "by eye"),
                            ("scale", "scale"),
                            ("gauge", "gauge"),
                            ("logger", "position logger"),
                            ("worked", "worked out from other readings"),
                            ("stated", "the maker's figure"),
                        ],
                        default="rule",
                        max_length=10,
                    ),
                ),
                ("uncertainty", models.FloatField()),
                ("who", models.CharField(blank=True, max_length=60)),
                ("taken_on", models.DateField(default=django.utils.timezone.localdate)),
                ("struck_why", models.CharField(blank=True, max_length=200)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="readings", to="garage.car")),
                (
                    "condition",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="readings", to="garage.condition"
                    ),
                ),
                (
                    "mirrored_from",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.CASCADE, related_name="mirrors", to="garage.reading"
                    ),
                ),
                ("outfit", models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name="readings", to="garage.outfit")),
            ],
            options={
                "ordering": ["-taken_on", "-id"],
                "indexes": [models.Index(fields=["car", "corner", "code"], name="garage_read_car_id_8d7e06_idx")],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("uncertainty__isnull", True), models.Q(("uncertainty__gte", 0), ("uncertainty__lte", 200)), _connector="OR"
                        ),
                        name="reading_uncertainty_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("values__0__gte", -8000), ("values__0__lte", 8000)), name="reading_values_within"
                    ),
                    models.CheckConstraint(condition=models.Q(("corner__in", ["", "FL", "FR", "RL", "RR"])), name="reading_corner"),
                    models.CheckConstraint(condition=models.Q(("uncertainty__gte", 0)), name="reading_uncertainty"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Rub",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("corner", models.CharField(choices=[("FL", "FL"), ("FR", "FR"), ("RL", "RL"), ("RR", "RR")], max_length=2)),
                ("code", models.CharField(max_length=20, verbose_name="where")),
                (
                    "when",
                    models.CharField(
                        choices=[
                            ("lock", "full lock, reversing"),
                            ("dip", "the known dip"),
                            ("corner", "fast corner"),
                            ("load", "loaded"),
                            ("other", "other"),
                        ],
                        max_length=8,
                    ),
                ),
                ("steer_deg", models.FloatField(default=0)),
                ("travel_mm", models.FloatField(default=0)),
                ("note", models.CharField(blank=True, max_length=200)),
                ("seen_on", models.DateField(default=django.utils.timezone.localdate)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="rubs", to="garage.car")),
                ("outfit", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="rubs", to="garage.outfit")),
            ],
            options={
                "ordering": ["-seen_on", "-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("steer_deg__isnull", True), models.Q(("steer_deg__gte", -70), ("steer_deg__lte", 70)), _connector="OR"
                        ),
                        name="rub_steer_deg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("travel_mm__isnull", True), models.Q(("travel_mm__gte", -600), ("travel_mm__lte", 600)), _connector="OR"
                        ),
                        name="rub_travel_mm_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("corner__in", ("FL", "FR", "RL", "RR"))), name="rub_corner"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Skip",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("corner", models.CharField(blank=True, max_length=2)),
                ("code", models.CharField(max_length=20)),
                (
                    "why",
                    models.CharField(
                        choices=[
                            ("later", "not now"),
                            ("reach", "can't reach"),
                            ("tool", "no tool for it"),
                            ("none", "nothing there on this car"),
                        ],
                        default="later",
                        max_length=5,
                    ),
                ),
                ("note", models.CharField(blank=True, max_length=120)),
                ("skipped_on", models.DateField(default=django.utils.timezone.localdate)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="skips", to="garage.car")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.UniqueConstraint(fields=("car", "corner", "code"), name="skip_once"),
                    models.CheckConstraint(condition=models.Q(("corner__in", ["", "FL", "FR", "RL", "RR"])), name="skip_corner"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Springs",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("end", models.CharField(choices=[("F", "front"), ("R", "rear")], max_length=1)),
                ("rate_n_per_mm", models.FloatField(verbose_name="rate of one spring")),
                ("free_length_mm", models.FloatField(blank=True, null=True, verbose_name="length at rest")),
                ("block_length_mm", models.FloatField(blank=True, null=True, verbose_name="length with every coil on the next")),
                ("preload_mm", models.FloatField(blank=True, null=True, verbose_name="preload at full droop")),
                ("motion_ratio", models.FloatField(default=1, verbose_name="spring movement ÷ wheel movement")),
                ("unsprung_kg", models.FloatField(blank=True, null=True, verbose_name="of a corner, what moves with the wheel")),
                ("turn_mm", models.FloatField(blank=True, null=True, verbose_name="perch a turn")),
                ("bar_n_per_mm", models.FloatField(default=0, verbose_name="anti-roll bar at the wheel")),
                ("noted_on", models.DateField(default=django.utils.timezone.localdate, editable=False)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="springs", to="garage.car")),
            ],
            options={
                "ordering": ["end"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rate_n_per_mm__isnull", True),
                            models.Q(("rate_n_per_mm__gte", 0.5), ("rate_n_per_mm__lte", 2000)),
                            _connector="OR",
                        ),
                        name="springs_rate_n_per_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("free_length_mm__isnull", True),
                            models.Q(("free_length_mm__gte", 1), ("free_length_mm__lte", 1500)),
                            _connector="OR",
                        ),
                        name="springs_free_length_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("block_length_mm__isnull", True),
                            models.Q(("block_length_mm__gte", 1), ("block_length_mm__lte", 1500)),
                            _connector="OR",
                        ),
                        name="springs_block_length_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("preload_mm__isnull", True), models.Q(("preload_mm__gte", 0), ("preload_mm__lte", 300)), _connector="OR"
                        ),
                        name="springs_preload_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("motion_ratio__isnull", True), models.Q(("motion_ratio__gte", 0.05), ("motion_ratio__lte", 5)), _connector="OR"
                        ),
                        name="springs_motion_ratio_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("unsprung_kg__isnull", True), models.Q(("unsprung_kg__gte", 0), ("unsprung_kg__lte", 300)), _connector="OR"
                        ),
                        name="springs_unsprung_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("turn_mm__isnull", True), models.Q(("turn_mm__gte", 0.1), ("turn_mm__lte", 20)), _connector="OR"
                        ),
                        name="springs_turn_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("bar_n_per_mm__isnull", True), models.Q(("bar_n_per_mm__gte", 0), ("bar_n_per_mm__lte", 2000)), _connector="OR"
                        ),
                        name="springs_bar_n_per_mm_within",
                    ),
                    models.UniqueConstraint(fields=("car", "end"), name="one_springs_an_end"),
                ],
            },
        ),
        migrations.CreateModel(
            name="ToleranceSet",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=40)),
                (
                    "school",
                    models.CharField(
                        choices=[("daily", "Daily"), ("track", "Track"), ("drift", "Drift"), ("show", "Show"), ("tow", "Tow")],
                        max_length=10,
                        verbose_name="copied from",
                    ),
                ),
                ("damper_mm", models.FloatField(verbose_name="damper")),
                ("perch_mm", models.FloatField(verbose_name="perch")),
                ("arch_side_mm", models.FloatField(verbose_name="arch lip, sideways")),
                ("arch_up_mm", models.FloatField(verbose_name="arch lip, upward")),
                ("liner_mm", models.FloatField(verbose_name="liner")),
                ("rail_mm", models.FloatField(verbose_name="rail and arms")),
                ("caliper_mm", models.FloatField(verbose_name="caliper")),
                ("joint_mm", models.FloatField(verbose_name="joints")),
                ("growth_mm", models.FloatField(default=1.0, verbose_name="tread grows at speed")),
                ("flex_mm", models.FloatField(default=2.0, verbose_name="sidewall and bushes lean")),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="tolerance_sets", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ["name"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("damper_mm__isnull", True), models.Q(("damper_mm__gte", 0), ("damper_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_damper_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("perch_mm__isnull", True), models.Q(("perch_mm__gte", 0), ("perch_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_perch_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("arch_side_mm__isnull", True), models.Q(("arch_side_mm__gte", 0), ("arch_side_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_arch_side_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("arch_up_mm__isnull", True), models.Q(("arch_up_mm__gte", 0), ("arch_up_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_arch_up_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("liner_mm__isnull", True), models.Q(("liner_mm__gte", 0), ("liner_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_liner_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("rail_mm__isnull", True), models.Q(("rail_mm__gte", 0), ("rail_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_rail_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("caliper_mm__isnull", True), models.Q(("caliper_mm__gte", 0), ("caliper_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_caliper_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("joint_mm__isnull", True), models.Q(("joint_mm__gte", 0), ("joint_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_joint_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("growth_mm__isnull", True), models.Q(("growth_mm__gte", 0), ("growth_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_growth_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("flex_mm__isnull", True), models.Q(("flex_mm__gte", 0), ("flex_mm__lte", 200)), _connector="OR"
                        ),
                        name="margins_flex_mm_within",
                    ),
                    models.UniqueConstraint(fields=("owner", "name"), name="one_set_a_name"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Trial",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("corner", models.CharField(choices=[("FL", "FL"), ("FR", "FR"), ("RL", "RL"), ("RR", "RR")], max_length=2)),
                ("wheel", models.CharField(max_length=120)),
                ("tyre", models.CharField(blank=True, max_length=60)),
                ("measured_section_mm", models.FloatField(blank=True, null=True)),
                ("spacer_mm", models.FloatField(default=0)),
                ("camber_deg", models.FloatField(default=0)),
                ("ride_drop_mm", models.FloatField(default=0)),
                ("tried_on", models.DateField(default=django.utils.timezone.localdate)),
                ("who", models.CharField(blank=True, max_length=60)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="trials", to="garage.car")),
            ],
            options={
                "ordering": ["-tried_on", "-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("measured_section_mm__isnull", True),
                            models.Q(("measured_section_mm__gte", 80), ("measured_section_mm__lte", 600)),
                            _connector="OR",
                        ),
                        name="trial_measured_section_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("spacer_mm__isnull", True), models.Q(("spacer_mm__gte", 0), ("spacer_mm__lte", 200)), _connector="OR"
                        ),
                        name="trial_spacer_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("camber_deg__isnull", True), models.Q(("camber_deg__gte", -20), ("camber_deg__lte", 20)), _connector="OR"
                        ),
                        name="trial_camber_deg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("ride_drop_mm__isnull", True),
                            models.Q(("ride_drop_mm__gte", -300), ("ride_drop_mm__lte", 300)),
                            _connector="OR",
                        ),
                        name="trial_ride_drop_mm_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("corner__in", ("FL", "FR", "RL", "RR"))), name="trial_corner"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Sighting",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "seen",
                    models.CharField(
                        choices=[("touches", "touches"), ("paper", "paper slides through"), ("gap", "gap read with a rule")], max_length=8
                    ),
                ),
                ("gap_mm", models.FloatField(blank=True, null=True)),
                ("typed", models.CharField(blank=True, max_length=60)),
                ("uncertainty_mm", models.FloatField()),
                ("steer_deg", models.FloatField(default=0)),
                ("travel_mm", models.FloatField(default=0)),
                ("predicted_mm", models.FloatField(blank=True, null=True)),
                ("predicted_uncertainty_mm", models.FloatField(blank=True, null=True)),
                ("reading", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="sightings", to="garage.reading")),
                ("trial", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="sightings", to="garage.trial")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("gap_mm__isnull", True), models.Q(("gap_mm__gte", -50), ("gap_mm__lte", 500)), _connector="OR"),
                        name="sighting_gap_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("uncertainty_mm__isnull", True),
                            models.Q(("uncertainty_mm__gte", 0.01), ("uncertainty_mm__lte", 50)),
                            _connector="OR",
                        ),
                        name="sighting_uncertainty_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("steer_deg__isnull", True), models.Q(("steer_deg__gte", -70), ("steer_deg__lte", 70)), _connector="OR"
                        ),
                        name="sighting_steer_deg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("travel_mm__isnull", True), models.Q(("travel_mm__gte", -300), ("travel_mm__lte", 300)), _connector="OR"
                        ),
                        name="sighting_travel_mm_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(models.Q(("seen", "gap"), _negated=True), ("gap_mm__isnull", False), _connector="OR"),
                        name="sighting_gap",
                    ),
                    models.CheckConstraint(condition=models.Q(("uncertainty_mm__gt", 0)), name="sighting_uncertainty"),
                ],
            },
        ),
    ]
