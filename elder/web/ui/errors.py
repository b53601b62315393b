"""Elder's own pages for what went wrong. A server error never loses typing: the page keeps its draft."""

from __future__ import annotations

import sys
from typing import Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseBadRequest, HttpResponseServerError, UnreadablePostError
from django.shortcuts import render
from django.template.loader import get_template
from django.utils.http import url_has_allowed_host_and_scheme

from elder.web.logbook.files import database_file
from elder.web.logbook.trouble import Trouble, backup_words, trouble_of
from elder.web.ui.replies import told, wants_json

SOON_S: Final = 20  # seconds after which a press that waits on a phone asks again


def _form_left(request: HttpRequest) -> str:
    """The page a form was sent from, if it was one of ours."""
    left = request.META.get("HTTP_REFERER", "")
    ours = url_has_allowed_host_and_scheme(left, {request.META.get("HTTP_HOST", "")})
    return left if left and ours else "/"


def _bare(template: str, **context: object) -> str:
    """A page that needs nothing but itself; its styles, if they are there, by their plain names."""
    return get_template(template).render({"styles": settings.STATIC_URL, **context})


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Something no page of ours sends. Drawn without the request, which may be what is wrong with it."""
    return HttpResponseBadRequest(_bare("400.html"))


def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """A role that may not."""
    return render(request, "403.html", status=403)


def _came_whole(request: HttpRequest) -> bool:
    """Whether what was said to be coming came."""
    try:
        return bool(request.POST) or request.META.get("CONTENT_LENGTH", "0") in ("", "0")
    except UnreadablePostError:
        return False


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form older than the sign-in it is sent under; or one of which nothing came, the line having broken off."""
    if not _came_whole(request):
        return _stopped(request, Trouble.CUT_SHORT)
    return render(request, "403_form.html", {"back": _form_left(request)}, status=403)


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Nothing there, or nothing for you."""
    return render(request, "404.html", status=404)


def server_error(request: HttpRequest) -> HttpResponse:
    """Something of ours broke, or what it stands on. Drawn without the database and without looking a style up by its
    stamp, for either may be what broke. Django asks for it while the error is being handled."""
    trouble = trouble_of(sys.exc_info()[1])
    if trouble is None:
        return HttpResponseServerError(_bare("500.html", back=_form_left(request)))
    return _stopped(request, trouble)


def _stopped(request: HttpRequest, trouble: Trouble) -> HttpResponse:
    """What is the matter, as a page or for a script; and when to ask again."""
    words, back = trouble.words, _form_left(request)
    if wants_json(request):
        answer: HttpResponse = told({"ok": False, "said": words.heading}, status=words.status)
    else:
        backup = backup_words(database_file()) if words.tells_backup else ""
        answer = HttpResponse(_bare("trouble.html", words=words, backup=backup, back=back), status=words.status)
    answer["Retry-After"] = str(SOON_S)
    return answer
