"""Garden rows to engine values, and nothing else."""

from __future__ import annotations

from elder.engine.climate import Climate, Normals
from elder.engine.frost import Frost, FrostDates, by_hand
from elder.engine.warmth import Place as EnginePlace
from elder.web.garden.models import Garden, Place


def climate_of(garden: Garden) -> Climate:
    """The climate a garden's row describes."""
    return Climate(
        latitude=garden.latitude,
        longitude=garden.longitude,
        elevation_m=garden.elevation_m,
        timezone=garden.timezone,
        normals=Normals(tuple(garden.t_min), tuple(garden.t_max)),
        frost=Frost(
            _frost_dates(garden.last_frost_mean, garden.last_frost_late),
            _frost_dates(garden.first_frost_mean, garden.first_frost_early),
        ),
    )


def _frost_dates(mean: int | None, extreme: int | None) -> FrostDates | None:
    if mean is None or extreme is None:
        return None
    # The one year in ten may lie across New Year from the mean.
    days = (extreme - mean + 182) % 365 - 182
    return by_hand(mean, mean + days)


def place_of(place: Place) -> EnginePlace:
    """The standing place a row describes."""
    return EnginePlace(
        standing=place.standing,  # type: ignore[arg-type]
        day_c=place.day_c,
        night_c=place.night_c,
        depth_m=place.depth_m,
        lift_day_c=place.lift_day_c,
        lift_night_c=place.lift_night_c,
        floor_c=place.floor_c,
    )
