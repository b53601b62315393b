"""What the possible years of a garden say: the nights of ten winters, and whether its dates and temperatures agree."""

from __future__ import annotations

from datetime import date

import numpy as np

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Scene
from elder.drawing.year_fan import Fan, fan_scene
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost_fit import LAW_YEARS, SolvedEnd, solved
from elder.engine.climate.normals import midwinter
from elder.engine.climate.years import possible_years
from elder.web.say.units import shown_lift, shown_temperature, temperature, temperature_sign

OFF_C = 2.0  # what made-up winters have been off by, told means and dates alone: 0.5 and 1.5 °C at two stations
ENDS = (("spring", "last frost of spring"), ("autumn", "first frost of autumn"))


def nights(climate: Climate, axis: TimeAxis, today: date, units: str) -> tuple[str, Scene]:
    """The lowest night of a winter, usual and in one winter of ten; and the nights of the year drawn."""
    years = possible_years(climate, LAW_YEARS)
    usual, rare = float(np.median(years.lowest)), float(np.quantile(years.lowest, 0.1))
    off = f"give or take {shown_lift(OFF_C, units):.0f} {temperature_sign(units)}"
    counted = f"in {len(years)} years of records" if years.recorded else f"in {LAW_YEARS} possible years, {off}"
    said = (
        f"the lowest of a winter is about {temperature(usual, units)}, in one winter of ten "
        f"{temperature(rare, units)} or less, {counted}; the band holds 8 nights of 10"
    )
    by_doy = np.roll(years.t_min, midwinter(climate.normals), axis=1)
    low, middle, high = (
        np.array([shown_temperature(float(c), units) for c in edge])
        for edge in np.quantile(by_doy, (0.1, 0.5, 0.9), axis=0)
    )
    fan = Fan(low, middle, high, shown_temperature(0.0, units), temperature(0.0, units))
    return said, fan_scene(axis, today, fan, words=f"Nights through the year: {said}")


def fit_words(climate: Climate, units: str) -> list[str]:
    """Where a frost date and the temperatures hardly fit each other, or a date is missing where frost is usual."""
    if climate.daily_records:
        return []
    ends = solved(climate)
    said = [_said(end, name, units) for end, name in ((ends.spring, ENDS[0][1]), (ends.autumn, ENDS[1][1]))]
    return [one for one in said if one]


def _said(end: SolvedEnd, name: str, units: str) -> str:
    if end.fit == "unknown":
        return f"By your temperatures most years have frost, but no {name} is given. Give it, with its one year in ten."
    if end.fit != "hardly":
        return ""
    spread = "vary more from year to year" if end.widen > 0 else "vary less from year to year"
    if abs(end.shift_c) >= 0.1:
        lift = shown_lift(abs(end.shift_c), units)
        colder = (
            f"be {lift:.1f} {temperature_sign(units)} {'warmer' if end.shift_c > 0 else 'colder'} than you said, and "
        )
    else:
        colder = ""
    return (
        f"The {name} and your temperatures hardly fit each other: nights would have to {colder}{spread} than is usual. "
        "Elder goes by the date; look at both again."
    )
