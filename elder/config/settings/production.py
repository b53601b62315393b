"""Elder behind a web server with TLS. SECRET_KEY and ALLOWED_HOSTS must be set; nothing is guessed."""

from elder.config.settings.base import *  # noqa: F403 - a settings file extends its base
from elder.config.settings.base import VAR, database, env

SECRET_KEY = env.str("SECRET_KEY")
ALLOWED_HOSTS = env.list("ALLOWED_HOSTS")
DATABASES = {"default": database(VAR / "elder.sqlite3")}

SECURE_REDIRECT_EXEMPT = [r"^health/$"]  # whatever watches Elder on its own machine asks without TLS
SECURE_SSL_REDIRECT = env.bool("SECURE_SSL_REDIRECT", default=True)
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if env.bool("BEHIND_PROXY", default=False) else None
# Only when asked for: a name once promised to be secure for a year, with all beneath it, cannot be taken back.
SECURE_HSTS_SECONDS = env.int("SECURE_HSTS_SECONDS", default=0)
SECURE_HSTS_INCLUDE_SUBDOMAINS = env.bool("SECURE_HSTS_INCLUDE_SUBDOMAINS", default=False)
SECURE_HSTS_PRELOAD = env.bool("SECURE_HSTS_PRELOAD", default=False)
SILENCED_SYSTEM_CHECKS = ["security.W004", "security.W005", "security.W021"]  # those three, for that reason
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
