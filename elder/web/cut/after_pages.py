"""What stands on the page after the cut."""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field, replace
from uuid import UUID, uuid4

from elder.drawing.scene import Scene
from elder.engine.batch.drying import is_drying
from elder.engine.climate.day_of_year import add_days
from elder.engine.cut.codes import spoken
from elder.engine.handbook.bench import AT_ONCE
from elder.engine.shed.containers import CHOSEN, POT
from elder.web.batches.models import Entry
from elder.web.cut.sheet import Facts, SheetPart, chosen_from, cutting_picture, pot_picture, sheet_of
from elder.web.cut.sheet_pages import warmth_words
from elder.web.cut.trimming import Fate, fates
from elder.web.garden.access import GardenRequest
from elder.web.read.batches import BatchToday
from elder.web.say.batches import entry_words, title_of
from elder.web.say.containers import vessel_words
from elder.web.say.routes import onward_words
from elder.web.say.words import day_words, plural

UNMOTHERED = frozenset(("a windfall",))  # of what came from no mother none is chosen on her


@dataclass(frozen=True)
class Drying:
    """Until when cuttings lie to dry, and whether that day has come."""

    until: str
    due: bool


@dataclass(frozen=True)
class AfterPage:
    """After the cut."""

    batch: BatchToday
    title: str
    code: str
    parts: list[SheetPart]
    cutting: Scene | None
    pot: Scene
    labels: str
    drying: Drying | None
    fates: list[Fate]
    trimmed: list[str]
    treatment: list[tuple[str, str]]
    cautions: list[str]
    onward: str
    key: UUID = field(default_factory=uuid4)


def after_page(request: GardenRequest, item: BatchToday) -> AfterPage:
    """How they are treated and stuck, labels, trimmings, and the day they are stuck if they dry."""
    plant, method, units = item.plant, item.method, request.user.units
    chosen = {**chosen_from({}, plant, method), **item.treated.chosen}
    facts = Facts(
        count=item.state.taken,
        wanted=int(item.row.plan.get("wanted", item.state.taken)),
        mother=item.row.stock_plant,
        place=item.row.rooting_place.name,
        warmth=warmth_words(item.row.rooting_place, request, request.today),
        first_look=next((task.due for task in item.tasks if task.verb == "first_look"), None),
        today=item.state.taken_on,
        cut_on=item.state.taken_on,
        units=units,
        seen=frozenset(item.row.condition),
        kit=item.treated.kit,
    )
    pot, stick = pot_picture(plant, method, item.state.taken, units, chosen, item.treated.kit)
    until = add_days(item.state.taken_on, method.dry_days)
    drying = is_drying(item.state, method) and chosen.get("callus") != AT_ONCE
    trimmed = [one for one in _standing(item) if one.kind == Entry.Kind.TRIMMED]
    return AfterPage(
        batch=item,
        title=title_of(item),
        code=spoken(item.row.code),
        parts=_whole_sheet(sheet_of(plant, method, chosen, facts), item),
        cutting=cutting_picture(plant, method, units, chosen),
        pot=pot,
        labels=plural(stick.containers, "label", "labels"),
        drying=Drying(day_words(until, request.today), until <= request.today) if drying else None,
        fates=fates(plant, method, item.row.treatment, units),
        trimmed=[entry_words(one) for one in trimmed],
        treatment=treatment_words(item, units),
        cautions=[one.text for one in plant.cautions if one.at in ("stick", "share")],
        onward=f"{onward_words(method)} {method.risk}".strip(),
    )


def treatment_words(item: BatchToday, units: str) -> list[tuple[str, str]]:
    """How a batch was treated, question by question; its containers by their names."""
    found = []
    for question, said in sorted(item.row.treatment.items()):
        vessel = item.treated.kit.vessel(said) if question in (CHOSEN, POT) else None
        found.append((question, vessel_words(vessel, 1, units) if vessel else said))
    return found


def _whole_sheet(parts: list[SheetPart], item: BatchToday) -> list[SheetPart]:
    """Every step from the first, as they were told before the cut; but for the choosing of a shoot where none was."""
    if item.row.stock_plant not in UNMOTHERED:
        return parts
    count, kept = itertools.count(1), []
    for part in parts:
        lines = (line for line in part.lines if line.step.key != "take")
        numbered = tuple(replace(line, number=next(count)) for line in lines)
        kept += [replace(part, lines=numbered)] if numbered else []
    return kept


def _standing(item: BatchToday) -> list[Entry]:
    struck = {one.strikes_id for one in item.entries}
    return [one for one in item.entries if one.pk not in struck]
