"""A year of sun for forty places, beside the same by pvlib's positions of the sun."""

from __future__ import annotations

import numpy as np
import pandas as pd
import pvlib

from bench.table import Line, timed
from elder.engine.keeping import STORE
from elder.engine.place import sun
from elder.engine.place.light import Aspect, PlaceLight, light_year, lintel_height, skyline_height, within

WHERE = 52.6, -4.1
PLACES = [
    Aspect(i * 9.0, skyline=((0.0, 5.0), (90.0 + i, 20.0), (180.0, 12.0), (250.0, 30.0)), overhang_deg=90 - i)
    for i in range(40)
]


def by_pvlib() -> list[float]:
    """Hours of direct sun in the year at each place, at the same steps of the same days."""
    path = sun.sun_path(*WHERE, sun.SAMPLE_YEAR, 365)
    starts = np.datetime64("2027-01-01", "ns") + np.arange(365) * np.timedelta64(1, "D")
    times = (starts[:, None] + (path.minutes * 60e9).astype("timedelta64[ns]")).ravel()
    table = pvlib.solarposition.get_solarposition(pd.DatetimeIndex(times, tz="UTC"), *WHERE)
    up = table["elevation"].to_numpy() > 0
    elevation, azimuth = table["elevation"].to_numpy()[up], table["azimuth"].to_numpy()[up]
    found = []
    for one in PLACES:
        clear = (elevation > skyline_height(one.skyline, azimuth)) & within(one, azimuth)
        found.append(float((clear & (elevation <= lintel_height(one, azimuth))).sum()) / 6)
    return found


def forgotten() -> list[float]:
    """Elder's, with nothing kept from before."""
    STORE.forget()
    return [float(light_year(PlaceLight(aspect=one), *WHERE).direct_h.sum()) for one in PLACES]


def lines() -> list[Line]:
    """Forty places by both; and again once the sun of the year is known."""
    plain_s, theirs = timed(by_pvlib, 2)
    ours_s, ours = timed(forgotten, 5)
    apart = float(np.abs(np.array(ours) - np.array(theirs)).max())
    if apart > 15:
        raise ArithmeticError(f"the two are {apart:.1f} hours apart in a year")
    kept_s, _ = timed(lambda: [light_year(PlaceLight(aspect=one), *WHERE) for one in PLACES], 20)
    return [
        Line(
            "places", "a year of sun, 40 places", ours_s, "by pvlib", plain_s, f"within {apart:.1f} h of 4,000 a year"
        ),
        Line("places", "the same, asked again", kept_s, "the first time", ours_s, "kept by description"),
    ]
