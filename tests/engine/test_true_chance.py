"""A stated chance against batches lived one by one: a plain Monte Carlo over the possible years, written apart."""

from __future__ import annotations

import math
from datetime import date, timedelta
from statistics import NormalDist

import numpy as np
import pytest
from numpy.typing import NDArray

from elder.engine.assumptions import Assumptions
from elder.engine.chance.scenarios import scenarios
from elder.engine.climate.climate import Climate
from elder.engine.climate.normals import midwinter
from elder.engine.climate.years import possible_years
from elder.engine.handbook.loading import handbook
from elder.engine.place.possible_warmth import running_units, units_of_years
from elder.engine.place.warmth import Place
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.setting import Setting
from tests.engine.plain_life import beta_response

SILL, AIR = Place("room", day_c=20, night_c=17), Place("air")
COVER = Place("air", lift_day_c=6, lift_night_c=1.5)
TODAY = date(2027, 1, 2)


def plain_units(
    climate: Climate, place: Place, cardinals: tuple[float, ...], start: date, days: int
) -> list[list[float]]:
    """Units of each day from ``start`` in each possible year, hour by hour; after midwinter the next year goes on."""
    years = possible_years(climate, 20)
    half, found = len(years) // 2, []
    for row in range(len(years)):
        year, gained = row, []
        for ahead in range(days):
            day = start + timedelta(days=ahead)
            doy = (date(2027, day.month, min(day.day, 28) if day.month == 2 else day.day) - date(2027, 1, 1)).days
            at = (doy - midwinter(climate.normals)) % 365
            if at == 0 and ahead and not (day.month == 2 and day.day == 29):
                year = (year + 1) % half if year < half else half + (year + 1 - half) % half
            total = 0.0
            for hour in range(24):
                if place.standing == "room":
                    c = place.day_c if 7 <= hour < 22 else place.night_c
                else:
                    low, high = years.t_min[year, at] + place.lift_night_c, years.t_max[year, at] + place.lift_day_c
                    c = (low + high) / 2 + (high - low) / 2 * math.cos(2 * math.pi * (hour + 0.5 - 15) / 24)
                total += beta_response(c, *cardinals)
            gained.append(total / 24)
        found.append(gained)
    return found


def lived(
    chance: np.random.Generator, plan: SeasonPlan, day: date, units: list[NDArray[np.float64]], look: int
) -> float:
    """The share of batches, each in a year drawn, at a speed and with a take of its own, that give enough in time."""
    method, cardinals, count = plan.method, plan.plant.cardinals, plan.option(day).count

    def law(days: object) -> tuple[float, float]:
        at = beta_response(days.at_c, cardinals.t_min, cardinals.t_opt, cardinals.t_max)  # type: ignore[attr-defined]
        early, late = days.early, days.late  # type: ignore[attr-defined]
        return math.sqrt(early * late) * at, math.log(late / early) / (2 * 1.28155)

    rooting, establish = law(method.rooting), law(method.establish)
    by, enough, draws = (plan.target - day).days, 0, 6000
    for _ in range(draws):
        year = int(chance.integers(len(units[0])))
        roots, grows = (np.concatenate(([0.0], np.cumsum(one[year]))) for one in units)
        pace, phase = math.exp(0.2 * chance.standard_normal()), int(chance.integers(look))
        share = chance.beta(plan.take.mean * plan.take.weight, (1 - plan.take.mean) * plan.take.weight)
        takes = chance.random(count) < share
        needs = roots[method.dry_days] + pace * rooting[0] * np.exp(rooting[1] * chance.standard_normal(count))
        rooted = np.searchsorted(roots, needs) - 1
        potted = np.minimum(phase + np.ceil(np.maximum(rooted - phase, 0) / look).astype(int) * look, len(grows) - 2)
        needs = grows[potted + 1] + pace * establish[0] * np.exp(establish[1] * chance.standard_normal(count))
        stands = np.searchsorted(grows, needs) - 1
        ready = takes & (rooted < len(roots) - 1) & (stands + method.harden_days <= by)
        enough += int(ready.sum()) >= plan.want.wanted
    return enough / draws


@pytest.mark.parametrize(
    ("slug", "way", "places", "look"),
    [
        ("tomato", "jar", (SILL, COVER), 3),
        ("mint", "mix", (AIR, AIR), 7),
        ("strawberry", "plug", (COVER, AIR), 3),
    ],
)
def test_a_stated_chance_is_that_of_batches_lived_one_by_one(
    north: Climate, slug: str, way: str, places: tuple[Place, Place], look: int
) -> None:
    plant = handbook()[slug]
    assumed = Assumptions(look_every_days=look)
    plan = plan_want(Want(6), Setting(plant, plant.method(way), north, *places, TODAY, assumed))
    assert isinstance(plan, SeasonPlan)
    for day in (plan.recommended, plan.comfortable[1]):  # type: ignore[index]
        days = (plan.target - day).days + 3 * look + 5
        cardinals = (plant.cardinals.t_min, plant.cardinals.t_opt, plant.cardinals.t_max)
        units = [np.array(plain_units(north, place, cardinals, day, days)) for place in places]
        true = lived(np.random.default_rng(27), plan, day, units, look)
        # 0.012 is three standard errors of the draws, and the eighty scenarios err by 0.006.
        assert plan.option(day).chance == pytest.approx(true, abs=0.018)


def test_units_of_the_years_are_those_of_an_hour_by_hour_loop(north: Climate) -> None:
    start, days = date(2027, 11, 20), 110  # across midwinter, where each year is followed by the next
    plain = plain_units(north, COVER, (8, 25, 36), start, days)
    found = np.diff(running_units(COVER, north, handbook()["tomato"].cardinals, 20, start, days), axis=1)
    assert found.shape == (20, 110)
    assert found == pytest.approx(np.array(plain), abs=1e-9)


def test_ground_follows_the_mean_late_and_swings_less(north: Climate) -> None:
    """By a plain loop: the mean at 10 cm follows the air's with a time constant of 58·0.1/2.24 = 2.59 days, and the
    swing is e to −0.1/0.1173 of the air's (damping depth √(0.5e-6·86400/π) = 0.1173 m)."""
    years, lag = possible_years(north, 20), 2.593
    found = units_of_years(Place("ground"), north, handbook()["tomato"].cardinals, 20)
    settled = None
    for year in range(3):
        for day in range(365):
            low, high = years.t_min[year, day], years.t_max[year, day]
            mean = (low + high) / 2
            settled = mean if settled is None else settled + (1 - math.exp(-1 / lag)) * (mean - settled)
            swing = (high - low) / 2 * math.exp(-0.1 / 0.11727)
            waves = (math.cos(2 * math.pi * (hour + 0.5 - 15) / 24) for hour in range(24))
            units = sum(beta_response(settled + swing * wave, 8, 25, 36) for wave in waves) / 24
            if year:  # the start from nothing is forgotten
                assert found[year, day] == pytest.approx(units, abs=2e-4), (year, day)


def test_scenarios_are_years_times_speeds_spread_evenly(north: Climate) -> None:
    chosen = scenarios(north, Assumptions(), date(2027, 6, 1))
    assert len(chosen) == 80
    assert np.bincount(chosen.year).tolist() == [4] * 20
    logs = np.log(chosen.pace)
    # A sample of eighty from N(0, 0.2): its mean and its spread, and each year's four speeds one to a quarter.
    assert (float(logs.mean()), float(logs.std())) == (pytest.approx(0, abs=0.005), pytest.approx(0.2, abs=0.006))
    quarters = np.searchsorted([-0.6745 * 0.2, 0, 0.6745 * 0.2], logs)
    assert all(sorted(quarters[chosen.year == year].tolist()) == [0, 1, 2, 3] for year in range(20))
    # By hand: of the year of rank i, (j + frac((i + ½)·0.618))/4 for j = 0 … 3; ranks by the warmth of sixty days.
    years = possible_years(north, 20)
    target = 151 - midwinter(north.normals)  # 1 June, in days from midwinter
    warmth = (years.t_min + years.t_max)[:, target - 60 : target].sum(axis=1).tolist()
    for rank, year in enumerate(sorted(range(20), key=lambda one: warmth[one])):
        parts = [(j + ((rank + 0.5) * 0.618) % 1) / 4 for j in range(4)]
        expected = [0.2 * NormalDist().inv_cdf(part) for part in parts]
        assert logs[chosen.year == year].tolist() == pytest.approx(expected, abs=1e-9), rank


def test_with_batches_of_one_speed_there_is_one_scenario_a_year(north: Climate) -> None:
    chosen = scenarios(north, Assumptions(speed_sd=0.0), date(2027, 6, 1))
    assert (len(chosen), set(chosen.pace.tolist())) == (20, {1.0})
    assert len(scenarios(north, Assumptions(years=1), date(2027, 6, 1))) == 4
    assert np.bincount(scenarios(north, Assumptions(years=30), date(2027, 6, 1)).year).tolist() == [4] * 30
    # Two years are ranked by their warmth: the cooler one's speeds begin at ½·0.618, the warmer's at 1½·0.618.
    two = scenarios(north, Assumptions(years=2), date(2027, 6, 1))
    assert sorted({round(float(two.pace[two.year == year].min()), 6) for year in (0, 1)}) == [
        round(math.exp(0.2 * NormalDist().inv_cdf(((rank + 0.5) * 0.618 % 1) / 4)), 6) for rank in (0, 1)
    ]


@pytest.mark.parametrize("wrong", [{"years": 0}, {"look_every_days": 0}, {"speed_sd": -0.1}, {"dear_share": -1.0}])
def test_what_cannot_be_assumed(wrong: dict[str, float]) -> None:
    with pytest.raises(ValueError, match="there is a year and a look at least"):
        Assumptions(**wrong)  # type: ignore[arg-type]


@pytest.mark.parametrize(("fewest", "allowed"), [(1, 2), (4, 5), (7, 8), (8, 10), (11, 13), (100, 120)])
def test_a_fifth_more_still_counts_as_few_and_one_more_always(fewest: int, allowed: int) -> None:
    assert Assumptions().allowed(fewest) == allowed
