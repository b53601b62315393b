"""What the shed's pages show: what there is, how it runs down, what to buy by when, what is to be mixed."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal
from itertools import groupby
from uuid import UUID, uuid4

from elder.drawing.axis import TimeAxis
from elder.drawing.ground import ruler_scene
from elder.drawing.level import level_scene
from elder.drawing.scene import Scene, number
from elder.engine.shed.shopping import Buying
from elder.engine.shed.uses import GEL, MIX, POWDER, is_kept, with_parts
from elder.web.read.asked import WEEK
from elder.web.read.shed import ShedToday
from elder.web.say.containers import vessel_words
from elder.web.say.mixes import mix_cautions, parts_words, poured
from elder.web.say.numbers import Numbers
from elder.web.say.shed import SPLIT, amount_words, bag_kg, jar_words, packs_before, thing_words
from elder.web.say.units import shown_weight
from elder.web.say.words import day_words, listed, plural
from elder.web.shed.models import MixOrder

TABLE_WEEKS = (1, 2, 4, 8, 13, 26)  # ends of weeks told in the table beside the levels
TRIFLE = 1e-9
PART_PREFIX = "part:"
SOON_DAYS = 14  # what runs short by then is bought on the next trip, the rest stands folded (assumed)
BRIM_PX, FOOT_PX = 5, 28  # of the small sack that stands beside a line, filled as far as there is enough


@dataclass(frozen=True)
class BuyLine:
    """One thing to buy: in what packs, why, at what price; ``amount`` is what a press writes down."""

    what: str
    name: str
    packs: str
    why: str
    price: Decimal | None
    weight: str
    amount: float
    by: date
    is_due: bool
    share: str
    glyph: str


@dataclass(frozen=True)
class Trip:
    """What is to be bought by one day."""

    by: str
    is_due: bool
    lines: list[BuyLine]


@dataclass(frozen=True)
class ThingLine:
    """A thing in the shed: how much there is, how it runs down, until when it lasts."""

    what: str
    name: str
    there: str
    is_counted: bool
    lasts: str
    is_short: bool
    scene: Scene | None
    jar: str


@dataclass(frozen=True)
class OrderLine:
    """Mix that is to be made."""

    row: MixOrder
    words: str
    parts: str
    by: str
    is_due: bool


@dataclass(frozen=True)
class ShedPage:
    """The room: what to buy, what to mix, and every thing with its weeks."""

    answer: str
    under: str
    trips: list[Trip]
    later: list[Trip]
    later_words: str
    total: Decimal | None
    orders: list[OrderLine]
    groups: list[tuple[str, list[ThingLine]]]
    ruler: Scene
    numbers: Numbers
    weeks: int
    is_counted: bool
    cautions: list[str]
    key: UUID = field(default_factory=uuid4)


GROUP_NAMES = ("Made up", "For mixes", "Containers", "And besides")


def shed_page(shed: ShedToday, orders: list[MixOrder], units: str) -> ShedPage:
    """The room on a day."""
    lines = [buy_line(one, shed, units) for one in shed.buying]
    things = [_thing(what, shed, units) for what in shed.things]
    start = shed.weeks.monday
    axis = TimeAxis(start, start + timedelta(days=WEEK * shed.weeks.count))
    wanted = [line.what.removeprefix(PART_PREFIX) for line in lines if line.what.startswith(PART_PREFIX)]
    answer, under = _answer(shed, lines)
    soon = soon_of(lines, shed.today)
    later = lines[len(soon) :]
    return ShedPage(
        answer=answer,
        under=under,
        trips=trips_of(soon, shed.today),
        later=trips_of(later, shed.today),
        later_words=_later_words(later),
        total=total_of(soon),
        orders=[_order(row, shed, units) for row in orders],
        groups=[(GROUP_NAMES[kind], list(several)) for kind, several in groupby(things, _group)],
        ruler=ruler_scene(axis, shed.today, day_words=lambda day: day_words(day, shed.today)),
        numbers=level_numbers(shed, units),
        weeks=shed.weeks.count,
        is_counted=bool(shed.held.since),
        cautions=[*([SPLIT] if any(line.weight for line in lines) else []), *mix_cautions(wanted)],
    )


def soon_of(lines: list[BuyLine], today: date) -> list[BuyLine]:
    """What is bought on the next trip: by a fortnight from now; where nothing is, by the first day one is short."""
    if not lines:
        return []
    until = max(today + timedelta(days=SOON_DAYS), lines[0].by)
    return [line for line in lines if line.by <= until]


def _later_words(lines: list[BuyLine]) -> str:
    """What is bought later, in a word: "8 things more, 26.40 in all"."""
    price = total_of(lines)
    return f"{plural(len(lines), 'thing', 'things')} more{f', {price} in all' if price is not None else ''}"


def _group(line: ThingLine) -> int:
    prefixes = (MIX, PART_PREFIX, "vessel:")
    return next((i for i, one in enumerate(prefixes) if line.what.startswith(one)), len(prefixes))


def _answer(shed: ShedToday, lines: list[BuyLine]) -> tuple[str, str]:
    """What to do next, in one line; and until when the rest lasts."""
    if not lines:
        return (
            "Nothing is short.",
            f"What is there is enough, 9 times in 10, for all {shed.weeks.count} weeks in sight.",
        )
    first = [line for line in lines if line.by == lines[0].by]
    names = [line.name for line in first[:3]]
    if len(first) > len(names):
        names.append(f"{len(first) - len(names)} more")
    later = len(lines) - len(first)
    day = "today" if first[0].by <= shed.today else f"by {day_words(first[0].by, shed.today)}"
    under = f"{plural(later, 'thing', 'things')} more later." if later else "Nothing else is short in these weeks."
    return f"Buy {day}: {listed(names)}.", under


def buy_line(one: Buying, shed: ShedToday, units: str) -> BuyLine:
    """One thing to buy, in words."""
    name = thing_words(one.what, shed.kit, units, one.packs.count if one.packs.size_l == 1 else 2)
    expected = amount_words(one.what, one.expected_short, units)
    sure = amount_words(one.what, one.short, units)
    why = f"{sure} short" if expected == sure else f"{sure} short to be sure, {expected} expected"
    over, kilos = one.packs.over_l, bag_kg(one.what, one.packs.size_l)
    spare = f"; {amount_words(one.what, over, units)} over" if over > 0.05 and not is_kept(one.what) else ""
    return BuyLine(
        what=one.what,
        name=name,
        packs=packs_before(one.what, one.packs.count, one.packs.size_l, units),
        why=why + spare,
        price=None if one.price is None else Decimal(str(round(one.price, 2))).quantize(Decimal("0.01")),
        weight=f"about {shown_weight(kilos, units)} a bag" if kilos else "",
        amount=one.packs.count * one.packs.size_l,
        by=one.by,
        is_due=one.by <= shed.today,
        share=number(BRIM_PX + (FOOT_PX - BRIM_PX) * one.short / (one.short + shed.there(one.what))),
        glyph="pot" if one.what.startswith("vessel:") else "sack",
    )


def trips_of(lines: list[BuyLine], today: date) -> list[Trip]:
    """What is to be bought, by day."""
    return [
        Trip("Today" if by <= today else f"By {day_words(by, today)}", by <= today, list(several))
        for by, several in groupby(lines, lambda line: line.by)
    ]


def total_of(lines: list[BuyLine]) -> Decimal | None:
    """What it comes to, of what has a price; nothing where none has."""
    prices = [line.price for line in lines if line.price is not None]
    return sum(prices, Decimal(0)) if prices else None


def _thing(what: str, shed: ShedToday, units: str) -> ThingLine:
    need, there = shed.needed.get(what), shed.there(what)
    until = shed.lasts(what)
    name = thing_words(what, shed.kit, units)
    row = shed.supplies.get(what)
    lasts = f"until {day_words(until, shed.today)}" if until and until >= shed.today else "short now" if until else ""
    if need is not None and not until:
        lasts = "all these weeks"
    scene = None
    if need is not None:
        words = f"{name}: {amount_words(what, there, units)} there, {lasts or 'asked for'}."
        short = float((need.sure - there).max())
        said = f"{amount_words(what, short, units)} short" if short > 0 else ""
        scene = level_scene(there, need.expected, need.sure, words=words, short_words=said)
    return ThingLine(
        what=what,
        name=name[:1].upper() + name[1:],
        there=amount_words(what, there, units),
        is_counted=what in shed.held.since,
        lasts=lasts,
        is_short=bool(until),
        scene=scene,
        jar=jar_words(row.opened_on, row.use_by, shed.today) if row and what in (POWDER, GEL) else "",
    )


def level_numbers(shed: ShedToday, units: str) -> Numbers:
    """What is left of each thing after so many weeks: to be sure, and as expected where that differs."""
    ends = [week for week in TABLE_WEEKS if week <= shed.weeks.count]
    rows = []
    for what in shed.things:
        need, there = shed.needed.get(what), shed.there(what)
        if need is not None:
            left = [(there - float(need.sure[week - 1]), there - float(need.expected[week - 1])) for week in ends]
            cells = [_left_words(what, sure, expected, units) for sure, expected in left]
            rows.append((thing_words(what, shed.kit, units), amount_words(what, there, units), *cells))
    heads = ("Thing", "There", *(f"After {plural(week, 'week', 'weeks')}" for week in ends))
    return Numbers("What is left, 9 times in 10 (as expected)", heads, tuple(rows))


def _left_words(what: str, sure: float, expected: float, units: str) -> str:
    said, usual = (_or_short(what, amount, units) for amount in (sure, expected))
    return said if said == usual else f"{said} ({usual})"


def _or_short(what: str, amount: float, units: str) -> str:
    return (
        f"{amount_words(what, -amount, units)} short" if amount < -TRIFLE else amount_words(what, max(amount, 0), units)
    )


def _order(row: MixOrder, shed: ShedToday, units: str) -> OrderLine:
    vessel, recipe = shed.kit.vessel(row.vessel), shed.kit.mix(row.recipe)
    if vessel is None or recipe is None:
        return OrderLine(row, "Mix whose recipe or container is gone.", "", day_words(row.by, shed.today), False)
    litres = vessel.filled_l * row.count
    parts = with_parts({MIX + recipe.key: litres}, shed.kit)
    into = f"{row.count} {vessel_words(vessel, row.count, units)}"
    return OrderLine(
        row=row,
        words=f"{poured(litres, units)} of {recipe.name}, for {into}",
        parts=parts_words({what.removeprefix(PART_PREFIX): amount for what, amount in parts.items()}, units),
        by=day_words(row.by, shed.today),
        is_due=row.by <= shed.today,
    )
