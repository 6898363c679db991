"""Wheels and tyres of the list become parts of one table; their ids: a wheel keeps its own, a tyre's follow after all wheels'."""

import django.db.models.deletion
from django.db import migrations, models

OFFERED = ("name", "mass_kg", "price_minor", "lead_days", "supplier", "link", "note", "line", "car_id")
WHEEL = ("bolts", "pcd_mm", "bore_mm", "seat", "pad_thickness_mm", "load_kg", "barrel_radius_mm", "spoke_back_mm")
TYRE = ("size", "measured_section_mm", "profile", "profile_rim_in")


def after_wheels(apps):
    """What is added to a tyre's id."""
    last = apps.get_model("shelf", "Wheel").objects.order_by("-pk").first()
    return last.pk if last else 0


def keep(apps, row, pk, family, spec, **columns):
    parts = apps.get_model("garage", "Part").objects
    said = {name: getattr(row, name) for name in spec}
    parts.create(
        pk=pk, family=family, spec={name: value for name, value in said.items() if value not in (None, "")},
        **{name: getattr(row, name) for name in OFFERED}, **columns,
    )  # fmt: skip
    parts.filter(pk=pk).update(made_at=row.made_at)


def forth(apps, schema_editor):
    for row in apps.get_model("shelf", "Wheel").objects.all():
        keep(apps, row, row.pk, "wheel", WHEEL, **{name: getattr(row, name) for name in ("diameter_in", "width_in", "offset_mm", "pinned")})
    start = after_wheels(apps)
    for row in apps.get_model("shelf", "Tyre").objects.all():
        width = row.section_width_mm if 80 <= row.section_width_mm <= 600 else None
        keep(apps, row, start + row.pk, "tyre", TYRE, diameter_in=min(max(row.rim_diameter_in, 8), 30), section_width_mm=width)
    for card in apps.get_model("shelf", "Card").objects.all():
        card.part_id = start + card.tyre_id
        card.save()


def back(apps, schema_editor):
    """The rows are there again; a card goes back to its tyre, which has its part's id."""
    for card in apps.get_model("shelf", "Card").objects.all():
        card.tyre_id = card.part_id
        card.save()


class Migration(migrations.Migration):
    dependencies = [("shelf", "0004_limits"), ("garage", "0008_parts")]

    operations = [
        migrations.AddField(
            "card",
            "part",
            models.OneToOneField(null=True, on_delete=django.db.models.deletion.CASCADE, related_name="card", to="garage.part"),
        ),
        migrations.AlterField(
            "card",
            "tyre",
            models.OneToOneField(null=True, on_delete=django.db.models.deletion.CASCADE, related_name="card", to="shelf.tyre"),
        ),
        migrations.RunPython(forth, back),
    ]
