"""Rows of older forms, made into rows of this one: a step from each form to the next. There is one form yet, so
there is no step; when a column changes its meaning, ``contents.FORM`` goes up, and its step stands here."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Final

from elder.web.archive.contents import FORM, Said

# From which form: what makes of a table's name and rows those of the next.
STEPS: Final[Mapping[int, Callable[[str, Said], Said]]] = {}


def upgraded(rows: Said, table: str, form: int) -> Said:
    """A table's rows as this form has them, from whichever they were written in."""
    for step in range(form, FORM):
        rows = STEPS[step](table, rows)
    return rows
