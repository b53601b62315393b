"""A want as its pages show it: its line and curve, what serves it, and the sheet it is asked on."""

from __future__ import annotations

from dataclasses import dataclass

from elder.engine.handbook.loading import clonable
from elder.web.batches.models import Batch
from elder.web.garden.access import GardenRequest
from elder.web.read.batches import batch_today
from elder.web.season.answers import Answer
from elder.web.season.forms import WantForm
from elder.web.season.models import Want


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


def other_lots(row: Want) -> list[Want]:
    """The other lots or steps of the same thing asked for."""
    if row.series is None:
        return []
    return list(Want.objects.filter(garden=row.garden_id, series=row.series).exclude(pk=row.pk).order_by("lot"))


def could_serve(request: GardenRequest, row: Want) -> list[Batch]:
    """Living batches of the same plant, cut for another want, that could serve this one besides."""
    rows = Batch.objects.filter(garden=request.garden, plant=row.plant, variety=row.variety)
    others = rows.exclude(want=row).exclude(also_for=row).prefetch_related("entries", "rooting_place", "growing_place")
    items = [(batch, batch_today(batch, request.garden, request.today, want=None)) for batch in others]
    return [batch for batch, item in items if not item.state.over]


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
        return {**values, **places, **asked, "when": "by" if row.by else "safe"}
    slug, way = request.GET.get("start", ""), request.GET.get("way", "")
    plant = clonable().get(slug) or clonable()["tomato"]
    method = next((m for m in plant.ways if m.slug == way), plant.ways[0])
    places_here = list(request.garden.places.all())
    suited = [place for place in places_here if (place.standing == "ground") == method.direct] or places_here
    place = suited[0].pk if suited else ""
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
        "rooting_place": place,
        "growing_place": place,
        "stock": Want.Stock.USUAL,
    }
