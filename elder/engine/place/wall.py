"""The foot of a wall: the strip that the sun does not reach, and how it comes and goes through the year."""

from __future__ import annotations

from datetime import date

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.place.sun import SunPath, sun_of_year, sun_path


def shaded_strip_m(
    latitude: float,
    longitude: float,
    day: date,
    *,
    wall_height_m: float,
    wall_facing_deg: float,
    most_hours: float = 0.0,
) -> float:
    """The greatest distance, m, from the foot of a long level wall, on the side it faces, that gets at most so much
    direct sun that day; infinite where even open ground gets no more. Raises ValueError off the globe."""
    path = sun_path(latitude, longitude, day)
    return float(_strips(path, wall_height_m, wall_facing_deg, most_hours)[0])


def strip_of_year(
    latitude: float, longitude: float, *, wall_height_m: float, wall_facing_deg: float, most_hours: float = 0.0
) -> Floats:
    """The same for every day of an ordinary year, m; shape (365,)."""
    return _strips(sun_of_year(latitude, longitude), wall_height_m, wall_facing_deg, most_hours)


def _strips(path: SunPath, height_m: float, facing_deg: float, most_hours: float) -> Floats:
    """The shadow reaches out by h·cos(angle from the normal)/tan(elevation) while the sun is behind the wall. A point
    has sun in every step whose shadow ends short of it, so the n-th shortest shadow bounds n steps of sun."""
    up = path.elevation > 0
    behind = -np.cos(np.radians(path.azimuth - facing_deg))
    reach = height_m * behind / np.tan(np.radians(np.where(up, path.elevation, 90.0)))
    # Beside or before the wall the sun is on its foot: no shadow on this side at all.
    reach = np.where(up, np.maximum(reach, 0.0), np.inf)
    steps = path.elevation.shape[1]
    allowed = int(most_hours * steps / 24 + 1e-9)  # whole steps of sun that a point may have
    if allowed >= steps:
        return np.full(len(reach), np.inf)
    return np.asarray(np.partition(reach, allowed, axis=1)[:, allowed])
