"""Elder's own pages for what went wrong. A server error never loses typing: the page keeps its draft."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, HttpResponseBadRequest, HttpResponseServerError
from django.shortcuts import render
from django.template.loader import get_template
from django.utils.http import url_has_allowed_host_and_scheme


def _form_left(request: HttpRequest) -> str:
    """The page a form was sent from, if it was one of ours."""
    left = request.META.get("HTTP_REFERER", "")
    ours = url_has_allowed_host_and_scheme(left, {request.META.get("HTTP_HOST", "")})
    return left if left and ours else "/"


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Something no page of ours sends. Drawn without the request, which may be what is wrong with it."""
    return HttpResponseBadRequest(get_template("400.html").render({}))


def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """A role that may not."""
    return render(request, "403.html", status=403)


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form older than the sign-in it is sent under."""
    return render(request, "403_form.html", {"back": _form_left(request)}, status=403)


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Nothing there, or nothing for you."""
    return render(request, "404.html", status=404)


def server_error(request: HttpRequest) -> HttpResponse:
    """Something of ours broke. Drawn without the database, which may be what broke."""
    return HttpResponseServerError(get_template("500.html").render({"back": _form_left(request)}))
