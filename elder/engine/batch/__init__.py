"""A batch under way: its history, its forecast, what puts it right."""

from elder.engine.batch.drying import is_drying
from elder.engine.batch.forecast import STAYED, Aims, BatchForecast, Moves, forecast
from elder.engine.batch.history import replay, retold
from elder.engine.batch.outlook import Outlook, batch_outlook, plan_outlook
from elder.engine.batch.remedies import CutsAhead, TopUp, Warmer, fewer, later, top_up, warmer
from elder.engine.batch.state import STAGES, BatchState, Entry
from elder.engine.batch.under_way import UnderWay

__all__ = [
    "STAGES",
    "STAYED",
    "Aims",
    "BatchForecast",
    "BatchState",
    "CutsAhead",
    "Entry",
    "Moves",
    "Outlook",
    "TopUp",
    "UnderWay",
    "Warmer",
    "batch_outlook",
    "fewer",
    "forecast",
    "is_drying",
    "later",
    "plan_outlook",
    "replay",
    "retold",
    "top_up",
    "warmer",
]
