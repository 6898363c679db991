"""Outfits that a job made take the whole specification of the wheel that was fitted; before, only its size was kept."""

from django.db import migrations

PARTS = ("seat", "pad_thickness_mm", "load_kg", "barrel_radius_mm", "spoke_back_mm")


def from_the_builds(apps, schema_editor):
    axles = apps.get_model("garage", "OutfitAxle").objects
    for build in apps.get_model("planner", "Build").objects.filter(outfit__isnull=False):
        for axle in axles.filter(outfit_id=build.outfit_id):
            wheel = next(
                (
                    choice.wheel
                    for choice in build.choices.filter(wheel__isnull=False).exclude(state__in=("returned", "sold")).order_by("-position")
                    if choice.position in (axle.end, "A")
                ),
                None,
            )
            if wheel is not None:
                for name in PARTS:
                    setattr(axle, name, getattr(wheel, name))
                axle.save()


class Migration(migrations.Migration):
    dependencies = [("planner", "0003_limits"), ("garage", "0005_whole_wheels"), ("shelf", "0004_limits")]

    operations = [migrations.RunPython(from_the_builds, migrations.RunPython.noop)]
