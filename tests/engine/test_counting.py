"""Properties of the counts that hold whatever the numbers."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.chance.counting import (
    Take,
    chance_at_least,
    convolve_counts,
    count_ladder,
    count_pmf,
    count_quantiles,
    cuttings_needed,
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
def test_the_ladder_agrees_with_the_search(wanted: int, chance: float, take: Take, sure: float) -> None:
    ladder = count_ladder(wanted, take, sure)
    count = cuttings_needed(wanted, chance_ready=chance, take=take, confidence=sure)
    if ladder is not None:
        within = count is not None and count <= ladder.most
        assert int(ladder.counts(chance)) == (count if within else 0)


@given(st.integers(1, 40), chances, takes)
def test_counts_conserve(count: int, chance: float, take: Take) -> None:
    pmf = count_pmf(count, np.array(chance))
    assert abs(pmf.sum() - 1) < 1e-9
    both = convolve_counts([pmf, pmf])
    assert len(both) == 2 * count + 1
    assert abs(both @ np.arange(2 * count + 1) - 2 * count * chance) < 1e-6


def test_nothing_wanted_needs_nothing() -> None:
    assert cuttings_needed(0, chance_ready=0.5, take=Take(0.5, 2), confidence=0.9) == 0


def test_past_five_hundred_is_none() -> None:
    assert cuttings_needed(8, chance_ready=0.01, take=Take(0.9, 20), confidence=0.9) is None
    assert count_ladder(200, Take(0.3, 2), 0.95) is None


def test_an_exact_tie_counts() -> None:
    # One cutting of a sure take ready with 0.9 gives one plant with exactly 0.9.
    assert cuttings_needed(1, chance_ready=0.9, take=Take(1.0, 1), confidence=0.9) == 1


def test_quantiles_bracket_the_mean() -> None:
    low, high = count_quantiles(20, np.array([0.2, 0.5, 1.0]), Take(0.8, 10), (0.1, 0.9))
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
