"""A reading says where it was measured; the demo is a site to practise on."""

from django.db import migrations, models


def forwards(apps, schema_editor):
    reading = apps.get_model("tutelar", "Reading")
    reading.objects.filter(proof__live=False).update(measured_at="pretend")
    reading.objects.filter(proof__live=True).update(measured_at="site")
    for site in apps.get_model("tutelar", "Site").objects.filter(key="brackwater"):
        site.about = {**site.about, "practice": True}
        site.save()


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0013_ticks_by_key")]

    operations = [
        migrations.AddField("reading", "measured_at", models.CharField(max_length=8, default="hand")),
        migrations.RunPython(forwards, migrations.RunPython.noop),
    ]
