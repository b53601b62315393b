"""Pairs of places for a windfall, at a glance: the few best ones, to be looked at closely."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import partial
from typing import Final

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import add_days
from elder.engine.keeping import cached_property
from elder.engine.place.warmth import Place
from elder.engine.plan.cold import carry_nights_before
from elder.engine.plan.light_needs import LightFit, Suited
from elder.engine.plan.side_by_side import side_by_side
from elder.engine.plan.windfall_worth import REACH_DAYS, SETTLED, WORTH_WEIGHT, Season, Worth, day_at
from elder.engine.setting import Setting

# How much fewer plants than the best still look as good: what days out by two can make (tried on five plants).
TRIFLE: Final = 0.3
NEAR_SHARE: Final = 0.97
Pair = tuple[tuple[str, Place], tuple[str, Place]]


@dataclass(frozen=True, eq=False)
class Glanced:
    """What is glanced at: a way as what is in the hand roots by it (its two places are not read), the season, how many
    would stand of it were all ready, and how the light of a pair suits where half are ready on a day."""

    setting: Setting
    season: Season
    stands: float
    light: Callable[[Pair, date | None], LightFit]

    @cached_property
    def _nights(self) -> dict[str, Floats]:
        return {}

    def nights(self, spot: tuple[str, Place]) -> Floats:
        """Nights to carry in before each day at a place."""
        key, place = spot
        if key not in self._nights:
            self._nights[key] = carry_nights_before(self.setting, place, self.season.today, REACH_DAYS + 1)
        return self._nights[key]


@dataclass(frozen=True)
class Glance:
    """How good a pair looks: what comes first in the order of ways; how many plants it is worth, and when they go out;
    both may be out a little."""

    first: tuple[object, ...]
    value: float
    then: tuple[object, ...]

    @property
    def order(self) -> tuple[object, ...]:
        """Ordered as the ways are."""
        return (*self.first, -round(self.value, 1), *self.then)


def best_looking(pairs: Sequence[Pair], glanced: Glanced, count: int) -> list[Pair]:
    """So many pairs, half of them the best at a glance, the others the soonest of those that look as good but for a
    trifle: a glance is no measure of tenths of a plant."""
    seen = list(_looks(pairs, glanced))
    ordered = sorted(range(len(pairs)), key=lambda i: seen[i].order)
    best = seen[ordered[0]]
    least = min(best.value - TRIFLE, best.value * NEAR_SHARE)
    near = [i for i in ordered if seen[i].first == best.first and seen[i].value >= least]
    soonest = sorted(near, key=lambda i: seen[i].then)
    return [pairs[i] for i in dict.fromkeys([*ordered[: count // 2], *soonest])][:count]


def _looks(pairs: Sequence[Pair], glanced: Glanced) -> Iterator[Glance]:
    """A glance at each."""
    setting, season = glanced.setting, glanced.season
    rooting, growing = (dict(pair[side] for pair in pairs) for side in (0, 1))
    table = side_by_side(setting, list(rooting.values()), list(growing.values()), season.today, REACH_DAYS)
    row, column = ({key: i for i, key in enumerate(places)} for places in (rooting, growing))
    settled, half, most = table.settled(SETTLED), table.half, setting.assumptions.carry_nights
    kept = {key: season.keeps(setting.plant, place) for key, place in growing.items()}
    bare = setting.method.wood == "dormant"

    def look(pair: Pair) -> Glance:
        i, j = row[pair[0][0]], column[pair[1][0]]
        ready, rooted = table.ready[i, j], int(table.half_rooted[i])

        def too_cold(out: date) -> bool:
            if most is None:
                return False
            days = (out - season.today).days + 1
            until = min(rooted, days) if rooted >= 0 else days
            first, then = glanced.nights(pair[0]), glanced.nights(pair[1])
            before = 0.0 if bare else float(first[until])
            return round(before + float(then[days] - then[until])) > most

        comes = ready, int(settled[i, j]), int(half[i, j])
        cold = too_cold
        if setting.method.direct:  # where it stands it may be killed as well
            cold = partial(season.is_too_cold, replace(setting, rooting_place=pair[0][1], growing_place=pair[1][1]))
        worth, out = season.judged(setting, comes, cold, kept=kept[pair[1][0]])
        half_on = day_at(season.today, comes[2])
        last = out or add_days(season.today, REACH_DAYS - 1)
        likely = glanced.stands * float(ready[min((last - season.today).days, REACH_DAYS - 1)])
        dim = glanced.light(pair, half_on).standing >= Suited.NOT
        then = worth, out or half_on or date.max, pair[0][0] != pair[1][0]
        return Glance((worth is Worth.TOO_LATE, dim), likely * WORTH_WEIGHT[worth], then)

    return (look(pair) for pair in pairs)
