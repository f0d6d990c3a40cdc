"""Ticks of what is compared were kept by labels; they are kept by keys."""

from django.db import migrations

KEYS = {
    "connect:Serial number": "connect:serial",
    "connect:Hardware address": "connect:mac",
    "connect:Place": "connect:place",
    "confirm:Address": "confirm:address",
    "confirm:Device name": "confirm:name",
    "Laptop address": "laptop-address",
    "Laptop mask": "laptop-mask",
}


def forwards(apps, schema_editor):
    for before, after in KEYS.items():
        apps.get_model("tutelar", "ValueTick").objects.filter(line=before).update(line=after)


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0012_readings_as_values")]

    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
