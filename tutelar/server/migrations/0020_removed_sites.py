"""A site that is removed is kept for a while."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0019_lines_of_one_deed")]

    operations = [
        migrations.AddField("site", "removed_at", models.DateTimeField(null=True)),
        migrations.AddField("site", "removed_by", models.CharField(max_length=150, default="")),
    ]
