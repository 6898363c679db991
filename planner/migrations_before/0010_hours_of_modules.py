"""Hours are worked out of the modules where nobody gave a figure of their own."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("planner", "0009_corner_heights"),
    ]

    operations = [
        migrations.AlterField(
            model_name="build",
            name="hours_estimate",
            field=models.FloatField(blank=True, null=True, verbose_name="hours, own estimate"),
        ),
        # 4 was what nobody had changed
        migrations.RunSQL(
            "UPDATE planner_build SET hours_estimate = NULL WHERE hours_estimate = 4",
            "UPDATE planner_build SET hours_estimate = 4 WHERE hours_estimate IS NULL",
        ),
    ]
