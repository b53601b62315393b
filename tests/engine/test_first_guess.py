"""A year from four figures and frost dates from a year's months, against recorded stations and worked by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from elder.engine.climate import made_up_years
from elder.engine.climate.first_guess import FourFigures, guessed_frost, guessed_frosts, months_of, usual_months
from elder.engine.climate.frost_fit import LAW_YEARS
from elder.engine.climate.normals import Normals
from elder.engine.climate.records import monthly_means
from elder.web.formats.daily import ReadFile, read_daily
from tests.engine.conftest import T_MAX, T_MIN
from tests.readings import text_of


@pytest.fixture(scope="module")
def brussels() -> Normals:
    read = read_daily(text_of("brussels.txt.gz"))
    assert isinstance(read, ReadFile)
    means = monthly_means(read.records)
    assert means is not None
    return Normals(*means)


def _four(year: Normals) -> FourFigures:
    return FourFigures(year.t_min[0], year.t_max[0], year.t_min[6], year.t_max[6])


def _off(year: Normals) -> np.ndarray:
    drawn = months_of(_four(year))
    return np.array([*drawn.t_min, *drawn.t_max]) - np.array([*year.t_min, *year.t_max])


def test_the_four_figures_come_back() -> None:
    year = months_of(FourFigures(-3.2, 2.1, 14.4, 25.3))
    assert (year.t_min[0], year.t_max[0], year.t_min[6], year.t_max[6]) == (-3.2, 2.1, 14.4, 25.3)


def test_a_month_worked_by_hand() -> None:
    """April's nights: 3 − 0.45 months after January, half a cosine over six months, January and July at −0.45 and 5.55
    (which the year before's falling half has)."""
    april = (1 - math.cos(math.pi * 2.55 / 6)) / 2
    january = (1 - math.cos(math.pi * 0.45 / 6)) / 2
    july = (1 - math.cos(math.pi * 5.55 / 6)) / 2
    expected = round(1.0 + (april - january) / (july - january) * 12, 1)
    assert months_of(FourFigures(1, 7, 13, 22)).t_min[3] == expected == 5.6


def test_months_of_two_recorded_years(brussels: Normals) -> None:
    """Brussels 1976–2005, and the worked example's means: within what the module says of itself."""
    for year in (brussels, Normals(T_MIN, T_MAX)):
        off = _off(year)
        assert float(np.sqrt((off**2).mean())) < 0.63
        assert float(np.abs(off).max()) < 1.5


def test_frost_dates_of_recorded_months(brussels: Normals) -> None:
    """Brussels: last frost 97.9 on average, 120.3 one year in ten; first 319.9 and 302.8 (counted in its records by
    xclim). Guessed from its months alone the four lie within nine days; from four figures within two."""
    wanted = (97.9, 120.3, 319.9, 302.8)
    for year, within in ((brussels, 9), (months_of(_four(brussels)), 14)):
        spring, autumn = guessed_frosts(year)
        assert spring is not None
        assert autumn is not None
        guessed = (spring.mean_doy, spring.extreme_doy, autumn.mean_doy, autumn.extreme_doy)
        assert max(abs(a - b) for a, b in zip(guessed, wanted, strict=True)) < within


def test_a_warm_coast_has_no_frost() -> None:
    assert guessed_frosts(Normals((9.0,) * 12, (20.0,) * 12)) == (None, None)
    assert guessed_frost(months_of(FourFigures(8, 15, 17, 28)), "spring") is None


def test_frost_in_some_years_is_frost_all_the_same() -> None:
    """Nights of 5.5 °C in the coldest month freeze in about half of made-up winters: dates are given for those."""
    mild = months_of(FourFigures(5.5, 12, 16, 26))
    recipe = made_up_years.recipe_of(mild)
    nights = made_up_years.nights(recipe, made_up_years.noise(recipe, LAW_YEARS, 0), 0.0, 0.0)
    share = float((nights <= 0.0).any(axis=1).mean())
    assert 0.2 < share < 0.85
    assert guessed_frost(mild, "spring") is not None


def test_the_south_has_its_winter_in_july() -> None:
    assert usual_months(-34.9) == (6, 0)
    assert usual_months(52.6) == (0, 6)
    year = months_of(FourFigures(1, 12, 15, 28, coldest=6, warmest=0))
    assert int(np.argmin(year.t_min)) == 6
    spring = guessed_frost(year, "spring")
    assert spring is not None
    assert 200 < spring.mean_doy < 300, "August to October"


def test_months_that_are_not_half_a_year_apart() -> None:
    year = months_of(FourFigures(12, 24, 22, 38, coldest=0, warmest=4))
    assert (year.t_min[0], year.t_min[4]) == (12.0, 22.0)
    assert int(np.argmax(year.t_max)) == 4


@pytest.mark.parametrize(
    "wrong",
    [
        {"cold_night": 9.0, "cold_day": 8.0, "warm_night": 10.0, "warm_day": 20.0},
        {"cold_night": 1.0, "cold_day": 8.0, "warm_night": 0.0, "warm_day": 20.0},
        {"cold_night": 1.0, "cold_day": 8.0, "warm_night": 10.0, "warm_day": 7.0},
        {"cold_night": 1.0, "cold_day": 8.0, "warm_night": 10.0, "warm_day": 20.0, "coldest": 6},
    ],
)
def test_figures_that_cannot_be(wrong: dict[str, float]) -> None:
    with pytest.raises(ValueError, match=r"night|month"):
        FourFigures(**wrong)  # type: ignore[arg-type]
