"""Light in a gardener's words: what reaches a place, when, and how that suits."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from typing import Final
from zoneinfo import ZoneInfo

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.place.light import FULL_SUN_H, Lit
from elder.engine.plan.light_needs import LightFit, Suited
from elder.web.say.words import doy_words, listed

COMPASS_WORDS: Final = {
    0: "north", 22: "north-north-east", 45: "north-east", 68: "east-north-east", 90: "east", 112: "east-south-east",
    135: "south-east", 158: "south-south-east", 180: "south", 202: "south-south-west", 225: "south-west",
    248: "west-south-west", 270: "west", 292: "west-north-west", 315: "north-west", 338: "north-north-west",
}  # fmt: skip
SUITED_WORDS: Final = {
    Suited.FITS: "fits",
    Suited.BORDERLINE: "borderline",
    Suited.NOT: "not there",
    Suited.SHUT_OUT: "never there",
}


def towards(azimuth: float) -> str:
    """A direction by the compass: "south-east"."""
    return COMPASS_WORDS[min(COMPASS_WORDS, key=lambda at: abs((at - azimuth + 180) % 360 - 180))]


def hours_words(hours: float) -> str:
    """So many hours: "2½ hours", "none"; under a quarter of an hour there is none worth a word."""
    halves = round(2 * hours)
    if hours < 0.25:
        return "none"
    if halves <= 1:
        return "half an hour"
    whole, half = divmod(halves, 2)
    return f"{whole}{'½' if half else ''} {'hour' if halves == 2 else 'hours'}"


def lit_words(lit: Lit | None) -> str:
    """What reaches a place in a line: "part sun: 4 hours, 1½ of it strong"."""
    if lit is None:
        return ""
    said: str = lit.word
    if lit.direct_h >= 0.25:
        strong = f", {hours_words(lit.strong_h).split()[0]} of it strong" if lit.strong_h >= 0.75 else ", none strong"
        said = f"{said}: {hours_words(lit.direct_h)} of sun{strong}"
    return f"{said}; {hours_words(lit.lamp_h)} of lamps" if lit.lamp_h else said


def fit_words(fit: LightFit) -> str:
    """Why a place suits, is borderline or does not, in a line."""
    hours = hours_words(fit.hours)
    return {
        "cooks": f"{hours} of sun on a closed cover: it cooks",
        "too_sunny": f"{hours} of strong sun",
        "too_little_sun": f"only {hours} of sun" if fit.hours >= 0.25 else "no sun",
        "too_dark": "too dark to keep leaves",
        "enough": f"{hours} of sun",
        "unsaid": "its light is not said",
        "right": f"{hours} of strong sun" if fit.hours >= 0.25 else "no strong sun",
    }[fit.why]


def at_clock(day: date, minutes: float, zone: ZoneInfo) -> datetime:
    """Minutes of UTC from the midnight a day begins at, by the clock of a garden."""
    midnight = datetime.combine(day, time(), tzinfo=ZoneInfo("UTC"))
    return (midnight + timedelta(minutes=minutes)).astimezone(zone)


def clock_words(moment: datetime) -> str:
    """A time of the clock to five minutes: "7:05"."""
    nearest = moment + timedelta(minutes=2.5)
    return f"{nearest.hour}:{nearest.minute // 5 * 5:02}"


def spans_words(day: date, spans: Iterable[tuple[float, float]], zone: ZoneInfo) -> str:
    """When the sun is on a place: "7:10 to 9:50 and 15:00 to 16:20"."""
    return listed(
        f"{clock_words(at_clock(day, begin, zone))} to {clock_words(at_clock(day, end, zone))}" for begin, end in spans
    )


def season_of(hours: Floats, least: float = FULL_SUN_H) -> str:
    """The first and last day of the year with so many hours: "from 3 Mar to 9 Oct"; across New Year where it is so."""
    enough = hours >= least
    if enough.all():
        return "all year"
    if not enough.any():
        return "never"
    starts = np.flatnonzero(enough & ~np.roll(enough, 1))
    ends = np.flatnonzero(enough & ~np.roll(enough, -1))
    ends = np.roll(ends, -int(ends[0] < starts[0]))
    return listed(f"{doy_words(int(a))} to {doy_words(int(b))}" for a, b in zip(starts, ends, strict=True))
