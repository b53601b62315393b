"""The numbers behind each drawing, against the answers they are drawn from."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from bs4 import BeautifulSoup
from django.test import Client
from django.urls import reverse

from elder.drawing.cold_reach import Limit, Reach
from elder.drawing.soil_line import CutMark, Happening, RowPicture
from elder.drawing.widening import Rise
from elder.engine.batch.outlook import Outlook
from elder.engine.climate.daylight import day_length_h
from elder.engine.place.weather import DayAhead
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.shed.needs import Needed
from elder.engine.year.load import Stowed, Thing
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.read.asked import Weeks
from elder.web.read.gardens import climate_of
from elder.web.read.kit import kit_of
from elder.web.read.shed import ShedToday
from elder.web.read.stock import InShed
from elder.web.read.wants import reckon
from elder.web.say.numbers import curve_numbers, nights_numbers, row_numbers, year_numbers
from elder.web.say.numbers_year import reach_numbers, rise_numbers, stowed_numbers
from elder.web.say.words import about
from elder.web.shed.pages import level_numbers
from tests.engine.conftest import T_MAX, T_MIN

TODAY = date(2027, 3, 20)


def test_the_curve_tells_every_day_once(want: Any, garden: Garden) -> None:
    plan = reckon(want, garden, TODAY).plan
    assert isinstance(plan, SeasonPlan)
    rows = curve_numbers(plan, TODAY).rows
    runs = 1 + sum(
        (a, b) != (c, d)
        for a, b, c, d in zip(plan.counts[1:], plan.standing[1:], plan.counts[:-1], plan.standing[:-1], strict=True)
    )
    assert len(rows) == runs
    best = int(plan.counts[plan.index(plan.recommended)])
    assert [row for row in rows if row[1] == str(best) and row[2] == "comfortable"]
    assert all((row[1] == "–") == (row[2] == "not to be cut") for row in rows)


def test_a_line_tells_what_it_shows_in_the_order_of_its_days() -> None:
    day = [TODAY + timedelta(days=7 * i) for i in range(6)]
    picture = RowPicture(
        8,
        "",
        cuts=(CutMark(day[1], 11, taken=True),),
        gates=((day[4], day[5]),),
        target=day[4],
        roots_seen=((day[2], 4),),
        losses=((day[2], 1),),
        happenings=(Happening(day[3], "potted", 4),),
        harvest=day[5],
        give_up=day[3],
    )
    rows = row_numbers(picture, TODAY).rows
    assert [(what, count) for _, what, count in rows] == [
        ("Cut", "11"), ("Roots seen", "4"), ("Lost", "1"), ("Potted on", "4"), ("Give up on what still waits", ""),
        ("Planting opens", ""), ("Wanted by", "8"), ("Planting shuts", ""), ("First harvest, expected", ""),
    ]  # fmt: skip
    assert rows[0][0] == "Sat 27 Mar"


def test_what_is_expected_is_told_in_whole_plants() -> None:
    """Rooting 0, 1, 2, 1: a tenth of four by the second day, nine tenths by the fourth. Never a bare decimal."""
    at, expected = np.array([10, 20]), np.array([2.4, 5.6])
    outlook = Outlook(TODAY, np.array([0.0, 1.0, 2.0, 1.0]), at, expected, np.array([1.0, 6.0]), np.array([4.0, 6.0]))
    rows = row_numbers(RowPicture(0, "", outlook=outlook), TODAY).rows
    assert ("Sun 21 Mar", "Roots likely from", "") in rows
    assert ("Tue 23 Mar", "Roots likely until", "") in rows
    assert [count for _, what, count in rows if what == "Ready, expected"] == ["about 2, 1 to 4", *["about 6"] * 3]


def test_the_months_of_the_year_as_they_were_said(garden: Garden) -> None:
    """Nights and days are the garden's own; daylight of mid January and July at 52.6° N from astral, to the minute."""
    numbers = year_numbers(climate_of(garden), "metric")
    assert [row[1] for row in numbers.rows] == [f"{low:.1f}" for low in T_MIN]
    assert [row[2] for row in numbers.rows] == [f"{high:.1f}" for high in T_MAX]
    assert [row[5] for row in numbers.rows[::6]] == ["nearly certain", "hardly any"]
    hours = [day_length_h(52.6, -4.1, date(2027, month, 16)) for month in (1, 7)]
    assert [row[4] for row in numbers.rows[::6]] == [f"{round(60 * h) // 60}:{round(60 * h) % 60:02}" for h in hours]
    assert year_numbers(climate_of(garden), "us").rows[0][1] == f"{T_MIN[0] * 1.8 + 32:.1f}"


def test_the_nights_ahead() -> None:
    ahead = [
        DayAhead(TODAY, low_c=-1.4, high_c=9.6, rain_mm=2.4),
        DayAhead(TODAY + timedelta(days=1), low_c=3.0, high_c=12.0, rain_mm=0.0),
    ]
    numbers = nights_numbers(ahead, TODAY, "metric")
    assert numbers.heads == ("Day", "Low, °C", "High, °C", "Rain, mm")
    assert numbers.rows == (("Sat 20 Mar", "−1", "10", "2"), ("Sun 21 Mar", "3", "12", "0"))


@pytest.mark.parametrize("room", ["season", "almanac", "want", "batch", "round"])
def test_every_drawing_has_its_numbers_one_press_away(
    owner: Client, garden: Garden, want: Any, batch: Batch, room: str
) -> None:
    more = {"want": [want.pk], "batch": [batch.pk]}.get(room, [])
    page = BeautifulSoup(owner.get(reverse(room, args=[garden.pk, *more])).content, "html.parser")
    tables = page.select("details.numbers table")
    assert tables, room
    for table in tables:
        wide = len(table.select("thead th"))
        assert all(len(row.select("th, td")) == wide for row in table.select("tbody tr"))
    if room == "season":
        (row,) = tables[0].select("tbody tr")
        assert f"11 on {about(batch_day(batch), TODAY)}" in row.get_text()


def batch_day(batch: Batch) -> date:
    first: date = batch.entries.order_by("pk").values_list("on", flat=True)[0]
    return first


def test_the_colds_reach_tells_winters_and_limits_the_coldest_first() -> None:
    lows = np.linspace(-10.0, 0.0, 101)
    shown = Reach(lows, [Limit(-5.5, "Rosemary", False), Limit(2.0, "Basil", True)], ())
    assert reach_numbers(shown, "metric").rows == (
        ("One winter in ten, at the lowest", "−9", ""),
        ("Rosemary", "−6", "bears it"),
        ("One in two, at the lowest", "−5", ""),
        ("Nine in ten, at the lowest", "−1", ""),
        ("Basil", "2", "wants saving"),
    )
    assert [row[1] for row in reach_numbers(shown, "us").rows] == ["16", "22", "23", "30", "36"]


def test_a_line_that_widens_tells_each_day_on_which_more_come() -> None:
    rises = [Rise(TODAY, (2.0,), 2.0, 2.0), Rise(date(2027, 5, 1), (2.0, 7.6), 6.4, 11.0)]
    assert rise_numbers(rises, TODAY).rows == (("Sat 20 Mar", "2", "2 to 2"), ("Sat 1 May", "10", "6 to 11"))


def test_a_load_tells_where_each_thing_stands() -> None:
    stowed = [Stowed(Thing("a", "Fig", 30.0, 30.0, 40.0, 12.0), 10.0, 20.5, 30.0, 30.0)]
    assert stowed_numbers(stowed, "metric").rows == (("1. Fig", "10", "20", "30 × 30"),)
    assert stowed_numbers(stowed, "us").rows == (("1. Fig", "4", "8", "12 × 12"),)


def test_the_shed_tells_what_is_left_after_so_many_weeks(owner: Client, garden: Garden) -> None:
    weeks = Weeks(TODAY, 26)
    kit = kit_of(garden)
    pots = "vessel:litre"
    asked = np.array([0.0] + [4.0] * 25)
    held = InShed({pots: 10.0}, {pots: TODAY})
    shed = ShedToday(TODAY, weeks, kit, held, {pots: Needed(pots, asked, asked + 8.0 * (asked > 0))}, {})
    (row,) = level_numbers(shed, "metric").rows
    assert row[1:] == ("10", "10", "2 short (6)", "2 short (6)", "2 short (6)", "2 short (6)", "2 short (6)")
