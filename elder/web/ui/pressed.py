"""Pages pressed small on their way: brotli where the browser takes it, else gzip.

How long a pressed page is tells a little of what stands in it. Whoever can put words into a page and watch its length
could feel for a secret beside them; so what lasts is never pressed together with anything (``SECRET``), the token of
forms is masked anew on each page by Django, and every pressed answer is made longer by a random stretch.
"""

from __future__ import annotations

import secrets
import zlib
from collections.abc import Callable
from typing import Final

import brotli
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.utils.cache import patch_vary_headers

LEAST: Final = 1_000  # bytes under which nothing is gained
KINDS: Final = ("text/html", "text/calendar", "text/javascript", "application/json")
QUALITY: Final = 5  # of eleven: a page of 150 kB in 3 ms, hardly larger than at the slowest (measured)
LEVEL: Final = 5
GZIP: Final = 16 + zlib.MAX_WBITS
STRETCH: Final = 160  # a pressed answer is longer by up to so many bytes
# Pages that show what opens a door for longer than a page lives: a calendar's address, an invitation, a slip's key.
SECRET: Final = frozenset(
    {"calendar", "garden", "person-invite", "invitation", "passing-one", "passing-slip", "slip-open"}
)


class Pressed:
    """Presses what is worth it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, pressed."""
        answer = self.get_response(request)
        if answer.streaming or not isinstance(answer, HttpResponse) or not _is_worth_it(answer):
            return answer
        patch_vary_headers(answer, ("Accept-Encoding",))
        at = request.resolver_match
        if at is not None and at.url_name in SECRET:
            return answer
        taken = {part.split(";")[0].strip() for part in request.headers.get("Accept-Encoding", "").split(",")}
        way = "br" if "br" in taken else "gzip" if "gzip" in taken else ""
        if way:
            answer.content = _pressed(answer.content, way)
            answer["Content-Encoding"] = way
            answer["Content-Length"] = str(len(answer.content))
            answer["X-Stretch"] = "x" * secrets.randbelow(STRETCH)
        return answer


def _is_worth_it(answer: HttpResponse) -> bool:
    kind = answer.get("Content-Type", "").split(";")[0]
    return kind in KINDS and len(answer.content) >= LEAST and not answer.has_header("Content-Encoding")


def _pressed(data: bytes, way: str) -> bytes:
    if way == "br":
        return bytes(brotli.compress(data, quality=QUALITY, mode=brotli.MODE_TEXT))
    packer = zlib.compressobj(LEVEL, wbits=GZIP)
    return packer.compress(data) + packer.flush()
