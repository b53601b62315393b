"""What the possible years say on the pages: the nights of ten winters, and dates that do not fit their temperatures."""

from __future__ import annotations

from typing import Any

import pytest
from bs4 import BeautifulSoup
from django.test import Client
from django.urls import reverse

from elder.engine.climate.frost_fit import solved
from elder.web.read.gardens import climate_of
from tests.web.reading import named, read, words


def garden_page(owner: Client, garden: Any) -> BeautifulSoup:
    return read(owner.get(reverse("garden", args=[garden.pk])))


def told(page: BeautifulSoup) -> list[str]:
    return [words(one) for one in page.select(".room-full")]


def test_dates_that_fit_need_no_word(owner: Client, garden: Any) -> None:
    assert told(garden_page(owner, garden)) == []


def test_a_date_that_hardly_fits_says_what_nights_would_have_to_be(owner: Client, garden: Any) -> None:
    garden.last_frost_mean, garden.last_frost_late = 150, 165
    garden.save()
    colder = -solved(climate_of(garden)).spring.shift_c
    assert colder > 1
    (said,) = told(garden_page(owner, garden))
    assert said == (
        "The last frost of spring and your temperatures hardly fit each other: nights would have to be "
        f"{colder:.1f} °C colder than you said, and vary more from year to year than is usual. "
        "Elder goes by the date; look at both again."
    )


def test_a_missing_date_is_asked_for(owner: Client, garden: Any) -> None:
    garden.first_frost_mean = garden.first_frost_early = None
    garden.save()
    (said,) = told(garden_page(owner, garden))
    assert said == (
        "By your temperatures most years have frost, but no first frost of autumn is given. "
        "Give it, with its one year in ten."
    )


@pytest.mark.parametrize(
    ("units", "usual", "rare", "off"), [("metric", "−6 °C", "−8 °C", "2 °C"), ("us", "21 °F", "18 °F", "4 °F")]
)
def test_the_almanac_says_the_lowest_night_of_a_winter(
    owner: Client, garden: Any, units: str, usual: str, rare: str, off: str
) -> None:
    # Milder than the worked example's −8.3 and −10.6: its frosts stop earlier, so nights need not spread as wide.
    owner.post(reverse("habits"), {"units": units, "theme": "system"})
    page = read(owner.get(reverse("almanac", args=[garden.pk])))
    rows = {words(row.select_one(".row-name")): row for row in named(page, "The year").select(".board-row")[1:]}
    assert words(rows["Nights"].select_one(".board-label > span")) == (
        f"the lowest of a winter is about {usual}, in one winter of ten {rare} or less, in 400 possible years, "
        f"give or take {off}; the band holds 8 nights of 10"
    )
    assert rows["Nights"].select_one(".night-fan")
