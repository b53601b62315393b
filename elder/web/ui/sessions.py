"""Sessions that never keep a page from being read."""

from __future__ import annotations

import logging

from django.contrib.sessions.exceptions import SessionInterrupted
from django.contrib.sessions.middleware import SessionMiddleware
from django.db import DatabaseError, OperationalError
from django.http import HttpRequest, HttpResponse

from elder.web.logbook.trouble import trouble_of

log = logging.getLogger(__name__)


class Sessions(SessionMiddleware):
    """Django's own. A page view changes a session only by taking what it had to say; where that cannot be written (a
    full disk, a lock held elsewhere), the page is read all the same, and says it again the next time."""

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        """Save what changed, if it can be. Raises the database's error where something was sent: Django takes one for
        a session that was ended meanwhile."""
        try:
            answer: HttpResponse = super().process_response(request, response)
        except (DatabaseError, SessionInterrupted) as error:
            if trouble_of(error) is None:
                raise
            if request.method not in ("GET", "HEAD"):
                raise OperationalError("the session could not be saved") from error
            log.warning("A session could not be saved; the page was shown all the same.")
            return response
        return answer
