"""The Plants room."""

from __future__ import annotations

from importlib import import_module

from django.apps import AppConfig


class PlantsConfig(AppConfig):
    """Before anything is asked of a plant, where households keep their own is known."""

    name = "elder.web.plants"

    def ready(self) -> None:
        """The texts of households' own plants are read from here on."""
        import_module("elder.web.read.handbook")
