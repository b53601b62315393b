"""Wants said in one's own words, several at once: each with its first answer, and kept in one press."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.engine.handbook.finding import FoundPlant, find_plants
from elder.engine.plan.season_plan import SeasonPlan
from elder.web.formats.own_words import WantSaid, read_own_words
from elder.web.garden.models import Garden, Person
from elder.web.read.handbook import own_here
from elder.web.read.wants import reckon
from elder.web.say.finding import nearest_words
from elder.web.say.units import US
from elder.web.say.wants import Headline, headline
from elder.web.season.actions import keep_want
from elder.web.season.forms import MOST_PLANTS
from elder.web.season.models import Want
from elder.web.season.usual_want import places_for


@dataclass(frozen=True)
class FirstAnswer:
    """One plant asked for: what was made of the words, its answer, and its want where it can be had. ``near``: said
    where the plant is only the nearest to what was typed; it is not kept then, but named."""

    asked: WantSaid
    name: str
    said: Headline
    row: Want | None
    near: str

    @property
    def slug(self) -> str:
        """The plant's, to open the sheet with."""
        return self.row.plant if self.row else ""

    @property
    def count(self) -> int:
        """How many of it."""
        return self.row.wanted if self.row else self.asked.count


def first_answers(garden: Garden, text: str, today: date, units: str) -> list[FirstAnswer]:
    """An answer for each plant said."""
    yours = list(own_here(garden).values())
    asked = read_own_words(text, today, month_first=units == US)
    return [_answer(one, find_plants(one.name, yours), garden, today) for one in asked]


def _answer(asked: WantSaid, found: list[FoundPlant], garden: Garden, today: date) -> FirstAnswer:
    plant, near = found[0].plant, nearest_words(found, asked.name)
    count = min(asked.count, MOST_PLANTS)
    name = f"{count} {plant.name}{f' ‘{asked.variety}’' if asked.variety else ''}"
    if not plant.ways:
        instead = plant.instead.text if plant.instead else "It is not raised from cuttings."
        return FirstAnswer(asked, plant.name, Headline(instead, ""), None, near)
    method = next((way for way in plant.ways if not way.direct), plant.ways[0])
    places = places_for(plant, method, garden, today)
    row = Want(
        garden=garden,
        plant=plant.slug,
        method=method.slug,
        variety=asked.variety,
        wanted=count,
        by=asked.by,
        rooting_place_id=places["rooting_place"],
        growing_place_id=places["growing_place"],
    )
    reckoning = reckon(row, garden, today)
    kept = row if isinstance(reckoning.plan, SeasonPlan) else None
    return FirstAnswer(asked, name, headline(reckoning), kept, near)


def keep_first(garden: Garden, person: Person, answers: list[FirstAnswer], today: date) -> tuple[int, list[str]]:
    """Keep each that can be had and was named as it is called here; how many were, and the words of the others."""
    kept, left = 0, []
    for answer in answers:
        done = answer.row is not None and not answer.near
        if done and answer.row is not None and isinstance(keep_want(answer.row, garden, person, today), Want):
            kept += 1
        else:
            left.append(answer.asked.typed)
    return kept, left
