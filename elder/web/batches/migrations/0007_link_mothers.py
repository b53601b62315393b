"""Batches find the mother they name: until now that was her name as text."""

from typing import Any

from django.db import migrations


def link(apps: Any, schema_editor: Any) -> None:
    batch, mothers = apps.get_model("batches", "Batch"), apps.get_model("stock", "StockPlant")
    for mother in mothers.objects.all():
        batch.objects.filter(
            garden=mother.garden_id, stock_plant=mother.name, plant=mother.plant, mother=None
        ).update(mother=mother)


class Migration(migrations.Migration):
    dependencies = [("batches", "0006_stock_and_sheet"), ("stock", "0001_initial")]

    operations = [migrations.RunPython(link, migrations.RunPython.noop)]
