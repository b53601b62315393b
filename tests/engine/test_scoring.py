"""What was forecast beside what came, with what chance alone would bring; after roots; shared luck."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from scipy import stats

from elder.engine.batch.forecast import BatchForecast, forecast
from elder.engine.batch.history import replay
from elder.engine.batch.shared_luck import counts_together, lucks, ready_together
from elder.engine.batch.state import BatchState, Entry
from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.record import Outcome, bias_of, kept, reliability, scores
from elder.engine.record.scoring import count_range, pit_shares
from elder.engine.record.standing import AfterRoots, after_roots_of, for_plant, together
from elder.engine.setting import Setting

CUT = date(2027, 3, 2)


def binomial(n: int, p: float) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    return np.asarray(stats.binom.pmf(np.arange(n + 1), n, p))


def test_a_range_of_whole_plants_holds_more_than_eight_in_ten() -> None:
    """Of ten with 0.7: P(≤ 5) = 0.1503 is the first past a tenth and P(≤ 9) = 0.9718 past nine tenths: 5 to 9 hold
    0.9718 − 0.0473."""
    due = Outcome(binomial(10, 0.7), 6, 8)
    assert due.range == (5, 9)
    assert due.range_holds == pytest.approx(0.9718 - 0.0473, abs=1e-4)
    assert due.in_range
    assert not Outcome(binomial(10, 0.7), 6, 4).in_range
    assert count_range(np.array([0.0, 0.0, 1.0])) == (2, 2)


def test_one_forecasts_scores_by_hand() -> None:
    """0, 1 or 2 with a quarter, a half, a quarter; one came. CRPS: (0.25)² + (0.75 − 1)² + 0 = 0.125. At least one was
    said with 0.75, and came: (1 − 0.75)² = 0.0625."""
    due = Outcome(np.array([0.25, 0.5, 0.25]), 1, 1)
    assert due.crps == pytest.approx(0.125)
    assert due.brier == pytest.approx(0.0625)
    assert (due.pit(0.0), due.pit(1.0)) == (pytest.approx(0.25), pytest.approx(0.75))
    assert (due.expected, due.chance, due.enough) == (1.0, 0.75, True)
    none = Outcome(np.array([0.25, 0.5, 0.25]), 1, 0)
    assert none.crps == pytest.approx(0.75**2 + 0.25**2)
    found = scores([due, none])
    assert (found.crps, found.brier) == (pytest.approx((0.125 + 0.625) / 2), pytest.approx((0.0625 + 0.5625) / 2))
    with pytest.raises(ValueError, match="nothing has fallen due"):
        scores([])


def test_promises_kept_beside_what_chance_alone_brings() -> None:
    """Ten "9 in 10"s of which seven came true: seven or fewer come of ten with chance 0.0702."""
    found = kept([0.9] * 10, [True] * 7 + [False] * 3)
    assert (found.came, found.of, found.expected) == (7, 10, pytest.approx(9))
    assert found.chance == pytest.approx(2 * stats.binom.cdf(7, 10, 0.9), abs=1e-9)
    assert found.word == "right"
    assert kept([0.9] * 10, [True] * 5 + [False] * 5).word == "hopeful"
    assert kept([0.3] * 20, [True] * 14 + [False] * 6).word == "timid"
    assert (kept([], []).word, kept([], []).interval) == ("none", (0.0, 1.0))


def test_the_transform_is_even_where_the_forecasts_are_right_and_leans_where_not() -> None:
    chance = np.random.default_rng(3)
    right = [Outcome(binomial(8, p), 4, int(chance.binomial(8, p))) for p in chance.uniform(0.3, 0.9, 600)]
    shares = pit_shares(right)
    assert shares.sum() == pytest.approx(1)
    assert shares == pytest.approx(np.full(5, 0.2), abs=0.05)
    randomised = [one.pit(float(chance.random())) for one in right]
    assert stats.kstest(randomised, "uniform").pvalue > 0.01
    hopeful = [Outcome(binomial(8, 0.8), 4, int(chance.binomial(8, 0.5))) for _ in range(200)]
    assert pit_shares(hopeful)[0] > 0.5
    assert pit_shares([Outcome(np.array([0.0, 1.0]), 1, 1)])[:2] == pytest.approx([0.2, 0.2])


def test_stated_chances_in_steps() -> None:
    due = [Outcome(binomial(1, 0.9), 1, came) for came in (1, 1, 1, 0)] + [Outcome(binomial(1, 0.5), 1, 0)]
    half, high = reliability(due)
    assert (half.of, half.stated, half.came) == (1, pytest.approx(0.5), 0)
    assert (high.bounds, high.of, high.came) == ((0.8, 0.95), 4, 3)
    assert high.stated == pytest.approx(0.9)


def test_a_bias_is_corrected_for_once_it_is_plain() -> None:
    """Twelve forecasts of six from ten, of which four came each: 48 of 72, and twenty are laid beside both: 68/92. A
    binomial's spread is 2.4 each: 1.645·√28.8/92."""
    due = [Outcome(binomial(10, 0.6), 5, 4)] * 12
    found = bias_of(due)
    assert found.share == pytest.approx(68 / 92)
    assert found.interval[1] - found.share == pytest.approx(1.645 * 28.8**0.5 / 92)
    assert found.corrects
    assert not bias_of(due[:9]).corrects  # fewer than ten say nothing of Elder
    assert not bias_of([Outcome(binomial(10, 0.6), 5, 6)] * 12).corrects
    assert (bias_of([]).share, bias_of([]).corrects) == (1.0, False)
    # Where a forecast was told already that only four of five come, what it expected before that counts: 7.5 of ten.
    told = [Outcome(binomial(10, 0.6), 5, 6, corrected=0.8)] * 12
    assert bias_of(told).share == pytest.approx((72 + 20) / (12 * 7.5 + 20))


def batch_state(*lines: tuple[int, str, int, str, str], route_day: int = 90) -> BatchState:
    entries = [
        Entry(str(i), kind, CUT + timedelta(days=day), count, stage=stage, why=why)
        for i, (day, kind, count, stage, why) in enumerate(lines)
    ]
    state = replay(entries, today=CUT + timedelta(days=route_day))
    assert isinstance(state, BatchState), state
    return state


def test_after_roots_counts_what_is_settled() -> None:
    """Ten rooted and potted; one damped off, one was knocked over, and eight went out: eight stood, one did not. While
    some may still go either way it says nothing; what dies after its day had stood."""
    begun = ((0, "taken", 12, "", ""), (9, "rooted", 10, "", ""), (10, "potted", 10, "", ""))
    target, later = CUT + timedelta(days=60), CUT + timedelta(days=80)
    lost = ((20, "lost", 1, "potted", "rot"), (21, "lost", 1, "potted", "accident"))
    on = batch_state(*begun, *lost)
    assert after_roots_of(on, target, CUT + timedelta(days=30)) == AfterRoots()
    assert after_roots_of(on, target, later) == AfterRoots(8, 1)
    out = batch_state(*begun, *lost, (40, "hardening", 8, "", ""), (50, "planted", 8, "", ""))
    assert after_roots_of(out, target, CUT + timedelta(days=50)) == AfterRoots(8, 1)
    held = batch_state(*begun, (75, "lost", 2, "potted", "cold"))
    assert after_roots_of(held, target, later) == AfterRoots(10, 0)


def test_what_stands_after_roots_is_learned() -> None:
    """Beta(19, 1) with thirty that stood and ten that did not: 49 of 60. A plant begins where the garden's others are,
    worth twenty at the most."""
    assert AfterRoots(30, 10).after() == Take(49 / 60, 60.0)
    found = for_plant(AfterRoots(6, 4), AfterRoots(30, 10))
    assert (found.mean, found.weight) == (pytest.approx((49 / 60 * 20 + 6) / 30), pytest.approx(30))
    assert together([AfterRoots(3, 1), AfterRoots(2, 0)]) == AfterRoots(5, 1)


def test_two_shares_one_after_the_other() -> None:
    """Nine in ten take (worth 20), 19 in 20 of those stand (worth 20): the product's mean and variance, by hand."""
    both = Take(0.9, 20).then(Take(0.95, 20))
    square = 0.9 * 19 / 21 * 0.95 * 20 / 21
    assert both.mean == pytest.approx(0.855)
    assert both.weight == pytest.approx(0.855 * 0.145 / (square - 0.855**2) - 1)
    assert Take(0.9, 20).then(Take(1.0, 20)) == Take(0.9, 20)


def test_a_fortnight_begins_with_its_first_cut() -> None:
    days = [CUT + timedelta(days=day) for day in (0, 13, 14, 20, 3)]
    found = lucks([("a", days[0]), ("a", days[1]), ("a", days[2]), ("a", days[3]), ("b", days[4])])
    assert found[0] == found[1] != found[2] == found[3]
    assert found[4] not in found[:4]


@pytest.fixture
def two(north: Climate, tomato: Plant, sill: Place) -> list[BatchForecast]:
    """Eight cut of one mother on one day, twice; by day 10 one of the first has rooted, and two of the second."""
    today = CUT + timedelta(days=12)
    setting = Setting(tomato, tomato.methods[0], north, sill, sill, today)
    states = [batch_state((0, "taken", 8, "", ""), (10, "rooted", count, "", "")) for count in (1, 2)]
    return [forecast(state, setting) for state in states]


def test_batches_that_share_their_luck_are_surer_of_nothing(two: list[BatchForecast]) -> None:
    """Together they mean about what they mean apart, and spread wider: 1.85 plants, not 1.67. By plain sums: for each
    take the two are independent, and the take is weighed by what both have shown."""
    day = CUT + timedelta(days=80)
    apart = np.convolve(two[0].ready_on(day), two[1].ready_on(day))
    joint = ready_together(two, day)
    count = np.arange(17)
    spread = [float(np.sqrt(law @ (count - law @ count) ** 2)) for law in (apart, joint)]
    assert joint.sum() == pytest.approx(1)
    assert spread == pytest.approx([1.67, 1.85], abs=0.01)
    at = np.array([80])
    (prior, one, given_one), (_, other, given_other) = (ahead.ahead.by_take(at, 16) for ahead in two)
    weights = one * other / prior
    plain = sum(w * np.convolve(a[0], b[0]) for w, a, b in zip(weights, given_one, given_other, strict=True))
    assert joint == pytest.approx(plain / weights.sum(), abs=1e-9)
    # Averaged over its own belief, a batch's counts by take are its counts.
    assert one @ given_one[:, 0] == pytest.approx(two[0].ready_on(day), abs=2e-3)


def test_one_alone_is_itself_and_none_is_there_before_its_cut(two: list[BatchForecast]) -> None:
    day = CUT + timedelta(days=80)
    assert ready_together(two[:1], day) == pytest.approx(two[0].ready_on(day))
    found = counts_together(two, [np.array([-1, 80]), np.array([-1, 80])])
    assert found[0, 0] == pytest.approx(1)
    assert found[1] == pytest.approx(ready_together(two, day))
    late = counts_together(two, [np.array([80]), np.array([-1])])
    assert late[0, :9].sum() == pytest.approx(1)
