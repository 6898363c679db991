"""The core's limits in the tables; rows of before are cleaned first."""

from typing import Any

from django.conf import settings
from django.db import migrations, models
from django.db.models import Q

from garage.migrations_before._then import LIMITS, blank_out, draw_in


def clean(apps: Any, editor: Any) -> None:
    """What lies outside the limits is emptied, drawn in, or struck out with the reason; what was typed stays."""
    blank_out(
        apps, "garage", "Car", wheelbase_mm="wheelbase_mm", track_front_mm="track_mm", track_rear_mm="track_mm",
        front_axle_kg="axle_kg", rear_axle_kg="axle_kg", budget_minor="cost_minor",
    )  # fmt: skip
    draw_in(apps, "garage", "Car", odometer_km="odometer_km")
    blank_out(
        apps, "garage", "Axle", pcd_mm="pcd_mm", bore_mm="bore_mm", stud_length_mm="stud_mm", bolt_length_mm="stud_mm", collar_mm="collar_mm",
        nut_torque_nm="torque_nm",
    )  # fmt: skip
    blank_out(apps, "garage", "OutfitAxle", measured_section_mm="section_mm", wheel_kg="mass_kg", tyre_kg="mass_kg")
    draw_in(apps, "garage", "OutfitAxle", ride_drop_mm="ride_drop_mm")
    blank_out(apps, "garage", "Condition", front_kpa="kpa", rear_kpa="kpa", air_c="air_c")
    strike_readings(apps)
    margins = ("damper", "perch", "arch_side", "arch_up", "liner", "rail", "caliper", "joint", "growth", "flex")
    draw_in(apps, "garage", "ToleranceSet", **{f"{name}_mm": "margin_mm" for name in margins})
    blank_out(apps, "garage", "Trial", measured_section_mm="section_mm")
    draw_in(apps, "garage", "Trial", spacer_mm="spacer_mm", camber_deg="camber_deg", ride_drop_mm="ride_drop_mm")
    draw_in(
        apps,
        "garage",
        "Sighting",
        gap_mm="sighting_mm",
        uncertainty_mm="sighting_uncertainty_mm",
        steer_deg="steer_deg",
        travel_mm="travel_mm",
    )
    draw_in(apps, "garage", "Rub", steer_deg="steer_deg", travel_mm="rub_travel_mm")


def strike_readings(apps: Any) -> None:
    """A reading that can't be is struck out; its typing tells what stood there."""
    readings = apps.get_model("garage", "Reading").objects
    columns = {
        "value": "reading",
        "value2": "reading",
        "uncertainty": "uncertainty",
        "height_mm": "height_mm",
        "u_mm": "across_mm",
        "travel_mm": "travel_mm",
    }
    for column, name in columns.items():
        limit = LIMITS[name]
        beyond = readings.filter(Q(**{f"{column}__lt": limit.low}) | Q(**{f"{column}__gt": limit.high}))
        beyond.filter(struck_why="").update(struck_why=f"out of range; accepted: {limit.accepted}")
    draw_in(apps, "garage", "Reading", **columns)


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0003_worked"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RunPython(clean, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="axle",
            constraint=models.CheckConstraint(
                condition=models.Q(("pcd_mm__isnull", True), models.Q(("pcd_mm__gte", 80.0), ("pcd_mm__lte", 300.0)), _connector="OR"),
                name="axle_pcd_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="axle",
            constraint=models.CheckConstraint(
                condition=models.Q(("bore_mm__isnull", True), models.Q(("bore_mm__gte", 30.0), ("bore_mm__lte", 250.0)), _connector="OR"),
                name="axle_bore_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="axle",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("stud_length_mm__isnull", True), models.Q(("stud_length_mm__gte", 0), ("stud_length_mm__lte", 200)), _connector="OR"
                ),
                name="axle_stud_length_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="axle",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("bolt_length_mm__isnull", True), models.Q(("bolt_length_mm__gte", 0), ("bolt_length_mm__lte", 200)), _connector="OR"
                ),
                name="axle_bolt_length_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="axle",
            constraint=models.CheckConstraint(
                condition=models.Q(("collar_mm__isnull", True), models.Q(("collar_mm__gte", 0), ("collar_mm__lte", 60)), _connector="OR"),
                name="axle_collar_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="axle",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("nut_torque_nm__isnull", True), models.Q(("nut_torque_nm__gte", 20), ("nut_torque_nm__lte", 500)), _connector="OR"
                ),
                name="axle_nut_torque_nm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="car",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("wheelbase_mm__isnull", True), models.Q(("wheelbase_mm__gte", 1000), ("wheelbase_mm__lte", 6000)), _connector="OR"
                ),
                name="car_wheelbase_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="car",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("track_front_mm__isnull", True), models.Q(("track_front_mm__gte", 800), ("track_front_mm__lte", 2500)), _connector="OR"
                ),
                name="car_track_front_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="car",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("track_rear_mm__isnull", True), models.Q(("track_rear_mm__gte", 800), ("track_rear_mm__lte", 2500)), _connector="OR"
                ),
                name="car_track_rear_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="car",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("front_axle_kg__isnull", True), models.Q(("front_axle_kg__gte", 50), ("front_axle_kg__lte", 5000)), _connector="OR"
                ),
                name="car_front_axle_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="car",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("rear_axle_kg__isnull", True), models.Q(("rear_axle_kg__gte", 50), ("rear_axle_kg__lte", 5000)), _connector="OR"
                ),
                name="car_rear_axle_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="car",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("odometer_km__isnull", True), models.Q(("odometer_km__gte", 0), ("odometer_km__lte", 5000000)), _connector="OR"
                ),
                name="car_odometer_km_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="car",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("budget_minor__isnull", True), models.Q(("budget_minor__gte", 0), ("budget_minor__lte", 1000000000)), _connector="OR"
                ),
                name="car_budget_minor_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="condition",
            constraint=models.CheckConstraint(
                condition=models.Q(("front_kpa__isnull", True), models.Q(("front_kpa__gte", 50), ("front_kpa__lte", 600)), _connector="OR"),
                name="condition_front_kpa_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="condition",
            constraint=models.CheckConstraint(
                condition=models.Q(("rear_kpa__isnull", True), models.Q(("rear_kpa__gte", 50), ("rear_kpa__lte", 600)), _connector="OR"),
                name="condition_rear_kpa_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="condition",
            constraint=models.CheckConstraint(
                condition=models.Q(("air_c__isnull", True), models.Q(("air_c__gte", -40), ("air_c__lte", 60)), _connector="OR"),
                name="condition_air_c_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="outfitaxle",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("measured_section_mm__isnull", True),
                    models.Q(("measured_section_mm__gte", 80), ("measured_section_mm__lte", 600)),
                    _connector="OR",
                ),
                name="outfit_measured_section_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="outfitaxle",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("ride_drop_mm__isnull", True), models.Q(("ride_drop_mm__gte", -300), ("ride_drop_mm__lte", 300)), _connector="OR"
                ),
                name="outfit_ride_drop_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="outfitaxle",
            constraint=models.CheckConstraint(
                condition=models.Q(("wheel_kg__isnull", True), models.Q(("wheel_kg__gte", 0.1), ("wheel_kg__lte", 200)), _connector="OR"),
                name="outfit_wheel_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="outfitaxle",
            constraint=models.CheckConstraint(
                condition=models.Q(("tyre_kg__isnull", True), models.Q(("tyre_kg__gte", 0.1), ("tyre_kg__lte", 200)), _connector="OR"),
                name="outfit_tyre_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(("value__isnull", True), models.Q(("value__gte", -8000), ("value__lte", 8000)), _connector="OR"),
                name="reading_value_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(("value2__isnull", True), models.Q(("value2__gte", -8000), ("value2__lte", 8000)), _connector="OR"),
                name="reading_value2_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("uncertainty__isnull", True), models.Q(("uncertainty__gte", 0), ("uncertainty__lte", 200)), _connector="OR"
                ),
                name="reading_uncertainty_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("height_mm__isnull", True), models.Q(("height_mm__gte", -400), ("height_mm__lte", 500)), _connector="OR"
                ),
                name="reading_height_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(("u_mm__isnull", True), models.Q(("u_mm__gte", -250), ("u_mm__lte", 250)), _connector="OR"),
                name="reading_u_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("travel_mm__isnull", True), models.Q(("travel_mm__gte", -300), ("travel_mm__lte", 300)), _connector="OR"
                ),
                name="reading_travel_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="rub",
            constraint=models.CheckConstraint(
                condition=models.Q(("steer_deg__isnull", True), models.Q(("steer_deg__gte", -70), ("steer_deg__lte", 70)), _connector="OR"),
                name="rub_steer_deg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="rub",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("travel_mm__isnull", True), models.Q(("travel_mm__gte", -600), ("travel_mm__lte", 600)), _connector="OR"
                ),
                name="rub_travel_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="sighting",
            constraint=models.CheckConstraint(
                condition=models.Q(("gap_mm__isnull", True), models.Q(("gap_mm__gte", -50), ("gap_mm__lte", 500)), _connector="OR"),
                name="sighting_gap_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="sighting",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("uncertainty_mm__isnull", True), models.Q(("uncertainty_mm__gte", 0.01), ("uncertainty_mm__lte", 50)), _connector="OR"
                ),
                name="sighting_uncertainty_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="sighting",
            constraint=models.CheckConstraint(
                condition=models.Q(("steer_deg__isnull", True), models.Q(("steer_deg__gte", -70), ("steer_deg__lte", 70)), _connector="OR"),
                name="sighting_steer_deg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="sighting",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("travel_mm__isnull", True), models.Q(("travel_mm__gte", -300), ("travel_mm__lte", 300)), _connector="OR"
                ),
                name="sighting_travel_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(("damper_mm__isnull", True), models.Q(("damper_mm__gte", 0), ("damper_mm__lte", 200)), _connector="OR"),
                name="margins_damper_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(("perch_mm__isnull", True), models.Q(("perch_mm__gte", 0), ("perch_mm__lte", 200)), _connector="OR"),
                name="margins_perch_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("arch_side_mm__isnull", True), models.Q(("arch_side_mm__gte", 0), ("arch_side_mm__lte", 200)), _connector="OR"
                ),
                name="margins_arch_side_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("arch_up_mm__isnull", True), models.Q(("arch_up_mm__gte", 0), ("arch_up_mm__lte", 200)), _connector="OR"
                ),
                name="margins_arch_up_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(("liner_mm__isnull", True), models.Q(("liner_mm__gte", 0), ("liner_mm__lte", 200)), _connector="OR"),
                name="margins_liner_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(("rail_mm__isnull", True), models.Q(("rail_mm__gte", 0), ("rail_mm__lte", 200)), _connector="OR"),
                name="margins_rail_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("caliper_mm__isnull", True), models.Q(("caliper_mm__gte", 0), ("caliper_mm__lte", 200)), _connector="OR"
                ),
                name="margins_caliper_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(("joint_mm__isnull", True), models.Q(("joint_mm__gte", 0), ("joint_mm__lte", 200)), _connector="OR"),
                name="margins_joint_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(("growth_mm__isnull", True), models.Q(("growth_mm__gte", 0), ("growth_mm__lte", 200)), _connector="OR"),
                name="margins_growth_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="toleranceset",
            constraint=models.CheckConstraint(
                condition=models.Q(("flex_mm__isnull", True), models.Q(("flex_mm__gte", 0), ("flex_mm__lte", 200)), _connector="OR"),
                name="margins_flex_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="trial",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("measured_section_mm__isnull", True),
                    models.Q(("measured_section_mm__gte", 80), ("measured_section_mm__lte", 600)),
                    _connector="OR",
                ),
                name="trial_measured_section_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="trial",
            constraint=models.CheckConstraint(
                condition=models.Q(("spacer_mm__isnull", True), models.Q(("spacer_mm__gte", 0), ("spacer_mm__lte", 200)), _connector="OR"),
                name="trial_spacer_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="trial",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("camber_deg__isnull", True), models.Q(("camber_deg__gte", -20), ("camber_deg__lte", 20)), _connector="OR"
                ),
                name="trial_camber_deg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="trial",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("ride_drop_mm__isnull", True), models.Q(("ride_drop_mm__gte", -300), ("ride_drop_mm__lte", 300)), _connector="OR"
                ),
                name="trial_ride_drop_mm_within",
            ),
        ),
    ]
