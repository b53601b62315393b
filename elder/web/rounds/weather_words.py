"""Rain, wind and heat ahead, in the round's words."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date

from elder.engine.place.weather import DayAhead
from elder.engine.round.weather_days import SOAKS_MM, after_rain, gales
from elder.web.garden.models import Garden, Place
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import places_of
from elder.web.say.units import convert, rain_sign, shown_rain
from elder.web.say.words import WEEKDAYS, listed

US_UNITS = "us"


def rain_words(ahead: Sequence[DayAhead], today: date) -> str:
    """When the ground is best worked, by the rain that is told."""
    day = after_rain(ahead, today)
    if day is None:
        return "No rain is told: water the ground the evening before." if ahead else ""
    return (
        "It rains today: the ground is soft."
        if day == today
        else f"After the rain that is told: {WEEKDAYS[day.weekday()]}."
    )


def weather_lines(ahead: Sequence[DayAhead], batches: Iterable[BatchToday], garden: Garden, units: str) -> list[str]:
    """What the rain and the wind of the next days mean for what stands outdoors; nothing on calm dry days."""
    if not ahead:
        return []
    today, stood = ahead[0].day, _outdoors(batches, garden)
    found = []
    wet = [day for day in ahead[:5] if day.rain_mm >= SOAKS_MM]
    if wet and stood:
        first = wet[0]
        when = "today" if first.day == today else WEEKDAYS[first.day.weekday()]
        much = f"about {shown_rain(first.rain_mm, units)} {rain_sign(units)}"
        found.append(f"Rain {when}, {much}: pots in the open want no water that day.")
    exposed = [place.name for place in stood if not place.sheltered]
    blown = gales(ahead, today)
    if blown and exposed:
        worst = max(blown, key=lambda day: day.gust_kmh)
        when = "today" if worst.day == today else f"on {WEEKDAYS[worst.day.weekday()]}"
        found.append(
            f"Gusts of {_gust(worst.gust_kmh, units)} {when}: stake or lay flat what stands at {listed(exposed)}."
        )
    return found


def _outdoors(batches: Iterable[BatchToday], garden: Garden) -> list[Place]:
    """The places in the open where something stands."""
    places, used = places_of(garden), set()
    for batch in batches:
        for stage, kind in (
            ("waiting", "waiting"),
            ("rooted", "waiting"),
            ("potted", "potted"),
            ("hardening", "potted"),
        ):
            if batch.state.count(stage):
                used.add(batch.place_id(kind))
    return [
        place
        for pk, place in places.items()
        if pk in used and place.standing != Place.Standing.ROOM and not place.lift_day_c
    ]


def _gust(kmh: float, units: str) -> str:
    return f"{convert(kmh, 'km/h', 'mile/h'):.0f} mph" if units == US_UNITS else f"{kmh:.0f} km/h"
