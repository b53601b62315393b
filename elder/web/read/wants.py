"""A want reckoned for today: its plan while nothing is cut, its batches' forecast once something is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Final

from elder.engine.arrays import Floats
from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.remedies import TopUp
from elder.engine.batch.settled import Settled
from elder.engine.batch.shared_luck import ready_together
from elder.engine.chance.counting import chance_of, left_after
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property, kept, lent
from elder.engine.plan.lots import as_many_as
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import CutOption, SeasonPlan
from elder.engine.plan.seed_rival import SeedRival, seed_rival
from elder.engine.plan.want import Want as EngineWant
from elder.engine.record.knowing import OwnWay, PlanBy
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from elder.engine.shed.kit import PLAIN, AsTreated, Kit
from elder.engine.space.occupancy import Stay, stays_of
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.batches import BatchToday, batch_today
from elder.web.read.gardens import stands_at
from elder.web.read.histories import histories_here
from elder.web.read.kit import kit_of
from elder.web.read.records import record_of
from elder.web.read.shortfall import chance_word, least_more
from elder.web.read.want_rows import WANTS_BYTES, Serving, batches_of, served_before, want_rows
from elder.web.read.want_settings import want_setting
from elder.web.read.what_if import AS_IT_IS, WhatIf, want_of
from elder.web.season.models import Want

# Answers are pure functions of what they are asked with, so a page asked for again need not reckon again.
_plan_want, _as_many_as, _windows = lent(plan_want), lent(as_many_as), kept(planting_windows)

AS_THEY_ARE: Final = "wants"  # what all of a garden's wants, reckoned as they are, hang by
SEEN_DAYS: Final = 3 * 366  # how far ahead windows are looked for: the longest zoom


@dataclass(frozen=True, eq=False)
class Reckoning:
    """Everything a screen says about one want."""

    row: Want
    want: EngineWant
    setting: Setting
    chosen_day: date | None = None
    batches: list[BatchToday] = field(default_factory=list)
    # Of each batch, how many plants go to wants served before this one.
    served_before: list[int] = field(default_factory=list)
    kit: Kit = PLAIN
    lucks: Mapping[int, int] = field(default_factory=dict)  # of each batch, the number of the luck it shares
    plan_by: PlanBy = "handbook"
    own: OwnWay | None = None  # what the garden's own batches say of its way

    @property
    def plant(self) -> Plant:
        """What is wanted, as its way grows it."""
        return self.setting.plant

    @property
    def method(self) -> Method:
        """How it is rooted."""
        return self.setting.method

    @property
    def climate(self) -> Climate:
        """The garden's."""
        return self.setting.climate

    @property
    def today(self) -> date:
        """The day it is reckoned for."""
        return self.setting.today

    @cached_property
    def plan(self) -> SeasonPlan | Refusal:
        """The plan for cutting from today on."""
        if self.row.cuttings:
            return _as_many_as(self.row.cuttings, self.want, self.setting)
        return _plan_want(self.want, self.setting)

    @property
    def needed(self) -> int:
        """How many plants there are to be: those wanted and the spares, or as many as the cuttings give."""
        if self.row.cuttings and isinstance(self.plan, SeasonPlan) and not self.batches:
            return self.plan.want.wanted
        return self.row.total

    @property
    def to_cut(self) -> int:
        """How many to cut on the chosen day; 0 where that day is closed."""
        if self.option is None or not self.option.count:
            return 0
        return self.row.cuttings or self.option.count

    @cached_property
    def seed(self) -> SeedRival | None:
        """Dates for seed beside the clone's."""
        if isinstance(self.plan, Refusal) or self.option is None:
            return None
        return seed_rival(self.setting, cut_on=self.option.day, target=self.plan.target)

    @cached_property
    def stays(self) -> tuple[Stay, ...]:
        """Where its cuttings and plants stand, and until when: of its batches, or of its plan."""
        if self.batches:
            return tuple(stay for batch in self.batches for stay in batch.stays if batch.row.want_id == self.row.pk)
        if isinstance(self.plan, Refusal) or self.option is None or not self.to_cut:
            return ()
        places = self.row.rooting_place_id, self.row.growing_place_id
        rooted = self.option.rooted
        day, out = self.option.day, self.plan.target
        return stays_of(
            self.plant,
            self.method,
            places,
            self.to_cut,
            cut=day,
            rooted=(rooted[1], rooted[2]),
            out=out,
            treated=AsTreated(kit=self.kit, for_good=self.row.purpose == Want.Purpose.POT),
        )

    @property
    def refusal(self) -> Refusal | None:
        """Why it cannot be had, where nothing is cut and it cannot."""
        return self.plan if not self.batches and isinstance(self.plan, Refusal) else None

    @cached_property
    def option(self) -> CutOption | None:
        """The chosen cut day, else the recommended one."""
        plan = self.plan
        if isinstance(plan, Refusal):
            return None
        day = self.chosen_day or plan.recommended
        inside = plan.start <= day and plan.index(day) < len(plan)
        return plan.option(day if inside else plan.recommended)

    def planned(self) -> tuple[SeasonPlan, CutOption]:
        """The plan and its chosen day. Raises ValueError for a want that was refused."""
        plan, option = self.plan, self.option
        if isinstance(plan, Refusal) or option is None:
            raise ValueError("a want that was refused has no plan")
        return plan, option

    @cached_property
    def target(self) -> date | None:
        """The day the plants are to be ready: as planned when the first batch was taken, else as planned now. A reserve
        is to stand always: as soon as what would be cut today could."""
        if self.batches and not self.is_reserve:
            return self.batches[0].target
        return None if isinstance(self.plan, Refusal) else self.plan.target

    @cached_property
    def windows(self) -> list[PlantingWindow]:
        """Planting windows in sight, for plants that go into a bed."""
        if self.want.purpose != "bed":
            return []
        return _windows(
            self.plant, self.climate, accepted_risk=self.want.accepted_risk, start=self.today, days=SEEN_DAYS
        )

    @cached_property
    def chance(self) -> float:
        """The chance of enough plants on the day, of what is cut; else of the plan's option."""
        if not self.batches:
            return self.option.chance if self.option else 0.0
        return chance_of(self._pmfs(), self.needed)

    def _pmfs(self) -> list[Floats]:
        return self.pmfs_on(max(self.target or self.today, self.today))

    def pmfs_on(self, day: date, instead: Mapping[int, BatchForecast] | None = None) -> list[Floats]:
        """Of each batch, the distribution of the number ready for this want by a day; ``instead`` gives some batches,
        by their keys, another forecast."""
        others = instead or {}
        found: list[Floats] = []
        shared: dict[int, list[BatchForecast | Settled]] = {}
        for batch, taken, ahead, luck in zip(self.batches, self._before, self.forecasts, self.lucky, strict=True):
            told = others.get(batch.row.pk, ahead)
            if taken:  # what others leave of it is nobody's luck but its own
                found.append(left_after(told.ready_on(day), taken))
            else:
                shared.setdefault(luck, []).append(told)
        return [*found, *(ready_together(group, day) for group in shared.values())]

    @cached_property
    def lucky(self) -> tuple[int, ...]:
        """Of each batch, the number of the luck it shares. What is over shares nothing with what is over: it is known
        what came of it."""
        numbers = [self.lucks.get(batch.row.pk, -batch.row.pk) for batch in self.batches]
        living = {luck for luck, batch in zip(numbers, self.batches, strict=True) if not batch.state.over}
        return tuple(
            luck if luck in living else -batch.row.pk for luck, batch in zip(numbers, self.batches, strict=True)
        )

    @cached_property
    def forecasts(self) -> tuple[BatchForecast | Settled, ...]:
        """Of each batch what can come of it; of one that is over what came, or what it tells of others of its luck."""
        return tuple(
            batch.evidence if self.lucky.count(luck) > 1 else batch.settled if batch.state.over else batch.forecast
            for luck, batch in zip(self.lucky, self.batches, strict=True)
        )

    @property
    def _before(self) -> list[int]:
        return self.served_before or [0] * len(self.batches)

    @property
    def is_reserve(self) -> bool:
        """Whether so many are always to stand: what leaves is replaced."""
        return self.row.purpose == Want.Purpose.RESERVE

    @property
    def ready_now(self) -> int:
        """Plants planted out or given away so far, less those that belong to wants served before; of a reserve none,
        since it is never done."""
        if self.is_reserve:
            return 0
        done = [batch.state.count("planted") + batch.state.given for batch in self.batches]
        return sum(max(count - taken, 0) for count, taken in zip(done, self._before, strict=True))

    @property
    def standing_word(self) -> str:
        """How the want stands: refused, to-cut, done, on-course, tight or short."""
        if self.refusal:
            return "refused"
        if not self.batches:
            return "to-cut"
        if self.ready_now >= self.needed:
            return "done"
        return chance_word(self.chance, self.want.confidence)

    @cached_property
    def shortfall(self) -> TopUp | None:
        """What would put a shortfall right, where something still does."""
        target = self.target
        if self.standing_word not in ("tight", "short") or target is None or target <= self.today:
            return None
        served = tuple(zip(self.forecasts, self._before, strict=True))
        return least_more(self.want, self.setting, served, target, self.needed)


def reckon(
    row: Want,
    garden: Garden,
    today: date,
    *,
    batches: Iterable[Batch] = (),
    chosen: date | None = None,
    what_if: WhatIf = AS_IT_IS,
) -> Reckoning:
    """Reckon one want. ``batches`` may come with all the garden's histories, where they are read already."""
    serving, record = list(batches), record_of(garden, today)
    histories = batches.histories if isinstance(batches, Serving) else histories_here(garden)
    for batch in serving:
        stands_at(batch, garden)
    plant = handbook()[row.plant]
    return Reckoning(
        row=row,
        want=want_of(row, garden, today, what_if),
        setting=want_setting(row, garden, today).grown,
        chosen_day=chosen or row.cut_on,
        batches=[
            batch_today(batch, garden, today, want=batch.want or row, history=histories.get(batch.pk))
            for batch in serving
        ],
        served_before=[served_before(batch, row) for batch in serving],
        kit=kit_of(garden),
        lucks=record.luck,
        plan_by=record.plan_by,
        own=record.own(plant, plant.method(row.method)),
    )


def reckon_all(garden: Garden, today: date, what_if: WhatIf = AS_IT_IS) -> list[Reckoning]:
    """Every open want of a garden, in the same few queries whatever their number; as it is, made once as the garden
    stands, and not to be written to."""
    if what_if == AS_IT_IS:
        return once_looking(garden, (AS_THEY_ARE, today), lambda: _reckon_all(garden, today, what_if), each=WANTS_BYTES)
    return _reckon_all(garden, today, what_if)


def _reckon_all(garden: Garden, today: date, what_if: WhatIf) -> list[Reckoning]:
    rows, histories = want_rows(garden).filter(closed_on=None), histories_here(garden)
    return [reckon(row, garden, today, batches=Serving(batches_of(row), histories), what_if=what_if) for row in rows]
