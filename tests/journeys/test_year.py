"""The year: from one plant to a hedge; the autumn list to spring with two dead; a pineapple through three pots."""

from __future__ import annotations

import re
from datetime import date, timedelta

import pytest
from playwright.sync_api import Page, expect

from elder.web.batches import actions
from elder.web.batches.models import Entry
from elder.web.garden.models import Household
from elder.web.stock.models import StockPlant
from elder.web.year.models import LineLot, Multiplying, Wintered

pytestmark = pytest.mark.journey


def said(page: Page, words: str) -> None:
    expect(page.locator(".said").first).to_contain_text(words)


def move_to(page: Page, day: date) -> None:
    """The demo's day moved on, and the page looked at again."""
    Household.objects.filter(demo_day__isnull=False).update(demo_day=day)
    page.reload()


def test_from_one_plant_to_a_hedge(laptop: Page, harrow: str) -> None:
    """Mint in the scullery to forty: asked, begun, cut; six of the first lot take, and the next is cut from them."""
    page = laptop
    page.goto(f"{harrow}/year/")
    page.get_by_role("link", name="Multiply a plant").click()
    page.get_by_role("link", name=re.compile("Mint in the scullery")).click()
    answer = page.locator("#line-answer .answer-line")
    page.get_by_label("Plants wanted").fill("40")
    page.locator("#id_by").fill("2027-09-25")
    expect(answer).to_contain_text("40 by 25 Sep: ")
    page.get_by_label("One young plant gives").fill("1")
    expect(answer).to_contain_text("Cut 12 tips today.")
    page.get_by_label("One young plant gives").fill("6")
    page.get_by_role("button", name="Begin it").click()
    said(page, "planned anew from what took")
    row = Multiplying.objects.get(plant="mint")
    expect(page.locator("h1")).to_contain_text("40 by 25 Sep: ")
    page.get_by_role("button", name="This lot is cut").click()
    said(page, "12 tips for the line")
    expect(page.locator(".line-done")).to_contain_text("12 cut Tue 6 Apr, from Mint in the scullery")
    lot = LineLot.objects.get(line=row)
    rooted = date(2027, 4, 24)
    lines = [
        Entry(kind="rooted", on=rooted, count=6),
        Entry(kind="lost", on=rooted, count=6, stage="waiting", why="rot"),
        Entry(kind="potted", on=rooted, count=6),
    ]
    assert not hasattr(actions.add_entries(lot.batch, lines, today=rooted, person=lot.batch.want.made_by), "code")  # type: ignore[union-attr]
    move_to(page, lot.plant_on + timedelta(days=21))
    expect(page.locator(".line-done")).to_contain_text("6 in pots, 6 lost")
    field = page.get_by_label(f"from the plants of {lot.batch.code}")
    expect(field).to_have_value(re.compile(r"^[1-9]"))
    field.fill("12")
    page.get_by_role("button", name="This lot is cut").click()
    said(page, "for the line")
    second = LineLot.objects.get(line=row, generation=2)
    assert (second.source, second.plants_cut) == (lot, 2)
    expect(page.locator(".scene-widening .wide-runner-done")).to_have_count(LineLot.objects.filter(line=row).count())
    page.goto(f"{harrow}/year/")
    expect(page.locator("main")).to_contain_text("Mint")


def test_from_the_autumn_list_to_spring_with_two_dead(laptop: Page, harrow: str) -> None:
    """One press of the clock to the list; the line's six pelargoniums come in; four see the spring."""
    page = laptop
    page.goto(f"{harrow}/year/winter/")
    expect(page.locator("h1")).to_contain_text("Not before")
    page.get_by_role("button", name="to autumn").click()
    expect(page.locator(".room-sub").first).to_contain_text("20 Sep")
    page.goto(f"{harrow}/year/winter/")
    expect(page.locator("h1")).to_contain_text("things to see to.")
    line = page.locator(".winter-line", has_text="Carry in: 6 × Scented pelargonium").first
    expect(line).to_contain_text("in spring")
    line.get_by_role("link", name="Carry in").click()
    page.get_by_label("Wanted in spring").fill("12")
    page.get_by_label("Where to").select_option(label="Kitchen sill")
    page.get_by_role("button", name="It is done").click()
    said(page, "carried in, pot and all, 6.")
    row = Wintered.objects.get()
    assert row.out_on is not None
    cares = page.locator(".winter-cares li", has_text="Scented pelargonium")
    expect(cares).to_contain_text("apart from the house plants until 11 Oct")
    move_to(page, date(2028, 1, 4))
    cares.get_by_role("link", name="Look through").click()
    page.get_by_label("Died since").fill("1")
    page.get_by_role("button", name="Write it down").click()
    said(page, "Looked through.")
    expect(cares).to_contain_text("5 live")
    move_to(page, row.out_on)
    cares.get_by_role("link", name="Count for spring").click()
    page.get_by_label("Alive in spring").fill("4")
    page.get_by_role("button", name="Write it down").click()
    said(page, "four of six live")
    expect(cares).to_contain_text("Two died; 4 live: cut")
    cares.get_by_role("link", name="Ask for them").click()
    expect(page.get_by_label("Plants wanted").or_(page.locator("#id_wanted")).first).to_have_value("12")


def test_a_pineapple_through_three_pots(laptop: Page, harrow: str) -> None:
    """A crown of last spring: 3.8 litres, 22, 40; each pot moves the next, and the first fruit has its haze."""
    page = laptop
    pineapple = StockPlant.objects.get(name="Pineapple in the tub")
    crown = StockPlant.objects.create(
        garden=pineapple.garden, name="The new crown", plant="pineapple", gives=1, again_days=400,
        since=date(2026, 4, 1), place=pineapple.place,
    )  # fmt: skip
    page.goto(f"{harrow}/year/long/")
    page.locator(".crop-rows li", has_text="The new crown").get_by_role("link").click()
    expect(page.locator(".answer-line").first).to_contain_text(
        re.compile(r"First fruit about \w+ 20\d\d; 8 in 10 between")
    )
    for litres, on in (("3.8", "2026-04-01"), ("22", "2026-12-01"), ("40", "2027-04-06")):
        page.locator("#id_container").select_option(label=f"pot of {litres} litres")
        page.locator("#id_on").fill(on)
        page.get_by_role("button", name="It is potted").click()
        said(page, "its new pot")
    steps = page.locator(".pot-steps li")
    expect(steps).to_have_count(3)
    expect(page.locator(".years-pot-done")).to_have_count(3)
    assert [pot.container for pot in crown.pots.all()] == ["gallon", "six-gallon", "forty-litre"]
    page.get_by_role("button", name="Undo").click()
    page.goto(f"{harrow}/year/long/s{crown.pk}/")
    expect(page.locator(".pot-done")).to_have_count(2)
    expect(page.locator(".pot-steps li").last).to_contain_text("40 litres: pour")
