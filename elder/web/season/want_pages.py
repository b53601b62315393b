"""A want as its pages show it: its line and curve, what serves it, and the sheet it is asked on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from elder.engine.handbook.model import Plant
from elder.web.batches.models import Batch
from elder.web.garden.access import GardenRequest
from elder.web.read.batches import living
from elder.web.read.handbook import clonable_here
from elder.web.season.answers import Answer
from elder.web.season.forms import WantForm
from elder.web.season.models import Want
from elder.web.season.usual_want import places_for
from elder.web.stock.models import StockPlant
from elder.web.ui.parsing import whole

TO_THE_METRE: Final = {"hedge_each": 3, "patch_each": 6}  # where a hedge or a patch begins (common practice)


@dataclass(frozen=True)
class AnswerPage:
    """The answer to a want alone, for a page that stands."""

    answer: Answer
    row: Want


@dataclass(frozen=True)
class WantPage:
    """One want: its line and curve, its batches, its other lots, and what could serve it besides."""

    row: Want
    answer: Answer
    title: str
    series: list[Want]
    could_serve: list[Batch]


@dataclass(frozen=True)
class WantSheetPage:
    """The want sheet as filled in, with what it comes to; a row where a want already kept is changed."""

    form: WantForm
    answer: Answer | None
    row: Want | None
    carry: int | None = None
    potted: bool = False
    place_said: str = ""
    in_sheet: bool = True
    has_ways: bool = True  # among what is sent; and the places, which are drawn anew with another plant alone
    has_places: bool = True


def other_lots(row: Want) -> list[Want]:
    """The other lots or steps of the same thing asked for."""
    if row.series is None:
        return []
    return list(Want.objects.filter(garden=row.garden_id, series=row.series).exclude(pk=row.pk).order_by("lot"))


def could_serve(request: GardenRequest, row: Want) -> list[Batch]:
    """Living batches of the same plant, cut for another want, that could serve this one besides."""
    serving = {batch.pk for batch in row.also_from.all()}
    others = [item.row for item in living(request.garden, request.today) if item.row.want_id != row.pk]
    same = [batch for batch in others if (batch.plant, batch.variety) == (row.plant, row.variety)]
    return [batch for batch in same if batch.pk not in serving]


def starting_values(request: GardenRequest, row: Want | None) -> dict[str, object]:
    """What the sheet starts with: an answer is there before anything is typed."""
    if row:
        names = ("plant", "method", "variety", "wanted", "spares", "by", "confidence", "purpose", "stock", "cut_on")
        values = {name: getattr(row, name) or "" for name in names}
        values["carry_nights"] = "" if row.carry_nights is None else f"{row.carry_nights} {row.plant}"
        places = {"rooting_place": row.rooting_place_id, "growing_place": row.growing_place_id}
        asked = {
            "mother": row.mother_id or "",
            "ask": "cuttings" if row.cuttings else "wanted",
            "cuttings": row.cuttings or "",
        }
        return {**values, **places, **asked, **TO_THE_METRE, "when": "by" if row.by else "safe"}
    slug, way = request.GET.get("start") or request.GET.get("plant", ""), request.GET.get("way", "")
    plants = clonable_here(request.garden)
    plant = plants.get(slug) or plants["tomato"]
    method = next((m for m in plant.ways if m.slug == way), plant.ways[0])
    return {
        "plant": plant.slug,
        "method": method.slug,
        "ask": "wanted",
        "wanted": request.GET.get("wanted") or 8,
        "spares": 0,
        "lots": 1,
        "apart_days": 21,
        "when": "safe",
        "confidence": 0.9,
        "purpose": Want.Purpose.BED,
        **places_for(plant, method, request.garden, request.today),
        "stock": Want.Stock.USUAL,
        **TO_THE_METRE,
        **_mother_asked(request, plant),
    }


def _mother_asked(request: GardenRequest, plant: Plant) -> dict[str, object]:
    """The mother a want is begun from, on her own page, with her variety."""
    key = whole(request.GET.get("mother"))
    row = StockPlant.objects.filter(garden=request.garden, plant=plant.slug, pk=key).first() if key else None
    return {"mother": row.pk, "variety": row.variety} if row else {}


def sheet_values(request: GardenRequest, row: Want | None) -> Mapping[str, object]:
    """What the sheet is answered with: what it was sent, or what its address asks for over what it starts with. Where
    another plant was chosen than the way and the places were chosen for, they are chosen anew for that one."""
    if request.method == "POST":
        return request.POST
    if "plant" not in request.GET:
        return starting_values(request, row)
    given = {**starting_values(request, row), **request.GET.dict()}
    chosen = clonable_here(request.garden).get(str(given["plant"]))
    if chosen and request.GET.get("for_plant", chosen.slug) != chosen.slug:
        given |= {"method": chosen.ways[0].slug, **places_for(chosen, chosen.ways[0], request.garden, request.today)}
    return given
