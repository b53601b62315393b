"""Files of daily readings, in the shapes people have them."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.climate.records import records_of
from elder.engine.refusal import Refusal
from elder.web.formats.daily import from_bytes, read_daily, to_bytes
from elder.web.formats.dates import read_dates
from elder.web.formats.reading import ReadOptions
from tests.readings import read, text_of

FIRST = date(2019, 1, 1)
DAYS = 500
LOW = [round(4 - 9 * np.cos(2 * np.pi * i / 365.25) + (i * 7 % 11) / 10, 1) for i in range(DAYS)]
HIGH = [round(low + 8 + (i * 5 % 7) / 10, 1) for i, low in enumerate(LOW)]
ROWS = [(FIRST + timedelta(days=i), LOW[i], HIGH[i]) for i in range(DAYS)]


def fahrenheit(celsius: float) -> float:
    return round(celsius * 1.8 + 32, 2)


def comma(value: float) -> str:
    return str(value).replace(".", ",")


SHAPES = {
    "plain": "date,tmin,tmax\n" + "\n".join(f"{d},{a},{b}" for d, a, b in ROWS),
    "order turned": "TMAX;Date;TMIN\n" + "\n".join(f"{b};{d};{a}" for d, a, b in ROWS),
    "decimal commas": "Datum;Min. Temp (°C);Max. Temp (°C)\n"
    + "\n".join(f"{d:%d.%m.%Y};{comma(a)};{comma(b)}" for d, a, b in ROWS),
    "tabs and times": "time\ttemperature_2m_min (°C)\ttemperature_2m_max (°C)\n"
    + "\n".join(f"{d}T00:00\t{a}\t{b}" for d, a, b in ROWS),
    "month first": "Day,Low (F),High (F)\n"
    + "\n".join(f"{d.month}/{d.day}/{d.year},{fahrenheit(a)},{fahrenheit(b)}" for d, a, b in ROWS),
    "fahrenheit by size": "date,low,high\n" + "\n".join(f"{d},{fahrenheit(a)},{fahrenheit(b)}" for d, a, b in ROWS),
    "three columns of date": "Year Month Day Tmin Tmax\n"
    + "\n".join(f"{d.year} {d.month} {d.day} {a} {b}" for d, a, b in ROWS),
    "named months": "date|minimum temperature|maximum temperature\n"
    + "\n".join(f"{d:%d %b %Y}|{a}|{b}" for d, a, b in ROWS),
    "a preamble": "Station Quenby Sound\n# invented\n\nyyyymmdd,tn,tx\n"
    + "\n".join(f"{d:%Y%m%d},{a},{b}" for d, a, b in ROWS),
    "no heading": "\n".join(f"{d},{a},{b}" for d, a, b in ROWS),
    "quoted": '"STATION","DATE","TMAX","TMIN"\n' + "\n".join(f'"XX1","{d}","{b}","{a}"' for d, a, b in ROWS),
}


def dly_lines(element: str, values: list[float]) -> list[str]:
    """GHCN-Daily lines: eleven signs of station, year, month, element, then 31 times value and three flags."""
    months: dict[tuple[int, int], dict[int, float]] = {}
    for (day, _, _), value in zip(ROWS, values, strict=True):
        months.setdefault((day.year, day.month), {})[day.day] = value
    lines = []
    for (year, month), by_day in months.items():
        cells = "".join(f"{round(by_day[d] * 10):5d}   " if d in by_day else "-9999   " for d in range(1, 32))
        lines.append(f"XXM00001234{year}{month:02}{element}{cells}")
    return lines


DLY = "\n".join([*dly_lines("TMAX", HIGH), *dly_lines("PRCP", HIGH), *dly_lines("TMIN", LOW)])
BY_STATION = "\n".join(
    f"XXM00001234,{day:%Y%m%d},{element},{round(value * 10)},,,S,"
    for day, low, high in ROWS
    for element, value in (("TMAX", high), ("PRCP", 3), ("TMIN", low))
)


@pytest.mark.parametrize("text", [*SHAPES.values(), DLY, BY_STATION], ids=[*SHAPES, "GHCN dly", "GHCN by station"])
def test_every_shape_reads_the_same(text: str) -> None:
    found = read(text)
    assert len(found.records) == DAYS
    assert found.records.first == FIRST
    assert found.records.low == pytest.approx(LOW, abs=0.051)
    assert found.records.high == pytest.approx(HIGH, abs=0.051)
    assert (found.refused, found.suspects, found.gaps) == ((), (), ())


def test_readings_in_the_wild() -> None:
    # aquacrop's Brussels file: tabs, three columns of date, its own headings.
    found = read(text_of("brussels.txt.gz"))
    assert len(found.records) == 10_958
    assert dict(found.understood)["Unit"] == "°C"
    assert found.refused == ()


TWO_TOWNS = "location,date,temp_max,temp_min\n" + "\n".join(
    f"{town},{d},{b + warmer},{a + warmer}" for town, warmer in (("Quenby", 0), ("Marram", 9)) for d, a, b in ROWS
)
TWO_STATIONS = "\n".join([BY_STATION, BY_STATION.replace("XXM00001234", "XXM00009999")])
TWO_DLY = "\n".join([DLY, DLY.replace("XXM00001234", "XXM00009999")])


@pytest.mark.parametrize(
    ("text", "name"), [(TWO_TOWNS, "Quenby"), (TWO_STATIONS, "XXM00001234"), (TWO_DLY, "XXM00001234")]
)
def test_two_stations_are_two_climates(text: str, name: str) -> None:
    found = read(text)
    assert dict(found.understood)["Station"] == f"{name}; 1 other in the file left out"
    assert found.records.low == pytest.approx(LOW, abs=0.051)
    assert found.refused == ()


def with_line(line: str, at: int = 40) -> str:
    lines = SHAPES["plain"].splitlines()
    return "\n".join([*lines[:at], line, *lines[at:]])


@pytest.mark.parametrize(
    ("line", "why"),
    [
        ("2019-02-09,45,12", "the minimum lies above the maximum"),
        ("2019-02-09,-300,12", "a temperature that cannot be"),
        ("2019-02-31,1,12", "no date that can be read"),
        ("yesterday,1,12", "no date that can be read"),
        ("2019-01-05,1,12", "the same day a second time"),
        ("2021-02-09,,NA", "no temperatures"),
        ("2019-02-09", "too few columns"),
        ("2199-02-09,1,12", "a day that is still to come"),
    ],
)
def test_refused_lines_say_where_and_why(line: str, why: str) -> None:
    found = read(with_line(line))
    assert [(row.line, row.why) for row in found.refused] == [(41, why)]
    assert len(found.records) == DAYS


def test_a_missing_end_of_a_day_is_no_refusal() -> None:
    found = read(with_line("2020-06-09,7.5,"))
    assert found.refused == ()
    assert np.isnan(found.records.high[-1])


def test_minus_72_beside_92_is_suspect() -> None:
    # In °F both are readings some thermometer has shown; together, on a March day, they are not believed.
    rows = SHAPES["fahrenheit by size"].splitlines()
    text = "\n".join("2019-03-20,-72,92" if row.startswith("2019-03-20") else row for row in rows)
    found = read(text)
    assert {(row.day, row.which) for row in found.suspects} == {(date(2019, 3, 20), "low"), (date(2019, 3, 20), "high")}
    at = (date(2019, 3, 20) - FIRST).days
    assert np.isnan(found.records.low[at])
    kept = read(text, keep_suspects=True)
    assert kept.records.low[at] == pytest.approx(-57.78, abs=0.01)


def test_gaps_are_listed() -> None:
    lines = SHAPES["plain"].splitlines()
    found = read("\n".join([*lines[:100], *lines[125:]]))
    assert found.gaps == ((FIRST + timedelta(days=99), FIRST + timedelta(days=123)),)


def test_failed_quality_is_refused_with_its_line() -> None:
    bad = BY_STATION.splitlines()
    at = next(i for i, line in enumerate(bad) if "20190110,TMIN" in line)
    bad[at] = bad[at].replace(",,,S,", ",,X,S,")
    found = read("\n".join(bad))
    assert [(row.line, row.why) for row in found.refused] == [(at + 1, "marked as failed by its own source")]


def test_the_person_may_say_what_the_file_does_not() -> None:
    short = "date,low,high\n" + "\n".join(f"{d:02}/0{m}/2020,{20 + d},{30 + d}" for m in (1, 2) for d in (1, 5, 9))
    assert read(short).order_unsure
    assert read(short, order="dmy").records.first == date(2020, 1, 1)
    assert read(short, order="mdy").records.last == date(2020, 9, 2)
    assert read(short, unit="F").records.high[0] == pytest.approx(-0.56, abs=0.01)


@pytest.mark.parametrize("text", ["", "hello", "a,b,c\n1,2,3\n4,5,6", "date,tmin,tmax\n", "\x7f\x80" * 50])
def test_what_is_no_table_is_refused(text: str) -> None:
    found = read_daily(text)
    assert isinstance(found, Refusal)
    assert found.field == "file"


@given(st.text(max_size=400))
def test_nothing_typed_breaks_it(text: str) -> None:
    read_daily(text)
    read_daily("date,tmin,tmax\n" + text, ReadOptions(unit="F", order="mdy"))


@given(
    st.lists(
        st.tuples(st.integers(1, 400), st.none() | st.integers(-800, 500), st.none() | st.integers(-800, 500)),
        min_size=1,
        max_size=40,
    )
)
def test_records_come_back_as_they_were_written(steps: list[tuple[int, int | None, int | None]]) -> None:
    ordinals = np.cumsum([700_000, *(step for step, _, _ in steps)])[1:]
    low, high = (
        np.array([np.nan if v is None else v / 10 for v in column]) for column in list(zip(*steps, strict=True))[1:]
    )
    records = records_of(ordinals, low, high)
    assert from_bytes(b"".join(to_bytes(records)), len(records)) == records


def test_cut_short_records_are_an_error() -> None:
    with pytest.raises(ValueError, match="another length"):
        from_bytes(b"\0" * 15, 2)


@pytest.mark.parametrize(
    ("cells", "order"),
    [
        (["31/12/1999", "01/01/2000"], "dmy"),
        (["12/31/1999", "01/01/2000"], "mdy"),
        (["01/02/2020", "02/02/2020", "03/02/2020"], "dmy"),  # the days run on
        (["1/31/20", "2/1/20"], "mdy"),
        (["1999-12-31 23:00", "2000-01-01 23:00"], "ymd"),
    ],
)
def test_orders_of_dates(cells: list[str], order: str) -> None:
    read_as = read_dates(cells)
    assert (read_as.order, read_as.share) == (order, 1.0)
