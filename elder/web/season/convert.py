"""Want rows to engine values, and nothing else."""

from __future__ import annotations

from elder.engine.plan import Want as EngineWant
from elder.web.garden.models import Garden
from elder.web.season.models import Want

STOCK = {Want.Stock.USUAL: None, Want.Stock.INDOORS: True, Want.Stock.OUTDOORS: False}


def want_of(row: Want, garden: Garden) -> EngineWant:
    """The engine's want for a row."""
    return EngineWant(
        wanted=row.wanted,
        by=row.by,
        confidence=row.confidence,
        purpose=row.purpose,  # type: ignore[arg-type]
        stock_indoors=STOCK[Want.Stock(row.stock)],
        accepted_risk=garden.accepted_risk,
    )
