"""The line between a phone and the server, as a relay of bytes that can be cut and mended. A browser's own emulation of
being offline lets requests through that were on their way; a closed port does not."""

from __future__ import annotations

import socket
import threading
from contextlib import suppress
from typing import Final

CHUNK: Final = 65_536
PATIENCE_S: Final = 10


def _pump(source: socket.socket, sink: socket.socket) -> None:
    """Carry bytes one way until either end is gone."""
    with suppress(OSError):
        while data := source.recv(CHUNK):
            sink.sendall(data)
    for end in (source, sink):
        with suppress(OSError):
            end.shutdown(socket.SHUT_RDWR)


class Line:
    """A port of its own before a server's; `port` stays the same through cuts."""

    def __init__(self, host: str, port: int) -> None:
        self._server = (host, port)
        self._open: list[socket.socket] = []
        self._lock = threading.Lock()
        self._listener: socket.socket | None = None
        self.port = 0
        self.mend()

    def mend(self) -> None:
        """Listen, on the same port as ever."""
        listener = socket.create_server(("127.0.0.1", self.port), backlog=64)
        self.port = listener.getsockname()[1]
        self._listener = listener
        threading.Thread(target=self._accept, args=(listener,), daemon=True).start()

    def cut(self) -> None:
        """Nothing gets through from here on: the port is closed, and what was under way is broken off."""
        with self._lock:
            listener, self._listener = self._listener, None
            ends, self._open = self._open, []
        if listener is not None:
            with suppress(OSError):
                listener.shutdown(socket.SHUT_RDWR)
            listener.close()
        for end in ends:
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()

    def _accept(self, listener: socket.socket) -> None:
        while True:
            try:
                phone, _ = listener.accept()
            except OSError:
                return
            try:
                server = socket.create_connection(self._server, timeout=PATIENCE_S)
            except OSError:
                phone.close()
                continue
            server.settimeout(None)
            with self._lock:
                if self._listener is not listener:
                    phone.close()
                    server.close()
                    return
                self._open += [phone, server]
            threading.Thread(target=_pump, args=(phone, server), daemon=True).start()
            threading.Thread(target=_pump, args=(server, phone), daemon=True).start()
