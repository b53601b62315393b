"""The slip that goes with a plant, for its giver to print and for whoever has it in hand to open; and its file."""

from __future__ import annotations

from dataclasses import dataclass, replace
from uuid import UUID

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe
from django.utils.text import slugify
from django.views.decorators.http import require_GET

from elder.engine.handbook.loading import handbook
from elder.web.formats.plant_file import PlantFile, write_plant
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden, Person
from elder.web.passing.models import Promise
from elder.web.read.heritage import Passed, file_of_batch, file_of_mother, plant_file
from elder.web.read.promises import PromiseToday, promise_row, promise_rows, promise_today
from elder.web.say.slips import Slip, slip_of
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from elder.web.ui.pages import show


@dataclass(frozen=True)
class SlipPage:
    """A slip with the square that opens it."""

    slip: Slip
    square: SafeString
    file_url: str
    back: int | None


def file_of(found: PromiseToday, garden: Garden) -> PlantFile:
    """What is passed on by a promise, with the family of the batch (or mother) that gives most of it."""
    row, want = found.row, found.want
    passed = Passed(want.wanted, want.handed_as or "potted", want.method)
    given = row.handings.exclude(batch=None).select_related("batch").last()
    if given and given.batch:
        return file_of_batch(given.batch, garden, found.today, replace(passed, count=given.count, cut_on=given.on))
    if found.mothers:
        first = max(found.mothers, key=lambda one: one.now)
        return file_of_mother(first.row, garden, found.today, passed)
    if found.standings:
        most = max(found.standings, key=lambda one: (one.batch.state.given, one.now, not one.lent))
        told = replace(passed, cut_on=most.batch.state.taken_on)
        return file_of_batch(most.batch.row, garden, found.today, told)
    return plant_file(garden, want.plant, want.variety, (), passed)


def square_of(url: str) -> SafeString:
    """A QR code as SVG: segno's own markup, of an address made here."""
    import segno  # where a slip is shown, and not when the application starts

    svg = segno.make(url, error="m", micro=False).svg_inline(scale=3, border=2, omitsize=False)
    return mark_safe(svg)  # noqa: S308 - drawn by segno from an address of ours


def _slip_page(request: HttpRequest, found: PromiseToday, garden: Garden, units: str, back: int | None) -> SlipPage:
    file = file_of(found, garden)
    soil = found.row.goes == Promise.Goes.HAND or found.row.soil == Promise.Answered.YES
    slip = slip_of(file, handbook()[found.want.plant], units, soil=soil)
    url = request.build_absolute_uri(reverse("slip-open", args=[found.row.slip_key]))
    return SlipPage(slip, square_of(url), reverse("slip-file", args=[found.row.slip_key]), back)


@require_GET
@in_garden("see")
def slip(request: GardenRequest, promise_id: int) -> HttpResponse:
    """A promise's slip, to be printed."""
    found = promise_today(promise_row(request.garden, promise_id), request.garden, request.today)
    return show(
        request, "passing/slip.html", _slip_page(request, found, request.garden, request.user.units, promise_id)
    )


def _opened(slip_key: UUID) -> tuple[PromiseToday, Garden]:
    """A promise by the key on its slip. Raises Http404 for none, and for one that was called off."""
    row = get_object_or_404(Promise.objects.select_related("garden__household"), slip_key=slip_key)
    if row.over_on is not None and not row.want.handed_over:
        raise Http404
    garden = row.garden
    whole = get_object_or_404(promise_rows(garden), pk=row.pk)
    return promise_today(whole, garden, today_in(garden)), garden


@require_GET
def open_slip(request: HttpRequest, slip_key: UUID) -> HttpResponse:
    """The slip, for whoever has it in hand: the plant, its line and its care, and nothing of the garden."""
    found, garden = _opened(slip_key)
    units = request.user.units if isinstance(request.user, Person) else Person.Units.METRIC
    answer = show(request, "passing/slip_open.html", _slip_page(request, found, garden, units, None))
    answer["X-Robots-Tag"] = "noindex"
    return answer


@require_GET
def open_file(request: HttpRequest, slip_key: UUID) -> HttpResponse:
    """The plant with its family, as a file for another garden."""
    found, garden = _opened(slip_key)
    return _sent(file_of(found, garden))


@require_GET
@in_garden("see")
def mother_file(request: GardenRequest, stock_id: int) -> HttpResponse:
    """A mother with her family, as a file: herself, or cuttings of her."""
    mother = get_object_or_404(StockPlant, pk=stock_id, garden=request.garden)
    handed = "unrooted" if request.GET.get("as") == Want.HandedAs.UNROOTED else "potted"
    return _sent(file_of_mother(mother, request.garden, request.today, Passed(1, handed)))


def _sent(file: PlantFile) -> HttpResponse:
    answer = HttpResponse(write_plant(file), content_type="application/json; charset=utf-8")
    name = slugify(f"{file.name} {file.variety}") or "plant"
    answer["Content-Disposition"] = f'attachment; filename="{name}.json"'
    answer["Cache-Control"] = "no-store"
    return answer
