"""What a place's light comes to: today by the clock, drawn, by the month, and what it suits."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from typing import Final
from zoneinfo import ZoneInfo

import numpy as np

from elder.drawing.scene import Scene
from elder.drawing.sky import HEIGHT, DayPath, SkyFrame, frame_of, sky_scene, year_scene
from elder.engine.climate.day_of_year import add_days
from elder.engine.place.light import Aspect, LightYear, Lit, PlaceLight, light_year, sunlit_spans
from elder.engine.place.sun import sun_position
from elder.engine.plan.light_needs import BLEACHES_H, UNROOTED_H, WANTS_H, LightNeed, Suited, fit
from elder.web.garden.access import GardenRequest
from elder.web.garden.models import Garden, Place
from elder.web.places.light_form import LightForm
from elder.web.read.light import light_as_described, light_of
from elder.web.say.light import SUITED_WORDS, fit_words, hours_words, lit_words, season_of, spans_words
from elder.web.say.words import MONTHS, day_words

# What is asked of any place, whatever grows there.
USUAL_NEEDS: Final = (
    ("Unrooted, open or loosely covered", LightNeed(bears_h=UNROOTED_H)),
    ("Under a closed cover", LightNeed(covered=True)),
    ("Rooted, wanting six hours", LightNeed(wants_h=WANTS_H["full sun"])),
    ("Rooted, content with three", LightNeed(wants_h=WANTS_H["part sun"])),
    ("What bleaches: vanilla, coleus", LightNeed(bears_h=BLEACHES_H)),
)


@dataclass(frozen=True)
class MonthSun:
    """The middle of a month: hours of sun and of strong sun, and when by the clock."""

    name: str
    direct: str
    strong: str
    clock: str


@dataclass(frozen=True)
class NeedSun:
    """How a place suits one need today, why, and in which part of the year it fits."""

    name: str
    today: str
    why: str
    fits: str
    standing: int


@dataclass(frozen=True)
class SkyAnswer:
    """What the light of a place comes to. ``sky`` is there where it is worked out; ``frame`` places a tap in it."""

    said: str
    then: str
    sky: Scene | None
    frame: SkyFrame | None
    year: Scene
    months: list[MonthSun]
    needs: list[NeedSun]
    beside: str
    height: int = HEIGHT


def answer_of(request: GardenRequest, place: Place, form: LightForm) -> SkyAnswer | None:
    """What the description comes to; nothing where there is none."""
    described, garden, today = form.described(), request.garden, request.today
    if not described:
        return None
    light = light_as_described(described)
    year = light_year(light, garden.latitude, garden.longitude)
    lit, aspect = year.on(today), None if light.said else light.aspect
    clock = _clock_today(aspect, garden, today) if aspect else ""
    frame = frame_of(aspect, garden.latitude, solstices(today)) if aspect else None
    return SkyAnswer(
        said=f"{place.name} today: {lit_words(lit)}{clock}{_cloth_words(light, garden, today)}.",
        then=_through_the_year(year),
        sky=_sky(aspect, garden, today, frame, lit) if aspect and frame else None,
        frame=frame,
        year=year_scene(year, today, words=f"Hours of sun through the year. {_through_the_year(year)}"),
        months=[_month(i, year, aspect, garden, today) for i in range(12)],
        needs=[_need(name, need, year, today) for name, need in USUAL_NEEDS],
        beside=_beside(form.cleaned_data["other"], lit, garden, today),
    )


def _cloth_words(light: PlaceLight, garden: Garden, today: date) -> str:
    """That a cloth leaves so much of what there would be; nothing where there is none."""
    if not light.cloth:
        return ""
    bare = light_year(replace(light, cloth=0.0), garden.latitude, garden.longitude).on(today)
    return f": what a cloth of {round(100 * light.cloth)}% leaves of {hours_words(bare.direct_h)}"


def solstices(today: date) -> tuple[date, date]:
    """The year's two turns of the sun, near enough."""
    return date(today.year, 6, 21), date(today.year, 12, 21)


def _clock_today(aspect: Aspect, garden: Garden, today: date) -> str:
    spans = sunlit_spans(aspect, garden.latitude, garden.longitude, today)
    return f", {spans_words(today, spans, ZoneInfo(garden.timezone))}" if spans and len(spans) < 4 else ""


def _through_the_year(year: LightYear) -> str:
    season = season_of(year.direct_h)
    most = int(np.argmax(year.direct_h))
    peak = (
        f"most about {day_words(add_days(date(2027, 1, 1), most), weekday=False)}: {hours_words(year.direct_h[most])}"
    )
    if season == "never":
        return f"Never six hours of sun; {peak}." if year.direct_h[most] >= 0.25 else "No sun at any time of the year."
    return f"Six hours of sun {season}; {peak}."


def _sky(aspect: Aspect, garden: Garden, today: date, frame: SkyFrame, lit: Lit) -> Scene:
    where, (june, december) = (garden.latitude, garden.longitude), solstices(today)
    paths = (
        DayPath(december, "sun-turn", "21 Dec"),
        DayPath(june, "sun-turn", "21 Jun"),
        DayPath(today, "sun-today", "today", _hours_of(garden, today)),
    )
    words = (
        f"The sun's paths on 21 June, 21 December and today, what hides them, and the hours. {lit_words(lit)} today."
    )
    return sky_scene(aspect, where, frame, paths, words=words)


def _hours_of(garden: Garden, today: date) -> tuple[tuple[float, float, str], ...]:
    """Where the sun stands at each full hour of the garden's clock today."""
    zone, found = ZoneInfo(garden.timezone), []
    for hour in range(24):
        moment = datetime(today.year, today.month, today.day, hour, tzinfo=zone).astimezone(UTC)
        elevation, azimuth = sun_position(garden.latitude, garden.longitude, moment)
        if elevation > 0:
            found.append((azimuth, elevation, str(hour)))
    return tuple(found)


def _month(index: int, year: LightYear, aspect: Aspect | None, garden: Garden, today: date) -> MonthSun:
    day = date(today.year, index + 1, 15)
    lit = year.on(day)
    clock = ""
    if aspect:
        spans = sunlit_spans(aspect, garden.latitude, garden.longitude, day)
        clock = spans_words(day, spans, ZoneInfo(garden.timezone))
    return MonthSun(MONTHS[index], _hours(lit.direct_h), _hours(lit.strong_h), clock)


def _hours(hours: float) -> str:
    return f"{hours:.1f} h" if hours >= 0.05 else "–"


def _need(name: str, need: LightNeed, year: LightYear, today: date) -> NeedSun:
    first = date(2027, 1, 1)
    fits = np.array([fit(year.on(first + timedelta(days=i)), need).standing == Suited.FITS for i in range(365)])
    here = fit(year.on(today), need)
    return NeedSun(
        name, SUITED_WORDS[here.standing], fit_words(here), season_of(fits.astype(float), 1.0), here.standing
    )


def _beside(key: str, lit: Lit, garden: Garden, today: date) -> str:
    """The same day at another place."""
    other = garden.places.filter(pk=key).first() if key else None
    light = light_of(other) if other else None
    if other is None or light is None:
        return ""
    there = light_year(light, garden.latitude, garden.longitude).on(today)
    more = there.direct_h - lit.direct_h
    less = f"{hours_words(abs(more))} {'more' if more > 0 else 'less'}" if abs(more) >= 0.25 else "as much"
    return f"{other.name} today: {lit_words(there)}. That is {less}."
