"""Says of batches already there whether, and since when, nothing is left to be done with them."""

from django.db import migrations


def say(apps, schema_editor):
    """By their histories, replayed as the engine does."""
    from elder.engine.batch.history import replay
    from elder.engine.batch.state import BatchState, Entry

    Batch = apps.get_model("batches", "Batch")
    for batch in Batch.objects.prefetch_related("entries"):
        rows = list(batch.entries.order_by("pk"))
        keys = {row.pk: str(row.key) for row in rows}
        entries = [
            Entry(str(row.key), row.kind, row.on, row.count, row.stage, row.why, keys.get(row.strikes_id, ""))
            for row in rows
        ]
        if not entries:
            continue
        state = replay(entries, today=max(entry.on for entry in entries))
        if isinstance(state, BatchState) and state.over:
            batch.over_on = state.last_entry_on
            batch.save(update_fields=["over_on"])


class Migration(migrations.Migration):
    dependencies = [("batches", "0004_rounds")]
    operations = [migrations.RunPython(say, migrations.RunPython.noop)]
