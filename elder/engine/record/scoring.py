"""What was forecast beside what came: ranges, chances and scores, each with what chance alone would make of it.

Counts are whole, so a range that is to hold 8 in 10 holds more; it is judged by its own probability. Scores: CRPS and
Brier, as in Gneiting & Raftery 2007, Journal of the American Statistical Association 102: 359–378; the probability
integral transform of counts as in Czado, Gneiting & Held 2009, Biometrics 65: 1254–1261 (both from memory).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.keeping import cached_property

RANGE: Final = (0.1, 0.9)
BINS: Final = ((0.0, 0.2), (0.2, 0.4), (0.4, 0.6), (0.6, 0.8), (0.8, 0.95), (0.95, 1.0001))
TOO_UNLIKELY: Final = 0.05  # what chance alone brings so rarely wants another reason
TIE: Final = 1e-12


@dataclass(frozen=True, eq=False)
class Outcome:
    """One forecast that has fallen due: the distribution of the number ready by its day, of shape (cut + 1,), how many
    were wanted, and how many came; ``corrected``: the share of what was expected that was told already."""

    forecast: Floats
    wanted: int
    came: int
    corrected: float = 1.0

    @cached_property
    def range(self) -> tuple[int, int]:
        """The numbers between which it said 8 in 10 would lie."""
        return count_range(self.forecast)

    @cached_property
    def range_holds(self) -> float:
        """The probability that its own range holds."""
        low, high = self.range
        return float(self.forecast[low : high + 1].sum())

    @property
    def in_range(self) -> bool:
        """Whether what came lay in it."""
        low, high = self.range
        return low <= self.came <= high

    @cached_property
    def expected(self) -> float:
        """The mean it expected."""
        return float(self.forecast @ np.arange(len(self.forecast)))

    @cached_property
    def chance(self) -> float:
        """The chance of enough that it stated."""
        return float(self.forecast[self.wanted :].sum())

    @property
    def enough(self) -> bool:
        """Whether enough came."""
        return self.came >= self.wanted

    def pit(self, u: float) -> float:
        """The probability integral transform, randomised by ``u`` between 0 and 1."""
        below = float(self.forecast[: self.came].sum())
        return below + u * float(self.forecast[self.came])

    @cached_property
    def crps(self) -> float:
        """The continuous ranked probability score, in plants: 0 is perfect."""
        steps = np.arange(len(self.forecast)) >= self.came
        return float(((np.cumsum(self.forecast) - steps) ** 2).sum())

    @property
    def brier(self) -> float:
        """The Brier score of the chance of enough: 0 is perfect, a quarter is a guess."""
        return (self.chance - self.enough) ** 2


def count_range(pmf: Floats, levels: tuple[float, float] = RANGE) -> tuple[int, int]:
    """The least numbers whose cumulated chance reaches each level."""
    below = np.cumsum(pmf)
    low, high = (int(min((below < level - TIE).sum(), len(pmf) - 1)) for level in levels)
    return low, high


def wilson(came: int, of: int, confidence: float = 0.90) -> tuple[float, float]:
    """Wilson's interval of a share; the whole of it for nothing seen."""
    from scipy.stats import binomtest  # it takes half a second to come, and few pages ask

    if not of:
        return 0.0, 1.0
    found = binomtest(came, of).proportion_ci(confidence_level=confidence, method="wilson")
    return float(found.low), float(found.high)


@dataclass(frozen=True)
class Kept:
    """Of ``of`` promises ``came`` came true, ``expected`` by what each said of itself; ``chance``: how often chance
    alone would bring it as far from that, or further, to the same side, doubled; ``interval``: of the share that comes
    true."""

    came: int
    of: int
    expected: float
    chance: float
    interval: tuple[float, float]

    @property
    def word(self) -> str:
        """``none``, ``right``, ``hopeful`` (fewer came true than were promised) or ``timid``."""
        if not self.of:
            return "none"
        if self.chance > TOO_UNLIKELY:
            return "right"
        return "hopeful" if self.came < self.expected else "timid"


def kept(chances: Sequence[float], came: Sequence[bool]) -> Kept:
    """How promises of those chances were kept."""
    total = np.ones(1)
    for chance in chances:
        total = np.convolve(total, (1 - chance, chance))
    count = int(sum(came))
    tails = float(total[: count + 1].sum()), float(total[count:].sum())
    return Kept(count, len(chances), float(sum(chances)), min(2 * min(tails), 1.0), wilson(count, len(chances)))


@dataclass(frozen=True)
class Reliable:
    """Stated chances between two bounds: how many, what they stated on the mean, how many came true, and between what
    their true share lies with 9 in 10."""

    bounds: tuple[float, float]
    of: int
    stated: float
    came: int
    interval: tuple[float, float]


def reliability(due: Sequence[Outcome]) -> list[Reliable]:
    """Stated chances of enough beside how often enough came, in a few steps; steps nobody stated are left out."""
    found = []
    for low, high in BINS:
        inside = [one for one in due if low <= one.chance < high]
        if inside:
            came = sum(one.enough for one in inside)
            stated = float(np.mean([one.chance for one in inside]))
            found.append(Reliable((low, min(high, 1.0)), len(inside), stated, came, wilson(came, len(inside))))
    return found


def pit_shares(due: Sequence[Outcome], bins: int = 5) -> Floats:
    """The share of the transform that lies in each of some equal parts: even where the forecasts are right; shape
    (bins,)."""
    edges = np.linspace(0.0, 1.0, bins + 1)
    found = np.zeros(bins)
    for one in due:
        low, high = one.pit(0.0), one.pit(1.0)
        inside = np.clip(edges, low, high)
        found += np.diff(inside) / (high - low) if high > low else np.histogram([low], edges)[0]
    return found / max(len(due), 1)


@dataclass(frozen=True)
class Scores:
    """Mean CRPS (plants) and Brier score of some forecasts."""

    crps: float
    brier: float


def scores(due: Sequence[Outcome]) -> Scores:
    """The mean scores. Raises ValueError for none."""
    if not due:
        raise ValueError("nothing has fallen due")
    return Scores(float(np.mean([one.crps for one in due])), float(np.mean([one.brier for one in due])))


@dataclass(frozen=True)
class Bias:
    """How many times what was expected came, drawn towards one by what ``BIAS_CUTTINGS`` would say; between what it
    lies with 9 in 10; and from how many forecasts."""

    share: float
    interval: tuple[float, float]
    of: int

    @property
    def corrects(self) -> bool:
        """Whether Elder corrects for it: enough forecasts say so, and one is not among the likely values."""
        low, high = self.interval
        return self.of >= BIAS_FORECASTS and not low <= 1.0 <= high


BIAS_CUTTINGS: Final = 20.0  # so many plants as expected are laid beside what came (assumed)
BIAS_FORECASTS: Final = 10  # fewer say nothing of Elder (assumed)
AS_IT_IS: Final = Bias(1.0, (0.0, 2.0), 0)


def bias_of(due: Sequence[Outcome]) -> Bias:
    """How hopeful the forecasts were: of each its own spread is known, so the sum's is too (a normal sum, and the
    prior of so many plants as expected)."""
    if not due:
        return AS_IT_IS
    expected = float(sum(one.expected / one.corrected for one in due))
    came = sum(one.came for one in due)
    numbers = [np.arange(len(one.forecast)) for one in due]
    spread = sum(float(one.forecast @ (n - one.expected) ** 2) for one, n in zip(due, numbers, strict=True))
    if expected <= 0:
        return AS_IT_IS
    share = (came + BIAS_CUTTINGS) / (expected + BIAS_CUTTINGS)
    reach = 1.645 * float(np.sqrt(spread)) / (expected + BIAS_CUTTINGS)
    return Bias(share, (share - reach, share + reach), len(due))
