"""What is outside fails, or never answers: the pages that ask it stand, and say what is missing."""

from __future__ import annotations

import time
from datetime import date, timedelta
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from elder.engine.place.weather import DayAhead
from elder.web.garden.models import Place
from elder.web.read import bounded, services
from elder.web.read.bounded import ServiceMissingError
from tests.web.presses import TODAY, at
from tests.web.test_labels import chosen

PAGES = ("round", "round-sheet", "season", "calendar-download")


class Failing:
    is_outside = True

    def __init__(self, *_: Any) -> None:
        pass

    def ahead(self, *_: Any, **__: Any) -> Any:
        raise OSError("no route to host")

    read = print_labels = ahead


class Hanging(Failing):
    def ahead(self, *_: Any, **__: Any) -> Any:
        time.sleep(20)

    read = print_labels = ahead


class Telling(Failing):
    def ahead(self, _: Any, *, today: date, **__: Any) -> Any:
        return tuple(DayAhead(today + timedelta(days=i), 9, -7) for i in range(10))


@pytest.fixture(autouse=True)
def soon(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bounded, "LIMIT_S", 0.2)


@pytest.mark.parametrize("kind", ["Failing", "Hanging"])
def test_without_weather_every_page_stands_and_says_so(
    garden: Any, owner: Client, batch: Any, settings: Any, kind: str
) -> None:
    settings.WEATHER_SERVICE = f"tests.web.test_services.{kind}"
    begun = time.monotonic()
    for name in PAGES:
        assert owner.get(at(name, garden)).status_code == 200, name
    assert owner.get(reverse("round-look", args=[garden.pk, batch.pk])).status_code == 200
    assert time.monotonic() - begun < 15, "asked once, and not again for every page"
    said = owner.get(at("round", garden)).content.decode()
    assert "The weather cannot be reached: no night is judged by it." in said


def test_the_last_answer_is_shown_with_its_age(garden: Any, settings: Any) -> None:
    settings.WEATHER_SERVICE = "tests.web.test_services.Telling"
    assert services.ahead_of(garden, TODAY).missing is False
    settings.WEATHER_SERVICE = "tests.web.test_services.Failing"
    later = services.ahead_of(garden, TODAY + timedelta(days=3))
    assert (later.missing, later.told_on) == (True, TODAY)
    assert [day.day for day in later.days] == [TODAY + timedelta(days=i) for i in range(3, 10)]
    # A minute of quiet, though it would answer again; then it is asked.
    settings.WEATHER_SERVICE = "tests.web.test_services.Telling"
    assert services.ahead_of(garden, TODAY + timedelta(days=3)).missing is True
    services._quiet_until.clear()
    assert services.ahead_of(garden, TODAY + timedelta(days=3)).told_on == TODAY + timedelta(days=3)


@pytest.mark.parametrize("kind", ["Failing", "Hanging"])
def test_a_sensor_that_does_not_answer_is_said(garden: Any, owner: Client, settings: Any, kind: str) -> None:
    settings.BENCH_SENSORS = {"simulated": f"tests.web.test_services.{kind}"}
    place = garden.places.get()
    page = owner.post(at("place-sensor", garden, place.pk), {"sensor": "simulated"}, follow=True).content.decode()
    assert "The sensor at Kitchen sill does not answer. What it read before stays." in page
    assert Place.objects.get(pk=place.pk).sensor == "simulated"
    sent = owner.get(reverse("readings-send", args=[garden.pk, place.pk, "csv"]))
    assert sent.status_code == 200


@pytest.mark.parametrize("kind", ["Failing", "Hanging"])
def test_a_printer_that_does_not_answer_is_said(
    garden: Any, owner: Client, batch: Any, settings: Any, kind: str
) -> None:
    settings.LABEL_PRINTER = f"tests.web.test_services.{kind}"
    page = owner.post(at("label-print", garden), chosen(batch))
    assert page.status_code == 200
    assert "The printer does not answer." in page.content.decode()


def test_what_hangs_is_left_and_what_fails_is_named() -> None:
    assert bounded.bounded(lambda: 7, what="seven") == 7
    begun = time.monotonic()
    with pytest.raises(ServiceMissingError, match="a stone"):
        bounded.bounded(lambda: time.sleep(20), what="a stone")
    assert time.monotonic() - begun < 2
    with pytest.raises(ServiceMissingError) as failed:
        bounded.bounded(lambda: 1 / 0, what="a sum")
    assert isinstance(failed.value.__cause__, ZeroDivisionError)
