"""One line a request, and a stack for each error, with nothing in either that is anybody's secret or note.

An address may hold a key (a slip's, a calendar's, a link to choose a password), and an error's words may hold what
somebody typed. So what is written of an address is its pattern with the garden's number, and of an error its kind and
where it came from.
"""

from __future__ import annotations

import logging
import time
import traceback
from collections.abc import Callable
from types import TracebackType
from typing import Final

from django.http import HttpRequest, HttpResponse

log = logging.getLogger("elder.requests")
NOWHERE: Final = "no address of ours"
TOLD: Final = ("garden_id", "batch_id", "want_id", "place_id", "form", "verb", "year")  # parts that are nobody's secret


def where(request: HttpRequest) -> str:
    """The address asked for, by its pattern; of its parts only those that are no secret."""
    match = request.resolver_match
    if match is None:
        return NOWHERE
    told = " ".join(f"{name}={match.kwargs[name]}" for name in TOLD if name in match.kwargs)
    return f"/{match.route} {told}".rstrip()


class RequestLog:
    """Writes the line when the answer is ready. Stands first, so that it sees what every other makes of it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The page, and its line."""
        begin = time.perf_counter()
        answer = self.get_response(request)
        spent = 1000 * (time.perf_counter() - begin)
        person = getattr(getattr(request, "user", None), "pk", None)
        log.info("%s %s %d %.0f ms person=%s", request.method, where(request), answer.status_code, spent, person or "-")
        return answer


class Routed(logging.Filter):
    """Django's own lines of a request, with its pattern in place of its address."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Put the line right; none is held back."""
        request = getattr(record, "request", None)
        if isinstance(request, HttpRequest):
            status = getattr(record, "status_code", "")
            record.msg, record.args = "%s %s: %s", (request.method, where(request), status)
        return True


class PlainStack(logging.Formatter):
    """A stack without what was in its variables, and an error without its words: those may be what somebody typed."""

    def formatException(  # noqa: N802 - Python's own name
        self,
        ei: tuple[type[BaseException], BaseException, TracebackType | None] | tuple[None, None, None],
    ) -> str:
        """Where it came from, and its kind; of one that came of another, the other first."""
        kind, error, trace = ei
        if kind is None or error is None:
            return ""
        before = error.__cause__ or (None if error.__suppress_context__ else error.__context__)
        first = f"{self.formatException((type(before), before, before.__traceback__))}\nthen:\n" if before else ""
        lines = [
            f'  File "{frame.filename}", line {frame.lineno}, in {frame.name}' for frame in traceback.extract_tb(trace)
        ]
        return first + "\n".join([*lines, f"{kind.__module__}.{kind.__qualname__}"])
