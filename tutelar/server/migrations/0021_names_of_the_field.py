"""Names that say what a column holds."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """Renames columns; nothing of what they hold changes."""

    dependencies = [("tutelar", "0020_removed_sites")]
    operations = [
        migrations.RenameField("site", "stamp", "version_token"),
        migrations.RenameField("site", "rest", "extra"),
        migrations.RenameField("network", "rest", "extra"),
        migrations.RenameField("devicemodel", "rest", "extra"),
        migrations.RenameField("device", "rest", "extra"),
        migrations.RenameField("link", "rest", "extra"),
        migrations.RenameField("benchrun", "hands", "technicians"),
        migrations.RenameField("benchrun", "planned_hands", "planned_technicians"),
        migrations.RenameField("benchrun", "aside", "set_aside"),
        migrations.RemoveConstraint("pendingupdate", "told_once_at_a_time"),
        migrations.RenameField("pendingupdate", "what", "code"),
        migrations.AddConstraint(
            "pendingupdate",
            models.UniqueConstraint(
                fields=("device", "about", "code"),
                condition=models.Q(done_at__isnull=True),
                name="told_once_at_a_time",
            ),
        ),
    ]
