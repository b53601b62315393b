"""The day of a move and after it: who comes along, what goes on, what is watered, what is taken back."""

from __future__ import annotations

import re
from datetime import date
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from elder.engine.handbook.loading import handbook
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.moving.models import HouseMove, Watering
from elder.web.read.families import family_of
from elder.web.read.moved_here import in_pots_yet, watered_today
from elder.web.read.records import record_of
from elder.web.read.year_tasks import year_tasks
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from tests.factories import GardenFactory, WantFactory, take
from tests.web.conftest import TODAY, asked_move
from tests.web.moving.house import OCTOBER, later, mother
from tests.web.presses import at, page, take_back, text, way_back


@pytest.fixture
def moved(owner: Client, garden: Garden, there: Garden, monkeypatch: pytest.MonkeyPatch) -> Any:
    """A rhubarb dug, a mint in its pot, a fuchsia's cuttings struck, a tomato left as seed; moved on 9 October."""
    rhubarb = mother(garden, "rhubarb")
    mint = mother(garden, "mint", "Back step")
    fuchsia, tomato = mother(garden, "fuchsia"), mother(garden, "tomato")
    move = asked_move(garden, there)
    what = f"s{fuchsia.pk}-bed-{fuchsia.place_id}"
    owner.post(at("moving-plant", garden, move.pk, what), {"way": "cuttings", "height": "120", "stem": "2"})
    owner.post(at("moving-cut", garden, move.pk, what), {"key": uuid4()})
    batch = take(Want.objects.get(), on=date(2027, 3, 15), count=5)
    Batch.objects.filter(pk=batch.pk).update(mother=fuchsia)
    wrong = Entry(kind="rooted", on=date(2027, 3, 18), count=2)
    assert not hasattr(actions.add_entries(batch, [wrong], today=TODAY, person=None), "code")  # type: ignore[arg-type]
    lines = [
        Entry(kind="rooted", on=date(2027, 3, 18), count=3, strikes=wrong),  # put right later: the copy has what holds
        Entry(kind="lost", on=date(2027, 3, 18), count=2, stage="waiting", why="rot"),
        Entry(kind="potted", on=date(2027, 3, 19), count=3),
    ]
    assert not hasattr(actions.add_entries(batch, lines, today=TODAY, person=None), "code")  # type: ignore[arg-type]
    later(monkeypatch, OCTOBER)
    shown = owner.get(at("moving-go", garden, move.pk)).content.decode()
    names = dict(re.findall(r'for="id_(alive_\d+)"[^>]*>\s*([^<,]+),', shown))
    data = {name: "2" if "fuchsia" in label else "1" for name, label in names.items()}
    assert sorted(names.values()) == ["Our fuchsia", "Our mint", "Our rhubarb"]
    places = {place.name: place.pk for place in there.places.all()}
    data |= {"outdoors": places["Yard"], "indoors": places["Sill there"], "key": str(uuid4())}
    answer = owner.post(at("moving-go", garden, move.pk), data)
    offered = way_back(owner, answer)
    owner.post(at("moving-go", garden, move.pk), data)
    return {"move": move, "offered": offered, "batch": batch, "rows": (rhubarb, mint, fuchsia, tomato)}


def test_the_new_garden_begins_with_those_who_live(garden: Garden, there: Garden, moved: Any) -> None:
    here = {row.plant: row for row in StockPlant.objects.filter(garden=there, ended_on=None)}
    assert set(here) == {"rhubarb", "mint"}
    assert StockPlant.objects.get(garden=there, plant="fuchsia").ended_why == "left"  # the mother of its cuttings
    assert (here["mint"].name, here["mint"].place, here["mint"].since) == (  # type: ignore[union-attr]
        "Our mint", there.places.get(name="Yard"), date(2024, 4, 1),
    )  # fmt: skip
    old = StockPlant.objects.filter(garden=garden)
    assert {(row.ended_on, row.ended_why) for row in old} == {(OCTOBER, "left")}
    there.refresh_from_db()
    garden.refresh_from_db()
    assert (garden.closed_on, there.came_from) == (OCTOBER, garden)
    assert HouseMove.objects.get(pk=moved["move"].pk).moved_on == OCTOBER


def test_its_cuttings_go_on_as_the_batch_they_are(garden: Garden, there: Garden, moved: Any) -> None:
    new = Batch.objects.get(garden=there)
    assert [(line.kind, line.on, line.count) for line in new.entries.all()] == [
        ("taken", date(2027, 3, 15), 5), ("rooted", date(2027, 3, 18), 3), ("lost", date(2027, 3, 18), 2),
        ("potted", date(2027, 3, 19), 3), ("lost", OCTOBER, 1),
    ]  # fmt: skip
    assert new.entries.last().why == "accident"  # one of three did not live through the journey
    assert new.plan["carried_from"] == moved["batch"].pk
    assert new.mother == StockPlant.objects.get(garden=there, plant="fuchsia")
    old = [(line.kind, line.count, line.stage, line.deed) for line in moved["batch"].entries.filter(on=OCTOBER)]
    assert old == [("given", 3, "potted", "carried")]


def test_the_record_goes_along_and_counts_once(garden: Garden, there: Garden, moved: Any) -> None:
    fresh = Garden.objects.select_related("came_from").get(pk=there.pk)
    record = record_of(fresh, OCTOBER)
    assert [one.row.garden_id for one in record.told] == [there.pk]
    assert record.before == ()  # its only batch was carried here, and counts here
    want = WantFactory(garden=garden, plant="tomato", wanted=2, rooting_place=garden.places.first())
    batch = take(want, on=date(2026, 5, 1), count=12)
    lines = [Entry(kind="rooted", on=date(2026, 5, 20), count=3), Entry(kind="lost", on=date(2026, 5, 20), count=9,
                                                                       stage="waiting", why="rot")]  # fmt: skip
    assert not hasattr(actions.add_entries(batch, lines, today=OCTOBER, person=None), "code")  # type: ignore[arg-type]
    fresh = Garden.objects.select_related("came_from").get(pk=there.pk)
    record = record_of(fresh, OCTOBER)
    assert [one.row.pk for one in record.before] == [batch.pk]
    plain = GardenFactory(household=garden.household, name="Elsewhere")
    tomato = handbook()["tomato"]
    before = record_of(Garden.objects.get(pk=garden.pk), OCTOBER)
    assert record.way_here(tomato, tomato.method("jar")).take == before.way_here(tomato, tomato.method("jar")).take
    assert record.way_here(tomato, tomato.method("jar")).take.mean < 0.85
    assert record_of(plain, OCTOBER).way_here(tomato, tomato.method("jar")).take.mean == tomato.method("jar").take.mean


def test_a_garden_that_was_left_is_read_and_not_written(owner: Client, garden: Garden, moved: Any) -> None:
    shown = text(page(owner, "season", garden))
    assert "This garden was left on 9 Oct 2027." in shown
    assert owner.post(at("passing-new", garden), {}).status_code == 403
    assert owner.post(at("round-done", garden), {}).status_code == 403
    fresh = Garden.objects.get(pk=garden.pk)
    assert year_tasks(fresh, OCTOBER, ahead=400) == []
    assert "Moved on 9 Oct." in text(page(owner, "moving-one", garden, moved["move"].pk))


def test_the_move_can_be_taken_back_while_nothing_was_done_since(
    owner: Client, garden: Garden, there: Garden, moved: Any
) -> None:
    assert take_back(owner, garden, moved["offered"]).status_code == 302
    garden.refresh_from_db()
    there.refresh_from_db()
    assert (garden.closed_on, there.came_from) == (None, None)
    assert not Batch.objects.filter(garden=there).exists()
    assert not StockPlant.objects.filter(garden=there).exists()
    assert not StockPlant.objects.filter(garden=garden).exclude(ended_on=None).exists()
    left = Batch.objects.get(pk=moved["batch"].pk).entries.filter(kind="given", struck_by=None)
    assert not left.exists()


def test_planted_and_watered_for_three_months(
    owner: Client, there: Garden, moved: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Planted on 12 October: thirteen weeks, less those whose usual day is under 5 °C; a watering is for its week."""
    there = Garden.objects.get(pk=there.pk)
    (ball,) = in_pots_yet(there)
    assert ball.stock is not None
    assert ball.stock.plant == "rhubarb"
    assert [task.kind for task in year_tasks(there, OCTOBER, ahead=0) if task.path[0] == "moving-here"] == ["daily"]
    offered = moved["offered"]
    day = later(monkeypatch, date(2027, 10, 12))
    border = there.places.get(name="Border")
    answer = owner.post(at("moving-plant-here", there, ball.pk), {"place": border.pk, "key": uuid4()})
    assert StockPlant.objects.get(pk=ball.stock.pk).place == border
    assert in_pots_yet(there) == []
    (one,) = watered_today(there, day)
    assert (one.next_day, one.done, one.row.water_l) == (date(2027, 10, 19), 0, 5.0)
    assert "5 litres 19 Oct, slowly, over the whole ball" in text(page(owner, "moving-here", there))
    later(monkeypatch, date(2027, 10, 21))
    due = [task for task in year_tasks(there, date(2027, 10, 21), ahead=0) if task.kind == "water"]
    assert [(task.due, task.detail) for task in due] == [(date(2027, 10, 19), "5")]
    assert "Water Our rhubarb deeply" in text(page(owner, "round", there))
    pressed = owner.post(at("moving-water", there, ball.pk), {"key": uuid4()})
    assert Watering.objects.count() == 1
    (one,) = watered_today(there, date(2027, 10, 21))
    assert (one.next_day, one.done) == (date(2027, 10, 26), 1)
    held = take_back(owner, moved["move"].garden, offered)
    assert held.status_code == 302
    assert Garden.objects.get(pk=there.pk).came_from_id == moved["move"].garden_id
    offered_water = way_back(owner, pressed)
    Watering.objects.update(on=date(2027, 10, 24))  # two days early is for its week
    assert watered_today(there, date(2027, 10, 24))[0].next_day == date(2027, 11, 2)
    take_back(owner, there, offered_water)
    assert Watering.objects.count() == 0
    assert answer.status_code == 302
    assert watered_today(there, date(2028, 2, 1))[0].all == 8  # five of the thirteen lie between 14 Dec and 11 Jan


def test_its_line_goes_along(garden: Garden, there: Garden, moved: Any) -> None:
    """A daughter kept from a batch is the second generation in the new garden too."""
    row = StockPlant.objects.get(garden=there, plant="mint")
    family = family_of(Garden.objects.get(pk=there.pk), OCTOBER, plant="mint")
    assert family.generation(str(row.pk)) == 1  # the first of its line in the old garden as well
