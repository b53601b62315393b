"""Each garden's stamp, which the database itself changes with whatever is written of the garden.

What is kept of a garden holds as long as its stamp does. Were the stamp given by those who write, one of them would
forget it one day; so triggers give it, on each table whose rows belong to a garden, whoever writes and however: a
press, a file that comes in, a command, a statement typed by hand. They are taken away before tables are changed (SQLite
remakes a table under another name, and would fail over a trigger that names the old one) and made anew after.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import pairwise
from typing import Final

from django.apps import apps
from django.db import connections
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models import ForeignKey, Model

from elder.web.garden.models import Garden, Household

EVENTS: Final = ("INSERT", "UPDATE", "DELETE")
NAMED: Final = "stamps"  # with what every trigger's name begins
# Written while a garden is only looked at; nothing that is kept is made of them.
LEFT_OUT: Final = frozenset({"rounds.ToldEvent"})
ANOTHER: Final = {"sqlite": "lower(hex(randomblob(16)))", "postgresql": "gen_random_uuid()"}

DEEPEST: Final = 4  # triggers that set off one another: a line, its garden, the garden after that, and no further

# How a row leads to its garden: column by column, each with the table it points into.
Way = tuple[tuple[str, str], ...]


def ways_to_gardens() -> dict[type[Model], tuple[Way, ...]]:
    """Of each model whose rows belong to a garden, the shortest ways from a row to its garden: one, or where it belongs
    to two gardens, as a move of house does, two."""
    found: dict[type[Model], tuple[Way, ...]] = {Garden: ((),)}
    left = [one for one in apps.get_models(include_auto_created=True) if one._meta.label not in LEFT_OUT]
    while True:
        step = {model: ways for model in left if model not in found and (ways := tuple(_onward(model, found)))}
        if not step:
            return {model: ways for model, ways in found.items() if model is not Garden}
        found |= step


def _onward(model: type[Model], found: Mapping[type[Model], tuple[Way, ...]]) -> Iterator[Way]:
    """The ways from a model by one column to what is on its way already."""
    into = [one for one in model._meta.concrete_fields if isinstance(one, ForeignKey) and one.related_model in found]
    filled = [one for one in into if one.related_model is Garden or not one.null]  # an entry's batch, before its place
    for field in filled or into:
        other = field.related_model
        yield from (((field.column, other._meta.db_table), *way) for way in found[other])


def _gardens(way: Way, keys: str) -> str:
    """A query for the gardens that rows lead to. ``keys``: a query for the first column of them."""
    for (_, table), (column, _) in pairwise(way):
        keys = f'SELECT "{column}" FROM "{table}" WHERE id IN ({keys})'
    return keys


def drop_stamps(using: str = "default") -> None:
    """Take every trigger away."""
    connection = connections[using]
    with connection.cursor() as cursor:
        if connection.vendor == "sqlite":
            cursor.execute(f"SELECT name FROM sqlite_master WHERE type = 'trigger' AND name LIKE '{NAMED}_%'")
            for (name,) in cursor.fetchall():
                cursor.execute(f'DROP TRIGGER IF EXISTS "{name}"')
        else:
            cursor.execute(f"DROP FUNCTION IF EXISTS {NAMED}_rows() CASCADE")
            cursor.execute(f"DROP FUNCTION IF EXISTS {NAMED}_garden() CASCADE")


def make_stamps(using: str = "default") -> None:
    """Make the triggers, on the tables that there are: before the last migration some are not there yet."""
    connection = connections[using]
    drop_stamps(using)
    with connection.cursor() as cursor:
        there = set(connection.introspection.table_names(cursor))
        if Garden._meta.db_table in there and _has_stamps(connection):
            for statement in _postgresql(there) if connection.vendor == "postgresql" else _sqlite(there):
                cursor.execute(statement)


def _has_stamps(connection: BaseDatabaseWrapper) -> bool:
    with connection.cursor() as cursor:
        columns = connection.introspection.get_table_description(cursor, Garden._meta.db_table)
    return any(column.name == "stamp" for column in columns)


def _watched(there: set[str]) -> Iterator[tuple[str, tuple[Way, ...]]]:
    for model, ways in ways_to_gardens().items():
        if {model._meta.db_table, *(table for way in ways for _, table in way)} <= there:
            yield model._meta.db_table, ways


def _sqlite(there: set[str]) -> Iterator[str]:
    """Row by row, which is all that SQLite knows: an update by key of one short row."""
    garden, another = Garden._meta.db_table, ANOTHER["sqlite"]
    for table, ways in _watched(there):
        for event in EVENTS:
            rows = ["NEW"] if event == "INSERT" else ["OLD"] if event == "DELETE" else ["NEW", "OLD"]
            found = (_gardens(way, ", ".join(f'{row}."{way[0][0]}"' for row in rows)) for way in ways)
            change = "".join(f" UPDATE {garden} SET stamp = {another} WHERE id IN ({which});" for which in found)
            yield f'CREATE TRIGGER "{NAMED}_{table}_{event}" AFTER {event} ON "{table}" BEGIN{change} END'
    # Of a garden's own row always: it may be written back whole, with the stamp it was read with. And of the garden its
    # people moved to, whose record goes on from it.
    yield (
        f'CREATE TRIGGER "{NAMED}_{garden}" AFTER UPDATE ON {garden}'
        f" BEGIN UPDATE {garden} SET stamp = {another} WHERE id = NEW.id OR came_from_id = NEW.id; END"
    )
    house = Household._meta.db_table
    yield (
        f'CREATE TRIGGER "{NAMED}_{house}" AFTER UPDATE ON {house}'
        f" BEGIN UPDATE {garden} SET stamp = {another} WHERE household_id = NEW.id; END"
    )


def _postgresql(there: set[str]) -> Iterator[str]:
    """Once a statement, however many rows it wrote."""
    garden, house = Garden._meta.db_table, Household._meta.db_table
    yield (
        f"CREATE FUNCTION {NAMED}_rows() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN"
        f" EXECUTE 'UPDATE {garden} SET stamp = {ANOTHER['postgresql']} WHERE id IN (' || TG_ARGV[0] || ')';"
        " RETURN NULL; END $$"
    )
    yield (
        f"CREATE FUNCTION {NAMED}_garden() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN"
        f" NEW.stamp := {ANOTHER['postgresql']}; RETURN NEW; END $$"
    )
    yield (f"CREATE TRIGGER {NAMED}_{garden} BEFORE UPDATE ON {garden} FOR EACH ROW EXECUTE FUNCTION {NAMED}_garden()")
    for table, ways in _watched(there):
        for event in EVENTS:
            known = {"INSERT": ("new",), "DELETE": ("old",), "UPDATE": ("old", "new")}[event]
            lent = " ".join(f"{one.upper()} TABLE AS {one}_rows" for one in known)
            which = " UNION ".join(
                _gardens(way, " UNION ".join(f'SELECT "{way[0][0]}" FROM {one}_rows' for one in known)) for way in ways
            )
            yield _on_statement(f"{table}_{event.lower()}", f"AFTER {event} ON {table} REFERENCING {lent}", which)
    follow = f"SELECT id FROM {garden} WHERE came_from_id IN (SELECT id FROM new_rows)"
    yield _on_statement("followers", f"AFTER UPDATE ON {garden} REFERENCING NEW TABLE AS new_rows", follow, DEEPEST)
    of_house = f"SELECT id FROM {garden} WHERE household_id IN (SELECT id FROM new_rows)"
    yield _on_statement(house, f"AFTER UPDATE ON {house} REFERENCING NEW TABLE AS new_rows", of_house)


def _on_statement(name: str, when: str, which: str, depth: int = 0) -> str:
    within = f" WHEN (pg_trigger_depth() < {depth})" if depth else ""
    return f"CREATE TRIGGER {NAMED}_{name} {when} FOR EACH STATEMENT{within} EXECUTE FUNCTION {NAMED}_rows('{which}')"
