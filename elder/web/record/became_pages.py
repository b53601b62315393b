"""What became of them: planted, given, sold, eaten, lost; what was saved against buying; each mother's line."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from elder.engine.handbook.loading import handbook
from elder.engine.shed.uses import is_kept, uses_at_potting, uses_at_sticking, with_parts
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.kit import kit_of, treated_as
from elder.web.read.mine import GardenRecord
from elder.web.read.promises import handings_of
from elder.web.read.shed import supplies_of
from elder.web.read.stock import is_staked
from elder.web.read.told import Told
from elder.web.record.figures import Figures, coming, figures
from elder.web.record.models import PlantPrice
from elder.web.say.plants import plant_words
from elder.web.say.words import day_words, listed, plural
from elder.web.shed.models import Supply
from elder.web.stock.models import StockPlant

HOW_WORDS: Final = {
    "gift": "given", "swap": "swapped", "order": "to orders", "sale": "sold", "carried": "carried off",
    "eaten": "eaten",
}  # fmt: skip
WHY_WORDS: Final = {
    "rot": "rot", "dry": "drying out", "cold": "cold", "pests": "pests or disease", "gave_up": "given up on",
    "accident": "accidents", "unknown": "no known cause",
}  # fmt: skip
CENT: Final = Decimal("0.01")


@dataclass(frozen=True)
class BecameLine:
    """What became of one plant's cuttings."""

    plant: str
    name: str
    figures: Figures
    given: str
    lost: str
    price: Decimal | None
    worth: Decimal | None
    cost: Decimal
    hours: float


@dataclass(frozen=True)
class LineWorth:
    """A mother and all that came of her and of her daughters."""

    stock: int | None
    name: str
    plant: str
    said: str


@dataclass(frozen=True)
class PassedLine:
    """What was handed over for a promise, and what was had for it."""

    promise: int
    said: str
    had: str


@dataclass(frozen=True)
class BecamePage:
    """The whole garden's."""

    answer: str
    money: str
    lines: list[BecameLine]
    worths: list[LineWorth]
    hows: list[str]
    total: Figures
    passed_on: list[PassedLine]
    had: str


def became_page(record: GardenRecord, garden: Garden) -> BecamePage:
    """What the page shows; made once as the garden stands."""
    return once_looking(garden, ("became", record.today), lambda: _became_page(record, garden))


def _became_page(record: GardenRecord, garden: Garden) -> BecamePage:
    by_plant: dict[str, list[Told]] = defaultdict(list)
    for one in record.told:
        by_plant[one.row.plant].append(one)
    prices = {row.plant: row.price for row in PlantPrice.objects.filter(garden=garden)}
    supplies = supplies_of(garden)
    lines = [_line(slug, told, prices.get(slug), supplies, garden) for slug, told in by_plant.items()]
    lines.sort(key=lambda line: (-line.figures.plants, line.name))
    total = figures(record.told)
    passed, had = passed_on(garden)
    return BecamePage(
        answer=_answer(total, round(sum(coming(one) for one in record.told))),
        money=_money(lines),
        lines=lines,
        worths=line_worths(record, garden),
        hows=[word for how, word in HOW_WORDS.items() if total.given[how]],
        total=total,
        passed_on=passed,
        had=had,
    )


def passed_on(garden: Garden) -> tuple[list[PassedLine], str]:
    """What was handed over for promises, the newest first, and what was had for all of it."""
    rows = handings_of(garden)
    lines: list[PassedLine] = []
    money, swaps = Decimal(0), list[str]()
    for row in rows:
        want = row.promise.want
        name = plant_words(handbook()[want.plant].name, want.variety)
        parts = [f"{row.money:.2f}"] if row.money is not None else []
        parts += [row.swap] if row.swap else []
        day = f"{day_words(row.on, weekday=False)} {row.on.year}"
        lines.append(PassedLine(row.promise_id, f"{row.count} {name} to {row.promise.who}, {day}", listed(parts)))
        money += row.money or Decimal(0)
        swaps += [row.swap] if row.swap else []
    had = [f"{money:.2f} in money"] if money else []
    had += [f"in return {listed(dict.fromkeys(swaps))}"] if swaps else []
    return (
        lines,
        f"{plural(sum(row.count for row in rows), 'plant', 'plants')} passed on: {listed(had)}." if had else "",
    )


def _line(
    slug: str, told: list[Told], price: Decimal | None, supplies: Mapping[str, Supply], garden: Garden
) -> BecameLine:
    found = figures(told)
    minutes = sum(
        one.method.effort_minutes(one.state.taken, (one.method.rooting.early + one.method.rooting.late) / 2)
        for one in told
    )
    return BecameLine(
        plant=slug,
        name=handbook()[slug].name,
        figures=found,
        given=listed(f"{count} {HOW_WORDS.get(how, how)}" for how, count in found.given.items()),
        lost=listed(f"{count} {WHY_WORDS.get(why, why)}" for why, count in found.lost.most_common()),
        price=price,
        worth=(price * found.plants).quantize(CENT) if price is not None else None,
        cost=cost_of(told, supplies, garden),
        hours=round(minutes / 60, 1),
    )


def cost_of(told: Iterable[Told], supplies: Mapping[str, Supply], garden: Garden) -> Decimal:
    """What batches used up, at the household's own prices: mix, labels, hormone, and pots that went with plants. What
    has no price costs nothing."""
    kit, total = kit_of(garden), 0.0
    for one in told:
        treated, plant, method = treated_as(one.row, garden, one.row.want), one.plant, one.method
        state = one.state
        uses = [uses_at_sticking(plant, method, state.taken, treated)]
        potted = state.rooted_ever
        if potted:
            uses.append(uses_at_potting(plant, method, potted, treated, staked=is_staked(plant, method)))
        for use in uses:
            for what, amount in with_parts(use, kit).items():
                supply = supplies.get(what)
                if supply and supply.price is not None and not is_kept(what):
                    total += amount * float(supply.price) / supply.pack
    return Decimal(total).quantize(CENT)


def _answer(total: Figures, to_come: int) -> str:
    if not total.plants:
        return "Nothing has come to stand yet."
    parts = [f"{total.planted} planted out"] if total.planted else []
    parts += [f"{total.given[how]} {word}" for how, word in HOW_WORDS.items() if total.given[how]]
    parts += [f"{total.standing} standing now"] if total.standing else []
    more = f" Of the {total.waiting} still waiting about {to_come} more are to come." if to_come else ""
    return (
        f"{plural(total.plants, 'plant', 'plants')} of {total.cut} cuttings in "
        f"{plural(total.batches, 'batch', 'batches')}: {listed(parts)}.{more}"
    )


def _money(lines: list[BecameLine]) -> str:
    priced = [line for line in lines if line.worth is not None]
    if not priced:
        return "Say what a plant would cost you to buy, and Elder says what cloning saved."
    worth = sum((line.worth for line in priced if line.worth is not None), Decimal(0))
    cost, hours = sum((line.cost for line in priced), Decimal(0)), sum(line.hours for line in priced)
    plants = sum(line.figures.plants for line in priced)
    return (
        f"{plants} plants with a price would have cost {worth:.2f}; mix, pots and labels for them came to {cost:.2f}, "
        f"so {worth - cost:.2f} was saved, for about {hours:.0f} hours of hands."
    )


def line_worths(record: GardenRecord, garden: Garden) -> list[LineWorth]:
    """Each mother's line: what came of her, and of all that were kept from what came of her."""
    mothers = {row.pk: row for row in StockPlant.objects.filter(garden=garden)}
    batch_mother = {one.row.pk: one.row.mother_id for one in record.told}
    own: dict[int, list[Told]] = defaultdict(list)
    for one in record.told:
        if one.row.mother_id:
            own[one.row.mother_id].append(one)
    daughters: dict[int, list[int]] = defaultdict(list)
    for row in mothers.values():
        above = batch_mother.get(row.raised_from_id or 0)
        if above:
            daughters[above].append(row.pk)
    found = []
    for pk, row in mothers.items():
        line = _all_of(pk, own, daughters, set())
        total = figures(line)
        if not total.plants:
            continue
        years = len({one.state.taken_on.year for one in line})
        said = f"{plural(total.plants, 'plant', 'plants')} of {total.cut} cuttings in {plural(years, 'year', 'years')}"
        if daughters[pk]:
            said += f", {plural(len(daughters[pk]), 'daughter', 'daughters')} among them kept as a mother"
        found.append((total.plants, LineWorth(pk, row.name, row.plant, said)))
    return [line for _, line in sorted(found, key=lambda one: -one[0])]


def _all_of(pk: int, own: Mapping[int, list[Told]], daughters: Mapping[int, list[int]], seen: set[int]) -> list[Told]:
    """A mother's batches and those of her daughters, each once however the rows point."""
    if pk in seen:
        return []
    seen.add(pk)
    found = list(own.get(pk, []))
    for daughter in daughters.get(pk, []):
        found += _all_of(daughter, own, daughters, seen)
    return found


def started_in(record: GardenRecord, year: int) -> list[Told]:
    """The batches cut in a year."""
    return [one for one in record.told if one.state.taken_on.year == year]
