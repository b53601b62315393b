"""``docs/archive.schema.json``, written from the models: ``scripts/archive_schema.py``."""

from __future__ import annotations

import os
from pathlib import Path

import django

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "elder.config.settings.test")
    django.setup()
    from elder.web.archive.shapes import written

    (Path(__file__).parents[1] / "docs" / "archive.schema.json").write_text(written())
