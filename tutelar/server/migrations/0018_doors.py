"""A site has doors, each with a key; those that its survey told of as escape doors are drawn, with their tests."""

from django.db import migrations, models

from tutelar.core.doors import as_told
from tutelar.core.site.writing import as_document


def draw(apps, _schema):
    for site in apps.get_model("tutelar", "Site").objects.all():
        told = site.survey.get("escape_doors") or []
        if not told:
            continue
        site.doors = [as_document(door) for door in as_told((), told)]
        site.save(update_fields=["doors"])
        keys = {door["name"]: door["key"] for door in site.doors}
        for reading in apps.get_model("tutelar", "Reading").objects.filter(site=site, check_name="egress"):
            basis = dict(reading.basis or {})
            key = keys.get(basis.pop("doors", None))  # one that was about several doors at once proves none of them
            if key is not None:
                reading.check_name, reading.basis = f"door.{key}.egress", {"door": key, **basis}
                reading.save(update_fields=["check_name", "basis"])


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0017_why_a_secret_is_kept")]

    operations = [
        migrations.AddField("site", "doors", models.JSONField(default=list)),
        migrations.RunPython(draw, migrations.RunPython.noop),
    ]
