"""How a column of a row is said in the archive, and read from it: references by the ordinals of rows, plants of one's
own as ``own-3``, what came in one series by the series' number."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import Decimal
from functools import lru_cache
from typing import Final, Literal, cast
from uuid import UUID

from django.db import models

from elder.engine.handbook.loading import OWN
from elder.web.archive.contents import BY_LABEL, EVERYWHERE, FAR_WITHIN, Archived, DjangoField, Said

Kind = Literal["plain", "date", "moment", "money", "json", "ref", "refs", "plant", "series", "standing"]
PLAIN: Final = (
    models.CharField, models.TextField, models.BooleanField, models.FloatField, models.IntegerField,
)  # fmt: skip
# What stands at a move goes by its mother or batch, and its place: see read/winter_stands.
STANDING: Final = re.compile(r"([sb])([0-9]+)-([a-z]+)-([0-9]+)")
OF: Final = {"s": "mothers", "b": "batches"}
Ordinals = Mapping[str, Mapping[Said, int]]  # by table, the ordinal of each row's number here


@dataclass(frozen=True)
class Column:
    """A column of a table: its name in the archive, Django's field, how it is said, which table it refers to."""

    name: str
    field: DjangoField = field(repr=False)
    kind: Kind = "plain"
    to: str = ""

    @property
    def attname(self) -> str:
        """The attribute that holds it as the database has it."""
        return self.field.attname


@lru_cache(maxsize=64)
def columns_of(table: Archived) -> tuple[Column, ...]:
    """The columns of a table that come along, in the model's order; lists of rows last."""
    meta = table.model._meta
    fields = [*meta.concrete_fields, *meta.many_to_many]
    return tuple(_column(one) for one in fields if why_left_out(table, one.name) is None)


def why_left_out(table: Archived, name: str) -> str | None:
    """Why a column does not come along; ``None`` for one that does."""
    return table.left_out.get(name) or EVERYWHERE.get(name) if name != "by" else _why_by(table)


def _why_by(table: Archived) -> str | None:
    """``by`` is whoever did it in some tables, and a day in others."""
    return None if isinstance(table.model._meta.get_field("by"), models.DateField) else EVERYWHERE["by"]


def _column(one: DjangoField) -> Column:
    if isinstance(one, models.ManyToManyField):
        return Column(one.name, one, "refs", BY_LABEL[one.related_model._meta.label].name)
    if isinstance(one, models.ForeignKey):
        return Column(one.name, one, "ref", BY_LABEL[one.related_model._meta.label].name)
    if isinstance(one, models.UUIDField):
        return Column(one.name, one, "series")
    if isinstance(one, models.SlugField) and one.name == "plant":
        return Column(one.name, one, "plant")
    if one.name == "what" and one.model._meta.label == "moving.MovedPlant":
        return Column(one.name, one, "standing")
    kinds: tuple[tuple[type, Kind], ...] = (
        (models.DateTimeField, "moment"), (models.DateField, "date"), (models.DecimalField, "money"),
        (models.JSONField, "json"),
    )  # fmt: skip
    for known, kind in kinds:
        if isinstance(one, known):
            return Column(one.name, one, kind)
    if not isinstance(one, PLAIN):
        raise TypeError(f"no way to say a {type(one).__name__} in an archive")
    return Column(one.name, one)


@dataclass
class Saying:
    """Says values of rows for the archive: what each row's number here, each own plant's slug, stand for."""

    ordinals: Ordinals
    own: Mapping[str, int]
    series: dict[UUID, int] = field(default_factory=dict)

    def said(self, column: Column, value: Said) -> Said:
        """A value as the archive says it."""
        return value if value is None or column.kind == "plain" else getattr(self, f"_{column.kind}")(column, value)

    def _ref(self, column: Column, value: int) -> int | None:
        return self.ordinals[column.to].get(value)  # none for a row of another garden

    def _plant(self, column: Column, value: str) -> str:
        return f"{OWN}{self.own[value]}" if value in self.own else value

    def _series(self, column: Column, value: UUID) -> int:
        return self.series.setdefault(value, len(self.series) + 1)

    def _standing(self, column: Column, value: str) -> str:
        found = STANDING.fullmatch(value)
        if found is None:
            return value
        whose, number, how, place = found.groups()
        at = self.ordinals["places"].get(int(place), 0)
        return f"{whose}{self.ordinals[OF[whose]].get(int(number), 0)}-{how}-{at}"

    def _json(self, column: Column, value: Said) -> Said:
        far = FAR_WITHIN.get((column.field.model._meta.label, column.name), ())
        return {name: one for name, one in value.items() if name not in far} if far else value

    def _date(self, column: Column, value: date) -> str:
        return value.isoformat()

    def _moment(self, column: Column, value: datetime) -> str:
        return value.isoformat()

    def _money(self, column: Column, value: Decimal) -> str:
        return f"{value:.{cast('models.DecimalField[Said, Said]', column.field).decimal_places}f}"


def read_plain(column: Column, said: Said) -> Said:
    """A value that refers to no other row, from what the archive says. Raises ValueError for what cannot be."""
    if said is None or column.kind in ("plain", "json"):
        return said
    if column.kind == "date":
        return date.fromisoformat(said)
    if column.kind == "moment":
        return datetime.fromisoformat(said)
    return Decimal(said) if column.kind == "money" else said
