"""Django's SQLite, but never made anew by looking for it, and let go when its file is no longer the one at its name.

A connection stays open between pages: a disk that fills up then stops writing alone, for the files that reading needs
beside the database are there already (https://www.sqlite.org/wal.html, section 6).
"""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import Any
from urllib.parse import quote

from django.db.backends.sqlite3 import base

from elder.web.logbook.files import same_file, sign_of


class DatabaseWrapper(base.DatabaseWrapper):
    """One thread's connection. Only ``migrate`` may make a database: a disk that is not mounted, or a folder that was
    moved, would otherwise give an empty garden that looks well."""

    may_begin = False
    opened: tuple[int, int] | None = None

    @property
    def file(self) -> Path | None:
        """Where the database lies; nowhere for one in memory."""
        name = str(self.settings_dict["NAME"])
        return None if self.is_in_memory_db() or name.startswith("file:") else Path(name)

    def get_connection_params(self) -> dict[str, Any]:
        """As Django has it, but for a file that must be there."""
        params: dict[str, Any] = super().get_connection_params()
        if self.file and not self.may_begin:
            params["database"] = f"file:{quote(str(self.file.absolute()))}?mode=rw"
        return params

    def get_new_connection(self, conn_params: dict[str, Any]) -> sqlite3.Connection:
        """Open it, and note which file it was."""
        connection: sqlite3.Connection = super().get_new_connection(conn_params)
        self.opened = sign_of(self.file) if self.file else None
        return connection

    def is_usable(self) -> bool:
        """Whether the file is still the one that was opened: one that was deleted or replaced goes on taking writes
        that nobody will ever find. Asked before the first query of each page (``CONN_HEALTH_CHECKS``)."""
        return super().is_usable() and (self.file is None or same_file(self.opened, self.file))
