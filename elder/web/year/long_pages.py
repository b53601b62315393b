"""The crops that stand for years, as their pages show them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from elder.drawing.scene import Scene
from elder.drawing.years_row import LARGE, QUIET, SMALL, PotMark, YearsRow, years_scene
from elder.engine.handbook.model import Caution
from elder.web.read.long_crops import LongCrop
from elder.web.say.long_crops import (
    crop_headline,
    crop_title,
    fruit_span,
    fruit_words,
    pups_words,
    step_words,
    winter_words,
)
from elder.web.say.words import about, day_words

BEFORE = timedelta(days=730)
AFTER = timedelta(days=5 * 365)
MOST_AFTER = timedelta(days=9 * 365)
WORTH_COMING_IN = 0.1  # of winters: less often it is not drawn


@dataclass(frozen=True)
class StepLine:
    """A pot of the ladder."""

    when: str
    said: str
    done: bool
    due: bool


@dataclass(frozen=True)
class CropLine:
    """A crop in the list: its row of years."""

    key: str
    title: str
    name: str
    headline: str
    scene: Scene


@dataclass(frozen=True)
class CropPage:
    """One crop."""

    key: str
    title: str
    name: str
    headline: tuple[str, str]
    scene: Scene
    steps: list[StepLine]
    repot: tuple[str, ...]
    guessed: bool
    feed: str
    ph: str
    winters: str
    pups: str
    follows: str
    signs: str
    fruit: str
    seen: list[str]
    stock: int | None
    batch: int | None
    cautions: list[Caution]
    left_out: str


LEFT_OUT = (
    "Taken to stand there all year, fed and watered; what a winter indoors adds, or a check costs, is not in it. Days "
    "to fruit are the handbook’s, moved by the warmth of its place."
)


def years_of(crops: Sequence[LongCrop], today: date) -> tuple[date, date]:
    """The years that a list of crops is drawn over."""
    lates = [day for crop in crops for day in (crop.fruit.late or crop.fruit.likely,) if day]
    last = max([today + AFTER, *(day + timedelta(days=120) for day in lates)])
    first = max(min([today - timedelta(days=400), *(crop.since for crop in crops)]), today - BEFORE)
    return date(first.year, 1, 1), min(last, today + MOST_AFTER)


def row_of(crop: LongCrop, span: tuple[date, date], *, height: int = SMALL, labelled: bool = True) -> Scene:
    """Its row of years."""
    row = YearsRow(
        start=span[0],
        end=span[1],
        today=crop.today,
        since=crop.since,
        pots=[PotMark(step.on, step.vessel.volume_l, step.done) for step in crop.steps],
        fruit=_awaited(crop),
        winters=_winters(crop, span),
        ended=crop.looks[-1].on if crop.has_ended else None,
        labelled=labelled,
    )
    return years_scene(row, f"{crop_title(crop)}: {' '.join(crop_headline(crop))}", height=height)


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


def crop_lines(crops: Sequence[LongCrop], today: date, most: int | None = None) -> list[CropLine]:
    """The crops in a list, all on the same years, told on the first row."""
    span, lines = years_of(crops, today), []
    for i, crop in enumerate(crops[:most]):
        scene = row_of(crop, span, height=SMALL if i == 0 else QUIET, labelled=i == 0)
        lines.append(CropLine(crop.key, crop_title(crop), crop.name, crop_headline(crop)[0], scene))
    return lines


def crop_page(crop: LongCrop, units: str) -> CropPage:
    """The page of one crop."""
    potting, ph = crop.potting, crop.ph
    return CropPage(
        key=crop.key,
        title=crop_title(crop),
        name=crop.name,
        headline=crop_headline(crop),
        scene=row_of(crop, years_of([crop], crop.today), height=LARGE),
        steps=[
            StepLine(
                when=day_words(step.on, crop.today, weekday=False),
                said=step_words(step, crop, units),
                done=step.done,
                due=not step.done and step.on <= crop.today,
            )
            for step in crop.steps
        ],
        repot=potting.repot,
        guessed=crop.guessed,
        feed=potting.feed,
        ph=f"pH {ph[0]:g} to {ph[1]:g}" if ph and "pH" not in potting.feed else "",
        winters=winter_words(crop),
        pups=pups_words(crop),
        follows=crop.facts.follows if not crop.has_ended else "",
        signs=crop.facts.signs,
        fruit=fruit_words(crop) if crop.bears and not crop.has_ended else "",
        seen=seen_lines(crop),
        stock=crop.stock.pk if crop.stock else None,
        batch=crop.batch,
        cautions=[one for one in crop.plant.cautions if one.at in ("pot", "cut")],
        left_out=LEFT_OUT,
    )


def seen_lines(crop: LongCrop) -> list[str]:
    """What was seen of it, the newest first."""
    said = []
    for look in reversed(crop.looks[-6:]):
        parts = [look.get_growth_display()]
        parts += [f"{look.pups} pups"] if look.pups is not None else []
        parts += [f"{look.stalks} stalks"] if look.stalks is not None else []
        parts += [look.note] if look.note else []
        said.append(f"{about(look.on, crop.today)}: {', '.join(parts)}")
    return said
