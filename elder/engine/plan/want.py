"""A want as a value: what is asked."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final, Literal

from elder.engine.chance.counting import Take
from elder.engine.plan.condition import SOUND, Condition
from elder.engine.plan.wood import MotherHere

Purpose = Literal["bed", "spare", "gift", "sale", "winter", "pot", "reserve"]

UNHARDENED: Final[frozenset[str]] = frozenset(("winter", "pot", "reserve"))  # plants that stay where they were grown on


@dataclass(frozen=True)
class Want:
    """So many good plants, by a day (``None``: as soon as it is safe), this sure, for this; of which mother, and what
    lowers the take of her cuttings."""

    wanted: int
    by: date | None = None
    confidence: float = 0.9
    purpose: Purpose = "bed"
    stock_indoors: bool | None = None
    accepted_risk: float = 0.10
    mother: MotherHere | None = None
    condition: Condition = SOUND

    def __post_init__(self) -> None:
        if self.wanted < 1 or not 0 < self.confidence < 1 or not 0 < self.accepted_risk < 1:
            raise ValueError("a want is for one plant or more, with a chance strictly between 0 and 1")

    @property
    def is_hardened(self) -> bool:
        """Whether the plants are hardened off before their day; those carried through winter, or kept in a pot where
        they were grown on, are not."""
        return self.purpose not in UNHARDENED


@dataclass(frozen=True)
class Record:
    """What the household's own batches say of a method, in place of the handbook's take."""

    take: Take
