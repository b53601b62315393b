"""How long Elder waits for whoever sends: a connection that opens and then says nothing, or a byte now and then, would
else hold a thread for as long as it likes."""

from __future__ import annotations

import socket
import time
from typing import Any, Final

from gunicorn.workers.gthread import TConn, ThreadWorker

PATIENCE_S: Final = 10.0  # waited for one request in all, and a second more for
SLOWEST: Final = 2_000  # bytes that came: slower than that is no line a page can be used over


class PatientSocket(socket.socket):
    """A connection with so many seconds of waiting for each request, however they are shared out."""

    left_s = PATIENCE_S

    def begin(self) -> None:
        """A new request has all of them."""
        self.left_s = PATIENCE_S

    def recv(self, *args: Any) -> bytes:
        """As a socket does. Raises ``TimeoutError`` once the patience is spent."""
        asked = self.gettimeout()
        if self.left_s <= 0:
            raise TimeoutError("too slow to wait for")
        self.settimeout(self.left_s if asked is None else min(asked, self.left_s))
        begun = time.monotonic()
        try:
            came = super().recv(*args)
        finally:
            self.left_s -= time.monotonic() - begun
            self.settimeout(asked)  # answers take the time they take
        self.left_s = min(PATIENCE_S, self.left_s + len(came) / SLOWEST)
        return came


class PatientWorker(ThreadWorker):
    """gunicorn's threads over such connections. Named as ``--worker-class``."""

    def enqueue_req(self, conn: TConn) -> None:
        """gunicorn hands over a connection with a request on it, its first or a later one."""
        if not isinstance(conn.sock, PatientSocket):
            conn.sock = PatientSocket(fileno=conn.sock.detach())
        conn.sock.begin()
        super().enqueue_req(conn)
