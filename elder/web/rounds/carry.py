"""What must come in tonight: which pots, how many, how heavy, the ones in most danger first."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.place.weather import DayAhead
from elder.engine.round.cold_nights import ColdNight, cold_nights
from elder.engine.round.lifting import at_a_time, weight_limit_kg
from elder.engine.round.loads import Load, loads
from elder.engine.round.milestones import Task
from elder.web.garden.models import Garden, Place
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import place_of, places_of

SOON_DAYS = 3  # nights further off than this are drawn, not asked for (assumed)
OUT_WITHIN_DAYS = 21  # after so long they stand where they stand (assumed)
OUTSIDE = EnginePlace("air")  # where plants stand by day and night while they harden (assumed)


@dataclass(frozen=True, eq=False)
class Carry:
    """What of a batch a cold night threatens at a place; in the ground it is covered, not carried."""

    batch: BatchToday
    stage: str
    place: Place | None
    load: Load | None
    plants: int
    nights: tuple[ColdNight, ...]
    is_done: bool

    @property
    def worst(self) -> ColdNight:
        """The coldest of the nights."""
        return min(self.nights, key=lambda night: night.low_c)

    @property
    def is_tonight(self) -> bool:
        """Whether the first of them is this one."""
        return self.nights[0].night == self.batch.today

    @property
    def minutes(self) -> float:
        """Hands' minutes to carry them."""
        return 1.0 + 0.5 * (self.load.containers if self.load else self.plants)

    @property
    def at_a_time(self) -> int:
        """How many one person lifts at a time from the floor, by the revised NIOSH equation; 0 for too heavy."""
        return at_a_time(self.load.each_kg, weight_limit_kg()) if self.load else 0


def carry_in(batches: Sequence[BatchToday], garden: Garden, ahead: Sequence[DayAhead]) -> tuple[Carry, ...]:
    """Everything that a night within three days threatens where it stands, in order of danger."""
    found = [carry for batch in batches for carry in _threatened(batch, garden, ahead[:SOON_DAYS])]
    return tuple(sorted(found, key=lambda carry: (not carry.is_tonight, -carry.worst.short_c, -carry.plants)))


def carry_out(batch: BatchToday, garden: Garden, ahead: Sequence[DayAhead]) -> Task | None:
    """That what was carried in, or covered, may go out again: tonight is not too cold for it where it stands."""
    done, out = batch.state.last_tended("carry_in"), batch.state.last_tended("carry_out")
    if done is None or done >= batch.today or (out and out >= done) or (batch.today - done).days > OUT_WITHIN_DAYS:
        return None
    if not ahead or any(carry.is_tonight for carry in _threatened(batch, garden, ahead[:1])):
        return None
    count = sum(plants for _, _, plants in _standing_out(batch))
    return Task("carry_out", batch.today, count) if count else None


def _threatened(batch: BatchToday, garden: Garden, ahead: Sequence[DayAhead]) -> Iterator[Carry]:
    places = places_of(garden)
    for stage, load, plants in _standing_out(batch):
        place = None if stage == "planted" else places[batch.place_id("waiting" if stage == "waiting" else "potted")]
        if place is not None and place.standing != Place.Standing.AIR:
            continue
        unhardened = batch.method.direct and not batch.state.count("planted")
        hardened = (stage in ("hardening", "planted") and not unhardened) or batch.method.wood == "dormant"
        spot = OUTSIDE if place is None or stage == "hardening" else place_of(place)
        nights = cold_nights(batch.plant, spot, tuple(ahead), hardened=hardened)
        if nights:
            yield Carry(batch, stage, place, load, plants, nights, _is_in(batch, nights[0].night))


def _standing_out(batch: BatchToday) -> Iterator[tuple[str, Load | None, int]]:
    """What of a batch may stand where nights are cold: stage, its containers, how many plants."""
    state = batch.state
    for stage, load in loads(state, batch.plant, batch.method, batch.treated).items():
        hardens = stage == "stuck" and batch.method.route.stays and state.count("hardening")
        yield "hardening" if hardens else {"stuck": "waiting"}.get(stage, stage), load, load.plants
    in_ground = state.count("planted")
    if batch.method.direct:  # struck where they are to stand, so they are covered too
        in_ground += state.count("waiting") + state.count("rooted")
    if in_ground:
        yield "planted", None, in_ground


def _is_in(batch: BatchToday, night: date) -> bool:
    """Whether it was carried in, or covered, for that night."""
    done = batch.state.last_tended("carry_in")
    return done is not None and done >= min(night, batch.today)
