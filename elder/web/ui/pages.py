"""A page as a typed object: its template names the fields, and the type checker sees what is put into them."""

from __future__ import annotations

from dataclasses import fields
from typing import TYPE_CHECKING

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

if TYPE_CHECKING:
    from _typeshed import DataclassInstance


def show(request: HttpRequest, template: str, page: DataclassInstance) -> HttpResponse:
    """The template, drawn with the fields of a page."""
    return render(request, template, {field.name: getattr(page, field.name) for field in fields(page)})
