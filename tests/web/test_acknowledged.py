"""What Elder said is written stays written: through kill -9, and when the same press comes many times at once."""

from __future__ import annotations

import json
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path
from threading import Barrier
from typing import Any
from uuid import uuid4

import pytest
from django.db import connection
from django.test import Client

from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from tests.factories import GardenFactory, PlaceFactory, WantFactory, member, take
from tests.web.acknowledging import HEARD
from tests.web.presses import TODAY, at

ROOT = Path(__file__).parents[2]
TOGETHER = 6


@pytest.fixture
def two_batches(transactional_db: None) -> list[Batch]:
    """Eleven and seven tomatoes of one garden, taken a week ago by the clock on the wall."""
    garden = GardenFactory()
    place = PlaceFactory(garden=garden)
    week_ago = date.today() - timedelta(days=7)  # noqa: DTZ011
    member(garden, "owner")
    return [take(WantFactory(garden=garden, rooting_place=place), on=week_ago, count=count) for count in (11, 7)]


def test_kills_lose_nothing_that_was_acknowledged(two_batches: list[Batch], tmp_path: Path, attack: int) -> None:
    """Twenty here, two hundred by ``make attack``."""
    if connection.vendor != "sqlite":
        pytest.skip("a server's writing is its own promise")
    kills = attack or 20
    file = tmp_path / "elder.sqlite3"
    with closing(sqlite3.connect(connection.settings_dict["NAME"])) as source, closing(sqlite3.connect(file)) as copy:
        source.backup(copy)
    command = [sys.executable, "-m", "tests.web.acknowledging", str(file), str(kills)]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    found = json.loads(done.stdout.splitlines()[-1])
    assert found["acknowledged"] >= kills * HEARD[0]
    assert (found["lost"], found["twice"], found["sound"]) == (0, 0, "ok")
    assert found["unheard"] <= kills, "at most the one that was on its way at each kill"
    assert found["waiting"] == [11, 7]


def at_once(work: Callable[[int], Any]) -> list[Any]:
    """The same done by several at the same moment, each over a connection of its own."""
    gate = Barrier(TOGETHER)

    def one(number: int) -> Any:
        gate.wait(timeout=20)
        try:
            return work(number)
        finally:
            connection.close()

    with ThreadPoolExecutor(TOGETHER) as pool:
        return list(pool.map(one, range(TOGETHER)))


@pytest.fixture
def hands(two_batches: list[Batch], monkeypatch: pytest.MonkeyPatch) -> list[Client]:
    """Six people at the bench of one garden."""
    monkeypatch.setattr(access, "today_in", lambda garden: TODAY)
    clients = [Client() for _ in range(TOGETHER)]
    for client in clients:
        person = member(two_batches[0].garden, "helper")
        client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    return clients


def test_one_press_that_comes_six_times_at_once_is_written_once(hands: list[Client], two_batches: list[Batch]) -> None:
    batch, key = two_batches[0], uuid4()
    note = {"on": TODAY.isoformat(), "note": "Two lean to the light.", "key": key}
    answers = at_once(lambda number: hands[number].post(at("note", batch.garden, batch.pk), note).status_code)
    assert answers == [302] * TOGETHER
    assert [entry.key for entry in batch.entries.filter(kind=Entry.Kind.NOTE)] == [key]


def test_one_deed_that_six_do_at_once_is_written_once(hands: list[Client], two_batches: list[Batch]) -> None:
    batch = two_batches[1]

    def press(number: int) -> int:
        data = {"deed": "water", "batch": [batch.pk], "key": uuid4()}
        return hands[number].post(at("round-done", batch.garden), data).status_code

    assert at_once(press) == [302] * TOGETHER
    assert batch.entries.filter(deed="water").count() == 1


def test_the_same_cutting_is_not_lost_six_times(hands: list[Client], two_batches: list[Batch]) -> None:
    """Each saw seven waiting, and each counts five gone: one is written, and the others are told."""
    batch = two_batches[1]
    seen = batch.entries.get().pk

    def lose(number: int) -> int:
        data = {"on": TODAY.isoformat(), "stage": "waiting", "lost": 5, "why": "unknown", "key": uuid4(), "seen": seen}
        return hands[number].post(at("round-look", batch.garden, batch.pk), data).status_code

    assert sorted(at_once(lose)) == [200] * (TOGETHER - 1) + [302]
    assert batch.entries.filter(kind=Entry.Kind.LOST).count() == 1
