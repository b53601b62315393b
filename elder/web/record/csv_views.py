"""Everything the record shows, as tables to carry away."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable
from typing import Final

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_GET

from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Garden
from elder.web.read.gardens import places_of
from elder.web.read.mine import GardenRecord
from elder.web.read.records import record_of
from elder.web.record.became_pages import became_page
from elder.web.record.figures import figures
from elder.web.record.loss_pages import losses_of

Rows = Iterable[tuple[object, ...]]
FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet would reckon instead of show


def _ways(record: GardenRecord, garden: Garden) -> Rows:
    yield ("plant", "way", "batches", "cut", "rooted", "lost before roots", "given up on", "waiting", "no word",
           "take, mean", "take, low (5%)", "take, high (95%)", "handbook's take", "share that is yours",
           "days beside the handbook's")  # fmt: skip
    for (slug, way), told in sorted(record.by_way.items()):
        plant, method = told[0].plant, told[0].method
        own = record.own(plant, method)
        if own is None:
            continue
        tally, learned = own.tally, own.learned
        low, high = learned.take_interval
        yield (slug, way, tally.batches, tally.cut, tally.rooted, tally.lost, tally.gave_up, tally.waiting, tally.left,
               f"{learned.mean_take.mean:.3f}", f"{low:.3f}", f"{high:.3f}", f"{method.take.mean:.3f}",
               f"{learned.yours:.2f}", f"{learned.pace:.2f}")  # fmt: skip


def _batches(record: GardenRecord, garden: Garden) -> Rows:
    places = places_of(garden)
    yield ("batch", "plant", "variety", "way", "from", "cut on", "cut", "rooted", "lost", "planted", "given",
           "standing", "place", "due", "expected", "range from", "range to", "came", "chance of enough",
           "wanted")  # fmt: skip
    for one in record.told:
        total, out = figures([one]), one.outcome if one.due_on <= record.today else None
        judged = (f"{out.expected:.2f}", *out.range, out.came, f"{out.chance:.3f}", out.wanted) if out else ("",) * 6
        yield (one.row.code, one.row.plant, one.row.variety, one.row.method, one.row.stock_plant, one.state.taken_on,
               one.state.taken, total.rooted, total.lost.total(), total.planted, total.given.total(), total.standing,
               places[one.row.rooting_place_id].name, one.target, *judged)  # fmt: skip


def _looks(record: GardenRecord, garden: Garden) -> Rows:
    yield ("batch", "plant", "way", "units of warmth since the cut", "rooted", "lost", "waiting")
    for one in record.told:
        for look in one.looks:
            yield (
                one.row.code,
                one.row.plant,
                one.row.method,
                f"{look.units:.2f}",
                look.rooted,
                look.lost,
                look.waiting,
            )


def _losses(record: GardenRecord, garden: Garden) -> Rows:
    places = places_of(garden)
    yield "batch", "plant", "way", "cause", "stage", "season", "count", "place", "from"
    for gone in losses_of(record, garden):
        row = gone.one.row
        yield (row.code, row.plant, row.method, gone.why, gone.stage, gone.season, gone.count,
               places[row.rooting_place_id].name, row.stock_plant)  # fmt: skip


def _became(record: GardenRecord, garden: Garden) -> Rows:
    yield ("plant", "batches", "cut", "plants", "planted", "given", "sold", "to orders", "swapped", "carried off",
           "eaten", "standing", "lost", "price each", "cost of mix and pots", "hours")  # fmt: skip
    for line in became_page(record, garden).lines:
        total = line.figures
        hows = (total.given[how] for how in ("gift", "sale", "order", "swap", "carried", "eaten"))
        yield (line.plant, total.batches, total.cut, total.plants, total.planted, *hows, total.standing,
               total.lost.total(), "" if line.price is None else line.price, line.cost, line.hours)  # fmt: skip


TABLES: Final[dict[str, Callable[[GardenRecord, Garden], Rows]]] = {
    "ways": _ways,
    "batches": _batches,
    "looks": _looks,
    "losses": _losses,
    "became": _became,
}


@require_GET
@in_garden("see")
def table(request: GardenRequest, what: str) -> HttpResponse:
    """One table as CSV."""
    if what not in TABLES:
        raise Http404
    text = io.StringIO()
    writer = csv.writer(text)
    for row in TABLES[what](record_of(request.garden, request.today), request.garden):
        writer.writerow([plain(cell) for cell in row])
    answer = HttpResponse(text.getvalue(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="elder-{what}.csv"'
    return answer


def plain(cell: object) -> object:
    """A cell as a spreadsheet shows it: words that begin like a formula are marked as words."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(FORMULA) and not _is_number(cell) else cell


def _is_number(cell: str) -> bool:
    try:
        float(cell)
    except ValueError:
        return False
    return True
