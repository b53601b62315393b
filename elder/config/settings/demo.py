"""The demo garden: its own database, its own clock, one press to sign in, on the loopback address only."""

from elder.config.settings.local import *  # noqa: F403 - a settings file extends its base
from elder.config.settings.local import REQUESTS_SAID, VAR, database

DEMO = True
REQUESTS_SAID["level"] = "WARNING"  # the terminal is to show where the demo is
DATABASES = {"default": database(VAR / "demo.sqlite3")}
