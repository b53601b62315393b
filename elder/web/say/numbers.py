"""The numbers a drawing shows, as a table: for whoever cannot see it, or would rather read."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import groupby

import numpy as np

from elder.drawing.soil_line import RowPicture
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import MONTH_DAYS, MONTH_STARTS
from elder.engine.climate.daylight import day_lengths
from elder.engine.climate.frost_risk import frost_risk
from elder.engine.place.warmth import soil_mean
from elder.engine.place.weather import DayAhead
from elder.engine.plan.curve import CutDay
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.refusal import Refusal
from elder.web.read.wants import Reckoning
from elder.web.say.pictures import harvest_of
from elder.web.say.units import rain_sign, shown_rain, shown_temperature, temperature_sign
from elder.web.say.wants import row_words, want_words
from elder.web.say.words import MONTHS, NEARLY, about, day_words, in_ten, span_words

WORTH = {
    CutDay.CLOSED: "not to be cut",
    CutDay.EARLY: "early: long in the pot",
    CutDay.COMFORTABLE: "comfortable",
    CutDay.STRETCH: "a stretch",
}
ROOTING = (0.1, 0.9)  # of those that root: between these days roots are said to be likely
DID = {"potted": "Potted on", "hardening": "Put out to harden", "planted": "Planted out", "harvested": "First harvest"}


@dataclass(frozen=True)
class Numbers:
    """A table: what it is of, its columns, its rows."""

    caption: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


def curve_numbers(plan: SeasonPlan, today: date) -> Numbers:
    """How many to cut by the day of the cut, days alike together."""
    pairs = list(zip(plan.counts.tolist(), plan.standing.tolist(), strict=True))
    rows = []
    for (count, worth), run in groupby(enumerate(pairs), key=lambda item: item[1]):
        offsets = [i for i, _ in run]
        first, last = (plan.start + timedelta(days=offsets[at]) for at in (0, -1))
        rows.append((span_words(first, last, today), str(count) if count else "–", WORTH[CutDay(worth)]))
    return Numbers("How many to cut, by the day you cut", ("Cut on", "How many", "What the day is worth"), tuple(rows))


def row_numbers(picture: RowPicture, today: date) -> Numbers:
    """What a soil line shows, in the order of its days."""
    happened: list[tuple[date, str, str]] = [
        (cut.day, "Cut" if cut.taken else "Cut then", str(cut.count)) for cut in picture.cuts
    ]
    happened += [(day, "Roots seen", str(count)) for day, count in picture.roots_seen]
    happened += [(day, "Lost", str(count)) for day, count in picture.losses]
    happened += [(one.day, DID[one.kind], str(one.count) if one.count else "") for one in picture.happenings]
    happened += _outlook_rows(picture)
    for opens, shuts in picture.gates:
        happened += [(opens, "Planting opens", ""), (shuts, "Planting shuts", "")]
    if picture.target:
        happened.append((picture.target, "Wanted by", str(picture.wanted) if picture.wanted else ""))
    if picture.give_up:
        happened.append((picture.give_up, "Give up on what still waits", ""))
    if picture.harvest:
        happened.append((picture.harvest, "First harvest, expected", ""))
    happened.sort(key=lambda row: row[0])
    rows = tuple((day_words(day, today), what, count) for day, what, count in happened)
    return Numbers("The line in numbers", ("Day", "What", "How many"), rows)


def _outlook_rows(picture: RowPicture) -> list[tuple[date, str, str]]:
    """When roots are likely, and how many stand ready on a few days on the way."""
    outlook = picture.outlook
    if outlook is None:
        return []
    rows = []
    rooted = np.cumsum(outlook.rooting)
    if len(rooted) and rooted[-1] > 0:
        early, late = (int(np.searchsorted(rooted, share * rooted[-1])) for share in ROOTING)
        rows += [
            (outlook.start + timedelta(days=early), "Roots likely from", ""),
            (outlook.start + timedelta(days=late), "Roots likely until", ""),
        ]
    if len(outlook.at):
        for share in (0.25, 0.5, 0.75, 1.0):
            i = min(int(share * len(outlook.at)), len(outlook.at) - 1)
            low, high = round(float(outlook.low[i])), round(float(outlook.high[i]))
            between = f"about {round(float(outlook.expected[i]))}" + (f", {low} to {high}" if low < high else "")
            rows.append((outlook.start + timedelta(days=int(outlook.at[i])), "Ready, expected", between))
    return rows


def season_numbers(reckonings: Iterable[Reckoning], today: date) -> Numbers:
    """Every want of a season: what it says, when it may be planted, when it first gives."""
    rows = []
    for one in reckonings:
        said = row_words(one)
        ahead = next((w for w in one.windows if w.shuts >= today), None)
        planting = span_words(ahead.opens, ahead.shuts, today) if ahead else "–"
        harvest = harvest_of(one)
        cut = ", ".join(f"{b.state.taken} on {about(b.state.taken_on, today)}" for b in one.batches)
        if not cut and not isinstance(one.plan, Refusal) and one.option:
            cut = f"{one.option.count}, {about(one.option.day, today)}"
        name, says = want_words(one.row, one.plant.name), f"{said.strong} {said.rest}".strip()
        rows.append((name, says, cut or "–", planting, about(harvest, today) if harvest else "–"))
    heads = ("Want", "It stands", "Cut", "Planting open", "First harvest")
    return Numbers("Every want", heads, tuple(rows))


def nights_numbers(ahead: Sequence[DayAhead], today: date, units: str) -> Numbers:
    """The days ahead: low, high and rain of each."""
    sign = temperature_sign(units)
    rows = tuple(
        (
            day_words(day.day, today),
            f"{shown_temperature(day.low_c, units):.0f}".replace("-", "−"),
            f"{shown_temperature(day.high_c, units):.0f}".replace("-", "−"),
            shown_rain(day.rain_mm, units),
        )
        for day in ahead
    )
    return Numbers("Nights ahead", ("Day", f"Low, {sign}", f"High, {sign}", f"Rain, {rain_sign(units)}"), rows)


def year_numbers(climate: Climate, units: str) -> Numbers:
    """The garden's year by month: nights, days, ground, daylight and frost risk in the middle of each."""
    hours = day_lengths(climate.latitude, climate.longitude)
    risk, ground = frost_risk(climate, climate.frost.threshold_c), soil_mean(climate)
    rows = []
    for month, name in enumerate(MONTHS):
        middle = int(MONTH_STARTS[month] + MONTH_DAYS[month] // 2)
        degrees = (climate.normals.t_min[month], climate.normals.t_max[month], float(ground[middle]))
        minutes = round(60 * float(hours[middle]))
        rows.append(
            (
                name,
                *(f"{shown_temperature(value, units):.1f}".replace("-", "−") for value in degrees),
                f"{minutes // 60}:{minutes % 60:02}",
                _risk(float(risk[middle])),
            )
        )
    sign = temperature_sign(units)
    heads = ("Month", f"Nights, {sign}", f"Days, {sign}", f"Ground, {sign}", "Daylight", "Frost risk mid-month")
    return Numbers("The year by month", heads, tuple(rows))


def _risk(risk: float) -> str:
    return "hardly any" if risk < 0.015 else "nearly certain" if risk >= NEARLY else in_ten(risk)
