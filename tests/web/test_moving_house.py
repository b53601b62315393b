"""Moving house: what becomes of each, done and taken back, the day itself, and three months of water."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from elder.engine.handbook.loading import handbook
from elder.engine.year.load import Vehicle
from elder.engine.year.moving import MoveWay
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.garden.models import Garden, Person, Place
from elder.web.moving.models import HouseMove, MovedPlant, Watering
from elder.web.read.families import family_of
from elder.web.read.moved_here import in_pots_yet, watered_today
from elder.web.read.moves import Coming, move_today
from elder.web.read.records import record_of
from elder.web.read.year_tasks import year_tasks
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from tests.factories import GardenFactory, PlaceFactory, WantFactory, take
from tests.web.conftest import TODAY, asked_move
from tests.web.presses import at, page, take_back, text, way_back

OCTOBER = date(2027, 10, 9)


@pytest.fixture
def garden(garden: Garden) -> Garden:
    """With a bed and a back step."""
    PlaceFactory(garden=garden, name="Bed", standing="ground")
    PlaceFactory(garden=garden, name="Back step", standing="air")
    return garden


@pytest.fixture
def there(garden: Garden) -> Garden:
    """The garden of the household that is moved to."""
    row = GardenFactory(household=garden.household, name="Mere Lane")
    for name, standing in (("Sill there", "room"), ("Yard", "air"), ("Border", "ground")):
        PlaceFactory(garden=row, name=name, standing=standing)
    return row


def mother(garden: Garden, plant: str, where: str = "Bed", name: str = "") -> StockPlant:
    place = garden.places.get(name=where)
    return StockPlant.objects.create(
        garden=garden,
        name=name or f"Our {plant}",
        plant=plant,
        gives=8,
        again_days=30,
        place=place,
        since=date(2024, 4, 1),
    )


def coming(move: HouseMove, day: date = TODAY) -> dict[str, Coming]:
    garden = Garden.objects.get(pk=move.garden_id)
    row = HouseMove.objects.select_related("to").get(pk=move.pk)
    return {one.standing.plant.slug: one for one in move_today(row, garden, day).coming}


def later(monkeypatch: pytest.MonkeyPatch, day: date) -> date:
    monkeypatch.setattr(access, "today_in", lambda garden: day)
    return day


def asked(client: Client, garden: Garden, **more: Any) -> Any:
    data = {
        "day": OCTOBER.isoformat(),
        "to": "",
        "vehicle": "a van",
        "long": 250,
        "wide": 130,
        "high": "",
        "carries": 450,
    }
    return client.post(at("moving-new", garden), {**data, "key": uuid4(), **more})


def test_a_move_is_begun_once_and_reckoned(owner: Client, garden: Garden, there: Garden) -> None:
    mother(garden, "rhubarb")
    mother(garden, "mint", "Back step")
    key = uuid4()
    answer = asked(owner, garden, to=there.pk, key=key)
    asked(owner, garden, to=there.pk, key=key)
    move = HouseMove.objects.get()
    assert answer.url == at("moving-one", garden, move.pk)
    assert (move.to, move.day, move.carries_kg, move.high_cm) == (there, OCTOBER, 450, None)
    shown = text(page(owner, "moving-one", garden, move.pk))
    assert "In 29 weeks: 2 of 2 come along." in shown
    assert "Harrow Stair to Mere Lane, 9 Oct" in shown
    assert "First settle in writing what may be taken" in shown
    assert "1–8 Oct, after rain; a ball of 17 cm into a pot of 4 litres, 3.2 kg." in shown
    assert owner.get(at("moving", garden)).url == answer.url


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"day": "2027-03-01"}, "Today or a day ahead, please"),
        ({"day": "2040-01-01"}, "At most three years ahead"),
        ({"long": 5}, "More than that, please"),
        ({"wide": 900}, "Between 40 and 300 cm"),
        ({"carries": "heaps"}, "A number, please"),
        ({"to": "999999"}, "Select a valid choice"),
    ],
)
def test_what_cannot_be_says_why(owner: Client, garden: Garden, wrong: dict[str, object], said: str) -> None:
    answer = asked(owner, garden, **wrong)
    assert answer.status_code == 200
    assert said in text(answer.content.decode())
    assert "a van" in answer.content.decode()
    assert not HouseMove.objects.exists()


def test_another_households_garden_is_not_moved_to(owner: Client, garden: Garden) -> None:
    assert asked(owner, garden, to=GardenFactory().pk).status_code == 200
    assert not HouseMove.objects.exists()


def test_american_measures_are_kept_as_metric(owner: Client, garden: Garden) -> None:
    Person.objects.update(units="us")
    asked(owner, garden, long=100, wide=50, high=40, carries=1000)
    move = HouseMove.objects.get()
    assert (move.long_cm, move.wide_cm, move.high_cm) == (254.0, 127.0, pytest.approx(101.6))
    assert move.carries_kg == pytest.approx(453.59, abs=0.01)
    assert "1000" in page(owner, "moving-one", garden, move.pk)


def test_a_plant_is_measured_and_decided(owner: Client, garden: Garden, there: Garden) -> None:
    """110 cm with a stem of 2 cm: a ball of 38 cm, more than two lift; at 60 cm one of 30, that two do."""
    row = mother(garden, "blackcurrant")
    move = asked_move(garden, there)
    assert coming(move)["blackcurrant"].way is MoveWay.CUTTINGS  # 130 cm, as soft fruit usually stands
    what = f"s{row.pk}-bed-{row.place_id}"
    url = at("moving-plant", garden, move.pk, what)
    assert "How tall it stands, cm" in text(owner.get(url).content.decode())
    owner.post(url, {"way": "", "height": "60", "stem": "1.5"})
    one = coming(move)["blackcurrant"]
    assert (one.way, one.answer.ball.across_cm, one.is_chosen) == (MoveWay.DIG, 30.0, False)  # type: ignore[union-attr]
    owner.post(url, {"way": "leave", "height": "60", "stem": "1.5"})
    one = coming(move)["blackcurrant"]
    assert (one.way, one.is_chosen) == (MoveWay.LEAVE, True)
    assert "You chose this; Elder would: dug." in text(page(owner, "moving-one", garden, move.pk))
    wrong = owner.post(url, {"way": "eaten", "height": "-4", "stem": "1"})
    assert wrong.status_code == 200
    assert "More than that, please." in text(wrong.content.decode())
    assert owner.get(at("moving-plant", garden, move.pk, "s0-bed-0")).status_code == 404


def test_cuttings_are_planned_backwards_and_put_in_the_season(owner: Client, garden: Garden, there: Garden) -> None:
    """Four metres of hedge are twelve plants, ready the day before."""
    row = mother(garden, "fuchsia")
    move = asked_move(garden, there)
    what = f"s{row.pk}-bed-{row.place_id}"
    owner.post(at("moving-plant", garden, move.pk, what), {"way": "", "height": "120", "stem": "2", "hedge_m": "4"})
    one = coming(move)["fuchsia"]
    assert (one.way, one.wanted, one.reckoning.target) == (MoveWay.CUTTINGS, 12, date(2027, 10, 8))  # type: ignore[union-attr]
    count, day = one.reckoning.to_cut, one.reckoning.option.day  # type: ignore[union-attr]
    shown = text(page(owner, "moving-one", garden, move.pk))
    assert f"Cut {count} tips by" in shown
    assert "for twelve in pots, in one tray." in shown
    owner.post(at("moving-cut", garden, move.pk, what), {"key": uuid4()})
    owner.post(at("moving-cut", garden, move.pk, what), {"key": uuid4()})
    want = Want.objects.get()
    assert (want.wanted, want.by, want.purpose, want.mother) == (12, date(2027, 10, 8), "spare", row)
    assert MovedPlant.objects.get().want == want
    assert coming(move)["fuchsia"].reckoning.option.day == day  # type: ignore[union-attr]
    batch = take(want, on=TODAY, count=14)
    shown = text(page(owner, "moving-one", garden, move.pk))
    assert re.search(r"Struck: about \d+ in pots by the move, of 12 wanted\.", shown)
    assert batch.want == want


def test_a_way_that_is_ready_in_time_is_found(garden: Garden, there: Garden) -> None:
    """In three weeks no stick roots; what could be struck is said with its refusal."""
    mother(garden, "blackcurrant")
    move = asked_move(garden, there, TODAY + timedelta(days=21))
    one = coming(move)["blackcurrant"]
    assert one.way is MoveWay.CUTTINGS
    assert one.reckoning is not None
    assert one.reckoning.refusal is not None


def test_dug_and_taken_back(owner: Client, garden: Garden, there: Garden) -> None:
    row = mother(garden, "rhubarb")
    move = asked_move(garden, there)
    url = at("moving-done", garden, move.pk, f"s{row.pk}-bed-{row.place_id}")
    answer = owner.post(url, {"key": uuid4()})
    assert MovedPlant.objects.get().done_on == TODAY
    assert coming(move)["rhubarb"].is_done
    daily = [task for task in year_tasks(garden, TODAY, ahead=0) if task.kind == "daily"]
    assert [(task.due, task.count) for task in daily] == [(TODAY, 1)]  # until the move it stands in its pot here
    take_back(owner, garden, way_back(owner, answer))
    assert MovedPlant.objects.get().done_on is None


def test_digging_what_a_batch_left_in_a_bed_is_in_its_history(owner: Client, garden: Garden, there: Garden) -> None:
    want = WantFactory(garden=garden, plant="fuchsia", method="mix", wanted=3, rooting_place=garden.places.first())
    batch = take(want, on=date(2026, 5, 1), count=3)
    days = [("rooted", date(2026, 5, 30)), ("potted", date(2026, 6, 1)), ("planted", date(2026, 7, 1))]
    lines = [Entry(kind=kind, on=on, count=3) for kind, on in days]
    assert not hasattr(actions.add_entries(batch, lines, today=TODAY, person=None), "code")  # type: ignore[arg-type]
    move = asked_move(garden, there)
    one = coming(move)["fuchsia"]
    owner.post(at("moving-plant", garden, move.pk, one.key), {"way": "dig", "height": "40", "stem": "1"})
    assert (coming(move)["fuchsia"].standing.count, coming(move)["fuchsia"].way) == (3, MoveWay.DIG)
    owner.post(at("moving-done", garden, move.pk, one.key), {"key": uuid4()})
    assert batch.entries.get(kind="lifted").count == 3
    assert coming(move)["fuchsia"].way is MoveWay.POT


def test_what_is_asked_is_remembered_and_decides_nothing(owner: Client, garden: Garden, there: Garden) -> None:
    mother(garden, "grapevine")
    mother(garden, "mint", "Back step")
    move = asked_move(garden, there)
    shown = text(page(owner, "moving-one", garden, move.pk))
    assert "May Grapevine be moved there? Ask: The plant-health authority of both places." in shown
    assert "Is any of these a declared weed there: Mint? Ask: The council there." in shown
    before = {one.key: one.way for one in coming(move).values()}
    for question, said in (("sale", "yes"), ("hosts", "no")):
        owner.post(at("moving-ask", garden, move.pk), {"question": question, "said": said, "whom": "the buyer"})
    move.refresh_from_db()
    assert move.asks["sale"] == {"said": "yes", "whom": "the buyer", "on": TODAY.isoformat()}
    assert {one.key: one.way for one in coming(move).values()} == before
    assert "First settle in writing" not in text(page(owner, "moving-one", garden, move.pk))
    owner.post(at("moving-ask", garden, move.pk), {"question": "moon", "said": "yes"})
    move.refresh_from_db()
    assert set(move.asks) == {"sale", "hosts"}


def test_what_a_move_asks_hands_for(garden: Garden, there: Garden) -> None:
    mother(garden, "rhubarb")
    move = asked_move(garden, there)
    tasks = {task.kind: task for task in year_tasks(garden, TODAY, ahead=300) if task.path[0] == "moving-one"}
    assert {kind: task.due for kind, task in tasks.items()} == {
        "settle": TODAY, "dig": date(2027, 10, 1), "move": OCTOBER,
    }  # fmt: skip
    assert tasks["dig"].last == date(2027, 10, 8)
    move.asks = {"sale": {"said": "yes"}}
    move.save()
    kinds = {task.kind for task in year_tasks(Garden.objects.get(pk=garden.pk), TODAY, ahead=300)}
    assert "settle" not in kinds


def test_the_load_is_packed_drawn_and_said(owner: Client, garden: Garden, there: Garden) -> None:
    """A rhubarb's ball of 17 cm and 3.2 kg, a crate with the mint, and a fig's gallon pot."""
    mother(garden, "rhubarb")
    mother(garden, "mint", "Back step")
    mother(garden, "fig", "Back step")
    move = asked_move(garden, there, vehicle="a trailer")
    found = move_today(move, garden, TODAY)
    assert found.vehicle == Vehicle(250, 130, None, 500)
    assert sorted((thing.name, thing.long_cm) for thing in found.things) == [
        ("Our fig", 17.5), ("Our mint, a crate", 60.0), ("Our rhubarb", 17.0),
    ]  # fmt: skip
    shown = text(page(owner, "moving-load", garden, move.pk))
    assert "One journey." in shown
    assert "A trailer" in shown
    assert "Our rhubarb: 3.2 kg" in shown
    assert page(owner, "moving-load", garden, move.pk).count('class="stow') == 3


def test_the_load_says_who_lifts_what(owner: Client, garden: Garden, there: Garden) -> None:
    """A ball of 32 cm weighs 21 kg, more than one lifts from the floor and less than two."""
    row = mother(garden, "blackcurrant")
    move = asked_move(garden, there)
    url = at("moving-plant", garden, move.pk, f"s{row.pk}-bed-{row.place_id}")
    owner.post(url, {"way": "", "height": "75", "stem": "1.8"})
    assert "Our blackcurrant: 21 kg, two people" in text(page(owner, "moving-load", garden, move.pk))


def test_called_off(owner: Client, garden: Garden, there: Garden) -> None:
    move = asked_move(garden, there)
    answer = owner.post(at("moving-off", garden, move.pk))
    assert HouseMove.objects.get().off_on == TODAY
    take_back(owner, garden, way_back(owner, answer))
    assert HouseMove.objects.get().off_on is None


# --- the day itself -------------------------------------------------------------------------------------------------


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


def test_the_places_of_the_new_garden_are_its_own(owner: Client, garden: Garden, there: Garden) -> None:
    move = asked_move(garden, there)
    mother(garden, "mint", "Back step")
    Place.objects.filter(garden=there).delete()
    answer = owner.get(at("moving-go", garden, move.pk))
    assert answer.url == at("place-new", there)
    HouseMove.objects.update(to=None)
    assert owner.get(at("moving-go", garden, move.pk)).url == at("moving-one", garden, move.pk)
