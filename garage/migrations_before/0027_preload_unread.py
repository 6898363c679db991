from django.db import migrations, models


def nought_was_not_said(apps, schema_editor):
    """Nought stood where nobody said anything: it counts as not read."""
    apps.get_model("garage", "Springs").objects.filter(preload_mm=0).update(preload_mm=None)


def back_to_nought(apps, schema_editor):
    apps.get_model("garage", "Springs").objects.filter(preload_mm=None).update(preload_mm=0)


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0026_units_and_loads"),
    ]

    operations = [
        migrations.AlterField(
            model_name="springs",
            name="preload_mm",
            field=models.FloatField(blank=True, null=True, verbose_name="preload at full droop"),
        ),
        migrations.RunPython(nought_was_not_said, back_to_nought),
    ]
