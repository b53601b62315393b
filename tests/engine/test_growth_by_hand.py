"""Lines of a take of one walked by hand, day by day: room, what is left uncut, the last day, and what roots already."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from elder.engine.chance.counting import Take
from elder.engine.year.growth import SEASONS, Grown, grow
from elder.engine.year.line import Bench, CutGroup, Line, Rooting, first_mothers

TODAY = date(2027, 4, 6)
SURE = Take(1.0, 10)
# Two cuttings a plant, again after ten days, first five days after it is one, a plant in twenty.
SMALL = Line(gives=2, again_days=10, first_take_days=5, days_to_plant=20, take=SURE)
ONE = first_mothers(1, TODAY)


def on(day: int) -> date:
    return TODAY + timedelta(days=day)


def walked(
    days: int, bench: Bench, line: Line = SMALL, standing: Sequence[CutGroup] = ONE, rooting: Sequence[Rooting] = ()
) -> Grown:
    return grow(line, standing, start=TODAY, by=on(days), bench=bench, rooting=rooting)


def lots_of(found: Grown) -> list[tuple[int, int, float]]:
    """Day, cuttings and plants cut of each lot."""
    return [((lot.day - TODAY).days, lot.count, lot.plants_cut) for lot in found.lots]


def test_what_each_lot_is_cut_from_and_what_is_left_at_the_end() -> None:
    """Cut again too late: the two plants each of days 0 and 10 on 45, the mother and the four of day 25 on 50, the two
    of day 20 on 45, the two of day 30 on 55, the eight of day 35 on the last day of all; those of day 40 never are."""
    found = walked(60, Bench())
    assert lots_of(found) == [
        (0, 2, 1.0), (10, 2, 1.0), (20, 2, 1.0), (25, 4, 2.0), (30, 2, 1.0), (35, 8, 4.0), (40, 2, 1.0),
    ]  # fmt: skip
    assert found.uncut == 2 + 2 + 1 + 4 + 2 + 2 + 8
    assert found.exact
    mothers = walked(60, Bench(), replace(SMALL, again_days=20, first_take_days=90))
    assert lots_of(mothers) == [(0, 2, 1.0), (20, 2, 1.0), (40, 2, 1.0)]
    assert mothers.uncut == 1, "she could be cut again on the last day"


def test_room_for_three() -> None:
    """Day 0: two of three spots, until 20. Day 10: the third. Day 20: two came free. Day 25: no room, her two plants
    wait until 30, when one spot is free again and mother and plants ask six: a third of it hers. Day 35: no room for
    the plant of day 10, until 40, when there are two spots. Then it is too late: the two of day 20 on 45, on 50 the
    mother and the three that wait, on 55 that of day 30."""
    found = walked(60, Bench(room=3))
    assert [(day, count) for day, count, _ in lots_of(found)] == [(0, 2), (10, 1), (20, 2), (30, 1), (40, 2)]
    assert dict(found.lots[3].by_generation) == pytest.approx({0: 1 / 3, 1: 2 / 3})
    assert dict(found.lots[4].by_generation) == pytest.approx({0: 2 * 2 / 8, 1: 2 * 6 / 8})
    assert found.expected(on(60)) == 1 + 2 + 1 + 2 + 1 + 2
    assert found.uncut == 2 + 4 + 1
    assert not found.exact


def test_the_last_day_and_the_most_on_it() -> None:
    last = walked(60, Bench(last_on=on(20), last_most=1))
    assert [lot[:2] for lot in lots_of(last)] == [(0, 2), (10, 2), (20, 1)]
    assert (last.exact, walked(60, Bench(last_on=on(20))).exact) == (False, True)
    both = walked(60, Bench(last_on=on(10), last_most=2, room=3))
    assert [lot[:2] for lot in lots_of(both)] == [(0, 2), (10, 1)], "room for one is less than two"


def test_so_many_left_uncut_in_all() -> None:
    """Two plants come to their last cut on day 33 and four on day 37. Of three to be left the two, and then one."""
    standing = (CutGroup(2, on(33), 1), CutGroup(4, on(37), 1))
    found = walked(60, Bench(keep_uncut=3), standing=standing)
    assert lots_of(found) == [(37, 6, 3.0)]
    assert found.expected(on(60)) == 6 + 6
    assert found.uncut == 2 + 1 + 3, "and the three that were cut, on day 47"
    one = walked(60, Bench(keep_uncut=1), standing=standing)
    assert lots_of(one) == [(33, 2, 1.0), (37, 8, 4.0)]
    assert not one.exact
    assert walked(60, Bench(keep_uncut=0.5), standing=standing).exact


def test_it_waits_a_day_for_a_quicker_one() -> None:
    """Thirty days from the first day and twenty from the second: by day 21 only the second does."""
    line = replace(SMALL, slow_days=(30, *([20] * 364)))
    assert lots_of(walked(21, Bench(), line)) == [(1, 2, 1.0)]


def test_what_roots_already_comes_as_often_as_it_says() -> None:
    """None, one or two of a lot that should have stood a week ago: a quarter, a half and a quarter of the seasons. It
    stands today, and is cut five days on."""
    lot = Rooting((0.25, 0.5, 0.25), on(-7), 1)
    found = walked(40, Bench(), standing=(), rooting=(lot,))
    (came,) = found.under_way
    assert (came.on, came.mean) == (TODAY, 1.0)
    assert np.bincount(came.counts).tolist() == [SEASONS // 4, SEASONS // 2, SEASONS // 4]
    assert np.array_equal(came.cuttings, np.full(SEASONS, 2))
    assert np.array_equal(came.takes, came.counts / 2)
    assert [lot[:2] for lot in lots_of(found)] == [(5, 2), (15, 2)]
    assert found.expected(on(40)) == 1 + 2 + 2
    assert (found.first, len(found.cut), len(found.came)) == (0, 2, 3)


def test_sampled_averages_are_those_of_the_seasons() -> None:
    """Where room makes them depend on the draw, the average is that of the plants that stand; what is sure, nine times
    in ten unless said; a lot thinned twice is the same."""
    line = replace(SMALL, take=Take(0.7, 8))
    found = walked(60, Bench(room=6), line)
    standing = found.plants(on(60))
    assert found.expected(on(60)) == pytest.approx(standing.mean(), rel=1e-12)
    assert found.sure(on(60)) == sorted(standing.tolist())[int(0.1 * (SEASONS - 1))]
    assert found.chance(found.sure(on(60)), on(60)) >= 0.9
    lot = found.cut[-1]
    assert np.array_equal(lot.thinned(1), lot.thinned(1))
    assert lot.thinned(1).max() == 1
    for one in found.cut:
        assert one.mean == pytest.approx(one.cuttings.mean() * 0.7)
