"""Properties of the counts that hold whatever the numbers."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import betabinom, binom

from elder.engine.chance.count_table import CountTable, count_table
from elder.engine.chance.counting import (
    Take,
    chance_at_least,
    chance_of,
    convolve_counts,
    count_pmf,
    count_quantiles,
    cuttings_needed,
    left_after,
    sure_number,
    thinned,
)

wanteds = st.integers(1, 30)
chances = st.floats(0.05, 1.0)
takes = st.builds(Take, st.floats(0.05, 0.99), st.floats(1.0, 200.0))
sures = st.sampled_from([0.5, 0.75, 0.9, 0.95])


def needed(wanted: int, chance: float, take: Take, sure: float) -> float:
    """The count, with "not within 500" as infinity, so that answers compare."""
    count = cuttings_needed(wanted, chance_ready=chance, take=take, confidence=sure)
    return math.inf if count is None else count


@given(wanteds, chances, takes, sures)
def test_more_wanted_never_needs_fewer(wanted: int, chance: float, take: Take, sure: float) -> None:
    assert needed(wanted + 1, chance, take, sure) >= needed(wanted, chance, take, sure)


@given(wanteds, chances, chances, takes, sures)
def test_a_better_chance_never_needs_more(wanted: int, one: float, other: float, take: Take, sure: float) -> None:
    worse, better = sorted((one, other))
    assert needed(wanted, better, take, sure) <= needed(wanted, worse, take, sure)


@given(wanteds, chances, takes)
def test_more_surety_never_needs_fewer(wanted: int, chance: float, take: Take) -> None:
    assert needed(wanted, chance, take, 0.95) >= needed(wanted, chance, take, 0.75)


@given(wanteds, chances, takes, sures)
def test_the_count_is_the_least(wanted: int, chance: float, take: Take, sure: float) -> None:
    count = cuttings_needed(wanted, chance_ready=chance, take=take, confidence=sure)
    if count is not None:
        just, fewer = (float(chance_at_least(wanted, n, chance_ready=chance, take=take)) for n in (count, count - 1))
        assert just >= sure - 1e-9 > fewer - 2e-9


@given(wanteds, chances, takes, sures)
def test_the_table_agrees_with_the_search(wanted: int, chance: float, take: Take, sure: float) -> None:
    table = count_table(wanted, take, sure)
    if table is None:
        return
    count = int(table.counts(np.array([[chance]]))[0])
    given = [
        float(chance_at_least(wanted, n, chance_ready=chance, take=take)) for n in (count or table.most, count - 1)
    ]
    # Read off a table: within 2e-5 of a tie the count may be one out.
    assert (given[0] >= sure - 2e-5 > given[1] - 4e-5) if count else given[0] < sure + 2e-5


@pytest.mark.parametrize(("wanted", "take"), [(2, Take(0.9, 20)), (12, Take(0.65, 10)), (120, Take(0.9, 20))])
def test_the_table_is_the_binomial_over_the_take(wanted: int, take: Take) -> None:
    """Against the tail integrated by ``chance_at_least``, at chances that lie between the table's own."""
    table = count_table(wanted, take, 0.9)
    assert table is not None
    ready = np.array([[0.3337, 0.7211, 0.9013, 0.9999]])
    for i in range(4):
        for count in (table.least, (table.least + table.most) // 2, table.most):
            expected = float(chance_at_least(wanted, count, chance_ready=ready[0, i], take=take))
            assert table.chances_of(ready)[i, count - table.least] == pytest.approx(expected, abs=2e-5)


@pytest.mark.parametrize(
    ("wanted", "take", "confidence"),
    [(8, Take(0.9, 20), 0.9), (150, Take(0.9, 20), 0.9), (400, Take(0.95, 300), 0.75), (60, Take(0.5, 3), 0.5)],
)
def test_where_all_that_take_are_ready_it_is_the_beta_binomial(wanted: int, take: Take, confidence: float) -> None:
    """scipy's own distribution, which shares no line with the table's sums of logarithms."""
    law = betabinom(n=np.arange(501), a=take.mean * take.weight, b=(1 - take.mean) * take.weight)
    tail = law.sf(wanted - 1)
    table = count_table(wanted, take, confidence)
    assert table is not None
    assert table.least == int(np.argmax(tail >= confidence - 1e-12))
    assert table.most == min(3 * table.least, 500)
    assert table.chances[:, -1] == pytest.approx(tail[table.least : table.most + 1], abs=1e-9)
    assert table.chances[:, 0].max() == 0.0


@pytest.mark.parametrize("take", [Take(0.8, math.inf), Take(0.8, 1e13)])
def test_a_take_that_is_known_is_the_binomial(take: Take) -> None:
    table = count_table(30, take, 0.9)
    assert table is not None
    for step in (64, 200, 256):
        counts = np.arange(table.least, table.most + 1)
        assert table.chances[:, step] == pytest.approx(binom.sf(29, counts, 0.8 * step / 256), abs=1e-9)


def test_of_what_takes_for_certain_as_many_as_are_wanted() -> None:
    table = count_table(12, Take(1.0, 10), 0.9)
    assert table is not None
    assert (table.least, table.most) == (12, 36)
    assert count_table(1, Take(0.0, 10), 0.9) is None


@given(st.integers(1, 300), st.integers(0, 200), chances, takes)
def test_the_chance_of_a_count_is_the_tail_integrated(wanted: int, more: int, chance: float, take: Take) -> None:
    table = CountTable(wanted, take, 0.9, wanted, np.zeros((1, 257)))
    count = wanted + more
    expected = float(chance_at_least(wanted, count, chance_ready=chance, take=take))
    assert table.chance(count, np.array([chance])) == pytest.approx(expected, abs=2e-5)
    assert table.chance(wanted - 1, np.array([1.0])) == 0.0
    above, below = (table.chance(count, np.array([edge])) for edge in (np.nextafter(1.0, 2.0), -1e-17))
    assert (above, below) == (table.chance(count, np.array([1.0])), table.chance(count, np.array([0.0])))


def test_scenarios_are_averaged_over_and_not_their_chances() -> None:
    """Half the years certain, half hopeless: with any number cut it is one in two, never what 0.5 would give."""
    table = count_table(4, Take(0.9, 20), 0.45)
    assert table is not None
    torn = np.array([[1.0], [0.0]])
    assert table.chance(12, torn[:, 0]) == pytest.approx(0.5, abs=1e-4)
    assert table.chances_of(torn)[0, -1] == pytest.approx(
        chance_at_least(4, table.most, chance_ready=1.0, take=Take(0.9, 20)) / 2, abs=1e-6
    )
    assert table.chance(12, np.array([0.5])) > 0.75


@given(st.integers(1, 40), chances, takes)
def test_counts_conserve(count: int, chance: float, take: Take) -> None:
    pmf = count_pmf(count, np.array(chance))
    assert abs(pmf.sum() - 1) < 1e-9
    both = convolve_counts([pmf, pmf])
    assert len(both) == 2 * count + 1
    assert abs(both @ np.arange(2 * count + 1) - 2 * count * chance) < 1e-6


@pytest.mark.parametrize("count", [1, 12, 40, 500, 501, 1200])
def test_a_count_is_the_binomial(count: int) -> None:
    """scipy's binomial, by products up to five hundred and by logarithms from there."""
    chances = np.array([[0.0, 1e-9, 0.03], [0.5, 0.97, 1.0]])
    found = count_pmf(count, chances)
    assert found.shape == (2, 3, count + 1)
    assert found == pytest.approx(binom.pmf(np.arange(count + 1), count, chances[..., None]), abs=1e-13, rel=1e-9)


def test_of_a_count_each_by_its_own_chance_is_the_product_of_both() -> None:
    """Of a binomial thinned by c, the binomial of p·c (scipy's); of a mixture of counts, the sum worked out by hand."""
    through = np.array([[0.0, 0.25, 1.0], [0.6, 0.5, 1e-9]])
    shares = np.array([0.8, 0.3])
    found = thinned(binom.pmf(np.arange(13), 12, shares[:, None]), through)
    assert found.shape == (2, 3, 13)
    exact = binom.pmf(np.arange(13), 12, (shares[:, None] * through)[..., None])
    assert found == pytest.approx(exact, abs=1e-14)
    # None, or two of which each comes with 1 in 4: 0.4 + 0.6·9/16, 0.6·6/16, 0.6/16.
    assert thinned(np.array([[0.4, 0.0, 0.6]]), np.array([[0.25]]))[0, 0] == pytest.approx([0.7375, 0.225, 0.0375])
    assert thinned(np.array([[1.0]]), np.array([[0.25]])).tolist() == [[[1.0]]], "of none, none"


def test_two_shares_one_after_the_other() -> None:
    """Beta(9, 1), then Beta(19, 1): squares 0.9·10/11 and 0.95·20/21 on average, so that the product's variance is
    0.009235 about 0.855. What is known for certain adds no doubt, and what always passes changes nothing."""
    roots, stands = Take(0.9, 10), Take(0.95, 20)
    both = roots.then(stands)
    assert both.mean == pytest.approx(0.855)
    variance = 0.9 * 10 / 11 * 0.95 * 20 / 21 - 0.855**2
    assert both.weight == pytest.approx(0.855 * 0.145 / variance - 1)
    assert both.weight == pytest.approx(12.4239, abs=1e-3)
    assert roots.then(Take(1.0, 5)) is roots
    assert Take(0.8, math.inf).then(Take(0.5, math.inf)) == Take(0.4, math.inf)
    assert Take(0.0, 3).then(stands) == Take(0.0, math.inf)


@pytest.mark.parametrize("confidence", [0.5, 0.9, 0.95])
@pytest.mark.parametrize("count", [1, 12, 60])
def test_the_number_that_is_sure_is_the_last_that_is_likely_enough(count: int, confidence: float) -> None:
    """scipy's beta-binomial; and over two scenarios the mean of both chances, known to a millionth."""
    take = Take(0.8, 10)
    tails = betabinom.sf(np.arange(-1, count), count, 8, 2)
    sure = sure_number(count, chance_ready=1.0, take=take, confidence=confidence)
    assert sure == int(np.flatnonzero(tails >= confidence)[-1])
    known, ready = Take(0.8, math.inf), np.array([1.0, 0.25])
    both = binom.sf(np.arange(-1, count), count, 0.8 * ready[:, None]).mean(axis=0)
    sure = sure_number(count, chance_ready=ready, take=known, confidence=confidence)
    assert sure == int(np.flatnonzero(both >= confidence - 1e-6)[-1])


def test_what_is_left_when_others_had_theirs() -> None:
    counts = np.array([0.1, 0.2, 0.3, 0.25, 0.15])
    assert left_after(counts, 0) is counts
    assert left_after(counts, 2) == pytest.approx([0.6, 0.25, 0.15])
    assert left_after(counts, 4).tolist() == [1.0]
    assert left_after(counts, 9).tolist() == [1.0]
    # And with another batch of one that comes with 3 in 4: two or more of 0–2 and 0–1 are 0.15 + 0.25·0.75.
    assert chance_of([left_after(counts, 2), np.array([0.25, 0.75])], 2) == pytest.approx(0.3375)


def test_quantiles_of_a_drawing_are_scipys() -> None:
    """On the steps that are tabulated they are the beta-binomial's; over two scenarios, of the mixture of both."""
    levels, take = (0.1, 0.5, 0.9), Take(0.8, 10)
    for count in (1, 9, 40):
        found = count_quantiles(count, np.array([[1.0, 0.0, 1.4, -0.2]]), take, levels)
        assert found.dtype == np.int64
        assert found[:, 0].tolist() == betabinom.ppf(levels, count, 8, 2).tolist()
        assert found[:, 1:].tolist() == [[0, most, 0] for most in found[:, 0]], "held to 0 and 1"
    known = Take(0.8, math.inf)
    mixed = (binom.cdf(np.arange(13), 12, 0.8 * 0.5) + binom.cdf(np.arange(13), 12, 0.8 * 0.9)) / 2
    found = count_quantiles(12, np.array([[0.5], [0.9]]), known, levels)
    assert found[:, 0].tolist() == [int((mixed < level).sum()) for level in levels]
    # Between two steps, as far as it lies between them: 0.355 is half-way from 0.35 to 0.36.
    between = (binom.cdf(np.arange(13), 12, 0.8 * 0.35) + binom.cdf(np.arange(13), 12, 0.8 * 0.36)) / 2
    found = count_quantiles(12, np.array([[0.355]]), known, (float(between[2]) + 1e-6, float(between[2]) - 1e-6))
    assert found[:, 0].tolist() == [3, 2]


def test_nothing_wanted_needs_nothing() -> None:
    assert cuttings_needed(0, chance_ready=0.5, take=Take(0.5, 2), confidence=0.9) == 0


def test_past_five_hundred_is_none() -> None:
    assert cuttings_needed(8, chance_ready=0.01, take=Take(0.9, 20), confidence=0.9) is None
    assert count_table(200, Take(0.3, 2), 0.95) is None


def test_an_exact_tie_counts() -> None:
    # One cutting of a sure take ready with 0.9 gives one plant with exactly 0.9.
    assert cuttings_needed(1, chance_ready=0.9, take=Take(1.0, 1), confidence=0.9) == 1


def test_quantiles_bracket_the_mean() -> None:
    low, high = count_quantiles(20, np.array([[0.2, 0.5, 1.0]]), Take(0.8, 10), (0.1, 0.9))
    mean = 20 * 0.8 * np.array([0.2, 0.5, 1.0])
    assert (low <= mean).all()
    assert (mean <= high).all()


@pytest.mark.parametrize(("mean", "weight"), [(-0.01, 10), (1.01, 10), (0.5, 0), (0.5, -1)])
def test_a_take_that_cannot_be(mean: float, weight: float) -> None:
    with pytest.raises(ValueError, match=r"^a take lies between 0 and 1 and has a positive weight$"):
        Take(mean, weight)


@pytest.mark.parametrize("mean", [0.0, 1.0])
def test_a_take_may_be_none_or_all(mean: float) -> None:
    assert chance_at_least(1, 3, chance_ready=1.0, take=Take(mean, 0.5)) == pytest.approx(mean)
