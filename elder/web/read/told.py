"""What one batch told at its looks: read from its history, in units of the warmth where it stood."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np

from elder.engine.batch.drying import dried_days
from elder.engine.batch.forecast import Moves
from elder.engine.batch.history import newest_day
from elder.engine.batch.state import BatchState
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property, kept_at
from elder.engine.place.running_units import units_along
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.condition import Condition
from elder.engine.plan.want import UNHARDENED
from elder.engine.record.looks import Look, Tally, looks_of, tally_of
from elder.engine.record.scoring import Outcome
from elder.engine.record.standing import AfterRoots, after_roots_of
from elder.web.batches.models import Batch
from elder.web.read.histories import History, state_of
from elder.web.read.ways import condition_of, moves_along, way_of

MOST_DAYS = 3 * 366  # a batch is followed so long at the most
GRACE_DAYS = 7  # past its day on which a plant still counts as ready by it: people are late (assumed)
LOOKED_BYTES = 2_000  # of what was told at a batch's looks (measured, rounded)
SOUND_ENOUGH = 0.9  # what was cut in a worse state says nothing of sound wood (assumed)


@dataclass(frozen=True, eq=False)
class Told:
    """One batch and what it told: its looks in warmth, how many of its rooted came to stand, and where it stands."""

    row: Batch
    history: History
    plant: Plant
    method: Method
    state: BatchState
    looks: tuple[Look, ...]
    after: AfterRoots
    condition: Condition
    target: date
    kept: Mapping[str, Any] | None  # what was forecast when it was cut

    @cached_property
    def key(self) -> int:
        """Its row's, which Django looks up the long way."""
        return int(self.row.pk)

    # What is asked of every batch after each press is kept with it: the same batches tell the next record.
    @cached_property
    def way(self) -> tuple[str, str]:
        """Its plant and its way, by their slugs."""
        return self.row.plant, self.row.method

    @cached_property
    def tally(self) -> Tally:
        """The counts of it."""
        return tally_of([self.state])

    @cached_property
    def teaches(self) -> bool:
        """Whether it says anything of sound cuttings of its way."""
        return self.condition.share >= SOUND_ENOUGH

    @cached_property
    def due_on(self) -> date:
        """The day on which its forecast can be judged: people may be a week late in planting out."""
        return self.target + timedelta(days=GRACE_DAYS)

    def came_by(self, day: date) -> int:
        """How many had come to stand by a day: put out, given away as plants, or hardening; where they stay in their
        pots, those that live."""
        state = state_of(self.history.until(day), self.method.route)
        out = (
            state.count("hardening") + state.count("planted") + sum(lot.count for lot in state.given_seen if lot.grown)
        )
        return out + (state.count("potted") if self.stays_potted else 0)

    @property
    def stays_potted(self) -> bool:
        """Whether its plants were to stand in their pots."""
        return self.row.want is not None and self.row.want.purpose in UNHARDENED

    @cached_property
    def outcome(self) -> Outcome | None:
        """What was forecast beside what came; nothing of a batch without a plan of its own."""
        return self._outcome("counts")

    @cached_property
    def by_handbook(self) -> Outcome | None:
        """The same had the handbook alone been asked."""
        return self._outcome("handbook")

    def _outcome(self, which: str) -> Outcome | None:
        if not self.kept or which not in self.kept:
            return None
        wanted, came = int(self.row.wanted or 1), self.came_by(self.due_on)  # type: ignore[attr-defined]  # annotated
        counts = np.array(self.kept[which])
        corrected = float(self.kept.get("corrected", 1.0)) if which == "counts" else 1.0
        return Outcome(counts, min(wanted, len(counts) - 1), min(came, len(counts) - 1), corrected)

    @cached_property
    def mother(self) -> tuple[object, ...]:
        """By what its mother is told from others; one without a name shares her luck with nobody."""
        known = self.row.mother_id or self.row.stock_plant.strip().lower() or f"batch {self.row.pk}"
        return (*self.way, known, self.condition.reasons)


def told_by(row: Batch, history: History, climate: Climate, places: Mapping[int, EnginePlace], today: date) -> Told:
    """What a batch told up to a day. ``row`` comes with what ``mine`` asks of its plan."""
    plant, method = way_of(row)
    condition = condition_of(row)
    began = places[row.rooting_place_id]
    state, looks = _looked(history, (plant, method), climate, began, moves_along(history.entries, places))
    paced = tuple(look._replace(units=look.units / condition.days) for look in looks)
    target = date.fromisoformat(row.ready_by)  # type: ignore[attr-defined]  # annotated
    after = after_roots_of(state, target, today)
    kept = row.forecast  # type: ignore[attr-defined]  # annotated
    return Told(row, history, plant, method, state, paced, after, condition, target, kept)


@kept_at(LOOKED_BYTES)
def _looked(
    history: History, way: tuple[Plant, Method], climate: Climate, began: EnginePlace, moves: Moves
) -> tuple[BatchState, tuple[Look, ...]]:
    """A batch's state and its looks, in units of the warmth where it stood; kept, since most batches are over."""
    plant, method = way
    state = state_of(history, method.route)
    newest = newest_day(history.entries)
    days = min((newest - state.taken_on).days + 1, MOST_DAYS)
    gained = units_along(began, moves.rooting, climate, plant.cardinals, state.taken_on, days)
    gained[: dried_days(state, method, newest)] = 0.0
    return state, looks_of(state, np.cumsum(gained))
