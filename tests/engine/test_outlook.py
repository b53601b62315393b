"""What a row of the season is drawn from, against sums made beside it: a plan's, batches' together, on which days."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from scipy.stats import betabinom, binom

from elder.engine.assumptions import Assumptions
from elder.engine.batch.forecast import BatchForecast, forecast
from elder.engine.batch.outlook import DRAWN_DAYS, _telling_days, batch_outlook, plan_outlook
from elder.engine.batch.settled import Settled
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.setting import Setting
from tests.engine.test_settled import OVER
from tests.engine.test_under_way import CUT, ROOM, state_of

TODAY = date(2027, 2, 1)


@pytest.fixture(scope="module")
def plan(north: Climate, tomato: Plant, sill: Place) -> SeasonPlan:
    found = plan_want(Want(8), Setting(tomato, tomato.method("jar"), north, sill, sill, TODAY))
    assert isinstance(found, SeasonPlan)
    return found


def test_a_plan_is_drawn_by_its_count_its_roots_and_what_stands(plan: SeasonPlan) -> None:
    day = plan.recommended
    shown, followed = plan_outlook(plan, day, count=20), plan.followed(day)
    assert shown.start == day
    rooted, ready = followed.mean_rooted.tolist(), followed.mean_ready.tolist()
    by_day = [20 * plan.roots.mean * (now - before) for before, now in zip([0.0, *rooted], rooted, strict=False)]
    assert shown.rooting.tolist() == pytest.approx(by_day)
    assert shown.expected.tolist() == pytest.approx([20 * plan.take.mean * ready[at] for at in shown.at.tolist()])
    # 10 and 90 in 100 by sums: of 20 a beta-binomial number comes to stand, of those a binomial is ready by the day.
    law = betabinom(20, plan.take.mean * plan.take.weight, (1 - plan.take.mean) * plan.take.weight)
    standing = law.pmf(np.arange(21))
    for at, low, high in zip(shown.at.tolist(), shown.low.tolist(), shown.high.tolist(), strict=True):
        chances = np.clip(followed.ready[:, at][:, None], 0, 1)
        below = [float((standing * binom.cdf(few, np.arange(21), chances)).sum(axis=1).mean()) for few in range(21)]
        for level, drawn in ((0.1, low), (0.9, high)):
            least = next(few for few in range(21) if below[few] >= level - 1e-9)
            # Chances are read off at a hundred steps: at a tie it may be one out.
            assert drawn == least or min(abs(share - level) for share in below) < 0.01
    assert len(shown.at) >= DRAWN_DAYS - 4


def test_a_plan_without_a_number_is_drawn_by_the_days_own(plan: SeasonPlan) -> None:
    day = plan.recommended
    own = int(plan.counts[plan.index(day)])
    assert plan_outlook(plan, day).expected.tolist() == plan_outlook(plan, day, count=own).expected.tolist()
    closed = plan.start + timedelta(days=int(np.flatnonzero(plan.counts == 0)[0]))
    assert plan_outlook(plan, closed).expected[-1] == plan_outlook(plan, closed, count=plan.table.most).expected[-1]


@pytest.mark.parametrize(
    ("rising", "days"),
    [
        ([0, 0, 1, 1, 1], [1, 2, 4]),  # at once
        ([1, 1, 1], [0, 2]),
        ([0, 0, 0], [0, 2]),
        ([0, 1], [0, 1]),
        ([0, 0.5, 1], [0, 1, 2]),
        ([0.003, 0.004, 0.005, 0.995, 0.996, 1, 1], [1, 2, 3, 4, 6]),  # from the day before it moves to the day after
        ([0.5, 0.5], [0, 1]),
    ],
)
def test_days_are_drawn_where_something_moves(rising: list[float], days: list[int]) -> None:
    assert _telling_days(np.array(rising, dtype=float)).tolist() == days


def test_a_long_rise_is_drawn_evenly() -> None:
    slow = np.concatenate((np.zeros(10), np.linspace(0, 1, 136)[1:-1], np.ones(20)))
    # It moves from day 10 to 143: 28 points from 9 to 144, and the last day there is.
    assert _telling_days(slow).tolist() == [*(9 + 5 * i for i in range(28)), 163]


def believed(north: Climate, cut_later: int) -> BatchForecast:
    tomato = handbook()["tomato"]
    state = state_of(("rooted", 9, 3), ("potted", 10, 3))
    today = CUT + timedelta(days=12)
    found = forecast(state, Setting(tomato, tomato.method("jar"), north, ROOM, ROOM, today, Assumptions()))
    assert found.start == CUT
    return found if not cut_later else _moved(found, cut_later)


def _moved(found: BatchForecast, days: int) -> BatchForecast:
    """The same batch, all of it so many days later."""
    from dataclasses import replace

    later = timedelta(days=days)
    return replace(found, start=found.start + later, today=found.today + later, _kept={})


def test_batches_together_add_up_day_by_day(north: Climate) -> None:
    one, other = believed(north, 0), believed(north, 11)
    until = CUT + timedelta(days=60)
    shown = batch_outlook([other, one], until)
    assert (shown.start, len(shown.rooting)) == (CUT, 61)
    rooting = [one.rooting[i] + (other.rooting[i - 11] if i >= 11 else 0.0) for i in range(61)]
    assert shown.rooting.tolist() == pytest.approx(rooting)
    assert shown.rooting.sum() > 1
    for at, expected in zip(shown.at.tolist(), shown.expected.tolist(), strict=True):
        apart = sum(
            float(each.counts_on(np.array([max(at - gap, 0)]))[0] @ np.arange(9))
            for each, gap in ((one, 0), (other, 11))
        )
        assert expected == pytest.approx(apart, abs=1e-9)
    assert shown.at[-1] == 60


def test_days_after_all_of_them_stand_are_reckoned_as_the_first_such_day(north: Climate) -> None:
    """To the last bit what every look with every day comes to, for the quickest pace and the slowest."""
    ahead = believed(north, 0).ahead
    days = np.arange(len(ahead.stages.rooting_units))
    looks, share = ahead.looks
    plainly = np.einsum("pl,pld->pd", share, ahead._stands(looks, ahead._hardening_begun(days)))
    assert ahead.waiting_by_day == pytest.approx(plainly, abs=1e-15)
    assert plainly[:, -1] == pytest.approx(share.sum(axis=1))
    last = ahead._all_stand_on(int(looks.max()))
    assert int(looks.max()) < last < len(days), "most of the days lie after it"
    assert (ahead._stands(looks, np.array([last])) == 1.0).all()


def test_the_ends_are_a_tenth_off_either_side(north: Climate) -> None:
    one = believed(north, 0)
    shown = batch_outlook([one], CUT + timedelta(days=60))
    for at, low, high in zip(shown.at.tolist(), shown.low.tolist(), shown.high.tolist(), strict=True):
        law = np.cumsum(one.counts_on(np.array([at]))[0])
        assert (low, high) == (int(np.argmax(law >= 0.1 - 1e-12)), int(np.argmax(law >= 0.9 - 1e-12)))


def test_those_that_share_their_luck_spread_wider(north: Climate) -> None:
    one, other = believed(north, 0), believed(north, 0)
    until = CUT + timedelta(days=60)
    apart, together = batch_outlook([one, other], until), batch_outlook([one, other], until, (4, 4))
    assert together.expected[-1] == pytest.approx(apart.expected[-1], abs=0.05)
    assert together.high[-1] - together.low[-1] >= apart.high[-1] - apart.low[-1]
    assert batch_outlook([one, other], until, (4, 5)).high.tolist() == apart.high.tolist()


def test_what_came_of_one_that_is_over_stays_beside_what_another_may_bring(north: Climate) -> None:
    """Three went out on the fortieth day and three on the forty-fourth; the other's come as they are believed."""
    one, until = believed(north, 0), CUT + timedelta(days=80)
    shown = batch_outlook([Settled(OVER), one], until)
    for at, expected in zip(shown.at.tolist(), shown.expected.tolist(), strict=True):
        came = 0 if at < 40 else 3 if at < 44 else 6
        assert expected == pytest.approx(came + float(one.counts_on(np.array([at]))[0] @ np.arange(9)), abs=1e-9)
    alone = batch_outlook([Settled(OVER)], CUT + timedelta(days=42))
    assert alone.expected[-1] == 3.0, "to a day before all had gone out"
    assert batch_outlook([one], CUT - timedelta(days=5)).at.tolist() == [0], "a day that stepped back past its cut"
