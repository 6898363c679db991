from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("garage", "0027_units_in_words")]
    operations = [
        migrations.AddField("brakes", "load_braked", models.BooleanField(default=False, verbose_name="the trailer has brakes of its own")),
    ]
