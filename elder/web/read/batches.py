"""A batch reckoned for today: where it stands, what can come of it, what is due."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import cached_property, lru_cache
from typing import TYPE_CHECKING, Any

from elder.engine.batch.forecast import BatchForecast, Moves, forecast
from elder.engine.batch.history import BatchState, replay
from elder.engine.batch.history import Entry as EngineEntry
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.refusal import Refusal
from elder.engine.round.milestones import Task, due
from elder.engine.setting import Setting
from elder.engine.space.occupancy import GROWN_IN, Stay
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import climate_of, stood_at
from elder.web.read.histories import History, entries_of
from elder.web.season.models import Want

if TYPE_CHECKING:
    from collections.abc import Mapping


@dataclass(frozen=True, eq=False)
class BatchReckoning:
    """A batch, where it stands, and what can come of it."""

    row: Batch
    entries: list[Entry]  # with their people and notes; none where only the history was read
    history: History
    state: BatchState
    forecast: BatchForecast
    plant: Plant
    method: Method
    today: date
    target: date
    window: tuple[date, date] | None
    as_soon_as_safe: bool = False
    is_hardened: bool = True

    @property
    def plant_out(self) -> date:
        """When they may go out: at the gate where the want is for as soon as it is safe, else on its day."""
        return self.window[0] if self.window and self.as_soon_as_safe else self.target

    @cached_property
    def tasks(self) -> list[Task]:
        """What is due, soonest first."""
        early, late = self.plant.harvest_early_days, self.plant.harvest_late_days
        return due(
            self.state,
            self.forecast,
            self.method,
            plant_out=self.plant_out,
            set_out=self.window is not None,
            harden=self.is_hardened,
            harvest_days=round((early * late) ** 0.5),
        )

    @property
    def stays(self) -> tuple[Stay, ...]:
        """Where it stands from today: those not yet rooted in their containers, the others in pots."""
        if self.state.over:
            return ()
        return batch_stays(self)

    def place_id(self, stage: str) -> int:
        """Where those of a stage stand: in the rooting place until potted, then the growing place, unless moved."""
        kind = "waiting" if stage in ("waiting", "rooted") else "potted"
        moved = [move for move in self.state.moves if move.stage == kind]
        if moved:
            return int(moved[-1].place)
        return self.row.rooting_place_id if kind == "waiting" else self.row.growing_place_id

    @property
    def age(self) -> int:
        """Days since the cut."""
        return (self.today - self.state.taken_on).days


def batch_stays(batch: BatchReckoning) -> tuple[Stay, ...]:
    """A living batch's stays from today on."""
    state, today = batch.state, batch.today
    out = max(batch.target, today)
    waiting = state.count("waiting") + state.count("rooted")
    stays = []
    if waiting:
        give_up = batch.forecast.give_up_on or out
        last = out if batch.method.direct else max(min(give_up, out), today)
        stays.append(Stay(batch.place_id("waiting"), batch.method.container, today, last, waiting))
    potted = state.count("potted") + state.count("hardening")
    if potted and not batch.method.direct:
        stays.append(Stay(batch.place_id("potted"), GROWN_IN, today, out, potted))
    return tuple(stays)


def reckon_batch(
    batch: Batch, garden: Garden, today: date, *, want: Want | None, history: History | None = None
) -> BatchReckoning:
    """Reckon one batch from its history, as read already or from its entries. A history that does not add up is a
    bug: entries are checked first."""
    entries = list(batch.entries.all()) if history is None else []
    history = history or History(tuple(entries_of(entries)), max(entry.pk for entry in entries))
    plant, method = way_of(batch)
    kept = batch.plan.get("window")
    winter = want is not None and want.purpose == Want.Purpose.WINTER
    places = stood_at(batch.rooting_place), stood_at(batch.growing_place)
    moves = _moves(history.entries, garden)
    state, ahead = _forecast(
        history, plant, method, climate_of(garden), *places, today=today, harden=not winter, moves=moves
    )
    target = want.settled_by if want and want.settled_by else date.fromisoformat(batch.plan["target"])
    return BatchReckoning(
        row=batch,
        entries=entries,
        history=history,
        state=state,
        forecast=ahead,
        plant=plant,
        method=method,
        today=today,
        target=target,
        window=(date.fromisoformat(kept[0]), date.fromisoformat(kept[1])) if kept else None,
        as_soon_as_safe=want is not None and want.by is None,
        is_hardened=not winter,
    )


def way_of(batch: Batch) -> tuple[Plant, Method]:
    """A batch's plant, as its method grows it, and the method."""
    method = handbook()[batch.plant].method(batch.method)
    return handbook()[batch.plant].grown_by(method), method


def places_of(garden: Garden) -> Mapping[int, Place]:
    """The garden's places by key, asked for once a request."""
    kept: Any = garden
    if not hasattr(kept, "_places_by_pk"):
        kept._places_by_pk = {place.pk: place for place in garden.places.all()}
    found: dict[int, Place] = kept._places_by_pk
    return found


def _moves(history: tuple[EngineEntry, ...], garden: Garden) -> tuple[Moves, Moves]:
    """Where those waiting, and those potted, were carried, and when. Struck moves count for nothing."""
    struck = {entry.strikes for entry in history if entry.strikes}
    moved = [entry for entry in history if entry.kind == "moved" and entry.key not in struck]
    if not moved:
        return (), ()
    places = places_of(garden)

    def of(stage: str) -> Moves:
        steps = sorted((entry for entry in moved if entry.stage == stage), key=lambda entry: entry.on)
        return tuple((entry.on, stood_at(places[int(entry.place)])) for entry in steps)

    return of("waiting"), of("potted")


@lru_cache(maxsize=1024)
def _forecast(
    history: History,
    plant: Plant,
    method: Method,
    climate: Climate,
    rooting: EnginePlace,
    growing: EnginePlace,
    *,
    today: date,
    harden: bool,
    moves: tuple[Moves, Moves] = ((), ()),
) -> tuple[BatchState, BatchForecast]:
    """A history's state and its forecast."""
    state = replay(history.entries, today=today)
    if isinstance(state, Refusal):
        raise ValueError(f"a history that was checked does not add up: {state}")
    ahead = forecast(
        state,
        Setting(plant, method, climate, rooting, growing, today),
        moves=Moves(rooting=moves[0], growing=moves[1]),
        harden=harden,
    )
    return state, ahead


def forecast_if_moved(batch: BatchReckoning, garden: Garden, place: Place) -> BatchForecast:
    """The forecast of a batch if those still waiting were carried to another place today."""
    rooting, growing = _moves(batch.history.entries, garden)
    here = stood_at(batch.row.rooting_place), stood_at(batch.row.growing_place)
    return forecast(
        batch.state,
        Setting(batch.plant, batch.method, climate_of(garden), *here, batch.today),
        moves=Moves(rooting=(*rooting, (batch.today, stood_at(place))), growing=growing),
        harden=batch.is_hardened,
    )


def loose_stays(garden: Garden, today: date) -> dict[Any, tuple[Stay, ...]]:
    """Where living batches stand that no open want speaks for, by the batch: they take room all the same."""
    rows = (
        Batch.objects.filter(garden=garden, over_on=None)
        .exclude(want__in=Want.objects.filter(garden=garden, closed_on=None))
        .select_related("want", "rooting_place", "growing_place")
        .prefetch_related("entries")
    )
    found = {row: reckon_batch(row, garden, today, want=row.want) for row in rows}
    return {("batch", row.pk): item.stays for row, item in found.items() if item.stays}
