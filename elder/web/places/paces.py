"""How soon cuttings root at a place."""

from __future__ import annotations

from datetime import date
from typing import Final

from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.handbook.loading import clonable
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.setting import Setting
from elder.web.garden.models import Garden
from elder.web.read.gardens import climate_of

REACH_DAYS: Final = 240
STEADY: Final = EnginePlace("room", day_c=20.5, night_c=20.5)  # best for unrooted stems (common practice)
MOST_COLUMNS: Final = 6
USUAL: Final = (("tomato", "jar"), ("basil", "jar"), ("mint", "jar"))


def root_days(spot: EnginePlace, garden: Garden, plant: Plant, method: Method, today: date) -> int:
    """Days until half of those struck today would be ready to pot there, in the year of the normals; −1 for not within
    240 days."""
    followed = ready_from_cut(
        Setting(plant, method, climate_of(garden), spot, spot, today).raising().usual, today, REACH_DAYS
    )
    return int(first_day_at(followed.mean_rooted, 0.5))


def ways_in_use(garden: Garden) -> list[tuple[Plant, Method]]:
    """The plants wanted now, each by its way, as many as a table holds; three usual ones where there are none."""
    wanted = list(garden.wants.filter(closed_on=None).values_list("plant", "method").distinct())
    seen = dict(reversed([(plant, way) for plant, way in wanted if plant in clonable()]))
    pairs = list(seen.items())[-MOST_COLUMNS:][::-1] or list(USUAL)
    return [(clonable()[plant], clonable()[plant].method(way)) for plant, way in pairs]
