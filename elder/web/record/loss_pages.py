"""Losses: by cause, stage, place and season, and what the causes have in common."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Final

from elder.engine.record.knowing import ENOUGH
from elder.web.garden.models import Garden
from elder.web.read.gardens import places_of
from elder.web.read.mine import GardenRecord
from elder.web.read.told import Told
from elder.web.record.became_pages import WHY_WORDS
from elder.web.say.routes import stage_words
from elder.web.say.words import plural

STANDS_OUT: Final = 1.3  # times its share of all cuttings: then a thing is worth naming beside a cause (assumed)
MOST_OF: Final = 0.6  # and so much of the cause at least
MONTHS_TO_SEASON: Final = ("winter", "winter", "spring", "spring", "spring", "summer", "summer", "summer", "autumn",
                           "autumn", "autumn", "winter")  # fmt: skip
HALF_YEAR: Final = 6


@dataclass(frozen=True)
class Lost:
    """Some that were lost: to what, at which stage, of which batch, in which season."""

    count: int
    why: str
    stage: str
    season: str
    one: Told


@dataclass(frozen=True)
class CauseLine:
    """One cause, in counts by stage, and what it has in common."""

    name: str
    count: int
    before: int
    after: int
    common: str


@dataclass(frozen=True)
class CountLine:
    """So many of so many cuttings at one place or in one season."""

    name: str
    lost: int
    cut: int
    said: str


@dataclass(frozen=True)
class LossPage:
    """What the page shows."""

    answer: str
    causes: list[CauseLine]
    stages: list[CountLine]
    places: list[CountLine]
    seasons: list[CountLine]


def losses_of(record: GardenRecord, garden: Garden) -> Iterator[Lost]:
    """Everything a garden has lost."""
    south = garden.latitude < 0
    for one in record.told:
        for gone in one.state.losses:
            season = season_of(gone.on.month, south=south)
            yield Lost(gone.count, gone.why or "unknown", gone.stage, season, one)


def season_of(month: int, *, south: bool) -> str:
    """The season of a month."""
    return MONTHS_TO_SEASON[(month - 1 + (HALF_YEAR if south else 0)) % 12]


def loss_page(record: GardenRecord, garden: Garden) -> LossPage:
    """What the page shows."""
    lost, places = list(losses_of(record, garden)), places_of(garden)
    cut = sum(one.state.taken for one in record.told)
    total = sum(one.count for one in lost)
    by_cause: dict[str, list[Lost]] = defaultdict(list)
    for one in lost:
        by_cause[one.why].append(one)
    causes = [_cause(why, some, record, garden) for why, some in by_cause.items()]
    causes.sort(key=lambda line: -line.count)
    south = garden.latitude < 0
    return LossPage(
        answer=_answer(total, cut, causes),
        causes=causes,
        stages=_by_stage(lost, cut),
        places=_counted(
            lost, record, lambda one: places[one.row.rooting_place_id].name, lambda gone: places[
                gone.one.row.rooting_place_id
            ].name
        ),
        seasons=_counted(
            lost, record, lambda one: season_of(one.state.taken_on.month, south=south),
            lambda gone: season_of(gone.one.state.taken_on.month, south=south),
        ),
    )  # fmt: skip


def _answer(total: int, cut: int, causes: list[CauseLine]) -> str:
    if not total:
        return "Nothing was lost yet."
    first = causes[0]
    return f"{total} of {plural(cut, 'cutting', 'cuttings')} were lost, most of them to {first.name} ({first.count})."


def _by_stage(lost: list[Lost], cut: int) -> list[CountLine]:
    counts: Counter[str] = Counter()
    for one in lost:
        counts[stage_words(one.one.method.route).get(one.stage, one.stage)] += one.count
    return [CountLine(name, count, cut, "") for name, count in counts.most_common()]


def _counted(
    lost: list[Lost], record: GardenRecord, of_batch: Callable[[Told], str], of_lost: Callable[[Lost], str]
) -> list[CountLine]:
    cuts: Counter[str] = Counter()
    gone: Counter[str] = Counter()
    for one in record.told:
        cuts[of_batch(one)] += one.state.taken
    for some in lost:
        gone[of_lost(some)] += some.count
    lines = [CountLine(name, gone[name], cut, share_said(gone[name], cut)) for name, cut in cuts.items()]
    return sorted(lines, key=lambda line: -line.lost)


def share_said(lost: int, cut: int) -> str:
    """How much of what was cut was lost: in tenths from eight on, below that the counts speak."""
    if cut < ENOUGH:
        return "too few to say"
    return f"{round(10 * lost / cut)} in 10" if lost else "none"


def _cause(why: str, some: list[Lost], record: GardenRecord, garden: Garden) -> CauseLine:
    count = sum(one.count for one in some)
    before = sum(one.count for one in some if one.stage == "waiting")
    return CauseLine(WHY_WORDS.get(why, why), count, before, count - before, in_common(why, some, record, garden))


def in_common(why: str, some: list[Lost], record: GardenRecord, garden: Garden) -> str:
    """What losses to one cause have in common more than all cuttings do; nothing of fewer than eight."""
    total = sum(one.count for one in some)
    if total < ENOUGH:
        return ""
    cut = sum(one.state.taken for one in record.told)
    best: tuple[float, str] | None = None
    for say, key in _traits(garden):
        mine: Counter[str] = Counter()
        every: Counter[str] = Counter()
        for gone in some:
            mine[key(gone.one)] += gone.count
        for told in record.told:
            every[key(told)] += told.state.taken
        name, count = max(mine.items(), key=lambda item: item[1])
        share, usual = count / total, every[name] / cut
        lift = share / usual if usual else 0.0
        if name and share >= MOST_OF and lift >= STANDS_OUT and (best is None or lift > best[0]):
            of_all = f"of all cuttings {round(10 * usual)} in 10 did" if usual >= 0.05 else "few other cuttings did"
            best = (lift, f"{count} of {total} {say.format(name)}; {of_all}")
    return best[1] if best else ""


def _traits(garden: Garden) -> list[tuple[str, Callable[[Told], str]]]:
    """What losses may have in common, each with its sentence."""
    places = places_of(garden)
    south = garden.latitude < 0
    return [
        ("stood under a {} cover", lambda one: _cover(one)),
        ("rooted at {}", lambda one: places[one.row.rooting_place_id].name),
        ("were {}", lambda one: one.plant.name.lower()),
        ("were cut in {}", lambda one: season_of(one.state.taken_on.month, south=south)),
        ("rooted in {}", lambda one: one.method.medium),
        ("came from {}", lambda one: one.row.stock_plant),
    ]


def _cover(one: Told) -> str:
    cover = str(one.row.treatment.get("cover") or one.method.cover or "none")
    return "" if cover == "none" else cover
