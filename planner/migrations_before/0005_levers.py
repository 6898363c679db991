"""What a build does to the car becomes rows, as the benches declare them."""

import django.db.models.deletion
from django.db import migrations, models

COLUMNS = {
    "spacer_front_mm": ("spacer_mm", "F"), "spacer_rear_mm": ("spacer_mm", "R"), "drop_front_mm": ("ride_drop_mm", "F"),
    "drop_rear_mm": ("ride_drop_mm", "R"), "camber_front_deg": ("camber_deg", "F"), "camber_rear_deg": ("camber_deg", "R"),
    "lip_rolled_front_mm": ("lip_rolled_mm", "F"), "lip_rolled_rear_mm": ("lip_rolled_mm", "R"), "lock_limit_deg": ("lock_limit_deg", "F"),
    "stroke_moves": ("stroke_moves", ""), "spacer_kind": ("spacer_kind", ""),
}  # fmt: skip


def to_rows(apps, schema_editor):
    levers = apps.get_model("planner", "Lever").objects
    for build in apps.get_model("planner", "Build").objects.all():
        for column, (code, place) in COLUMNS.items():
            value = getattr(build, column)
            if code == "spacer_kind":
                if value not in ("", "slip"):
                    levers.create(build=build, code=code, place=place, text=value)
            elif value is not None and (value or code == "camber_deg"):
                levers.create(build=build, code=code, place=place, number=float(value))
    # Changes remember rows with the columns of before: they can't be taken back any more.
    apps.get_model("shell", "Change").objects.all().delete()


def to_columns(apps, schema_editor):
    named = {where: column for column, where in COLUMNS.items()}
    for lever in apps.get_model("planner", "Lever").objects.filter(code__in=[code for code, _ in named]):
        column = named.get((lever.code, lever.place))
        if column is not None:
            value = lever.text if lever.code == "spacer_kind" else bool(lever.number) if lever.code == "stroke_moves" else lever.number
            apps.get_model("planner", "Build").objects.filter(pk=lever.build_id).update(**{column: value})
    apps.get_model("shell", "Change").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("planner", "0004_fitted_wheels"), ("shell", "0002_holds")]

    operations = [
        migrations.CreateModel(
            name="Lever",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("code", models.CharField(max_length=40)),
                ("place", models.CharField(blank=True, choices=[("", ""), ("F", "Front"), ("R", "Rear")], max_length=1)),
                ("number", models.FloatField(blank=True, null=True)),
                ("text", models.CharField(blank=True, max_length=40)),
                ("build", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="levers", to="planner.build")),
            ],
            options={"ordering": ["code", "place"]},
        ),
        migrations.AddConstraint(
            model_name="lever",
            constraint=models.CheckConstraint(
                condition=models.Q(("number__isnull", True), models.Q(("number__gte", -1e6), ("number__lte", 1e6)), _connector="OR"),
                name="lever_number_within",
            ),
        ),
        migrations.AddConstraint(
            model_name="lever", constraint=models.UniqueConstraint(fields=("build", "code", "place"), name="one_lever_a_place")
        ),
        migrations.AddConstraint(
            model_name="lever", constraint=models.CheckConstraint(condition=models.Q(("place__in", ["", "F", "R"])), name="lever_place")
        ),
        migrations.RunPython(to_rows, to_columns),
        *(
            migrations.RemoveConstraint(model_name="build", name=name)
            for name in ("build_camber_front_deg_within", "build_camber_rear_deg_within", "build_spacers", "build_drops", "build_levers")
        ),
        *(migrations.RemoveField(model_name="build", name=column) for column in COLUMNS),
    ]
