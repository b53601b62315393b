"""The line between a phone and the server, as a relay of bytes that can be cut, mended and made to misbehave.

A browser's own emulation of being offline lets requests through that were on their way; a closed port does not.
"""

from __future__ import annotations

import socket
import threading
from contextlib import suppress
from typing import Final, Literal

from playwright.sync_api import Page

CHUNK: Final = 65_536
PATIENCE_S: Final = 10

# What is done to whatever is sent (POST): carried; never answered; greeted by somebody else's page; taken for too much,
# too often, or by a server that fails; carried, and its answer lost.
Mood = Literal["sound", "hangs", "greets", "413", "429", "500", "502", "deaf"]
GREETING: Final = b"<!doctype html><title>Welcome</title><p>Welcome to this network. Press here to go on."
ANSWERS: Final = {
    "greets": b"200 OK\r\nContent-Type: text/html",
    "413": b"413 Content Too Large\r\nContent-Type: text/html",
    "429": b"429 Too Many Requests\r\nRetry-After: 1\r\nContent-Type: text/html",
    "500": b"500 Internal Server Error\r\nContent-Type: text/html",
    "502": b"502 Bad Gateway\r\nContent-Type: text/html",
}


class Line:
    """A port of its own before a server's; `port` stays the same through cuts."""

    def __init__(self, host: str, port: int) -> None:
        self._server = (host, port)
        self._open: list[socket.socket] = []
        self._lock = threading.Lock()
        self._listener: socket.socket | None = None
        self.mood: Mood = "sound"
        self.port = 0
        self.mend()

    def mend(self) -> None:
        """Listen, on the same port as ever, and carry everything."""
        self.mood = "sound"
        if self._listener is not None:
            self._break_off()
            return
        listener = socket.create_server(("127.0.0.1", self.port), backlog=64)
        self.port = listener.getsockname()[1]
        self._listener = listener
        threading.Thread(target=self._accept, args=(listener,), daemon=True).start()

    def spoil(self, mood: Mood) -> None:
        """From here on do that to whatever is sent; pages are still brought."""
        self.mend()
        self.mood = mood

    def cut(self) -> None:
        """Nothing gets through from here on: the port is closed, and what was under way is broken off."""
        listener, self._listener = self._listener, None
        if listener is not None:
            with suppress(OSError):
                listener.shutdown(socket.SHUT_RDWR)
            listener.close()
        self._break_off()

    def _break_off(self) -> None:
        with self._lock:
            ends, self._open = self._open, []
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
            threading.Thread(target=self._carry, args=(phone, server), daemon=True).start()

    def _carry(self, phone: socket.socket, server: socket.socket) -> None:
        deaf = threading.Event()
        threading.Thread(target=_answer, args=(server, phone, deaf), daemon=True).start()
        with suppress(OSError):
            while data := phone.recv(CHUNK):
                if data.startswith(b"POST ") and self.mood != "sound":
                    if self.mood == "deaf":
                        deaf.set()
                    else:
                        _refuse(phone, data, self.mood)
                        break
                server.sendall(data)
        for end in (phone, server):
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)


def _answer(server: socket.socket, phone: socket.socket, deaf: threading.Event) -> None:
    """Carry the answers back, until one is to be lost."""
    with suppress(OSError):
        while data := server.recv(CHUNK):
            if deaf.is_set():
                break
            phone.sendall(data)
    for end in (server, phone):
        with suppress(OSError):
            end.shutdown(socket.SHUT_RDWR)


def _refuse(phone: socket.socket, data: bytes, mood: Mood) -> None:
    """Read what is sent to its end, and answer in the server's place, or not at all."""
    head, _, body = data.partition(b"\r\n\r\n")
    fields = (line.lower() for line in head.split(b"\r\n"))
    length = next((int(line.split(b":")[1]) for line in fields if line.startswith(b"content-length:")), 0)
    while len(body) < length and (more := phone.recv(CHUNK)):
        body += more
    if mood == "hangs":
        phone.recv(CHUNK)  # until whoever waits gives up
        return
    top = b"HTTP/1.1 " + ANSWERS[mood] + b"\r\nContent-Length: %d\r\nConnection: close\r\n\r\n" % len(GREETING)
    phone.sendall(top + GREETING)


def mend(line: Line, page: Page) -> None:
    """The line is there again, and the phone says so as it finds its network."""
    line.mend()
    page.evaluate("window.dispatchEvent(new Event('online'))")
