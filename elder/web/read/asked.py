"""What wants and batches will ask of the shed, week by week: cuts to come, pottings likely, what stands already."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.chance.counting import Take
from elder.engine.handbook.model import Method, Plant
from elder.engine.refusal import Refusal
from elder.engine.round.potting import ladder
from elder.engine.shed.kit import AsTreated
from elder.engine.shed.mix import usual_recipe
from elder.engine.shed.needs import Ask, amounts_of, fixed, potted_by
from elder.engine.shed.uses import MIX, VESSEL, is_kept, uses_at_potting, uses_at_sticking, with_parts
from elder.web.garden.models import Garden
from elder.web.read.batches import BatchToday, living
from elder.web.read.kit import kit_of
from elder.web.read.stock import is_staked
from elder.web.read.there import has_any
from elder.web.read.wants import Reckoning
from elder.web.season.models import Want
from elder.web.shed.models import MixOrder

WEEKS: Final = 26  # half a year is planned for; further off plans change (assumed)
WEEK: Final = 7
LEAVES_IN_POT: Final = (Want.Purpose.POT, Want.Purpose.GIFT, Want.Purpose.SALE)  # its pot does not come back


@dataclass(frozen=True)
class Weeks:
    """The weeks in sight, from the Monday of this one."""

    today: date
    count: int = WEEKS

    @property
    def monday(self) -> date:
        """The first day of the first."""
        return self.today - timedelta(days=self.today.weekday())

    def index(self, day: date | None) -> int:
        """The week a day lies in; past the last for none."""
        return self.count if day is None else (day - self.monday).days // WEEK

    def ends(self, start: date) -> np.ndarray[tuple[int], np.dtype[np.int64]]:
        """The last day of each, in days from ``start``; shape (weeks,)."""
        return np.arange(self.count, dtype=np.int64) * WEEK + WEEK - 1 + (self.monday - start).days


def asked(reckonings: Sequence[Reckoning], garden: Garden, weeks: Weeks) -> list[Ask]:
    """Everything that will be asked of the shed in sight."""
    found = []
    for item in reckonings:
        asks = (*_of_plan(item, weeks), *_of_shortfall(item, weeks))
        found += [replace(ask, who=("want", item.row.pk)) for ask in asks]
    for batch in living(garden, weeks.today):
        asks = (*_standing(batch, weeks), *_to_be_potted(batch, weeks), *_bigger_pots(batch, weeks))
        found += [replace(ask, who=("batch", batch.row.pk)) for ask in asks]
    return [*found, *_of_orders(garden, weeks)]


def _treated(item: Reckoning) -> AsTreated:
    return AsTreated({}, item.kit, for_good=item.row.purpose == Want.Purpose.POT)


def _sticking(
    plant: Plant, method: Method, count: int, treated: AsTreated, span: tuple[int, int], weeks: Weeks
) -> Iterator[Ask]:
    """What a cut uses from its week on; what is kept until the week it comes free."""
    uses = with_parts(uses_at_sticking(plant, method, count, treated), treated.kit)
    for what, amount in uses.items():
        last = span[1] if is_kept(what) else None
        yield Ask(what, np.array([0.0, amount]), fixed(count, span[0], weeks.count, last))


@dataclass(frozen=True)
class _Potted:
    """So many that may come to be potted: the distribution of how many have been by each week, and the week they go
    out of their pots."""

    count: int
    chances: Floats
    out_week: int


def _potting(plant: Plant, method: Method, treated: AsTreated, potted: _Potted, weeks: Weeks) -> Iterator[Ask]:
    staked = is_staked(plant, method)

    def uses(many: int) -> dict[str, float]:
        return with_parts(uses_at_potting(plant, method, many, treated, staked=staked), treated.kit)

    none = np.zeros(potted.count + 1)
    none[0] = 1.0
    freed = np.where((np.arange(weeks.count) > potted.out_week)[:, None], none, potted.chances)
    for what, amounts in amounts_of(uses, potted.count).items():
        yield Ask(what, amounts, freed if is_kept(what) else potted.chances)


def _of_plan(item: Reckoning, weeks: Weeks) -> Iterator[Ask]:
    """What a want that is not cut yet will use, on the day it is planned for."""
    if item.batches or isinstance(item.plan, Refusal) or item.option is None or not item.to_cut:
        return
    option, plant, method, treated = item.option, item.plant, item.method, _treated(item)
    begins, out = weeks.index(option.day), weeks.index(item.plan.target)
    if begins >= weeks.count:
        return
    free = out if method.route.stays else min(weeks.index(option.rooted[2]), out)
    yield from _sticking(plant, method, item.to_cut, treated, (begins, free), weeks)
    if not uses_at_potting(plant, method, 1, treated):
        return
    rooted = item.plan.followed(option.day).rooted
    at = weeks.ends(option.day)
    chance = np.where(at >= 0, rooted[:, np.clip(at, 0, rooted.shape[1] - 1)], 0.0)
    out = weeks.count if item.row.purpose in LEAVES_IN_POT else out
    chances = potted_by(item.to_cut, item.plan.roots, chance)
    yield from _potting(plant, method, treated, _Potted(item.to_cut, chances, out), weeks)


def _of_shortfall(item: Reckoning, weeks: Weeks) -> Iterator[Ask]:
    """What would be cut to make up what is short; potted, if all goes well, once most have rooted."""
    more = item.shortfall if item.batches else None
    if more is None:
        return
    plant, method, treated = item.plant, item.method, _treated(item)
    begins = max(weeks.index(more.day), 0)
    late = weeks.index(more.day + timedelta(days=round(method.rooting.late)))
    yield from _sticking(plant, method, more.count, treated, (begins, late), weeks)
    if uses_at_potting(plant, method, 1, treated):
        chance = (np.arange(weeks.count) >= late).astype(np.float64)[None]
        chances = potted_by(more.count, method.plant_take, chance)
        yield from _potting(plant, method, treated, _Potted(more.count, chances, weeks.index(item.target)), weeks)


def _standing(batch: BatchToday, weeks: Weeks) -> Iterator[Ask]:
    """The containers that are taken already, until they come free."""
    purpose = batch.row.want.purpose if batch.row.want else ""
    for one, stay in zip(batch.stands, batch.stays, strict=False):
        if one.filled.kind in ("row", "grow bed"):
            continue
        stays = one.stage != "stuck" and purpose in LEAVES_IN_POT
        last = None if stays else weeks.index(stay.last)
        amounts = np.array([0.0, float(one.filled.vessels)])
        yield Ask(VESSEL + one.filled.vessel.key, amounts, fixed(1, 0, weeks.count, last))


def _to_be_potted(batch: BatchToday, weeks: Weeks) -> Iterator[Ask]:
    """Those that have roots are potted now; those that wait, if and when they root."""
    plant, method, treated, state = batch.plant, batch.method, batch.treated, batch.state
    if not uses_at_potting(plant, method, 1, treated) or not method.route.is_moved:
        return
    purpose = batch.row.want.purpose if batch.row.want else ""
    out = weeks.count if purpose in LEAVES_IN_POT else weeks.index(max(batch.target, batch.today))
    rooted, waiting = state.count("rooted"), state.count("waiting")
    if rooted:
        chances = np.zeros((weeks.count, rooted + 1))
        chances[:, -1] = 1.0
        yield from _potting(plant, method, treated, _Potted(rooted, chances, out), weeks)
    to_come = np.cumsum(batch.forecast.rooting)
    if not waiting or not len(to_come) or to_come[-1] <= 0:
        return
    at = np.clip(weeks.ends(batch.forecast.start), 0, len(to_come) - 1)
    chance = to_come[at] / to_come[-1]
    mean = float(min(to_come[-1] / waiting, 1.0))
    take = Take(mean, method.plant_take.weight + state.taken - waiting)
    potted = _Potted(waiting, potted_by(waiting, take, chance[None]), out)
    yield from _potting(plant, method, treated, potted, weeks)


def _bigger_pots(batch: BatchToday, weeks: Weeks) -> Iterator[Ask]:
    """The next rung of the ladder, for what stays in pots for years."""
    since, many = batch.state.since("potted"), batch.state.count("potted")
    if since is None or not many:
        return
    rungs = ladder(batch.plant, batch.method, since, batch.treated.chosen, batch.treated.kit)
    at = len(batch.state.potted_up) + 1
    if at >= len(rungs) or weeks.index(rungs[at].due) >= weeks.count:
        return
    vessel, week = rungs[at].vessel, max(weeks.index(rungs[at].due), 0)
    uses = {VESSEL + vessel.key: float(many)}
    if recipe := usual_recipe(batch.plant, batch.method, "pot", batch.treated.chosen, batch.treated.kit):
        uses[MIX + recipe.key] = vessel.filled_l * many
    for what, amount in with_parts(uses, batch.treated.kit).items():
        yield Ask(what, np.array([0.0, amount]), fixed(1, week, weeks.count))


def _of_orders(garden: Garden, weeks: Weeks) -> Iterator[Ask]:
    """Mix somebody means to make besides."""
    kit = kit_of(garden)
    orders = MixOrder.objects.filter(garden=garden, mixed_on=None) if has_any(garden, MixOrder) else []
    for order in orders:
        vessel = kit.vessel(order.vessel)
        if vessel is None:
            continue
        for what, amount in with_parts({MIX + order.recipe: vessel.filled_l * order.count}, kit).items():
            chances = fixed(1, weeks.index(order.by), weeks.count)
            yield Ask(what, np.array([0.0, amount]), chances, ("order", order.pk))
