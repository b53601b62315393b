"""How much a place holds is its capacity; a room is a part of Elder."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("garden", "0003_rounds")]

    operations = [migrations.RenameField("place", "room", "capacity")]
