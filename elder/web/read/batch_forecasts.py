"""Forecasts of histories, kept: what can come of one, and of one that is over what came."""

from __future__ import annotations

from elder.engine.batch.forecast import STAYED, Aims, BatchForecast, Moves, forecast
from elder.engine.batch.settled import Settled
from elder.engine.batch.state import Entry as EngineEntry
from elder.engine.handbook.routes import Route
from elder.engine.keeping import kept_at, kept_growing
from elder.engine.plan.condition import Condition
from elder.engine.setting import Setting
from elder.web.garden.models import Garden
from elder.web.read.gardens import places_of, stood_at
from elder.web.read.histories import History, state_of
from elder.web.read.ways import moves_along

SETTLED_BYTES = 2_000  # of what came of a batch (measured, rounded)


def moves_in(history: tuple[EngineEntry, ...], garden: Garden) -> Moves:
    """Where those waiting, and those potted, were carried, and when."""
    if not any(entry.kind == "moved" for entry in history):
        return STAYED
    return moves_along(history, {pk: stood_at(place) for pk, place in places_of(garden).items()})


@kept_at(SETTLED_BYTES)
def settled_of(history: History, route: Route, *, standing: bool) -> Settled:
    """What came of a history that is over."""
    return Settled(state_of(history, route), standing)


@kept_growing(100_000)
def forecast_of(
    history: History, setting: Setting, *, condition: Condition, aims: Aims, moves: Moves = STAYED
) -> BatchForecast:
    """A history's forecast."""
    state = state_of(history, setting.method.route)
    return forecast(state, setting, take=condition.lowers(setting.method.plant_take), moves=moves, aims=aims)
