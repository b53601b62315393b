"""Was Elder right? What was forecast beside what came, for the whole garden."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date

from django.core.paginator import Page

from elder.drawing.record import RangeCame, StatedStep, ranges_scene, reliability_scene
from elder.drawing.scene import Scene
from elder.engine.record.scoring import (
    BIAS_FORECASTS,
    Outcome,
    Reliable,
    Scores,
    kept,
    pit_shares,
    reliability,
    scores,
)
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.mine import GardenRecord
from elder.web.read.told import Told
from elder.web.say.plants import plant_words
from elder.web.say.record import kept_words
from elder.web.say.words import about, in_ten, plural
from elder.web.ui.pages import leaf_of

SURE = (0.85, 0.95)  # what is said as "9 in 10"
ENOUGH_DUE = 5  # forecasts below which nothing is said of scores (assumed)


@dataclass(frozen=True)
class DueLine:
    """One forecast that fell due: what was expected, what came."""

    batch: int
    name: str
    cut: str
    due: str
    stated: str
    range: str
    came: str
    is_outside: bool
    chance: str
    wanted: int
    enough: bool


@dataclass(frozen=True)
class StepLine:
    """A step of stated chances, in figures."""

    stated: str
    of: int
    came: int
    likely: str


@dataclass(frozen=True)
class RightPage:
    """How well Elder forecast here."""

    answer: str
    sure: str
    bias: str
    score: str
    pit: str
    ranges: Scene | None
    reliable: Scene | None
    steps: list[StepLine]
    waiting: int
    lines: list[DueLine] = field(default_factory=list)
    leaf: Page[Told] | None = None


def right_page(record: GardenRecord, garden: Garden, page: str | None = None) -> RightPage:
    """What the page shows: all that has fallen due in its drawings, made once as the garden stands, and line by line a
    leaf of it."""
    whole, leaf = (
        once_looking(garden, ("right", record.today), lambda: _right_page(record)),
        leaf_of(record.due[::-1], page),
    )
    return replace(whole, leaf=leaf, lines=[_line(one, record.today) for one in leaf])


def _right_page(record: GardenRecord) -> RightPage:
    due = record.due
    outcomes = [one.outcome for one in due if one.outcome]
    ranges = [RangeCame(one.state.taken, *out.range, out.came) for one, out in zip(due, outcomes, strict=True)]
    inside = kept([out.range_holds for out in outcomes], [out.in_range for out in outcomes])
    surely = [out for out in outcomes if SURE[0] <= out.chance < SURE[1]]
    sure = kept([out.chance for out in surely], [out.enough for out in surely])
    answer = kept_words(inside, "range")
    steps = reliability(outcomes)
    told = _step_lines(steps)
    words = "; ".join(f"{line.stated} stated of {line.of}, {line.came} came true" for line in told)
    return RightPage(
        answer=answer,
        sure=kept_words(sure, "“9 in 10”") if surely else "",
        bias=_bias_words(record),
        score=_score_words(due),
        pit=_pit_words(outcomes),
        ranges=ranges_scene(ranges, answer) if ranges else None,
        reliable=reliability_scene(
            [StatedStep(one.stated, one.came / one.of, *one.interval, one.of) for one in steps],
            f"Stated and come true: {words}.",
        )
        if steps
        else None,
        steps=told,
        waiting=sum(one.kept is not None for one in record.told) - len(due),
    )


def _line(one: Told, today: date) -> DueLine:
    out = one.outcome
    if out is None:
        raise ValueError("only what was forecast falls due")
    low, high = out.range
    return DueLine(
        batch=one.row.pk,
        name=plant_words(one.plant.name, one.row.variety),
        cut=f"{one.state.taken} on {about(one.state.taken_on, today)}",
        due=about(one.target, today),
        stated=f"{out.expected:.1f}",
        range=f"{low}–{high}",
        came=str(out.came),
        is_outside=not out.in_range,
        chance=in_ten(out.chance),
        wanted=out.wanted,
        enough=out.enough,
    )


def _step_lines(steps: list[Reliable]) -> list[StepLine]:
    return [
        StepLine(in_ten(one.stated), one.of, one.came, f"{in_ten(one.interval[0])} to {in_ten(one.interval[1])}")
        for one in steps
    ]


def _bias_words(record: GardenRecord) -> str:
    bias = record.bias
    if bias.of < BIAS_FORECASTS:
        few = f"Fewer than {BIAS_FORECASTS} forecasts have fallen due"
        return f"{few}: whether Elder is too hopeful here cannot be told yet."
    lead = f"Of the last {bias.of} forecasts, {bias.share:.2f} plants came for each one expected"
    likely = f"likely {bias.interval[0]:.2f} to {bias.interval[1]:.2f}"
    since = record.corrects_since
    if since is None:
        return f"{lead} ({likely}): nothing to be corrected for."
    way = "too hopeful" if bias.share < 1 else "too timid"
    if record.plan_by == "handbook":
        return f"{lead} ({likely}): Elder is {way} here. You plan by the handbook alone, so nothing is corrected for."
    return f"{lead} ({likely}): Elder is {way} here, and corrects for it since {about(since, record.today)}."


def _score_words(due: tuple[Told, ...]) -> str:
    mine = [one.outcome for one in due if one.outcome and one.by_handbook]
    book = [one.by_handbook for one in due if one.outcome and one.by_handbook]
    if len(mine) < ENOUGH_DUE:
        return ""
    own, plain = scores(mine), scores([one for one in book if one])
    return f"{_compared(own, plain)} (over {plural(len(mine), 'forecast', 'forecasts')})."


def _compared(own: Scores, plain: Scores) -> str:
    better = own.crps < 0.99 * plain.crps
    worse = own.crps > 1.01 * plain.crps
    lead = "Learning helps" if better else "Learning has not helped so far" if worse else "Learning made no odds so far"
    return (
        f"{lead}: the forecasts missed by {own.crps:.2f} plants on the mean (CRPS), the handbook alone would have by "
        f"{plain.crps:.2f}; chances were off by {own.brier:.2f} (Brier: 0 is perfect, 0.25 a guess) beside "
        f"{plain.brier:.2f}"
    )


def _pit_words(outcomes: list[Outcome]) -> str:
    if len(outcomes) < 2 * ENOUGH_DUE:
        return ""
    shares = pit_shares(outcomes)
    parts = ", ".join(f"{round(100 * share)}" for share in shares)
    lead = "Where in its forecast each outcome fell, from the lowest fifth to the highest, in hundredths"
    return f"{lead}: {parts} (20 each where Elder is right)."
