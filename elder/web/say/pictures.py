"""Reckonings to scenes: what one soil line or one curve is to show."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Final, Literal

from elder.drawing.axis import TimeAxis, axis_around
from elder.drawing.cut_curve import CutCurve, cut_curve
from elder.drawing.scene import Scene
from elder.drawing.soil_line import CutMark, Happening, RowPicture, Sizes, soil_line, standing_runs
from elder.drawing.stated import StatedRise
from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.outlook import Outlook, batch_outlook, plan_outlook
from elder.engine.batch.settled import Settled
from elder.engine.batch.state import BatchState
from elder.engine.keeping import kept, kept_at
from elder.engine.plan.harvest import harvest_day
from elder.engine.refusal import Refusal
from elder.web.read.batches import BatchToday
from elder.web.read.wants import Reckoning
from elder.web.say.wants import curve_words, headline

# A plan and a forecast are kept and told apart by identity, so their outlooks can be too; then a row with the
# same outlook on the same axis is the same drawing.
OUTLOOK_BYTES: Final = 8_000  # of a drawing's days; forecasts are its want's, and took longest to weigh (measured)
_plan_outlook = kept(plan_outlook)
_soil_line = kept(soil_line)


@kept_at(OUTLOOK_BYTES)
def _batch_outlook(forecasts: tuple[BatchForecast | Settled, ...], until: date, lucks: tuple[int, ...] = ()) -> Outlook:
    return batch_outlook(list(forecasts), until, lucks)


MOVED_TO = ("potted", "hardening", "planted")


Zoom = Literal["spring", "year", "three"]
REACH = {"spring": 215, "year": 365, "three": 1096}  # days ahead that each zoom shows


def season_axis(reckonings: list[Reckoning], today: date, zoom: Zoom | None = None) -> TimeAxis:
    """One axis for a whole season. ``None``: as much as the wants need, up to eleven months ahead."""
    if zoom == "three":
        return TimeAxis((today - timedelta(days=40)).replace(day=1), today + timedelta(days=REACH[zoom]))
    if zoom:
        cuts = [batch.state.taken_on for reckoning in reckonings for batch in reckoning.batches]
        back = 60 if zoom == "spring" else 31
        first = max(min([today, *cuts]), today - timedelta(days=back)) - timedelta(days=7)
        return TimeAxis(first.replace(day=1), today + timedelta(days=REACH[zoom]))
    days: list[date] = []
    for reckoning in reckonings:
        days += _days_of(reckoning)
    reach = today + timedelta(days=330)
    return axis_around(today, [day for day in days if day <= reach])


def want_axis(reckoning: Reckoning) -> TimeAxis:
    """An axis for one want."""
    return season_axis([reckoning], reckoning.today)


def _days_of(reckoning: Reckoning) -> list[date]:
    days = [batch.state.taken_on for batch in reckoning.batches]
    days += [reckoning.target] if reckoning.target else []
    if not reckoning.batches and reckoning.option:
        days += [reckoning.option.day]
    harvest = harvest_of(reckoning)
    return [*days, harvest] if harvest else days


def harvest_of(reckoning: Reckoning) -> date | None:
    """When the first harvest of a want for a bed is to be expected."""
    if reckoning.want.purpose != "bed" or reckoning.target is None:
        return None
    plant = reckoning.plant
    return harvest_day(plant, reckoning.climate, reckoning.target, plant.harvest_median_days)


def want_scene(reckoning: Reckoning, axis: TimeAxis, sizes: Sizes) -> Scene:
    """The soil line of a want: its plan, or its batches together."""
    return _soil_line(want_picture(reckoning, axis), axis, reckoning.today, sizes)


def want_picture(reckoning: Reckoning, axis: TimeAxis) -> RowPicture:
    """What that line shows."""
    return _batches_picture(reckoning, axis) if reckoning.batches else _plan_picture(reckoning)


def _plan_picture(reckoning: Reckoning) -> RowPicture:
    plan, option, words = reckoning.plan, reckoning.option, headline(reckoning).plain
    gates = tuple((window.opens, window.shuts) for window in reckoning.windows)
    if isinstance(plan, Refusal) or option is None:
        return RowPicture(reckoning.needed, words, gates=gates)
    return RowPicture(
        wanted=reckoning.needed,
        words=words,
        cuts=(CutMark(option.day, reckoning.to_cut or plan.table.most, taken=False),),
        outlook=_plan_outlook(plan, option.day, count=reckoning.to_cut or None),
        gates=gates,
        target=plan.target,
        ribbon=standing_runs(plan.start, plan.standing),
        harvest=harvest_of(reckoning),
    )


def _batches_picture(reckoning: Reckoning, axis: TimeAxis) -> RowPicture:
    ready_by = (reckoning.target or reckoning.today) + timedelta(days=60)
    return RowPicture(
        wanted=reckoning.needed,
        words=headline(reckoning).plain,
        cuts=tuple(CutMark(batch.state.taken_on, batch.state.taken, taken=True) for batch in reckoning.batches),
        outlook=_batch_outlook(
            reckoning.forecasts,
            min(axis.end, max(ready_by, reckoning.today)),
            reckoning.lucky,
        ),
        gates=tuple((window.opens, window.shuts) for window in reckoning.windows),
        target=reckoning.target,
        roots_seen=tuple((lot.since, lot.count) for batch in reckoning.batches for lot in batch.state.rooted_seen),
        losses=tuple((lot.since, lot.count) for batch in reckoning.batches for lot in batch.state.lost_seen),
        happenings=tuple(thing for batch in reckoning.batches for thing in happenings(batch.state)),
        harvest=None if any(batch.state.first_harvest for batch in reckoning.batches) else harvest_of(reckoning),
    )


def happenings(state: BatchState) -> list[Happening]:
    """What was done to a batch, as marks on its line: the day each stage was first reached."""
    things = [
        Happening(min(lot.since for lot in lots), stage, sum(lot.count for lot in lots))
        for stage, lots in state.lots.items()
        if stage in MOVED_TO and lots
    ]
    if state.first_harvest:
        things.append(Happening(state.first_harvest, "harvested"))
    return things


def batch_scene(batch: BatchToday, wanted: int, words: str, axis: TimeAxis, sizes: Sizes) -> Scene:
    """The large soil line of one batch."""
    return _soil_line(batch_picture(batch, wanted, words, axis), axis, batch.today, sizes)


def batch_picture(batch: BatchToday, wanted: int, words: str, axis: TimeAxis) -> RowPicture:
    """What that line shows."""
    state = batch.state
    return RowPicture(
        wanted=wanted,
        words=words,
        cuts=(CutMark(state.taken_on, state.taken, taken=True),),
        outlook=_outlook_of(batch, axis),
        gates=(batch.window,) if batch.window else (),
        target=batch.target,
        stated=stated_rise(batch),
        roots_seen=tuple((lot.since, lot.count) for lot in state.rooted_seen),
        losses=tuple((lot.since, lot.count) for lot in state.lost_seen),
        happenings=tuple(happenings(state)),
        harvest=batch_harvest(batch),
        give_up=None if state.over else batch.forecast.give_up_on,
    )


def _outlook_of(batch: BatchToday, axis: TimeAxis) -> Outlook:
    """What is to be expected of a batch; of one that is over what came."""
    until = min(axis.end, max(batch.target, batch.today) + timedelta(days=60))
    return _batch_outlook((batch.settled if batch.state.over else batch.forecast,), until)


def stated_rise(batch: BatchToday) -> StatedRise | None:
    """What was forecast on the day of the cut, where it was kept with the batch."""
    kept = batch.row.plan.get("forecast", {}).get("line")
    if not kept:
        return None
    return StatedRise(date.fromisoformat(kept["start"]), tuple(kept["at"]), tuple(kept["expected"]))


def batch_harvest(batch: BatchToday) -> date | None:
    """When the first harvest of a batch is to be expected, where it has a bed and none has come."""
    if batch.window is None or batch.state.first_harvest:
        return None
    begin = min((lot.since for lot in batch.state.lots.get("planted", ())), default=batch.target)
    return harvest_day(batch.plant, batch.climate, begin, batch.plant.harvest_median_days)


def batch_axis(batch: BatchToday) -> TimeAxis:
    """An axis from the cut to a little past the last thing in sight."""
    harvest = batch_harvest(batch)
    if batch.state.over:
        return TimeAxis(batch.state.taken_on - timedelta(days=7), batch.state.last_entry_on + timedelta(days=21))
    last = max([batch.target, batch.today, *([harvest] if harvest else [])])
    last = min(last, max(batch.target, batch.today) + timedelta(days=110))
    return TimeAxis(batch.state.taken_on - timedelta(days=7), last + timedelta(days=10))


def want_curve(reckoning: Reckoning) -> CutCurve | None:
    """The cut-day curve of a want that can be had."""
    plan, option = reckoning.plan, reckoning.option
    if isinstance(plan, Refusal) or option is None:
        return None
    return cut_curve(plan, option.day, words=curve_words(plan, option))
