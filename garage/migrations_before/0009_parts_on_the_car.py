"""Wheels and tyres that stand on the car become parts, as those on the list are."""

import django.db.models.deletion
from django.db import migrations, models

from garage.migrations_before._then import tyre_then, wheel_then

WHEEL = ("seat", "pad_thickness_mm", "load_kg", "barrel_radius_mm", "spoke_back_mm")
TYRE = ("measured_section_mm", "profile")


def said(row, names):
    return {name: getattr(row, name) for name in names if getattr(row, name) not in (None, "")}


def wheel_of(parts, row):
    """A wheel that can't be read any more is kept as it was written, and told as such."""
    whole = {"car_id": row.outfit.car_id, "listed": False, "line": row.wheel, "mass_kg": row.wheel_kg}
    read = wheel_then(row.wheel)
    if read is None or read["offset_mm"] is None:
        return parts.create(family="other", name=row.wheel[:80] or "wheel", spec=said(row, WHEEL), **whole)
    hub = {name: read[name] for name in ("bolts", "pcd_mm", "bore_mm") if read[name] is not None}
    size = {name: read[name] for name in ("diameter_in", "width_in", "offset_mm")}
    return parts.create(family="wheel", **size, spec=hub | said(row, WHEEL), **whole)


def tyre_of(parts, row):
    whole = {"car_id": row.outfit.car_id, "listed": False, "mass_kg": row.tyre_kg}
    columns = tyre_then(row.tyre)
    if columns is None:
        return parts.create(family="other", name=row.tyre[:80] or "tyre", spec={"size": row.tyre} | said(row, TYRE), **whole)
    return parts.create(family="tyre", spec={"size": row.tyre} | said(row, TYRE), **columns, **whole)


def forth(apps, schema_editor):
    parts = apps.get_model("garage", "Part").objects
    for row in apps.get_model("garage", "OutfitAxle").objects.select_related("outfit"):
        row.wheel_part, row.tyre_part = wheel_of(parts, row), tyre_of(parts, row)
        row.save()
    # Changes remember rows with the columns of before: they can't be taken back any more.
    apps.get_model("shell", "Change").objects.all().delete()


def back(apps, schema_editor):
    for row in apps.get_model("garage", "OutfitAxle").objects.select_related("wheel_part", "tyre_part"):
        wheel, tyre = row.wheel_part, row.tyre_part
        row.wheel, row.tyre = wheel.line, tyre.spec.get("size", tyre.name)
        row.wheel_kg, row.tyre_kg = wheel.mass_kg, tyre.mass_kg
        for part, names in ((wheel, WHEEL), (tyre, TYRE)):
            for name in names:
                setattr(row, name, part.spec.get(name, "" if name == "seat" else None))
        row.wheel_part = row.tyre_part = None
        row.save()
    apps.get_model("garage", "Part").objects.filter(listed=False).delete()
    apps.get_model("shell", "Change").objects.all().delete()


def stands(name, null):
    return models.ForeignKey(null=null, on_delete=django.db.models.deletion.RESTRICT, related_name=f"stands_as_{name}", to="garage.part")


class Migration(migrations.Migration):
    dependencies = [("garage", "0008_parts"), ("shelf", "0006_parts_alone"), ("planner", "0006_parts"), ("shell", "0002_holds")]

    operations = [
        migrations.AddField("part", "listed", models.BooleanField(default=True)),
        migrations.AddField("outfitaxle", "wheel_part", stands("wheel", True)),
        migrations.AddField("outfitaxle", "tyre_part", stands("tyre", True)),
        migrations.AlterField("outfitaxle", "wheel", models.CharField(default="", max_length=120)),
        migrations.AlterField("outfitaxle", "tyre", models.CharField(default="", max_length=60)),
        migrations.RunPython(forth, back),
        migrations.AlterField("outfitaxle", "wheel_part", stands("wheel", False)),
        migrations.AlterField("outfitaxle", "tyre_part", stands("tyre", False)),
        *(
            migrations.RemoveConstraint("outfitaxle", f"outfit_{column}_within")
            for column in (
                "measured_section_mm", "wheel_kg", "tyre_kg", "pad_thickness_mm", "load_kg", "barrel_radius_mm", "spoke_back_mm"
            )
        ),
        *(migrations.RemoveField("outfitaxle", column) for column in ("wheel", "tyre", "wheel_kg", "tyre_kg", *WHEEL, *TYRE)),
    ]  # fmt: skip
