"""Sessions are kept under the hash of their key from now on; those of before stood in clear and end here."""

from django.db import migrations


def forwards(apps, schema_editor):
    apps.get_model("sessions", "Session").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0014_where_it_was_measured"), ("sessions", "0001_initial")]

    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
