"""Pairs of places for a windfall, at a glance: the few best ones, to be looked at closely."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import add_days
from elder.engine.place.warmth import Place
from elder.engine.plan.cold import carry_nights_before
from elder.engine.plan.light_needs import LightFit, Suited
from elder.engine.plan.side_by_side import side_by_side
from elder.engine.plan.windfall_worth import REACH_DAYS, SETTLED, WORTH_WEIGHT, Season, Worth, day_at
from elder.engine.setting import Setting

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
    def _nights(self) -> dict[Place, Floats]:
        return {}

    def nights(self, place: Place) -> Floats:
        """Nights to carry in before each day at a place."""
        if place not in self._nights:
            self._nights[place] = carry_nights_before(self.setting, place, self.season.today, REACH_DAYS + 1)
        return self._nights[place]


def best_looking(pairs: Sequence[Pair], glanced: Glanced) -> list[Pair]:
    """The pairs, the best first: ordered as the ways are, by days that may be out by one or two."""
    setting, season = glanced.setting, glanced.season
    rooting, growing = (dict(pair[side] for pair in pairs) for side in (0, 1))
    table = side_by_side(setting, list(rooting.values()), list(growing.values()), season.today, REACH_DAYS)
    row, column = ({key: i for i, key in enumerate(places)} for places in (rooting, growing))
    settled, half, most = table.settled(SETTLED), table.half, setting.assumptions.carry_nights
    here = {key: replace(setting, rooting_place=place, growing_place=place) for key, place in growing.items()}

    def look(pair: Pair) -> tuple[object, ...]:
        i, j = row[pair[0][0]], column[pair[1][0]]
        ready, rooted = table.ready[i, j], int(table.half_rooted[i])

        def too_cold(out: date) -> bool:
            days = (out - season.today).days + 1
            until = min(rooted, days) if rooted >= 0 else days
            first, then = glanced.nights(pair[0][1]), glanced.nights(pair[1][1])
            before = 0.0 if setting.method.wood == "dormant" else float(first[until])
            return most is not None and round(before + float(then[days] - then[until])) > most

        comes = ready, int(settled[i, j]), int(half[i, j])
        cold = None if setting.method.direct else too_cold
        worth, out = season.judged(here[pair[1][0]], comes, cold)
        half_on = day_at(season.today, comes[2])
        last = out or add_days(season.today, REACH_DAYS - 1)
        likely = glanced.stands * float(ready[min((last - season.today).days, REACH_DAYS - 1)])
        dim = glanced.light(pair, half_on).standing >= Suited.NOT
        value = -round(likely * WORTH_WEIGHT[worth], 1)
        return worth is Worth.TOO_LATE, dim, value, worth, out or half_on or date.max, pair[0][0] != pair[1][0]

    return sorted(pairs, key=look)
