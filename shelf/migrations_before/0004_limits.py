"""The core's limits in the tables; rows of before are cleaned first."""

from typing import Any

from django.db import migrations, models

from garage.migrations_before._then import blank_out


def clean(apps: Any, editor: Any) -> None:
    """What lies outside the limits is emptied; the line that it was read from stays."""
    blank_out(
        apps, "shelf", "Wheel", bolts="bolts", pcd_mm="pcd_mm", bore_mm="bore_mm", pad_thickness_mm="pad_thickness_mm", load_kg="load_kg",
        barrel_radius_mm="barrel_radius_mm", spoke_back_mm="spoke_back_mm", mass_kg="mass_kg", price_minor="price_minor", lead_days="lead_days",
    )  # fmt: skip
    blank_out(
        apps, "shelf", "Tyre", measured_section_mm="section_mm", profile_rim_in="width_in", mass_kg="mass_kg", price_minor="price_minor", lead_days="lead_days"
    )  # fmt: skip
    blank_out(apps, "shelf", "Card", bar_mm="bar_mm", crown_mm="crown_mm")


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0004_limits"),
        ("shelf", "0003_card"),
    ]

    operations = [
        migrations.RunPython(clean, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="card",
            constraint=models.CheckConstraint(
                condition=models.Q(("bar_mm__isnull", True), models.Q(("bar_mm__gte", 10), ("bar_mm__lte", 2000)), _connector="OR"),
                name="card_bar_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="card",
            constraint=models.CheckConstraint(
                condition=models.Q(("crown_mm__isnull", True), models.Q(("crown_mm__gte", 100), ("crown_mm__lte", 800)), _connector="OR"),
                name="card_crown_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="tyre",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("measured_section_mm__isnull", True),
                    models.Q(("measured_section_mm__gte", 80), ("measured_section_mm__lte", 600)),
                    _connector="OR",
                ),
                name="tyre_measured_section_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="tyre",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("profile_rim_in__isnull", True), models.Q(("profile_rim_in__gte", 3.0), ("profile_rim_in__lte", 18.0)), _connector="OR"
                ),
                name="tyre_profile_rim_in_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="tyre",
            constraint=models.CheckConstraint(
                condition=models.Q(("mass_kg__isnull", True), models.Q(("mass_kg__gte", 0.1), ("mass_kg__lte", 200)), _connector="OR"),
                name="tyre_mass_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="tyre",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("price_minor__isnull", True), models.Q(("price_minor__gte", 0), ("price_minor__lte", 1000000000)), _connector="OR"
                ),
                name="tyre_price_minor_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="tyre",
            constraint=models.CheckConstraint(
                condition=models.Q(("lead_days__isnull", True), models.Q(("lead_days__gte", 0), ("lead_days__lte", 1000)), _connector="OR"),
                name="tyre_lead_days_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(("bolts__isnull", True), models.Q(("bolts__gte", 3.0), ("bolts__lte", 10.0)), _connector="OR"),
                name="wheel_bolts_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(("pcd_mm__isnull", True), models.Q(("pcd_mm__gte", 80.0), ("pcd_mm__lte", 300.0)), _connector="OR"),
                name="wheel_pcd_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(("bore_mm__isnull", True), models.Q(("bore_mm__gte", 30.0), ("bore_mm__lte", 250.0)), _connector="OR"),
                name="wheel_bore_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("pad_thickness_mm__isnull", True),
                    models.Q(("pad_thickness_mm__gte", 0), ("pad_thickness_mm__lte", 100)),
                    _connector="OR",
                ),
                name="wheel_pad_thickness_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(("load_kg__isnull", True), models.Q(("load_kg__gte", 50), ("load_kg__lte", 5000)), _connector="OR"),
                name="wheel_load_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("barrel_radius_mm__isnull", True),
                    models.Q(("barrel_radius_mm__gte", 50), ("barrel_radius_mm__lte", 400)),
                    _connector="OR",
                ),
                name="wheel_barrel_radius_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("spoke_back_mm__isnull", True), models.Q(("spoke_back_mm__gte", -50), ("spoke_back_mm__lte", 200)), _connector="OR"
                ),
                name="wheel_spoke_back_mm_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(("mass_kg__isnull", True), models.Q(("mass_kg__gte", 0.1), ("mass_kg__lte", 200)), _connector="OR"),
                name="wheel_mass_kg_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("price_minor__isnull", True), models.Q(("price_minor__gte", 0), ("price_minor__lte", 1000000000)), _connector="OR"
                ),
                name="wheel_price_minor_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="wheel",
            constraint=models.CheckConstraint(
                condition=models.Q(("lead_days__isnull", True), models.Q(("lead_days__gte", 0), ("lead_days__lte", 1000)), _connector="OR"),
                name="wheel_lead_days_within",
            ),
        ),
    ]
