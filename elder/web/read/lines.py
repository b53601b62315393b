"""A line that is multiplied, reckoned for today: what stands and roots of it, what to cut when, what it comes to."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Final

from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property, lent
from elder.engine.setting import Setting
from elder.engine.year.line import Bench, CutGroup, Rooting
from elder.engine.year.multiply import (
    LineWanted,
    More,
    Multiplication,
    Overstick,
    a_month_more,
    enough,
    first_day_enough,
    from_standing,
    last_cut,
    one_more_mother,
    overstick,
)
from elder.web.garden.models import Garden
from elder.web.read.line_rows import (
    LotToday,
    Source,
    closed_days,
    from_lots,
    from_mothers,
    groups_of,
    line_of,
    line_setting,
    lots_of,
    mothers_of,
    room_of,
    rooting_of,
    shut_on,
    slow_days,
)
from elder.web.read.mothers import Known, known, mother_here
from elder.web.year.models import Multiplying

# A page asked for again, and the round, the season and the calendar beside it, need not walk a line anew.
_whole = lent(from_standing)
_enough = lent(enough)
_another, _longer = lent(one_more_mother), lent(a_month_more)
_instead = lent(first_day_enough)
MOST_MOTHERS: Final = 40  # more are not gone through to find how many it would take


@dataclass(frozen=True, eq=False)
class LineToday:
    """Everything a screen says about one line."""

    row: Multiplying
    setting: Setting
    wanted: LineWanted
    bench: Bench
    shut: Mapping[date, str]
    mothers: list[Known]
    lots: list[LotToday]
    standing: tuple[CutGroup, ...]
    rooting: tuple[Rooting, ...]
    sources: list[Source] = field(default_factory=list)

    @property
    def plant(self) -> Plant:
        """What is multiplied."""
        return self.setting.plant

    @property
    def method(self) -> Method:
        """How."""
        return self.setting.method

    @cached_property
    def whole(self) -> Multiplication:
        """Everything cut that can be."""
        return _whole(self.wanted, self.standing, self.bench, self.rooting)

    @cached_property
    def plan(self) -> Multiplication | None:
        """The fewest lots that do; ``None`` where nothing does."""
        return _enough(self.wanted, self.standing, self.bench, self.rooting)

    @property
    def shown(self) -> Multiplication:
        """The plan; where nothing does, all that can be had."""
        return self.plan or self.whole

    @cached_property
    def last_cut(self) -> date | None:
        """The last day on which a cut still counts."""
        return last_cut(self.wanted, self.bench)

    @cached_property
    def another_mother(self) -> More:
        """What one more mother would give."""
        return _another(self.wanted, self.standing, self.bench, self.rooting)

    @cached_property
    def month_more(self) -> More:
        """What a month more would give."""
        return _longer(self.wanted, self.standing, self.bench, self.rooting)

    @cached_property
    def instead_by(self) -> date | None:
        """By when so many could be had."""
        return _instead(self.wanted, self.standing, self.bench, self.rooting)

    @cached_property
    def mothers_for(self) -> int | None:
        """How many mothers it would take by the day; ``None``: more than anybody has."""
        firsts = sum(group.count for group in self.standing if not group.generation)
        low, high = firsts + 1, MOST_MOTHERS
        if not self._does_with(high - firsts):
            return None
        while low < high:
            middle = (low + high) // 2
            low, high = (low, middle) if self._does_with(middle - firsts) else (middle + 1, high)
        return low

    def _does_with(self, more: int) -> bool:
        standing = (*self.standing, CutGroup(more, self.wanted.today, 0, self.plant.gives, self.plant.again_days))
        return _enough(self.wanted, standing, self.bench, self.rooting) is not None

    @property
    def overstuck(self) -> Overstick | None:
        """How many to stick where they are to stand."""
        take = self.wanted.line.take
        return overstick(self.row.wanted, take, self.row.confidence) if self.method.direct else None

    @property
    def next_day(self) -> date | None:
        """The day of the next cut; today where it has gone by."""
        lots = self.shown.lots if self.row.by > self.wanted.today else ()
        return max(lots[0].day, self.wanted.today) if lots else None

    @property
    def stands_now(self) -> int:
        """Plants of the line that stand today, the first mothers among them where they count."""
        return sum(group.count for group in self.standing if group.generation or self.row.mothers_count)


def line_today(row: Multiplying, garden: Garden, today: date, every: list[Known] | None = None) -> LineToday:
    """One line, kept or only asked about (its mothers then in ``row.asked_mothers``). ``every``: the garden's mothers,
    where they are known already."""
    setting, firsts = line_setting(row, garden, today), mothers_of(row)
    mothers = [one for one in (known(garden, today) if every is None else every) if one.row.pk in firsts]
    lots = lots_of(row, garden, today)
    horizon = max((row.by - today).days, 0) + 1
    here = mother_here(mothers[0].row, mothers[0].looks) if mothers else None
    shut = shut_on(setting, today, here)
    line = line_of(row, setting, slow_days(setting, today))
    closed = closed_days(row, shut, today)
    sources = [*from_mothers(row, mothers, lots, today), *from_lots(lots, row, today)]
    wanted = LineWanted(line, row.wanted, row.by, today, row.confidence, row.mothers_count)
    return LineToday(
        row=row,
        setting=setting,
        wanted=wanted,
        bench=Bench(closed, row.keep_uncut, room_of(row, setting)),
        shut={day: why for day, why in shut.items() if (day - today).days < horizon},
        mothers=mothers,
        lots=lots,
        standing=groups_of(sources, mothers, row, lots, today),
        rooting=tuple(rooting for lot in lots for rooting in rooting_of(lot, row, today)),
        sources=sources,
    )
