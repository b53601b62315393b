"""Each garden has a stamp of its own, another with each press."""

import uuid

from django.db import migrations, models


def stamped(apps, schema_editor):
    """A default is worked out once for all rows: each garden gets one of its own."""
    for garden in apps.get_model("garden", "Garden").objects.all():
        garden.stamp = uuid.uuid4()
        garden.save(update_fields=["stamp"])


class Migration(migrations.Migration):
    dependencies = [("garden", "0015_invitation")]

    operations = [
        migrations.AddField("garden", "stamp", models.UUIDField(default=uuid.uuid4, editable=False)),
        migrations.RunPython(stamped, migrations.RunPython.noop),
    ]
