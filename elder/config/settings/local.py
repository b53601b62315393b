"""Elder on one's own machine, on the loopback address: `make run`."""

import secrets

from elder.config.settings.base import *  # noqa: F403 - a settings file extends its base
from elder.config.settings.base import VAR, database, env


def kept_secret(name: str = "secret-key") -> str:
    """A secret made on the first run and kept beside the database, readable by its owner alone."""
    VAR.mkdir(exist_ok=True)
    path = VAR / name
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(48))
    return path.read_text()


SECRET_KEY = env.str("SECRET_KEY", default="") or kept_secret()
DATABASES = {"default": database(VAR / "elder.sqlite3")}
