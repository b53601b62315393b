"""Make ready and serve Elder on the loopback address, on a free port, until Ctrl-C."""

from __future__ import annotations

import socket
from argparse import ArgumentParser
from collections.abc import Callable, Iterable
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.core.wsgi import get_wsgi_application
from django.db import connections
from gunicorn.app.base import BaseApplication

HOST = "127.0.0.1"
# One process keeps the engine's answers warm for everybody; threads let pages overlap.
GUNICORN = {
    "worker_class": "gthread",
    "workers": 1,
    "threads": 4,
    "control_socket_disable": True,
    "loglevel": "warning",
}


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


class Served(BaseApplication):
    """gunicorn in this very process: what is imported already need not be imported again."""

    def __init__(self, options: dict[str, object]) -> None:
        self.options, self.application = options, get_wsgi_application()
        super().__init__()

    def load_config(self) -> None:
        """gunicorn asks for its settings."""
        for name, value in self.options.items():
            self.cfg.set(name, value)

    def load(self) -> Callable[..., Iterable[bytes]]:
        """gunicorn asks for the application."""
        return self.application


class Command(BaseCommand):
    """``manage.py serve``."""

    help = "Make ready (--ready) and serve Elder on the loopback address, on a free port, until Ctrl-C."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The port to try first, and whether to make ready."""
        parser.add_argument("--port", type=int, default=8480)
        parser.add_argument("--ready", action="store_true", help="database, static files and demo data first")

    def handle(self, *args: object, **options: Any) -> None:
        """Make ready, print the address, serve."""
        if options["ready"]:
            call_command("migrate", verbosity=0)
            if settings.DEMO:
                call_command("load_demo")
            call_command("collectstatic", interactive=False, verbosity=0)
        port = free_port(options["port"])
        self.stdout.write(f"\n  Elder is at http://{HOST}:{port}/  (Ctrl-C stops it)\n\n")
        self.stdout.flush()
        connections.close_all()  # a connection must not be shared with the worker
        Served({**GUNICORN, "bind": f"{HOST}:{port}"}).run()
