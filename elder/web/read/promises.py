"""What is promised, reckoned for today: how sure each promise is, what it is served from, what stands to be handed
over."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Final

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from elder.engine.chance.counting import left_after
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property
from elder.engine.year.promises import Holding, Spare, holding, surely, to_reserve
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.passing.models import Handing, Promise
from elder.web.read.batches import BatchToday, batch_today
from elder.web.read.gardens import stands_at
from elder.web.read.mothers import Known, known
from elder.web.read.shortfall import chance_word
from elder.web.read.there import has_any
from elder.web.read.want_rows import WITH_BATCHES, batches_of, served_before
from elder.web.read.wants import Reckoning, reckon
from elder.web.season.models import Want

STANDING: Final = {
    Want.HandedAs.PLANTS: ("hardening", "potted"),
    Want.HandedAs.ROOTED: ("rooted", "potted", "hardening"),
    Want.HandedAs.UNROOTED: (),
}
PROMISE_BYTES: Final = 40_000  # of a promise, its want's batches among it (measured, rounded)
GONE: Final = ("planted",)


@dataclass(frozen=True, eq=False)
class StandsFor:
    """What a batch has for a promise today: so many that could go, of its own want or lent by another; ``before``: so
    many of it go to wants that are served first."""

    batch: BatchToday
    now: int
    lent: bool
    before: int = 0

    def surely(self, day: date, sure: float) -> int:
        """How many of it are for the promise by a day, as surely as was asked."""
        return surely([left_after(self.batch.forecast.ready_on(day), self.before)], sure)


@dataclass(frozen=True, eq=False)
class PromiseToday:
    """A promise as it stands today. ``mothers``: of an unrooted one, who gives how many."""

    row: Promise
    plant: Plant
    method: Method
    today: date
    reckoning: Reckoning | None
    standings: tuple[StandsFor, ...]
    mothers: tuple[Known, ...] = ()

    @property
    def want(self) -> Want:
        """What it is grown by."""
        return self.row.want

    @property
    def by(self) -> date:
        """The day it is promised for."""
        return self.want.by or self.today

    @property
    def is_unrooted(self) -> bool:
        """Whether it goes fresh from the cut."""
        return self.want.handed_as == Want.HandedAs.UNROOTED

    @property
    def own(self) -> int:
        """How many are kept for oneself."""
        return self.want.spares

    @property
    def now(self) -> int:
        """How many could go today: of what stands; of an unrooted one, what the mothers give."""
        if self.is_unrooted:
            return sum(one.now for one in self.mothers)
        return sum(one.now for one in self.standings)

    @cached_property
    def kept(self) -> Holding | None:
        """How sure it is, of what is cut; ``None`` where nothing is cut yet, or nothing need be."""
        reckoning = self.reckoning
        if reckoning is None or not reckoning.batches:
            return None
        pmfs = reckoning.pmfs_on(max(self.by, self.today))
        return holding(pmfs, self.want.wanted, self.own, self.want.confidence)

    @property
    def chance(self) -> float:
        """The chance of all of it and of one's own: of what is cut, else of the plan."""
        if self.kept:
            return self.kept.chance
        return self.reckoning.chance if self.reckoning else float(self.now >= self.row.left)

    @property
    def short(self) -> int:
        """How many fewer come, as surely as was asked, than are promised: nought where it is as sure as that."""
        if self.word not in ("short", "tight", "refused"):
            return 0
        if self.kept is None:  # nothing is raised for it, or nothing can be
            return max(self.row.left - self.now, 0)
        return max(self.want.wanted - self.kept.sure, 0)

    @property
    def word(self) -> str:
        """How it stands: done, ready, refused, to-cut, on-course, tight or short."""
        if self.row.over_on or not self.row.left:
            return "done"
        if self.now >= self.row.left:
            return "ready"
        if self.is_unrooted:
            return "short"
        if self.reckoning is None or not self.reckoning.batches:
            return "refused" if self.reckoning and self.reckoning.refusal else "to-cut"
        return chance_word(self.chance, self.want.confidence)

    @property
    def cut_by(self) -> tuple[int, date] | None:
        """How many to cut for it and on which day, where nothing is cut yet."""
        found = self.reckoning
        if found is None or found.batches or found.option is None or not found.to_cut:
            return None
        return found.to_cut, found.option.day


def promise_rows(garden: Garden) -> QuerySet[Promise]:
    """A garden's promises with all that is asked of them, in the same few queries whatever their number."""
    joined = ("want__rooting_place", "want__growing_place", "want__mother__place")
    wanted = [f"want__{name}" for name in ("mother__looks", *WITH_BATCHES)]
    return Promise.objects.filter(garden=garden).select_related(*joined).prefetch_related("handings", *wanted)


def promise_row(garden: Garden, promise_id: int) -> Promise:
    """A promise of the garden. Raises Http404 for one that is not there."""
    return get_object_or_404(promise_rows(garden), pk=promise_id)


def promise_today(row: Promise, garden: Garden, today: date, every: list[Known] | None = None) -> PromiseToday:
    """A promise reckoned. ``every``: the garden's mothers, where they are known already."""
    want = row.want
    plant = handbook()[want.plant]
    method = plant.method(want.method)
    if want.handed_as == Want.HandedAs.UNROOTED:
        return PromiseToday(row, plant, method, today, None, (), tuple(giving_now(want, garden, today, every)))
    reckoning = reckon(want, garden, today, batches=batches_of(want) if want.pk else [])
    return PromiseToday(row, plant, method, today, reckoning, tuple(_standings(reckoning)))


def giving_now(want: Want, garden: Garden, today: date, every: list[Known] | None) -> Iterable[Known]:
    """The mothers of what is promised unrooted that give any today."""
    for one in every if every is not None else known(garden, today):
        same = one.row.plant == want.plant and one.row.variety.lower() == want.variety.lower()
        if same and one.row.ended_on is None and one.now:
            yield one


def _standings(reckoning: Reckoning) -> Iterable[StandsFor]:
    """What each batch has to hand over: what stands, less what others served before it are still to have of it."""
    stages = STANDING[Want.HandedAs(reckoning.row.handed_as)]
    for batch, before in zip(reckoning.batches, reckoning.served_before, strict=True):
        state = batch.state
        here = sum(state.count(stage) for stage in stages)
        gone = sum(state.count(stage) for stage in GONE) + state.given
        owed = max(before - gone, 0)
        yield StandsFor(batch, max(here - owed, 0), batch.row.want_id != reckoning.row.pk, before)


def open_promises(garden: Garden, today: date, every: list[Known] | None = None) -> list[PromiseToday]:
    """Every promise that is not kept yet, the soonest first; made once as the garden stands."""
    return once_looking(garden, ("promises", today), lambda: _open_promises(garden, today, every), each=PROMISE_BYTES)


def _open_promises(garden: Garden, today: date, every: list[Known] | None) -> list[PromiseToday]:
    rows = promise_rows(garden).filter(over_on=None) if has_any(garden, Promise) else []
    found = [promise_today(row, garden, today, every) for row in rows]
    return sorted(found, key=lambda one: (one.by, one.row.pk))


def handings_of(garden: Garden) -> list[Handing]:
    """Everything a garden has handed over for promises, the newest first."""
    rows = Handing.objects.filter(promise__garden=garden).select_related("promise__want")
    return list(rows.order_by("-on", "-pk"))


def could_reserve(found: PromiseToday, garden: Garden) -> tuple[list[tuple[BatchToday, Spare]], set[object]]:
    """Other batches of the plant with what each has to spare by the day, and which of them Elder would reserve."""
    reckoning, want = found.reckoning, found.want
    if reckoning is None:
        return [], set()
    taken = {batch.row.pk for batch in reckoning.batches}
    rows = Batch.objects.filter(garden=garden, plant=want.plant, over_on=None).exclude(pk__in=taken)
    rows = rows.select_related("want", "mother").prefetch_related("also_for")
    same = [row for row in rows if _is_same(row, want)]
    spares = []
    for row in same:
        stands_at(row, garden)
        batch = batch_today(row, garden, found.today, want=row.want)
        counts = left_after(batch.forecast.ready_on(max(found.by, found.today)), served_before(row, want))
        spares.append((batch, Spare(row.pk, counts)))
    spares = [(batch, spare) for batch, spare in spares if spare.expected >= 0.5]
    have = reckoning.pmfs_on(max(found.by, found.today)) if reckoning.batches else []
    advised = to_reserve(have, [spare for _, spare in spares], want.total, want.confidence)
    return spares, {one.key for one in advised}


def _is_same(row: Batch, want: Want) -> bool:
    return row.variety.strip().lower() == want.variety.strip().lower()
