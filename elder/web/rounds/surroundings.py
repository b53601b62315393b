"""The air and the light about a batch where it stands today."""

from __future__ import annotations

from collections.abc import Sequence

from elder.engine.place.air import Air, advice, under_cover
from elder.engine.place.weather import DayAhead
from elder.engine.plan.light_needs import UNROOTED_H
from elder.engine.round.care import Around
from elder.engine.round.cold_nights import is_hot
from elder.web.garden.models import Garden, Place
from elder.web.read.air import air_at, wilts_in
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import place_of
from elder.web.read.ill_lit import cover_of
from elder.web.read.light import lit_at


def air_for(batch: BatchToday, here: Place, ahead: Sequence[DayAhead]) -> Air | None:
    """The air about a batch; of what stands in open ground nobody asks."""
    return None if here.standing == Place.Standing.GROUND else air_at(here, batch.today, ahead)


def around_of(batch: BatchToday, here: Place, garden: Garden, *, air: Air | None, first: DayAhead | None) -> Around:
    """What the day makes of its care: heat, sun, air too dry for leafy stems in mix, air too close under a cap."""
    lit = lit_at(here, garden, batch.today)
    cover = cover_of(batch)
    found = advice(under_cover(cover, air), "unrooted", cover) if air and wilts_in(batch.method) else None
    return Around(
        hot=is_hot(batch.plant, place_of(here), first),
        sunny=lit is None or lit.strong_h > UNROOTED_H[0],
        mistings=found.mistings if found else 0,
        close=bool(found and found.open_cap),
    )
