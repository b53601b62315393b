"""Where what stands does not have its light, and the place here that has."""

from __future__ import annotations

from dataclasses import dataclass

from elder.engine.climate.day_of_year import doy0
from elder.engine.place.warmth import units_per_day
from elder.engine.plan.light_needs import LightFit, LightNeed, Stage, Suited, fit, need_of
from elder.engine.round.care import SUN_AFTER
from elder.web.garden.models import Garden, Place
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import place_of, places_of
from elder.web.read.light import lit_at


@dataclass(frozen=True, eq=False)
class IllLit:
    """What of a batch stands in the wrong light: ``kind`` waiting or potted, how many, where, why, and the place that
    suits, if any does."""

    kind: str
    stage: Stage
    count: int
    here: Place
    fit: LightFit
    there: Place | None

    @property
    def is_dark(self) -> bool:
        """Whether it has too little light, not too much."""
        return self.fit.why in ("too_little_sun", "too_dark")


def cover_of(batch: BatchToday) -> str:
    """The cover that is used: the school chosen at the cut, else the way's own."""
    chosen = str(batch.row.treatment.get("cover", ""))
    return chosen if chosen in ("none", "loose", "closed") else batch.method.cover


def lit_needs(batch: BatchToday) -> list[tuple[str, Stage, int, LightNeed]]:
    """What of a batch stands where, by kind, and what light it wants: those potted a week ago and more want theirs as
    rooted plants, those before that as unrooted ones."""
    found: list[tuple[str, Stage, int, LightNeed]] = []
    state, school = batch.state, str(batch.row.treatment.get("light", ""))
    cover = "loose" if state.rooted_seen else cover_of(batch)
    unrooted = need_of(batch.plant, batch.method, "unrooted", cover=cover, school=school)
    if state.count("waiting"):
        found.append(("waiting", "unrooted", state.count("waiting"), unrooted))
    grown = state.count("potted") + (0 if batch.method.route.stays else state.count("hardening"))
    since = state.since("potted") or state.since("hardening")
    if grown and since and (batch.today - since).days >= SUN_AFTER:
        found.append(("potted", "rooted", grown, need_of(batch.plant, batch.method, "rooted")))
    return found


def ill_lit(batch: BatchToday, garden: Garden) -> list[IllLit]:
    """What of a batch stands where the light does not suit it today."""
    places, found = places_of(garden), []
    for kind, stage, count, need in lit_needs(batch):
        here = places[batch.place_id(kind)]
        if here.standing == Place.Standing.GROUND:
            continue
        suits = fit(lit_at(here, garden, batch.today), need)
        if suits.standing >= Suited.NOT:
            found.append(IllLit(kind, stage, count, here, suits, place_with_light(batch, garden, need, here)))
    return found


def place_with_light(batch: BatchToday, garden: Garden, need: LightNeed, here: Place | None = None) -> Place | None:
    """The warmest place of a garden whose light suits a need today, other than where it stands and with room said for
    such things."""
    climate = batch.climate

    def warmth(place: Place) -> float:
        return float(units_per_day(place_of(place), climate, batch.plant.cardinals)[doy0(batch.today)])

    suited = [
        place
        for place in places_of(garden).values()
        if place != here and place.light and place.standing != Place.Standing.GROUND
        and _takes(place, batch) and fit(lit_at(place, garden, batch.today), need).standing == Suited.FITS
    ]  # fmt: skip
    return max(suited, key=warmth, default=None)


def _takes(place: Place, batch: BatchToday) -> bool:
    """Whether nobody said that it holds none of its containers."""
    kinds = {one.filled.kind for one in batch.stands}
    return not place.capacity or all(place.capacity.get(kind, 0) for kind in kinds)
