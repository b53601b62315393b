"""Moving house: what becomes of each, done and taken back, the day itself, and three months of water."""

from __future__ import annotations

import re
from datetime import date, timedelta
from uuid import uuid4

import pytest
from django.test import Client

from elder.engine.year.load import Vehicle
from elder.engine.year.moving import MoveWay
from elder.web.batches import actions
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden, Person, Place
from elder.web.moving.models import HouseMove, MovedPlant
from elder.web.read.moves import move_today
from elder.web.read.year_tasks import year_tasks
from elder.web.season.models import Want
from tests.factories import GardenFactory, WantFactory, take
from tests.web.conftest import TODAY, asked_move
from tests.web.moving.house import OCTOBER, asked, coming, mother
from tests.web.presses import at, page, take_back, text, way_back


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


def test_the_places_of_the_new_garden_are_its_own(owner: Client, garden: Garden, there: Garden) -> None:
    move = asked_move(garden, there)
    mother(garden, "mint", "Back step")
    Place.objects.filter(garden=there).delete()
    answer = owner.get(at("moving-go", garden, move.pk))
    assert answer.url == at("place-new", there)
    HouseMove.objects.update(to=None)
    assert owner.get(at("moving-go", garden, move.pk)).url == at("moving-one", garden, move.pk)
