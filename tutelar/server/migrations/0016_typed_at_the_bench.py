"""What was typed into a device is kept with its bench step; a run keeps for how many it was planned."""

from django.db import migrations, models


def forwards(apps, schema_editor):
    apps.get_model("tutelar", "BenchRun").objects.update(planned_hands=models.F("hands"))


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0015_sessions_under_hashes")]

    operations = [
        migrations.AddField("steprecord", "typed", models.JSONField(null=True)),
        migrations.AddField("benchrun", "planned_hands", models.PositiveIntegerField(default=1)),
        migrations.RunPython(forwards, migrations.RunPython.noop),
    ]
