"""The air and the rain in the round: misting as often as the air asks, caps, gales, cuts that wait for rain."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, time, timedelta
from typing import Any

import pytest

from elder.engine.place.air import Air
from elder.engine.place.readings import Reading
from elder.engine.place.weather import DayAhead
from elder.web.batches.models import Entry
from elder.web.garden.models import Place
from elder.web.places.readings import keep_readings
from elder.web.read.air import air_at
from elder.web.read.batches import batch_of
from elder.web.read.wants import reckon_all
from elder.web.rounds import round as rounds
from elder.web.rounds.weather_words import rain_words, weather_lines
from elder.web.say.air import air_words, cover_advice, dry_words
from elder.web.season import today as today_list
from tests.factories import PlaceFactory, WantFactory
from tests.web.conftest import take
from tests.web.presses import MILD, TODAY, page, text

BRIGHT = {"said": "bright shade"}


def jobs(garden: Any) -> dict[str, Any]:
    fresh = type(garden).objects.get(pk=garden.pk)
    return {job.verb: job for job in rounds.jobs_in(rounds.round_of(fresh, TODAY).now)}


def test_mist_as_often_as_the_air_asks(owner: Any, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air", light=BRIGHT)
    bare = WantFactory(garden=garden, rooting_place=rack, plant="basil", method="mix")
    batch = take(bare, on=date(2027, 3, 14))
    batch.treatment = {"cover": "none"}
    batch.save()
    # 27 by day after a night of 12: e°(27) − e°(12) = 3.567 − 1.403 = 2.16 kPa; (2.16 − 0.6)/0.4 = 3.9, so four times.
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 27, 12), *MILD[1:]))
    assert jobs(garden)["mist"].about.said == "Mist four times a day: as the air is today."
    assert "Mist four times a day" in text(page(owner, "round", garden))
    batch.treatment = {"cover": "loose"}
    batch.save()
    # Under a loose cap at 82% it is 0.18·3.567 = 0.64: once.
    assert jobs(garden)["mist"].about.said == "Mist once a day: 0.6 kPa under it today."


def test_what_drinks_from_a_jar_or_has_no_leaves_is_not_misted(garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air")
    take(WantFactory(garden=garden, rooting_place=rack), on=date(2027, 3, 14))
    take(WantFactory(garden=garden, rooting_place=rack, plant="grapevine", method="stick"), on=date(2027, 2, 20))
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 27, 6), *MILD[1:]))
    assert "mist" not in jobs(garden)


def test_a_loose_cap_is_opened_where_the_air_is_close(garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air")
    take(WantFactory(garden=garden, rooting_place=rack, plant="basil", method="mix"), on=date(2027, 3, 14))
    # 6 by day after 5: under the cap e°(6)·(1 − 0.93) = 0.06 kPa.
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 6, 5), *MILD[1:]))
    assert jobs(garden)["air"].about.said == "Too close, 0.1 kPa under it: open the cap by day."
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 18, 12), *MILD[1:]))
    assert "air" not in jobs(garden)


def test_the_air_of_a_place(garden: Any, sill: Place) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air", lift_day_c=5)
    assert air_at(sill, TODAY, MILD) == Air(20.0, 0.5)
    found = air_at(rack, TODAY, MILD)
    assert found is not None
    # 15 outdoors and 5 more under its cover, after a night of 8: e°(8)/e°(20) = 1.0727/2.3383.
    assert (found.celsius, found.humidity) == (20.0, pytest.approx(0.4588, abs=1e-4))
    assert air_at(rack, TODAY, ()) is None


def test_the_air_in_words() -> None:
    assert air_words(Air(20, 0.5)) == (
        "1.2 kPa at its driest, likely: unrooted stems wilt bare, and stand well under a loose cap"
    )
    assert air_words(Air(20, 0.8, is_read=True)) == "0.5 kPa at its driest, read: right for unrooted stems, bare"
    assert air_words(Air(6, 0.93)) == "0.1 kPa at its driest, likely: damp and close, no cover"
    assert air_words(Air(36, 0.2)).endswith("wilt even under a loose cap; mist twice a day")
    assert cover_advice(Air(20, 0.5), "unrooted", "loose") == ""
    assert dry_words(Air(20, 0.6)) == ""
    assert dry_words(Air(24, 0.4)) == "Dry air today, 1.8 kPa: keep to yesterday’s rung, and in shade."


def test_sticking_in_the_ground_waits_for_rain(owner: Any, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    want = WantFactory(garden=garden, rooting_place=bed, plant="blackcurrant", method="ground")
    batch = take(want, on=date(2026, 1, 10), today=TODAY, count=5)
    for kind in ("rooted",):
        Entry(batch=batch, kind=kind, on=date(2026, 6, 1), count=5).save()
    Entry(batch=batch, kind="planted", on=date(2026, 6, 2), count=5).save()
    fresh = batch_of(type(garden).objects.get(pk=garden.pk), batch.pk, TODAY)
    if not any(task.verb == "lift" for task in fresh.tasks):
        pytest.fail("five are to be lifted")
    days = [replace(day, rain_mm=9.0 if i == 2 else 0.0) for i, day in enumerate(MILD)]
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: tuple(days))
    found = rounds.round_of(type(garden).objects.get(pk=garden.pk), TODAY)
    assert "lift" not in {job.verb for job in rounds.jobs_in(found.now)}
    (job,) = [job for job in rounds.jobs_in(found.waits) if job.verb == "lift"]
    assert (job.task.due, job.about.said) == (TODAY + timedelta(days=3), "After the rain that is told: Tue.")
    dry = tuple(MILD)
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: dry)
    assert jobs(garden)["lift"].about.said == "No rain is told: water the ground the evening before."


def test_rain_in_words() -> None:
    wet = tuple(replace(day, rain_mm=6.0) for day in MILD)
    assert rain_words(wet, TODAY) == "It rains today: the ground is soft."
    assert rain_words((), TODAY) == ""


def test_rain_and_gales_for_what_stands_outdoors(owner: Any, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Shade rack", standing="air", sheltered=False)
    days = tuple(
        replace(day, rain_mm=12.4 if i == 1 else 0, gust_kmh=70.0 if i == 3 else 20) for i, day in enumerate(MILD)
    )
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: days)
    assert "Gusts" not in page(owner, "round", garden)
    batch = take(WantFactory(garden=garden, rooting_place=rack, plant="mint"), on=date(2027, 3, 14))
    said = text(page(owner, "round", garden))
    assert "Rain Sun, about 12 mm: pots in the open want no water that day." in said
    assert "Gusts of 70 km/h on Tue: stake or lay flat what stands at Shade rack." in said
    fresh = type(garden).objects.get(pk=garden.pk)
    lines = weather_lines(days, [batch_of(fresh, batch.pk, TODAY)], fresh, "us")
    assert lines == [
        "Rain Sun, about 0.5 in: pots in the open want no water that day.",
        "Gusts of 43 mph on Tue: stake or lay flat what stands at Shade rack.",
    ]
    Place.objects.filter(pk=rack.pk).update(sheltered=True)
    assert "Gusts" not in page(owner, "round", garden)


def test_a_dry_day_keeps_the_ladder_where_it_is(garden: Any, batch: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air")
    batch.growing_place = rack
    batch.save()
    for kind in ("rooted", "potted", "hardening"):
        Entry(batch=batch, kind=kind, on=TODAY - timedelta(days=2), count=11).save()
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 24, 6), *MILD[1:]))
    assert jobs(garden)["harden_step"].about.said.startswith("Dry air today, 2.0 kPa")


def test_what_is_struck_in_the_ground_is_cut_after_rain(
    owner: Any, garden: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    row = WantFactory(garden=garden, rooting_place=bed, plant="blackcurrant", method="ground", wanted=4, cut_on=TODAY)
    (dry,) = today_list.todays_list(reckon_all(garden, TODAY), garden, TODAY, "metric")
    assert (dry.due, dry.about) == (TODAY, "Blackcurrant")
    wet = tuple(replace(day, rain_mm=8.0 if i == 3 else 0.0) for i, day in enumerate(MILD))
    monkeypatch.setattr(today_list, "days_ahead", lambda garden, today: wet)
    (told,) = today_list.todays_list(reckon_all(garden, TODAY), garden, TODAY, "metric")
    assert told.due == TODAY + timedelta(days=4)
    assert told.about == "Blackcurrant · after the rain that is told for Tue 23 Mar"
    assert row.pk


def test_old_readings_say_nothing_of_today(garden: Any, sill: Place) -> None:
    def read_on(day: date) -> Air | None:
        rows = [Reading(datetime.combine(day, time(hour)), 24.0, 40.0) for hour in range(24)]
        keep_readings(sill, rows, source="a logger", person=None)
        return air_at(sill, TODAY, MILD)

    assert read_on(TODAY - timedelta(days=3)) == Air(20.0, 0.5)
    assert read_on(TODAY - timedelta(days=2)) == Air(24.0, 0.4, is_read=True)


def test_no_waiting_for_rain_past_the_last_good_day(garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    bed, day = PlaceFactory(garden=garden, name="Bed", standing="ground"), date(2027, 4, 9)
    WantFactory(garden=garden, rooting_place=bed, plant="blackcurrant", method="ground", wanted=4, cut_on=day)
    wet = tuple(DayAhead(day + timedelta(days=i), 15, 8, 9.0 if i == 4 else 0.0) for i in range(10))
    monkeypatch.setattr(today_list, "days_ahead", lambda garden, today: wet)
    (told,) = today_list.todays_list(reckon_all(garden, day), garden, day, "metric")
    # The wood wakes on 10 April: the day after the rain is shut, so it is cut before it.
    assert (told.due, told.about) == (day, "Blackcurrant")


def test_each_is_told_its_own_mistings(owner: Any, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air", light=BRIGHT)
    for plant, cover in (("basil", "none"), ("mint", "loose")):
        batch = take(WantFactory(garden=garden, rooting_place=rack, plant=plant, method="mix"), on=date(2027, 3, 14))
        batch.treatment = {"cover": cover}
        batch.save()
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 27, 12), *MILD[1:]))
    said = text(page(owner, "round", garden))
    assert "Basil: mist four times a day: as the air is today." in said
    assert "Mint: mist once a day: 0.6 kPa under it today." in said
