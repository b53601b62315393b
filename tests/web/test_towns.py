"""Towns and degrees as people write them, against where any atlas has them; the time kept there."""

from __future__ import annotations

import pytest

from elder.web.garden.towns import nearest_town, read_degrees, timezone_at, towns_like
from elder.web.garden.where import find_spot


@pytest.mark.parametrize(
    ("typed", "first", "at"),
    [
        ("York", "York, United Kingdom", (53.96, -1.08)),
        ("York, PA", "York, PA, United States", (39.96, -76.73)),
        ("york, aus", "York, Australia", (-31.89, 116.77)),
        ("Koln", "Köln, Germany", (50.93, 6.95)),
        ("Cologne", "Köln, Germany", (50.93, 6.95)),
        ("porthmadoc", "Porthmadog, United Kingdom", (52.93, -4.13)),
        ("Reykjavik", "Reykjavík, Iceland", (64.14, -21.9)),
        ("adelaide", "Adelaide, Australia", (-34.93, 138.6)),
    ],
)
def test_a_town_is_found_by_its_name_or_nearly(typed: str, first: str, at: tuple[float, float]) -> None:
    town = towns_like(typed)[0]
    assert town.where == first
    assert (town.latitude, town.longitude) == at


def test_towns_of_one_name_come_before_those_that_only_begin_so_and_the_largest_first() -> None:
    found = towns_like("york", most=9)
    assert [town.name for town in found[:7]] == ["York"] * 7
    people = [town.people for town in found[:7]]
    assert people == sorted(people, reverse=True)
    assert found[7].name.startswith("York")
    assert found[7].name != "York"


@pytest.mark.parametrize("typed", ["", "x", "zzzzqq", ", France", "!!"])
def test_what_is_no_town_finds_none(typed: str) -> None:
    assert towns_like(typed) == []


@pytest.mark.parametrize(
    ("typed", "at"),
    [
        ("52.6, -4.1", (52.6, -4.1)),
        ("52.6 −4.1", (52.6, -4.1)),
        ("52°36′N 4°6′W", (52.6, -4.1)),
        ("N52 36.5' W4 06'", (52.6083, -4.1)),
        ("4.1 W, 52.6 N", (52.6, -4.1)),
        ("34°55′30″S, 138°36′E", (-34.925, 138.6)),
        ("York", None),
        ("52.6", None),
        ("95, 3", None),
        ("3, 181", None),
        ("52.6, -4.1 or so", None),
    ],
)
def test_degrees_are_read_as_people_write_them(typed: str, at: tuple[float, float] | None) -> None:
    assert read_degrees(typed) == at


def test_the_nearest_town_of_a_place() -> None:
    """Greenwich's observatory: 51.4779 N on the meridian; the town's middle lies 0.8 km off by haversine."""
    town, km = nearest_town(51.4779, 0.0015)
    assert town.name == "Greenwich"
    assert km == pytest.approx(0.83, abs=0.01)


@pytest.mark.parametrize(
    ("at", "zone"),
    [
        ((52.6, -4.1), "Europe/London"),
        ((-34.9, 138.6), "Australia/Adelaide"),
        ((36.1, -112.1), "America/Phoenix"),
        ((0.0, -30.0), "Etc/GMT+2"),
    ],
)
def test_the_time_kept_there(at: tuple[float, float], zone: str) -> None:
    assert timezone_at(*at) == zone


def test_degrees_go_before_a_town_and_half_of_them_are_asked_for() -> None:
    assert find_spot("York", "", (52.6, -4.1)).spot.latitude == 52.6  # type: ignore[union-attr]
    half = find_spot("York", "", (52.6, None))
    assert (half.spot, half.field) == (None, "longitude")
    assert find_spot("", "", (None, -4.1)).field == "latitude"
