"""The almanac: a garden's year as it is reckoned, strip by strip, in words and drawings."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

import numpy as np

from elder.drawing.almanac import (
    FreezePicture,
    YearCurves,
    daylight_scene,
    freeze_axis,
    freeze_scene,
    phase_scene,
    risk_scene,
    warmth_scene,
    worth_scene,
)
from elder.drawing.axis import TimeAxis
from elder.drawing.ground import ruler_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import COMPACT, RowPicture, soil_line
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, doy0
from elder.engine.climate.daylight import day_lengths
from elder.engine.climate.freezes import FreezeCount, count_freezes
from elder.engine.climate.frost import FrostDates
from elder.engine.climate.frost_risk import autumn_frost, frost_risk, spring_frost
from elder.engine.climate.normals import daily_normals, garden_year_position, midsummer, midwinter
from elder.engine.climate.phases import growing_season
from elder.engine.handbook.model import Plant, Wood
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.place.warmth import hourly_temperatures, soil_mean, units_per_day
from elder.engine.plan.planting_windows import planting_windows
from elder.engine.plan.wood import wood_in_season
from elder.web.garden import possible_nights
from elder.web.say.units import shown_temperature, temperature
from elder.web.say.words import about, days_words, in_ten, sureness

WOODS: Final[tuple[tuple[Wood, str], ...]] = (
    ("growing", "growing season"),
    ("softwood", "soft wood"),
    ("semi-ripe", "half-ripe wood"),
    ("dormant", "dormant wood"),
)
BARE_POT: Final = EnginePlace("air")
OPEN_GROUND: Final = EnginePlace("ground")


@dataclass(frozen=True)
class Strip:
    """One line of the almanac: its name, what it says today, its drawing."""

    name: str
    said: str
    scene: Scene
    url: str = ""


@dataclass(frozen=True)
class FreezeSheet:
    """One end of the frosts, drawn: title, the sentence, the drawing with its ruler, and years without a say."""

    title: str
    sentence: str
    scene: Scene
    ruler: Scene
    left_out: str


@dataclass(frozen=True, eq=False)
class Almanac:
    """Reckons the strips for one garden on one day."""

    climate: Climate
    today: date
    accepted: float
    units: str
    cover: EnginePlace | None

    @property
    def axis(self) -> TimeAxis:
        """A gardening year from the month of its midwinter."""
        turn = _calendar(midwinter(self.climate.normals), self.today.year)
        start = turn.replace(day=1)
        if start > self.today:
            start = start.replace(year=start.year - 1)
        return TimeAxis(start, start + timedelta(days=YEAR_DAYS - 1))

    @property
    def ruler(self) -> Scene:
        """Months and today."""
        return ruler_scene(self.axis, self.today, day_words=lambda day: about(day, self.today))

    def strips(self, plant: Plant) -> list[Strip]:
        """Warmth, nights, its worth to ``plant``'s roots, daylight, frost, wood."""
        nights = Strip("Nights", *possible_nights.nights(self.climate, self.axis, self.today, self.units))
        return [self._warmth(), nights, self._worth(plant), self._daylight(), self._risk(), *self._woods()]

    def _warmth(self) -> Strip:
        low, high = daily_normals(self.climate.normals)
        show = np.vectorize(lambda c: shown_temperature(float(c), self.units))
        pot = hourly_temperatures(self.cover or BARE_POT, self.climate).max(axis=1)
        rules = [(shown_temperature(c, self.units), temperature(c, self.units)) for c in (0, 10, 20, 30)]
        ground = soil_mean(self.climate)
        curves = YearCurves(show(low), show(high), show(pot), show(ground), tuple(rules))
        i = self._doy
        said = (
            f"{temperature(float(low[i]), self.units)} to {temperature(float(high[i]), self.units)} in the air, "
            f"{temperature(float(ground[i]), self.units)} in the ground"
        )
        return Strip(
            "Warmth", said, warmth_scene(self.axis, self.today, curves, words=f"Warmth through the year: {said}")
        )

    def _worth(self, plant: Plant) -> Strip:
        strips = [
            ("pot-line", "pot", units_per_day(BARE_POT, self.climate, plant.cardinals)),
            ("ground-line", "ground", units_per_day(OPEN_GROUND, self.climate, plant.cardinals)),
        ]
        if self.cover:
            strips.insert(0, ("cover-line", "under cover", units_per_day(self.cover, self.climate, plant.cardinals)))
        i = self._doy
        pot, ground = float(strips[-2][2][i]), float(strips[-1][2][i])
        name = plant.name.lower()
        said = f"for {name}, a pot gains {_times(pot, ground)}" if pot > 0.005 else f"too cold for {name} outdoors"
        words = f"What a day is worth to roots of {name}: {said}"
        return Strip("Worth to roots", said, worth_scene(self.axis, self.today, strips, words=words))

    def _daylight(self) -> Strip:
        hours = day_lengths(self.climate.latitude, self.climate.longitude)
        ends = (f"longest {_hours(float(hours.max()))}", f"shortest {_hours(float(hours.min()))}")
        said = f"{_hours(float(hours[self._doy]))} from sunrise to sunset"
        scene = daylight_scene(self.axis, self.today, hours, words=f"Daylight: {said}; {', '.join(ends)}", ends=ends)
        return Strip("Daylight", said, scene)

    def _risk(self) -> Strip:
        limit = self.climate.frost.threshold_c
        marks = self.safe_days(limit)
        said = self.frost_words(marks)
        scene = risk_scene(
            self.axis,
            self.today,
            frost_risk(self.climate, limit),
            accepted=self.accepted,
            marks=[(day, about(day, None)) for day in marks if day],
            words=f"Frost risk through the year: {said}",
        )
        return Strip("Frost risk", said, scene)

    def safe_days(self, limit_c: float) -> tuple[date | None, date | None]:
        """The days on which the accepted risk is met, in spring and in autumn, of the year on the axis."""
        spring, autumn = spring_frost(self.climate, limit_c), autumn_frost(self.climate, limit_c)
        return (
            self._position_day(spring.safe_after(self.accepted) if spring else None),
            self._position_day(autumn.safe_until(self.accepted) if autumn else None),
        )

    def _position_day(self, position: int | None) -> date | None:
        if position is None:
            return None
        at = int(garden_year_position(self.climate.normals, self._doy_of(self.axis.start)))
        return self.axis.start + timedelta(days=(position - at) % YEAR_DAYS)

    def frost_words(self, days: tuple[date | None, date | None]) -> str:
        """When the year is safe, in a sentence."""
        spring, autumn = days
        if spring is None and autumn is None:
            return "no frost to speak of"
        risk = sureness(self.accepted)
        after = f"after {about(spring, None)}" if spring else "from the turn of the year"
        until = f"until {about(autumn, None)}" if autumn else "to its end"
        return f"{risk} or less {after} and {until}"

    def _woods(self) -> list[Strip]:
        found = []
        for wood, name in WOODS:
            days = wood_in_season(self.climate, wood, stock_indoors=False)
            said = self._season_words(days)
            scene = phase_scene(self.axis, self.today, [(f"wood-{wood}", days)], words=f"{name}: {said}")
            found.append(Strip(name.capitalize(), said, scene))
        return found

    def _season_words(self, days: np.ndarray) -> str:
        if days.all():
            return "all year"
        if not days.any():
            return "never here"
        now = bool(days[self._doy])
        left = int(np.argmax(np.roll(days != now, -self._doy)))
        turn = about(self.today + timedelta(days=left), self.today)
        return f"now, until {turn}" if now else f"from {turn}"

    def gates(self, plants: list[Plant]) -> list[Strip]:
        """The gate of each plant."""
        found = []
        for plant in plants:
            windows = planting_windows(
                plant, self.climate, accepted_risk=self.accepted, start=self.axis.start, days=self.axis.days
            )
            ahead = next((window for window in windows if window.shuts >= self.today), None)
            said = "no season in open ground"
            if ahead and not ahead.opened_by and not ahead.shut_by:
                said = "open all year"
            elif ahead:
                lead = "open now, until" if ahead.opens <= self.today else f"opens {about(ahead.opens, self.today)}, to"
                said = f"{lead} {about(ahead.shuts, self.today)}"
            picture = RowPicture(0, f"{plant.name}: {said}", gates=tuple((w.opens, w.shuts) for w in windows))
            found.append(Strip(plant.name, said, soil_line(picture, self.axis, self.today, COMPACT)))
        return found

    def headline(self) -> str:
        """The year in one sentence."""
        season = growing_season(self.climate.normals)
        if season.days >= YEAR_DAYS:
            growing = "Things grow all year"
        elif season.days == 0:
            growing = "Nothing grows outdoors"
        else:
            start = _calendar(season.start, self.today.year)
            end = _calendar((season.start + season.days - 1) % YEAR_DAYS, self.today.year)
            growing = f"Things grow outdoors from {about(start, None)} to {about(end, None)}"
        days = self.safe_days(self.climate.frost.threshold_c)
        if days[0] is None:
            return f"{growing}; frost is not to be reckoned with."
        return f"{growing}; frost risk is {self.frost_words(days)}."

    def freezes(self, threshold_c: float) -> tuple[FreezeCount | None, list[FreezeSheet]]:
        """Both ends of the frosts at a threshold, counted where there are records."""
        counted = None
        if self.climate.daily_records:
            counted = count_freezes(self.climate.daily_records, threshold_c, midsummer(self.climate.normals))
        sheets = []
        for spring in (True, False):
            law = (spring_frost if spring else autumn_frost)(self.climate, threshold_c)
            if law is not None:
                sheets.append(self._freeze_sheet(law, counted, spring=spring))
        return counted, sheets

    def _freeze_sheet(self, law: FrostDates, counted: FreezeCount | None, *, spring: bool) -> FreezeSheet:
        turn = self._position_day(0) or self.axis.start
        axis = freeze_axis(law, turn)
        years = () if counted is None else counted.spring_years if spring else counted.autumn_years
        mean = about(turn + timedelta(days=round(law.mean_doy)), None)
        safe = law.safe_after(self.accepted) if spring else law.safe_until(self.accepted)
        safe_on = about(turn + timedelta(days=safe), None) if safe is not None else ""
        risk = sureness(self.accepted)
        end = "last of spring" if spring else "first of autumn"
        read = [year for year in years if not year.left_out]
        basis = f"Counted in {len(read)} years" if counted else "From the dates you gave"
        share = f", {in_ten(law.share_of_years_with_frost)} with frost" if law.share_of_years_with_frost < 1 else ""
        side = "after" if spring else "before"
        tail = f"; {risk} comes {side} {safe_on}" if safe_on else ""
        sentence = f"{basis}{share}: the {end} averages {mean}, give or take {days_words(round(law.sd_days))}{tail}."
        gone = [str(year.year) for year in years if year.left_out]
        picture = FreezePicture(tuple(years), law, self.accepted, spring)
        return FreezeSheet(
            title="Last frost of spring" if spring else "First frost of autumn",
            sentence=sentence,
            scene=freeze_scene(picture, axis, midwinter=turn, words=sentence, safe=f"{risk}: {safe_on}"),
            ruler=ruler_scene(axis, self.today, day_words=lambda day: about(day, None)),
            left_out=f"Left out for gaps near the date: {', '.join(gone[:12])}." if gone else "",
        )

    @property
    def _doy(self) -> int:
        return self._doy_of(self.today)

    @staticmethod
    def _doy_of(day: date) -> int:
        return doy0(day)


def _calendar(doy: int, year: int) -> date:
    """A day of an ordinary year as a date."""
    plain = date(2027, 1, 1) + timedelta(days=doy)
    return plain.replace(year=year)


def _hours(hours: float) -> str:
    whole, minutes = divmod(round(hours * 60), 60)
    return f"{whole} h {minutes:02}"


def _times(pot: float, ground: float) -> str:
    if ground < 0.005:
        return "something already, the ground nothing yet"
    return f"{pot / ground:.1f} times what the ground does today"
