"""Want rows to engine values, and nothing else."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.plan.condition import Condition
from elder.engine.plan.want import Want as EngineWant
from elder.web.garden.models import Garden
from elder.web.read.mothers import mother_here
from elder.web.season.models import Want

SEEN_JOINED: Final = "."
STOCK = {Want.Stock.USUAL: None, Want.Stock.INDOORS: True, Want.Stock.OUTDOORS: False}


@dataclass(frozen=True)
class WhatIf:
    """Another frost risk, another sureness, tried over everything and kept nowhere, ``None`` for as it is; and what was
    seen of the stem that is to be cut."""

    risk: float | None = None
    sure: float | None = None
    seen: tuple[str, ...] = ()

    def __bool__(self) -> bool:
        return self.risk is not None or self.sure is not None or bool(self.seen)


AS_IT_IS = WhatIf()


def want_of(row: Want, garden: Garden, today: date, what_if: WhatIf = AS_IT_IS) -> EngineWant:
    """The engine's want for a row; of a mother in flower fewer take."""
    mother = mother_here(row.mother) if row.mother else None
    return EngineWant(
        wanted=row.total,
        by=row.by,
        confidence=what_if.sure or row.confidence,
        purpose=row.purpose,  # type: ignore[arg-type]
        stock_indoors=STOCK[Want.Stock(row.stock)],
        accepted_risk=what_if.risk or garden.accepted_risk,
        mother=mother,
        condition=Condition.of([*what_if.seen, *(["flowering"] if mother and mother.in_flower(today) else [])]),
    )


def seen_in(text: str) -> tuple[str, ...]:
    """What an address or a form says was seen of a stem, in words joined by dots; what nobody knows is left out."""
    return Condition.of(text.split(SEEN_JOINED)).reasons


def seen_text(condition: Condition) -> str:
    """The same the other way."""
    return SEEN_JOINED.join(condition.reasons)
