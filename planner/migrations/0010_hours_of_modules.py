"""Hours are worked out of the modules where nobody gave a figure of their own; 4 was what nobody had changed."""

from django.db import migrations, models


def unsaid(apps, schema_editor):
    apps.get_model("planner", "Build").objects.filter(hours_estimate=4).update(hours_estimate=None)


def said_again(apps, schema_editor):
    apps.get_model("planner", "Build").objects.filter(hours_estimate=None).update(hours_estimate=4)


class Migration(migrations.Migration):
    dependencies = [("planner", "0009_corner_heights")]
    operations = [
        migrations.AlterField("build", "hours_estimate", models.FloatField(blank=True, null=True, verbose_name="hours, own estimate")),
        migrations.RunPython(unsaid, said_again),
    ]
