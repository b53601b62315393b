"""Places ranked for this plant at this stage today: by how their light suits, then by the days to roots there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from elder.engine.handbook.loading import clonable
from elder.engine.handbook.model import Method, Plant
from elder.engine.plan.light_needs import Stage, need_of, ranked
from elder.web.garden.access import GardenRequest
from elder.web.garden.models import Place
from elder.web.places.paces import STEADY, root_days
from elder.web.read.gardens import place_of
from elder.web.read.light import lit_at
from elder.web.say.light import SUITED_WORDS, fit_words
from elder.web.say.plants import way_words
from elder.web.say.words import plural

STAGES: Final = (("unrooted", "unrooted"), ("rooted", "rooted"))


@dataclass(frozen=True)
class RankedPlace:
    """A place in its rank: how its light suits and why, and days to roots there."""

    place: Place
    standing: int
    suits: str
    why: str
    days: str


@dataclass(frozen=True)
class Ranking:
    """Places for one plant at one stage, best first, and what else could be asked."""

    ways: list[tuple[str, str]]
    way: str
    stages: tuple[tuple[str, str], ...]
    stage: str
    rows: list[RankedPlace]
    steady: str


def ranking_of(request: GardenRequest, ways: list[tuple[Plant, Method]]) -> Ranking:
    """For the plant and stage an address asks for, the first of those wanted here where it asks for none."""
    stage: Stage = "rooted" if request.GET.get("stage") == "rooted" else "unrooted"
    plant, method = _asked(request.GET.get("way", ""), ways)
    need = need_of(plant, method, stage)
    garden, today = request.garden, request.today
    suited = [one for one in garden.places.all() if (one.standing == Place.Standing.GROUND) == method.direct]
    days = {one.pk: root_days(place_of(one), garden, plant, method, today) for one in suited}
    by_key = {one.pk: one for one in suited}
    order = ranked({one.pk: lit_at(one, garden, today) for one in suited}, need, days if stage == "unrooted" else {})
    steady = root_days(STEADY, garden, plant, method, today)
    known = {one.slug for one, _ in ways}
    others = [(one, one.ways[0]) for one in clonable().values() if one.slug not in known and one.ways]
    return Ranking(
        ways=[
            (f"{one.slug}.{way.slug}", f"{one.name}, {way_words(way.form, way.name)}") for one, way in [*ways, *others]
        ],
        way=f"{plant.slug}.{method.slug}",
        stages=STAGES,
        stage=stage,
        rows=[
            RankedPlace(
                by_key[key],
                fit.standing,
                SUITED_WORDS[fit.standing] if fit.why != "unsaid" else "",
                fit_words(fit),
                _days_words(days[key]) if stage == "unrooted" else "",
            )
            for key, fit in order
        ],
        steady=f"At a steady 20 to 21 °C it would be {plural(steady, 'day', 'days')}." if steady >= 0 else "",
    )


def _asked(way: str, ways: list[tuple[Plant, Method]]) -> tuple[Plant, Method]:
    slug, _, method = way.partition(".")
    plant = clonable().get(slug)
    found = [one for one in plant.ways if one.slug == method] if plant else []
    return (plant, found[0]) if plant and found else ways[0]


def _days_words(days: int) -> str:
    return plural(days, "day", "days") if days >= 0 else "not this year"
