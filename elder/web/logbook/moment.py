"""Many reads of one moment, without keeping anybody from writing."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction


@contextmanager
def one_moment() -> Iterator[None]:
    """Whatever is read inside is the database of one moment. SQLite reads a snapshot in a transaction not begun for
    writing (https://www.sqlite.org/isolation.html); PostgreSQL in one of repeatable reads."""
    if connection.in_atomic_block:
        yield
        return
    before = getattr(connection, "transaction_mode", None)
    try:
        if connection.vendor == "sqlite":
            connection.ensure_connection()
            connection.transaction_mode = "DEFERRED"  # type: ignore[attr-defined]  # SQLite's alone
        with transaction.atomic():
            if connection.vendor == "postgresql":
                with connection.cursor() as cursor:
                    cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
            yield
    finally:
        if connection.vendor == "sqlite":
            connection.transaction_mode = before  # type: ignore[attr-defined]  # SQLite's alone
