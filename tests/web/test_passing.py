"""Passing on: promises from want to slip, short ones, what is lent, handed over and taken back, and files read in."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client
from scipy.stats import betabinom

from elder.engine.place.weather import DayAhead
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.passing import pages
from elder.web.passing.models import Handing, Promise
from elder.web.read.promises import open_promises, promise_row, promise_today
from elder.web.read.want_rows import served_before
from elder.web.read.year_tasks import year_tasks
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant, VarietyAnswer
from tests.factories import WantFactory, take
from tests.web.conftest import TODAY, asked_promise
from tests.web.presses import at, page, take_back, text, way_back

JUNE = date(2027, 6, 12)


def standing(garden: Garden, count: int = 8, *, plant: str = "mint", wanted: int = 1, **more: Any) -> Batch:
    """So many in pots on the sill, hardened."""
    want = WantFactory(
        garden=garden, plant=plant, method="jar", wanted=wanted, rooting_place=garden.places.first(), **more
    )
    batch = take(want, on=TODAY - timedelta(days=40), count=count)
    lines = [
        Entry(kind="rooted", on=TODAY - timedelta(days=28), count=count),
        Entry(kind="potted", on=TODAY - timedelta(days=27), count=count),
        Entry(kind="hardening", on=TODAY - timedelta(days=8), count=count),
    ]
    done = actions.add_entries(batch, lines, today=TODAY, person=None)  # type: ignore[arg-type]
    assert not hasattr(done, "code")
    return batch


def today_of(promise: Promise, day: date = TODAY) -> Any:
    garden = Garden.objects.get(pk=promise.garden_id)
    return promise_today(promise_row(garden, promise.pk), garden, day)


def sent(client: Client, garden: Garden, **more: Any) -> Any:
    data = {
        "who": "the fair", "how": "order", "plant": "mint", "wanted": 6, "spares": 2, "by": JUNE.isoformat(),
        "handed_as": "", "confidence": 0.9, "goes": "hand", "road_days": 2, "inner": 35, "far_c": 0, "price": "12.50",
    }  # fmt: skip
    return client.post(at("passing-new", garden), {**data, "key": uuid4(), **more})


def answered(client: Client, promise: Promise, **more: Any) -> None:
    data = {"protected": "no", "quarantine": "no", "border": "no", "soil": "yes", **more}
    assert client.post(at("passing-answers", promise.garden, promise.pk), data).status_code == 302


def test_a_promise_is_a_want_with_somebody_at_its_end(owner: Client, garden: Garden) -> None:
    answer = sent(owner, garden)
    promise = Promise.objects.get()
    assert answer.url == at("passing-one", garden, promise.pk)
    want = promise.want
    assert (want.wanted, want.spares, want.total, want.purpose, want.by) == (6, 2, 8, "sale", JUNE)
    assert (promise.who, promise.how, str(promise.price)) == ("the fair", "order", "12.50")
    found = today_of(promise)
    assert (found.word, found.cut_by is not None) == ("to-cut", True)
    shown = text(page(owner, "passing-one", garden, promise.pk))
    count, day = found.cut_by
    assert f"Cut {count} tips by" in shown or f"Cut {count} tips today" in shown
    assert "of 8 plants, 2 of them for yourself" in shown
    assert day <= JUNE
    sent(owner, garden, key=promise.key)
    assert sent(owner, garden, who="").status_code == 200
    assert Promise.objects.count() == 2  # another press is another promise


def test_the_same_press_makes_one(owner: Client, garden: Garden) -> None:
    key = uuid4()
    sent(owner, garden, key=key)
    sent(owner, garden, key=key)
    assert Promise.objects.count() == Want.objects.count() == 1


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"who": ""}, "A word of your own for whom"),
        ({"by": "2027-03-19"}, "Today or a day ahead, please"),
        ({"by": "2031-01-01"}, "At most two years ahead"),
        ({"by": "then"}, "That is not a day of the calendar"),
        ({"wanted": 0}, "At least 1."),
        ({"price": "much"}, "An amount, such as 12.50"),
        ({"price": "-1"}, "Nothing or more"),
        ({"inner": "3", "goes": "parcel"}, "Between 8 and 200 cm"),
        ({"spares": 99}, "At most 50."),
    ],
)
def test_what_cannot_be_promised_says_why_beside_it(
    owner: Client, garden: Garden, wrong: dict[str, object], said: str
) -> None:
    answer = sent(owner, garden, **wrong)
    assert answer.status_code == 200
    assert said in text(answer.content.decode())
    assert "the fair" in answer.content.decode() or "who" in wrong
    assert not Promise.objects.exists()


def test_the_answer_stands_beside_the_form_as_it_is_typed(owner: Client, garden: Garden) -> None:
    """Before anything is typed, and of what is typed so far, whoever it is for."""
    standing(garden, 8)
    first = text(page(owner, "passing-new", garden))
    assert "They will" in first or "Cut " in first or "It will be reserved" in first
    query = {"plant": "mint", "wanted": 5, "by": JUNE.isoformat(), "how": "gift", "confidence": 0.9, "goes": "hand"}
    answer = owner.get(at("passing-new", garden), query, HTTP_X_ALPINE_REQUEST="true")
    shown = text(answer.content.decode())
    assert "It will be reserved from" in shown
    assert "(about 7 to spare)" in shown
    assert "<form" not in answer.content.decode()


def test_what_stands_is_reserved_for_it_at_once(owner: Client, garden: Garden) -> None:
    """Eight stand for a want of one: six and none kept come out of the seven that are left."""
    batch = standing(garden, 8)
    sent(owner, garden, spares=0)
    promise = Promise.objects.get()
    assert list(batch.also_for.all()) == [promise.want]
    found = today_of(promise)
    assert (found.word, found.now, found.kept.chance) == ("ready", 7, pytest.approx(1))
    assert found.standings[0].lent
    owner.post(at("passing-reserve", garden, promise.pk), {"batch": batch.pk, "end": "1"})
    assert not batch.also_for.exists()
    shown = text(page(owner, "passing-one", garden, promise.pk))
    assert f"Could be reserved {batch.code}" in shown
    owner.post(at("passing-reserve", garden, promise.pk), {"batch": batch.pk})
    assert list(batch.also_for.all()) == [promise.want]


def test_several_promises_of_one_batch_are_served_in_turn(garden: Garden) -> None:
    batch = standing(garden, 8)
    first = asked_promise(garden, wanted=4, reserved=[batch])
    second = asked_promise(garden, who="next door", wanted=4, reserved=[batch])
    assert (today_of(first).now, today_of(second).now) == (7, 3)  # one is its own want's, four the first promise's
    assert (today_of(first).word, today_of(second).short) == ("ready", 1)
    assert served_before(Batch.objects.get(pk=batch.pk), second.want) == 5


def test_one_promise_over_several_batches(owner: Client, garden: Garden) -> None:
    small, large = standing(garden, 4, wanted=1), standing(garden, 6, wanted=1)
    promise = asked_promise(garden, wanted=7, reserved=[small, large])
    assert today_of(promise).now == 8
    answered(owner, promise)
    counts = {f"from_{small.pk}": 3, f"from_{large.pk}": 4, "money": "14", "key": uuid4()}
    assert owner.post(at("passing-hand", garden, promise.pk), counts).status_code == 302
    given = [(entry.batch_id, entry.count, entry.stage, entry.deed) for entry in Entry.objects.filter(kind="given")]
    assert given == [(small.pk, 3, "hardening", "gift"), (large.pk, 4, "hardening", "gift")]
    promise.refresh_from_db()
    assert (promise.over_on, promise.handed, promise.want.closed_on) == (TODAY, 7, TODAY)
    assert str(Handing.objects.get().money) == "14.00"


def test_questions_come_first(owner: Client, garden: Garden) -> None:
    batch = standing(garden, 8)
    promise = asked_promise(garden, reserved=[batch], variety="")
    refused = owner.post(at("passing-hand", garden, promise.pk), {f"from_{batch.pk}": 6, "key": uuid4()})
    assert "First answer what is asked" in text(refused.content.decode())
    assert not Handing.objects.exists()
    answered(owner, promise, protected="unknown", border="yes", soil="no")
    said = VarietyAnswer.objects.get(garden=garden, plant="mint")
    assert (said.protected, said.quarantine) == ("unknown", "no")
    shown = text(page(owner, "passing-one", garden, promise.pk))
    assert "It crosses a border: plants and soil want papers there" in shown
    assert "No soil goes with it: bare roots, rinsed" in shown


def test_handing_over_in_parts_and_the_way_back(owner: Client, garden: Garden) -> None:
    batch = standing(garden, 8)
    promise = asked_promise(garden, wanted=6, reserved=[batch])
    answered(owner, promise)
    url, key = at("passing-hand", garden, promise.pk), uuid4()
    first = owner.post(url, {f"from_{batch.pk}": 2, "key": key})
    owner.post(url, {f"from_{batch.pk}": 2, "key": key})
    promise.refresh_from_db()
    assert (promise.handed, promise.left, promise.over_on) == (2, 4, None)
    offered = way_back(owner, first)
    assert take_back(owner, garden, offered).status_code == 302
    promise = Promise.objects.get()
    assert (promise.handed, Handing.objects.count()) == (0, 0)
    assert today_of(promise).now == 7
    owner.post(url, {f"from_{batch.pk}": 6, "swap": "seed potatoes", "key": uuid4()})
    done = Handing.objects.get()
    assert (done.count, done.swap) == (6, "seed potatoes")
    assert "Handed over." in text(page(owner, "passing-one", garden, promise.pk))


@pytest.mark.parametrize(
    ("counts", "said"),
    [(9, "No more than 7 stand there"), (0, "Say how many go"), (7, "6 are still promised; 7 is more than that")],
)
def test_no_more_than_stand_or_were_promised(owner: Client, garden: Garden, counts: int, said: str) -> None:
    batch = standing(garden, 8)
    promise = asked_promise(garden, wanted=6, reserved=[batch])
    answered(owner, promise)
    answer = owner.post(at("passing-hand", garden, promise.pk), {f"from_{batch.pk}": counts, "key": uuid4()})
    assert said in text(answer.content.decode())
    assert not Entry.objects.filter(kind="given").exists()


def test_what_is_handed_over_is_no_other_promises(owner: Client, garden: Garden) -> None:
    """Eight stand; one is the want's own, four go, and what is left for the second promise are three."""
    batch = standing(garden, 8)
    first = asked_promise(garden, wanted=4, reserved=[batch])
    second = asked_promise(garden, who="next door", wanted=4, reserved=[batch])
    answered(owner, first)
    owner.post(at("passing-hand", garden, first.pk), {f"from_{batch.pk}": 4, "key": uuid4()})
    found = today_of(second)
    assert (found.now, found.kept.sure, found.word) == (3, 3, "short")


def test_ones_own_share_is_said(owner: Client, garden: Garden) -> None:
    batch = standing(garden, 8)
    promise = asked_promise(garden, wanted=5, spares=4, reserved=[batch])
    found = today_of(promise)
    assert (found.kept.chance, found.kept.bare, found.kept.sure, found.word) == (0, pytest.approx(1), 3, "ready")
    assert "Of your own four that leaves two." in text(page(owner, "passing-one", garden, promise.pk))


def test_a_short_one_is_said_early(owner: Client, garden: Garden) -> None:
    """Four wait in the jar for an order of six: short today, ten weeks ahead, in the round and on the board."""
    promise = asked_promise(garden, wanted=6)
    take(promise.want, on=TODAY - timedelta(days=3), count=4)
    found = today_of(promise)
    assert (found.word, found.kept.chance) == ("short", 0.0)
    assert found.short == 6 - found.kept.sure > 2
    tasks = {task.kind: task for task in year_tasks(garden, TODAY, ahead=90)}
    assert (tasks["short"].due, tasks["short"].count, tasks["short"].detail) == (TODAY, found.short, "the fair")
    assert (tasks["hand"].due, tasks["hand"].count) == (JUNE, 6)
    shown = text(page(owner, "passing", garden))
    assert f"{found.short} short of 6 Mint for the fair, 12 Jun: say so now, or cut more." in shown
    assert f"{found.short} short for the fair" in text(page(owner, "round", garden))
    said = text(page(owner, "passing-one", garden, promise.pk))
    more = found.reckoning.shortfall
    assert more.most == 3 * more.count
    assert "Cut 7 tips more on 24 Apr; they are enough until 3 May, 21 until 14 May." in said


def test_rooted_ones_are_ready_when_they_have_roots(garden: Garden) -> None:
    """The same jar promised in pots by mid April is not ready, promised rooted it nearly is: no pot, no hardening. With
    a take of Beta(18, 2), nine in ten ready to pot by day 16 and 19 in 20 of those that stand, at least six of ten."""
    day = TODAY + timedelta(days=27)
    chances = {}
    for handed in ("", "rooted"):
        promise = asked_promise(garden, plant="tomato", wanted=6, by=day, handed_as=handed)
        take(promise.want, on=TODAY, count=10)
        chances[handed] = today_of(promise).chance
    assert chances[""] < 0.2
    assert chances["rooted"] == pytest.approx(betabinom.sf(5, 10, 0.855 * 16, 0.145 * 16), abs=0.03)


def mother(garden: Garden, name: str = "Old rosemary", plant: str = "rosemary", **more: Any) -> StockPlant:
    plain = {"gives": 15, "again_days": 40, "place": garden.places.first(), "since": date(2019, 4, 20)}
    return StockPlant.objects.create(garden=garden, name=name, plant=plant, **{**plain, **more})


def test_unrooted_ones_are_cut_the_day_they_go(owner: Client, garden: Garden, shoots: date) -> None:
    one = mother(garden)
    promise = asked_promise(
        garden, plant="rosemary", method="mix", wanted=10, by=shoots, handed_as="unrooted", how="swap"
    )
    found = today_of(promise, shoots)
    assert (found.now, found.word, promise.want.closed_on) == (15, "ready", TODAY)
    answered(owner, promise)
    answer = owner.post(at("passing-hand", garden, promise.pk), {f"from_{one.pk}": 10, "key": uuid4()})
    assert answer.status_code == 302
    batch = Batch.objects.get(mother=one)
    assert [(line.kind, line.count, line.stage, line.deed) for line in batch.entries.all()] == [
        ("taken", 10, "", ""), ("given", 10, "waiting", "swap"),
    ]  # fmt: skip
    assert batch.over_on == shoots
    take_back(owner, garden, way_back(owner, answer))
    assert Promise.objects.get().handed == 0
    assert batch.entries.filter(kind="struck").count() == 1


def test_too_few_mothers_is_short(garden: Garden, shoots: date) -> None:
    mother(garden, gives=4)
    promise = asked_promise(garden, plant="rosemary", method="mix", wanted=10, by=shoots, handed_as="unrooted")
    found = today_of(promise, shoots)
    assert (found.word, found.short) == ("short", 6)


def test_shoots_are_cut_to_the_parcel(owner: Client, garden: Garden, shoots: date) -> None:
    """40 cm with ten nodes in a parcel of 30: nodes 2 to 26 go, as sticks; six shoots give six."""
    mother(garden)
    promise = asked_promise(
        garden, plant="rosemary", method="mix", wanted=6, by=shoots, handed_as="unrooted", goes="parcel"
    )
    Promise.objects.filter(pk=promise.pk).update(inner_cm=30)
    url = at("passing-one", garden, promise.pk)
    answer = owner.get(url, {"shoots": 6, "long": 40, "nodes": 10}, HTTP_X_ALPINE_REQUEST="true")
    shown = text(answer.content.decode())
    assert "6 sticks for the parcel from six shoots; of the trimmings 6 tips to strike yourself." in shown
    short = owner.get(url, {"shoots": 2, "long": 40, "nodes": 10}, HTTP_X_ALPINE_REQUEST="true")
    assert "2 sticks for the parcel from two shoots, four short" in text(short.content.decode())
    none = owner.get(url, {"shoots": 2, "long": 40, "nodes": 1}, HTTP_X_ALPINE_REQUEST="true")
    assert "Such a shoot gives no stick that fits" in text(none.content.decode())


def test_the_road_names_the_day_to_send_on(owner: Client, garden: Garden, monkeypatch: pytest.MonkeyPatch) -> None:
    """Saturday 20 March; mint in pots bears what is 4 °C over its limit: every night but one of 12 °C does."""
    lows = [12.0] * 10
    lows[3] = -15.0
    way = tuple(DayAhead(TODAY + timedelta(days=i), 18.0, low) for i, low in enumerate(lows))
    monkeypatch.setattr(pages, "way_ahead", lambda garden, today, far_c: way)
    promise = asked_promise(garden, by=TODAY + timedelta(days=9), goes="parcel", road_days=1)
    shown = text(page(owner, "passing-one", garden, promise.pk))
    assert "Send it on Sat 27 Mar: there Mon 29 Mar, and it fares well." in shown
    assert "Tue 23 Mar, there Wed 24 Mar too cold on the way" in shown
    monkeypatch.setattr(pages, "way_ahead", lambda garden, today, far_c: ())
    assert "is not to be had just now" in text(page(owner, "passing-one", garden, promise.pk))
    Promise.objects.update(road_days=9)
    assert "It bears 5 days in a parcel, and 9 are too many." in text(page(owner, "passing-one", garden, promise.pk))


def test_called_off_with_a_way_back(owner: Client, garden: Garden) -> None:
    batch = standing(garden, 8)
    promise = asked_promise(garden, reserved=[batch])
    answer = owner.post(at("passing-off", garden, promise.pk))
    promise.refresh_from_db()
    assert (promise.over_on, promise.want.closed_on, open_promises(garden, TODAY)) == (TODAY, TODAY, [])
    take_back(owner, garden, way_back(owner, answer))
    promise = Promise.objects.get()
    assert (promise.over_on, promise.want.closed_on) == (None, None)


def test_money_and_swaps_stand_in_the_record(owner: Client, garden: Garden) -> None:
    batch = standing(garden, 8)
    promise = asked_promise(garden, wanted=6, reserved=[batch])
    answered(owner, promise)
    url = at("passing-hand", garden, promise.pk)
    owner.post(url, {f"from_{batch.pk}": 2, "money": "12.50", "key": uuid4()})
    owner.post(url, {f"from_{batch.pk}": 4, "swap": "seed potatoes", "key": uuid4()})
    shown = text(page(owner, "record-became", garden))
    assert "6 plants passed on: 12.50 in money and in return seed potatoes." in shown
    assert "2 Mint to the fair, 20 Mar 2027 : 12.50" in shown
    assert "4 Mint to the fair, 20 Mar 2027 : seed potatoes" in shown
    assert "6 given" in shown


def test_a_rooted_promise_just_stuck_agrees_with_its_plan(garden: Garden) -> None:
    """What the plan says of so many cut today, and what the batch says once they are: one law, told twice."""
    promise = asked_promise(garden, plant="tomato", wanted=6, by=TODAY + timedelta(days=18), handed_as="rooted")
    plan = today_of(promise).reckoning.plan
    option = plan.option(TODAY)
    take(promise.want, on=TODAY, count=option.count)
    assert option.count > 7
    assert today_of(promise).chance == pytest.approx(option.chance, abs=0.03)


def test_what_cannot_be_raised_any_more_is_short_too(owner: Client, garden: Garden) -> None:
    """Six rosemary by tomorrow: nothing stands, nothing cut today is ready; one that stands makes it five."""
    promise = asked_promise(garden, plant="rosemary", method="mix", wanted=6, by=TODAY + timedelta(days=1))
    found = today_of(promise)
    assert (found.word, found.short) == ("refused", 6)
    assert [task.count for task in year_tasks(garden, TODAY, ahead=0) if task.kind == "short"] == [6]
    assert "6 short of 6 Rosemary for the fair" in text(page(owner, "passing", garden))


def test_each_batch_says_how_many_are_surely_for_it(owner: Client, garden: Garden) -> None:
    batch = standing(garden, 8, wanted=3)
    promise = asked_promise(garden, wanted=5, reserved=[batch])
    shown = text(page(owner, "passing-one", garden, promise.pk))
    assert f"{batch.code} lent 5 can go today; about 8 of its 8 by 12 Jun, 9 in 10 that 5 are for this" in shown


@pytest.mark.parametrize(("handed", "verbs"), [("", ["pot_on"]), ("rooted", [])])
def test_nobody_is_asked_to_pot_what_goes_rooted(garden: Garden, handed: str, verbs: list[str]) -> None:
    promise = asked_promise(garden, plant="tomato", wanted=3, handed_as=handed)
    batch = take(promise.want, on=TODAY - timedelta(days=14), count=4)
    rooted = Entry(kind="rooted", on=TODAY, count=4)
    assert not hasattr(actions.add_entries(batch, [rooted], today=TODAY, person=None), "code")  # type: ignore[arg-type]
    (standing_now,) = today_of(promise).standings
    assert [task.verb for task in standing_now.batch.tasks] == verbs
    assert standing_now.now == (4 if handed else 0)
