"""Daily records: sent, looked at, accepted or not; the almanac and the frost dates that follow."""

from __future__ import annotations

import gzip
from datetime import date
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from elder.engine.climate.daylight import day_length_h
from elder.web.garden import records_forms
from elder.web.garden.actions import keep_records
from elder.web.garden.models import Garden, Records, RecordsDraft
from elder.web.read.gardens import climate_of
from tests.factories import GardenFactory, PlaceFactory
from tests.readings import southern, text_of
from tests.web.reading import read, table

BRUSSELS = text_of("brussels.txt.gz")


def send(client: Any, garden: Garden, data: bytes, name: str = "station.txt") -> Any:
    return client.post(reverse("records", args=[garden.pk]), {"file": SimpleUploadedFile(name, data)}, follow=True)


def fresh(garden: Garden) -> Garden:
    return Garden.objects.get(pk=garden.pk)


def test_nothing_is_kept_until_it_is_accepted(garden: Garden, owner: Any) -> None:
    before = fresh(garden)
    answer = send(owner, garden, BRUSSELS.encode())
    assert b"10,958 days" in answer.content
    assert b"the last frost averages 8 Apr, the first 16 Nov" in answer.content
    assert b"1 Jan 1976 to 31 Dec 2005" in answer.content
    assert (fresh(garden).t_min, fresh(garden).records_digest) == (before.t_min, "")
    assert not Records.objects.exists()
    answer = owner.post(reverse("records-preview", args=[garden.pk]), {"accept": 1}, follow=True)
    assert b"Kept. Frosts" in answer.content
    after = fresh(garden)
    assert after.t_min[0] == pytest.approx(0.73, abs=0.01)  # its January mean minimum
    assert climate_of(after).daily_records is not None
    assert not RecordsDraft.objects.exists()


def test_thrown_away_changes_nothing(garden: Garden, owner: Any) -> None:
    send(owner, garden, BRUSSELS.encode())
    owner.post(reverse("records-preview", args=[garden.pk]), {"discard": 1})
    assert not RecordsDraft.objects.exists()
    assert not Records.objects.exists()
    assert owner.get(reverse("records-preview", args=[garden.pk])).status_code == 404


def test_a_second_file_takes_the_firsts_place(garden: Garden, owner: Any) -> None:
    send(owner, garden, BRUSSELS.encode())
    send(owner, garden, text_of("seattle.csv.gz").encode(), "seattle.csv")
    assert [draft.name for draft in RecordsDraft.objects.all()] == ["seattle.csv"]


def test_what_was_refused_and_what_looks_wrong_is_listed(garden: Garden, owner: Any) -> None:
    lines = BRUSSELS.splitlines()
    lines[500] = lines[500].replace("\t", "\tx", 1)
    lines[900] = "\t".join([*lines[900].split("\t")[:3], "-57.8", "33.3"])
    lines[901] = "\t".join([*lines[901].split("\t")[:3], "30", "3"])
    page = send(owner, garden, "\n".join([*lines[:2000], *lines[2040:]]).encode()).content.decode()
    assert "no date that can be read" in page
    assert "line 501" in page
    assert "the minimum lies above the maximum" in page
    assert "line 901" in page
    assert "lowest −57.8 °C" in page
    assert "6 weeks" in page  # the gap of forty days


def test_what_the_file_does_not_say_can_be_said(garden: Garden, owner: Any) -> None:
    send(owner, garden, BRUSSELS.replace("(C)", "").encode())
    page = owner.post(reverse("records-preview", args=[garden.pk]), {"unit": "F"}).content.decode()
    assert "°F" in page
    assert RecordsDraft.objects.get().options["unit"] == "F"


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "That file is empty."),
        (b"hello there", "No date with a lowest and a highest temperature"),
        (b"\x00\x01\x02 not text", "That is not a text file."),
        (b"\x1f\x8b broken", "That packed file is damaged."),
        (b"date,tmin,tmax\n2020-01-01,9,1\n", "Not one day of it could be used; 1 lines were refused."),
    ],
)
def test_files_that_cannot_be_used_say_so_beside_the_field(garden: Garden, owner: Any, data: bytes, words: str) -> None:
    page = send(owner, garden, data).content.decode()
    assert words in page
    assert not RecordsDraft.objects.exists()


def test_packed_files_are_unpacked_but_not_without_end(
    garden: Garden, owner: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert b"10,958 days" in send(owner, garden, gzip.compress(BRUSSELS.encode()), "b.txt.gz").content
    monkeypatch.setattr(records_forms, "MOST_BYTES", 1_000_000)
    page = send(owner, garden, gzip.compress(b"0" * 1_000_001), "bomb.gz").content.decode()
    assert "Unpacked, that file is larger than 1 MB." in page


def test_too_short_a_record_is_kept_out(garden: Garden, owner: Any) -> None:
    send(owner, garden, "\n".join(BRUSSELS.splitlines()[:400]).encode())
    page = owner.post(reverse("records-preview", args=[garden.pk]), {"accept": 1}).content.decode()
    assert "too few to say what each month is like" in page
    assert not Records.objects.exists()
    assert RecordsDraft.objects.exists()


def test_the_last_thirty_years_count_unless_all_are_asked_for(garden: Garden, owner: Any) -> None:
    long = southern(range(1960, 2011), (9, 12), (5, 20))
    row = keep_records(garden, long, source="made", person=None, whole=False)
    assert isinstance(row, Records)
    assert row.counted_from == 1981
    row = keep_records(garden, long, source="made", person=None, whole=True)
    assert isinstance(row, Records)
    assert row.counted_from == 1960


def test_records_can_be_forgotten(garden: Garden, owner: Any) -> None:
    keep_records(garden, southern(range(1990, 2011), (9, 12), (5, 20)), source="made", person=None, whole=True)
    owner.post(reverse("records-forget", args=[garden.pk]))
    climate = climate_of(fresh(garden))
    assert climate.daily_records is None
    assert climate.frost.spring is not None
    assert climate.frost.spring.mean_doy == 100  # by hand again


def test_a_recorded_garden_asks_for_no_frost_dates(garden: Garden, owner: Any) -> None:
    keep_records(garden, southern(range(1990, 2011), (9, 12), (5, 20)), source="made", person=None, whole=True)
    url = reverse("garden-edit", args=[garden.pk])
    assert b"Last spring frost" not in owner.get(url).content
    data = {"name": "Marram", "latitude": -37, "longitude": 175, "elevation_m": 4}
    owner.post(url, {**data, "timezone": "Pacific/Auckland", "accepted_risk": 0.2})
    after = fresh(garden)
    assert (after.name, after.accepted_risk) == ("Marram", 0.2)
    assert after.t_min == fresh(garden).t_min


def test_the_almanac_says_the_year(garden: Garden, owner: Any) -> None:
    page = owner.get(reverse("almanac", args=[garden.pk])).content.decode()
    assert "Things grow outdoors from 24 Apr to 23 Oct" in page
    assert "frost risk is 1 in 10 or less after 2 May" in page
    hours = day_length_h(52.6, -4.1, date(2027, 3, 20))  # checked against ephem in the engine's tests
    assert 12.1 < hours < 12.3
    assert f"12 h {round(60 * (hours - 12)):02} from sunrise to sunset" in page
    for strip in ("Warmth", "Worth to roots", "Daylight", "Frost risk", "Soft wood", "Half-ripe wood", "Dormant wood"):
        assert strip in page


def test_a_southern_almanac_begins_in_its_winter(owner: Any, sign_in: Any, today: date) -> None:
    south = GardenFactory(latitude=-36.8, longitude=174.8, name="Marram Yard")
    keep_records(south, southern(range(1990, 2011), (9, 12), (5, 20)), source="made", person=None, whole=True)
    page = sign_in("owner", into=south).get(reverse("almanac", args=[south.pk])).content.decode()
    assert "Time from 1 Jul 2026" in page
    assert "frost risk is 1 in 10 or less after" in page


def test_a_frost_free_almanac(owner: Any, sign_in: Any, today: date) -> None:
    tropics = GardenFactory(
        latitude=-5, longitude=120, t_min=[22] * 12, t_max=[31] * 12,
        last_frost_mean=None, last_frost_late=None, first_frost_mean=None, first_frost_early=None,
    )  # fmt: skip
    client = sign_in("owner", into=tropics)
    page = client.get(reverse("almanac", args=[tropics.pk])).content.decode()
    assert "Things grow all year; frost is not to be reckoned with." in page
    assert "open all year" in page
    assert b"the gate never waits for it" in client.get(reverse("frost", args=[tropics.pk])).content


def test_frost_at_any_threshold(garden: Garden, owner: Any) -> None:
    send(owner, garden, BRUSSELS.encode())
    owner.post(reverse("records-preview", args=[garden.pk]), {"accept": 1, "whole": 1})
    url = reverse("frost", args=[garden.pk])
    plain = owner.get(url).content.decode()
    assert "Counted in 30 years: the last of spring averages 8 Apr" in plain  # day 97.9 of the year
    years = table(read(owner.get(url)), "Frost dates by year")
    assert years[1][:2] == ["1976", "Thu 29 Apr"]
    assert len(years) == 31
    tender = owner.get(url, {"at": "3"}).content.decode()
    assert "Frost at 3 °C" in tender
    assert "averages 8 Apr" not in tender
    assert "Ask between −15 °C and 15 °C" in owner.get(url, {"at": "40"}).content.decode()


def test_by_hand_where_there_are_none(garden: Garden, owner: Any) -> None:
    page = owner.get(reverse("frost", args=[garden.pk])).content.decode()
    assert "From the dates you gave: the last of spring averages 11 Apr" in page


def test_people_who_read_fahrenheit(garden: Garden, sign_in: Any) -> None:
    client = sign_in("owner")
    client.post(reverse("habits"), {"units": "us", "theme": "system"})
    assert "Frost at 32 °F" in client.get(reverse("frost", args=[garden.pk])).content.decode()
    assert "Frost at 39 °F" in client.get(reverse("frost", args=[garden.pk]), {"at": "39.2"}).content.decode()
    assert "in the air" in client.get(reverse("almanac", args=[garden.pk])).content.decode()


def test_room_is_said_with_the_place(garden: Garden, owner: Any) -> None:
    place = PlaceFactory(garden=garden, name="Shelf")
    url = reverse("place-edit", args=[garden.pk, place.pk])
    plain = {"name": "Shelf", "standing": "room", "day_c": 18, "night_c": 15}
    owner.post(url, {**plain, "holds_jar": 12, "holds_pot": 0, "holds_tray": ""})
    place.refresh_from_db()
    assert place.capacity == {"jar": 12, "pot": 0}
    assert b"A whole number of cuttings." in owner.post(url, {**plain, "holds_jar": "many"}).content
    assert b"jars of water 0 of 12" in owner.get(reverse("places", args=[garden.pk])).content


def test_dates_well_known_go_before_eight_years_of_records(garden: Garden, owner: Any) -> None:
    """The made records have their last frost on 12 September (southern); the garden was told 11 April."""
    told = climate_of(garden).frost.spring
    keep_records(garden, southern(range(1990, 1998), (9, 12), (5, 20)), source="made", person=None, whole=True)
    counted = climate_of(fresh(garden)).frost.spring
    assert told is not None
    assert counted is not None
    assert counted.years
    url = reverse("garden-edit", args=[garden.pk])
    page = owner.get(url).content.decode()
    assert "These dates are well known here" in page
    row = fresh(garden)
    kept = {"name": row.name, "latitude": row.latitude, "longitude": row.longitude, "elevation_m": row.elevation_m}
    asked = {**kept, "timezone": row.timezone, "accepted_risk": row.accepted_risk, "look_every_days": 3}
    owner.post(url, {**asked, "dates_well_known": "on"})
    assert climate_of(fresh(garden)).frost.spring == told
    owner.post(url, asked)
    assert climate_of(fresh(garden)).frost.spring == counted
