"""Where the sun stands: by astral's declination and equation of time, without refraction."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Final, NamedTuple

import numpy as np
from astral.julian import julianday, julianday_to_juliancentury
from astral.sun import eq_of_time, sun_declination

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.keeping import kept

MINUTES_A_DAY: Final = 1440.0
STEP_MIN: Final = 10
SAMPLE_YEAR: Final = date(2027, 1, 1)  # an ordinary year: from year to year the sun of a day moves by minutes


class SunPath(NamedTuple):
    """The sun over days, in steps round each day's solar noon: elevation and azimuth, degrees, azimuth clockwise from
    north; shapes (days, steps). ``minutes``: of each step's middle, in UTC from the midnight its day begins at."""

    elevation: Floats
    azimuth: Floats
    minutes: Floats


def sun_position(latitude: float, longitude: float, when_utc: datetime) -> tuple[float, float]:
    """Elevation without refraction and azimuth clockwise from north, degrees, at a moment; one without an offset is
    read as UTC. Raises ValueError off the globe."""
    _on_globe(latitude, longitude)
    moment = when_utc.replace(tzinfo=UTC) if when_utc.tzinfo is None else when_utc.astimezone(UTC)
    # astral counts whole seconds from the start of the day.
    since = (moment - moment.replace(hour=0, minute=0, second=0, microsecond=0)).total_seconds() / 60
    century = julianday_to_juliancentury(julianday(moment.date()) + since / MINUTES_A_DAY)
    hour_angle = (since + eq_of_time(century) + 4 * longitude) / 4 - 180
    elevation, azimuth = _seen_from(latitude, np.array(sun_declination(century)), np.array(hour_angle))
    return float(elevation), float(azimuth)


def sun_path(latitude: float, longitude: float, first: date, days: int = 1, *, step_min: float = STEP_MIN) -> SunPath:
    """The sun of so many days from ``first``. Raises ValueError off the globe, or for a step that is none."""
    _on_globe(latitude, longitude)
    if not 0 < step_min <= MINUTES_A_DAY / 2:
        raise ValueError("a step lies between nothing and half a day")
    steps = round(MINUTES_A_DAY / step_min)
    offsets = ((np.arange(steps) + 0.5) / steps - 0.5) * MINUTES_A_DAY
    mean_noon = MINUTES_A_DAY / 2 - 4 * longitude
    # Declination and equation of time bend so little in a day that a parabola through three noons holds them.
    at_noon = julianday(first) + mean_noon / MINUTES_A_DAY + np.arange(-1, days + 1)
    centuries = [julianday_to_juliancentury(moment) for moment in at_noon]
    equation = np.array([eq_of_time(century) for century in centuries])
    declination = np.array([sun_declination(century) for century in centuries])
    noon = mean_noon - equation[1:-1]
    minutes = noon[:, None] + offsets
    since_mean_noon = (minutes - mean_noon) / MINUTES_A_DAY
    hour_angle = (minutes - mean_noon + _along(equation, since_mean_noon)) / 4
    elevation, azimuth = _seen_from(latitude, _along(declination, since_mean_noon), hour_angle)
    return SunPath(elevation, azimuth, minutes)


@kept
def sun_of_year(latitude: float, longitude: float, step_min: float = STEP_MIN) -> SunPath:
    """The sun of an ordinary year; shapes (365, steps), read only."""
    path = sun_path(latitude, longitude, SAMPLE_YEAR, YEAR_DAYS, step_min=step_min)
    for part in path:
        part.setflags(write=False)
    return path


def _along(daily: Floats, share: Floats) -> Floats:
    """Values between the middle of every three days, on the parabola through them; shapes (days + 2,), (days, n)."""
    before, here, after = daily[:-2, None], daily[1:-1, None], daily[2:, None]
    return np.asarray(here + share * (after - before) / 2 + share**2 * (after - 2 * here + before) / 2)


def _seen_from(latitude: float, declination: Floats, hour_angle: Floats) -> tuple[Floats, Floats]:
    """Elevation and azimuth, degrees, by the spherical triangle of pole, zenith and sun."""
    phi, delta, hour = (np.radians(angle) for angle in (latitude, declination, hour_angle))
    up = np.sin(phi) * np.sin(delta) + np.cos(phi) * np.cos(delta) * np.cos(hour)
    east = -np.cos(delta) * np.sin(hour)
    north = np.cos(phi) * np.sin(delta) - np.sin(phi) * np.cos(delta) * np.cos(hour)
    return np.degrees(np.arcsin(np.clip(up, -1, 1))), np.degrees(np.arctan2(east, north)) % 360


def _on_globe(latitude: float, longitude: float) -> None:
    if not (-90 <= latitude <= 90 and -180 <= longitude <= 180):
        raise ValueError("latitude lies between -90 and 90, longitude between -180 and 180")
