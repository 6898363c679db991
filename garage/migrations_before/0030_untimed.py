from django.db import migrations, models

CODES = ["EUR", "GBP", "USD", "CHF", "SEK", "NOK", "PLN", "AUD", "CAD", "DKK", "CZK", "HUF", "JPY", "NZD"]


def nought_was_untimed(apps, schema_editor):
    """Nought stood for an item that nobody had timed."""
    apps.get_model("garage", "MassItem").objects.filter(minutes=0).update(minutes=None)


def back_to_nought(apps, schema_editor):
    apps.get_model("garage", "MassItem").objects.filter(minutes=None).update(minutes=0)


class Migration(migrations.Migration):
    dependencies = [
        ("garage", "0029_alignment_aims"),
    ]

    operations = [
        migrations.AlterField(
            model_name="car",
            name="currency",
            field=models.CharField(choices=[(code, code) for code in CODES], default="EUR", max_length=3),
        ),
        migrations.AlterField(
            model_name="massitem",
            name="minutes",
            field=models.FloatField(blank=True, null=True, verbose_name="minutes it takes"),
        ),
        migrations.RunPython(nought_was_untimed, back_to_nought),
    ]
