"""The winter list: against the lowest nights of recorded years counted apart, and numbers worked out by hand."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from scipy.stats import betabinom, binom

from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.climate.records import DailyRecords
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.plan.light_needs import Suited
from elder.engine.plan.wintering import lowest_nights, winter_least_c
from elder.engine.plan.wood import MotherHere
from elder.engine.year.winter import (
    Outside,
    Shelter,
    bears_outside_c,
    first_safe_day,
    how_many,
    keep_at,
    second_step,
    spares_worth,
    winter_answer,
    winter_of,
)
from tests.engine.stations import station

AIR, BED = Place("air"), Place("air")
GLASS = Place("air", lift_day_c=7, lift_night_c=2)
SILL, LANDING = Place("room", day_c=20, night_c=17), Place("room", day_c=17, night_c=14)
SHELTERS = (
    Shelter("sill", SILL, room=4),
    Shelter("landing", LANDING, Suited.NOT),
    Shelter("glass", GLASS),
)
AUTUMN = date(2027, 9, 20)
RISK = 0.10


def recorded(name: str) -> Climate:
    """A station with its daily records."""
    one = station(name)
    ordinals = one.first.toordinal() + np.arange(len(one.low))
    records = DailyRecords(ordinals, np.asarray(one.low, float), np.asarray(one.high, float), digest=f"whole {name}")
    return Climate(**{**vars(one.climate), "daily_records": records})


def plain_lows(name: str) -> list[float]:
    """The lowest night of each recorded winter, from one 15 July to the next, counted by the calendar alone."""
    one = station(name)
    days = [one.first + timedelta(days=i) for i in range(len(one.low))]
    winters: dict[int, list[float]] = {}
    for day, low in zip(days, one.low.tolist(), strict=True):
        winters.setdefault(day.year if (day.month, day.day) >= (7, 15) else day.year - 1, []).append(low)
    return [min(lows) for lows in winters.values() if len(lows) >= 365]


@pytest.mark.parametrize("slug", ["rosemary", "bay", "fig", "mint", "lemon-verbena", "sage"])
def test_as_many_winters_kill_it_as_the_recorded_ones_would_have(slug: str) -> None:
    """North Yorkshire 1991–2021 (AquaCrop-OSPy's station, tests/data/README.md): the share of winters whose lowest
    night falls below what each bears. Thirty winters, of which the engine may leave out one that has gaps."""
    climate, plant = recorded("north-yorks"), handbook()[slug]
    lows = plain_lows("north-yorks")
    answer = winter_answer(Outside(plant, False, BED), SHELTERS, climate, after=date(2027, 7, 15), accepted_risk=RISK)
    share = sum(low < bears_outside_c(plant, in_pot=False) for low in lows) / len(lows)
    assert len(lows) >= 28
    assert answer.bare == pytest.approx(share, abs=1.2 / len(lows))
    assert answer.lowest_c == pytest.approx(float(np.quantile(lows, 0.1)), abs=0.7)


@pytest.mark.parametrize(
    ("slug", "in_pot", "way", "by", "tops"),
    [
        # Frost at −2 °C comes first at 287.6 ± 14.3 days from midwinter (27 January): one year in ten by day 269.
        ("lettuce", False, "sown", date(2027, 10, 24), None),
        ("fuchsia", False, "tops", None, "mix"),
        ("mint", False, "left", None, None),
        ("hydrangea", False, "covered", None, "ripe"),
        ("lemongrass", False, "dug", None, None),
        ("chard", False, "sown", None, None),
        ("scented-pelargonium", True, "in", None, "gritty"),
        ("banana", True, "in", None, None),
        ("rose", True, "left", None, None),
        ("tomato", False, "tops", None, "jar"),
        ("avocado", False, "sown", None, None),
    ],
)
def test_what_is_done_with_each(
    quenby: Climate, slug: str, in_pot: bool, way: str, by: date | None, tops: str | None
) -> None:
    plant = handbook()[slug]
    found = winter_answer(
        Outside(plant, in_pot, AIR), SHELTERS, quenby, after=winter_of(quenby, AUTUMN), accepted_risk=RISK
    )
    assert found.way == way
    if by:
        assert abs((found.by - by).days) <= 1 if found.by else False
    if tops and way != "left":
        assert found.tops is not None
        assert found.tops.slug == tops
        assert found.tops_from is not None and found.tops_until is not None  # noqa: PT018 - one thought
        assert (found.tops_until - found.tops_from).days <= 28
        assert found.by is None or found.tops_until <= found.by


def test_it_is_kept_where_it_is_coolest_and_warm_enough_as_often_as_is_accepted(quenby: Climate) -> None:
    """A fuchsia bears three degrees over its frost limit. Of two rooms as light the cooler; a frame whose lowest night
    falls below that in one winter of three or four where so many are accepted."""
    plant, spring = handbook()["fuchsia"], winter_of(quenby, AUTUMN)
    lows = lowest_nights(AIR, quenby)
    least = winter_least_c(plant, AIR)
    frame = Place("air", lift_night_c=float(least - np.quantile(lows, 0.3)))
    share = float((lows + frame.lift_night_c < least).mean())
    assert 0.2 < share < 0.4
    shelters = (Shelter("warm", SILL), Shelter("cool", LANDING), Shelter("frame", frame))

    def kept(risk: float) -> list[object]:
        found = winter_answer(Outside(plant, True, AIR), shelters, quenby, after=spring, accepted_risk=risk)
        return [shelter.key for shelter in found.shelters]

    assert kept(RISK) == ["cool", "warm"]
    assert kept(0.45) == ["frame", "cool", "warm"]


def test_roots_in_a_pot_bear_five_degrees_less() -> None:
    book = handbook()
    assert bears_outside_c(book["mint"], in_pot=False) == -15
    assert bears_outside_c(book["mint"], in_pot=True) == -10
    assert bears_outside_c(book["banana"], in_pot=True) == 0, "a tender plant bears as little in a bed"


def test_who_may_keep_it_best_first(quenby: Climate) -> None:
    """Pelargonium bears 4 °C in leaf: the glasshouse is as cold as the garden but for two degrees. Of the rooms the one
    with its light comes first, cooler or not."""
    plant = handbook()["scented-pelargonium"]
    found = winter_answer(Outside(plant, True, AIR), SHELTERS, quenby, after=date(2027, 7, 30), accepted_risk=RISK)
    assert [one.key for one in found.shelters] == ["sill", "landing"]
    none = winter_answer(Outside(plant, True, AIR), (), quenby, after=date(2027, 7, 30), accepted_risk=RISK)
    assert (none.way, none.tops) == ("lost", None)


def test_it_stays_in_a_room_and_comes_out_after_the_frost(quenby: Climate, south: Climate, frost_free: Climate) -> None:
    plant = handbook()["scented-pelargonium"]
    indoors = winter_answer(Outside(plant, True, LANDING), (), quenby, after=date(2027, 7, 30), accepted_risk=RISK)
    assert (indoors.way, indoors.bare) == ("left", 0.0)
    # Last frost at 0 °C: mean day 109, one year in ten as late as 129 (0 = 1 January): the 130th is safe.
    out = first_safe_day(quenby, 0.0, accepted_risk=RISK, after=date(2027, 7, 30))
    assert out == date(2028, 5, 10)
    assert winter_of(south, date(2027, 4, 6)).month in (1, 2)
    warm = winter_answer(Outside(plant, True, AIR), SHELTERS, frost_free, after=date(2027, 7, 1), accepted_risk=RISK)
    assert (warm.way, warm.by, warm.out_on) == ("left", None, None)


def test_which_winter_the_list_belongs_to(quenby: Climate) -> None:
    """Midsummer of the example is 30 July. Until the end of January the list is the winter's that has begun."""
    assert winter_of(quenby, date(2027, 9, 20)) == date(2027, 7, 30)
    assert winter_of(quenby, date(2028, 1, 20)) == date(2027, 7, 30)
    assert winter_of(quenby, date(2028, 3, 1)) == date(2028, 7, 30)


def test_tops_only_of_what_has_tops_in_season(quenby: Climate) -> None:
    """Bananas have pups. A tomato seen bare has no soft shoots for thirty days from then, to the end of September."""
    banana = Outside(handbook()["banana"], True, AIR)
    assert winter_answer(banana, SHELTERS, quenby, after=date(2027, 7, 30), accepted_risk=RISK).tops is None
    bare = MotherHere(seen_on=date(2027, 9, 5), growth="resting", wood="bare")
    tomato = Outside(handbook()["tomato"], False, AIR, bare)
    found = winter_answer(tomato, SHELTERS, quenby, after=date(2027, 7, 30), accepted_risk=RISK)
    assert found.tops_until == date(2027, 9, 4)


def test_how_many_to_keep_by_the_beta_binomial() -> None:
    """Six wanted. Themselves: the least n with at least six alive 9 times in 10, of Beta(8.5, 1.5). By tips: gritty
    takes Beta(13.2, 1.8); so many cuttings, five to a young mother; so many mothers alive."""
    plant = handbook()["scented-pelargonium"]
    way, keep = plant.method("gritty"), Take(0.85, 10)

    def least(wanted: int, a: float, b: float) -> int:
        return next(n for n in range(wanted, 200) if betabinom.sf(wanted - 1, n, a, b) >= 0.9)

    cuttings = least(6, 0.88 * 15, 0.12 * 15)
    few = -(-cuttings // 5)
    kept = least(few, 8.5, 1.5)
    found = how_many(plant, way, 6, keep, 0.9, tops=way)
    assert found is not None
    assert (found.cut, found.mothers, found.gives) == (cuttings, few, 5)
    assert found.kept == kept < least(6, 8.5, 1.5)
    assert found.tops == least(kept, 0.88 * 15, 0.12 * 15)
    whole = how_many(plant, None, 6, keep, 0.9)
    assert whole is not None
    assert (whole.kept, whole.cut, whole.tops) == (least(6, 8.5, 1.5), 0, 0)
    assert how_many(plant, None, 400, Take(0.01, 5), 0.9) is None


def test_fewer_come_through_in_the_dark_and_the_cold(quenby: Climate) -> None:
    plant = handbook()["scented-pelargonium"]
    assert keep_at(plant, Shelter("sill", SILL), quenby).mean == pytest.approx(0.85)
    assert keep_at(plant, Shelter("landing", LANDING, Suited.NOT), quenby).mean == pytest.approx(0.85 * 0.8)
    assert keep_at(plant, Shelter("shelf", LANDING, Suited.BORDERLINE), quenby).mean == pytest.approx(0.85 * 0.95)
    assert keep_at(plant, Shelter("glass", GLASS), quenby).mean < 0.05


def test_the_second_step_from_those_that_really_lived() -> None:
    """Four of six lived and twelve are wanted: tips at Beta(13.2, 1.8), five to a plant, so twenty at the most."""
    plant = handbook()["scented-pelargonium"]
    way = plant.method("gritty")
    need = next(n for n in range(12, 60) if betabinom.sf(11, n, 13.2, 1.8) >= 0.9)
    found = second_step(plant, way, 4, 12, 0.9)
    assert (found.cut, found.sure) == (need, 12)
    assert found.chance == pytest.approx(betabinom.sf(11, need, 13.2, 1.8), abs=1e-6)
    two = second_step(plant, way, 2, 12, 0.9)
    assert two.cut == 10
    assert two.chance == pytest.approx(0.0)
    assert two.sure == next(n for n in range(10, 0, -1) if betabinom.sf(n - 1, 10, 13.2, 1.8) >= 0.9)
    assert second_step(plant, way, 6, 6, 0.9).cut == 0
    assert second_step(plant, None, 3, 6, 0.9).sure == 3


def test_what_spares_kept_apart_are_worth() -> None:
    """A bed that dies in four winters of ten; three spares, each alive with 0.8 for certain, of which two must live."""
    alone, both = spares_worth(0.4, 3, Take(0.8, 1e9), 2)
    assert alone == pytest.approx(0.6)
    assert both == pytest.approx(1 - 0.4 * (1 - binom.sf(1, 3, 0.8)), abs=1e-6)
    assert spares_worth(0.4, 0, Take(0.8, 10), 1) == (pytest.approx(0.6), pytest.approx(0.6))
