"""A plant's line as it is passed on, and as it came: from families to a file and from a file to families."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from typing import Final

from elder.engine.handbook.loading import handbook
from elder.engine.mother.lineage import Family
from elder.web.batches.models import Batch
from elder.web.formats.plant_file import Ancestor, PlantFile
from elder.web.garden.models import Garden
from elder.web.plants.models import OwnPlant
from elder.web.read.families import family_of, named_key
from elder.web.stock.models import StockPlant, VarietyAnswer

MOST_LINE: Final = 60  # generations a file tells


def line_above(family: Family, mother: str, cut_on: date | None, taken: int | None = None) -> tuple[Ancestor, ...]:
    """A line from the mother that was cut on a day back to the first; nothing for one the family does not know."""
    if mother not in family.members:
        return ()
    found, day, count = [], cut_on, taken
    for member in (family.members[mother], *family.back(mother)):
        found.append(Ancestor(member.name, member.since, member.ended, day, count))
        take = family.takes.get(member.from_take or "")
        day, count = (take.on, take.taken) if take else (None, None)
    return tuple(found)


@dataclass(frozen=True)
class Passed:
    """What is passed on of a plant: how many, as what (potted, rooted, unrooted), by which way it was rooted, cut on
    which day."""

    count: int
    handed: str
    method: str = ""
    cut_on: date | None = None


def file_of_batch(batch: Batch, garden: Garden, today: date, passed: Passed) -> PlantFile:
    """So many plants of a batch with their family."""
    family = family_of(garden, today, plant=batch.plant)
    key = str(batch.mother_id) if batch.mother_id else named_key(batch)
    return plant_file(garden, batch.plant, batch.variety, line_above(family, key, passed.cut_on), passed)


def file_of_mother(mother: StockPlant, garden: Garden, today: date, passed: Passed) -> PlantFile:
    """A mother with her family: herself, or cuttings of her."""
    family = family_of(garden, today, plant=mother.plant)
    if passed.handed == "unrooted":
        line = line_above(family, str(mother.pk), today, passed.count)
        return plant_file(garden, mother.plant, mother.variety, line, replace(passed, cut_on=today))
    member = family.members.get(str(mother.pk))
    take = family.takes.get(member.from_take or "") if member else None
    if take is None:
        return plant_file(garden, mother.plant, mother.variety, (), passed)
    line = line_above(family, take.mother, take.on, take.taken)
    return plant_file(garden, mother.plant, mother.variety, line, replace(passed, cut_on=take.on))


def plant_file(garden: Garden, slug: str, variety: str, line: tuple[Ancestor, ...], passed: Passed) -> PlantFile:
    """What a file says of a plant: one of a household's own goes with its text."""
    plant = handbook()[slug]
    own = OwnPlant.objects.filter(garden=garden, slug=slug).first()
    said = VarietyAnswer.objects.filter(garden=garden, plant=slug, variety=variety).first()
    way = next((one.name for one in plant.methods if one.slug == passed.method), "")
    return PlantFile(
        plant=own.relative if own else slug,
        name=(own.name if own else plant.name)[:80],
        latin=plant.latin[:80],
        variety=variety,
        count=passed.count,
        handed=passed.handed,
        method=passed.method,
        way=way[:80],
        cut_on=passed.cut_on,
        protected=said.protected if said else "unknown",
        line=line[:MOST_LINE],
        own=own.text if own else "",
        relative=own.relative if own else "",
    )
