"""A plant that comes from another garden, read in with its family: what it would be, and then that it is."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import uuid5

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.handbook.loading import handbook, named
from elder.engine.handbook.model import Plant
from elder.engine.handbook.own import raw_of, written
from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.models import Batch
from elder.web.formats.plant_file import PlantFile, line_told
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.plants.models import OwnPlant
from elder.web.plants.own_actions import keep_own
from elder.web.plants.own_forms import read_own
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch, want_spoken_for
from elder.web.stock.actions import answer_for_variety, is_used
from elder.web.stock.models import Heritage, StockPlant, VarietyAnswer


@dataclass(frozen=True)
class Brought:
    """What is made of it: the mother's name, where she stands; of what is unrooted, where and how it is struck."""

    name: str
    place: Place
    method: str = ""


def plant_brought(file: PlantFile, garden: Garden) -> Plant | None:
    """Which plant it is here: of the handbook, or one of one's own of that name; ``None`` where its text has to be read
    first, or where nothing is known of it."""
    if file.own:
        same = OwnPlant.objects.filter(garden=garden, name__iexact=file.name, current=True).first()
        return handbook()[same.slug] if same else None
    return handbook().get(file.plant) if file.plant in named() else None


def own_faults(file: PlantFile) -> list[str]:
    """What cannot be in a plant of the giver's own; nothing where it reads."""
    return read_own(file.own) if file.own else []


def is_known(file: PlantFile, garden: Garden) -> bool:
    """Whether it can be taken in: the handbook has it, or it comes with a text that reads."""
    return plant_brought(file, garden) is not None or bool(file.own and not own_faults(file))


@transaction.atomic
def take_in(file: PlantFile, brought: Brought, hands: Hands) -> StockPlant | Batch | Refusal:
    """Take a plant in with its family. What has roots is a mother here; what has none is struck, as a batch of a mother
    that stands in another garden. The same press twice makes one."""
    hands = hands.own("bring")
    again = Heritage.objects.filter(key=hands.key).select_related("stock").first()
    if again:
        return again.stock.takes.first() or again.stock if file.is_unrooted else again.stock
    garden = hands.garden
    if garden.stock_plants.filter(name__iexact=brought.name).exists():
        return Refusal("name_taken", "name", {"name": brought.name})
    plant = plant_brought(file, garden) or _own_kept(file, hands)
    far, line = (file.line[0], file.line[1:]) if file.is_unrooted and file.line else (None, file.line)
    row = StockPlant.objects.create(
        garden=garden,
        name=brought.name,
        plant=plant.slug,
        variety=file.variety,
        gives=plant.gives,
        again_days=plant.again_days,
        origin=StockPlant.Origin.GIFT,
        place=None if file.is_unrooted else brought.place,
        since=far.since if far else hands.today,
        ended_on=hands.today if file.is_unrooted else None,
        ended_why=StockPlant.Ended.LEFT if file.is_unrooted else "",
    )
    told = {"count": file.count, "handed": file.handed, "cut_on": file.cut_on and file.cut_on.isoformat()}
    Heritage.objects.create(stock=row, key=hands.key, line=line_told(line), told=told, on=hands.today)
    _variety_told(file, plant, hands)
    return _struck(file, plant, row, brought, hands) if file.is_unrooted else row


def _own_kept(file: PlantFile, hands: Hands) -> Plant:
    raw = raw_of(file.own)
    raw["relative"] = file.relative if file.relative in named() else "mint"
    kept = keep_own(hands.garden, name=file.name[:60], relative=raw["relative"], text=written(raw), person=hands.person)
    return handbook()[kept.slug]


def _variety_told(file: PlantFile, plant: Plant, hands: Hands) -> None:
    """What was said of the variety where it came from, unless something was said of it here."""
    rows = VarietyAnswer.objects.filter(garden=hands.garden, plant=plant.slug, variety=file.variety)
    if file.variety and file.protected != VarietyAnswer.Said.UNKNOWN and not rows.exists():
        # A licence is its holder's own: here it is known to be protected, and no more.
        said = VarietyAnswer.Said.YES if file.protected == VarietyAnswer.Said.LICENCE else file.protected
        answer_for_variety(
            hands.garden, plant.slug, file.variety, protected=said, quarantine=VarietyAnswer.Said.UNKNOWN,
            on=hands.today, person=hands.person,
        )  # fmt: skip


def _struck(file: PlantFile, plant: Plant, row: StockPlant, brought: Brought, hands: Hands) -> Batch | Refusal:
    ways = {way.slug: way for way in plant.ways}
    way = ways.get(brought.method) or ways.get(file.method) or plant.ways[0]
    want = want_spoken_for(
        hands.garden, hands.person, hands.today, plant=plant.slug, variety=file.variety, method=way.slug,
        wanted=max(round(file.count * way.plant_take.mean), 1),
        purpose=Want.Purpose.SPARE, rooting_place=brought.place, growing_place=brought.place,
    )  # fmt: skip
    key = uuid5(hands.key, "struck")
    taken = Taken(hands.today, file.count, row.name, brought.place, brought.place, key)
    made = take_batch(want, taken, garden=hands.garden, person=hands.person, today=hands.today)
    if isinstance(made, Refusal):
        transaction.set_rollback(True)
    return made


def unbringing(row: StockPlant | Batch) -> Undo:
    """The way back from taking a plant in."""
    mother = row.pk if isinstance(row, StockPlant) else row.mother_id
    return Undo("brought", {"mother": mother})


@takes_back("brought", verb="plan")
def unbring(asked: Asked) -> Undone:
    """It is as if it had not come, unless it was looked at, cut or written of since."""
    row = get_object_or_404(StockPlant, pk=asked.number("mother"), garden=asked.garden, heritage__isnull=False)
    with transaction.atomic():
        struck = list(row.takes.all()) if row.ended_why == StockPlant.Ended.LEFT else []
        if not all(actions.untake(one, with_want=True) for one in struck) or is_used(row):
            transaction.set_rollback(True)
            return Undone(f"{row.name} has been used since and stays.", "stock-plant", (row.pk,), held=True)
        row.delete()
    return Undone("Taken back: it is not here.", "stock")
