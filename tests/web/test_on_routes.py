"""Batches on their routes as their pages have them: moves, deeds on a verdict, trimmings, shares, names."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

import pytest
from django.test import Client

from elder.engine.place.weather import DayAhead
from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.read.batches import batch_today
from elder.web.read.want_rows import batches_of, want_row
from elder.web.read.wants import reckon
from elder.web.rounds import round as rounds
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import MILD, TODAY, at, kinds, look, page, press, take_back, text, undo_on, wanted

CUT = date(2027, 3, 6)


def move(client: Client, batch: Batch, verb: str, count: int, **more: Any) -> Any:
    data = {f"{verb}-{name}": value for name, value in {"on": TODAY.isoformat(), "count": count, **more}.items()}
    return client.post(at("move", batch.garden, batch.pk, verb), {**data, "key": uuid.uuid4()})


def state_of(batch: Batch) -> Any:
    fresh = Batch.objects.select_related("want").get(pk=batch.pk)
    return batch_today(fresh, fresh.garden, TODAY, want=fresh.want).state


def straight(garden: Any, way: str = "jar-straight-out", plant: str = "tomato", **more: Any) -> Batch:
    return take(wanted(garden, plant, way, **more), on=CUT)


def test_a_jar_goes_straight_out(owner: Client, garden: Any) -> None:
    batch = straight(garden)
    assert "no pot" in text(page(owner, "batch", garden, batch.pk))
    look(owner, batch, rooted=6)
    said = page(owner, "batch", garden, batch.pk)
    assert "Start hardening" in said
    assert "potted on" not in text(said), "its stages know no pot"
    assert "Pot on" in said, "it may all the same"
    move(owner, batch, "harden", 4)
    move(owner, batch, "plant-out", 5)
    state = state_of(batch)
    assert [state.count(one) for one in ("waiting", "rooted", "hardening", "planted")] == [5, 1, 0, 5]


def test_given_unrooted_is_given_all_the_same(owner: Client, garden: Any, batch: Batch) -> None:
    look(owner, batch, rooted=4)
    said = page(owner, "batch", garden, batch.pk)
    assert "Give away or hand over" in said
    assert '<option value="waiting">7 waiting</option>' in said
    move(owner, batch, "give", 3, stage="waiting")
    assert "3 given away, unrooted" in page(owner, "batch", garden, batch.pk)
    state = state_of(batch)
    assert (state.count("waiting"), state.count("rooted"), state.given) == (4, 4, 3)
    answer = move(owner, batch, "give", 5, stage="waiting")
    assert "5 given away does not add up" in answer.content.decode()


def test_lined_out_is_lifted_when_it_rests(owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    bed = PlaceFactory(garden=garden, name="Nursery row", standing="ground")
    want = WantFactory(garden=garden, plant="grapevine", method="ground", rooting_place=bed)
    batch = take(want, on=date(2027, 1, 10), count=9)
    look(owner, batch, rooted=6)
    said = text(page(owner, "batch", garden, batch.pk))
    assert "6 rooted in the row" in said
    assert "Pot on" not in said
    item = batch_today(Batch.objects.get(pk=batch.pk), garden, TODAY, want=want)
    assert item.lifting
    first = item.lifting[0]
    assert [(task.verb, task.due, task.count) for task in item.tasks if task.verb == "lift"] == [("lift", first, 6)]
    monkeypatch.setattr(access, "today_in", lambda garden: first)
    assert "Lift and pot 6" in page(owner, "round", garden)
    assert "Lift with a fork" in page(owner, "batch", garden, batch.pk)
    move(owner, batch, "lift", 6, on=first.isoformat())
    said = page(owner, "batch", garden, batch.pk)
    assert "6 lifted and potted" in said
    state = batch_today(Batch.objects.get(pk=batch.pk), garden, first, want=want).state
    assert (state.count("potted"), state.count("planted"), state.lots["potted"][0].grown) == (6, 0, True)
    assert "Lift and pot 6" not in page(owner, "round", garden)


def test_a_solution_has_its_words(owner: Client, garden: Any) -> None:
    batch = straight(garden, way="growbed-solution", plant="mint")
    look(owner, batch, rooted=5)
    assert "Set 5 into solution" in page(owner, "round", garden)
    move(owner, batch, "pot-on", 5)
    said = text(page(owner, "batch", garden, batch.pk))
    assert "5 in solution" in said
    entry = batch.entries.get(kind="potted")
    assert entry.count == 5


def verdict(client: Client, batch: Batch, *signs: str) -> str:
    answer = look(client, batch, signs=list(signs))
    return str(client.get(answer.url).content.decode())


def test_a_verdict_has_its_deeds(owner: Client, garden: Any, batch: Batch) -> None:
    said = verdict(owner, batch, "black_base")
    assert "Done about it" in said
    for name in ("Recut", "Lose"):
        assert f'class="button">{name}</button>' in said
    assert "Give this one up" not in said, "one weak sign throws nothing away"
    before = batch_today(Batch.objects.get(pk=batch.pk), garden, TODAY, want=batch.want)
    owner.post(at("round-recut", garden, batch.pk), {"count": 3, "key": uuid.uuid4()})
    assert "3 recut" in page(owner, "batch", garden, batch.pk)
    after = batch_today(Batch.objects.get(pk=batch.pk), garden, TODAY, want=batch.want)
    assert before.state.signs_now == ("black_base",)
    assert after.state.signs_now == ()
    assert after.forecast.hope > before.forecast.hope, "what was seen at the foot was cut away"
    lost = {"lost": 2, "why": "rot", "then": "batch"}
    assert look(owner, batch, **lost).url == at("batch", garden, batch.pk)
    assert state_of(batch).lost_waiting == 2


def test_black_again_is_given_up_in_one_press(owner: Client, garden: Any, batch: Batch) -> None:
    Entry(batch=batch, kind="looked", on=date(2027, 3, 12), stage="waiting", signs="black_base").save()
    said = verdict(owner, batch, "black_base")
    assert "Give this one up" in said
    look(owner, batch, lost=1, why="gave_up", then="batch")
    assert "1 lost, given up on" in page(owner, "batch", garden, batch.pk)


@pytest.mark.parametrize("count", ["0", "12", "x", ""])
def test_no_more_are_recut_than_there_are(owner: Client, garden: Any, batch: Batch, count: str) -> None:
    answer = owner.post(at("round-recut", garden, batch.pk), {"count": count}, follow=True)
    assert "Between 1 and 11 can be recut." in answer.content.decode()
    assert kinds(batch) == ["taken"]


def test_good_news_wants_no_deed(owner: Client, batch: Batch) -> None:
    assert "Done about it" not in verdict(owner, batch, "new_growth")


def test_carried_in_and_out_again(owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    frame = PlaceFactory(garden=garden, name="Cold frame", standing="air")
    want = WantFactory(garden=garden, rooting_place=frame)
    batch = take(want, on=CUT)
    cold = tuple(DayAhead(TODAY + timedelta(days=i), 8, -3 if i == 0 else 8) for i in range(10))
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: cold)
    press(owner, garden, "carry_in", batch)
    assert "Carry out again" not in page(owner, "round", garden), "tonight is the night"
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: MILD)
    assert "Carry out again" not in page(owner, "round", garden), "nor on the day they came in"
    tomorrow = TODAY + timedelta(days=1)
    monkeypatch.setattr(access, "today_in", lambda garden: tomorrow)
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: cold[1:])
    assert "Carry out again" in page(owner, "round", garden)
    press(owner, garden, "carry_out", batch, on=tomorrow.isoformat())
    assert "Carry out again" not in page(owner, "round", garden)
    assert kinds(batch) == ["taken", "carry_in", "carry_out"]
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: MILD)


def test_trimmings_become_a_batch_of_their_own(owner: Client, garden: Any, batch: Batch) -> None:
    key = uuid.uuid4()
    sent = {"fate": "struck", "count": 4, "key": key}
    for _ in range(2):
        answer = owner.post(at("cut-trim", garden, batch.pk), sent, follow=True)
    made = Batch.objects.exclude(pk=batch.pk).get()
    assert (made.stock_plant, made.want, made.entries.get().count) == ("Ferry Lamp 1", batch.want, 4)
    assert kinds(batch) == ["taken", "struck"]
    take_back(owner, garden, undo_on(answer.content.decode()))
    assert not Batch.objects.filter(pk=made.pk).exists()
    assert batch.entries.filter(kind="struck").count() == 1, "and the line is struck out"


def test_another_use_in_ones_own_words(owner: Client, garden: Any, batch: Batch) -> None:
    owner.post(at("cut-trim", garden, batch.pk), {"fate": "used", "words": "  ", "key": uuid.uuid4()})
    assert kinds(batch) == ["taken"]
    owner.post(at("cut-trim", garden, batch.pk), {"fate": "used", "words": "basket rims", "key": uuid.uuid4()})
    assert "trimmings put to use: basket rims" in page(owner, "batch", garden, batch.pk)


def test_a_crown_leaves_nothing_to_strike_and_a_vine_feeds_rabbits(owner: Client, garden: Any) -> None:
    top = take(wanted(garden, "pineapple", "peeled", purpose="pot"), on=CUT, count=1)
    said = text(page(owner, "cut-after", garden, top.pk))
    assert "It is taken whole: nothing of it is left to strike." in said
    assert "two nodes" not in said
    owner.post(at("cut-trim", garden, top.pk), {"fate": "struck", "count": 2})
    assert Batch.objects.count() == 1
    vine = take(wanted(garden, "grapevine", "stick"), on=CUT, count=5)
    said = text(page(owner, "cut-after", garden, vine.pk))
    assert "Rabbits: prunings never sprayed and never dipped" in said
    assert "Weaving and tying, or as you say." in said


def test_after_the_cut_the_whole_sheet_stands(owner: Client, garden: Any, batch: Batch) -> None:
    said = page(owner, "cut-after", garden, batch.pk)
    for step in (
        "Blade, bag, labels",
        "Choose the shoot",
        "Cut as drawn",
        "Stand them in the jars",
        "Label, the right",
    ):
        assert step in said
    assert "One cutting, to scale" in said
    assert "Then potted on (roots of 1 cm or more)" in said


def test_one_cut_from_three_mothers(owner: Client, garden: Any, want: Any) -> None:
    sent = {
        "on": TODAY.isoformat(), "count": 12, "stock_plant": "Ferry Lamp 1", "also_count": 4,
        "also_plant": "Ferry Lamp 2", "third_count": 1, "third_plant": "by the door",
        "rooting_place": want.rooting_place_id,
        "growing_place": want.growing_place_id,
    }  # fmt: skip
    answer = owner.post(at("take", garden, want.pk), sent, follow=True)
    rows = Batch.objects.order_by("pk")
    assert [(row.stock_plant, row.entries.get().count) for row in rows] == [
        ("Ferry Lamp 1", 7), ("Ferry Lamp 2", 4), ("by the door", 1),
    ]  # fmt: skip
    assert "Taken: 12, from Ferry Lamp 1, Ferry Lamp 2 and by the door." in text(answer.content.decode())
    take_back(owner, garden, undo_on(answer.content.decode()))
    assert not Batch.objects.exists()


@pytest.mark.parametrize(
    ("shares", "said"),
    [
        ({"also_count": 3}, "Name the plant those were cut from."),
        ({"also_count": 12, "also_plant": "Two"}, "More than the 12 that were cut, or all of them."),
    ],
)
def test_shares_that_do_not_add_up(owner: Client, garden: Any, want: Any, shares: dict[str, Any], said: str) -> None:
    places = {"rooting_place": want.rooting_place_id, "growing_place": want.growing_place_id}
    sent = {"on": TODAY.isoformat(), "count": 12, "stock_plant": "One", **places, **shares}
    assert said in owner.post(at("take", garden, want.pk), sent).content.decode()
    assert not Batch.objects.exists()


def sheet(garden: Any, **more: Any) -> dict[str, Any]:
    place = garden.places.get().pk
    return {
        "plant": "laurustinus", "method": "cells", "ask": "wanted", "when": "safe", "confidence": "0.9",
        "purpose": "bed", "stock": "usual", "rooting_place": place, "growing_place": place, **more,
    }  # fmt: skip


@pytest.mark.parametrize(
    ("asked", "count"),
    [
        ({"ask": "hedge", "hedge_m": "6", "hedge_each": "3"}, 18),
        ({"ask": "hedge", "hedge_m": "7.1", "hedge_each": "2.5"}, 18),  # 17.75
        ({"ask": "patch", "patch_m2": "2", "patch_each": "9"}, 18),
    ],
)
def test_a_hedge_or_a_patch_to_a_number(owner: Client, garden: Any, asked: dict[str, str], count: int) -> None:
    owner.post(at("want-new", garden), sheet(garden, **asked))
    assert Want.objects.get().wanted == count


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ({"ask": "hedge", "hedge_m": "", "hedge_each": "3"}, "Say how much."),
        ({"ask": "hedge", "hedge_m": "90", "hedge_each": "3"}, "That is 270 plants; at most 200 to a want."),
        ({"ask": "patch", "patch_m2": "no", "patch_each": "3"}, "A number, please."),
    ],
)
def test_a_hedge_that_is_no_number(owner: Client, garden: Any, asked: dict[str, str], said: str) -> None:
    assert said in owner.post(at("want-new", garden), sheet(garden, **asked)).content.decode()
    assert not Want.objects.exists()


def test_a_reserve_is_asked_again_when_some_have_left(owner: Client, garden: Any) -> None:
    want = wanted(garden, "mint", "jar", purpose="reserve")
    want.wanted = 2
    want.save()
    batch = take(want, on=date(2027, 1, 20), count=3)
    days = [date(2027, 2, day) for day in (8, 9)]
    for kind, day in zip(("rooted", "potted"), days, strict=True):
        Entry(batch=batch, kind=kind, on=day, count=3).save()
    row = want_row(garden, want.pk)
    stands = reckon(row, garden, TODAY, batches=batches_of(row))
    assert (stands.standing_word, stands.ready_now) == ("on-course", 0)
    assert stands.shortfall is None
    Entry(batch=batch, kind="planted", on=TODAY, count=2).save()
    row = want_row(garden, want.pk)
    left = reckon(row, garden, TODAY, batches=batches_of(row))
    assert left.standing_word == "short", "one stands, and two are always to"
    assert left.shortfall
    assert left.shortfall.count == 2  # two of one more to be sure: at 0.93 one alone is 9 in 10 at best


def test_a_mothers_page_begins_a_want_and_she_gives_too_few(owner: Client, garden: Any) -> None:
    old = StockPlant.objects.create(
        garden=garden, name="Old one", plant="tomato", variety="Ninepin", gives=4, again_days=14
    )
    StockPlant.objects.create(garden=garden, name="Young one", plant="tomato", gives=6, again_days=14)
    link = f"{at('want-new', garden)}?start=tomato&amp;mother={old.pk}"
    assert link in page(owner, "stock-plant", garden, old.pk)
    said = owner.get(at("want-new", garden), {"start": "tomato", "mother": old.pk}).content.decode()
    assert f'<option value="{old.pk}" selected>' in said
    assert 'value="Ninepin"' in said
    want = wanted(garden, "tomato", "jar", mother=old)
    said = text(page(owner, "want", garden, want.pk))
    assert "Old one gives 4 of the 12 that day" in said
    assert "besides her, Young one 6" in said or "taken as she gives: 4 on" in said


def test_what_nobody_knew_is_named(owner: Client, garden: Any) -> None:
    ask = {"plant": "unknown-soft", "piece": "tip", "pieces": 3, "state": "soft", "length": 12}
    said = owner.get(at("windfall", garden), ask).content.decode()
    assert "Soft, green and leafy" in said
    form = said.split("hand/take/")[1].split("</form>")[0]
    sent = {one.split('"')[0]: one.split('value="')[1].split('"')[0] for one in form.split('name="')[1:]}
    owner.post(at("windfall-take", garden), sent)
    batch = Batch.objects.get()
    assert (batch.plant, batch.method) == ("unknown-soft", "mix")
    assert "Do you know it now?" in page(owner, "batch", garden, batch.pk)
    assert "unknown" not in text(page(owner, "plants", garden)).lower()
    answer = owner.post(at("batch-name", garden, batch.pk), {"plant": "fuchsia"}, follow=True)
    batch.refresh_from_db()
    assert batch.want
    assert (batch.plant, batch.method, batch.want.plant) == ("fuchsia", "mix", "fuchsia")
    assert "It is fuchsia." in answer.content.decode()
    assert "Do you know it now?" not in answer.content.decode()
    assert owner.post(at("batch-name", garden, batch.pk), {"plant": "mint"}).status_code == 404, "it has a name"
    take_back(owner, garden, undo_on(answer.content.decode()))
    batch.refresh_from_db()
    assert (batch.plant, batch.method) == ("unknown-soft", "mix")


def test_a_top_cut_four_days_ago_is_written_down_so(owner: Client, garden: Any) -> None:
    PlaceFactory(garden=garden, name="Warm shelf", day_c=26, night_c=24)
    ask = {"plant": "pineapple", "piece": "top", "pieces": 1, "state": "sound", "cut_days": 4, "kept": "dry",
           "variety": "Sunday", "mother": "the market"}  # fmt: skip
    said = owner.get(at("windfall", garden), ask).content.decode()
    part = said.split("peeled and potted dry-ish")[-1]
    form = part.split("hand/take/")[1].split("</form>")[0]
    sent = {one.split('"')[0]: one.split('value="')[1].split('"')[0] for one in form.split('name="')[1:]}
    owner.post(at("windfall-take", garden), sent)
    batch = Batch.objects.get()
    assert (batch.variety, batch.stock_plant) == ("Sunday", "the market")
    assert batch.entries.get().on == TODAY - timedelta(days=4)
    assert "They are stuck" in page(owner, "cut-after", garden, batch.pk)


def test_feed_for_this_can(owner: Client, garden: Any) -> None:
    said = owner.get(at("cut-feed", garden), {"dose": "10", "per": "4.5", "share": "quarter", "litres": "9"})
    assert "5 ml to 9 litres of water." in said.content.decode()
    said = owner.get(at("cut-feed", garden), {"dose": "0"})
    assert "More than nothing, please." in said.content.decode()
