"""The answer to a want: words, reasons, drawings, its lots, and the other ways it could be rooted."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date

from elder.drawing.axis import TimeAxis
from elder.drawing.cut_curve import CutCurve
from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import COMPACT, LARGE
from elder.engine.handbook.model import Method
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.refusal import Refusal
from elder.web.garden.models import Garden
from elder.web.read.wants import Reckoning, reckon
from elder.web.say.numbers import Numbers, curve_numbers, row_numbers
from elder.web.say.pictures import season_axis, want_curve, want_picture, want_scene
from elder.web.say.refusals import refusal_words
from elder.web.say.wants import (
    Headline,
    chosen_words,
    exchange_words,
    headline,
    nights_to_accept,
    plural_cut,
    row_words,
    under_words,
)
from elder.web.say.words import about, day_words, minutes_words, plural
from elder.web.season.better_place import place_words
from elder.web.season.models import Want
from elder.web.season.reasons import Reason, reasons
from elder.web.season.series import carry_plan, rows_of


@dataclass(frozen=True)
class AnswerLine:
    """One lot, or one step, under the answer: its name, what it says, its small drawing."""

    name: str
    said: Headline
    scene: Scene


@dataclass(frozen=True)
class Way:
    """Another way to root the same want, reckoned for the same places."""

    method: Method
    said: str
    effort: str
    chosen: bool


@dataclass(frozen=True)
class Answer:
    """What the answer panel shows for one want, saved or not."""

    reckoning: Reckoning
    headline: Headline
    reasons: list[Reason]
    scene: Scene
    ruler: Scene
    ground: Scene
    axis_start: date
    axis_days: int
    curve: CutCurve | None
    line_numbers: Numbers
    curve_numbers: Numbers | None
    chosen: date | None
    chosen_words: str
    under: str = ""
    place_said: str = ""
    exchange: list[str] = field(default_factory=list)
    carry: int | None = None
    lines: list[AnswerLine] = field(default_factory=list)
    ways: list[Way] = field(default_factory=list)

    @property
    def cautions(self) -> list[str]:
        """What could hurt at the cut."""
        return [caution.text for caution in self.reckoning.plant.cautions if caution.at in ("cut", "stick")]


def answer_to(
    reckoning: Reckoning, names: tuple[str, str], units: str, *, others: list[Reckoning] | None = None
) -> Answer:
    """Put an answer together. ``others`` are the further lots or steps of what was asked."""
    today, others = reckoning.today, others or []
    axis = season_axis([reckoning, *others], today)
    option = reckoning.option if not reckoning.batches else None
    return Answer(
        reckoning=reckoning,
        headline=headline(reckoning),
        reasons=reasons(reckoning, names, units),
        scene=want_scene(reckoning, axis, LARGE),
        ruler=ruler_scene(axis, today, day_words=lambda day: day_words(day, today)),
        ground=ground_scene(axis, today, reckoning.climate, height=LARGE.height),
        axis_start=axis.start,
        axis_days=axis.days,
        curve=want_curve(reckoning),
        line_numbers=row_numbers(want_picture(reckoning, axis), today),
        curve_numbers=None if isinstance(reckoning.plan, Refusal) else curve_numbers(reckoning.plan, today),
        chosen=option.day if option else None,
        chosen_words=chosen_words(option, today) if option else "",
        under=under_words(reckoning),
        place_said=place_words(reckoning, reckoning.row.garden),
        exchange=exchange_words(reckoning),
        carry=nights_to_accept(reckoning.refusal or option),
        lines=_lines([reckoning, *others], axis) if others else [],
    )


def _lines(reckonings: list[Reckoning], axis: TimeAxis) -> list[AnswerLine]:
    """A line for each lot; or for each step, where some are kept over so that the rest can be planted."""
    in_steps = reckonings[0].want.purpose == "winter" != reckonings[-1].want.purpose
    found = []
    for item in reckonings:
        step = "Keep over" if item.want.purpose == "winter" else "Plant out"
        name = f"{step if in_steps else f'Lot {item.row.lot}'}: {item.row.total}"
        found.append(AnswerLine(name, row_words(item), want_scene(item, axis, COMPACT)))
    return found


def sheet_answer(
    row: Want, garden: Garden, today: date, units: str, *, series: tuple[int, int] = (1, 21)
) -> Answer | Refusal:
    """The answer to a sheet as filled in, with its lots or steps and the other ways; or why there is none."""
    rows = rows_of(row, garden, today, lots=series[0], apart_days=series[1])
    names = row.rooting_place.name, row.growing_place.name
    if isinstance(rows, Refusal):
        return rows
    first, *others = [reckon(one, garden, today) for one in rows]
    answer = answer_to(first, names, units, others=others)
    if row.purpose == Want.Purpose.OVER:
        return replace(answer, headline=_winter_headline(row, garden, today))
    return answer if others else replace(answer, ways=ways_for(row, garden, today))


def _winter_headline(row: Want, garden: Garden, today: date) -> Headline:
    """Both steps in one line."""
    carried = carry_plan(row, garden, today)
    if isinstance(carried, Refusal):
        return Headline("", "")
    first, second = carried.first, carried.second
    plant = first.plant
    cut, again = first.option(first.recommended), second.option(second.recommended)
    when = "today" if cut.day == today else f"by {about(cut.day, today)}"
    taken = plural(cut.count, plant.cutting_one, plant.cutting_many)
    strong = f"Cut {taken} {when}, and keep {carried.kept} through winter."
    return Headline(
        strong,
        f"About {carried.mothers} see the spring and give {carried.gives} each: cut {again.count} of them on "
        f"{about(again.day, today)}, and plant out {row.total} on {about(second.target, today)}.",
    )


def ways_for(row: Want, garden: Garden, today: date) -> list[Way]:
    """Every way of the plant for this want at these places, side by side."""
    here = reckon(row, garden, today)
    if len(here.plant.ways) < 2:
        return []
    found = []
    chosen = row.method
    try:
        for method in here.plant.ways:
            row.method = method.slug
            found.append(_way(reckon(row, garden, today), method, chosen=method.slug == chosen))
    finally:
        row.method = chosen
    return found


def _way(reckoning: Reckoning, method: Method, *, chosen: bool) -> Way:
    plan = reckoning.plan
    if isinstance(plan, Refusal):
        return Way(method, refusal_words(plan, reckoning.today, reckoning.plant), "", chosen)
    day = plan.recommended
    option = plan.option(day)
    said = f"{plural_cut(reckoning, option)} {_when(plan, today=reckoning.today)}"
    days = (option.rooted[1] - day).days if option.rooted[1] else 0
    rooted = f", rooted in {plural(days, 'day', 'days')}" if days else ""
    return Way(method, f"{said}{rooted}", minutes_words(method.effort_minutes(option.count, days)), chosen)


def _when(plan: SeasonPlan, *, today: date) -> str:
    span = plan.comfortable
    if span is None:
        return f"on {about(plan.recommended, today)}, at a stretch"
    return f"by {about(span[1], today)}"
