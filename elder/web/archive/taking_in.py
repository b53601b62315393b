"""An archive that was looked over, written down as a new garden: all of it in one transaction, or nothing."""

from __future__ import annotations

import uuid
import zlib
from datetime import date
from functools import lru_cache
from typing import IO, TYPE_CHECKING, Final, cast
from uuid import UUID

from django.db import DataError, IntegrityError, models, transaction

from elder.engine.handbook.loading import OWN
from elder.engine.refusal import Refusal
from elder.web.archive.columns import OF, STANDING, Column, columns_of, read_plain
from elder.web.archive.contents import TABLES, Archived, Row, Said
from elder.web.archive.opening import BadArchiveError, Opened
from elder.web.archive.reading import Looked
from elder.web.archive.writing import PHOTOS
from elder.web.formats.daily import to_bytes
from elder.web.formats.logger import readings_to_bytes
from elder.web.garden.models import Garden, Household, Place
from elder.web.ui.photos import NotAPhotoError, fit_again

if TYPE_CHECKING:
    from elder.engine.climate.records import DailyRecords

AT_ONCE: Final = 500


def take_in(looked: Looked, file: IO[bytes], household: Household, *, name: str = "") -> Garden | Refusal:
    """Write an archive down as a new garden of a household, under its own name or another; or why it cannot be."""
    try:
        with transaction.atomic():
            return _Garden(looked, Opened(file), household, name).written()
    except BadArchiveError as error:
        return error.refusal
    except (IntegrityError, DataError):
        return Refusal("archive_fault", "file", {"where": "rows that cannot stand together"})


@lru_cache(maxsize=64)
def written_of(table: Archived) -> tuple[Column, ...]:
    """The columns that are written with a row itself."""
    return tuple(one for one in columns_of(table) if one.kind != "refs" and one.name not in table.later)


@lru_cache(maxsize=64)
def wants_key(table: Archived) -> bool:
    """Whether each row has a key that nothing else gives it."""
    keys = [one for one in table.model._meta.concrete_fields if one.name == "key"]
    return any(one.default is models.NOT_PROVIDED and not one.null for one in keys)


class _Garden:
    """A garden being written: by table, the numbers that rows have here."""

    def __init__(self, looked: Looked, opened: Opened, household: Household, name: str) -> None:
        self._looked, self._opened, self._household, self._name = looked, opened, household, name
        self._here: dict[str, dict[int, int]] = {table.name: {} for table in TABLES}
        self._own: dict[str, str] = {}
        self._series: dict[int, UUID] = {}
        self._garden = Garden()

    def written(self) -> Garden:
        for table in TABLES:
            self._table(table)
        for table in TABLES:
            for name in table.later:
                self._later(table, name)
        return self._garden

    def _table(self, table: Archived) -> None:
        waiting: list[tuple[int, models.Model]] = []
        for row in self._looked.coming(table.name):
            if self._waits_for(table, row, waiting) or len(waiting) >= AT_ONCE:
                self._insert(table, waiting)
                waiting = []
            made = self._made(table, row)
            if made is not None:
                waiting.append((row["n"], made))
        self._insert(table, waiting)
        self._lists(table)

    @staticmethod
    def _waits_for(table: Archived, row: Row, waiting: list[tuple[int, models.Model]]) -> bool:
        """Whether a row refers to one of its own table that is not written yet."""
        of = (row.get(column.name) for column in columns_of(table) if column.to == table.name)
        first = waiting[0][0] if waiting else 0
        return bool(waiting) and any(one is not None and one >= first for one in of)

    def _insert(self, table: Archived, waiting: list[tuple[int, models.Model]]) -> None:
        made = table.model._base_manager.bulk_create([one for _, one in waiting])
        self._here[table.name] |= {n: one.pk for (n, _), one in zip(waiting, made, strict=True)}
        if table.name == "own_plants":
            self._own |= {f"{OWN}{n}": one.slug for (n, _), one in zip(waiting, made, strict=True)}  # type: ignore[attr-defined]

    def _made(self, table: Archived, row: Row) -> models.Model | None:
        """A row as a model's, not yet written; ``None`` for a photo that cannot be seen."""
        values = self._beside(table, row)
        for column in written_of(table):
            if column.name in row:
                said = row[column.name]
                values[column.attname] = said if column.kind == "plain" else self._value(column, said)
        if table.name in PHOTOS:
            photo = self._photo(f"{PHOTOS[table.name]}-{row['n']}.jpg")
            if photo is None:
                return None
            values |= photo
        made = table.model(**values)
        if isinstance(made, Garden):
            made.household, self._garden = self._household, made
            made.name = self._name or made.name
        return made

    def _value(self, column: Column, said: Said) -> Said:
        if said is None:
            return None
        if column.kind == "ref":
            return self._here[column.to].get(said)  # none for one that was left out
        if column.kind == "plant":
            return self._own.get(said, said)
        if column.kind == "series":
            return self._series.setdefault(said, uuid.uuid4())
        return self._standing(said) if column.kind == "standing" else read_plain(column, said)

    def _standing(self, said: str) -> str:
        whose, n, how, place = STANDING.findall(said)[0]
        return f"{whose}{self._here[OF[whose]].get(int(n), 0)}-{how}-{self._here['places'].get(int(place), 0)}"

    def _beside(self, table: Archived, row: Row) -> Row:
        """What the archive does not say of a row: its garden, a key of its own, its readings."""
        found: Row = {}
        if table.within == "garden":
            found["garden_id"] = self._here["garden"][1]
        if wants_key(table):
            found["key"] = uuid.uuid4()
        if table.name == "records":
            found |= self._records(row)
        if table.name == "readings":
            found |= self._readings(row)
        return found

    def _records(self, row: Row) -> Row:
        records = cast("DailyRecords", self._looked.records)  # there, since its row is
        self._garden.records_digest = records.since(row["counted_from"]).digest
        self._garden.save(update_fields=["records_digest"])
        data = b"".join(to_bytes(records))
        return {
            "data": zlib.compress(data, 6),
            "days": len(records),
            "first_day": records.first,
            "last_day": records.last,
        }

    def _readings(self, row: Row) -> Row:
        kept = self._looked.readings[row["n"]]
        Place.objects.filter(pk=self._here["places"][row["place"]]).update(readings_digest=kept.digest)
        days = [date.fromordinal(int(kept.ordinals[at])) for at in (0, -1)]
        data = zlib.compress(readings_to_bytes(kept), 6)
        return {"data": data, "days": len(kept), "first_day": days[0], "last_day": days[1]}

    def _photo(self, path: str) -> Row | None:
        """A photo of ours as it is; any other made fit, as one from a phone would be."""
        data = self._opened.read(path)
        try:
            fit = fit_again(data)
        except NotAPhotoError:
            self._looked.remarks.append(f"{path} is no photo that can be read; it stays behind.")
            return None
        return {"data": fit.data, "width_px": fit.width_px, "height_px": fit.height_px}

    def _lists(self, table: Archived) -> None:
        """Which rows each row lists."""
        for column in columns_of(table):
            if column.kind == "refs":
                self._listed(table, column)

    def _listed(self, table: Archived, column: Column) -> None:
        field: Said = column.field
        through = field.remote_field.through
        mine, theirs = f"{field.m2m_field_name()}_id", f"{field.m2m_reverse_field_name()}_id"
        made = [
            through(**{mine: self._here[table.name][row["n"]], theirs: self._here[column.to][one]})
            for row in self._looked.coming(table.name)
            for one in row.get(column.name, ())
            if one in self._here[column.to]
        ]
        through._base_manager.bulk_create(made, batch_size=AT_ONCE)

    def _later(self, table: Archived, name: str) -> None:
        """References to tables that come after."""
        column = next(one for one in columns_of(table) if one.name == name)
        for row in self._looked.coming(table.name):
            at = self._here[column.to].get(row.get(name) or 0)
            if at is not None:
                rows = table.model._base_manager.filter(pk=self._here[table.name][row["n"]])
                rows.update(**{column.attname: at})
