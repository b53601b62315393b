"""Passing on and moving: an order from want to slip with one batch short, a gift read in elsewhere, a move to its third
month."""

from __future__ import annotations

import itertools
import re
from datetime import date, timedelta
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Household
from elder.web.moving.models import HouseMove, MovedPlant
from elder.web.passing.models import Promise
from elder.web.read.moved_here import watered_today
from elder.web.stock.models import StockPlant

pytestmark = pytest.mark.journey


def said(page: Page, words: str) -> None:
    expect(page.locator(".said").first).to_contain_text(words)


def move_to(page: Page, day: date) -> None:
    """The demo's day moved on, and the page looked at again."""
    Household.objects.filter(demo_day__isnull=False).update(demo_day=day)
    page.reload()


def written(batch: Batch, day: date, *lines: Entry) -> None:
    person = batch.want.made_by if batch.want else None
    assert not hasattr(actions.add_entries(batch, lines, today=day, person=person), "code")  # type: ignore[arg-type]


def test_an_order_from_want_to_slip_with_one_batch_short(laptop: Page, harrow: str) -> None:
    """Six basil for the chapel by July: asked, two batches cut, one of them rots; short, more is reserved, handed over,
    and its slip opened by whoever has it."""
    page = laptop
    page.goto(f"{harrow}/passing/")
    page.get_by_role("link", name="Promise plants").click()
    answer = page.locator("#promise-answer .answer-line")
    page.get_by_label("For whom").fill("the chapel")
    page.locator("#id_how").select_option("order")
    page.locator("#id_plant").select_option("basil")
    page.get_by_label("How many").fill("6")
    page.get_by_label("Kept for yourself").fill("2")
    page.locator("#id_by").fill("2027-07-10")
    expect(answer).to_contain_text("of 8 plants, 2 of them for yourself")
    page.get_by_label("For how much").fill("15")
    page.get_by_role("button", name="Promise them").click()
    said(page, "Promised. It is counted in from now on.")
    promise = Promise.objects.get(who="the chapel")
    expect(page.locator("h1")).to_contain_text("Cut ")
    day = date(2027, 5, 22)
    batches = []
    for count in (5, 8):
        batch = Batch.objects.create(
            garden=promise.garden, want=promise.want, plant="basil", method="jar", stock_plant="Basil in the pan",
            rooting_place=promise.want.rooting_place, growing_place=promise.want.growing_place,
            plan={"target": "2027-07-10", "window": None, "wanted": 8, "count": count, "taken_on": "2027-05-08"},
        )  # fmt: skip
        Entry(batch=batch, kind="taken", on=date(2027, 5, 8), count=count, by=promise.made_by).save()
        batches.append(batch)
    written(batches[0], day, Entry(kind="rooted", on=day, count=1),
            Entry(kind="lost", on=day, count=4, stage="waiting", why="rot"))  # fmt: skip
    written(batches[1], day, Entry(kind="rooted", on=day, count=4),
            Entry(kind="lost", on=day, count=4, stage="waiting", why="rot"))  # fmt: skip
    move_to(page, day + timedelta(days=1))
    expect(page.locator("h1")).to_contain_text(re.compile(r"\d short\."))
    page.goto(f"{harrow}/round/")
    expect(page.locator("main")).to_contain_text("short for the chapel")
    stand = date(2027, 6, 20)
    for batch, count in ((batches[0], 1), (batches[1], 4)):
        written(batch, stand, Entry(kind="potted", on=date(2027, 5, 24), count=count),
                Entry(kind="hardening", on=stand, count=count))  # fmt: skip
    move_to(page, date(2027, 7, 2))
    page.goto(f"{harrow}/passing/{promise.pk}/")
    expect(page.locator("main")).to_contain_text("First answer what is asked beside it.")
    page.get_by_label("Does it cross a border?").select_option("no")
    page.get_by_label("May soil go with it?").select_option("yes")
    page.get_by_role("button", name="Remember").click()
    said(page, "Remembered.")
    page.get_by_label("Money had for them").fill("12.5")
    page.get_by_role("button", name="They are handed over").click()
    said(page, "5 handed over to the chapel.")
    expect(page.locator(".scene-pots .pots-label")).to_have_count(5)
    page.get_by_role("link", name="Its slip").click()
    expect(page.locator(".slip h1")).to_have_text("Basil")
    expect(page.locator(".slip-square svg")).to_be_visible()
    expect(page.locator(".slip")).to_contain_text("Cut on 8 May 2027 from Basil in the pan")
    stranger = page.context.browser.new_context().new_page()  # type: ignore[union-attr]
    stranger.goto(f"{harrow.rsplit('/g/', 1)[0]}/slip/{promise.slip_key}/")
    expect(stranger.locator(".slip h1")).to_have_text("Basil")
    stranger.context.close()
    page.goto(f"{harrow}/record/became/")
    expect(page.locator("main")).to_contain_text("5 Basil to the chapel, 2 Jul 2027")


def test_a_gift_read_into_the_other_garden_with_its_line(laptop: Page, demo: str, harrow: str, tmp_path: Path) -> None:
    """Ferry Lamp 2, a clone of the first, goes to Marram Yard as a file, and her family with her."""
    page, mother = laptop, StockPlant.objects.get(name="Ferry Lamp 2")
    with page.expect_download() as download:
        page.evaluate(f"location.href = '{harrow}/passing/mother/{mother.pk}/'")
    file = tmp_path / "tomato.json"
    download.value.save_as(file)
    yard = Garden.objects.get(name="Marram Yard")
    page.goto(f"{demo}/g/{yard.pk}/passing/bring/")
    page.set_input_files("#id_file", file)
    page.get_by_role("button", name="Look at it").click()
    expect(page.locator("main")).to_contain_text("Nothing is kept yet.")
    expect(page.locator("main")).to_contain_text("Cut on 2 Apr 2026 from Ferry Lamp 1, which stood from 2025.")
    assert not StockPlant.objects.filter(garden=yard).exists()
    page.get_by_label("What you call it").fill("Ferry Lamp from the harbour")
    page.get_by_role("button", name="Take it in").click()
    said(page, "It is in the garden, with its family.")
    expect(page.locator("h1")).to_contain_text("Ferry Lamp from the harbour")
    expect(page.locator("main")).to_contain_text("Ferry Lamp 1")
    assert StockPlant.objects.get(garden=yard).heritage.line[0]["name"] == "Ferry Lamp 1"


def test_a_move_to_its_third_month(laptop: Page, demo: str) -> None:
    """The neighbour's: settled, dug in October, loaded, moved; the blackcurrant planted and watered into January."""
    page, move = laptop, HouseMove.objects.get()
    here = f"{demo}/g/{move.garden_id}/moving/{move.pk}"
    page.goto(f"{here}/")
    expect(page.locator("h1")).to_contain_text("In 26 weeks: 8 of 8 come along.")
    first = page.locator(".move-ask").first
    first.get_by_role("combobox").select_option("yes")
    first.get_by_role("textbox").fill("the buyer, by letter")
    first.get_by_role("button", name="Remember").click()
    said(page, "Remembered.")
    expect(page.locator(".line-next")).to_contain_text("Cut ")
    move_to(page, date(2027, 10, 5))
    for name in ("The low blackcurrant", "Rhubarb by the drain"):
        line = page.locator(".move-line", has_text=name)
        line.get_by_role("button", name="It is dug and potted").click()
        said(page, "Written down.")
    page.get_by_role("link", name="The load").click()
    expect(page.locator("h1")).to_have_text("One journey.")
    expect(page.locator(".load-list")).to_contain_text("The low blackcurrant")
    move_to(page, date(2027, 10, 9))
    page.goto(f"{here}/")
    page.get_by_role("link", name="We have moved").click()
    page.get_by_label("Fig in the half barrel").fill("0")
    page.get_by_role("button", name="We have moved").click()
    said(page, "Moved. Kiln Corner, next door is closed; this garden has begun.")
    page.get_by_role("link", name="What came along to Mere Lane").click()
    expect(page.locator("main")).to_contain_text("3 balls stand in their pots yet")
    planted = page.locator("li", has_text="The low blackcurrant")
    planted.get_by_role("combobox").select_option(label="Long border")
    planted.get_by_role("button", name="It is planted").click()
    said(page, "It is watered deeply once a week for three months.")
    row = MovedPlant.objects.get(stock__name="The low blackcurrant")
    days = []
    while (found := next_watering(row, move.to_id)) is not None and len(days) < 20:  # type: ignore[arg-type]
        days.append(found)
        move_to(page, found)
        page.get_by_role("button", name="Watered").click()
        said(page, "Watered.")
    assert days[0] == date(2027, 10, 16)
    assert {(b - a).days for a, b in itertools.pairwise(days)} <= {7, 14, 21, 28, 35, 42, 49}
    expect(page.locator("main")).to_contain_text("Its three months are over")
    assert not StockPlant.objects.filter(garden_id=move.to_id, name="Fig in the half barrel").exists()
    page.goto(f"{demo}/g/{move.garden_id}/season/")
    expect(page.locator(".garden-left")).to_contain_text("This garden was left on 9 Oct 2027.")


def next_watering(row: MovedPlant, garden_id: int) -> date | None:
    """The next day it is to be watered."""
    found = watered_today(Garden.objects.get(pk=garden_id), date(2027, 10, 10))
    return next(one.next_day for one in found if one.row.pk == row.pk)
