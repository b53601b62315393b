"""Stock rows to engine values, and nothing else."""

from __future__ import annotations

from datetime import date

from elder.engine.batch.history import retold
from elder.engine.handbook.loading import handbook
from elder.engine.mother.lineage import Family, Member, Took
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.read.histories import histories_of
from elder.web.stock.models import StockPlant

NAMED = "named:"  # the key of a mother known by name alone


def family_of(garden: Garden, today: date, *, plant: str = "") -> Family:
    """A garden's families, of one plant or of all. Mothers that are only a name on a batch stand in it by that name."""
    mothers = StockPlant.objects.filter(garden=garden).select_related("place").prefetch_related("looks")
    batches = Batch.objects.filter(garden=garden).select_related("rooting_place", "growing_place")
    if plant:
        mothers, batches = mothers.filter(plant=plant), batches.filter(plant=plant)
    histories = histories_of(Entry.objects.filter(batch__in=batches))
    takes: list[Took] = []
    named: dict[str, Member] = {}
    for batch in batches:
        if batch.pk not in histories:
            continue
        route = handbook()[batch.plant].method(batch.method).route
        state = retold(histories[batch.pk].entries, route)
        key = str(batch.mother_id) if batch.mother_id else f"{NAMED}{batch.plant}:{batch.stock_plant}"
        if not batch.mother_id:
            first = named.get(key)
            since = min(state.taken_on, first.since) if first else state.taken_on
            named[key] = Member(key, batch.stock_plant, since)
        place = batch.growing_place if state.count("potted") else batch.rooting_place
        in_row = route.lifted and not any(lot.grown for lot in state.lots.get("planted", ()))
        out = "lined out" if in_row else "planted out"
        where = out if state.count("planted") else place.name
        where = where if state.living else ""
        counts = {"taken": state.taken, "lost": state.lost, "given": state.given, "living": state.living}
        takes.append(Took(str(batch.pk), key, state.taken_on, where=where, name=batch.variety, **counts))
    started = {take.key: take.on for take in takes}
    members = [_member(row, started, today) for row in mothers]
    return Family([*members, *named.values()], takes)


def _member(row: StockPlant, started: dict[str, date], today: date) -> Member:
    looks = list(row.looks.all())
    from_take = str(row.raised_from_id) if str(row.raised_from_id) in started else None
    since = row.since or (looks[0].on if looks else started.get(from_take or "", today))
    if from_take:
        since = max(since, started[from_take])
    where = row.place.name if row.place else ""
    return Member(str(row.pk), row.name, since, row.ended_on, from_take, where, looks[-1].health if looks else "well")
