from django.db import migrations, models

from tutelar.server.store import append_only


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0010_index_named_anew")]

    operations = [
        migrations.RenameModel("Took", "StepDuration"),
        migrations.RenameModel("Typed", "ValueTick"),
        migrations.RenameModel("Telling", "PendingUpdate"),
        migrations.RenameModel("Refusals", "FailedLogins"),
        migrations.AddField("event", "right", models.CharField(max_length=20, default="")),
        migrations.AddField("event", "origin", models.CharField(max_length=10, default="")),
        # SQLite makes a table anew for a column, and its triggers are gone with the old one
        migrations.RunPython(append_only.guarded, migrations.RunPython.noop),
    ]
