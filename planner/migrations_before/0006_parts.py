"""What a build chooses is a part, whatever its family."""

import django.db.models.deletion
from django.db import migrations, models


def forth(apps, schema_editor):
    parts = apps.get_model("garage", "Part").objects
    last = apps.get_model("shelf", "Wheel").objects.order_by("-pk").first()
    start = last.pk if last else 0
    for choice in apps.get_model("planner", "Choice").objects.select_related("build"):
        if choice.wheel_id is not None:
            choice.part_id = choice.wheel_id
        elif choice.tyre_id is not None:
            choice.part_id = start + choice.tyre_id
        else:
            inner, outer = choice.ring_inner_mm, choice.ring_outer_mm
            ring = inner is not None and outer is not None and outer > inner
            said = {"mass_change_kg": choice.mass_change_kg, **({"inner_mm": inner, "outer_mm": outer} if ring else {})}
            made = parts.create(
                car_id=choice.build.car_id, family="ring" if ring else "other", name=choice.name, price_minor=choice.price_minor,
                lead_days=choice.lead_days, supplier=choice.supplier, spec={name: value for name, value in said.items() if value is not None},
            )  # fmt: skip
            choice.part_id, choice.price_minor, choice.lead_days = made.pk, None, None
        choice.save()


def back(apps, schema_editor):
    parts = {part.pk: part for part in apps.get_model("garage", "Part").objects.all()}
    for choice in apps.get_model("planner", "Choice").objects.all():
        part = parts[choice.part_id]
        if part.family in ("wheel", "tyre"):
            setattr(choice, f"{part.family}_id", part.pk)
        else:
            choice.name, choice.supplier = part.name, part.supplier
            choice.price_minor = part.price_minor if choice.price_minor is None else choice.price_minor
            choice.lead_days = part.lead_days if choice.lead_days is None else choice.lead_days
            choice.mass_change_kg = part.spec.get("mass_change_kg")
            choice.ring_inner_mm, choice.ring_outer_mm = part.spec.get("inner_mm"), part.spec.get("outer_mm")
        choice.save()


class Migration(migrations.Migration):
    dependencies = [("planner", "0005_levers"), ("shelf", "0005_to_parts"), ("garage", "0008_parts")]

    operations = [
        migrations.RemoveConstraint("choice", "choice_is_one_thing"),
        *(
            migrations.RemoveConstraint("choice", f"choice_{column}_within")
            for column in ("mass_change_kg", "ring_inner_mm", "ring_outer_mm")
        ),
        migrations.AddField(
            "choice",
            "part",
            models.ForeignKey(null=True, on_delete=django.db.models.deletion.RESTRICT, related_name="choices", to="garage.part"),
        ),
        migrations.RunPython(forth, back),
        migrations.AlterField(
            "choice", "part", models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name="choices", to="garage.part")
        ),
        *(
            migrations.RemoveField("choice", column)
            for column in ("wheel", "tyre", "name", "supplier", "mass_change_kg", "ring_inner_mm", "ring_outer_mm")
        ),
    ]
