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
    "vendor/bootstrap/bootstrap.min.css",
    "elder/css/shared/tokens.css",
    "elder/css/shared/elements.css",
    "elder/css/shared/frame.css",
    "elder/css/shared/rail.css",
    "elder/css/shared/drawings.css",
    "elder/css/shared/labels.css",
    "elder/css/shared/hands.css",
    "elder/css/rooms/season.css",
    "elder/css/rooms/rounds.css",
    "elder/css/rooms/cut.css",
    "elder/css/rooms/shed.css",
    "elder/css/rooms/places.css",
    "elder/css/rooms/record.css",
    "elder/css/rooms/year.css",
    "elder/css/rooms/passing.css",
    "elder/css/rooms/moving.css",
    "elder/css/rooms/garden.css",
    "elder/js/shared/theme.js",
    "elder/js/shared/whose.js",
    "elder/js/shared/drafts.js",
    "elder/js/shared/steppers.js",
    "elder/js/shared/keys.js",
    "elder/js/shared/asking.js",
    "elder/js/season/answer.js",
    "elder/js/season/whatif.js",
    "elder/js/cut/windfall.js",
    "elder/js/cut/sheet.js",
    "elder/js/cut/layout.js",
    "elder/js/shed/answers.js",
    "elder/js/places/sky.js",
    "elder/js/places/walk.js",
    "elder/js/rounds/findings.js",
    "elder/js/rounds/signs.js",
    "elder/js/rounds/presses.js",
    "elder/js/rounds/sending.js",
    "elder/js/rounds/waiting.js",
    "elder/js/rounds/queue.js",
    "elder/js/rounds/reach.js",
    "elder/js/rounds/leaving.js",
    "vendor/alpine-ajax/alpine-ajax.min.js",
    "vendor/alpine/alpine-csp.min.js",
    "vendor/bitter/bitter-latin-wght-normal.woff2",
    "vendor/atkinson/atkinson-hyperlegible-next-latin-wght-normal.woff2",
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
