"""Another SQLite file read as if it were the database: a backup, before it is trusted or put in its place."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path
from typing import Final

from django.db import DEFAULT_DB_ALIAS, connections
from django.db.utils import load_backend

# Where the moment of the newest line that people wrote stands, by table.
WRITTEN_AT: Final = {
    "batches_entry": "made_at", "season_want": "made_at", "shed_shedentry": "made_at", "stock_stocklook": "made_at",
    "garden_person": "last_login",
}  # fmt: skip


@contextmanager
def read_from(path: Path) -> Iterator[None]:
    """Whatever is asked of the database inside, in this thread, is asked of that file. For reading only."""
    ours = connections[DEFAULT_DB_ALIAS]
    settings = {**ours.settings_dict, "NAME": str(path)}
    other = load_backend(settings["ENGINE"]).DatabaseWrapper(settings, DEFAULT_DB_ALIAS)
    connections[DEFAULT_DB_ALIAS] = other
    try:
        yield
    finally:
        other.close()
        connections[DEFAULT_DB_ALIAS] = ours


def fault_in(path: Path) -> str:
    """What is wrong with a file as a database of Elder's; nothing where it is sound."""
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as opened:
            said = str(opened.execute("PRAGMA integrity_check").fetchone()[0])
            if said != "ok":
                return said
            opened.execute("SELECT count(*) FROM garden_garden").fetchone()
    except sqlite3.Error as error:
        return str(error)
    return ""


def newest_line(path: Path) -> datetime | None:
    """The moment of the newest thing people did that a database holds; ``None`` where it cannot be read, or holds
    nothing."""
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as opened:
            found = [_newest(opened, table, column) for table, column in WRITTEN_AT.items()]
    except sqlite3.Error:
        return None
    return max((datetime.fromisoformat(one) for one in found if one), default=None)


def _newest(opened: sqlite3.Connection, table: str, column: str) -> str | None:
    """The newest moment in a column, as the table has it; ``None`` where an older Elder had no such column."""
    columns = {row[1] for row in opened.execute(f"PRAGMA table_info({table})")}
    if column not in columns:
        return None
    newest: str | None = opened.execute(f"SELECT max({column}) FROM {table}").fetchone()[0]  # noqa: S608 - ours alone
    return newest
