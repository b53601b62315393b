"""The ways back from what is done to batches: always by new entries, or by forgetting a taking nothing stands on."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person
from elder.web.garden.undo import Asked, Told, Undo, Undone, takes_back
from elder.web.say.refusals import refusal_words


def striking(entries: Iterable[Entry], garden: Garden, to: str = "round", *parts: int) -> str:
    """The way back from entries just written, offered: they are struck, all or none. Nothing for none written."""
    written = [entry.pk for entry in entries if entry.pk]
    return Undo("entries", {"entries": written, "to": to, "parts": list(parts)}).offered(garden) if written else ""


@takes_back("entries", verb="tend")
def strike_entries(asked: Asked) -> Undone:
    """Strike the entries just written, all or none."""
    to, parts = asked.text("to"), tuple(asked.numbers("parts"))
    refused = strike_all(asked.garden, asked.numbers("entries"), today=asked.today, person=asked.person)
    if refused:
        return Undone(f"It cannot be undone any more: {refusal_words(refused, asked.today)}", to, parts, held=True)
    return Undone("Undone. The struck lines stay in the history.", to, parts)


@transaction.atomic
def strike_all(garden: Garden, ids: Sequence[int], *, today: date, person: Person) -> Refusal | None:
    """Strike entries of any batches of a garden, all or none; why they could not be, where they could not."""
    found = Entry.objects.filter(batch__garden=garden, pk__in=ids).select_related("batch").order_by("batch_id", "-pk")
    for entry in list(found):
        strike = Entry(kind=Entry.Kind.STRUCK, on=entry.on, strikes=entry)
        done = actions.add_entries(entry.batch, [strike], today=today, person=person)
        if isinstance(done, Refusal):
            transaction.set_rollback(True)
            return done
    return None


def restoring(correction: Entry, garden: Garden) -> str:
    """The way back from a correction, offered; nothing where it was written before."""
    return Undo("correction", {"entry": correction.pk}).offered(garden) if correction.pk else ""


@takes_back("correction", verb="tend")
def restore(asked: Asked) -> Undone:
    """What a correction struck is written anew, in its place."""
    rows = Entry.objects.filter(batch__garden=asked.garden, strikes__isnull=False).select_related("batch", "strikes")
    entry = get_object_or_404(rows, pk=asked.number("entry"))
    done = actions.restore_entry(entry, today=asked.today, person=asked.person)
    if isinstance(done, Refusal):
        said = f"It cannot be undone any more: {refusal_words(done, asked.today)}"
        return Undone(said, "batch", (entry.batch_id,), held=True)
    return Undone("Undone: it stands as it did.", "batch", (entry.batch_id,))


def untaking(batches: Batch | Sequence[Batch], garden: Garden, *, with_want: bool = False) -> str:
    """The way back from a taking, of one batch or of one from each of several mothers, offered; ``with_want``: and
    from the want that was made with it."""
    several = [batches] if isinstance(batches, Batch) else list(batches)
    told: dict[str, Told] = {"batch": several[0].pk, "more": [one.pk for one in several[1:]], "with_want": with_want}
    return Undo("taken", told).offered(garden)


@takes_back("taken", verb="tend")
def untake(asked: Asked) -> Undone:
    """Forget the taking of a batch, as long as nothing else was written down for it."""
    batch = get_object_or_404(Batch, pk=asked.number("batch"), garden=asked.garden)
    more = list(Batch.objects.filter(pk__in=asked.numbers("more"), garden=asked.garden))
    want, with_want = batch.want, bool(asked.told.get("with_want"))
    with transaction.atomic():
        done = all(actions.untake(one, with_want=with_want) for one in (*more, batch))
        if not done:
            transaction.set_rollback(True)
    if not done:
        said = "It cannot be undone any more: something was written down for it since."
        return Undone(said, "batch", (asked.number("batch"),), held=True)
    said = "Undone: that batch was never taken."
    if want is None or want.pk is None or with_want:
        return Undone(said, "batches")
    return Undone(said, "want", (want.pk,))
