"""What the bench is about: a plant and a way, for a want or for nothing yet, from a mother or from any."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from urllib.parse import urlencode

from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.web.garden.access import GardenRequest
from elder.web.read.handbook import clonable_here
from elder.web.read.want_rows import batches_of, want_rows
from elder.web.read.wants import Reckoning, reckon
from elder.web.read.what_if import AS_IT_IS, WhatIf
from elder.web.season.taking import advised
from elder.web.stock.models import StockPlant
from elder.web.ui.parsing import whole

START = "basil"
MOST = 500


@dataclass(frozen=True, eq=False)
class Subject:
    """A plant, its way, the want it is for, the mother it comes from, and how many cuttings are wanted."""

    plant: Plant
    method: Method
    want: Reckoning | None
    mother: StockPlant | None
    wanted: int | None

    @property
    def variety(self) -> str:
        """The variety of the want, else of the mother."""
        return (self.want.row.variety if self.want else "") or (self.mother.variety if self.mother else "")

    def query(self, **more: object) -> str:
        """The parameters that name it."""
        parts: dict[str, object] = {"plant": self.plant.slug, "method": self.method.slug}
        if self.want:
            parts["want"] = self.want.row.pk
        if self.mother:
            parts["mother"] = self.mother.pk
        if self.wanted:
            parts["wanted"] = self.wanted
        return urlencode({**parts, **{name: value for name, value in more.items() if value not in (None, "")}})


def want_reckoned(request: GardenRequest, want_id: int, what_if: WhatIf = AS_IT_IS) -> Reckoning | None:
    """A want of the garden with its batches, reckoned for today; nothing where there is none such."""
    row = want_rows(request.garden).filter(pk=want_id).first()
    return reckon(row, request.garden, request.today, batches=batches_of(row), what_if=what_if) if row else None


def any_way(plant: Plant, method: Method) -> bool:
    """Every way fits."""
    return True


def subject_of(request: GardenRequest, *, fits: Callable[[Plant, Method], bool] = any_way) -> Subject:
    """What an address asks about; the first that fits where it does not say. Rows of other gardens are not there."""
    want = want_reckoned(request, whole(request.GET.get("want"))) if whole(request.GET.get("want")) else None
    mother = StockPlant.objects.filter(garden=request.garden, pk=whole(request.GET.get("mother"))).first()
    asked = request.GET.get("plant", "")
    plants = clonable_here(request.garden)
    slug = asked if asked in plants else want.row.plant if want else mother.plant if mother else START
    plant = plants.get(slug) or handbook()[slug]
    if want and want.row.plant != slug:
        want = None
    if mother and mother.plant != slug:
        mother = None
    if want and mother is None:
        mother = want.row.mother
    ways = {method.slug: method for method in plant.ways if fits(plant, method)}
    first = want.row.method if want and want.row.method in ways else next(iter(ways), plant.ways[0].slug)
    method = ways.get(request.GET.get("method", ""), plant.method(first))
    wanted = whole(request.GET.get("wanted")) or (advised(want) if want else None)
    return Subject(plant, method, want, mother, min(wanted, MOST) if wanted else None)
