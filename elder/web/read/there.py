"""Whether a garden has anything of a kind: asked of many kinds in one question, for most gardens have no lines, no
promises and no move, and an empty answer takes a long query as much as a full one."""

from __future__ import annotations

from typing import Final

from django.db import connection
from django.db.models import Model

from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.moving.models import HouseMove
from elder.web.passing.models import Promise
from elder.web.shed.models import MixOrder, ShedEntry, Supply
from elder.web.stock.models import StockPlant
from elder.web.year.models import Multiplying, Wintered

ASKED: Final[tuple[type[Model], ...]] = (
    StockPlant, Multiplying, Wintered, Promise, HouseMove, ShedEntry, MixOrder, Supply,
)  # fmt: skip
ANY: Final = "SELECT 1 FROM {} WHERE garden_id = %s"
QUERY: Final = "SELECT " + ", ".join(f"EXISTS({ANY.format(model._meta.db_table)})" for model in ASKED)


def has_any(garden: Garden, kind: type[Model]) -> bool:
    """Whether a garden has any row of one of the kinds ``ASKED``; raises ValueError for another."""
    return once_looking(garden, "there", lambda: _asked(garden.pk))[ASKED.index(kind)]


def _asked(garden_id: int) -> list[bool]:
    with connection.cursor() as cursor:
        cursor.execute(QUERY, [garden_id] * len(ASKED))
        return [bool(value) for value in cursor.fetchone() or ()]
