"""The winter in the application: its list, what is carried in, dug and struck, what is looked through, what lived."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any, cast
from uuid import uuid4

import pytest
from django.test import Client
from scipy.stats import betabinom

from elder.engine.place.weather import DayAhead
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.garden.models import Garden
from elder.web.read.winter import WinterLine, winter_list
from elder.web.read.winter_cares import cares_today
from elder.web.read.year_tasks import year_tasks
from elder.web.rounds.round import jobs_in, round_of
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from elder.web.year.models import PotUp, WinterCheck, Wintered
from elder.web.year.winter_pages import mild_words
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import at, page, take_back, text, undo_on

AUTUMN = date(2027, 9, 20)


@pytest.fixture
def garden(garden: Garden, monkeypatch: pytest.MonkeyPatch) -> Garden:
    """The garden in autumn, with a rack outdoors and a bed."""
    monkeypatch.setattr(access, "today_in", lambda garden: AUTUMN)
    PlaceFactory(garden=garden, name="Rack", standing="air")
    PlaceFactory(garden=garden, name="Bed", standing="ground")
    sill = garden.places.get(name="Kitchen sill")
    sill.capacity = {"pot": 8, "jar": 5}
    sill.save()
    return garden


def mother(garden: Garden, plant: str, where: str, name: str = "") -> StockPlant:
    place = garden.places.get(name=where)
    return StockPlant.objects.create(
        garden=garden, name=name or f"Our {plant}", plant=plant, gives=8, again_days=30, place=place
    )


@pytest.fixture
def pelargoniums(garden: Garden) -> Batch:
    """Six in pots on the rack."""
    rack = garden.places.get(name="Rack")
    want = WantFactory(garden=garden, plant="scented-pelargonium", method="gritty", wanted=6, purpose="spare",
                       rooting_place=garden.places.get(name="Kitchen sill"), growing_place=rack)  # fmt: skip
    batch = take(want, on=date(2027, 6, 1), count=8)
    lines = [
        Entry(kind="rooted", on=date(2027, 6, 25), count=6),
        Entry(kind="lost", on=date(2027, 6, 25), count=2, stage="waiting", why="rot"),
        Entry(kind="potted", on=date(2027, 6, 26), count=6),
    ]
    assert not hasattr(actions.add_entries(batch, lines, today=AUTUMN, person=None), "code")  # type: ignore[arg-type]
    return batch


def line_of(garden: Garden, plant: str, today: date = AUTUMN) -> WinterLine:
    fresh = Garden.objects.get(pk=garden.pk)
    return next(line for line in winter_list(fresh, today).lines if line.standing.plant.slug == plant)


def see_to(client: Client, garden: Garden, line: WinterLine, **more: Any) -> Any:
    data = {"count": line.standing.count, "wanted": line.standing.count, "key": uuid4()}
    if line.shelter:
        data["place"] = line.shelter.key
    return client.post(at("year-winter-do", garden, line.standing.key), {**data, **more})


def later(monkeypatch: pytest.MonkeyPatch, day: date) -> date:
    monkeypatch.setattr(access, "today_in", lambda garden: day)
    return day


def test_the_list_by_plant(owner: Client, garden: Garden, pelargoniums: Batch) -> None:
    mother(garden, "mint", "Bed")
    mother(garden, "fuchsia", "Bed")
    mother(garden, "lemongrass", "Bed")
    mother(garden, "basil", "Kitchen sill")
    ways = {line.standing.plant.slug: line.way.value for line in winter_list(garden, AUTUMN).lines}
    assert ways == {
        "scented-pelargonium": "in", "mint": "left", "fuchsia": "tops", "lemongrass": "dug", "basil": "left",
    }  # fmt: skip
    shown = text(page(owner, "year-winter", garden))
    assert "3 things to see to." in shown
    assert "Carry in: 6 × Scented pelargonium to Kitchen sill" in shown
    assert "Strike its tops: Fuchsia" in shown
    assert "Dig and pot: Lemongrass" in shown
    assert "2 stay where they stand" in shown
    assert "It stands indoors and bears" in shown
    line = line_of(garden, "scented-pelargonium")
    assert line.many is not None
    assert f"Keep {line.many.kept} for 6 in spring" in shown


def test_who_stands_where_and_how_heavy(owner: Client, garden: Garden, pelargoniums: Batch) -> None:
    """Four bananas and six smaller pots to a sill that holds eight: of one day the heavy ones first."""
    for i in range(4):
        mother(garden, "banana", "Rack", f"Banana {i}")
    lines = [line for line in winter_list(garden, AUTUMN).work if line.way == "in"]
    assert sorted((line.standing.plant.slug, line.crowded) for line in lines) == [
        ("banana", 0), ("banana", 0), ("banana", 0), ("banana", 0), ("scented-pelargonium", 2),
    ]  # fmt: skip
    banana, pelargonium = line_of(garden, "banana"), line_of(garden, "scented-pelargonium")
    # A gallon of mix at 1.3 kg a litre with its plant, and half a litre: litres × (mix + 0.05) and the pot.
    assert banana.standing.kg == pytest.approx(3.8 * (1.25 + 0.05) + 0.23, abs=0.4)
    assert pelargonium.standing.kg == pytest.approx(0.5 * (1.3 + 0.05) + 0.03, abs=0.1)
    shown = text(page(owner, "year-winter", garden))
    assert "10 pots to carry" in shown
    assert "Kitchen sill : 10 pots come; it holds 8, 2 too many" in shown.replace("sill:", "sill :")


def test_a_mother_weighs_what_her_pot_does(owner: Client, garden: Garden) -> None:
    """Forty litres at 1.25 to 1.3 kg a litre with the plant, and the pot: more than one person lifts from the floor."""
    row = mother(garden, "banana", "Rack")
    PotUp.objects.create(stock=row, key=uuid4(), container="gallon", on=date(2025, 5, 1))
    PotUp.objects.create(stock=row, key=uuid4(), container="forty-litre", on=date(2026, 5, 1))
    assert line_of(garden, "banana").standing.kg == pytest.approx(40 * 1.3 + 2.4, abs=3.0)
    assert "two people, or slide it" in text(page(owner, "year-winter", garden))


def test_carried_in_it_stands_there_in_every_book(
    owner: Client, garden: Garden, pelargoniums: Batch, monkeypatch: pytest.MonkeyPatch
) -> None:
    """In one press: the batch's history, its place, and the list; and taken back in one."""
    sill = garden.places.get(name="Kitchen sill")
    shown = page(owner, "year-winter-do", garden, line_of(garden, "scented-pelargonium").standing.key)
    assert "Carry in: 6 × Scented pelargonium" in text(shown)
    url = at("year-winter-do", garden, line_of(garden, "scented-pelargonium").standing.key)
    asked = owner.get(url, {"wanted": 30}, HTTP_X_ALPINE_REQUEST="true").content.decode()
    # Thirty want more tips by scipy's beta-binomial than six plants give, five each.
    assert next(n for n in range(30, 90) if betabinom.sf(29, n, 13.2, 1.8) >= 0.9) > 6 * 5
    assert "The six that stand are too few for 30 in spring, even if all live." in asked
    assert "<form" not in asked
    wrong = see_to(owner, garden, line_of(garden, "scented-pelargonium"), count=7)
    assert "At most 6." in text(wrong.content.decode())
    done = see_to(owner, garden, line_of(garden, "scented-pelargonium"), airs="on")
    row = Wintered.objects.get()
    assert (row.winter, row.way, row.count, row.place, row.airs) == (2027, "in", 6, sill, True)
    moved = Entry.objects.get(batch=pelargoniums, kind="moved")
    assert (moved.place, moved.stage, moved.on) == (sill, "potted", AUTUMN)
    after = owner.get(done.url).content.decode()
    assert "Everything is seen to." in text(after)
    (care,) = cares_today(Garden.objects.get(pk=garden.pk), AUTUMN)
    assert (care.alive, care.apart_until, care.next_check) == (
        6, AUTUMN + timedelta(weeks=3), AUTUMN + timedelta(days=7),
    )  # fmt: skip
    assert take_back(owner, garden, undo_on(after)).status_code == 302
    assert not Wintered.objects.exists()
    assert Entry.objects.get(strikes=moved).kind == "struck"


def test_dug_covered_and_a_mother_moved(owner: Client, garden: Garden) -> None:
    grass = mother(garden, "lemongrass", "Bed")
    mother(garden, "rosemary", "Bed")
    see_to(owner, garden, line_of(garden, "lemongrass"))
    grass.refresh_from_db()
    assert grass.place == garden.places.get(name="Kitchen sill")
    cover = line_of(garden, "rosemary")
    assert cover.way == "covered"
    assert cover.worth is not None
    see_to(owner, garden, cover)
    assert {row.way for row in Wintered.objects.all()} == {"dug", "covered"}
    assert owner.get(at("year-winter-do", garden, cover.standing.key)).status_code == 302, "done is done"


def test_tops_are_struck_as_a_batch_kept_apart(owner: Client, garden: Garden) -> None:
    fuchsia = mother(garden, "fuchsia", "Bed")
    line = line_of(garden, "fuchsia")
    assert line.many is not None
    assert line.answer.tops is not None
    key = uuid4()
    data = {"count": line.many.tops, "wanted": 1, "place": garden.places.get(name="Kitchen sill").pk, "key": key}
    for _ in range(2):
        owner.post(at("year-winter-tops", garden, line.standing.key), data)
    row = Wintered.objects.get()
    assert row.tops is not None
    assert (row.way, row.tops.mother, row.tops.plant) == ("tops", fuchsia, "fuchsia")
    assert Want.objects.get(batches=row.tops).purpose == "winter"
    again = line_of(garden, "fuchsia")
    assert again.is_done
    shown = text(page(owner, "year-winter", garden))
    assert f"Tops struck 20 Sep: {line.many.tops}" in shown


def test_looked_through_and_counted_with_two_dead(
    owner: Client, garden: Garden, pelargoniums: Batch, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Six come in. One is dead in January, another by spring: four live, and the second step is reckoned from them."""
    see_to(owner, garden, line_of(garden, "scented-pelargonium"), wanted=12)
    row = Wintered.objects.get()
    january = later(monkeypatch, date(2028, 1, 10))
    url = at("year-winter-look", garden, row.pk)
    assert "6 stand by the last look." in text(owner.get(url).content.decode())
    assert "At most 6." in text(owner.post(url, {"lost": 7, "key": uuid4()}).content.decode())
    key = uuid4()
    for _ in range(2):
        owner.post(url, {"lost": 1, "pests": "on", "key": key})
    assert WinterCheck.objects.get().on == january
    lost = Entry.objects.get(batch=pelargoniums, kind="lost", stage="potted")
    assert (lost.count, lost.why, lost.on) == (1, "pests", january)
    (care,) = cares_today(Garden.objects.get(pk=garden.pk), january)
    assert (care.alive, care.next_check, care.counts) == (5, january + timedelta(days=14), False)
    assert row.out_on is not None
    spring = later(monkeypatch, row.out_on)
    (care,) = cares_today(Garden.objects.get(pk=garden.pk), spring)
    assert care.counts
    assert [one.kind for one in year_tasks(Garden.objects.get(pk=garden.pk), spring)] == ["count"]
    owner.post(f"{url}?lived=1", {"lived": 4, "key": uuid4()})
    row.refresh_from_db()
    assert (row.lived, row.lived_on) == (4, spring)
    assert sum(one.count for one in Entry.objects.filter(batch=pelargoniums, kind="lost", stage="potted")) == 2
    need = next(n for n in range(12, 60) if betabinom.sf(11, n, 13.2, 1.8) >= 0.9)
    shown = text(page(owner, "year-winter", garden))
    assert f"Two died; 4 live: cut {need} tips from them for 12, about 9 in 10." in shown
    assert "?plant=scented-pelargonium&amp;wanted=12" in page(owner, "year-winter", garden)
    owner.post(at("year-winter-over", garden, row.pk))
    assert cares_today(Garden.objects.get(pk=garden.pk), spring) == []


def test_a_mother_that_dies_is_ended(owner: Client, garden: Garden, monkeypatch: pytest.MonkeyPatch) -> None:
    banana = mother(garden, "banana", "Rack")
    see_to(owner, garden, line_of(garden, "banana"))
    row = Wintered.objects.get()
    day = later(monkeypatch, date(2028, 2, 1))
    assert "Count first how many live." in text(
        owner.post(at("year-winter-over", garden, row.pk), follow=True).content.decode()
    )
    owner.post(f"{at('year-winter-look', garden, row.pk)}?lived=1", {"lived": 0, "key": uuid4()})
    banana.refresh_from_db()
    assert (banana.ended_on, banana.ended_why) == (day, "died")
    assert "None lived." in text(page(owner, "year-winter", garden))


def test_what_the_year_asks_before_the_frost(owner: Client, garden: Garden, pelargoniums: Batch, mild: None) -> None:
    """A fortnight before its last day a line stands in the round, and says the day."""
    line = line_of(garden, "scented-pelargonium")
    assert line.due is not None
    first = line.due - timedelta(days=14)
    tasks = year_tasks(Garden.objects.get(pk=garden.pk), first - timedelta(days=1), ahead=0)
    assert tasks == []
    (task,) = year_tasks(Garden.objects.get(pk=garden.pk), first, ahead=0)
    assert (task.kind, task.due, task.last, task.count) == ("winter", first, line.due, 6)


def test_alike_are_asked_for_together(owner: Client, garden: Garden, pelargoniums: Batch, mild: None) -> None:
    """Six pots of a batch and two mothers in pots of their own on the same rack, to come in by one day: one line of the
    round, of eight plants, and half an hour of hands. A mother of another kind of the plant is told apart; what is seen
    to falls out."""
    mothers = [mother(garden, "scented-pelargonium", "Rack", f"Number {i}") for i in range(3)]
    StockPlant.objects.filter(pk=mothers[2].pk).update(variety="Wharf Light")
    first = cast("date", line_of(garden, "scented-pelargonium").due) - timedelta(days=14)

    def asked() -> list[tuple[str, int, int, str]]:
        tasks = year_tasks(Garden.objects.get(pk=garden.pk), first, ahead=0)
        return [(one.variety, one.count, one.lines, one.uid) for one in tasks if one.kind == "winter"]

    named = f"winter:scented-pelargonium::in:{(first + timedelta(days=14)).isoformat()}"
    rack = garden.places.get(name="Rack").pk
    other = ("Wharf Light", 1, 1, f"winter:s{mothers[2].pk}-pot-{rack}")
    assert sorted(asked()) == [("", 8, 3, named), other]
    due = round_of(Garden.objects.get(pk=garden.pk), first)
    assert (len(due.year), due.minutes - sum(job.minutes for job in jobs_in(due.now))) == (2, 40.0)
    lines = winter_list(Garden.objects.get(pk=garden.pk), AUTUMN).lines
    see_to(owner, garden, next(line for line in lines if line.standing.batch))
    assert sorted(asked()) == [("", 2, 2, named), other]
    see_to(owner, garden, next(line for line in lines if line.standing.stock == mothers[0].pk))
    assert sorted(asked()) == [("", 1, 1, f"winter:s{mothers[1].pk}-pot-{rack}"), other]


def test_what_is_covered_is_asked_for_no_more(owner: Client, garden: Garden, mild: None) -> None:
    """A bay stays in its pot on the rack and is covered there still: once done, nothing of it is due."""
    mother(garden, "bay", "Rack")
    line = line_of(garden, "bay")
    assert line.way == "covered"
    day = cast("date", line.due)
    assert [task.detail for task in year_tasks(Garden.objects.get(pk=garden.pk), day, ahead=0)] == ["covered"]
    see_to(owner, garden, line)
    assert line_of(garden, "bay").way == "covered"
    tasks = year_tasks(Garden.objects.get(pk=garden.pk), day, ahead=0)
    assert [task.detail for task in tasks if task.kind == "winter"] == []


def test_out_for_the_day_when_it_is_mild(owner: Client, garden: Garden, pelargoniums: Batch) -> None:
    """Pelargonium is hurt at 0 °C: nights of 6 °C are far enough from it, nights of 5 °C are not."""
    see_to(owner, garden, line_of(garden, "scented-pelargonium"), airs="on")
    cares = cares_today(Garden.objects.get(pk=garden.pk), AUTUMN)

    def nights(low: float) -> tuple[DayAhead, ...]:
        return tuple(DayAhead(AUTUMN + timedelta(days=i), 12, low) for i in range(3))

    assert mild_words(cares, nights(6)) == (
        "Mild today: out for the day with Scented pelargonium, and in again before dusk."
    )
    assert mild_words(cares, nights(5)) == ""
    Wintered.objects.update(airs=False)
    assert mild_words(cares_today(Garden.objects.get(pk=garden.pk), AUTUMN), nights(9)) == ""


def test_any_other_plant_may_be_asked_about(owner: Client, garden: Garden) -> None:
    asked = text(owner.get(at("year-winter", garden), {"plant": "chard", "stands": "bed"}).content.decode())
    assert "Chard: sown again in spring" in asked
    assert "A rosette on a root, with no stem to strike." in asked
    empty = text(page(owner, "year-winter", garden))
    assert "Nothing need come in." in empty


def test_tomatoes_of_last_year_are_gone(owner: Client, garden: Garden) -> None:
    """Planted out in June of the year before, they have died in the winter between; those of this June stand."""
    sill = garden.places.get(name="Kitchen sill")
    for year in (2026, 2027):
        want = WantFactory(garden=garden, rooting_place=sill, growing_place=sill)
        batch = take(want, on=date(year, 4, 1), count=4)
        lines = [
            Entry(kind="rooted", on=date(year, 4, 20), count=4),
            Entry(kind="planted", on=date(year, 6, 1), count=4),
        ]
        assert not hasattr(actions.add_entries(batch, lines, today=AUTUMN, person=None), "code")  # type: ignore[arg-type]
    stands = [line.standing for line in winter_list(Garden.objects.get(pk=garden.pk), AUTUMN).lines]
    assert [(one.plant.slug, one.count, one.in_pot) for one in stands] == [("tomato", 4, False)]


def test_long_before_its_day_nothing_is_pressed(
    owner: Client, garden: Garden, pelargoniums: Batch, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The list is read all the year; what it would have one do is offered from 75 days before its last day."""
    due = line_of(garden, "scented-pelargonium").due
    assert due is not None
    later(monkeypatch, due - timedelta(days=76))
    shown = page(owner, "year-winter", garden)
    assert "Not before" in text(shown)
    assert at("year-winter-do", garden, f"b{pelargoniums.pk}-pot-{pelargoniums.growing_place_id}") not in shown
    later(monkeypatch, due - timedelta(days=75))
    shown = page(owner, "year-winter", garden)
    assert at("year-winter-do", garden, f"b{pelargoniums.pk}-pot-{pelargoniums.growing_place_id}") in shown
    assert "nearly every winter would kill it" in text(shown)
