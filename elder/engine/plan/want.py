"""A want and its plan as values: what is asked, what each cut day is worth, the whole curve."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from elder.engine.chance.counting import Take

Purpose = Literal["bed", "spare", "gift", "sale", "winter"]

SLACK_DAYS = 7  # kept between the recommended day and the last comfortable one (assumed)


@dataclass(frozen=True)
class Want:
    """So many good plants, by a day (``None``: as soon as it is safe), this sure, for this."""

    wanted: int
    by: date | None = None
    confidence: float = 0.9
    purpose: Purpose = "bed"
    stock_indoors: bool | None = None
    accepted_risk: float = 0.10
    slack_days: int = SLACK_DAYS

    def __post_init__(self) -> None:
        if self.wanted < 1 or not 0 < self.confidence < 1 or not 0 < self.accepted_risk < 1:
            raise ValueError("a want is for one plant or more, with a chance strictly between 0 and 1")

    @property
    def is_hardened(self) -> bool:
        """Whether the plants are hardened off before their day; those carried through winter are not."""
        return self.purpose != "winter"


@dataclass(frozen=True)
class Record:
    """What the household's own batches say of a method, in place of the handbook's take."""

    take: Take
