"""Tests: a database in memory, plain static files, a fast password hasher."""

from elder.config.settings.base import *  # noqa: F403 - a settings file extends its base
from elder.config.settings.base import REQUESTS_SAID, SQLITE, VAR, env

SECRET_KEY = "for-tests-only"  # noqa: S105 - signs nothing that lasts
DATABASES = {
    "default": {
        **SQLITE,
        "NAME": VAR / "unused.sqlite3",
        # A file rather than memory: journeys serve from another thread.
        "TEST": {"NAME": VAR / env.str("TEST_DATABASE", default="test.sqlite3")},
    }
}
if SERVER := env.str("TEST_DATABASE_URL", default=""):  # `make test-postgres`: a server of its own, gone afterwards
    DATABASES = {"default": env.db_url_config(SERVER)}
VAR.mkdir(exist_ok=True)
REMEMBER_DATABASE = False
REQUESTS_SAID["level"] = "WARNING"
INCOMING = VAR / "test-incoming"
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
WHITENOISE_AUTOREFRESH = True
