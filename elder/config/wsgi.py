"""The entry point for gunicorn."""

import os

from django.core.wsgi import get_wsgi_application

from elder.config.settled import settle

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "elder.config.settings.production")
application = get_wsgi_application()
settle()
