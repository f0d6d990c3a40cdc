import tutelar.server.models.fields
from django.db import migrations, models


def as_written(apps, editor):
    """Let PostgreSQL keep documents as text; with SQLite they always were, and its tables stay as they are."""
    if editor.connection.vendor != "postgresql":
        return
    with editor.connection.cursor() as cursor:
        cursor.execute(
            "SELECT table_name, column_name FROM information_schema.columns "
            "WHERE table_schema = current_schema() AND table_name LIKE 'tutelar\\_%' AND data_type = 'jsonb'"
        )
        for table, column in cursor.fetchall():
            cursor.execute(f'ALTER TABLE "{table}" ALTER COLUMN "{column}" TYPE json')
    # made when every device said how it is addressed: an address of one that says nothing must be its own too
    device = apps.get_model("tutelar", "Device")
    for constraint in device._meta.constraints:
        if constraint.name.startswith("one_device_an_address"):
            editor.remove_constraint(device, constraint)
            editor.add_constraint(device, constraint)


class Migration(migrations.Migration):

    dependencies = [
        ('tutelar', '0028_people_and_guests'),
    ]

    operations = [
        migrations.RunPython(as_written, migrations.RunPython.noop),
        migrations.SeparateDatabaseAndState(
            state_operations=[
            migrations.AlterField(
                model_name='authority',
                name='networks',
                field=tutelar.server.models.fields.DocumentField(),
            ),
            migrations.AlterField(
                model_name='benchrun',
                name='order',
                field=tutelar.server.models.fields.DocumentField(default=list),
            ),
            migrations.AlterField(
                model_name='benchrun',
                name='set_aside',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='case',
                name='cause',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='case',
                name='hidden',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='case',
                name='score',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='case',
                name='seen',
                field=tutelar.server.models.fields.DocumentField(default=list),
            ),
            migrations.AlterField(
                model_name='device',
                name='extra',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='device',
                name='planned',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='devicemodel',
                name='extra',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='event',
                name='after',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='event',
                name='before',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='firmcards',
                name='file',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='lesson',
                name='answers',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='lesson',
                name='laid',
                field=tutelar.server.models.fields.DocumentField(),
            ),
            migrations.AlterField(
                model_name='lesson',
                name='score',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='link',
                name='extra',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='network',
                name='extra',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='pretend',
                name='targets',
                field=tutelar.server.models.fields.DocumentField(),
            ),
            migrations.AlterField(
                model_name='profile',
                name='part',
                field=tutelar.server.models.fields.DocumentField(),
            ),
            migrations.AlterField(
                model_name='proof',
                name='checks',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='proof',
                name='faults',
                field=tutelar.server.models.fields.DocumentField(default=list),
            ),
            migrations.AlterField(
                model_name='proof',
                name='only',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='reading',
                name='basis',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='reading',
                name='extra',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='reading',
                name='values',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='secondfactor',
                name='recovery',
                field=tutelar.server.models.fields.DocumentField(default=list),
            ),
            migrations.AlterField(
                model_name='site',
                name='about',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='site',
                name='doors',
                field=tutelar.server.models.fields.DocumentField(default=list),
            ),
            migrations.AlterField(
                model_name='site',
                name='exceptions',
                field=tutelar.server.models.fields.DocumentField(default=list),
            ),
            migrations.AlterField(
                model_name='site',
                name='extra',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='site',
                name='internet',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='site',
                name='policy',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='site',
                name='survey',
                field=tutelar.server.models.fields.DocumentField(default=dict),
            ),
            migrations.AlterField(
                model_name='steprecord',
                name='adapter',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            migrations.AlterField(
                model_name='steprecord',
                name='typed',
                field=tutelar.server.models.fields.DocumentField(null=True),
            ),
            ],
        ),
    ]
