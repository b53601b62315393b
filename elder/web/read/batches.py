"""A batch reckoned for today: where it stands, what can come of it, what is due."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from typing import Final

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from elder.engine.batch.forecast import PLAIN, Aims, BatchForecast, forecast
from elder.engine.batch.history import newest_day, retold
from elder.engine.batch.settled import Settled
from elder.engine.batch.stands import Stood
from elder.engine.batch.state import BatchState
from elder.engine.batch.under_way import UnderWay
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property
from elder.engine.plan.harvest import harvest_day
from elder.engine.plan.want import UNHARDENED
from elder.engine.plan.wood import next_rest
from elder.engine.round.loads import stands
from elder.engine.round.milestones import Onward, Task, due
from elder.engine.round.potting import ready_sign
from elder.engine.setting import Setting
from elder.engine.shed.kit import USUAL, AsTreated
from elder.engine.space.occupancy import Stay
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Place
from elder.web.logbook.standing import once_looking
from elder.web.read.batch_forecasts import forecast_of, moves_in, settled_of
from elder.web.read.gardens import assumptions_of, climate_of, stands_at, stood_at
from elder.web.read.histories import History, entries_of, histories_here, state_of
from elder.web.read.kit import treated_as
from elder.web.read.records import record_of
from elder.web.read.ways import condition_of, way_of
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant

LIVING_BYTES: Final = 6_000  # of a batch with its row and what was asked of it (measured, rounded)


@dataclass(frozen=True, eq=False)
class BatchToday:
    """A batch as it stands today: its state, and what can come of it."""

    row: Batch
    garden: Garden
    entries: list[Entry]  # with their people and notes; none where only the history was read
    history: History
    state: BatchState
    plant: Plant
    method: Method
    today: date
    target: date
    window: tuple[date, date] | None
    as_soon_as_safe: bool = False
    aims: Aims = PLAIN
    treated: AsTreated = USUAL

    @cached_property
    def climate(self) -> Climate:
        """The garden's."""
        return climate_of(self.garden)

    @cached_property
    def forecast(self) -> BatchForecast:
        """What can come of it. Of one that is over nothing can any more, whatever the garden has learned since: it is
        reckoned on its own last day by what the handbook says, and then kept."""
        return self._ahead(_over_setting(self)) if self.state.over else self.evidence

    @property
    def settled(self) -> Settled:
        """What came of it, of one that is over."""
        return settled_of(self.history, self.method.route, standing=self.aims.standing)

    @cached_property
    def evidence(self) -> BatchForecast:
        """The same as one of several that share their luck: by all the garden knows, over or not."""
        return self._ahead(setting_of(self.row, self.garden, self.today))

    def _ahead(self, setting: Setting) -> BatchForecast:
        return forecast_of(
            self.history,
            setting,
            condition=condition_of(self.row),
            aims=self.aims,
            moves=moves_in(self.history.entries, self.garden),
        )

    @property
    def is_hardened(self) -> bool:
        """Whether its plants are hardened off."""
        return self.aims.harden

    @cached_property
    def stands(self) -> tuple[Stood, ...]:
        """Every container it fills today: the one figure for round, labels, weights, room and shopping."""
        return stands(self.state, self.plant, self.method, self.treated)

    @property
    def plant_out(self) -> date:
        """When they may go out: at the gate where the want is for as soon as it is safe, else on its day."""
        return self.window[0] if self.window and self.as_soon_as_safe else self.target

    @cached_property
    def tasks(self) -> list[Task]:
        """What is due, soonest first; of one that is over nothing."""
        if self.state.over:
            return []
        onward = Onward(
            plant_out=self.plant_out,
            harden_days=self.method.harden_days if self.is_hardened else 0,
            set_out=self.window is not None,
            harvest_days=self.harvest_days,
            route=self.method.route,
            lifting=self.lifting,
            ready_cm=ready_sign(self.method).cm,
        )
        tasks = due(self.state, self.forecast, onward)
        # What is promised rooted goes out of its vessel as it is: nobody pots it.
        return [task for task in tasks if not (self.aims.as_rooted and task.verb == "pot_on")]

    @property
    def lifting(self) -> tuple[date, date] | None:
        """When those lined out may be lifted: their first rest after a whole season in the row. Nothing once it is
        over: they stay where they stand."""
        if not self.method.route.lifted or not self.state.count("planted"):
            return None
        found = next_rest(self.climate, self.state.taken_on)
        return found if self.today <= found[1] else None

    @property
    def harvest_days(self) -> int:
        """Days from planting out to the first harvest, in the crop's own season."""
        out, days = self.state.since("planted") or self.target, self.plant.harvest_median_days
        return (harvest_day(self.plant, self.climate, out, days) - out).days

    @property
    def under_way(self) -> UnderWay:
        """What the round asks of it."""
        return UnderWay(self.state, self.forecast, self.plant, self.method, self.today)

    @property
    def stays(self) -> tuple[Stay, ...]:
        """Where it stands from today: those not yet rooted in their containers, the others in pots."""
        if self.state.over:
            return ()
        return batch_stays(self)

    def place_id(self, stage: str) -> int:
        """Where those of a stage stand: in the rooting place until potted, then the growing place, unless moved. What
        goes out from where it rooted stays there."""
        stays = self.method.route.stays and stage != "potted"
        kind = "waiting" if stays or stage in ("waiting", "rooted") else "potted"
        moved = [move for move in self.state.moves if move.stage == kind]
        if moved:
            return int(moved[-1].place)
        return self.row.rooting_place_id if kind == "waiting" else self.row.growing_place_id

    @property
    def age(self) -> int:
        """Days since the cut."""
        return (self.today - self.state.taken_on).days


def batch_stays(batch: BatchToday) -> tuple[Stay, ...]:
    """A living batch's stays from today on."""
    state, today = batch.state, batch.today
    out, route = max(batch.target, today), batch.method.route
    give_up = batch.forecast.give_up_on or out
    last = out if route.stays else max(min(give_up, out), today)
    stays = []
    for one in batch.stands:
        stuck = one.stage == "stuck"
        place = batch.place_id("waiting" if stuck else "potted")
        stays.append(Stay.of(place, one.filled, today, last if stuck else out))
    if route.in_ground:
        in_row = state.count("waiting") + state.count("rooted")
        in_row += sum(lot.count for lot in state.lots.get("planted", ()) if not lot.grown)
        if in_row:
            stays.append(Stay(batch.place_id("waiting"), batch.method.container, today, last, in_row))
    return tuple(stays)


def batch_today(
    batch: Batch, garden: Garden, today: date, *, want: Want | None, history: History | None = None
) -> BatchToday:
    """Reckon one batch from its history, as read already or from its entries."""
    entries = list(batch.entries.all()) if history is None else []
    history = history or History(tuple(entries_of(entries)), max(entry.pk for entry in entries))
    plant, method = way_of(batch)
    kept = batch.plan.get("window")
    today = max(today, newest_day(history.entries))  # where the day stepped back, a batch's own does not
    target = want.settled_by if want and want.settled_by else date.fromisoformat(batch.plan["target"])
    return BatchToday(
        row=batch,
        garden=garden,
        entries=entries,
        history=history,
        state=state_of(history, method.route),
        plant=plant,
        method=method,
        today=today,
        target=target,
        window=(date.fromisoformat(kept[0]), date.fromisoformat(kept[1])) if kept else None,
        as_soon_as_safe=want is not None and want.by is None,
        aims=_aims(want, target),
        treated=treated_as(batch, garden, want),
    )


def _aims(want: Want | None, target: date) -> Aims:
    """What a batch is for, by the want it was cut for."""
    if want is None:
        return Aims(ready_on=target)
    reserve, rooted = want.purpose == Want.Purpose.RESERVE, want.handed_as == Want.HandedAs.ROOTED
    return Aims(want.purpose not in UNHARDENED, target, reserve, rooted)


def stands_of(batch: Batch, garden: Garden) -> tuple[Stood, ...]:
    """Every container a batch fills today, read from its entries alone: no forecast is reckoned."""
    plant, method = way_of(batch)
    state = retold(entries_of(list(batch.entries.all())), method.route)
    return stands(state, plant, method, treated_as(batch, garden, batch.want))


def batch_rows(garden: Garden) -> QuerySet[Batch]:
    """A garden's batches with all that a batch's page asks of them, in few queries whatever their number."""
    rows = Batch.objects.filter(garden=garden).select_related(
        "want__rooting_place", "want__growing_place", "rooting_place", "growing_place", "mother"
    )
    return rows.prefetch_related("entries__by", "entries__place", "entries__strikes")


def batch_of(garden: Garden, batch_id: int, today: date) -> BatchToday:
    """A batch of the garden as it stands today. Raises Http404 for one that is not there."""
    row = get_object_or_404(batch_rows(garden), pk=batch_id)
    return batch_today(row, garden, today, want=row.want)


def cut_from(mother: StockPlant, garden: Garden, today: date) -> list[BatchToday]:
    """Every batch cut from a mother as it stands today, the newest first."""
    rows = batch_rows(garden).filter(mother=mother).order_by("-pk")
    return [batch_today(row, garden, today, want=row.want) for row in rows]


def setting_of(batch: Batch, garden: Garden, today: date) -> Setting:
    """What a batch is forecast under: its places as they really were, where a sensor stood there."""
    plant, method = way_of(batch)
    record, luck = record_of(garden, today), None
    if batch.pk:
        luck = record.luck.get(batch.pk)
    assumed = record.assumed_for(plant, method, luck=luck)
    method = record.way_here(plant, method, luck=luck)
    places = stood_at(batch.rooting_place), stood_at(batch.growing_place)
    setting = Setting(plant, method, climate_of(garden), *places, today, assumed)
    return condition_of(batch).under(setting)


def _over_setting(batch: BatchToday) -> Setting:
    """What a batch that is over is asked under: the handbook's way, on the last day anything was written of it but
    care, which is not always read."""
    places = stood_at(batch.row.rooting_place), stood_at(batch.row.growing_place)
    day = newest_day(entry for entry in batch.history.entries if entry.kind != Entry.Kind.TENDED)
    plain = Setting(batch.plant, batch.method, batch.climate, *places, day, assumptions_of(batch.garden))
    return condition_of(batch.row).under(plain)


def forecast_if_moved(batch: BatchToday, garden: Garden, place: Place) -> BatchForecast:
    """The forecast of a batch if those still waiting were carried to another place today."""
    been = moves_in(batch.history.entries, garden)
    moves = replace(been, rooting=(*been.rooting, (batch.today, stood_at(place))))
    setting = setting_of(batch.row, garden, batch.today)
    take = condition_of(batch.row).lowers(setting.method.plant_take)
    return forecast(batch.state, setting, take=take, moves=moves, aims=batch.aims)


def living(garden: Garden, today: date) -> list[BatchToday]:
    """Every batch with something left to be done, reckoned, in the same few queries whatever their number; none in a
    garden that was left. Made once as the garden stands, and not to be written to."""
    if garden.closed_on:
        return []
    return once_looking(garden, ("living", today), lambda: _living(garden, today), each=LIVING_BYTES)


def _living(garden: Garden, today: date) -> list[BatchToday]:
    rows = Batch.objects.filter(garden=garden, over_on=None).select_related("want")
    written = histories_here(garden)
    found = []
    for row in rows:
        if row.pk not in written:  # taken a moment ago, between the two questions: it is there the next time
            continue
        stands_at(row, garden)
        found.append(batch_today(row, garden, today, want=row.want, history=written[row.pk]))
    return [item for item in found if not item.state.over]
