"""The crops that stand for years as rows of years, for the season and their own room alike."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from elder.drawing.scene import Scene
from elder.drawing.years_row import QUIET, SMALL, PotMark, YearsRow, years_scene
from elder.engine.year.long_crop import PotStep
from elder.web.read.long_crops import LongCrop
from elder.web.say.long_crops import crop_headline, crop_title, fruit_span
from elder.web.say.units import shown_volume

BEFORE: Final = timedelta(days=730)
AFTER: Final = timedelta(days=5 * 365)
MOST_AFTER: Final = timedelta(days=9 * 365)
WORTH_COMING_IN: Final = 0.1  # of winters: less often it is not drawn


@dataclass(frozen=True)
class CropLine:
    """A crop in the list: its row of years."""

    key: str
    title: str
    name: str
    headline: str
    scene: Scene


def years_of(crops: Sequence[LongCrop], today: date) -> tuple[date, date]:
    """The years that a list of crops is drawn over."""
    lates = [day for crop in crops for day in (crop.fruit.late or crop.fruit.likely,) if day]
    last = max([today + AFTER, *(day + timedelta(days=120) for day in lates)])
    first = max(min([today - timedelta(days=400), *(crop.since for crop in crops)]), today - BEFORE)
    return date(first.year, 1, 1), min(last, today + MOST_AFTER)


def row_of(crop: LongCrop, span: tuple[date, date], units: str, *, height: int = SMALL, labelled: bool = True) -> Scene:
    """Its row of years."""
    row = YearsRow(
        start=span[0],
        end=span[1],
        today=crop.today,
        since=crop.since,
        pots=[_pot(step, units) for step in coming_steps(crop)],
        fruit=_awaited(crop),
        winters=_winters(crop, span),
        ended=crop.looks[-1].on if crop.has_ended else None,
        labelled=labelled,
    )
    return years_scene(row, f"{crop_title(crop)}: {' '.join(crop_headline(crop, units))}", height=height)


def _pot(step: PotStep, units: str) -> PotMark:
    litres = step.vessel.volume_l
    return PotMark(step.on, litres, step.done, shown_volume(litres, units))


def coming_steps(crop: LongCrop) -> list[PotStep]:
    """Its pots; none to come for one that has ended."""
    return [step for step in crop.steps if step.done or not crop.has_ended]


def _awaited(crop: LongCrop) -> tuple[date | None, date | None, date | None]:
    """The fruit that is waited for: its first, or that of the one that follows it."""
    if crop.has_ended:
        return fruit_span(crop.follower) if crop.follower else (None, None, None)
    waits = crop.bears and (crop.fruit.seen or not crop.has_fruited)
    return fruit_span(crop.fruit) if waits else (None, None, None)


def _winters(crop: LongCrop, span: tuple[date, date]) -> list[tuple[date, date]]:
    found = crop.winters
    if found.first is None or found.last is None or found.share < WORTH_COMING_IN:
        return []
    years = range(span[0].year - 1, span[1].year + 1)
    length = found.last - found.first
    starts = [_in_year(found.first, year) for year in years]
    return [(start, start + length) for start in starts]


def _in_year(day: date, year: int) -> date:
    return day.replace(year=year, day=28) if (day.month, day.day) == (2, 29) else day.replace(year=year)


def crop_lines(crops: Sequence[LongCrop], today: date, units: str, most: int | None = None) -> list[CropLine]:
    """The first crops of a list, all on the same years, told on the first row: the years that these need, so that
    nobody asks when a hundred others fruit."""
    shown = crops[:most]
    span, lines = years_of(shown, today), []
    for i, crop in enumerate(shown):
        scene = row_of(crop, span, units, height=SMALL if i == 0 else QUIET, labelled=i == 0)
        lines.append(CropLine(crop.key, crop_title(crop), crop.name, crop_headline(crop, units)[0], scene))
    return lines
