"""Make ready and serve Elder on the loopback address, on a free port, until Ctrl-C."""

from __future__ import annotations

import os
import socket
from argparse import ArgumentParser
from collections.abc import Callable, Iterable
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.core.wsgi import get_wsgi_application
from django.db import DatabaseError, connections
from gunicorn.app.base import BaseApplication

from elder.config.settled import settle
from elder.web.garden.door import first_code
from elder.web.garden.models import Person
from elder.web.logbook.files import database_file
from elder.web.logbook.trouble import backup_words, trouble_of

HOST = "127.0.0.1"
# A process for each core, for reckoning is the processor's work; threads let pages overlap.
GUNICORN = {
    "worker_class": "elder.web.ui.slow_senders.PatientWorker",
    "workers": os.cpu_count() or 1,
    "threads": 8,
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
        settle()
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

    def ready(self) -> bool:
        """The database, demo data and static files; whether nobody has an account yet."""
        call_command("migrate", verbosity=0)
        if settings.DEMO:
            call_command("load_demo")
        call_command("collectstatic", interactive=False, verbosity=0)
        return not Person.objects.exists()

    def handle(self, *args: object, **options: Any) -> None:
        """Make ready, print the address, serve."""
        try:
            first = self.ready() if options["ready"] else False
        except DatabaseError as error:
            trouble = trouble_of(error)
            if trouble is None:
                raise
            raise CommandError(
                f"{trouble.words.heading}. {trouble.words.remedy} {backup_words(database_file())}"
            ) from error
        port = free_port(options["port"])
        self.stdout.write(f"\n  Elder is at http://{HOST}:{port}/  (Ctrl-C stops it)\n\n")
        if first:
            self.stdout.write(f"  The first account asks for this code: {first_code()}\n\n")
        self.stdout.flush()
        connections.close_all()  # a connection must not be shared with the worker
        Served({**GUNICORN, "bind": f"{HOST}:{port}"}).run()
