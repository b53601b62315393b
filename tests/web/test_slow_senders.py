"""Whoever sends a byte now and then holds no thread; whoever sends at a line's own pace is waited for."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import suppress
from typing import Any

import pytest
from django.test import Client
from gunicorn.config import Config
from gunicorn.workers.gthread import TConn

from elder.web.ui import slow_senders
from elder.web.ui.slow_senders import PatientSocket, PatientWorker


@pytest.fixture
def line(monkeypatch: pytest.MonkeyPatch) -> Iterator[tuple[PatientSocket, socket.socket]]:
    """A server's end with four tenths of a second of patience, and a sender's."""
    monkeypatch.setattr(slow_senders, "PATIENCE_S", 0.4)
    ours, theirs = socket.socketpair()
    patient = PatientSocket(fileno=ours.detach())
    patient.begin()
    yield patient, theirs
    patient.close()
    theirs.close()


def until_given_up(patient: PatientSocket) -> Iterator[bytes]:
    with suppress(TimeoutError):
        while True:
            yield patient.recv(99)


def test_a_sender_that_stops_is_given_up(line: tuple[PatientSocket, socket.socket]) -> None:
    patient, sender = line
    sender.send(b"POST ")
    assert patient.recv(99) == b"POST "
    begun = time.monotonic()
    with pytest.raises(TimeoutError):
        patient.recv(99)
    assert 0.35 < time.monotonic() - begun < 2
    assert patient.gettimeout() is None, "an answer takes the time it takes"


def test_a_byte_now_and_then_is_not_enough(line: tuple[PatientSocket, socket.socket]) -> None:
    """Each wait is short; together they are not."""
    patient, sender = line

    def drip() -> None:
        for _ in range(30):
            time.sleep(0.05)
            try:
                sender.send(b"a")
            except OSError:
                return

    threading.Thread(target=drip, daemon=True).start()
    came = b"".join(until_given_up(patient))
    assert 4 <= len(came) <= 9, "eight of them in four tenths of a second"


def test_what_comes_buys_time_and_the_next_request_has_all_of_it(line: tuple[PatientSocket, socket.socket]) -> None:
    patient, sender = line
    patient.left_s = 0.1
    sender.send(bytes(400))  # at 2,000 bytes a second: two tenths more
    patient.recv(4096)
    assert patient.left_s == pytest.approx(0.3, abs=0.05)
    sender.send(bytes(60_000))
    patient.recv(65_536)
    assert patient.left_s == 0.4, "never more than the whole"
    patient.left_s = 0.0
    with pytest.raises(TimeoutError):
        patient.recv(1)
    patient.begin()
    sender.send(b"G")
    assert patient.recv(1) == b"G"


def test_the_worker_hands_such_a_connection_on(monkeypatch: pytest.MonkeyPatch) -> None:
    handed: list[Any] = []
    monkeypatch.setattr(slow_senders.ThreadWorker, "enqueue_req", lambda self, conn: handed.append(conn.sock))
    ours, theirs = socket.socketpair()
    conn = TConn(Config(), ours, ("127.0.0.1", 1), ("127.0.0.1", 2))
    worker = PatientWorker.__new__(PatientWorker)
    worker.enqueue_req(conn)
    first = handed[0]
    assert isinstance(first, PatientSocket)
    first.left_s = 0.1
    worker.enqueue_req(conn)
    assert handed[1] is first
    assert first.left_s == slow_senders.PATIENCE_S
    first.close()
    theirs.close()


def test_a_form_of_which_nothing_came_says_so(db: None) -> None:
    client = Client(enforce_csrf_checks=True)
    answer = client.post("/sign-in/", data=b"", content_type="application/x-www-form-urlencoded", CONTENT_LENGTH="500")
    assert answer.status_code == 408
    assert "Only part of it came" in answer.content.decode()
    form = {"content_type": "application/x-www-form-urlencoded", "headers": {"accept": "application/json"}}
    told = client.post("/sign-in/", data=b"", CONTENT_LENGTH="500", **form)
    assert (told.status_code, told.json()["said"]) == (408, "Only part of it came")
