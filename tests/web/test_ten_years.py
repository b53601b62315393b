"""Gardens of many years: past batches by the page, histories as columns, a record made anew only where it changed."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest
from bs4 import BeautifulSoup
from django.db import connection
from django.test import Client
from django.urls import reverse

from elder.engine.handbook.routes import POTTED
from elder.engine.keeping import STORE
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.read import histories, records
from elder.web.read.histories import all_histories, state_of
from elder.web.read.records import record_of
from elder.web.read.wants import reckon
from elder.web.season.models import Want
from tests.factories import WantFactory, take
from tests.web.presses import look

TODAY = date(2027, 3, 20)


def over(want: Want, count: int) -> list[Batch]:
    """So many batches of years ago, all planted and cropped from, the last to end last."""
    made = []
    for i in range(count):
        cut = date(2024, 3, 1) + timedelta(days=i)
        batch = Batch.objects.create(
            garden=want.garden, want=want, plant=want.plant, method=want.method, stock_plant="Ferry Lamp 1",
            rooting_place=want.rooting_place, growing_place=want.growing_place, over_on=cut + timedelta(days=90),
            plan={"target": (cut + timedelta(days=60)).isoformat(), "window": None, "wanted": 4},
        )  # fmt: skip
        for kind, day, number in (("taken", 0, 6), ("rooted", 12, 5), ("potted", 12, 5), ("planted", 40, 5)):
            Entry.objects.create(batch=batch, kind=kind, on=cut + timedelta(days=day), count=number)
        Entry.objects.create(batch=batch, kind="lost", on=cut + timedelta(days=12), count=1, stage="waiting", why="rot")
        Entry.objects.create(batch=batch, kind="harvested", on=cut + timedelta(days=90))
        made.append(batch)
    return made


def names(client: Client, garden: Garden, query: str = "") -> tuple[list[int], list[int], BeautifulSoup]:
    """The batches of the page, living and over, by their keys."""
    page = BeautifulSoup(client.get(reverse("batches", args=[garden.pk]) + query).content, "html.parser")

    def keys(label: str) -> list[int]:
        part = page.find("section", {"aria-label": label})
        return [int(link["href"].rstrip("/").rsplit("/", 1)[-1]) for link in part.select("a[data-row]")] if part else []  # type: ignore[attr-defined]

    return keys("Living batches"), keys("Batches that are over"), page


@pytest.fixture
def want(garden: Any) -> Any:
    return WantFactory(garden=garden, rooting_place=garden.places.get())


def test_past_batches_come_by_the_page_the_last_to_end_first(owner: Client, garden: Any, want: Any) -> None:
    past, living = over(want, 43), take(want, on=date(2027, 3, 10))
    keys = [batch.pk for batch in reversed(past)]
    alive, ended, page = names(owner, garden)
    assert (alive, ended) == ([living.pk], keys[:40])
    leaves = page.find("nav", {"aria-label": "Batches that are over, by the page"})
    assert leaves
    assert leaves.get_text(" ", strip=True) == "page 1 of 2, 43 in all Older"
    alive, ended, page = names(owner, garden, "?page=2")
    assert (alive, ended) == ([], keys[40:])
    assert "page 2 of 2" in page.get_text(" ", strip=True)
    assert names(owner, garden, "?page=99")[1] == keys[40:], "a page that is not there is the nearest"
    assert names(owner, garden, "?page=none")[1] == keys[:40]


def test_a_page_of_past_batches_asks_as_much_for_forty_as_for_one(
    owner: Client, garden: Any, want: Any, django_assert_max_num_queries: Any
) -> None:
    over(want, 41)
    names(owner, garden)
    with django_assert_max_num_queries(16):
        names(owner, garden)


@pytest.mark.parametrize("name", ["record", "record-became", "record-losses", "record-right", "record-year", "season",
                                  "stock-families", "shed", "year", "year-winter"])  # fmt: skip
def test_no_page_about_all_years_asks_more_for_many_batches(
    owner: Client, garden: Any, want: Any, name: str, django_assert_max_num_queries: Any
) -> None:
    over(want, 30)
    owner.get(reverse(name, args=[garden.pk]))
    STORE.forget()
    with django_assert_max_num_queries(34):
        assert owner.get(reverse(name, args=[garden.pk])).status_code == 200


def test_a_record_is_made_anew_only_where_something_changed(owner: Client, garden: Any, want: Any) -> None:
    over(want, 3)
    batch = take(want, on=date(2027, 3, 10))

    def told() -> dict[int, Any]:
        return {one.row.pk: one for one in record_of(Garden.objects.get(pk=garden.pk), TODAY).told}

    def again(before: dict[int, Any]) -> tuple[dict[int, Any], set[int]]:
        now = told()
        return now, {pk for pk in now if now[pk] is not before.get(pk)}

    first = told()
    second, changed = again(first)
    assert changed == set()
    look(owner, batch, rooted=2)
    third, changed = again(second)
    assert changed == {batch.pk}
    assert third[batch.pk].state.count("rooted") == 2
    assert second[batch.pk].state.count("rooted") == 0
    Batch.objects.filter(pk=min(first)).update(variety="Elder Lamp")
    fourth, changed = again(third)
    assert changed == {min(first)}
    assert fourth[min(first)].row.variety == "Elder Lamp"
    Want.objects.filter(pk=want.pk).update(purpose="gift")
    _, changed = again(fourth)
    assert changed == set(first), "all that were cut for it"
    STORE.forget()
    assert set(told()) == set(first)


def test_histories_are_read_on_from_where_they_were(garden: Any, want: Any, django_assert_num_queries: Any) -> None:
    past, batch = over(want, 2), take(want, on=date(2027, 3, 10))
    first = all_histories(garden.pk)
    with django_assert_num_queries(1):
        assert all_histories(garden.pk) is first
    Entry.objects.create(batch=batch, kind="tended", on=TODAY, deed="water")
    second = all_histories(garden.pk)
    assert [entry.kind for entry in second[batch.pk].entries] == ["taken", "tended"]
    assert second[past[0].pk] is first[past[0].pk]
    assert [entry.kind for entry in first[batch.pk].entries] == ["taken"]
    for deed in ("water", "mist"):
        Entry.objects.create(batch=batch, kind="tended", on=TODAY, deed=deed)
    third, fourth = (all_histories(garden.pk) for _ in range(2))
    assert [entry.deed for entry in third[batch.pk].entries] == ["", "water", "water", "mist"]
    assert fourth is third, "nothing is read twice"


def test_of_what_is_over_plain_care_is_not_read_until_it_is_written_to_again(garden: Any, want: Any) -> None:
    """But where cuttings dry, it tells when they were stuck; and care that found something is told all the same."""
    past, living = over(want, 3), take(want, on=date(2027, 3, 10))
    for batch in (*past, living):
        Entry.objects.create(batch=batch, kind="tended", on=TODAY, deed="water")
    Entry.objects.create(batch=past[0], kind="tended", on=date(2024, 3, 9), deed="mist", signs="wilted")
    Batch.objects.filter(pk=past[1].pk).update(method="jar")  # dragon fruit dries for that way, a tomato does not
    Batch.objects.filter(pk=past[2].pk).update(plant="dragon-fruit", method="jar")
    told = {pk: [one.deed for one in history.entries if one.deed] for pk, history in all_histories(garden.pk).items()}
    assert told == {past[0].pk: ["mist"], past[1].pk: [], past[2].pk: ["water"], living.pk: ["water"]}
    # Struck out, its end is taken back: it lives again, with all its care.
    end = past[1].entries.get(kind="harvested")
    Entry.objects.create(batch=past[1], kind="struck", on=TODAY, strikes=end)
    Batch.objects.filter(pk=past[1].pk).update(over_on=None)
    again = all_histories(garden.pk)
    assert [one.deed for one in again[past[1].pk].entries if one.deed] == ["water"]
    assert state_of(again[past[1].pk], POTTED).tended == {"water": (TODAY,)}
    assert all_histories(garden.pk) is again, "nothing is read twice"


def test_what_is_written_between_two_questions_is_read_the_next_time(
    garden: Any, want: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Lines and care are two questions: what comes after the first is asked is left for later by both."""
    one, other = take(want, on=date(2027, 3, 10)), take(want, on=date(2027, 3, 11))

    def meanwhile(garden_id: int) -> list[int]:
        Entry.objects.create(batch=one, kind="looked", on=TODAY)
        Entry.objects.create(batch=other, kind="tended", on=TODAY, deed="water")
        return [one.pk, other.pk]

    with monkeypatch.context() as patch:
        patch.setattr(histories, "_cared_for", meanwhile)
        first = all_histories(garden.pk)
    assert [len(first[batch.pk].entries) for batch in (one, other)] == [1, 1]
    then = all_histories(garden.pk)
    assert [then[batch.pk].entries[-1].kind for batch in (one, other)] == ["looked", "tended"]


def test_what_is_over_is_counted_unless_a_living_one_shares_its_luck(garden: Any, want: Any) -> None:
    """Of one mother and fortnight: two that live share their luck, and one of them that is over tells of it; of those
    that are all over it is known what came."""

    def reckoned(*batches: Batch) -> Any:
        return reckon(want, Garden.objects.get(pk=garden.pk), TODAY, batches=list(batches))

    past = over(want, 2)
    first, second = (take(want, on=date(2027, 3, day), count=8) for day in (8, 10))
    ended = take(want, on=date(2027, 3, 9), count=4)
    Entry.objects.create(batch=ended, kind="lost", on=date(2027, 3, 15), count=4, stage="waiting", why="rot")
    found = reckoned(*past, first, second, ended)
    own = [-past[0].pk, -past[1].pk]
    assert list(found.lucky[:2]) == own, "what is over shares nothing with what is over"
    assert len(set(found.lucky[2:])) == 1
    assert found.lucky[2] not in own
    kinds = [type(one).__name__ for one in found.forecasts]
    assert kinds == ["Settled", "Settled", "BatchForecast", "BatchForecast", "BatchForecast"]
    alone = [reckoned(one) for one in (first, second)]
    together, apart = reckoned(first, second), [one.pmfs_on(date(2027, 5, 1))[0] for one in alone]
    (shared,) = together.pmfs_on(date(2027, 5, 1))
    assert shared[0] > 1.05 * apart[0][0] * apart[1][0], "a poor mother is poor in both"
    assert [counts.argmax() for counts in reckoned(*past).pmfs_on(date(2027, 5, 1))] == [5, 5]


def test_what_is_over_tells_the_same_of_its_luck_whatever_care_is_read_of_it(garden: Any, want: Any) -> None:
    living = take(want, on=date(2027, 3, 10), count=8)
    ended = take(want, on=date(2027, 3, 9), count=4)
    Entry.objects.create(batch=ended, kind="lost", on=date(2027, 3, 15), count=4, stage="waiting", why="rot")
    Batch.objects.filter(pk=ended.pk).update(over_on=date(2027, 3, 15))

    def told() -> tuple[date, list[float]]:
        found = reckon(want, Garden.objects.get(pk=garden.pk), TODAY, batches=[living, ended])
        (shared,) = found.pmfs_on(date(2027, 5, 1))
        return found.batches[1].forecast.today, shared.tolist()

    before = told()
    assert before[0] == date(2027, 3, 15), "reckoned on its own last day"
    Entry.objects.create(batch=ended, kind="tended", on=date(2027, 3, 18), deed="water")
    assert told() == before, "written to, it is read whole"
    STORE.forget()
    assert told() == before, "and then without its care"


def test_of_a_garden_that_was_left_all_batches_stay_to_be_read(owner: Client, garden: Any, want: Any) -> None:
    past, batch = over(want, 1), take(want, on=date(2027, 3, 10))
    Garden.objects.filter(pk=garden.pk).update(closed_on=TODAY)
    assert names(owner, garden)[:2] == ([batch.pk], [past[0].pk])
    Garden.objects.filter(pk=garden.pk).update(closed_on=None)
    Batch.objects.filter(pk=past[0].pk).update(over_on=None)  # not marked, and over all the same
    assert names(owner, garden)[:2] == ([batch.pk], [past[0].pk])


def test_one_record_a_garden_and_day_is_kept_however_often_it_changes(owner: Client, garden: Any, want: Any) -> None:
    batch = take(want, on=date(2027, 3, 10))
    record_of(Garden.objects.get(pk=garden.pk), TODAY)
    STORE.forget()
    weighed = []
    for day in range(11, 17):
        Entry.objects.create(batch=batch, kind="tended", on=date(2027, 3, day), deed="water")
        record_of(Garden.objects.get(pk=garden.pk), TODAY)
        weighed.append(STORE.bytes)
    assert weighed[-1] - weighed[1] < 60_000, "small states and looks alone are added"


@pytest.mark.skipif(connection.vendor != "sqlite", reason="a planner with so few rows reads them all")
def test_a_line_dated_after_today_is_looked_up_not_looked_for(garden: Any) -> None:
    plan = garden.batches.filter(entries__on__gt=TODAY).explain()
    assert "COVERING INDEX entry_batch_on (batch_id=? AND on>?)" in plan


def test_a_garden_read_at_once_knows_whose_want_each_batch_was_cut_for(
    garden: Any, want: Any, monkeypatch: pytest.MonkeyPatch, django_assert_num_queries: Any
) -> None:
    """More batches than are asked for by their keys: each want is read once, and stands with its batches."""
    other = WantFactory(garden=garden, rooting_place=garden.places.get(), wanted=3)
    mine, theirs = over(want, 3), over(other, 2)
    monkeypatch.setattr(records, "FEW", 4)
    told = {one.row.pk: one.row for one in record_of(garden, TODAY).told}
    with django_assert_num_queries(0):
        assert [told[batch.pk].want.pk for batch in mine] == [want.pk] * 3
        assert [told[batch.pk].want.wanted for batch in theirs] == [3, 3]
    assert len({id(row.want) for row in told.values()}) == 2
