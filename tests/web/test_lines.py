"""A line multiplied in the application: asked live, begun, cut lot by lot, planned anew from what took."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.garden.models import Garden
from elder.web.read.line_rows import slow_days
from elder.web.read.lines import LineToday, line_today
from elder.web.read.year_tasks import year_tasks
from elder.web.rounds.calendar import dates_of
from elder.web.stock.models import StockLook, StockPlant
from elder.web.year.models import LineLot, Multiplying
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.conftest import asked_line
from tests.web.presses import TODAY, at, page, take_back, text, undo_on

LIVE = {"HTTP_X_ALPINE_REQUEST": "true"}


@pytest.fixture
def mother(garden: Garden) -> StockPlant:
    """A mint on the sill that gives twelve, seen in growth."""
    row = StockPlant.objects.create(
        garden=garden, name="Old mint", plant="mint", gives=12, again_days=21, place=garden.places.get()
    )
    StockLook.objects.create(mother=row, on=TODAY - timedelta(days=3), shoots=36)
    return row


def found(row: Multiplying, today: date = TODAY) -> LineToday:
    return line_today(Multiplying.objects.get(pk=row.pk), Garden.objects.get(pk=row.garden_id), today)


def asked(mother: StockPlant, **more: Any) -> dict[str, Any]:
    place = mother.garden.places.first()
    plain = {
        "wanted": 20, "by": "2027-09-01", "confidence": 0.9, "method": "jar", "rooting_place": place.pk,
        "growing_place": place.pk, "gives": 3, "again_days": 21, "first_take_days": 21, "keep_uncut": 0.0,
        "weekday": "", "mothers_count": "on",
    }  # fmt: skip
    return {**plain, **more}


def cut(client: Client, row: Multiplying, on: date = TODAY, **counts: int) -> Any:
    place = row.garden.places.first()
    data = {"on": on.isoformat(), "rooting_place": place.pk, "key": uuid4(), **counts}
    return client.post(at("year-line-cut", row.garden, row.pk), data)


def test_the_answer_is_live_and_the_line_is_kept(owner: Client, garden: Garden, mother: StockPlant) -> None:
    chosen = text(page(owner, "year-multiply", garden))
    assert "Old mint Mint 12 tips now" in chosen
    url = at("year-line-new", garden, mother.pk)
    first = text(owner.get(url).content.decode())
    assert "24 by 19 Mar 2028" in first, "answered before anything is typed"
    live = text(owner.get(url, asked(mother), **LIVE).content.decode())
    assert "20 by 1 Sep: " in live
    assert "Cut 12 tips today." in live
    assert "<form" not in owner.get(url, asked(mother), **LIVE).content.decode(), "only the answer is sent"
    wrong = text(owner.post(url, asked(mother, by="2027-03-01")).content.decode())
    assert "A day ahead, please: today is Sat 20 Mar." in wrong
    kept = owner.post(url, asked(mother))
    row = Multiplying.objects.get()
    assert kept.url == at("year-line", garden, row.pk)
    assert (row.wanted, row.by, list(row.mothers.all()), row.made_on) == (20, date(2027, 9, 1), [mother], TODAY)
    assert "20 by 1 Sep" in text(page(owner, "year", garden))


def test_what_a_line_is_reckoned_with(garden: Garden, mother: StockPlant) -> None:
    """Twelve of the mother now and every 21 days; her clones three each; days to a plant by the place and the day."""
    row = asked_line(garden, mother, wanted=20, keep_uncut=0.25)
    line = found(row)
    (group,) = line.standing
    assert (group.count, group.gives, group.again_days, group.cut_from, group.takes) == (1, 12, 21, TODAY, None)
    assert (line.wanted.line.gives, line.wanted.line.again_days, line.wanted.line.first_take_days) == (3, 21, 21)
    assert line.wanted.line.slow_days == slow_days(line.setting, TODAY)
    assert line.bench.keep_uncut == 0.25
    assert line.wanted.line.take.mean == pytest.approx(line.setting.method.take.mean * 0.95)
    lots = line.shown.lots
    assert (lots[0].day, lots[0].count) == (TODAY, 12)
    assert lots[0].plant_on == TODAY + timedelta(days=slow_days(line.setting, TODAY)[0])


def test_a_mother_lately_cut_is_waited_for(garden: Garden, mother: StockPlant, owner: Client) -> None:
    row = asked_line(garden, mother)
    cut(owner, row, **{f"mother{mother.pk}": 12})
    assert found(row).standing[0].cut_from == TODAY + timedelta(days=21)


def test_one_weekday_and_room(garden: Garden, mother: StockPlant) -> None:
    row = asked_line(garden, mother, wanted=60, by=date(2028, 3, 1), weekday=2)
    assert {lot.day.weekday() for lot in found(row).whole.lots} == {2}
    sill = garden.places.get()
    sill.capacity = {"jar": 2}
    sill.save()
    assert found(row).bench.room == 2 * 5, "five stems to a jar"


def test_a_lot_is_cut_in_one_press_and_taken_back(owner: Client, garden: Garden, mother: StockPlant) -> None:
    row = asked_line(garden, mother)
    key = f"mother{mother.pk}"
    shown = page(owner, "year-line", garden, row.pk)
    assert f'name="{key}"' in shown
    assert 'value="12"' in shown, "what the plan would cut"
    none = text(cut(owner, row, **{key: 0}).content.decode())
    assert "Say how many were cut." in none
    many = text(cut(owner, row, **{key: 13}).content.decode())
    assert "At most 12." in many
    done = cut(owner, row, **{key: 8})
    lot = LineLot.objects.get()
    assert (lot.generation, lot.source, lot.plants_cut, lot.batch.mother) == (1, None, 1, mother)
    assert (lot.batch.want.by, lot.batch.want.purpose) == (row.by, "spare")
    assert Entry.objects.get(batch=lot.batch, kind="taken").count == 8
    assert "8 cut Sat 20 Mar, from Old mint" in text(owner.get(done.url).content.decode())
    cut_again = cut(owner, row, **{key: 8})
    assert "Nothing of the line may be cut today." in text(cut_again.content.decode())
    again = owner.post(at("year-line-cut", garden, row.pk), {"on": "2027-04-01", "rooting_place": 0})
    assert "That day is still to come." in text(again.content.decode())


def test_the_same_press_twice_is_one_lot(owner: Client, garden: Garden, mother: StockPlant) -> None:
    row = asked_line(garden, mother)
    data = {"on": TODAY.isoformat(), "rooting_place": garden.places.get().pk, "key": uuid4(), f"mother{mother.pk}": 5}
    first, again = (owner.post(at("year-line-cut", garden, row.pk), data) for _ in range(2))
    assert first.url == again.url
    assert Batch.objects.count() == LineLot.objects.count() == 1
    page_ = owner.get(at("year-line", garden, row.pk)).content.decode()
    assert LineLot.objects.count() == 1
    assert take_back(owner, garden, undo_on(page_)).status_code == 302
    assert (LineLot.objects.count(), Batch.objects.count()) == (0, 0)


def test_it_is_planned_anew_from_what_really_took(
    owner: Client, garden: Garden, mother: StockPlant, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Twelve cut, five potted, the others lost: from the day they count as plants five may be cut in their time, and
    none of the seven is reckoned with any more."""
    row = asked_line(garden, mother, wanted=20, by=date(2027, 12, 1))
    cut(owner, row, **{f"mother{mother.pk}": 12})
    batch = LineLot.objects.get().batch
    coming = found(row).rooting
    assert len(coming) == 1
    assert sum(i * chance for i, chance in enumerate(coming[0].chances)) == pytest.approx(
        12 * found(row).wanted.line.take.mean, abs=0.6
    )
    later = TODAY + timedelta(days=slow_days(found(row).setting, TODAY)[0])
    entries = [
        Entry(kind="rooted", on=TODAY + timedelta(days=12), count=5),
        Entry(kind="lost", on=TODAY + timedelta(days=12), count=7, stage="waiting", why="rot"),
        Entry(kind="potted", on=TODAY + timedelta(days=14), count=5),
    ]
    assert not hasattr(actions.add_entries(batch, entries, today=later, person=None), "code")  # type: ignore[arg-type]
    line = found(row, later)
    plants = [group for group in line.standing if group.generation]
    assert [(group.count, group.generation) for group in plants] == [(5, 1)]
    assert (plants[0].cut_from - later).days == 21
    assert sum(sum(one.chances[1:]) for one in line.rooting) == pytest.approx(0.0, abs=1e-6)
    assert line.stands_now == 6
    # Two of the five are cut: they wait their days again, the other three may be cut at once.
    ripe = later + timedelta(days=21)
    monkeypatch.setattr(access, "today_in", lambda garden: ripe)
    (source,) = [one for one in found(row, ripe).sources if one.lot]
    cut(owner, row, ripe, **{source.key: 6})
    second = LineLot.objects.last()
    assert second is not None
    assert (second.generation, second.source_id, second.plants_cut) == (2, LineLot.objects.first().pk, 2)
    waits = sorted((one.plants, one.cut_from) for one in found(row, ripe).sources if one.lot == second.source_id)
    assert waits == [(2, ripe + timedelta(days=21)), (3, ripe)]


def test_those_cut_last_wait_longest_and_what_was_given_away_is_gone(garden: Garden, mother: StockPlant) -> None:
    """Six stand; three were cut fifteen days ago, then two ten days ago; one was given away, one has died: of the four
    left two wait 21 days from the later cut, and only two from the earlier. It is those cut first that are gone."""
    row = asked_line(garden, mother, by=date(2027, 12, 1))
    today = date(2027, 6, 20)
    sill = garden.places.get()

    def lot(on: date, count: int, source: LineLot | None, cut: int) -> LineLot:
        want = WantFactory(garden=garden, plant="mint", method="jar", rooting_place=sill, growing_place=sill)
        generation = source.generation + 1 if source else 1
        batch = take(want, on=on, count=count)
        return LineLot.objects.create(
            line=row,
            batch=batch,
            source=source,
            generation=generation,
            plants_cut=cut,
            plant_on=on + timedelta(days=45),
        )

    first = lot(TODAY, 6, None, 1)
    lines = [
        Entry(kind="rooted", on=date(2027, 4, 4), count=6),
        Entry(kind="potted", on=date(2027, 4, 5), count=6),
        Entry(kind="given", on=date(2027, 6, 15), count=1, stage="potted"),
        Entry(kind="lost", on=date(2027, 6, 16), count=1, stage="potted", why="pests"),
    ]
    assert not hasattr(actions.add_entries(first.batch, lines, today=today, person=None), "code")  # type: ignore[arg-type]
    lot(today - timedelta(days=15), 9, first, 3)
    lot(today - timedelta(days=10), 6, first, 2)
    line = found(row, today)
    waits = sorted((one.plants, one.cut_from) for one in line.sources if one.lot == first.pk)
    assert waits == [(2, today + timedelta(days=6)), (2, today + timedelta(days=11))]
    own = [one for one in line.rooting if one.generation == 1]
    assert sum(sum(one.chances[1:]) for one in own) == pytest.approx(0.0, abs=1e-6)


def test_what_cannot_be_is_said_with_what_can(owner: Client, garden: Garden, mother: StockPlant) -> None:
    row = asked_line(garden, mother, wanted=200, by=date(2027, 7, 1))
    line = found(row)
    assert line.plan is None
    shown = text(page(owner, "year-line", garden, row.pk))
    assert "Not 200 by 1 Jul." in shown
    assert f"9 in 10 for {line.whole.sure} by then, with everything cut that can be." in shown
    assert line.mothers_for is not None
    assert f"with {line.mothers_for} mothers like these" in shown
    assert f"with a month more: 9 in 10 for {line.month_more.sure}" in shown.lower()


def test_a_tuber_gives_slips_for_weeks_and_is_no_plant(owner: Client, garden: Garden) -> None:
    tuber = StockPlant.objects.create(
        garden=garden, name="The tuber", plant="sweet-potato", gives=8, again_days=7, place=garden.places.get()
    )
    shown = text(page(owner, "year-line-new", garden, tuber.pk))
    assert "The tuber still gives, times" in shown
    assert "8 from the tuber" in shown.replace("from the tuber", "8 from the tuber")
    row = asked_line(
        garden, tuber, plant="sweet-potato", method="jar", gives=0, mothers_count=False, mother_takes=3, wanted=30
    )
    whole = found(row).whole
    assert [lot.count for lot in whole.lots] == [8, 8, 8]
    assert whole.expected == pytest.approx(24 * found(row).wanted.line.take.mean)
    assert "It may wait" not in text(page(owner, "year-line", garden, row.pk))


def test_each_take_leaves_the_tuber_one_less(owner: Client, garden: Garden) -> None:
    """Of two takes one is cut today: one is left, in seven days; then it is spent, and its line has eight less."""
    tuber = StockPlant.objects.create(
        garden=garden, name="The tuber", plant="sweet-potato", gives=8, again_days=7, place=garden.places.get()
    )
    plain = {"plant": "sweet-potato", "gives": 0, "mothers_count": False, "mother_takes": 2, "wanted": 12}
    row = asked_line(garden, tuber, **plain)
    cut(owner, row, **{f"mother{tuber.pk}": 8})
    assert [(lot.day, lot.count) for lot in found(row).whole.lots] == [(TODAY + timedelta(days=7), 8)]
    Multiplying.objects.update(mother_takes=1)
    spent = found(row)
    assert (spent.whole.lots, [one for one in spent.sources if one.mother]) == ((), [])
    assert spent.stands_now == 0


def test_a_mother_that_gives_nothing_is_a_plant_all_the_same(garden: Garden, mother: StockPlant) -> None:
    row = asked_line(garden, mother)
    StockLook.objects.create(mother=mother, on=TODAY, shoots=2)
    line = found(row)
    assert line.sources == []
    assert (line.stands_now, line.whole.lots, line.whole.expected) == (1, (), 1)


def test_room_that_its_plants_will_want(owner: Client, garden: Garden, mother: StockPlant) -> None:
    small = PlaceFactory(garden=garden, name="Frame", standing="air", capacity={"pot": 10})
    row = asked_line(garden, mother, wanted=30, by=date(2028, 3, 1), growing_place=small)
    stands = round(found(row).shown.growth.expected(row.by))
    words = f"about {stands} stand, at Frame until they go out, which holds 10: find room for {stands - 10} more."
    assert words in text(page(owner, "year-line", garden, row.pk))


def test_straight_into_the_ground_it_is_overstuck(owner: Client, garden: Garden, mother: StockPlant) -> None:
    bed = PlaceFactory(garden=garden, name="Hedge", standing="ground")
    row = asked_line(garden, mother, method="ground", rooting_place=bed, growing_place=bed, wanted=10)
    over = found(row).overstuck
    assert over is not None
    assert f"stick {over.cuttings} for 10 stations" in text(page(owner, "year-line", garden, row.pk))


def test_it_stands_in_the_round_the_season_and_the_calendar(
    owner: Client, garden: Garden, mother: StockPlant, mild: None
) -> None:
    row = asked_line(garden, mother, wanted=20)
    (task,) = [one for one in year_tasks(garden, TODAY) if one.kind == "lot"]
    assert (task.due, task.count, task.detail) == (TODAY, 12, "tips")
    assert "Cut 12 tips Mint, which is multiplied" in text(page(owner, "round", garden))
    assert "Cut 12 tips Mint, which is multiplied" in text(page(owner, "round-sheet", garden))
    (event,) = [one for one in dates_of(garden, TODAY, "metric") if "multiplied" in one.about]
    assert (event.day, event.summary, event.path) == (TODAY, "Cut 12 tips: Mint", ("year-line", garden.pk, row.pk))
    away = owner.post(at("year-line-away", garden, row.pk))
    assert not [one for one in year_tasks(garden, TODAY) if one.kind == "lot"]
    assert take_back(owner, garden, undo_on(owner.get(away.url).content.decode())).status_code == 302
    assert Multiplying.objects.get().closed_on is None
