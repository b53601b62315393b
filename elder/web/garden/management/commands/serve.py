"""Serve Elder on the loopback address, on a free port, until Ctrl-C."""

from __future__ import annotations

import os
import socket
import sys
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

HOST = "127.0.0.1"


def free_port(wanted: int) -> int:
    """The wanted port if it is free, else any that is."""
    for port in (wanted, 0):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((HOST, port))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise OSError("no port is free on the loopback address")


class Command(BaseCommand):
    """``manage.py serve``."""

    help = "Serve Elder on the loopback address, on a free port, until Ctrl-C."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The port to try first."""
        parser.add_argument("--port", type=int, default=8480)

    def handle(self, *args: Any, **options: Any) -> None:
        """Print the address and become the server."""
        port = free_port(options["port"])
        self.stdout.write(f"\n  Elder is at http://{HOST}:{port}/  (Ctrl-C stops it)\n\n")
        self.stdout.flush()
        command = [sys.executable, "-m", "gunicorn", "elder.config.wsgi", f"--bind={HOST}:{port}"]
        # One process keeps the engine's answers warm for everybody; threads let pages overlap.
        command += ["--worker-class=gthread", "--workers=1", "--threads=4", "--no-control-socket"]
        command += ["--log-level=warning", "--preload"]
        os.execv(sys.executable, command)  # noqa: S606 - our own interpreter and a fixed command
