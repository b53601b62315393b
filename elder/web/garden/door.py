"""Who knocks: the address behind the proxies one trusts, how often it was wrong of late, and the code that shows that
the first to come is whoever set Elder up."""

from __future__ import annotations

import base64
import logging
from datetime import timedelta
from functools import cache
from typing import Final

from axes.models import AccessAttempt
from django.conf import settings
from django.db.models import Sum
from django.http import HttpRequest
from django.utils import timezone
from django.utils.crypto import constant_time_compare, salted_hmac

log = logging.getLogger(__name__)
LOOPBACK: Final = ("127.0.0.1", "::1")
FORWARDED: Final = (
    "HTTP_FORWARDED", "HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_HOST", "HTTP_X_FORWARDED_PROTO", "HTTP_X_REAL_IP",
    "HTTP_VIA",
)  # fmt: skip
MANY_NAMES: Final = 20  # wrong passwords from one address, whatever the names, before it rests


def client_address(request: HttpRequest) -> str:
    """The address of whoever asks. Behind ``TRUSTED_PROXIES`` proxies it is the one the outermost of them wrote down:
    what stands further left in the header is anybody's word. With none, the header is not read at all."""
    direct: str = request.META.get("REMOTE_ADDR", "")
    written = [part.strip() for part in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if part.strip()]
    count: int = settings.TRUSTED_PROXIES
    return written[-min(count, len(written))] if count and written else direct


def tries_many_names(request: HttpRequest) -> bool:
    """Whether an address has been wrong so often, under whatever names, that it rests for the rest of the quarter."""
    since = timezone.now() - timedelta(hours=settings.AXES_COOLOFF_TIME)
    wrong = AccessAttempt.objects.filter(ip_address=client_address(request), attempt_time__gte=since)
    return (wrong.aggregate(sum=Sum("failures_since_start"))["sum"] or 0) >= MANY_NAMES


def is_on_this_machine(request: HttpRequest) -> bool:
    """Whether somebody at this very machine asks: not through a proxy, which stands on it too."""
    return request.META.get("REMOTE_ADDR") in LOOPBACK and not any(name in request.META for name in FORWARDED)


def first_code() -> str:
    """What the first account is asked for: eight letters and figures that follow from the secret key, so that whoever
    can read this machine's terminal knows them and a passer-by on the network does not."""
    drawn = base64.b32encode(salted_hmac("elder.first-account", "code", algorithm="sha256").digest()).decode()
    return f"{drawn[:4]}-{drawn[4:8]}"


def is_first_code(typed: str) -> bool:
    """Whether that is the code, however it was written."""
    plain = "".join(letter for letter in typed.upper() if letter.isalnum())
    return constant_time_compare(plain, first_code().replace("-", ""))


@cache
def say_first_code() -> None:
    """Print the code where Elder runs, once."""
    log.warning("The first account asks for this code: %s", first_code())
