"""Lines of the log that one deed wrote stand under its own line."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0018_doors")]

    operations = [migrations.AddField("event", "part_of", models.PositiveBigIntegerField(null=True, db_index=True))]
