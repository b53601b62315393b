"""The demo garden: its own database, its own clock, one press to sign in, on the loopback address only."""

from elder.config.settings.local import *  # noqa: F403 - a settings file extends its base
from elder.config.settings.local import VAR, database

DEMO = True
DATABASES = {"default": database(VAR / "demo.sqlite3")}
