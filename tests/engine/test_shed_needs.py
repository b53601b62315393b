"""What the weeks will ask of the shed, against other ways of reckoning it; what to buy, by hand."""

from __future__ import annotations

import itertools
from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from elder.engine.chance.counting import Take
from elder.engine.shed.needs import Ask, Needed, amounts_of, fixed, needs, potted_by
from elder.engine.shed.shopping import Stocked, lasts_until, to_buy

MONDAY = date(2027, 4, 5)


def test_how_many_come_to_be_potted_against_scipy() -> None:
    # scipy 1.17.1 stats.betabinom, 10 of take 8 in 10 worth 10 cuttings; at half the chance its mixture summed up.
    found = potted_by(10, Take(0.8, 10), np.array([[0.0, 1.0]]))
    assert found[0] == pytest.approx([1.0, *([0.0] * 10)])
    assert found[1] == pytest.approx(stats.betabinom.pmf(range(11), 10, 8, 2), abs=1e-9)
    shares = np.linspace(0.0005, 0.9995, 1000)
    weight = stats.beta.pdf(shares, 8, 2) / stats.beta.pdf(shares, 8, 2).sum()
    half = (stats.binom.pmf(np.arange(11)[:, None], 10, 0.5 * shares) * weight).sum(axis=1)
    assert potted_by(10, Take(0.8, 10), np.array([[0.5]]))[0] == pytest.approx(half, abs=2e-5)
    both = potted_by(10, Take(0.8, 10), np.array([[0.0], [1.0]]))[0]
    assert both == pytest.approx((found[0] + found[1]) / 2, abs=1e-12), "the mean over scenarios"


def test_one_batch_by_hand() -> None:
    # Three of four cuttings root for certain at a take of 1 and a chance of 3 in 4: Binomial(4, ¾).
    chances = potted_by(4, Take(1.0, 1.0), np.array([[0.0, 0.75]]))
    assert chances[1] == pytest.approx([1 / 256, 12 / 256, 54 / 256, 108 / 256, 81 / 256], abs=1e-9)
    (need,) = needs([Ask("vessel:litre", np.arange(5.0), chances)], 2).values()
    assert need.expected == pytest.approx([0, 3])
    assert need.sure.tolist() == [0, 4], "three or fewer only 175 times in 256"
    in_pots = amounts_of(lambda many: {"vessel:x": -(-many // 3), "mix:plain": 0.5 * -(-many // 3)}, 4)
    assert in_pots["vessel:x"].tolist() == [0, 1, 1, 1, 2]
    (mix,) = needs([Ask("mix:plain", in_pots["mix:plain"], chances)], 2).values()
    assert mix.expected[1] == pytest.approx(0.5 * (174 / 256) + 1.0 * (81 / 256))
    assert mix.sure[1] == pytest.approx(1.0, abs=0.003)


def test_what_is_certain_from_a_week_to_a_week() -> None:
    (need,) = needs([Ask("vessel:jar", np.array([0.0, 3.0]), fixed(1, 1, 5, 3))], 5).values()
    assert need.expected.tolist() == need.sure.tolist() == [0, 3, 3, 3, 0]
    (late,) = needs([Ask("label", np.array([0.0, 3.0]), fixed(1, -2, 3))], 3).values()
    assert late.sure.tolist() == [3, 3, 3]
    assert fixed(0, 0, 2).tolist() == [[1, 0], [1, 0]]


@settings(max_examples=60, deadline=None)
@given(
    st.lists(
        st.tuples(st.integers(1, 4), st.sampled_from([1.0, 2.0, 0.7, 3.8]), st.floats(0.05, 0.95)),
        min_size=1,
        max_size=4,
    )
)
def test_the_sum_of_several_is_enough_nine_times_in_ten(several: list[tuple[int, float, float]]) -> None:
    """Every outcome written out: what is said to be enough is, nine times in ten, and a step less is not."""
    asks = [
        Ask("part:bark", each * np.arange(count + 1.0), potted_by(count, Take(1.0, 1.0), np.array([[chance]])))
        for count, each, chance in several
    ]
    (need,) = needs(asks, 1).values()
    outcomes = []
    for counts in itertools.product(*(range(count + 1) for count, _, _ in several)):
        chance = np.prod([ask.chances[0][j] for ask, j in zip(asks, counts, strict=True)])
        outcomes.append((sum(float(ask.amounts[j]) for ask, j in zip(asks, counts, strict=True)), float(chance)))
    assert need.expected[0] == pytest.approx(sum(amount * chance for amount, chance in outcomes), rel=1e-6)
    most = max(amount for amount, _ in outcomes)
    step = 1.0 if all(each in (1.0, 2.0) for _, each, _ in several) else most / 512
    slack = len(several) * step + 1e-6 if step != 1.0 else 1e-9
    assert sum(chance for amount, chance in outcomes if amount <= need.sure[0] + slack) >= 0.9 - 1e-9
    assert sum(chance for amount, chance in outcomes if amount < need.sure[0] - slack - 1e-9) < 0.9


def test_amounts_that_fall_between_the_steps_are_not_lost() -> None:
    """Forty that certainly ask 0.7 each are 28, whatever steps they are added up in."""
    (need,) = needs([Ask("part:bark", np.array([0.0, 0.7]), fixed(1, 0, 1)) for _ in range(40)], 1).values()
    assert need.expected[0] == pytest.approx(28)
    assert need.sure[0] == pytest.approx(28, abs=0.3)


def needed(what: str, *sure: float) -> Needed:
    values = np.array(sure)
    return Needed(what, values * 0.8, values)


def test_what_to_buy_by_when_in_whole_packs() -> None:
    needed_ones = {
        "part:perlite": needed("part:perlite", 2, 5, 18, 30),
        "vessel:litre": needed("vessel:litre", 4, 9.4, 7, 0),
        "label": needed("label", 0, 0, 0, 11),
        "stake": needed("stake", 1, 1, 1, 1),
    }
    stock = {
        "part:perlite": Stocked(5.0, 20.0, 8.75),
        "vessel:litre": Stocked(4.0, 10.0, None),
        "label": Stocked(0.0, 100.0, 3.6),
        "stake": Stocked(1.0),
    }
    found = to_buy(needed_ones, stock, MONDAY, MONDAY + timedelta(days=1))
    assert [(one.what, one.by) for one in found] == [
        ("vessel:litre", date(2027, 4, 11)),  # nine in the second week: by the Sunday before it
        ("part:perlite", date(2027, 4, 18)),
        ("label", date(2027, 4, 25)),
    ]
    pots, perlite, labels = found
    assert (perlite.short, perlite.packs.count, perlite.packs.over_l, perlite.price) == (25.0, 2, 15.0, 17.5)
    assert perlite.expected_short == pytest.approx(30 * 0.8 - 5)
    assert (pots.packs.count, pots.price) == (1, None)
    assert pots.short == pytest.approx(5.4)
    assert (labels.packs.count, labels.packs.over_l) == (1, 89.0)
    assert lasts_until(needed_ones["part:perlite"], 5.0, MONDAY) == date(2027, 4, 18)
    assert lasts_until(needed_ones["part:perlite"], 30.0, MONDAY) is None


def test_what_is_short_now_is_bought_today() -> None:
    (one,) = to_buy({"label": needed("label", 3, 3)}, {}, MONDAY, MONDAY + timedelta(days=2))
    assert (one.by, one.packs.count, one.price) == (MONDAY + timedelta(days=2), 3, None)
    assert to_buy({"label": needed("label", 3, 3)}, {"label": Stocked(3.0)}, MONDAY, MONDAY) == []
