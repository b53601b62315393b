"""Planting windows, wood and harvests by date, for every plant in three climates, against loops over real days."""

from __future__ import annotations

import calendar
from collections.abc import Callable, Iterator
from datetime import date, timedelta
from functools import cached_property
from itertools import pairwise
from statistics import NormalDist

import pytest
from scipy.interpolate import CubicSpline

from elder.engine.climate.climate import Climate
from elder.engine.climate.frost_risk import autumn_frost, spring_frost
from elder.engine.climate.years import possible_years
from elder.engine.handbook.loading import clonable, handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.planting_windows import planting_windows
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.plan.wood import wood_in_season
from elder.engine.setting import Setting

START, DAYS, RISK = date(2027, 1, 1), 730, 0.10
LAG = 58 * 0.10 / 2.24  # days the ground at 10 cm lags the air (docs/architecture.md)


def curve(monthly: tuple[float, ...], lag: float = 0.0) -> list[float]:
    """A smooth year through the middles of the months, read at noon."""
    lengths = [calendar.monthrange(2027, month)[1] for month in range(1, 13)]
    middles = [sum(lengths[:i]) + lengths[i] / 2 for i in range(12)]
    spline = CubicSpline([*middles, middles[0] + 365], [*monthly, monthly[0]], bc_type="periodic")
    return [float(spline(doy + 0.5 - lag)) for doy in range(365)]


class Year:
    """One climate's year, a day at a time."""

    def __init__(self, climate: Climate) -> None:
        self.climate = climate
        self.high = curve(climate.normals.t_max)
        self.mean = [(a + b) / 2 for a, b in zip(curve(climate.normals.t_min), self.high, strict=True)]
        low, high = curve(climate.normals.t_min, LAG), curve(climate.normals.t_max, LAG)
        self.ground = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
        self.midwinter = (self.mean.index(max(self.mean)) + 182) % 365

    def position(self, doy: int) -> int:
        return (doy - self.midwinter) % 365

    def risk(self, doy: int, limit: float) -> float:
        """Before midsummer the risk that frost still comes, after it that it has."""
        at = self.position(doy)
        dates = (spring_frost if at < 183 else autumn_frost)(self.climate, limit)
        if dates is None:
            return 0.0
        come = NormalDist(dates.mean_doy, dates.sd_days).cdf(at)
        return dates.share_of_years_with_frost * (1 - come if at < 183 else come)

    def may_plant(self, doy: int, plant: Plant) -> bool:
        if self.risk(doy, plant.frost_limit_c) > RISK or self.ground[doy] < plant.least_soil_c:
            return False
        if plant.heat_limit_c is not None and self.high[doy] > plant.heat_limit_c:
            return False
        if not plant.crops_before_frost and plant.harvest_median_days > 300 and not self.lives(plant):
            return False
        return not plant.crops_before_frost or self.crops(doy, plant)

    def lives(self, plant: Plant) -> bool:
        """Whether it stands through nine winters of ten before its first crop, at rest where it rests: by the coldest
        night from one midsummer to the next of each possible year."""
        limit = plant.rest_limit_c if plant.rest_limit_c is not None else plant.frost_limit_c
        killed = sum(min(winter) < limit for winter in self.coldest)
        return killed <= RISK * len(self.coldest)

    @cached_property
    def coldest(self) -> list[tuple[float, float]]:
        """The coldest night of either half of each possible year."""
        return [(min(night[:182]), min(night[182:])) for night in possible_years(self.climate, 400).t_min.tolist()]

    def crops(self, doy: int, plant: Plant) -> bool:
        """Whether the middle of its first harvest falls while autumn's risk is still accepted."""
        dates = autumn_frost(self.climate, plant.frost_limit_c)
        if dates is None or dates.share_of_years_with_frost <= RISK:
            return True
        ripe = self.position(doy) + plant.harvest_median_days
        return dates.share_of_years_with_frost * NormalDist(dates.mean_doy, dates.sd_days).cdf(ripe) <= RISK


def doy_of(day: date) -> int:
    """The day of a 365-day year; 29 February reads as the 28th."""
    if (day.month, day.day) == (2, 29):
        return 58
    return (date(2027, day.month, day.day) - date(2027, 1, 1)).days


def runs(day: date, days: int, holds: Callable[[int], bool]) -> Iterator[tuple[date, date]]:
    """Stretches of days on which something holds, whole, that touch ``days`` days from one."""
    began = None
    for ahead in range(-365, days + 366):
        here = day + timedelta(days=ahead)
        if holds(doy_of(here)):
            began = began or here
        elif began:
            if here > day and began < day + timedelta(days=days):
                yield began, here - timedelta(days=1)
            began = None
    if began and began < day + timedelta(days=days):
        yield began, day + timedelta(days=days + 364)


@pytest.fixture(scope="module", params=["north", "south", "frost_free"])
def year(request: pytest.FixtureRequest) -> Year:
    return Year(request.getfixturevalue(request.param))


@pytest.mark.parametrize("plant", clonable().values(), ids=lambda plant: plant.slug)
def test_windows_open_and_shut_on_the_days_a_loop_finds(year: Year, plant: Plant) -> None:
    may = [year.may_plant(doy, plant) for doy in range(365)]
    plainly = list(runs(START, DAYS, lambda doy: may[doy]))
    found = planting_windows(plant, year.climate, accepted_risk=RISK, start=START, days=DAYS)
    assert [(window.opens, window.shuts) for window in found] == plainly


def plain_wood(year: Year) -> dict[str, set[int]]:
    """Days of the year on which each kind of wood is there, walked round the year from the coldest day."""
    warm = [mean >= 10 for mean in year.mean]
    resting = max(104, warm.count(False))
    rest = min(range(365), key=lambda first: sum(year.mean[(first + i) % 365] for i in range(resting)))
    awake, grows = (rest + resting) % 365, 365 - resting
    spans = {
        "softwood": (awake, 0, 0.40 * grows),
        "semi-ripe": (awake, 0.40 * grows, 0.85 * grows),
        "dormant": (rest, 0, resting - 14),
    }
    found = {
        wood: {(first + i) % 365 for i in range(365) if begin <= i < end} for wood, (first, begin, end) in spans.items()
    }
    return {**found, "growing": _growing(year, warm)}


def _growing(year: Year, warm: list[bool]) -> set[int]:
    """Days of the growing season, walked round the year from the coldest day."""
    if all(warm):
        return set(range(365))
    around = [(year.mean.index(min(year.mean)) + i) % 365 for i in range(366)]
    first = next(b for a, b in pairwise(around) if warm[b] and not warm[a])
    days = next(i for i in range(365) if not warm[(first + i) % 365])
    return {(first + i) % 365 for i in range(days)}


def test_wood_is_there_on_the_days_a_loop_finds(year: Year) -> None:
    for wood, plainly in plain_wood(year).items():
        season = wood_in_season(year.climate, wood, stock_indoors=False)  # type: ignore[arg-type]
        assert {doy for doy in range(365) if season[doy]} == plainly, wood


@pytest.mark.parametrize(
    ("slug", "by", "first", "middle", "late"),
    [
        # Days from the handbook's files: 45 to 65, and the middle their geometric mean, 54.
        ("tomato", date(2027, 5, 20), date(2027, 7, 4), date(2027, 7, 13), date(2027, 7, 24)),
        # 18 to 30, middle 23.
        ("basil", date(2027, 6, 20), date(2027, 7, 8), date(2027, 7, 13), date(2027, 7, 20)),
    ],
)
def test_harvests_by_date(
    north: Climate, sill: Place, slug: str, by: date, first: date, middle: date, late: date
) -> None:
    plant = handbook()[slug]
    plan = plan_want(Want(6, by=by), Setting(plant, plant.ways[0], north, sill, sill, date(2027, 3, 1)))
    assert isinstance(plan, SeasonPlan)
    assert plan.option(plan.recommended).harvest == (first, middle, late)
