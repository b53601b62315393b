"""The same garden as tables for people and their spreadsheets: names instead of numbers. Written, never read back."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Final

from elder.engine.handbook.loading import handbook
from elder.web.archive.contents import Said
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.record.csv_views import plain

Row = tuple[object, ...]


def _plant(slug: str) -> str:
    plant = handbook().get(slug)
    return plant.name if plant else slug


def _plain(*cells: object) -> Row:
    """Cells as a spreadsheet shows them: nothing for none, words that begin like a formula as words."""
    return tuple("" if cell is None else plain(cell) for cell in cells)


def _places(garden: Garden) -> Iterator[Row]:
    yield "place", "standing", "day °C", "night °C", "warmer by day °C", "warmer by night °C", "metres deep", "walk"
    for row in garden.places.order_by("pk"):
        yield _plain(
            row.name, row.get_standing_display(), row.day_c, row.night_c, row.lift_day_c, row.lift_night_c,
            row.depth_m, row.walk,
        )  # fmt: skip


def _mothers(garden: Garden) -> Iterator[Row]:
    yield "mother", "plant", "variety", "place", "from", "since", "gives", "again after days", "ended", "why", "note"
    for row in garden.stock_plants.select_related("place").order_by("pk"):
        yield _plain(
            row.name, _plant(row.plant), row.variety, row.place and row.place.name, row.get_origin_display(),
            row.since, row.gives, row.again_days, row.ended_on, row.get_ended_why_display(), row.note,
        )  # fmt: skip


def _wants(garden: Garden) -> Iterator[Row]:
    yield "wanted", "plant", "variety", "way", "by", "for", "sure", "spares", "rooted at", "grown at", "put away"
    for row in garden.wants.select_related("rooting_place", "growing_place").order_by("pk"):
        yield _plain(
            row.wanted, _plant(row.plant), row.variety, row.method, row.by, row.get_purpose_display(), row.confidence,
            row.spares, row.rooting_place.name, row.growing_place.name, row.closed_on,
        )  # fmt: skip


def _batches(garden: Garden) -> Iterator[Row]:
    yield "batch", "plant", "variety", "way", "from", "rooted at", "grown at", "wanted by", "wanted", "over on"
    rows = Batch.objects.filter(garden=garden).select_related("rooting_place", "growing_place").order_by("pk")
    for row in rows.iterator(chunk_size=500):
        yield _plain(
            row.code, _plant(row.plant), row.variety, row.method, row.stock_plant, row.rooting_place.name,
            row.growing_place.name, row.plan.get("target"), row.plan.get("wanted"), row.over_on,
        )  # fmt: skip


def _entries(garden: Garden) -> Iterator[Row]:
    yield (
        "line", "batch", "day", "what", "count", "stage", "why", "did", "signs", "longest root cm", "to", "note",
        "strikes line",
    )  # fmt: skip
    codes = {row.pk: row.code for row in Batch.objects.filter(garden=garden).only("label")}
    columns = (
        "pk", "batch_id", "on", "kind", "count", "stage", "why", "deed", "signs", "root_cm", "place__name", "note",
        "strikes_id",
    )  # fmt: skip
    kinds, whys = dict(Entry.Kind.choices), dict(Entry.Why.choices)
    lines: dict[int, int] = {}
    for line, cells in enumerate(_rows(garden, columns), start=1):
        pk, batch, on, kind, count, stage, why, deed, signs, cm, place, note, strikes = cells
        lines[pk] = line
        yield _plain(
            line, codes[batch], on, kinds[kind], count or "", stage, whys.get(why, ""), deed, signs, cm or "", place,
            note, lines.get(strikes, ""),
        )  # fmt: skip


def _rows(garden: Garden, columns: tuple[str, ...]) -> Iterator[tuple[Said, ...]]:
    rows = Entry.objects.filter(batch__garden=garden).order_by("pk").values_list(*columns)
    yield from rows.iterator(chunk_size=2000)


SHEETS: Final[Mapping[str, Callable[[Garden], Iterator[Row]]]] = {
    "places": _places,
    "mothers": _mothers,
    "wants": _wants,
    "batches": _batches,
    "entries": _entries,
}
