"""What more would have to be cut for a want that runs short."""

from __future__ import annotations

from datetime import date

from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.remedies import CutsAhead, TopUp, top_up
from elder.engine.batch.settled import Settled
from elder.engine.chance.counting import left_after
from elder.engine.chance.ready_by import ready_by_target
from elder.engine.keeping import kept
from elder.engine.plan.curve import cuttable_days
from elder.engine.plan.search import CUT_DAYS
from elder.engine.plan.want import Want
from elder.engine.setting import Setting

AS_ASKED = 0.025  # nearer than this to what was asked nobody could tell, and in words both are the same (assumed)
TIGHT = 0.15  # this far below what was asked for a want is tight; further, short (assumed)


@kept
def least_more(
    want: Want, setting: Setting, served: tuple[tuple[BatchForecast | Settled, int], ...], target: date, needed: int
) -> TopUp | None:
    """The least extra cuttings for batches under way, none of a way that is not offered; kept, since forecasts are told
    apart by identity."""
    if not setting.method.is_offered:  # hardly ever a plant, however many are cut
        return None
    days = min((target - setting.today).days + 1, CUT_DAYS)
    raising = want.condition.under(setting).raising(harden=want.is_hardened)
    ready = ready_by_target(raising, setting.today, days, target)
    have = [left_after(ahead.ready_on(target), taken) for ahead, taken in served]
    can_cut = cuttable_days(want, setting, setting.today, days)
    take = want.condition.lowers(setting.method.plant_take).then(setting.after_roots)
    more = CutsAhead(setting.today, ready, can_cut, take)
    return top_up(have, needed, want.confidence, more)


def chance_word(chance: float, asked: float) -> str:
    """How a chance stands beside the one asked for: on-course, tight or short."""
    gap = asked - chance
    return "on-course" if gap <= AS_ASKED else "tight" if gap <= TIGHT else "short"
