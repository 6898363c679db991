"""The tables of wheels and tyres go; a card is of a part."""

import django.db.models.deletion
from django.db import migrations, models

OFFERED = ("name", "mass_kg", "price_minor", "lead_days", "supplier", "link", "note", "line", "car_id")
WHEEL = ("bolts", "pcd_mm", "bore_mm", "seat", "pad_thickness_mm", "load_kg", "barrel_radius_mm", "spoke_back_mm")
TYRE = ("size", "measured_section_mm", "profile", "profile_rim_in")


def forth(apps, schema_editor):
    """Changes remember rows of tables that go: they can't be taken back any more."""
    apps.get_model("shell", "Change").objects.all().delete()


def back(apps, schema_editor):
    """The tables stand again, empty: every part goes back under its own id."""
    apps.get_model("shell", "Change").objects.all().delete()
    for part in apps.get_model("garage", "Part").objects.filter(family__in=("wheel", "tyre")):
        rows = apps.get_model("shelf", part.family.title()).objects
        columns = {name: getattr(part, name) for name in OFFERED} | {"name": part.name[:60]}
        if part.family == "wheel":
            columns |= {name: getattr(part, name) for name in ("diameter_in", "width_in", "offset_mm", "pinned")}
            columns |= {name: part.spec.get(name, "" if name == "seat" else None) for name in WHEEL}
        else:
            columns |= {"rim_diameter_in": part.diameter_in, "section_width_mm": part.section_width_mm or 0.0}
            columns |= {name: part.spec.get(name) for name in TYRE}
        rows.create(pk=part.pk, **columns)
        rows.filter(pk=part.pk).update(made_at=part.made_at)


class Migration(migrations.Migration):
    dependencies = [("shelf", "0005_to_parts"), ("planner", "0006_parts"), ("shell", "0002_holds")]

    operations = [
        migrations.RemoveField("card", "tyre"),
        migrations.RenameField("card", "part", "tyre"),
        migrations.AlterField(
            "card", "tyre", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="card", to="garage.tyre")
        ),
        migrations.RunPython(forth, back),
        migrations.DeleteModel("Tyre"),
        migrations.DeleteModel("Wheel"),
    ]
