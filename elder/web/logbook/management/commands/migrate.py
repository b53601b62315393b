"""``migrate``, which alone may make a database; and not where there was one."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.core.management.base import CommandError
from django.core.management.commands import migrate
from django.db import connections

from elder.web.logbook.files import is_remembered, lost, note_down, note_of
from elder.web.logbook.sqlite.base import DatabaseWrapper
from elder.web.logbook.trouble import Trouble, backup_words


class Command(migrate.Command):
    """Django's own, with the one database it may begin."""

    def execute(self, *args: Any, **options: Any) -> str | None:
        """Refuse where the database is lost; else migrate, and note that there is one. Django's checks, which come
        before all else, look into the database themselves."""
        connection = connections[options["database"]]
        file = connection.file if isinstance(connection, DatabaseWrapper) and is_remembered() else None
        if file and lost(file):
            raise CommandError(
                f"{Trouble.GONE.words.heading}: {file} is not there. {Trouble.GONE.words.remedy} {backup_words(file)}"
                f" To begin with an empty one after all, take {note_of(file).name} away too."
            )
        if isinstance(connection, DatabaseWrapper):
            connection.may_begin = True
        said: str | None = super().execute(*args, **options)
        if file and file.exists():
            note_down(file, date.today())  # noqa: DTZ011 - this machine's own day
        return said
