"""The oldest account set Elder up, so it keeps the installation."""

from django.db import migrations


def keeper(apps, schema_editor):
    people = apps.get_model("garden", "Person").objects.filter(is_active=True).order_by("pk")
    first = people.first()
    if first and not people.filter(is_staff=True).exists():
        people.filter(pk=first.pk).update(is_staff=True)


class Migration(migrations.Migration):
    dependencies = [("garden", "0013_helper_words")]
    operations = [migrations.RunPython(keeper, migrations.RunPython.noop)]
