"""Promises say where they are by the corner's letters and the spot's name, not by words alone."""

from django.db import migrations, models

CORNERS = {"front left": "FL", "front right": "FR", "rear left": "RL", "rear right": "RR"}


def place(apps, schema_editor):
    promises = apps.get_model("workshop", "Promise")
    rows = list(promises.objects.filter(where__in=CORNERS))
    for row in rows:
        row.place = CORNERS[row.where]
        if row.code == "ride.dip":
            spot = str(row.judged.get("name", "")).removesuffix(f", {row.where}")
            row.place += f":{spot}"[:60]
    promises.objects.bulk_update(rows, ["place"], batch_size=500)


class Migration(migrations.Migration):
    dependencies = [("workshop", "0001_whole")]

    operations = [
        migrations.AddField("promise", "place", models.CharField(blank=True, max_length=100)),
        migrations.RunPython(place, migrations.RunPython.noop),
    ]
