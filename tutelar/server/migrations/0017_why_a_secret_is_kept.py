"""A weak secret is kept with a reason; equal ones are noticed; what is left open says why."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0016_typed_at_the_bench")]

    operations = [
        migrations.AddField("secret", "reason", models.CharField(max_length=300, default="")),
        migrations.AddField("secret", "alike", models.CharField(max_length=64, default="")),
        migrations.CreateModel(
            name="OpenSlot",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("device_key", models.CharField(max_length=80)),
                ("slot", models.CharField(max_length=20)),
                ("reason", models.CharField(max_length=300)),
                ("by", models.CharField(max_length=150)),
                ("at", models.DateTimeField(auto_now=True)),
                (
                    "site",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="tutelar.site"),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("site", "device_key", "slot"), name="one_reason_an_open_slot")
                ]
            },
        ),
    ]
