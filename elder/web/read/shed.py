"""The shed reckoned for today: what is there of each thing, what the weeks ask of it, what to buy by when."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from elder.engine.keeping import cached_property
from elder.engine.shed.kit import Kit
from elder.engine.shed.needs import Ask, Needed, needs
from elder.engine.shed.recipes import mix_parts
from elder.engine.shed.shopping import Buying, Stocked, lasts_until, to_buy
from elder.engine.shed.uses import GEL, LABEL, MIX, PART, PLUG, POWDER, is_kept
from elder.web.garden.models import Garden
from elder.web.read.asked import Weeks, asked
from elder.web.read.kit import kit_of
from elder.web.read.stock import InShed, in_shed
from elder.web.read.there import has_any
from elder.web.read.wants import Reckoning, reckon_all
from elder.web.shed.models import Supply

ALWAYS = (PART + "potting", LABEL)  # every shed is asked for these
PACKS = {PLUG: 50.0, LABEL: 100.0, POWDER: 25.0, GEL: 50.0}  # usual ones, for what is bought many at a time (assumed)


@dataclass(frozen=True, eq=False)
class ShedToday:
    """Everything the shed's page says. ``supplies``: how each thing is bought, where the household said so;
    ``asks``: who asks for what."""

    today: date
    weeks: Weeks
    kit: Kit
    held: InShed
    needed: Mapping[str, Needed]
    supplies: Mapping[str, Supply]
    asks: Sequence[Ask] = ()

    @cached_property
    def things(self) -> list[str]:
        """Everything there is, is asked for, or is bought, in the order it stands in the shed."""
        found = dict.fromkeys([*ALWAYS, *self.needed, *self.held.since, *self.supplies])
        return sorted((what for what in found if self.is_known(what)), key=shed_order)

    def is_known(self, what: str) -> bool:
        """Whether a thing is still one of this shed's: a recipe or a container may be gone."""
        if what.startswith(MIX):
            return self.kit.mix(what.removeprefix(MIX)) is not None
        if what.startswith(PART):
            return what.removeprefix(PART) in mix_parts() or what in self.held.since or what in self.needed
        return not is_kept(what) or ":" not in what or self.kit.vessel(what.split(":", 1)[1]) is not None

    def there(self, what: str) -> float:
        """How much there is, made-up mix counted by its parts."""
        return self.held.to_pour(what, self.kit)

    def stocked(self, what: str) -> Stocked:
        """What there is of a thing, and how it is bought."""
        row = self.supplies.get(what)
        if row is None:
            return Stocked(self.there(what), usual_pack(what))
        return Stocked(self.there(what), row.pack, None if row.price is None else float(row.price))

    @cached_property
    def buying(self) -> list[Buying]:
        """What to buy, soonest first."""
        stock = {what: self.stocked(what) for what in self.needed}
        return to_buy(self.needed, stock, self.weeks.monday, self.today)

    def lasts(self, what: str) -> date | None:
        """Until when a thing lasts, nine times in ten; nothing where it lasts all the weeks in sight."""
        need = self.needed.get(what)
        return lasts_until(need, self.there(what), self.weeks.monday) if need else None


def usual_pack(what: str) -> float:
    """The pack a thing is usually sold in: litres, pieces, grams or millilitres."""
    if what.startswith(PART):
        part = mix_parts().get(what.removeprefix(PART))
        return part.packs[0] if part else 1.0
    return PACKS.get(what, 1.0)


def shed_order(what: str) -> tuple[int, str]:
    """Mix first, then its parts, containers, and the small things."""
    kinds = (MIX, PART, "vessel:")
    return next((i for i, kind in enumerate(kinds) if what.startswith(kind)), len(kinds)), what


def shed_today(garden: Garden, today: date, reckonings: Sequence[Reckoning] | None = None) -> ShedToday:
    """The shed of a garden on a day."""
    weeks = Weeks(today)
    found = reckon_all(garden, today) if reckonings is None else reckonings
    asks = asked(found, garden, weeks)
    return ShedToday(
        today=today,
        weeks=weeks,
        kit=kit_of(garden),
        held=in_shed(garden),
        needed=needs(asks, weeks.count),
        supplies=supplies_of(garden),
        asks=asks,
    )


def supplies_of(garden: Garden) -> dict[str, Supply]:
    """How a garden buys each thing, where it said so."""
    rows: Iterable[Supply] = Supply.objects.filter(garden=garden) if has_any(garden, Supply) else []
    return {row.what: row for row in rows}
