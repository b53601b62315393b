"""What Elder takes for granted of years, batches and people: each value may be changed for a garden."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

SPEEDS: Final = 4  # speeds of a batch weighed in each possible year


@dataclass(frozen=True)
class Assumptions:
    """Under what a chance is reckoned; every value is assumed.

    ``years``: possible years weighed (1: the year of the normals alone). ``speed_sd``: log-sd of what all cuttings of
    a batch share of their speed. ``look_every_days``: days between looks, at which potting is done. ``dear_share``: the
    share of cuttings more than the fewest that a sooner day may cost. ``carry_nights``: cold nights for which one would
    carry pots in (``None``: cold is not weighed). ``slack_days``: kept between the recommended day and the last good
    one. ``stand_share``: of those that have roots, the share that comes to stand ready, and ``stand_weight`` how many
    plants that is worth. Raises ValueError where a value cannot be.
    """

    years: int = 20
    speed_sd: float = 0.20
    look_every_days: int = 3
    dear_share: float = 0.2
    carry_nights: int | None = 7
    slack_days: int = 7
    stand_share: float = 0.95
    stand_weight: float = 20.0

    def __post_init__(self) -> None:
        if not 0 < self.stand_share <= 1 or self.stand_weight <= 0:
            raise ValueError("a share of the rooted comes to stand, and is worth something")
        if self.years < 1 or self.look_every_days < 1 or self.speed_sd < 0 or self.dear_share < 0:
            raise ValueError("there is a year and a look at least, and no share or spread is negative")

    @classmethod
    def ideal(cls) -> Assumptions:
        """One year of the normals, every batch of one speed, a look every day, no cold, and nothing lost once it has
        roots."""
        return cls(years=1, speed_sd=0.0, look_every_days=1, carry_nights=None, stand_share=1.0)

    def allowed(self, fewest: int) -> int:
        """So many cuttings still count as few, where ``fewest`` would do on the best day: one more at the least."""
        return fewest + max(1, round(self.dear_share * fewest))


USUAL: Final = Assumptions()
