"""For a season with nothing in it: three real answers for this garden today, to start from."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from django.urls import reverse

from elder.engine.handbook.loading import clonable
from elder.engine.plan.season_plan import SeasonPlan
from elder.web.garden.models import Garden
from elder.web.read.wants import reckon
from elder.web.say.wants import Headline, headline
from elder.web.season.models import Want

# In the order a newcomer is likeliest to have one at hand (common practice).
TRIED = ("tomato", "basil", "mint", "rosemary", "blackcurrant", "sweet-potato", "lemongrass", "fig")
SHOWN = 3
WANTED = 6


@dataclass(frozen=True)
class Starter:
    """One answer to start from."""

    name: str
    said: Headline
    url: str


def starters(garden: Garden, today: date) -> list[Starter]:
    """The soonest to be cut of a few usual plants, at the garden's first place."""
    place = garden.places.exclude(standing="ground").first()
    if place is None:
        return []
    found: list[tuple[date, Starter]] = []
    for slug in TRIED:
        plant = clonable()[slug]
        method = next(way for way in plant.ways if not way.direct)
        row = Want(
            garden=garden, plant=slug, method=method.slug, wanted=WANTED, rooting_place=place, growing_place=place
        )
        reckoning = reckon(row, garden, today)
        if isinstance(reckoning.plan, SeasonPlan):
            url = f"{reverse('want-new', args=[garden.pk])}?start={slug}&way={method.slug}&wanted={WANTED}"
            found.append((reckoning.plan.recommended, Starter(f"{WANTED} {plant.name}", headline(reckoning), url)))
    found.sort(key=lambda pair: pair[0])
    return [starter for _, starter in found[:SHOWN]]
