"""A garden written out as an archive: the same rows, the same bytes, but for the day."""

from __future__ import annotations

import csv
import io
import json
import zipfile
import zlib
from collections.abc import Iterable, Iterator, Mapping
from datetime import date
from itertools import chain
from typing import IO, Final

from django.db.models import Model, QuerySet

from elder.engine.cut.codes import code_of
from elder.engine.handbook.loading import OWN
from elder.web.archive.columns import Column, Ordinals, Saying, columns_of
from elder.web.archive.contents import FORM, NAMED, NOT_ARCHIVED, TABLES, Archived, Said
from elder.web.archive.sheets import SHEETS
from elder.web.formats.daily import from_bytes
from elder.web.formats.logger import readings_from_bytes
from elder.web.garden.models import Garden, PlaceReadings, Records
from elder.web.logbook.moment import one_moment

STAMP: Final = (1980, 1, 1, 0, 0, 0)  # of every file in it: two archives of the same rows are the same bytes
PHOTOS: Final = {"photos": "photos/batch", "mother_photos": "photos/mother"}
AT_ONCE: Final = 2000


def rows_of(table: Archived, garden: Garden, own: Iterable[str] = ()) -> QuerySet[Model]:
    """A garden's rows of a table, in the order they were written."""
    rows = table.model._base_manager.order_by("pk")
    if table.name == "own_plants":
        return rows.filter(slug__in=own)
    return rows.filter(**{table.within: garden.pk})


def own_slugs(garden: Garden) -> list[str]:
    """The slugs of plants of one's own: the garden's, and those that what was carried here from another garden is."""
    found = set(garden.own_plants.values_list("slug", flat=True))
    for table in TABLES:
        if any(column.kind == "plant" for column in columns_of(table)):
            found |= set(rows_of(table, garden).filter(plant__startswith=OWN).values_list("plant", flat=True))
    return sorted(found)


def write_archive(garden: Garden, into: IO[bytes], *, today: date) -> dict[str, int]:
    """Write a garden's archive; how many rows of each table it has: the garden of one moment, whoever writes meanwhile.
    Raises ``OSError`` where there is no room."""
    with one_moment():
        return _write(garden, into, today)


def _write(garden: Garden, into: IO[bytes], today: date) -> dict[str, int]:
    own = own_slugs(garden)
    numbers = {table.name: list(rows_of(table, garden, own).values_list("pk", flat=True)) for table in TABLES}
    ordinals = {name: {pk: n for n, pk in enumerate(pks, start=1)} for name, pks in numbers.items()}
    slugs = rows_of(TABLES[1], garden, own).values_list("slug", flat=True)
    saying = Saying(ordinals, {slug: n for n, slug in enumerate(slugs, start=1)})
    counts = {name: len(pks) for name, pks in numbers.items()}
    with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        _put(archive, "manifest.json", _json(_manifest(garden, counts, today)))
        for table in TABLES:
            _put_lines(archive, table.path, _lines(table, garden, own, saying))
        for path, lines in (*_records(garden), *_readings(garden, ordinals)):
            _put_lines(archive, path, lines)
        for path, photo in _photos(garden, ordinals):
            _put(archive, path, photo)
        for name, sheet in SHEETS.items():
            _put_lines(archive, f"sheets/{name}.csv", _as_csv(sheet(garden)))
    return counts


def _manifest(garden: Garden, counts: Mapping[str, int], today: date) -> dict[str, object]:
    return {
        "form": f"{NAMED} {FORM}",
        "name": garden.name,
        "made_on": today.isoformat(),
        "counts": counts,
        "not_in_it": {label.lower(): why for label, why in NOT_ARCHIVED.items()},
    }


def _json(value: object) -> bytes:
    return (json.dumps(value, ensure_ascii=False, indent=1) + "\n").encode()


def _info(path: str) -> zipfile.ZipInfo:
    info = zipfile.ZipInfo(path, STAMP)
    info.compress_type, info.external_attr = zipfile.ZIP_DEFLATED, 0o644 << 16
    return info


def _put(archive: zipfile.ZipFile, path: str, data: bytes) -> None:
    archive.writestr(_info(path), data)


def _put_lines(archive: zipfile.ZipFile, path: str, lines: Iterable[str]) -> None:
    with archive.open(_info(path), "w", force_zip64=True) as file:
        for line in lines:
            file.write(line.encode())


def _lines(table: Archived, garden: Garden, own: list[str], saying: Saying) -> Iterator[str]:
    """A table as JSON, a row a line."""
    columns = columns_of(table)
    plain = [column for column in columns if column.kind != "refs"]
    many = {column.name: _through(column, saying.ordinals) for column in columns if column.kind == "refs"}
    rows = rows_of(table, garden, own).values_list("pk", *(column.attname for column in plain))
    before = "["
    for n, (pk, *values) in enumerate(rows.iterator(chunk_size=AT_ONCE), start=1):
        said = {column.name: saying.said(column, value) for column, value in zip(plain, values, strict=True)}
        said |= {name: sorted(lists.get(pk, ())) for name, lists in many.items()}
        if table.name == "batches":
            said["label"] = said["label"] or code_of(pk)
        yield f"{before}\n{json.dumps({'n': n, **said}, ensure_ascii=False, sort_keys=True)}"
        before = ","
    yield "[]\n" if before == "[" else "\n]\n"


def _through(column: Column, ordinals: Ordinals) -> dict[int, list[int]]:
    """Which rows each row lists: by its number, their ordinals."""
    field: Said = column.field
    through, here, there = field.remote_field.through, field.m2m_column_name(), field.m2m_reverse_name()
    mine = field.m2m_field_name()
    found: dict[int, list[int]] = {}
    for pk, other in through._base_manager.filter(**{f"{mine}__garden": _garden_of(ordinals)}).values_list(here, there):
        if other in ordinals[column.to]:
            found.setdefault(pk, []).append(ordinals[column.to][other])
    return found


def _garden_of(ordinals: Ordinals) -> int:
    return int(next(iter(ordinals["garden"])))


def _cell(tenths: float) -> str:
    return "" if tenths != tenths else f"{tenths:.1f}"


def _records(garden: Garden) -> Iterator[tuple[str, Iterator[str]]]:
    row = Records.objects.filter(garden=garden).first()
    if row:
        kept = from_bytes(zlib.decompress(row.data), row.days)
        days = zip(kept.ordinals.tolist(), kept.low.tolist(), kept.high.tolist(), strict=True)
        lines = (f"{date.fromordinal(day)},{_cell(low)},{_cell(high)}\n" for day, low, high in days)
        yield "records/garden.csv", chain(("date,low_c,high_c\n",), lines)


def _readings(garden: Garden, ordinals: Ordinals) -> Iterator[tuple[str, Iterator[str]]]:
    for row in PlaceReadings.objects.filter(place__garden=garden).order_by("pk"):
        kept = readings_from_bytes(zlib.decompress(row.data), row.days)
        lines = (
            f"{date.fromordinal(day)},{hour},{_cell(warm)},{_cell(damp)}\n"
            for day, warmth, damps in zip(
                kept.ordinals.tolist(), kept.celsius.tolist(), kept.humidity.tolist(), strict=True
            )
            for hour, (warm, damp) in enumerate(zip(warmth, damps, strict=True))
            if warm == warm or damp == damp
        )
        yield f"readings/{ordinals['readings'][row.pk]}.csv", chain(("date,hour,celsius,humidity\n",), lines)


def _photos(garden: Garden, ordinals: Ordinals) -> Iterator[tuple[str, bytes]]:
    for table in TABLES:
        if table.name in PHOTOS:
            rows = rows_of(table, garden).values_list("pk", "data")
            for pk, data in rows.iterator(chunk_size=8):
                yield f"{PHOTOS[table.name]}-{ordinals[table.name][pk]}.jpg", bytes(data)


def _as_csv(rows: Iterable[tuple[object, ...]]) -> Iterator[str]:
    for row in rows:
        text = io.StringIO()
        csv.writer(text).writerow(row)
        yield text.getvalue()
