"""A backup made while people press, put in place, is whole: everything acknowledged before it was begun is in it."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import closing
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

import pytest
from django.db import connection, connections
from django.test import Client

from elder.engine.batch.history import retold
from elder.web.archive.backups import make_backup
from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.logbook.files import put_in_place
from elder.web.logbook.other import fault_in, read_from
from elder.web.logbook.sqlite.base import DatabaseWrapper
from elder.web.read.histories import entries_of
from tests.factories import GardenFactory, PlaceFactory, WantFactory, member, take
from tests.web.presses import TODAY, at

PRESSING = 2


@pytest.fixture
def garden(transactional_db: None, monkeypatch: pytest.MonkeyPatch) -> Any:
    if connection.vendor != "sqlite":
        pytest.skip("a server's backups are its own tools'")
    monkeypatch.setattr(access, "today_in", lambda garden: TODAY)
    row = GardenFactory()
    place = PlaceFactory(garden=row)
    for _ in range(PRESSING):
        take(WantFactory(garden=row, rooting_place=place), on=date(2027, 3, 6))
    return row


@pytest.fixture
def file(garden: Any, tmp_path: Path) -> Iterator[Path]:
    """The database in a folder of its own, as a serving process opens it."""
    before, file = connections["default"], tmp_path / "elder.sqlite3"
    before.close()
    with closing(sqlite3.connect(before.settings_dict["NAME"])) as source, closing(sqlite3.connect(file)) as copy:
        source.backup(copy)
    connections["default"] = DatabaseWrapper({**before.settings_dict, "NAME": file}, "default")
    yield file
    connections["default"].close()
    connections["default"] = before


class Pressing(threading.Thread):
    """Somebody who writes notes until told to stop, and keeps the key of each that was acknowledged."""

    def __init__(self, client: Client, batch: Batch, file: Path) -> None:
        super().__init__()
        self._client, self._batch, self._file = client, batch, file
        self.keys: list[UUID] = []
        self.stop = threading.Event()

    def run(self) -> None:
        settings = {**connections["default"].settings_dict, "NAME": self._file}
        connections["default"] = DatabaseWrapper(settings, "default")
        while not self.stop.is_set():
            key = uuid4()
            note = {"on": TODAY.isoformat(), "note": "One more", "key": str(key)}
            if self._client.post(at("note", self._batch.garden, self._batch.pk), note).status_code == 302:
                self.keys.append(key)
        connections["default"].close()


def test_what_was_acknowledged_before_a_backup_is_in_it(garden: Any, file: Path, attack: int) -> None:
    clients = [Client() for _ in range(PRESSING)]
    for client in clients:
        client.force_login(member(garden, "helper"), backend="django.contrib.auth.backends.ModelBackend")
    pressing = [Pressing(client, batch, file) for client, batch in zip(clients, garden.batches.all(), strict=True)]
    for one in pressing:
        one.start()
    try:
        drills = [_drill(file, pressing, i) for i in range(attack or 2)]
    finally:
        for one in pressing:
            one.stop.set()
        for one in pressing:
            one.join(timeout=30)
    assert drills[-1] > drills[0], "they pressed on meanwhile"
    # And put in its place: what was written since is gone, and the rest is there.
    backup = sorted((file.parent / "backups").iterdir())[-1]
    connection.close()
    aside = put_in_place(backup, file, datetime(2027, 3, 20, 12))  # noqa: DTZ001 - names a file
    assert aside is not None
    assert Entry.objects.filter(kind="note").count() >= drills[-1]
    with read_from(aside):
        assert Entry.objects.filter(kind="note").count() == sum(len(one.keys) for one in pressing)


def _drill(file: Path, pressing: list[Pressing], number: int) -> int:
    """Back up, and count what was acknowledged before it was begun against what is in it."""
    while any(len(one.keys) <= number for one in pressing):
        assert all(one.is_alive() for one in pressing)
    told = {key for one in pressing for key in list(one.keys)}
    made = make_backup(file, datetime(2027, 3, 20) + timedelta(seconds=number))  # noqa: DTZ001 - names a file
    assert made.garden == "Harrow Stair"
    assert fault_in(made.path) == ""
    with read_from(made.path):
        assert told <= set(Entry.objects.values_list("key", flat=True))
        waiting = [retold(entries_of(batch.entries.all())).count("waiting") for batch in Batch.objects.all()]
    assert waiting == [11] * PRESSING
    return len(told)
