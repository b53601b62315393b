"""Files of loggers, in the shapes people have them."""

from __future__ import annotations

from datetime import datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.place.readings import Reading, by_hour
from elder.engine.refusal import Refusal
from elder.web.formats.logger import ReadLog, read_log, readings_from_bytes, readings_to_bytes

ZONE = "Europe/London"
AMERICAN = """"No.","Date Time, GMT+00:00","Temp, °C","RH, %"
1,03/12/2027 06:15:00 AM,18.5,55
2,03/13/2027 06:15:00 AM,18.5,55
"""
JSON = """{"form": "elder bench readings 1",
"readings": [{"time": "2027-03-12T06:15+00:00", "temperature_c": 18.5, "humidity_pct": null}]}"""


def read(text: str, zone: str = ZONE) -> ReadLog:
    found = read_log(text, zone)
    assert isinstance(found, ReadLog), found
    return found


def at(stamp: str) -> datetime:
    return datetime.fromisoformat(stamp)


@pytest.mark.parametrize(
    ("text", "celsius", "humidity"),
    [
        ("time,temperature_c,humidity_pct\n2027-03-12T06:15+00:00,18.5,55\n", 18.5, 55),
        ("Time,Temp (°F)\n2027-03-12 06:15,65.3\n", 18.5, None),
        ("Date;Time;Temperatur;Feuchte %rH\n12.03.2027;06:15;18,5;55\n13.03.2027;06:15;18,5;55\n", 18.5, 55),
        (AMERICAN, 18.5, 55),
        ("serial 12\nmodel x\ntimestamp\tcelsius\trh\n2027-03-12T06:15:00Z\t18.5\t55\n", 18.5, 55),
        (JSON, 18.5, None),
    ],
    ids=["own", "fahrenheit", "decimal-comma", "american", "tabs", "json"],
)
def test_the_first_reading_of_many_shapes(text: str, celsius: float, humidity: float | None) -> None:
    first = read(text).readings[0]
    assert first.at == at("2027-03-12T06:15")
    assert first.celsius == pytest.approx(celsius)
    assert (humidity is None and np.isnan(first.humidity)) or first.humidity == humidity


@pytest.mark.parametrize(
    ("stamp", "zone", "expected"),
    [
        ("2027-07-01T12:00Z", "Europe/London", "2027-07-01T13:00"),
        ("2027-07-01T12:00+09:30", "Australia/Adelaide", "2027-07-01T12:00"),
        ("2027-01-01T23:30-0500", "Europe/London", "2027-01-02T04:30"),
        ("2027-07-01 12:00", "Australia/Adelaide", "2027-07-01T12:00"),
        ("2027-07-01 12:05:30 PM", "Europe/London", "2027-07-01T12:05"),
        ("2027-07-01 12:05 AM", "Europe/London", "2027-07-01T00:05"),
    ],
)
def test_times_with_an_offset_become_the_gardens_own(stamp: str, zone: str, expected: str) -> None:
    assert read(f"time,temperature_c\n{stamp},20\n", zone).readings[0].at == at(expected)


def test_fahrenheit_is_told_by_size_where_no_name_says_so() -> None:
    assert read("time,temp\n2027-03-12 06:00,68\n2027-03-12 07:00,70\n").readings[0].celsius == pytest.approx(20)
    assert read("time,temp\n2027-03-12 06:00,20\n").readings[0].celsius == 20


def test_refused_lines_are_named_by_number() -> None:
    found = read("time,temp,rh\n2027-03-12 06:00,20,50\nnever,20,50\n2027-03-12 07:00,,50\n2027-03-12 08:00\n")
    assert [row.line for row in found.refused] == [3, 4, 5]
    assert len(found.readings) == 1


@pytest.mark.parametrize("text", ["", "hello", "a,b\n1,2", "{not json", '{"readings": [{"time": 5}]}'])
def test_what_is_no_log(text: str) -> None:
    assert isinstance(read_log(text, ZONE), Refusal)


@given(st.text(max_size=200))
def test_no_text_breaks_the_reader(text: str) -> None:
    assert isinstance(read_log(text, ZONE), ReadLog | Refusal)
    assert isinstance(read_log("time,temperature\n" + text, ZONE), ReadLog | Refusal)


def test_hours_are_kept_to_a_tenth_and_holes_stay_holes() -> None:
    found = by_hour([Reading(at("2027-03-12T06:15"), 18.46, float("nan")), Reading(at("2027-03-14T23:59"), -3.0, 99)])
    back = readings_from_bytes(readings_to_bytes(found), len(found))
    assert back.ordinals.tolist() == found.ordinals.tolist()
    assert back.celsius[0, 6] == 18.5
    assert np.isnan(back.humidity[0, 6])
    assert back.celsius[1, 23] == -3.0
    assert np.isfinite(back.celsius).sum() == 2
    with pytest.raises(ValueError, match="length"):
        readings_from_bytes(b"12345", 1)
