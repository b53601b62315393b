"""A page as a typed object: its template names the fields, and the type checker sees what is put into them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Final, TypeVar

from django.core.paginator import Page, Paginator
from django.db.models import Model
from django.forms import BaseForm
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

if TYPE_CHECKING:
    from _typeshed import DataclassInstance


T = TypeVar("T")
A_LEAF: Final = 40  # of what is listed line by line


@dataclass(frozen=True)
class FormPage:
    """A page that is one form."""

    form: BaseForm


@dataclass(frozen=True)
class RowForm:
    """A page that is one form over a row, or over none yet; and what stands in the way, if anything does."""

    form: BaseForm
    row: Model | None
    said: str = ""


def leaf_of(items: Sequence[T], page: str | None, each: int = A_LEAF) -> Page[T]:
    """The leaf of a long list that is asked for by its number; of one that is not there, the nearest."""
    return Paginator(items, each).get_page(page)


def show(request: HttpRequest, template: str, page: DataclassInstance) -> HttpResponse:
    """The template, drawn with the fields of a page."""
    return render(request, template, {field.name: getattr(page, field.name) for field in fields(page)})
