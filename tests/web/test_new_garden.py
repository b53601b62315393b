"""A new garden: from a town and four figures, a table, a file or month by month; frost dates known or guessed."""

from __future__ import annotations

from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from elder.engine.climate.climate import Climate
from elder.engine.climate.first_guess import guessed_frosts
from elder.web.garden.models import Garden, Household, Membership, Person
from elder.web.read.gardens import climate_of
from elder.web.say.words import MONTHS
from tests.engine.conftest import T_MAX, T_MIN
from tests.factories import PersonFactory
from tests.readings import text_of

BRUSSELS = text_of("brussels.txt.gz")
FOUR = {"way": "four", "cold_night": "1", "cold_day": "7", "warm_night": "13", "warm_day": "22"}


def garden_data(**given: Any) -> dict[str, Any]:
    data: dict[str, Any] = {
        "name": "Dune End",
        "latitude": 52,
        "longitude": 4,
        "elevation_m": 2,
        "timezone": "Europe/London",
    }
    data |= {f"t_min_{m}": T_MIN[m] for m in range(12)} | {f"t_max_{m}": T_MAX[m] for m in range(12)}
    data |= {"last_frost_mean": "11 Apr", "last_frost_late": "2 May", "first_frost_mean": "16 November"}
    return {**data, "first_frost_early": "Oct 27", "accepted_risk": "0.1", **given}


@pytest.fixture
def alone(db: None, client: Client) -> Client:
    """Someone with a household and no garden yet."""
    person: Any = PersonFactory()
    Membership.objects.create(household=Household.objects.create(name="h"), person=person, role="owner")
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    return client


def test_a_new_garden_can_be_wanted_in_at_once(alone: Client) -> None:
    assert alone.get(reverse("home")).url == reverse("garden-new")  # type: ignore[attr-defined]
    answer = alone.post(reverse("garden-new"), garden_data())
    garden = Garden.objects.get()
    assert answer.url == reverse("season", args=[garden.pk])  # type: ignore[attr-defined]
    assert (garden.last_frost_mean, garden.first_frost_early) == (100, 299)
    assert isinstance(climate_of(garden), Climate)
    assert alone.get(reverse("want-new", args=[garden.pk])).status_code == 200


@pytest.mark.parametrize(
    ("given", "sentence"),
    [
        ({"last_frost_mean": "soonish"}, "That is no day Elder can read. Write it like 30 Apr, or end of April."),
        ({"last_frost_mean": ""}, "Give the average too, or neither."),
        ({"last_frost_late": "1 Apr"}, "This day is later in spring than the average."),
        ({"first_frost_early": "1 Dec"}, "This day is earlier in autumn than the average."),
        ({"latitude": ""}, "Degrees, such as 52.6."),
        ({"latitude": "", "longitude": ""}, "A town, or degrees such as 52.6, −4.1."),
        ({"latitude": "", "longitude": "", "where": "Qwzzjkx"}, "Elder knows no town like “Qwzzjkx”."),
        ({"way": "table", "table": "wet"}, "Elder finds no lowest and highest of twelve months in it."),
        ({"way": "table"}, "Paste a table here."),
        ({"way": "file"}, "Choose a file."),
        ({"way": "four", "cold_night": "1"}, "Needed."),
        (FOUR | {"warm_night": "0"}, "Its nights are colder than the coldest month’s."),
        (FOUR | {"warm_day": "2"}, "Its days are colder than its nights."),
        (FOUR | {"coldest": "6", "warmest": "6"}, "The coldest and the warmest are one month."),
        ({"t_min_2": "", "t_max_3": ""}, "Still missing: Mar lowest and Apr highest."),
        (
            {f"t_min_{month}": "" for month in range(12)},
            "12 of the 24 temperatures are still missing; they are marked.",
        ),
        ({"t_min_6": "99"}, "no temperature of a garden"),
        ({"t_min_6": "25"}, "The lowest lies above the highest."),
        ({"timezone": "Atlantis/Deep"}, "Write a time zone such as"),
        ({"latitude": "95"}, "less than or equal to 90"),
    ],
)
def test_a_garden_that_cannot_be(alone: Client, given: dict[str, str], sentence: str) -> None:
    answer = alone.post(reverse("garden-new"), garden_data(**given))
    assert answer.status_code == 200
    assert sentence in answer.content.decode()
    assert 'value="Dune End"' in answer.content.decode()
    assert Garden.objects.count() == 0


def test_a_blank_garden_is_asked_for_once(alone: Client) -> None:
    page = alone.post(reverse("garden-new"), {"way": "months"}).content.decode()
    assert page.count("All 24 are still missing: a lowest and a highest for each month.") == 1
    assert page.count('aria-describedby="months-missing"') == 24
    assert page.count("Needed.") == 0
    assert "This field is required" not in page


def test_frost_days_are_read_as_people_write_them(alone: Client) -> None:
    Person.objects.update(units="us")
    days = {"last_frost_mean": "4/11", "last_frost_late": "early May", "first_frost_mean": "16. 11."}
    alone.post(reverse("garden-new"), garden_data(**days, first_frost_early="27th of October"))
    garden = Garden.objects.get()
    assert (garden.last_frost_mean, garden.last_frost_late) == (100, 124), "11 Apr and 5 May from 0"
    assert (garden.first_frost_mean, garden.first_frost_early) == (319, 299), "16 Nov and 27 Oct"


def test_a_frost_free_garden(alone: Client) -> None:
    none = dict.fromkeys(("last_frost_mean", "last_frost_late", "first_frost_mean", "first_frost_early"), "")
    warm = {f"t_min_{m}": 15 for m in range(12)} | {f"t_max_{m}": 24 for m in range(12)}
    alone.post(reverse("garden-new"), garden_data(**none, **warm))
    assert climate_of(Garden.objects.get()).frost.spring is None


def test_blank_frost_dates_are_guessed_and_kept_as_a_guess(alone: Client) -> None:
    none = dict.fromkeys(("last_frost_mean", "last_frost_late", "first_frost_mean", "first_frost_early"), "")
    alone.post(reverse("garden-new"), garden_data(**none))
    garden = Garden.objects.get()
    guess = guessed_frosts(climate_of(garden).normals)
    assert (garden.last_frost_mean, garden.first_frost_early) == (guess[0].mean_doy, guess[1].extreme_doy)  # type: ignore[union-attr]
    assert (garden.frost_guessed, garden.months_guessed) == (True, False)
    said = "Its frost dates are guessed from its months, and may be two weeks off."
    edit = reverse("garden-edit", args=[garden.pk])
    assert said in alone.get(reverse("garden", args=[garden.pk])).content.decode()
    # asked for on the climate's own page, and no guess any more once somebody has changed them
    answer = alone.post(edit, garden_data(**none))
    asked = "By these temperatures most years have frost. Give both days, as you know them."
    assert answer.context["form"].errors == {"last_frost_mean": [asked], "first_frost_mean": [asked]}
    alone.post(edit, garden_data())
    garden.refresh_from_db()
    assert (garden.frost_guessed, garden.last_frost_mean) == (False, 100)
    assert said not in alone.get(reverse("garden", args=[garden.pk])).content.decode()


def test_one_frost_date_brings_its_one_year_in_ten(alone: Client) -> None:
    alone.post(reverse("garden-new"), garden_data(last_frost_late=""))
    garden = Garden.objects.get()
    guess = guessed_frosts(climate_of(garden).normals)[0]
    assert guess is not None
    assert garden.last_frost_late == 100 + guess.extreme_doy - guess.mean_doy
    assert garden.frost_guessed
    # In autumn the one year in ten lies before the average.
    alone.post(reverse("garden-new"), garden_data(first_frost_early=""))
    other = Garden.objects.latest("pk")
    autumn = guessed_frosts(climate_of(other).normals)[1]
    assert autumn is not None
    assert (other.first_frost_mean, other.first_frost_early) == (319, 319 + autumn.extreme_doy - autumn.mean_doy)
    assert autumn.extreme_doy < autumn.mean_doy


def test_a_garden_from_a_town_and_four_figures(alone: Client) -> None:
    """Porthmadog lies at 52.93 N, 4.13 W (any atlas); 1, 7, 13 and 22 °C are given back by January and July."""
    page = alone.get(reverse("garden-new-answer"), {"where": "porthmadoc", **FOUR}).content.decode()
    assert "Porthmadog, United Kingdom" in page
    assert "A first guess of the year, from four figures: its frosts may be two weeks off." in page
    alone.post(reverse("garden-new"), {"name": "By the quay", "where": "porthmadoc", **FOUR})
    garden = Garden.objects.get()
    assert (garden.latitude, garden.longitude, garden.timezone) == (52.93, -4.13, "Europe/London")
    assert (garden.t_min[0], garden.t_max[0], garden.t_min[6], garden.t_max[6]) == (1, 7, 13, 22)
    assert (garden.months_guessed, garden.frost_guessed) == (True, True)
    assert (garden.elevation_m, garden.accepted_risk, garden.look_every_days) == (0, 0.1, 3)


def test_of_towns_of_one_name_the_one_chosen_is_taken(alone: Client) -> None:
    given = {"name": "n", "where": "York", "town": "39.96, -76.73", **FOUR}
    alone.post(reverse("garden-new"), given)
    garden = Garden.objects.get()
    assert (garden.latitude, garden.timezone) == (39.96, "America/New_York")


def test_south_of_the_equator_july_is_the_coldest(alone: Client) -> None:
    alone.post(reverse("garden-new"), {"name": "n", "where": "34.9 S 138.6 E", **FOUR})
    garden = Garden.objects.get()
    assert (garden.t_min[6], garden.t_max[0], garden.timezone) == (1, 22, "Australia/Adelaide")


def test_a_garden_from_a_pasted_table(alone: Client) -> None:
    table = "\n".join(f"{name}\t{low}\t{high}" for name, low, high in zip(MONTHS, T_MIN, T_MAX, strict=True))
    alone.post(reverse("garden-new"), {"name": "n", "where": "52,4", "way": "table", "table": table})
    garden = Garden.objects.get()
    assert (garden.t_min, garden.t_max, garden.months_guessed) == (list(T_MIN), list(T_MAX), False)


def test_a_garden_from_a_file_goes_on_to_its_preview(alone: Client) -> None:
    sent = SimpleUploadedFile("brussels.txt", BRUSSELS.encode())
    given = {"name": "n", "where": "50.8, 4.35", "way": "file", "file": sent}
    answer = alone.post(reverse("garden-new"), given)
    garden = Garden.objects.get()
    assert answer.url == reverse("records-preview", args=[garden.pk])  # type: ignore[attr-defined]
    assert "10,958 days" in alone.get(answer.url).content.decode()  # type: ignore[attr-defined]
    assert not garden.records_digest, "only looked at until it is accepted"
    alone.post(answer.url, {"accept": "1"})  # type: ignore[attr-defined]
    garden.refresh_from_db()
    assert garden.records_digest


def test_temperatures_are_typed_and_shown_as_the_person_reads_them(alone: Client) -> None:
    Person.objects.update(units="us")
    warm = {f"t_min_{m}": 50 for m in range(12)} | {f"t_max_{m}": 68 for m in range(12)}
    alone.post(reverse("garden-new"), garden_data(**warm))
    garden = Garden.objects.get()
    assert (garden.t_min[0], garden.t_max[0]) == (10.0, 20.0)
    page = alone.get(reverse("garden-edit", args=[garden.pk])).content.decode()
    assert 'value="68.0"' in page
