"""What is asked of something outside: answered within a limit of time, or missing; a page never waits for more."""

from __future__ import annotations

import logging
import queue
import threading
from collections.abc import Callable
from typing import Final, TypeVar

LIMIT_S: Final = 3.0  # what a page waits for a weather service, a sensor, a printer (assumed)

T = TypeVar("T")
log = logging.getLogger(__name__)


class ServiceMissingError(Exception):
    """A service that failed, or did not answer in time."""


def bounded(work: Callable[[], T], *, what: str) -> T:
    """What ``work`` answers. Raises ServiceMissingError, with the failure written to the log, where it raises or takes
    longer than the limit; what hangs is left behind in a thread of its own."""
    answers: queue.SimpleQueue[tuple[T | None, Exception | None]] = queue.SimpleQueue()

    def run() -> None:
        try:
            answers.put((work(), None))
        except Exception as error:  # whatever somebody else's service raises
            answers.put((None, error))

    threading.Thread(target=run, name=f"asking {what}", daemon=True).start()
    try:
        answer, error = answers.get(timeout=LIMIT_S)
    except queue.Empty:
        log.warning("%s did not answer in time", what)
        raise ServiceMissingError(what) from None
    if error is not None:
        log.warning("%s failed: %r", what, error)
        raise ServiceMissingError(what) from error
    return answer  # type: ignore[return-value] # put beside no error
