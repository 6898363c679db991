"""Every torque step carries the nuts of its own hub; what the sheet said stays with the steps that were made from it."""

from django.db import migrations, models


def from_the_sheet(apps, schema_editor):
    step = apps.get_model("workshop", "Step")
    for job in apps.get_model("workshop", "Job").objects.all():
        step.objects.filter(job=job, kind="torque").update(lugs=job.lugs)


def to_the_sheet(apps, schema_editor):
    step = apps.get_model("workshop", "Step")
    for job in apps.get_model("workshop", "Job").objects.all():
        counted = step.objects.filter(job=job, lugs__isnull=False).first()
        job.lugs = counted.lugs if counted else 5
        job.save()


class Migration(migrations.Migration):
    dependencies = [("workshop", "0002_limits")]

    operations = [
        migrations.AddField("step", "lugs", models.PositiveSmallIntegerField(blank=True, null=True)),
        migrations.RunPython(from_the_sheet, to_the_sheet),
        migrations.RemoveConstraint("job", "job_lugs"),
        migrations.RemoveField("job", "lugs"),
        migrations.AddConstraint(
            "step",
            models.CheckConstraint(
                condition=models.Q(("lugs__isnull", True), models.Q(("lugs__gte", 3), ("lugs__lte", 10)), _connector="OR"), name="step_lugs"
            ),
        ),
    ]
