"""A batch under way as the round meets it: where it stands, what can come of it, what it is, on what day."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.state import BatchState
from elder.engine.handbook.model import Method, Plant


@dataclass(frozen=True, eq=False)
class UnderWay:
    """What tasks, signs and care are asked of."""

    state: BatchState
    forecast: BatchForecast
    plant: Plant
    method: Method
    today: date
