"""What is kept of answers, and where."""

from __future__ import annotations

from django.apps import AppConfig
from django.conf import settings

from elder.engine.keeping import STORE


class LogbookConfig(AppConfig):
    """Before anything is asked, how much a process keeps is known, and whether it lends answers to others."""

    name = "elder.web.logbook"

    def ready(self) -> None:
        """A cache of their own processes need not lend from."""
        STORE.most_bytes = settings.KEPT_MB * 1024 * 1024
        if "PatientCache" in settings.CACHES["default"]["BACKEND"]:
            from elder.web.logbook.shared_cache import lend

            lend()
