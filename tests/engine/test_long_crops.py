"""Crops that stand for years: fruit by warmth, pots by litres, winters by recorded years; each worked out apart."""

from __future__ import annotations

import math
from datetime import date, timedelta

import numpy as np
import pytest
from scipy.stats import norm

from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.shed.kit import PLAIN
from elder.engine.year.long_crop import (
    crop_facts,
    first_fruit,
    first_pot_of,
    follower_fruit,
    pot_steps,
    told_at,
    winters_in,
)
from tests.engine.stations import station
from tests.engine.test_winter_list import recorded

SINCE = date(2024, 8, 1)
AT_24 = Place("room", day_c=24, night_c=24)
SILL = Place("room", day_c=20, night_c=17)
AIR = Place("air")


def yan_hunt(t: float, low: float, best: float, high: float) -> float:
    """Yan & Hunt 1999, Annals of Botany 84: 607–614 (from memory)."""
    return ((high - t) / (high - best)) * ((t - low) / (best - low)) ** ((best - low) / (high - best))


def plain_days(span: tuple[int, int], pace: float, share: float) -> int:
    """Days in a steady room by which so many of twenty even parts of all plants have fruited; ``pace`` for its
    warmth, 1 where the days are told at."""
    median, sigma = math.sqrt(span[0] * span[1]), math.log(span[1] / span[0]) / (2 * 1.28155)
    nodes = [median * math.exp(sigma * norm.ppf((i + 0.5) / 20)) / pace for i in range(20)]
    return math.ceil(sorted(nodes)[int(share * 19)] - 1e-9)


def test_in_the_warmth_its_days_are_told_at_it_keeps_to_them(north: Climate) -> None:
    """Pineapple from a top, 18 to 36 months in a steady 24 °C: half have fruited by √(540·1080) = 764 days."""
    plant = handbook()["pineapple"]
    assert told_at(plant) == pytest.approx(yan_hunt(24, 13, 28, 38))
    found = first_fruit(plant, north, AT_24, SINCE)
    assert abs(plain_days((540, 1080), 1.0, 0.5) - 764) <= 15, "the node next to the median"
    for day, share in ((found.early, 0.1), (found.likely, 0.5), (found.late, 0.9)):
        assert day is not None
        assert abs((day - SINCE).days - plain_days((540, 1080), 1.0, share)) <= 1


def test_in_a_cooler_room_it_is_slower_by_its_warmth(north: Climate) -> None:
    """Fifteen hours of 20 °C and nine of 17 °C beside a steady 24 °C."""
    pace = (15 * yan_hunt(20, 13, 28, 38) + 9 * yan_hunt(17, 13, 28, 38)) / 24 / yan_hunt(24, 13, 28, 38)
    found = first_fruit(handbook()["pineapple"], north, SILL, SINCE)
    assert found.likely is not None
    assert abs((found.likely - SINCE).days - plain_days((540, 1080), pace, 0.5)) <= 1
    assert found.likely > date(2027, 1, 1)


def test_what_was_seen_changes_it(north: Climate) -> None:
    plant = handbook()["pineapple"]
    seen = first_fruit(plant, north, AT_24, SINCE, flowered=date(2026, 3, 1))
    assert seen.seen
    assert seen.likely is not None
    assert abs((seen.likely - date(2026, 3, 1)).days - plain_days((150, 210), 1.0, 0.5)) <= 1
    # Not fruited by day 800: only the slower parts are left, and half of those by the middle of them.
    nodes = sorted(plain_days((540, 1080), 1.0, (i + 0.01) / 19) for i in range(20))
    slower = [one for one in nodes if one >= 800]
    later = first_fruit(plant, north, AT_24, SINCE, not_by=SINCE + timedelta(days=800))
    assert later.likely is not None
    assert abs((later.likely - SINCE).days - slower[int(0.5 * (len(slower) - 1))]) <= 1
    assert first_fruit(plant, north, AT_24, SINCE, not_by=SINCE + timedelta(days=3000)).overdue


def test_too_cool_for_ever_and_in_its_own_season(north: Climate) -> None:
    vanilla = first_fruit(handbook()["vanilla"], north, AIR, SINCE)
    assert (vanilla.early, vanilla.likely, vanilla.overdue) == (None, None, False)
    fig = first_fruit(handbook()["fig"], north, AIR, SINCE)
    for day in (fig.early, fig.likely, fig.late):
        assert day is not None
        assert (day.month, day.day) >= (9, 1), "figs ripen from 35 to 100 days after midsummer"
        assert (day.month, day.day) <= (11, 8)


def test_the_pup_that_follows(north: Climate) -> None:
    """A pup crops in 12 to 24 months, its mother's old roots or not."""
    found = follower_fruit(handbook()["pineapple"], north, AT_24, SINCE)
    assert found is not None
    assert found.likely is not None
    assert abs((found.likely - SINCE).days - plain_days((365, 730), 1.0, 0.5)) <= 1
    assert follower_fruit(handbook()["fig"], north, AT_24, SINCE) is None
    assert crop_facts(handbook()["banana"]).ends
    assert not crop_facts(handbook()["rosemary"]).ends


def test_a_pineapple_climbs_three_pots() -> None:
    """3.8, 22 and 40 litres, 240 and 730 days after the first. What is poured is what the new pot holds besides the old
    ball, over 0.85: a quarter of it sand."""
    plant = handbook()["pineapple"]
    way = plant.methods[0]
    steps = pot_steps(plant, way, [(SINCE, first_pot_of(plant, way))])
    assert [(one.vessel.volume_l, one.on, one.done) for one in steps] == [
        (3.8, SINCE, True),
        (22, SINCE + timedelta(days=240), False),
        (40, SINCE + timedelta(days=730), False),
    ]
    assert steps[1].litres == pytest.approx((22 - 3.8) / 0.85)
    assert steps[1].parts == pytest.approx({"sand": (22 - 3.8) / 0.85 / 4, "potting": (22 - 3.8) / 0.85 * 3 / 4})
    late = pot_steps(plant, way, [(SINCE, PLAIN.used("gallon")), (date(2025, 5, 10), PLAIN.used("six-gallon"))])
    assert [one.on for one in late] == [SINCE, date(2025, 5, 10), date(2025, 5, 10) + timedelta(days=730 - 240)]
    top = pot_steps(plant, way, [(SINCE, PLAIN.used("forty-litre"))])
    assert len(top) == 1


def test_others_go_up_a_size_each_year_and_then_get_fresh_mix() -> None:
    """Half a litre, then at least 1.6 times that each year; past twelve litres a third of its mix is renewed."""
    plant = handbook()["rosemary"]
    way = plant.method("gritty")
    steps = pot_steps(plant, way, [(SINCE, PLAIN.used("half-litre"))])
    assert [one.vessel.volume_l for one in steps] == [0.5, 1.0, 3.8]
    assert [(one.on - SINCE).days for one in steps] == [0, 365, 730]
    big = pot_steps(plant, way, [(SINCE, PLAIN.used("five-gallon"))])
    assert [one.renewed for one in big] == [False, True, True]
    assert big[1].litres == pytest.approx(18.9 / 3 / 0.85)
    with pytest.raises(ValueError, match="begins with a pot"):
        pot_steps(plant, way, [])


def test_the_winters_it_comes_in_for_as_recorded() -> None:
    """North Yorkshire 1991–2021: in how many winters a night falls below 1 °C for a pineapple in its pot (every one),
    and below −7 °C for a fig in its; the middle of the first and the last such nights, counted apart."""
    climate, one = recorded("north-yorks"), station("north-yorks")
    days = [one.first + timedelta(days=i) for i in range(len(one.low))]
    for slug, limit in (("pineapple", 1.0), ("fig", -7.0)):
        winters: dict[int, list[int]] = {}
        whole: dict[int, int] = {}
        for day, low in zip(days, one.low.tolist(), strict=True):
            year = day.year if (day.month, day.day) >= (7, 15) else day.year - 1
            whole[year] = whole.get(year, 0) + 1
            if low < limit:
                winters.setdefault(year, []).append((day - date(year, 7, 15)).days)
        full = [year for year, count in whole.items() if count >= 365]
        cold = [winters[year] for year in full if year in winters]
        found = winters_in(handbook()[slug], climate, AIR, date(2027, 9, 1))
        assert found.share == pytest.approx(len(cold) / len(full), abs=0.05)
        assert found.first is not None
        assert found.last is not None
        first = date(2027, 7, 15) + timedelta(days=int(np.median([min(one) for one in cold])))
        last = date(2027, 7, 15) + timedelta(days=int(np.median([max(one) for one in cold])))
        assert abs((found.first - first).days) <= 4
        assert abs((found.last - last).days) <= 4
    assert winters_in(handbook()["fig"], climate, SILL, date(2027, 9, 1)).share == 0.0
    mat = Place("air", lift_day_c=7, lift_night_c=2, floor_c=21)
    assert winters_in(handbook()["pineapple"], climate, mat, date(2027, 9, 1)).share == 0.0
