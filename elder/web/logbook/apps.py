"""What is kept of answers, and where."""

from __future__ import annotations

from django.apps import AppConfig, apps
from django.conf import settings
from django.db.models.signals import post_migrate, pre_migrate

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
        garden = apps.get_app_config("garden")  # once a migration; an app without tables of its own is not told of any
        pre_migrate.connect(_before_migration, sender=garden)
        post_migrate.connect(_after_migration, sender=garden)


def _before_migration(using: str, **_: object) -> None:
    from elder.web.logbook.stamps import drop_stamps

    drop_stamps(using)


def _after_migration(using: str, **_: object) -> None:
    from elder.web.logbook.stamps import make_stamps

    make_stamps(using)
