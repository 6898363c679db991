"""Units of more quantities, a trailer with brakes of its own, the engine speed wanted at cruise."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0025_panel_place"),
    ]

    operations = [
        migrations.AddField(
            model_name="brakes",
            name="load_braked",
            field=models.BooleanField(default=False, verbose_name="the trailer has brakes of its own"),
        ),
        migrations.AddField(
            model_name="driveline",
            name="cruise_kmh",
            field=models.FloatField(blank=True, null=True, verbose_name="cruise"),
        ),
        migrations.AddField(
            model_name="driveline",
            name="wanted_rpm",
            field=models.PositiveIntegerField(blank=True, null=True, verbose_name="wanted at cruise"),
        ),
        migrations.AddField(
            model_name="preferences",
            name="angle_unit",
            field=models.CharField(
                choices=[("deg", "degrees"), ("min", "degrees and minutes; a bare number is minutes")],
                default="deg",
                max_length=8,
                verbose_name="angle",
            ),
        ),
        migrations.AddField(
            model_name="preferences",
            name="force_unit",
            field=models.CharField(
                choices=[("N", "newton"), ("lbf", "pound-force"), ("kgf", "kilogram-force")],
                default="N",
                max_length=8,
                verbose_name="force",
            ),
        ),
        migrations.AddField(
            model_name="preferences",
            name="fuel_unit",
            field=models.CharField(
                choices=[
                    ("L/100 km", "litres per 100 km"),
                    ("mpg US", "miles per US gallon"),
                    ("mpg UK", "miles per imperial gallon"),
                    ("km/L", "kilometres per litre"),
                ],
                default="L/100 km",
                max_length=8,
                verbose_name="fuel use",
            ),
        ),
        migrations.AddField(
            model_name="preferences",
            name="money_sign",
            field=models.CharField(choices=[("code", "310 EUR"), ("sign", "€310")], default="code", max_length=8, verbose_name="money"),
        ),
        migrations.AddField(
            model_name="preferences",
            name="power_unit",
            field=models.CharField(
                choices=[("kW", "kilowatt"), ("hp", "horsepower, 550 ft·lbf/s"), ("PS", "metric horsepower, 75 kgf·m/s")],
                default="kW",
                max_length=8,
                verbose_name="power",
            ),
        ),
        migrations.AddField(
            model_name="preferences",
            name="rate_unit",
            field=models.CharField(
                choices=[
                    ("N/mm", "newton per millimetre"),
                    ("kgf/mm", "kilogram-force per millimetre"),
                    ("lbf/in", "pound-force per inch"),
                ],
                default="N/mm",
                max_length=8,
                verbose_name="spring rate",
            ),
        ),
        migrations.AddField(
            model_name="preferences",
            name="temperature_unit",
            field=models.CharField(
                choices=[("°C", "degrees Celsius"), ("°F", "degrees Fahrenheit")], default="°C", max_length=8, verbose_name="temperature"
            ),
        ),
        migrations.AddField(
            model_name="preferences",
            name="volume_unit",
            field=models.CharField(
                choices=[("L", "litre"), ("US gal", "US gallon"), ("UK gal", "imperial gallon"), ("US qt", "US quart")],
                default="L",
                max_length=8,
                verbose_name="volume",
            ),
        ),
        migrations.AlterField(
            model_name="preferences",
            name="distance_unit",
            field=models.CharField(
                choices=[("km", "kilometre"), ("mi", "mile")], default="km", max_length=8, verbose_name="distance driven"
            ),
        ),
        migrations.AlterField(
            model_name="preferences",
            name="offset_unit",
            field=models.CharField(
                choices=[("mm", "millimetre"), ("in", "inch")], default="mm", max_length=8, verbose_name="offset, bore and bolt circle"
            ),
        ),
        migrations.AlterField(
            model_name="preferences",
            name="pressure_unit",
            field=models.CharField(
                choices=[("bar", "bar"), ("psi", "psi"), ("kPa", "kilopascal")], default="bar", max_length=8, verbose_name="pressure"
            ),
        ),
        migrations.AddConstraint(
            model_name="driveline",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("wanted_rpm__isnull", True), models.Q(("wanted_rpm__gte", 300), ("wanted_rpm__lte", 30000)), _connector="OR"
                ),
                name="driveline_wanted",
            ),
        ),
        migrations.AddConstraint(
            model_name="driveline",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("cruise_kmh__isnull", True), models.Q(("cruise_kmh__gte", 1), ("cruise_kmh__lte", 400)), _connector="OR"
                ),
                name="driveline_cruise",
            ),
        ),
        # who reads inches, pounds and miles gets the rest of them; plain SQL, so that no state of all models is rendered for it
        migrations.RunSQL(
            "UPDATE garage_preferences SET temperature_unit = '°F', power_unit = 'hp', volume_unit = 'US gal', fuel_unit = 'mpg US', "
            "rate_unit = 'lbf/in', force_unit = 'lbf' WHERE length_unit = 'in' AND mass_unit = 'lb' AND speed_unit = 'mph'",
            migrations.RunSQL.noop,
        ),
    ]
