"""Whether Elder can do its work, for whatever watches it: asked often, so it touches little and needs no session."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Final

from django.db import DatabaseError, connection
from django.http import HttpRequest, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from elder.web.logbook.files import database_file
from elder.web.logbook.trouble import Trouble, trouble_of, without_room

WAITS_S: Final = 2.0  # for another's writing to end; longer is a fault, not a queue (assumed)


@never_cache
@require_safe
def health(request: HttpRequest) -> JsonResponse:
    """200 where the database can be read and written; 503 and what is the matter where not."""
    trouble = what_is_wrong(database_file())
    if trouble is None:
        return JsonResponse({"ok": True})
    return JsonResponse({"ok": False, "said": trouble.words.heading}, status=503)


def what_is_wrong(path: Path | None) -> Trouble | None:
    """What keeps the database from being written; nothing where all is well."""
    try:
        if path is None:
            return None if _takes_writes() else Trouble.READ_ONLY
        if without_room(path):
            return Trouble.FULL
        with closing(
            sqlite3.connect(f"file:{path}?mode=rw", uri=True, timeout=WAITS_S, isolation_level=None)
        ) as opened:
            opened.execute("SELECT 1 FROM django_migrations LIMIT 1").fetchone()
            opened.execute("BEGIN IMMEDIATE")
            opened.execute("ROLLBACK")
    except (sqlite3.Error, DatabaseError) as error:
        return trouble_of(error) or Trouble.AWAY
    return None


def _takes_writes() -> bool:
    """Whether a database that is a server would be written: not one that stands by, nor one set to be read only."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
        if connection.vendor != "postgresql":
            return True
        cursor.execute("SELECT pg_is_in_recovery() OR current_setting('default_transaction_read_only')::bool")
        return not cursor.fetchone()[0]
