"""The path through Elder, from a want to the first harvest, as people walk it."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from elder.web.batches.models import Batch, Entry
from elder.web.season.models import Want
from tests.journeys.conftest import LAPTOP, Complaints, enter, opened

pytestmark = pytest.mark.journey


def answer(page: Page) -> Any:
    return page.locator("#answer-words")


def move_demo(page: Page, step: str, times: int = 1) -> None:
    for _ in range(times):
        page.get_by_role("button", name=f"a {step}", exact=True).click()
        page.wait_for_load_state()


def test_from_a_want_to_the_first_harvest(laptop: Page, harrow: str) -> None:
    page = laptop
    page.get_by_role("link", name="Want plants").click()
    expect(answer(page)).to_contain_text("Cut 13 side shoots between today and 8 Apr")

    # Every change is answered before anything is kept.
    before = Want.objects.count()
    page.get_by_label("How many good plants").fill("5")
    expect(answer(page)).to_contain_text("Cut 8 side shoots")
    page.locator("#id_plant").select_option(label="Basil")
    expect(answer(page)).to_contain_text("tips between")
    page.get_by_label("by a day").check()
    page.locator("#id_by").fill("2027-04-20")
    expect(answer(page)).to_contain_text("keeps the gate shut until")
    page.get_by_label("as soon as it is safe").check()
    page.locator("#id_plant").select_option(label="Tomato")
    # Another plant comes with the best place for it; a place chosen by hand then stays.
    expect(page.locator("[name=for_plant]")).to_have_value("tomato")
    expect(page.get_by_label("Root them at").locator("option:checked")).to_have_text("Heat mat in the glasshouse")
    page.get_by_label("Root them at").select_option(label="Kitchen sill")
    page.get_by_label("Grow them on at").select_option(label="Kitchen sill")
    page.get_by_label("Variety").fill("Ninepin")
    expect(answer(page)).to_contain_text("Cut 8 side shoots")
    assert Want.objects.count() == before

    # Arrow keys on the curve move the day, the row and the answer.
    curve = page.get_by_label("Cut day, on the curve")
    expect(page.locator("#row-picture[data-day='2027-04-06']")).to_be_visible()
    expect(page.locator("#answer-words")).not_to_have_attribute("aria-busy", "true")
    curve.focus()
    for _ in range(9):
        curve.press("ArrowRight")
    expect(answer(page)).to_contain_text("on Thu 15 Apr.")
    expect(curve).to_have_attribute("aria-valuetext", re.compile(r"Thu 15 Apr, cut \d+, stretch"))
    for _ in range(9):
        curve.press("ArrowLeft")
    expect(answer(page)).to_contain_text("Cut 8 side shoots today.")

    page.get_by_role("button", name="Keep this want").click()
    expect(page.get_by_role("status")).to_contain_text("Kept.")

    # Take the batch: a future day is refused, an earlier one is not.
    page.get_by_role("link", name="They are cut").click()
    page.get_by_label("From which plant").fill("Ninepin 4")
    page.get_by_label("Cut on").evaluate("el => el.removeAttribute('max')")
    page.get_by_label("Cut on").fill("2027-04-09")
    page.get_by_role("button", name="They are cut").click()
    expect(page.get_by_text("Fri 9 Apr is still to come. Today is Tue 6 Apr.")).to_be_visible()
    expect(page.get_by_label("From which plant")).to_have_value("Ninepin 4")
    page.get_by_label("Cut on").fill("2027-04-05")
    page.get_by_role("button", name="They are cut").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("8 Tomato ‘Ninepin’")
    expect(page.get_by_text("First look in 5 days")).to_be_visible()
    batch_url = page.url

    # A look with roots and losses.
    move_demo(page, "week", 2)
    page.goto(batch_url)
    page.get_by_role("link", name="Look, and say what you see").click()
    page.get_by_label("Newly rooted").fill("6")
    page.get_by_role("button", name="Write down: 6 rooted").click()
    expect(page.get_by_role("heading", name="Pot on 6")).to_be_visible()
    page.goto(batch_url)
    expect(page.get_by_text("Pot on the 6 rooted ones")).to_be_visible()
    deed(page, "Pot on")
    move_demo(page, "week", 3)
    page.goto(batch_url)
    deed(page, "Start hardening")
    move_demo(page, "week", 2)
    page.goto(batch_url)
    deed(page, "Plant out")
    page.goto(f"{harrow}/season/")
    expect(page.locator(".board-row").get_by_text("6 of 5 out")).to_be_visible()
    move_demo(page, "month", 2)
    page.goto(batch_url)
    page.get_by_role("button", name="Picked").click()
    kinds = list(Batch.objects.latest("pk").entries.values_list("kind", "count"))
    assert kinds == [("taken", 8), ("rooted", 6), ("potted", 6), ("hardening", 6), ("planted", 6), ("harvested", 0)]


def deed(page: Page, name: str) -> None:
    """Open a deed if it is shut, and do it."""
    button = page.get_by_role("button", name=f"Done: {name.lower()}")
    if not button.is_visible():
        page.locator("summary", has_text=name).click()
    button.click()
    expect(page.get_by_role("status")).to_contain_text("Written down")


def test_dragging_the_mark_on_the_row(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/want/new/")
    slider = page.get_by_label("Cut day, on the line")
    box = slider.bounding_box()
    assert box
    start = page.locator("#row-picture .cut-planned").first.bounding_box()
    assert start
    middle = box["y"] + box["height"] / 2
    page.mouse.move(start["x"] + start["width"] / 2, middle)
    page.mouse.down()
    page.mouse.move(start["x"] + start["width"] / 2 + 34, middle, steps=6)
    page.mouse.up()
    expect(answer(page)).to_contain_text(re.compile(r"Cut \d\d side shoots on (Wed|Thu|Fri|Sat) 1[4-7] Apr"))
    moved = page.locator("#row-picture .cut-planned").first.bounding_box()
    assert moved
    assert moved["x"] > start["x"] + 20
    page.get_by_role("button", name="Keep this want").click()
    expect(answer(page)).to_contain_text("Apr.")
    assert Want.objects.latest("pk").cut_on is not None


def test_choosing_a_day_on_a_kept_want(laptop: Page, harrow: str) -> None:
    page = laptop
    page.locator("[data-row]").first.click()
    curve = page.get_by_label("Cut day, on the curve")
    curve.focus()
    curve.press("ArrowRight")
    curve.press("ArrowRight")
    expect(answer(page)).to_contain_text("on Thu 8 Apr.")
    page.get_by_role("button", name="Keep this day").click()
    expect(page.get_by_role("status")).to_contain_text("The cut stands at Thu 8 Apr.")
    page.goto(f"{harrow}/season/")
    expect(page.locator("[data-row]").first).to_contain_text("Cut 14 on 8 Apr")


def test_by_keyboard_alone(laptop: Page) -> None:
    page = laptop
    page.wait_for_load_state()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Want plants")
    page.keyboard.press("Escape")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-row]").nth(1)).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("6 Tomato ‘Ninepin’")
    page.wait_for_load_state()  # the keys are listened to once the scripts have run
    page.keyboard.press("Escape")
    page.wait_for_url("**/season/")
    page.keyboard.press("n")
    page.wait_for_url("**/want/new/")
    page.locator("#id_plant").focus()
    for _ in range(4):  # variety, way, what is asked for, how many
        page.keyboard.press("Tab")
    page.keyboard.press("ArrowUp")
    expect(answer(page)).to_contain_text("Cut 14 side shoots")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile(r"/want/\d+/$"))
    page.keyboard.press("k")
    page.wait_for_url("**/take/")
    page.get_by_label("From which plant").focus()
    page.keyboard.type("Ferry Lamp 3")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile(r"/batch/\d+/$"))
    page.keyboard.press("b")
    page.wait_for_url("**/batches/")
    assert Batch.objects.latest("pk").stock_plant == "Ferry Lamp 3"


def test_a_look_with_one_thumb(phone: Page, harrow: str) -> None:
    page = phone
    batch = Batch.objects.get(variety="Tarbrand", plan__target__startswith="2027")
    page.goto(f"{harrow}/round/look/{batch.pk}/")
    assert page.evaluate("document.documentElement.scrollWidth") == 390
    steppers, button = page.locator(".look-counts .stepper-button"), page.locator("[data-signs-button]")
    targets = [*steppers.all(), *page.locator(".sign-button").all(), button, *page.locator(".look-stage").all()]
    for target in targets:
        size = target.bounding_box()
        assert size
        assert size["height"] >= 44
    more = page.locator(".look-counts .stepper-button[data-step='1']")
    more.nth(0).tap()
    more.nth(0).tap()
    more.nth(1).tap()
    page.get_by_role("button", name="Write down: 2 rooted, 1 lost").tap()
    expect(page.get_by_role("status")).to_contain_text("2 newly rooted, 1 lost")
    page.get_by_role("button", name="Undo").tap()
    expect(page.get_by_role("status")).to_contain_text("Undone")
    assert [e.kind for e in batch.entries.order_by("pk")][-2:] == ["struck", "struck"]
    # From the batch itself, one tap where all is well.
    page.goto(f"{harrow}/batch/{batch.pk}/")
    page.get_by_role("button", name="As it should be").tap()
    expect(page.get_by_role("status")).to_contain_text("looked: as it should be")
    expect(page.locator(".stages")).to_contain_text("1lost")


def test_a_want_on_the_phone(phone: Page, harrow: str) -> None:
    page = phone
    page.goto(f"{harrow}/want/new/")
    page.get_by_label("How many good plants").scroll_into_view_if_needed()
    page.locator("#div_id_wanted .stepper-button[data-step='1']").tap()
    expect(answer(page)).to_contain_text("Cut 14 side shoots")
    page.get_by_label("The mother stands").scroll_into_view_if_needed()
    expect(answer(page)).to_be_in_viewport()  # the answer stays in sight
    assert page.evaluate("document.documentElement.scrollWidth") == 390


def test_without_scripts(browser: Browser, demo: str, harrow: str, complaints: Complaints) -> None:
    page = enter(opened(browser, complaints, viewport=LAPTOP, java_script_enabled=False), demo)
    page.get_by_role("link", name="Want plants").click()
    page.get_by_label("How many good plants").fill("3")
    page.get_by_role("button", name="Work it out").click()
    expect(answer(page)).to_contain_text("Cut 5 side shoots")
    page.get_by_role("button", name="Keep this want").click()
    page.get_by_role("link", name="They are cut").click()
    page.get_by_label("From which plant").fill("Ferry Lamp 2")
    page.get_by_role("button", name="They are cut").click()
    page.get_by_role("button", name="As it should be").click()
    expect(page.locator(".stages")).to_contain_text("5waiting")
    page.context.close()


def test_putting_an_entry_right(laptop: Page, harrow: str) -> None:
    page = laptop
    batch = Batch.objects.get(variety="Ninepin", method="jar", over_on=None)
    page.goto(f"{harrow}/batch/{batch.pk}/")
    seen = page.locator(".history li", has_text="3 newly rooted")
    seen.get_by_role("link", name="put right").click()
    page.get_by_label("The right number").fill("1")
    page.get_by_role("button", name="Put it right").click()
    expect(page.locator(".history del")).to_have_text("3 newly rooted")
    expect(page.locator(".stages")).to_contain_text("5rooted")
    assert Entry.objects.filter(batch=batch).exclude(kind="tended").count() == 4


def test_two_gardens_and_the_southern_one(laptop: Page) -> None:
    page = laptop
    page.locator(".rail-more summary").click()
    page.get_by_role("link", name="Marram Yard").click()
    expect(page.locator(".room-sub").first).to_contain_text("Marram Yard")
    expect(page.locator("[data-row]").nth(2)).to_contain_text("Grapevine")
    expect(page.locator("[data-row]").nth(2)).to_contain_text("Jun")  # its winter


def test_a_word_of_the_trade_is_explained_where_it_stands(laptop: Page, harrow: str) -> None:
    page = laptop
    gate = page.get_by_role("button", name="Gate: what is this?")
    said = page.get_by_role("note").filter(has_text="The days on which planting out is safe")
    expect(said).to_be_hidden()
    gate.focus()
    page.keyboard.press("Enter")
    expect(said).to_be_visible()
    page.keyboard.press("Escape")
    expect(said).to_be_hidden()
    page.goto(f"{harrow}/plant/mint/")
    page.get_by_role("button", name="Take: what is this?").click()
    expect(page.get_by_role("note").filter(has_text="How many of a hundred cuttings root")).to_be_visible()
    # Another word's mark shuts the one before it.
    page.get_by_role("button", name="Strike: what is this?").click()
    expect(page.get_by_text("A cutting has struck when it has roots of its own.")).to_be_visible()
    expect(page.get_by_role("note")).to_have_count(1)


def test_on_course_is_explained_under_a_thumb(phone: Page, harrow: str) -> None:
    page = phone
    page.goto(f"{harrow}/batch/{Batch.objects.get(variety='Ninepin', method='jar', over_on=None).pk}/")
    page.get_by_role("button", name="On course: what is this?").tap()
    said = page.get_by_role("note")
    expect(said).to_contain_text("The chance of having what you want by its day is about the one you asked for")
    edges = said.bounding_box()
    assert edges is not None
    assert edges["x"] >= 0
    assert edges["x"] + edges["width"] <= 390
