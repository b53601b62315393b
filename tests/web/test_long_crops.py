"""The crops that stand for years in the application: their rows, their pots, what was seen."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from elder.drawing.years_row import QUIET
from elder.web.batches import actions
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.read.long_crops import LongCrop, long_crops
from elder.web.read.year_tasks import year_tasks
from elder.web.say import crop_rows
from elder.web.say.crop_rows import crop_lines, row_of, years_of
from elder.web.stock.models import StockLook, StockPlant
from elder.web.year.models import PotUp
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import TODAY, at, page, take_back, text, undo_on

SINCE = date(2025, 3, 1)


@pytest.fixture
def pineapple(garden: Garden) -> StockPlant:
    return StockPlant.objects.create(
        garden=garden, name="The crown", plant="pineapple", gives=1, again_days=400, since=SINCE,
        place=garden.places.get(),
    )  # fmt: skip


def crop(garden: Garden, today: date = TODAY) -> LongCrop:
    (found,) = long_crops(Garden.objects.get(pk=garden.pk), today)
    return found


def potted(client: Client, row: StockPlant, container: str, on: date) -> Any:
    data = {"container": container, "on": on.isoformat(), "key": uuid4()}
    return client.post(at("year-crop-pot", row.garden, f"s{row.pk}"), data)


def test_which_stand_for_years(garden: Garden, pineapple: StockPlant) -> None:
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    others = [
        ("fig", bed),
        ("mint", bed),
        ("mint", garden.places.get(name="Kitchen sill")),
        ("tomato", pineapple.place),
    ]
    for i, (plant, place) in enumerate(others):
        StockPlant.objects.create(garden=garden, name=f"N {i}", plant=plant, gives=4, again_days=9, place=place)
    names = {one.name for one in long_crops(Garden.objects.get(pk=garden.pk), TODAY)}
    assert names == {"The crown", "N 0", "N 2"}, "a fig anywhere, a mint in a pot, no tomato"


def test_where_nobody_said_it_has_climbed_its_ladder(owner: Client, garden: Garden, pineapple: StockPlant) -> None:
    """3.8 litres in March 2025, 22 from late October; 40 fall due in March 2027, 730 days on: 1 March."""
    found = crop(garden)
    assert found.guessed
    assert [(on, vessel.volume_l) for on, vessel in found.potted] == [
        (SINCE, 3.8), (SINCE + timedelta(days=240), 22), (SINCE + timedelta(days=730), 40),
    ]  # fmt: skip
    shown = text(page(owner, "year-crop", garden, f"s{pineapple.pk}"))
    assert "it is taken to have climbed its ladder" in shown
    assert "pH 5.5 to 6.5" in shown
    assert "Stand it in water for two hours first" in shown
    soon = SINCE + timedelta(days=230)
    assert crop(garden, soon).next_pot is not None
    tasks = year_tasks(Garden.objects.get(pk=garden.pk), soon)
    assert [one for one in tasks if one.kind == "pot"] == [], "nothing is asked on a guess"


def test_what_stands_in_a_bed_has_no_pots_to_guess(garden: Garden) -> None:
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    StockPlant.objects.create(garden=garden, name="Fig by the wall", plant="fig", gives=8, again_days=30, place=bed,
                              since=date(2024, 4, 1))  # fmt: skip
    found = crop(garden)
    assert (found.guessed, found.potted, found.steps, found.next_pot) == (False, (), (), None)


def test_a_list_is_drawn_over_the_years_of_those_it_shows(
    garden: Garden, pineapple: StockPlant, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Pineapples set out a year apart: of the first two of three the years end where the second of them fruits."""
    stove = PlaceFactory(garden=garden, name="Stove", standing="room", day_c=27, night_c=22)
    StockPlant.objects.filter(pk=pineapple.pk).update(place=stove)
    for year in (2026, 2027):
        StockPlant.objects.create(
            garden=garden, name=f"Of {year}", plant="pineapple", gives=1, again_days=400,
            since=date(year, 3, 1), place=stove,
        )  # fmt: skip
    monkeypatch.setattr(crop_rows, "AFTER", timedelta(days=30))  # else five years are drawn at the least
    crops = sorted(long_crops(Garden.objects.get(pk=garden.pk), TODAY), key=lambda one: one.since)
    ends = [years_of(crops[:count], TODAY)[1] for count in (1, 2, 3)]
    assert ends[0] < ends[1] < ends[2]
    two = crop_lines(crops, TODAY, "metric", 2)
    assert [line.name for line in two] == ["The crown", "Of 2026"]
    assert two[1].scene == row_of(crops[1], (date(2025, 1, 1), ends[1]), "metric", height=QUIET, labelled=False)


def test_a_pot_is_written_down_and_the_next_follows_from_it(
    owner: Client, garden: Garden, pineapple: StockPlant
) -> None:
    potted(owner, pineapple, "gallon", date(2025, 6, 1))
    done = potted(owner, pineapple, "six-gallon", date(2026, 6, 10))
    found = crop(garden)
    assert not found.guessed
    assert found.next_pot is not None
    assert (found.next_pot.vessel.volume_l, found.next_pot.on) == (40, date(2026, 6, 10) + timedelta(days=490))
    early = potted(owner, pineapple, "forty-litre", date(2025, 7, 1))
    assert "It stood in its last pot only later than that." in text(early.content.decode())
    ahead = potted(owner, pineapple, "forty-litre", date(2027, 4, 1))
    assert "still to come" in text(ahead.content.decode())
    due = found.next_pot.on
    (task,) = [one for one in year_tasks(Garden.objects.get(pk=garden.pk), due, ahead=0) if one.kind == "pot"]
    assert (task.due, task.detail) == (due, "40")
    again = page(owner, "year-crop", garden, f"s{pineapple.pk}")
    assert "40 litres: pour 5.5 litres sand, 16 litres potting mix" in text(again)
    fresh = owner.get(done.url)
    assert fresh.status_code == 200
    offered = potted(owner, pineapple, "forty-litre", date(2027, 3, 1))
    assert PotUp.objects.count() == 3
    assert take_back(owner, garden, undo_on(owner.get(offered.url).content.decode())).status_code == 302
    assert PotUp.objects.count() == 2


def test_a_key_sent_twice_is_one_pot_and_one_of_each_plant(
    owner: Client, garden: Garden, pineapple: StockPlant
) -> None:
    other = StockPlant.objects.create(
        garden=garden, name="The other", plant="pineapple", gives=1, again_days=400, since=SINCE, place=pineapple.place
    )
    key = uuid4()
    for row in (pineapple, pineapple, other):
        data = {"container": "gallon", "on": "2026-06-01", "key": key}
        assert owner.post(at("year-crop-pot", garden, f"s{row.pk}"), data).status_code == 302
    assert [pineapple.pots.count(), other.pots.count()] == [1, 1]


def test_what_was_seen_moves_its_fruit(owner: Client, garden: Garden, pineapple: StockPlant) -> None:
    before = crop(garden).fruit
    assert not before.seen
    StockLook.objects.create(mother=pineapple, on=date(2027, 2, 10), growth="flowering")
    seen = crop(garden)
    assert seen.fruit.seen
    assert seen.flowered == date(2027, 2, 10)
    assert seen.fruit.likely is not None
    assert before.likely is not None
    assert seen.fruit.likely < before.likely
    assert "from the flower that was seen" in text(page(owner, "year-crop", garden, f"s{pineapple.pk}"))
    StockLook.objects.create(mother=pineapple, on=date(2027, 3, 1), growth="fruiting")
    assert "It is in fruit." in text(page(owner, "year-crop", garden, f"s{pineapple.pk}"))
    StockLook.objects.create(mother=pineapple, on=date(2027, 3, 15), growth="fruited", pups=3)
    ended = crop(garden)
    assert ended.has_ended
    assert ended.follower is not None
    shown = text(page(owner, "year-crop", garden, f"s{pineapple.pk}"))
    assert "It has fruited, and ends." in shown
    assert "3 pups: take two, keep one." in shown


def test_a_flower_of_a_crop_that_is_over_says_nothing_of_the_next(garden: Garden) -> None:
    fig = StockPlant.objects.create(
        garden=garden, name="The fig", plant="fig", gives=9, again_days=330, since=SINCE, place=garden.places.get()
    )
    StockLook.objects.create(mother=fig, on=date(2026, 6, 1), growth="flowering")
    assert crop(garden).flowered == date(2026, 6, 1)
    StockLook.objects.create(mother=fig, on=date(2026, 12, 1), growth="resting")
    assert crop(garden).flowered is None
    assert not crop(garden).has_ended


def test_a_clump_keeps_its_stalks(owner: Client, garden: Garden) -> None:
    banana = StockPlant.objects.create(
        garden=garden, name="The clump", plant="banana", gives=2, again_days=150, since=SINCE, place=garden.places.get()
    )
    StockLook.objects.create(mother=banana, on=TODAY, pups=4, stalks=3)
    shown = text(page(owner, "year-crop", garden, f"s{banana.pk}"))
    assert "4 pups: take three, keep one. No more than four stalks to a clump" in shown


def test_what_stands_in_a_pot_for_good_is_a_row_too(owner: Client, garden: Garden) -> None:
    sill = garden.places.get()
    want = WantFactory(garden=garden, plant="vanilla", method="bark", wanted=1, purpose="pot", rooting_place=sill,
                       growing_place=sill)  # fmt: skip
    batch = take(want, on=date(2026, 5, 1), count=2)
    lines = [
        Entry(kind="rooted", on=date(2026, 8, 1), count=2),
        Entry(kind="potted", on=date(2026, 8, 2), count=2),
        Entry(kind="potted_up", on=date(2027, 3, 10)),
    ]
    assert not hasattr(actions.add_entries(batch, lines, today=TODAY, person=None), "code")  # type: ignore[arg-type]
    found = crop(garden)
    assert (found.key, found.count, found.since) == (f"b{batch.pk}", 2, date(2026, 8, 2))
    assert [vessel.volume_l for _, vessel in found.potted] == [3.8, 22]
    assert "Vanilla" in text(page(owner, "year-long", garden))
    assert "Vanilla" in text(page(owner, "season", garden)), "as a quiet row of years"
    assert "Its batch" in text(page(owner, "year-crop", garden, f"b{batch.pk}"))
    assert owner.post(at("year-crop-pot", garden, f"b{batch.pk}")).status_code == 404


def test_in_how_many_winters_it_must_come_in(owner: Client, garden: Garden, pineapple: StockPlant) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air")
    StockPlant.objects.filter(pk=pineapple.pk).update(place=rack)
    shown = text(page(owner, "year-crop", garden, f"s{pineapple.pk}"))
    winters = crop(garden).winters
    assert winters.share == 1.0
    assert "It has to come inside nearly every year: in the middle one from" in shown
