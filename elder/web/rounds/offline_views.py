"""What lets the round work without a connection: the service worker, and the page for what was never opened."""

from __future__ import annotations

import hashlib
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.templatetags.static import static
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_GET, require_safe

# What the round's pages are made of, in the order of base.html; kept on the phone before it is needed.
SHELL: Final = (
    "elder/css/shared/all.css",
    "elder/js/shared/theme.js",
    "elder/js/shared/all.js",
    "elder/js/rounds/all.js",
    "elder/js/shared/alpine.js",
    "vendor/bitter/bitter-latin-wght-normal-plain.woff2",
    "vendor/atkinson/atkinson-hyperlegible-next-latin-wght-normal-plain.woff2",
    "elder/elder.svg",
)


@require_safe
@never_cache
def service_worker(request: HttpRequest) -> HttpResponse:
    """The worker, at the root so that it may serve every page; its cache is named by what it holds. Asked for its head
    alone it only says that there is a connection."""
    if request.method == "HEAD":
        return HttpResponse(content_type="text/javascript; charset=utf-8")
    shell = [static(name) for name in SHELL]
    version = hashlib.sha256(" ".join(shell).encode()).hexdigest()[:12]
    text = render_to_string("rounds/sw.js", {"shell": shell, "version": version})
    answer = HttpResponse(text, content_type="text/javascript; charset=utf-8")
    answer["Service-Worker-Allowed"] = "/"
    return answer


@require_GET
def out_of_reach(request: HttpRequest) -> HttpResponse:
    """Shown in place of a page that was never opened, while there is no connection."""
    return render(request, "rounds/out_of_reach.html")
