"""The year in cuttings: one page to read in winter, and to print. By plant, by place, by month; five sentences."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Final

from elder.engine.record.knowing import ENOUGH
from elder.engine.record.looks import Tally, tally_of
from elder.web.garden.models import Garden
from elder.web.read.gardens import climate_of, places_of
from elder.web.read.mine import GardenRecord
from elder.web.read.told import Told
from elder.web.record.became_pages import WHY_WORDS, started_in
from elder.web.record.figures import Figures, figures
from elder.web.say.plants import way_words
from elder.web.say.units import temperature
from elder.web.say.words import MONTHS, in_ten, listed, plural

SENTENCES: Final = 5
FAR_APART: Final = 0.15  # in take, before one place or month is set above another in words (assumed)


@dataclass(frozen=True)
class YearLine:
    """Some of a year's batches: cut, took, stood, and the take as far as it can be said; warmth beside a month."""

    name: str
    batches: int
    cut: int
    took: str
    stood: int
    lost: int
    said: str
    warmth: str = ""


@dataclass(frozen=True)
class YearPage:
    """One year."""

    year: int
    years: list[int]
    answer: str
    sentences: list[str]
    plants: list[YearLine]
    places: list[YearLine]
    months: list[YearLine]
    beside: list[YearLine]


def years_of(record: GardenRecord) -> list[int]:
    """The years anything was cut in, the newest first."""
    return sorted({one.state.taken_on.year for one in record.told}, reverse=True)


def year_page(record: GardenRecord, garden: Garden, year: int, units: str) -> YearPage:
    """What a year's page shows."""
    told = started_in(record, year)
    places = places_of(garden)
    normals = climate_of(garden).normals
    warmth = [(low + high) / 2 for low, high in zip(normals.t_min, normals.t_max, strict=True)]
    total = figures(told)
    years = years_of(record)
    return YearPage(
        year=year,
        years=years,
        answer=_answer(total, year),
        sentences=list(_sentences(told, record, garden, year))[:SENTENCES],
        plants=_lines(told, _way_name),
        places=_lines(told, lambda one: places[one.row.rooting_place_id].name),
        months=_months(told, warmth, units),
        beside=[_line(str(one), started_in(record, one)) for one in years],
    )


def _way_name(one: Told) -> str:
    return f"{one.plant.name}, {way_words(one.method.form, one.method.name)}"


def _answer(total: Figures, year: int) -> str:
    if not total.batches:
        return f"Nothing was cut in {year}."
    return (
        f"{plural(total.cut, 'cutting', 'cuttings')} in {plural(total.batches, 'batch', 'batches')}: "
        f"{total.rooted} of the {total.settled} that have told took, "
        f"{plural(total.plants, 'plant', 'plants')} came of them."
    )


def _lines(told: list[Told], key: Callable[[Told], str]) -> list[YearLine]:
    groups: dict[str, list[Told]] = defaultdict(list)
    for one in told:
        groups[key(one)].append(one)
    return sorted((_line(name, some) for name, some in groups.items()), key=lambda line: (-line.cut, line.name))


def _months(told: list[Told], warmth: list[float], units: str) -> list[YearLine]:
    groups: dict[int, list[Told]] = defaultdict(list)
    for one in told:
        groups[one.state.taken_on.month].append(one)
    return [_line(MONTHS[month - 1], groups[month], temperature(warmth[month - 1], units)) for month in sorted(groups)]


def _line(name: str, told: list[Told], warmth: str = "") -> YearLine:
    total = figures(told)
    return YearLine(
        name=name,
        batches=total.batches,
        cut=total.cut,
        took=f"{total.rooted} of {total.settled}" if total.settled else "none has told",
        stood=total.plants,
        lost=total.lost.total(),
        said=in_ten(total.rooted / total.settled) if total.settled >= ENOUGH else "",
        warmth=warmth,
    )


def _tally(told: list[Told]) -> Tally:
    return tally_of([one.state for one in told])


def _sentences(told: list[Told], record: GardenRecord, garden: Garden, year: int) -> Iterator[str]:
    """What worked, what did not, what was quick, what took most, what to try: each with its counts, or not at all."""
    ways: dict[str, list[Told]] = defaultdict(list)
    for one in told:
        ways[_way_name(one)].append(one)
    shares = {name: _tally(some) for name, some in ways.items()}
    firm = {name: tally for name, tally in shares.items() if tally.settled >= ENOUGH}
    if firm:
        best = max(firm, key=lambda name: firm[name].rooted / firm[name].settled)
        yield f"What worked best: {best}, {firm[best].rooted} of {firm[best].settled} took."
        worst = min(firm, key=lambda name: firm[name].rooted / firm[name].settled)
        if worst != best:
            yield f"What worked least: {worst}, {firm[worst].rooted} of {firm[worst].settled}."
    total = figures(told)
    if total.lost.total() >= ENOUGH:
        why, count = total.lost.most_common(1)[0]
        after = f", {total.lost_after} of them after they had roots" if total.lost_after else ""
        yield f"{total.lost.total()} were lost{after}; {count} to {WHY_WORDS.get(why, why)}, the commonest cause."
    yield from _quick(told, record)
    yield from _to_try(told, record, garden)
    before = figures(started_in(record, year - 1))
    if before.settled >= ENOUGH and total.settled >= ENOUGH:
        yield (
            f"The year before {before.rooted} of {before.settled} took, and {before.plants} became plants; "
            f"this year {total.rooted} of {total.settled}, and {total.plants}."
        )


def _quick(told: list[Told], record: GardenRecord) -> Iterator[str]:
    paces = {}
    for one in told:
        own = record.own(one.plant, one.method)
        if own and own.tells and own.learned.days_yours > 0.5:
            paces[one.plant.name] = own.learned.pace
    quick = [f"{name} ({round(100 * pace)} days for the handbook’s 100)" for name, pace in paces.items() if pace < 0.93]
    slow = [f"{name} ({round(100 * pace)})" for name, pace in paces.items() if pace > 1.07]
    parts = [f"quicker than the handbook here: {listed(quick)}"] if quick else []
    parts += [f"slower: {listed(slow)}"] if slow else []
    if parts:
        said = "; ".join(parts)
        yield f"{said[0].upper()}{said[1:]}."


def _to_try(told: list[Told], record: GardenRecord, garden: Garden) -> Iterator[str]:
    """The place or the month in which more of a plant took, where both have told enough; else what is still too few."""
    places = places_of(garden)
    for plant in sorted({one.row.plant for one in told}):
        every = [one for one in record.told if one.row.plant == plant and one.teaches]
        by: tuple[tuple[str, Callable[[Told], str]], ...] = (
            ("at {}", lambda one: places[one.row.rooting_place_id].name),
            ("cut in {}", lambda one: MONTHS[one.state.taken_on.month - 1]),
        )
        for what, key in by:
            groups: dict[str, list[Told]] = defaultdict(list)
            for one in every:
                groups[key(one)].append(one)
            tallies = {name: _tally(some) for name, some in groups.items()}
            firm = {name: t.rooted / t.settled for name, t in tallies.items() if t.settled >= ENOUGH}
            if len(firm) < 2:
                continue
            best, worst = max(firm, key=lambda n: firm[n]), min(firm, key=lambda n: firm[n])
            if firm[best] - firm[worst] >= FAR_APART:
                good, bad = tallies[best], tallies[worst]
                yield (
                    f"To try: {every[0].plant.name.lower()} {what.format(best)} ({good.rooted} of {good.settled}) "
                    f"rather than {what.format(worst)} ({bad.rooted} of {bad.settled}); a trial would tell whether "
                    "that is luck."
                )
                return
