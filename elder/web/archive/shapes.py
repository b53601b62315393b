"""The published schema of the archive's tables, made from the models, and the shapes of what lies inside their JSON
columns. ``docs/archive.schema.json`` is this, written out; a test holds the two together."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Final, get_args

import fastjsonschema
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.db.models.fields import NOT_PROVIDED

from elder.engine.handbook.loading import OWN
from elder.engine.place.light import Shade
from elder.engine.shed.uses import MIX, PART, VESSEL
from elder.engine.year.moving import MoveWay
from elder.web.archive.columns import STANDING, Column, columns_of
from elder.web.archive.contents import FORM, NAMED, TABLES, Archived, DjangoField, Row, Said
from elder.web.say.shed import SMALL as SMALL_THINGS

Shape = Row
DAY: Final = r"^(19|20|21)[0-9]{2}-[01][0-9]-[0-3][0-9]$"
MOMENT: Final = DAY[:-1] + r"T[0-2][0-9]:[0-5][0-9]:[0-5][0-9](\.[0-9]{6})?\+00:00$"
MONEY: Final = r"^[0-9]{1,9}\.[0-9]{2}$"
OWN_PLANT: Final = rf"^({OWN}[1-9][0-9]*|[a-z][a-z0-9-]*)$"
MOST_ROWS: Final = 250_000
SMALL: Final = 32_767  # a small whole number, as PostgreSQL keeps it
LARGE: Final = 1e9  # no measure of a garden's is larger


def _listed(of: Shape, most: int, least: int = 0) -> Shape:
    return {"type": "array", "items": of, "minItems": least, "maxItems": most}


def _named(of: Shape, most: int = 60) -> Shape:
    """An object by keys of one's own."""
    return {"type": "object", "maxProperties": most, "propertyNames": {"maxLength": 60}, "additionalProperties": of}


def _object(required: tuple[str, ...] = (), **properties: Shape) -> Shape:
    return {"type": "object", "properties": properties, "required": list(required), "additionalProperties": False}


def _text(most: int) -> Shape:
    return {"type": "string", "maxLength": most}


def _number(least: float = -LARGE, most: float = LARGE) -> Shape:
    return {"type": "number", "minimum": least, "maximum": most}


def _whole(least: int = 0, most: int = SMALL) -> Shape:
    return {"type": "integer", "minimum": least, "maximum": most}


def _or_none(shape: Shape) -> Shape:
    return {"anyOf": [shape, {"type": "null"}]}


DATE: Final[Shape] = {"type": "string", "pattern": DAY}
SHARE: Final = _number(0, 1)
WORDS: Final = _named(_text(200))
MONTHS: Final = _listed(_number(-90, 70), 12, 12)
CHANCES: Final = _listed(SHARE, 600)
SOME_DAYS: Final = _listed(_or_none(DATE), 3)
LINE: Final = _object(
    ("start", "at", "expected"),
    start=DATE, at=_listed(_whole(-400, 4000), 400), expected=_listed(_number(0, SMALL), 400),
)  # fmt: skip
# What a batch was made under: see season/taking.
PLAN: Final = _object(
    ("target",),
    target=DATE, window=_or_none(_listed(DATE, 2, 2)), taken_on=DATE, count=_whole(), advised_count=_whole(),
    recommended=DATE, rooted=SOME_DAYS, ready=SOME_DAYS, harvest=SOME_DAYS, wanted=_whole(), confidence=SHARE,
    accepted_risk=SHARE, take=_listed(_number(0), 2, 2), stuck_in=_text(60), refused=_text(60),
    topped_up={"type": "boolean"},
    forecast=_object(
        counts=CHANCES, handbook=CHANCES, by={"enum": ["handbook", "mine", "both"]},
        corrected=_number(-10, 10), line=LINE,
    ),
)  # fmt: skip
# The light of a place: see read/light.
CLOCK: Final[Shape] = {"type": "string", "pattern": r"^([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?$"}
BEFORE: Final = _object(
    ("towards", "height", "away", "wide"),
    towards=_number(0, 360), height=_number(0, 500), away=_number(0.01, 1000), wide=_number(0, 1000),
    leaf=_or_none(_listed(_whole(0, 366), 2, 2)),
)  # fmt: skip
LIGHT: Final = _object(
    said={"enum": list(get_args(Shade))}, facing=_or_none(_number(0, 360)), half_angle=_number(1, 180),
    overhang=_number(0, 90), skyline=_listed(_listed(_number(-360, 360), 2, 2), 400), before=_listed(BEFORE, 40),
    cloth=SHARE, lamps=_or_none(_listed(CLOCK, 2, 2)),
)  # fmt: skip
# Containers and recipes of one's own: see read/kit.
KIT: Final = _object(
    own=_listed(
        _object(
            ("key", "kind", "one", "many", "shape"),
            key=_text(60), kind=_text(20), one=_text(80), many=_text(80), said=_text(120), litres=_number(0, 1000),
            cells=_whole(), fill=SHARE, takes=_named(_number(0, 1000)), empty_kg=_number(0, 1000),
            foot=_or_none(_listed(_number(0, 1000), 2, 2)), spacing=_number(0, 1000), gone={"type": "boolean"},
            shape={**_named(_listed(_number(0, 1000), 4, 1), 1), "minProperties": 1},
        ),
        200,
    ),
    usual=_named(_text(60), 200), made=_whole(),
    mixes=_listed(
        _object(
            ("key", "name", "parts", "wet_kg"),
            key=_text(60), name=_text(80), parts=_named(_number(0, 1000)), wet_kg=_number(0, 100),
        ),
        200,
    ),
)  # fmt: skip
ANCESTORS: Final = _listed(
    _object(
        ("name",), name=_text(80), since=DATE, ended=DATE, cut_on=DATE, taken=_whole(),
    ),
    200,
)  # fmt: skip
SHAPES: Final[dict[tuple[str, str], Shape]] = {
    ("garden", "t_min"): MONTHS,
    ("garden", "t_max"): MONTHS,
    ("garden", "water_days"): _listed(_whole(0, 6), 7),
    ("garden", "kit"): KIT,
    ("places", "capacity"): _named(_whole(0, 10_000)),
    ("places", "light"): LIGHT,
    ("heritages", "line"): ANCESTORS,
    ("heritages", "told"): _named({"type": ["string", "integer", "null"], "maxLength": 200, "maximum": SMALL}),
    ("batches", "plan"): PLAN,
    ("batches", "condition"): _listed(_text(40), 20),
    ("batches", "treatment"): WORDS,
    ("moves", "asks"): _named(WORDS),
}
THING: Final[Shape] = {
    "type": "string",
    "maxLength": 60,
    "pattern": f"^(({PART}|{MIX}|{VESSEL}).+|{'|'.join(SMALL_THINGS)})$",
}
# Ends that a form holds and the model's field does not say.
ENDS: Final[dict[tuple[str, str], Shape]] = {
    ("garden", "accepted_risk"): _number(0.005, 0.6),
    ("garden", "elevation_m"): _number(-500, 9000),
    ("wants", "confidence"): _number(0.3, 0.995),
    ("lines", "confidence"): _number(0.3, 0.995),
    ("lines", "keep_uncut"): _number(0, 200),
    ("entries", "count"): _whole(0, 5000),
    ("batches", "label"): {"type": "string", "pattern": "^(([HJKMPRTW][AEU]){3,8})$"},
    ("supplies", "what"): THING,
    ("shed_entries", "what"): THING,
    ("moved_plants", "way"): {"enum": ["", *(way.value for way in MoveWay)]},
    ("pots", "container"): _text(60),
    ("records", "counted_from"): _whole(1800, 2200),
    ("wintered", "winter"): _whole(1900, 2199),
    **{("garden", f"{name}"): _or_none(_whole(0, 366)) for name in (
        "last_frost_mean", "last_frost_late", "first_frost_mean", "first_frost_early")},
    **{("places", name): _number(-40, 60) for name in ("day_c", "night_c", "lift_day_c", "lift_night_c")},
    **{("places", name): _or_none(_number(*ends)) for name, ends in (
        ("floor_c", (-40, 60)), ("long_cm", (1, 100_000)), ("wide_cm", (1, 100_000)))},
}  # fmt: skip


def schema() -> Shape:
    """The whole schema: a table's rows under its name, and the manifest's."""
    tables = {table.name: _listed(row_shape(table), table.most) for table in TABLES}
    return {
        "$schema": "http://json-schema.org/draft-07/schema#",
        "title": f"{NAMED} {FORM}",
        "definitions": {"manifest": MANIFEST, **tables},
    }


def row_shape(table: Archived) -> Shape:
    """The shape of a row. What a newer form has more has a value to begin with, and may be missing."""
    columns = columns_of(table)
    properties = {"n": _whole(1, MOST_ROWS), **{column.name: _shape(table, column) for column in columns}}
    return _object(("n", *(column.name for column in columns if must_be_there(column))), **properties)


def must_be_there(column: Column) -> bool:
    """Whether a row without it cannot be read."""
    if column.kind == "refs" or column.field.null:
        return False
    return column.field.default is NOT_PROVIDED and not (column.field.blank and column.kind == "plain")


def _shape(table: Archived, column: Column) -> Shape:
    known = (table.name, column.name)
    if known in ENDS:
        return ENDS[known]
    if column.kind == "refs":
        return _listed(_whole(1, MOST_ROWS), 1000)
    shape = SHAPES[known] if column.kind == "json" else _scalar(column)
    return _or_none(shape) if column.field.null else shape


def _scalar(column: Column) -> Shape:
    by_kind: dict[str, Shape] = {
        "ref": _whole(1, MOST_ROWS),
        "series": _whole(1, MOST_ROWS),
        "date": DATE,
        "moment": {"type": "string", "pattern": MOMENT},
        "money": {"type": "string", "pattern": MONEY},
        "plant": {"type": "string", "maxLength": 40, "pattern": OWN_PLANT},
        "standing": {"type": "string", "maxLength": 50, "pattern": f"^{STANDING.pattern}$"},
    }
    return by_kind.get(column.kind) or _plain(column.field)


def _plain(one: DjangoField) -> Shape:
    if one.choices:
        values = [value for value, _ in one.flatchoices]
        return {"enum": ["", *values] if one.blank and "" not in values else values}
    if isinstance(one, models.BooleanField):
        return {"type": "boolean"}
    if isinstance(one, (models.CharField, models.TextField)):
        return _text(one.max_length or 2000)
    least, most = _ends(one)
    if isinstance(one, models.FloatField):
        return _number(-LARGE if least is None else least, LARGE if most is None else most)
    lowest = 0 if one.get_internal_type().startswith("Positive") else -SMALL
    return _whole(lowest if least is None else int(least), SMALL if most is None else int(most))


def _ends(one: DjangoField) -> tuple[float | None, float | None]:
    """The ends a field's own validators hold; not those of the database's type, which differ between databases."""
    own = one._validators  # type: ignore[attr-defined]  # those it was given, as Django keeps them
    least = [check.limit_value for check in own if isinstance(check, MinValueValidator)]
    most = [check.limit_value for check in own if isinstance(check, MaxValueValidator)]
    return max(least, default=None), min(most, default=None)


MANIFEST: Final = _object(
    ("form", "name", "made_on", "counts"),
    form={"type": "string", "pattern": f"^{NAMED} [1-9][0-9]*$"}, name=_text(80), made_on=DATE,
    counts=_named(_whole(0, MOST_ROWS), 100), not_in_it=_named(_text(200), 100),
)  # fmt: skip


@lru_cache(maxsize=64)
def fits(name: str) -> Said:
    """What looks a row of a table over, or the manifest: raises ``fastjsonschema.JsonSchemaValueException``."""
    shape = MANIFEST if name == "manifest" else next(row_shape(table) for table in TABLES if table.name == name)
    return fastjsonschema.compile({"$schema": "http://json-schema.org/draft-07/schema#", **shape}, use_default=False)


def written() -> str:
    """The schema as it is published."""
    return json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"
