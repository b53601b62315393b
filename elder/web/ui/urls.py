"""Addresses that belong to no room."""

from django.templatetags.static import static
from django.urls import path
from django.views.generic import RedirectView

from elder.web.ui.health import health
from elder.web.ui.install import manifest


class Favicon(RedirectView):
    """Browsers ask for it at the root whatever the page says."""

    def get_redirect_url(self, *args: object, **kwargs: object) -> str:
        """Where the sign is kept."""
        return static("elder/elder.svg")


urlpatterns = [
    path("health/", health, name="health"),
    path("favicon.ico", Favicon.as_view(), name="favicon"),
    path("elder.webmanifest", manifest, name="manifest"),
]
