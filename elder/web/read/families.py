"""Stock rows to engine values, and nothing else."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from elder.engine.handbook.loading import handbook
from elder.engine.mother.lineage import Family, Member, Took
from elder.web.batches.models import Batch
from elder.web.formats.plant_file import Ancestor, line_read
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.gardens import places_of
from elder.web.read.histories import histories_here, state_of
from elder.web.stock.models import StockPlant

NAMED = "named:"  # the key of a mother known by name alone
FAR = "far:"  # of one of another garden, whose line came along


def family_of(garden: Garden, today: date, *, plant: str = "") -> Family:
    """A garden's families, of one plant or of all; made once as it stands. Mothers that are only a name on a batch
    stand in it by that name."""
    return once_looking(garden, ("family", today, plant), lambda: _family_of(garden, today, plant))


def _family_of(garden: Garden, today: date, plant: str) -> Family:
    mothers = StockPlant.objects.filter(garden=garden).select_related("place", "heritage").prefetch_related("looks")
    batches = Batch.objects.filter(garden=garden).defer("plan", "condition", "treatment")
    if plant:
        mothers, batches = mothers.filter(plant=plant), batches.filter(plant=plant)
    histories, places = histories_here(garden), places_of(garden)
    takes: list[Took] = []
    named: dict[str, Member] = {}
    for batch in batches:
        if batch.pk not in histories:
            continue
        route = handbook()[batch.plant].method(batch.method).route
        state = state_of(histories[batch.pk], route)
        key = str(batch.mother_id) if batch.mother_id else named_key(batch)
        if not batch.mother_id:
            first = named.get(key)
            since = min(state.taken_on, first.since) if first else state.taken_on
            named[key] = Member(key, batch.stock_plant, since)
        place = places[batch.growing_place_id if state.count("potted") else batch.rooting_place_id]
        in_row = route.lifted and not any(lot.grown for lot in state.lots.get("planted", ()))
        out = "lined out" if in_row else "planted out"
        where = out if state.count("planted") else place.name
        where = where if state.living else ""
        counts = {"taken": state.taken, "lost": state.lost, "given": state.given, "living": state.living}
        takes.append(Took(str(batch.pk), key, state.taken_on, where=where, name=batch.variety, **counts))
    started = {take.key: take.on for take in takes}
    far: list[Member] = []
    for row in mothers:
        above, cuts = far_members(row, ancestors_of(row), today)
        far, takes = [*far, *above], [*takes, *cuts]
    started |= {take.key: take.on for take in takes}
    members = [_member(row, started, today) for row in mothers]
    return Family([*members, *far, *named.values()], takes)


def named_key(batch: Batch) -> str:
    """What a mother that is only a name on a batch is called in a family."""
    return f"{NAMED}{batch.plant}:{batch.stock_plant}"


def _member(row: StockPlant, started: dict[str, date], today: date) -> Member:
    looks = list(row.looks.all())
    brought = far_key(row, 0)
    from_take = next((one for one in (str(row.raised_from_id), brought) if one in started), None)
    since = row.since or (looks[0].on if looks else started.get(from_take or "", today))
    if from_take:
        since = max(since, started[from_take])
    where = row.place.name if row.place else ""
    return Member(str(row.pk), row.name, since, row.ended_on, from_take, where, looks[-1].health if looks else "well")


def ancestors_of(row: StockPlant) -> Iterable[Ancestor]:
    """The line a mother brought with her; nothing for one that was always of this garden."""
    heritage = getattr(row, "heritage", None)
    return line_read(heritage.line) if heritage else ()


def far_members(row: StockPlant, line: Iterable[Ancestor], today: date) -> tuple[list[Member], list[Took]]:
    """A line brought along as members of the family: each mother, and the cut the next came from."""
    members: list[Member] = []
    takes: list[Took] = []
    several = list(line)
    latest = row.since or today
    for i, one in enumerate(several):
        on = min(one.cut_on or one.since or latest, latest)
        since = min(one.since or on, on)
        above = far_key(row, i + 1) if i + 1 < len(several) else None
        members.append(Member(far_key(row, i), one.name, since, one.ended, above, "another garden"))
        takes.append(Took(far_key(row, i), far_key(row, i), on, one.taken or 1, living=1 if i == 0 else 0))
        latest = since
    return members, takes


def far_key(row: StockPlant, i: int) -> str:
    """What a mother of another garden is called in a family."""
    return f"{FAR}{row.pk}:{i}"
