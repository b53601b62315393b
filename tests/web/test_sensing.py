"""Sensors and loggers at a place: read, brought in, sent out, forgotten; and what Rounds says of the model."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from elder.web.batches.models import Batch
from elder.web.formats.logger import ReadLog, read_log
from elder.web.garden.models import PlaceReadings
from elder.web.places.readings import read_sensors
from elder.web.read.batches import batch_today
from elder.web.read.gardens import place_of, stood_at
from tests.factories import WantFactory, take

TODAY = date(2027, 3, 20)


@pytest.fixture
def batch(garden: Any, sill: Any) -> Batch:
    return take(WantFactory(garden=garden, rooting_place=sill), on=date(2027, 3, 12))


def log(celsius: float, first: date = date(2027, 3, 12), days: int = 8) -> str:
    begin = datetime.fromordinal(first.toordinal())
    rows = [
        f"{begin + timedelta(minutes=30 * i):%d/%m/%Y %H:%M};{celsius:.1f};55".replace(".", ",")
        for i in range(48 * days)
    ]
    return "\n".join(["Plot: sill", "Date/Time;Temperature (°C);RH (%)", *rows])


def send(client: Client, place: Any, text: str, name: str = "sill.csv") -> Any:
    url = reverse("place-readings", args=[place.garden_id, place.pk])
    return client.post(url, {"file": SimpleUploadedFile(name, text.encode())}, follow=True)


def test_a_loggers_warmth_replaces_the_models_and_rounds_says_so(
    owner: Client, garden: Any, sill: Any, batch: Batch
) -> None:
    before = batch_today(batch, garden, TODAY, want=batch.want).forecast
    said = send(owner, sill, log(23.9)).content.decode()
    assert "384 readings kept; 8 days in all." in said
    fresh = Batch.objects.get(pk=batch.pk)
    after = batch_today(fresh, garden, TODAY, want=fresh.want).forecast
    # The room's own mean is 18.875 °C; at 23.9 tomato roots gain about a day in five more.
    gained, modelled = (found.ahead.stages.rooting_units for found in (after, before))
    assert gained[7] > 1.15 * modelled[7]
    assert gained[-1] - gained[7] == pytest.approx(modelled[-1] - modelled[7]), "days to come are the model's"
    page = owner.get(reverse("round", args=[garden.pk])).content.decode()
    assert "Kitchen sill is 5.0 °C warmer than you said, by 8 days read there." in page
    assert "ahead of the model; the forecasts know." in page


def test_in_fahrenheit_for_who_reads_so(owner: Client, sill: Any, batch: Batch) -> None:
    person = batch.garden.household.people.get()
    person.units = "us"
    person.save()
    assert "9.0 °F warmer than you said" in send(owner, sill, log(23.9)).content.decode()


def test_plans_for_days_to_come_do_not_change(owner: Client, sill: Any) -> None:
    send(owner, sill, log(30))
    sill.refresh_from_db()
    assert stood_at(sill).readings is not None
    assert place_of(sill).readings is None
    assert stood_at(sill).modelled == place_of(sill)


def test_lines_that_cannot_be_are_counted_and_the_rest_kept(owner: Client, sill: Any) -> None:
    text = log(20) + "\nrubbish;;\n21/03/2027 09:00;999;5"
    said = send(owner, sill, text).content.decode()
    assert "384 readings kept" in said
    assert "2 lines were not: no time that can be read" in said


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("a,b\n1,2", "No line names a time and a temperature."),
        ("time,temperature_c\nnever,20", "Not one line could be read: 1 were refused."),
        ('{"readings": 5}', "That is not Elder’s JSON"),
        (log(20, date(2027, 4, 1)), "Every reading in that file is still to come."),
    ],
)
def test_what_is_no_log_is_refused_in_words(owner: Client, sill: Any, text: str, sentence: str) -> None:
    assert sentence in send(owner, sill, text).content.decode()
    assert not PlaceReadings.objects.exists()


def test_the_simulated_sensor_is_read_on_and_goes_on_from_where_it_was(owner: Client, garden: Any, sill: Any) -> None:
    url = reverse("place-sensor", args=[garden.pk, sill.pk])
    said = owner.post(url, {"sensor": "simulated"}, follow=True).content.decode()
    assert "Read up to 19 Mar." in said
    assert PlaceReadings.objects.get().days == 28
    assert read_sensors(garden, today=date(2027, 3, 25)) == 1
    row = PlaceReadings.objects.get()
    assert (row.days, row.last_day) == (33, date(2027, 3, 24))
    owner.post(url, {"sensor": ""})
    sill.refresh_from_db()
    assert sill.sensor == ""
    assert read_sensors(garden, today=date(2027, 3, 30)) == 0
    assert owner.post(url, {"sensor": "magic"}).status_code == 404


@pytest.mark.parametrize("form", ["csv", "json"])
@pytest.mark.parametrize("sensor", ["simulated", ""])
def test_what_is_sent_out_can_be_brought_in_again(
    owner: Client, garden: Any, sill: Any, form: str, sensor: str
) -> None:
    if sensor:
        owner.post(reverse("place-sensor", args=[garden.pk, sill.pk]), {"sensor": sensor})
    else:
        send(owner, sill, log(21.5))
    text = owner.get(reverse("readings-send", args=[garden.pk, sill.pk, form])).content.decode()
    read = read_log(text, garden.timezone)
    assert isinstance(read, ReadLog)
    assert read.refused == ()
    # The sensor's own quarter hours of a fortnight, or the hours kept of eight days.
    assert len(read.readings) == (14 * 96 if sensor else 8 * 24)
    assert owner.get(reverse("readings-send", args=[garden.pk, sill.pk, "exe"])).status_code == 404


def test_forgetting_goes_back_to_the_model(owner: Client, garden: Any, sill: Any) -> None:
    send(owner, sill, log(23.9))
    said = owner.post(reverse("readings-forget", args=[garden.pk, sill.pk]), follow=True).content.decode()
    assert "Forgotten." in said
    sill.refresh_from_db()
    assert sill.readings_digest == ""
    assert stood_at(sill).readings is None
