"""Units of temperature, power, volume, fuel, rate, force and angle; who reads inches, pounds and miles gets theirs."""

from django.db import migrations, models

NEW = (
    ("temperature_unit", "temperature", "°C", "°F"),
    ("power_unit", "power", "kW", "hp"),
    ("volume_unit", "volume", "L", "US gal"),
    ("fuel_unit", "fuel use", "L/100 km", "mpg US"),
    ("rate_unit", "spring rate", "N/mm", "lbf/in"),
    ("force_unit", "force", "N", "lbf"),
)


def imperial(apps, schema_editor):
    wholly = apps.get_model("garage", "Preferences").objects.filter(length_unit="in", mass_unit="lb", speed_unit="mph")
    wholly.update(**{name: there for name, _, _, there in NEW})


class Migration(migrations.Migration):
    dependencies = [("garage", "0025_panel_place")]
    operations = [
        *(migrations.AddField("preferences", name, models.CharField(words, max_length=8, default=here)) for name, words, here, _ in NEW),
        migrations.AddField("preferences", "angle_unit", models.CharField("angle", max_length=8, default="deg")),
        migrations.AddField("preferences", "money_sign", models.CharField("money", max_length=8, default="code")),
        migrations.RunPython(imperial, migrations.RunPython.noop),
    ]
