"""Promises: chances worked out apart by scipy, the fewest batches by trying all, shoots measured by hand."""

from __future__ import annotations

import itertools
from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binom

from elder.engine.cut.layout import CutSpec, Stem, Unusable
from elder.engine.handbook.loading import handbook
from elder.engine.place.weather import DayAhead
from elder.engine.year.parcel import cut_for, cut_for_parcel, even_stem, room_in
from elder.engine.year.promises import Spare, handed_from, holding, surely, to_reserve
from elder.engine.year.road import (
    Leaving,
    OnTheWay,
    SimulatedWay,
    along,
    arrives,
    bears_days,
    best_leaving,
    leavings,
    limits_c,
)


def batch(count: int, chance: float) -> np.ndarray:
    """So many cuttings, each ready with the same chance."""
    return binom.pmf(np.arange(count + 1), count, chance)


# Checked against scipy.stats.binom's survival function: 20 cuttings at 0.9, twelve promised and three kept.
def test_a_promise_with_a_share_kept_for_oneself() -> None:
    found = holding([batch(20, 0.9)], 12, 3, 0.9)
    assert found.chance == pytest.approx(binom.sf(14, 20, 0.9))
    assert found.bare == pytest.approx(binom.sf(11, 20, 0.9))
    assert found.sure == 16 - 3  # P(at least 16 of 20) is 0.957, of 17 it is 0.867
    assert binom.sf(15, 20, 0.9) > 0.9 > binom.sf(16, 20, 0.9)
    assert not found.helps
    assert holding([batch(20, 0.7)], 12, 3, 0.9).helps


def test_two_batches_add_up() -> None:
    both = holding([batch(6, 0.8), batch(6, 0.8)], 8, 0, 0.9)
    assert both.chance == pytest.approx(binom.sf(7, 12, 0.8))
    assert surely([batch(6, 0.8), batch(6, 0.8)], 0.9) == 8  # 0.927 of eight, 0.795 of nine
    assert surely([np.array([1.0])], 0.9) == 0
    assert surely([np.array([0.1, 0.9])], 0.9) == 1  # exactly as sure as asked


@pytest.mark.parametrize("asked", [(0, 0, 0.9), (1, -1, 0.9), (1, 0, 0.0), (1, 0, 1.0)])
def test_a_promise_that_is_none(asked: tuple[int, int, float]) -> None:
    with pytest.raises(ValueError, match="a promise is for one plant"):
        holding([batch(2, 0.5)], *asked)


def by_trying(have: list[np.ndarray], spares: list[Spare], needed: int, sure: float) -> int | None:
    """The fewest batches there are to reserve, by trying every choice."""
    for count in range(len(spares) + 1):
        for choice in itertools.combinations(spares, count):
            total = np.ones(1)
            for pmf in (*have, *(one.counts for one in choice)):
                total = np.convolve(total, pmf)
            if total[needed:].sum() >= sure - 1e-12:
                return count
    return None


@given(
    st.lists(st.tuples(st.integers(1, 9), st.sampled_from([0.3, 0.6, 0.9])), min_size=1, max_size=5),
    st.integers(1, 14),
    st.sampled_from([0.5, 0.8, 0.9]),
)
def test_the_fewest_batches_are_reserved(sizes: list[tuple[int, float]], needed: int, sure: float) -> None:
    spares = [Spare(i, batch(*size)) for i, size in enumerate(sizes)]
    fewest, found = by_trying([], spares, needed, sure), to_reserve([], spares, needed, sure)
    assert len(found) == (len(spares) if fewest is None else fewest)


def test_nothing_is_reserved_where_it_is_sure_already_and_of_two_the_surer() -> None:
    spares = [Spare("small", batch(5, 0.9)), Spare("large", batch(12, 0.9)), Spare("none", np.array([1.0]))]
    assert to_reserve([batch(10, 1.0)], spares, 8, 0.9) == ()
    assert [one.key for one in to_reserve([], spares, 4, 0.9)] == ["large"]  # either would do, one is surer
    assert {one.key for one in to_reserve([], spares, 15, 0.9)} == {"small", "large"}
    assert {one.key for one in to_reserve([], spares, 40, 0.9)} == {"small", "large"}  # all that help


def test_of_many_batches_the_fullest_are_taken() -> None:
    spares = [Spare(i, batch(i + 1, 1.0)) for i in range(14)]
    assert [one.key for one in to_reserve([], spares, 27, 0.9)] == [13, 12]


def test_what_is_handed_over_from_where() -> None:
    assert handed_from([("a", 4), ("b", 0), ("c", 6)], 7) == {"a": 4, "c": 3}
    assert handed_from([("a", 4)], 9) == {"a": 4}


# --- a parcel -----------------------------------------------------------------------------------------------------

ROSEMARY = CutSpec(
    nodes_least=2, nodes_most=4, nodes_buried=1, below_cm=1, above_cm=1, length_least_cm=5, keep_tip=True
)


def test_a_shoot_that_fits_goes_whole() -> None:
    """20 cm in a parcel of 30: one stick from a centimetre below its first node to its tip, nothing left."""
    cut = cut_for_parcel(even_stem(20, 5), ROSEMARY, 30)
    assert [(one.base_cm, one.top_cm, one.nodes) for one in cut.sticks] == [(1.0, 20, 5)]
    assert cut.struck_again == 0


def test_a_longer_one_gives_a_stick_and_what_is_struck_again() -> None:
    """Nodes at 2, 6 … 38 on 40 cm; 28 cm of room: nodes at 2 to 26 go (28 to 30 would want 30 cm), from 1 to 27. Of
    what is left, 30, 34 and 38 with the tip, one cutting of 29 to 40."""
    cut = cut_for_parcel(even_stem(40, 10), ROSEMARY, 30)
    assert [(one.base_cm, one.top_cm) for one in cut.sticks] == [(1.0, 27.0)]
    assert [(one.base_cm, one.top_cm, one.has_tip) for one in cut.rest.pieces] == [(29.0, 40, True)]


def test_a_second_stick_fills_its_parcel_too() -> None:
    """Nodes every 4 cm on 80 cm, 28 cm of room: seven nodes to a stick, 1 to 27 and 29 to 55; from 57 on it does not
    fill a third and is struck as two cuttings."""
    cut = cut_for_parcel(even_stem(80, 20), ROSEMARY, 30)
    assert [(one.base_cm, one.top_cm) for one in cut.sticks] == [(1.0, 27.0), (29.0, 55.0)]
    assert cut.struck_again == 3
    assert len(cut_for_parcel(even_stem(80, 20), ROSEMARY, 30, most=1).sticks) == 1


def test_a_bad_stretch_is_cut_round() -> None:
    stem = Stem(40, tuple(2.0 + 4 * i for i in range(10)), (Unusable(0, 7, "in flower"),))
    cut = cut_for_parcel(stem, ROSEMARY, 30)
    assert (cut.sticks[0].base_cm, cut.sticks[0].top_cm) == (9.0, 35.0)


def test_shoots_are_cut_until_there_are_enough() -> None:
    sent = cut_for([even_stem(80, 20)] * 9, ROSEMARY, 30, 5)
    assert (sent.sticks, sent.shoots) == (5, 3)
    assert sent.struck_again == 3 + 3 + len(cut_for_parcel(even_stem(80, 20), ROSEMARY, 30, most=1).rest.pieces)
    short = cut_for([even_stem(20, 5)] * 2, ROSEMARY, 30, 5)
    assert (short.sticks, short.shoots) == (2, 2)


def test_a_parcel_too_short_for_anything() -> None:
    assert cut_for_parcel(even_stem(40, 10), ROSEMARY, 6).sticks == ()  # 4 cm of room, a cutting wants five
    with pytest.raises(ValueError, match="longer than its padding"):
        room_in(2.0)


# --- the road ------------------------------------------------------------------------------------------------------

MONDAY = date(2027, 4, 12)
MINT, TOMATO = handbook()["mint"], handbook()["tomato"]


def days(lows: list[float], highs: list[float]) -> list[DayAhead]:
    return [
        DayAhead(MONDAY + timedelta(days=i), high, low) for i, (low, high) in enumerate(zip(lows, highs, strict=True))
    ]


def test_nothing_is_carried_on_a_sunday() -> None:
    assert arrives(MONDAY, 2) == date(2027, 4, 14)
    assert arrives(date(2027, 4, 16), 2) == date(2027, 4, 19)  # a Friday: Saturday, then Monday
    assert arrives(MONDAY, 0) == MONDAY


def test_how_it_fares_on_the_way() -> None:
    """Tomato bears 1 °C hardened, 5 in a parcel's dark; wrapped, a night of 2.9 is 4.9 inside; 26.1 at noon is 32.1."""
    assert TOMATO.frost_limit_c == 1
    lows, highs = [6.0, 2.9, 6, 6, 6, 6, 6], [14.0, 14, 14, 26.1, 14, 14, 14]
    way = days(lows, highs)
    found = leavings(way, TOMATO, form="side shoot", stage="rooted", road_days=1, latest=date(2027, 4, 20))
    assert [(one.day.day, one.arrives.day, one.fares.value) for one in found] == [
        (12, 13, "well"), (13, 14, "cold"), (14, 15, "hot"), (15, 16, "hot"), (16, 17, "well"), (17, 19, "unknown"),
    ]  # fmt: skip
    assert found[1].over_c == pytest.approx(0.1)
    assert found[2].over_c == pytest.approx(0.1)
    assert best_leaving(found) == Leaving(date(2027, 4, 16), date(2027, 4, 17), OnTheWay.WELL)


def test_the_night_after_it_arrives_is_spent_in_the_warm() -> None:
    way = days([6.0, -5.0], [14, 14])
    found = leavings(way, TOMATO, form="side shoot", stage="rooted", road_days=1, latest=date(2027, 4, 13))
    assert [one.fares.value for one in found] == ["well"]
    assert leavings(way, TOMATO, form="side shoot", stage="rooted", road_days=1, latest=MONDAY) == []


def test_what_it_bears_by_what_it_is() -> None:
    assert bears_days("dormant stick", "unrooted") == 14
    assert bears_days("crown top", "unrooted") == 10
    assert bears_days("softwood tip", "unrooted") == 3
    assert bears_days("dormant stick", "potted") == 5
    far = leavings(
        days([8.0] * 7, [14.0] * 7), MINT, form="softwood tip", stage="rooted", road_days=4, latest=date(2027, 4, 30)
    )
    assert far[0].fares is OnTheWay.LONG
    assert limits_c(handbook()["blackcurrant"], "dormant stick", "unrooted") == (-15, 32)
    assert limits_c(handbook()["sweet-potato"], "slip", "rooted")[1] == 38


def test_the_way_is_the_worse_of_both_ends() -> None:
    here, there = days([4.0], [12.0]), days([-3.0], [20.0])
    assert [(one.low_c, one.high_c) for one in along(here, there)] == [(-3.0, 20.0)]
    assert along(here, []) == ()


def test_the_simulated_way_is_colder_to_a_colder_place(quenby: object) -> None:
    way = SimulatedWay(7)
    same, colder = (way.days(quenby, today=MONDAY, far_c=far) for far in (0.0, -8.0))  # type: ignore[arg-type]
    assert [one.day for one in same] == [MONDAY + timedelta(days=i) for i in range(10)]
    assert all(b.low_c <= a.low_c for a, b in zip(same, colder, strict=True))
    assert min(a.low_c - b.low_c for a, b in zip(same, colder, strict=True)) > 1
    assert way.days(quenby, today=MONDAY, far_c=-8.0) == colder  # type: ignore[arg-type]
